"""A part's sheet in a job: the page, its recalculation, its saving, its print."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterable
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_POST

from voltaje.core.cli.sheet import report
from voltaje.core.codes import edition
from voltaje.core.entries import Problem, fields
from voltaje.core.job.spread import spreadable
from voltaje.core.job.voltages.report import lost_between, pair_of
from voltaje.core.kinds import Context, Evaluated, kind
from voltaje.core.report import Report
from voltaje.core.report import told as in_words
from voltaje.web.board import table as board_table
from voltaje.web.history import patch, revisions
from voltaje.web.http import intake
from voltaje.web.jobs import actions, digest
from voltaje.web.jobs.models import SECOND, Job, Part
from voltaje.web.jobs.tree_views import addable
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import compared, drops, told, tree, work_job
from voltaje.web.kinds import presentation
from voltaje.web.parts import form
from voltaje.web.parts.respond import (
    Below,
    answer_state,
    paper_of,
    problems_json,
    result_context,
    result_response,
)

LOOK_BACK = 50
MOST_TRIES = 3


def _find(request: HttpRequest, job_id: Any, part_id: Any) -> tuple[Job, Part]:
    job = own_job(request, job_id)
    part = next((part for part in job.loaded() if part.pk == part_id), None)
    if part is None:
        raise Http404
    return job, part


def _heads(found: dict[str, Evaluated]) -> dict[str, str]:
    return {key: head for key, (head, _) in told(found).items()}


def _statuses(found: dict[str, Evaluated]) -> dict[str, str]:
    return {key: item.brief.status if item.brief else "incomplete" for key, item in found.items()}


def below(job: Job, part: Part, found: dict[str, Evaluated]) -> list[Below]:
    """What hangs on a part: name, one-line answer, status, address."""
    return [
        Below(
            child.name,
            worked.headline if (worked := found[str(child.pk)].brief) else "",
            worked.status if worked else "incomplete",
            reverse("jobs:part", args=[job.pk, child.pk]),
        )
        for child in job.under(part)
    ]


@dataclass(frozen=True, slots=True)
class DropStage:
    """What one item on the way from the supply loses, percent, and what is lost up to its end;
    ``share`` of the largest, percent, for its bar."""

    part: Part
    own: float
    total: float
    share: float


def stages(job: Job, part: Part, found: dict[str, Evaluated]) -> list[DropStage]:
    """The voltage drop from the supply to a part, stage by stage; none where it is not known, or
    where there is but one."""
    by_id = {item.pk: item for item in job.loaded()}
    way: list[tuple[Part, float]] = []
    at: Part | None = part
    pair = pair_of(found[str(part.pk)].volts)
    while at is not None:
        total = lost_between(found[str(at.pk)].volts, pair)
        if not kind(at.kind).keeps_supply:
            pair = ""  # ahead of windings its lines are others
        if total is None and at.parent_id is not None:
            return []
        total = total or 0.0  # at the supply itself nothing is lost
        way.append((at, total))
        at = by_id.get(at.parent_id) if at.parent_id else None
    way.reverse()
    lost = [
        (item, total - before)
        for (item, total), before in zip(way, [0.0, *(t for _, t in way)], strict=False)
    ]
    told = [(item, own) for item, own in lost if abs(own) >= LEAST_STAGE]
    most = max((own for _, own in told), default=0.0)
    if len(told) < 2 or most <= 0:
        return []
    totals = dict(way)
    return [DropStage(item, own, totals[item], max(0.0, 100 * own / most)) for item, own in told]


LEAST_STAGE = 0.05  # no code figure: percent that a stage loses at least to be told


def _form(job: Job, part: Part, problems: Iterable[Problem]) -> list[form.FormGroup]:
    """The part's form; what only the job's second code asks stands at its end."""
    more = {}
    if job.second:
        title = edition(job.second).title
        more[SECOND] = gettext("Asked by {code} alone").format(code=title)
    model = job.entries_of(part.kind)
    usual = job.usual(part)
    return form.build(kind(part.kind), model, job.shown(part), problems, more, job.code(), usual)


def _beside(
    job: Job, part: Part, mine: Evaluated, document: Any = None, under: str = ""
) -> dict[str, Any]:
    """What the result shows of the second code."""
    under = under or job.second
    if not under:
        return {}
    return {"beside": compared(job, part, mine, under, document), "second": edition(under)}


def offers_at(job: Job, part: Part) -> str:
    """The address at which what a part's findings offer is taken up."""
    return reverse("jobs:offer", args=[job.pk, part.pk])


@login_required
@require_POST
def take_offer(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """Does what a finding of the part offers, and shows the part that was made."""
    job, part = _find(request, job_id, part_id)
    name = request.POST.get("finding", "")
    worked = work_job(job)[str(part.pk)].report
    found = (one.offer for one in (worked.findings if worked else ()) if one.name == name)
    offer = next((one for one in found if one is not None), None)
    if offer is None:
        messages.info(request, gettext("This is mended already, or is not found any more."))
        return redirect("jobs:part", job.pk, part.pk)
    title = gettext("{label} for {name}").format(
        label=in_words(kind(offer.kind).label), name=part.name
    )
    made_id = str(intake.key(request.POST.get("made")) or "")
    try:
        made = actions.put_ahead(job, request.user, str(part.pk), offer, made_id, title)
    except revisions.RefusedError as error:
        messages.error(request, str(error))
        return redirect("jobs:part", job.pk, part.pk)
    return redirect("jobs:part", job.pk, made.pk)


MOST_REASON, MOST_NAME = 200, 80


@login_required
@require_POST
def accept(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """Accepts a check of the part as it stands, with a reason and a name, or withdraws that; one
    revision, undone like any other."""
    job, part = _find(request, job_id, part_id)
    back = redirect("jobs:part", job.pk, part.pk)
    name = request.POST.get("finding", "")
    reason = intake.one_line(request.POST.get("reason", ""), MOST_REASON)
    by = intake.one_line(request.POST.get("by", ""), MOST_NAME)
    worked = work_job(job)[str(part.pk)].report
    found = next((f for f in (worked.findings if worked else ()) if f.name == name), None)
    kept = [row for row in part.entries.get("accepted", ()) if row.get("finding") != name]
    if request.POST.get("withdraw"):
        change = kept
    elif found is None or found.severity != "check":
        messages.info(request, gettext("This is mended already, or is not found any more."))
        return back
    elif not reason or not by:
        words = gettext("A check is accepted with a reason and a name: give both.")
        messages.error(request, words)
        return back
    else:
        row = {"finding": name, "said": found.words.in_english, "reason": reason, "by": by}
        change = [*kept, {"id": uuid.uuid4().hex[:12], **row}]
    try:
        actions.change_entries(job, request.user, {str(part.pk): {"accepted": change}})
    except revisions.RefusedError as error:
        messages.error(request, str(error))
    return back


@login_required
@require_POST
def mend(request: HttpRequest, job_id: Any) -> HttpResponse:
    """Changes the entries of several items as one of their findings offers it, as one revision."""
    job = own_job(request, job_id)
    name = request.POST.get("finding", "")
    asked = set(request.POST.getlist("part"))
    changes: dict[str, dict[str, str]] = {}
    for key, evaluated in work_job(job).items():
        if key in asked and evaluated.report is not None:
            found = (f.change for f in evaluated.report.findings if f.name == name and f.change)
            if (change := next(found, None)) is not None:
                changes[change.part or key] = dict(change.entries)
    back = redirect("jobs:job", job.pk)
    if shown := intake.key(request.POST.get("back")):
        back = redirect("jobs:part", job.pk, shown)
    if not changes:
        messages.info(request, gettext("This is mended already, or is not found any more."))
        return back
    try:
        actions.change_entries(job, request.user, changes)
    except revisions.RefusedError as error:
        messages.error(request, str(error))
    else:
        words = gettext("Changed on {count} of {all}.")
        messages.success(request, words.format(count=len(changes), all=len(asked)))
    return back


def last_good(job: Job, part: Part) -> tuple[Report | None, datetime | None]:
    """The newest kept state of a part that could be worked, and when it was kept."""
    target = str(part.pk)
    touched = job.revisions.filter(changes__contains=[{"target": target}]).order_by("-number")
    state: revisions.State = revisions.part_state(part)
    tried = 0
    for revision in touched[:LOOK_BACK]:
        for item in revision.changes:
            if item["target"] == target:
                state = revisions.side_of(state, item, "before")
        if state is None or tried == MOST_TRIES:
            break
        same = state["kind"] == part.kind
        if (
            not same
            or kind(part.kind).read(state["entries"], Context(job.code(), job.units)).problems
        ):
            continue
        tried += 1
        found = work_job(job, {target: state["entries"]})[target]
        if found.report:
            return found.report, revision.made_at
    return None, None


def kept_response(
    request: HttpRequest,
    job: Job,
    part: Part,
    conflicts: Iterable[patch.Conflict] = (),
    words: str = "",
    tree_too: bool = True,
) -> HttpResponse:
    """What is kept of a part and its result, for a page that is open; with the tree anew unless
    the page has it."""
    found = work_job(job)
    digest.keep(job, found)
    mine = found[str(part.pk)]
    model = job.entries_of(part.kind)
    state = {
        **answer_state(request, mine, _heads(found), _statuses(found), drops(found)),
        "revision": job.revision,
        "kept": timezone.localtime().strftime("%H:%M"),
        "words": words,
        "name": part.name,
        "can": {"undo": bool(job.undo_stack), "redo": bool(job.redo_stack)},
        "values": patch.texts(job.shown(part), model),
        "rows": patch.row_ids(part.entries, model),
        "conflicts": [asdict(conflict) for conflict in conflicts],
    }
    context: dict[str, Any] = {"job": job, "part": part, "stages": stages(job, part, found)}
    if tree_too:
        context["tree"] = tree(job, told(found), part, drops(found))
    if presentation(part.kind).table:
        rows = board_table.rows(job, part, found)
        state["table"] = board_table.state(rows, job.family)
        context["row_count"] = len(rows)
    context |= {
        "state": json.dumps(state),
        "offers_at": offers_at(job, part),
        **result_context(mine.report, below(job, part, found), job.units),
        **_beside(job, part, mine),
    }
    return render(request, "sheets/_kept.html", context)


def _begin(part: Part, groups: list[form.FormGroup]) -> dict[str, Any]:
    """What an empty item says: the entry to begin with, and a line that could be typed instead."""
    shown = presentation(part.kind)
    entries = (f for group in groups for f in group.open_fields if f.shown and not f.text)
    first = next((f.spec.label for f in entries if f.spec.kind in ("quantity", "text")), "")
    # a load on a board is said in a line; a feeder or a dwelling is not
    example = shown.examples[0].title if shown.examples and shown.row else None
    return {"begin_with": first, "line_example": example}


@login_required
@require_GET
def sheet(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The part's page: entries, drawing, worksheet."""
    job, part = _find(request, job_id, part_id)
    found = work_job(job)
    mine = found[str(part.pk)]
    worked, stale_since = mine.report, None
    if worked is None:
        worked, stale_since = last_good(job, part)
    of, nodes = kind(part.kind), tree(job, told(found), part, drops(found))
    context = {
        "job": job,
        "part": part,
        "kind": of,
        "edition": edition(job.edition),
        "tree": nodes,
        "own": next(n for top in nodes for n in top.flat() if n.part.pk == part.pk),
        "addable": addable(of, part),
        "groups": _form(job, part, mine.problems),
        "problems": json.dumps(problems_json(mine.problems)),
        "loose": " ".join(problem.words for problem in mine.problems if not problem.path),
        "stale_since": stale_since,
        "last_revision": job.revisions.first(),
        **result_context(worked, below(job, part, found), job.units),
        **_beside(job, part, mine),
    }
    context["stages"] = stages(job, part, found) if stale_since is None else []
    context["offers_at"] = offers_at(job, part)
    if worked is None:
        context |= _begin(part, context["groups"])
    context["has_table"] = presentation(part.kind).table
    spreads = spreadable(job.inputs(), found, str(part.pk))
    context |= {"balances": bool(spreads), "spreads_rows": spreads == "rows"}
    context["holds_parts"] = of.holds_parts
    # what is spread row by row is most often a long list: it comes from a file, too
    context["row_lists"] = [
        (spec.name, spec.label)
        for spec in fields(job.entries_of(part.kind))
        if spreads == "rows" and spec.kind == "rows" and spec.group and len(spec.columns) > 2
    ]
    if context["has_table"]:
        context |= board_table.context(job, part, found)
    return render(request, "sheets/part.html", context)


@login_required
@require_POST
def work(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """Recalculates what is being typed; keeps nothing."""
    job, part = _find(request, job_id, part_id)
    former, model = kind(part.kind).former_entries, job.entries_of(part.kind)
    document = patch.read_form(request.POST.dict(), model, former)
    if accepted := part.entries.get("accepted"):  # what no form asks
        document["accepted"] = accepted
    found = work_job(job, {str(part.pk): document})
    mine = found[str(part.pk)]
    state = answer_state(request, mine, _heads(found), _statuses(found), drops(found))
    offers = offers_at(job, part)
    more = {"job": job, "part": part, "stages": stages(job, part, found)}
    more |= _beside(job, part, mine, document)
    return result_response(request, mine, state, below(job, part, found), job.units, offers, more)


@login_required
@require_GET
def print_view(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The worksheet on paper, letter or A4."""
    job, part = _find(request, job_id, part_id)
    found = work_job(job)
    mine = found[str(part.pk)]
    of = kind(part.kind)
    context = {
        "job": job,
        "part": part,
        "kind": of,
        "edition": edition(job.edition),
        "groups": _form(job, part, mine.problems),
        "paper": paper_of(request, job.units),
        "problems": mine.problems,
        "made_at": timezone.localtime(),
        "amendments": job.amendments.all(),
        **result_context(mine.report, below(job, part, found), job.units),
    }
    if job.second and request.GET.get("both") != "no":
        context |= _beside(job, part, mine)
    return render(request, "sheets/print.html", context)


@login_required
@require_GET
def as_json(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The worksheet as the headless command prints it."""
    job, part = _find(request, job_id, part_id)
    found = work_job(job)[str(part.pk)]
    return JsonResponse(report(found), json_dumps_params={"indent": 2, "ensure_ascii": False})
