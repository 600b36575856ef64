"""The job's page: its tree, what deserves a look, and what is done to the tree."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpResponse, HttpResponseBadRequest
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.translation import get_language, gettext, ngettext
from django.views.decorators.http import require_GET, require_POST

from voltaje.core.codes import edition, editions
from voltaje.core.kinds import Kind, job_kinds, kind
from voltaje.web.background import asking
from voltaje.web.background.views import shown
from voltaje.web.history import revisions
from voltaje.web.http import intake
from voltaje.web.http.requests import Request
from voltaje.web.jobs import actions, long_work, overview, summary
from voltaje.web.jobs.models import Job, Part, edition_choices
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import (
    digest_of,
    findings,
    status_of,
    told,
    tree,
    work_job,
)
from voltaje.web.kinds import plain_kind

STEPS = ("up", "down", "in", "out")
PARTLESS = ("add", "undo", "redo")
ACTS = (*STEPS, *PARTLESS, "drop", "duplicate", "delete")


def addable(of: Kind, part: Part) -> list[Kind]:
    """The kinds that may be put under a part in its job; none where it holds no parts."""
    if not of.holds_parts:
        return []
    return [item for item in job_kinds() if not item.root and item.covers(part.job.family)]


def page_context(job: Job, chosen: str = "") -> dict[str, Any]:
    """What the job's page and its tree show."""
    content = digest_of(job)
    nodes = tree(job, content["parts"])
    flat = [node for top in nodes for node in top.flat()]
    return {
        "job": job,
        "edition": edition(job.edition),
        "nodes": nodes,
        "flat": flat,
        "kinds": [item for item in job_kinds() if item.covers(job.family)],
        "plain_kind": plain_kind(),
        "chosen": chosen or (str(flat[0].part.pk) if flat else ""),
        "findings": findings(job, content),
        "status": status_of(content),
        "overview": overview.read(content["overview"], job.loaded()),
        "amendments": job.amendments.count(),
        "readings": job.readings.count(),
        "second": edition(job.second) if job.second else None,
        "last_change": getattr(job.revisions.first(), "made_at", None),
    }


@login_required
@require_GET
def job_page(request: Request, job_id: Any) -> HttpResponse:
    """The job as a tree, each part with its one-line answer, and all its findings."""
    job = own_job(request, job_id)
    context = page_context(job, request.GET.get("part", ""))
    context["last_revision"] = job.revisions.first()
    return render(request, "jobs/job.html", context)


@login_required
@require_POST
def change_tree(request: Request, job_id: Any) -> HttpResponse:
    """Adds, moves, duplicates or deletes, undoes or redoes; answers with the tree, or the page
    without scripts. What a tab asks twice, its answer having been lost, is done once."""
    job = own_job(request, job_id)
    act, part_id = request.POST.get("act", ""), request.POST.get("part", "")
    if act not in ACTS:
        return HttpResponseBadRequest(gettext("There is no such act."))
    if act not in PARTLESS and intake.key(part_id) is None:
        return HttpResponseBadRequest(gettext("Choose a part first."))
    tab, number = intake.turn(request.POST)
    chosen, words = part_id, ""
    try:
        with revisions.changing(job) as held:
            if not tab or number > revisions.in_turn(held, tab, number):
                chosen, words = _do(held, request, act, part_id)
    except revisions.RefusedError as error:
        messages.error(request, str(error))
    except revisions.NothingToDoError:
        messages.info(request, summary.of_nothing(act))
    else:
        if words:
            messages.success(request, words)
    job = own_job(request, job_id)
    if request.POST.get("open") and act == "add" and chosen != part_id:
        return redirect("jobs:part", job.pk, chosen)
    if request.htmx:
        return render(request, "jobs/_tree_page.html", page_context(job, chosen))
    return redirect(f"{reverse('jobs:job', args=[job.pk])}?part={chosen}")


def _do(job: Job, request: Request, act: str, part_id: str) -> tuple[str, str]:
    """The part to be chosen next, and what to say. Raises
    :class:`~voltaje.web.history.revisions.RefusedError` and ``NothingToDoError``."""
    user = request.user
    made = str(intake.key(request.POST.get("made")) or "")
    if act in ("undo", "redo"):
        revision = revisions.step_held(job, user, act)
        back = [c["target"] for c in revision.changes if c["before"] is None]
        return (back[0] if back else part_id), summary.of_step(act, revision.summary)
    if act == "add":
        of = request.POST.get("kind", "")
        if of not in {item.name for item in job_kinds()}:
            raise revisions.RefusedError(gettext("There is no such kind of part."))
        parent = None if kind(of).root else (part_id or None)
        part = actions.add_held(job, user, of, parent, part_id=made)
        return str(part.pk), gettext("“{name}” was added.").format(name=part.name)
    if act in STEPS:
        actions.step_held(job, user, part_id, act)
        return part_id, ""
    if act == "drop":
        parent, before = request.POST.get("parent", ""), request.POST.get("before", "")
        actions.move_held(job, user, part_id, parent or None, before or None)
        return part_id, ""
    if act == "duplicate":
        part = actions.duplicate_held(job, user, part_id, made)
        return str(part.pk), gettext("“{name}” was made.").format(name=part.name)
    part = actions.part_of(job, part_id)
    many = len(actions.subtree(job, part)) - 1
    next_one = actions.delete_held(job, user, part_id)
    if not many:
        words = gettext("“{name}” was deleted; undo brings it back.")
    else:
        words = ngettext(
            "“{name}” was deleted with one part under it; undo brings it back.",
            "“{name}” was deleted with {many} parts under it; undo brings it back.",
            many,
        )
    return next_one, words.format(name=part.name, many=many)


@login_required
@require_GET
def codes_page(request: Request, job_id: Any) -> HttpResponse:
    """All parts of the job under its code and under another: its second one, or any that is asked
    for, such as the next edition of its own."""
    job = own_job(request, job_id)
    known = [code.id for code in editions() if code.id != job.edition]
    under = request.GET.get("under", "")
    if under not in known:
        own = [id for id in known if edition(id).family == job.family.family]
        under = job.second or (own or known)[-1]
    context = {
        "job": job,
        "edition": edition(job.edition),
        "second": edition(under),
        "choices": [
            (title, [c for c in group if c[0] != job.edition]) for title, group in edition_choices()
        ],
    }
    question = {"under": under, "language": get_language()}
    try:
        background = asking.ask(long_work.COMPARISON, job, question)
    except asking.BusyError as error:
        return render(request, "jobs/codes.html", {**context, "busy": str(error)}, status=429)
    context |= shown(background)
    if background.result is not None:
        sides = background.result
        nodes = [node for top in tree(job, told(work_job(job))) for node in top.flat()]
        rows = [(node, sides[str(node.part.pk)]) for node in nodes]
        context |= {"rows": rows, "differing": sum(side["differs"] for _, side in rows)}
    return render(request, "jobs/codes.html", context)
