"""A part's sheet in a job: the page, its recalculation, its saving, its print."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, HttpResponseBadRequest, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from voltaje.core.codes import edition
from voltaje.core.entries import name_units
from voltaje.core.headless import report
from voltaje.core.parts import Evaluated, kind
from voltaje.core.worksheet import Worked
from voltaje.web.jobs import patch, revisions
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.tree_views import addable
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import tree, work_job
from voltaje.web.sheets import board_table, form
from voltaje.web.sheets.respond import Below, Shown, problems_json, result_context, result_response

LOOK_BACK = 50


def _find(request: HttpRequest, job_id: Any, part_id: Any) -> tuple[Job, Part]:
    job = own_job(request, job_id)
    return job, get_object_or_404(job.parts, pk=part_id)


def _heads(found: dict[str, Evaluated]) -> dict[str, str]:
    return {key: item.worked.headline if item.worked else "" for key, item in found.items()}


def _statuses(found: dict[str, Evaluated]) -> dict[str, str]:
    return {key: item.worked.status if item.worked else "empty" for key, item in found.items()}


def below(job: Job, part: Part, found: dict[str, Evaluated]) -> list[Below]:
    """What hangs on a part: name, one-line answer, status, address."""
    return [
        Below(
            child.name,
            worked.headline if (worked := found[str(child.pk)].worked) else "",
            worked.status if worked else "empty",
            reverse("jobs:part", args=[job.pk, child.pk]),
        )
        for child in job.under(part)
    ]


def last_good(job: Job, part: Part) -> tuple[Worked | None, datetime | None]:
    """The newest kept state of a part that could be worked, and when it was kept."""
    target = str(part.pk)
    for revision in job.revisions.all()[:LOOK_BACK]:
        for item in revision.changes:
            state = item["before"] if item["target"] == target else None
            if state:
                found = work_job(job, {target: state["entries"]})[target]
                if found.worked:
                    return found.worked, revision.made_at
    return None, None


@login_required
@require_GET
def sheet(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The part's page: entries, drawing, tape."""
    job, part = _find(request, job_id, part_id)
    found = work_job(job)
    mine = found[str(part.pk)]
    worked, stale_since = mine.worked, None
    if worked is None:
        worked, stale_since = last_good(job, part)
    of = kind(part.kind)
    context = {
        "job": job,
        "part": part,
        "kind": of,
        "edition": edition(job.edition),
        "tree": tree(job, found),
        "addable": addable(of, part),
        "groups": form.build(of, part.entries, mine.problems),
        "problems": json.dumps(problems_json(mine.problems)),
        "stale_since": stale_since,
        "last_revision": job.revisions.first(),
        **result_context(worked, below(job, part, found), job.units),
    }
    if part.kind == "board":
        context |= board_table.context(job, part, found)
    return render(request, "sheets/part.html", context)


@login_required
@require_POST
def work(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """Recalculates what is being typed; keeps nothing."""
    job, part = _find(request, job_id, part_id)
    document = patch.read_form(request.POST.dict(), kind(part.kind).entries)
    found = work_job(job, {str(part.pk): document})
    shown = Shown(job.revision, heads=_heads(found), below=below(job, part, found),
                  statuses=_statuses(found), units=job.units)  # fmt: skip
    return result_response(request, found[str(part.pk)], shown)


@login_required
@require_POST
def save(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """Keeps the entries that changed, as one revision; answers with the result of what is kept."""
    job, part = _find(request, job_id, part_id)
    of = kind(part.kind)
    try:
        wanted = patch.read_patch(request.POST.dict(), of.entries)
    except patch.BadPathError as error:
        return HttpResponseBadRequest(f"There is no entry {error}.")
    with revisions.changing(job) as held:
        part = get_object_or_404(held.parts.select_for_update(), pk=part_id)
        document, conflicts = patch.apply(part.entries, wanted, of.entries)
        document = name_units(of.entries, document, held.units)

        def act() -> None:
            Part.objects.filter(pk=part.pk).update(entries=document)

        revisions.change(held, request.user, [str(part.pk)], act)
    found = work_job(held)
    shown = Shown(
        held.revision, document, conflicts, timezone.localtime().strftime("%H:%M"),
        _heads(found), below(held, part, found), _statuses(found), held.units,
    )  # fmt: skip
    return result_response(request, found[str(part.pk)], shown)


@login_required
@require_GET
def print_view(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The worksheet on paper, letter or A4."""
    job, part = _find(request, job_id, part_id)
    found = work_job(job)
    mine = found[str(part.pk)]
    of = kind(part.kind)
    paper = "a4" if request.GET.get("paper") == "a4" else "letter"
    context = {
        "job": job,
        "part": part,
        "kind": of,
        "edition": edition(job.edition),
        "groups": form.build(of, part.entries, mine.problems),
        "paper": paper,
        "problems": mine.problems,
        "made_at": timezone.localtime(),
        "amendments": job.amendments.all(),
        **result_context(mine.worked, below(job, part, found), job.units),
    }
    return render(request, "sheets/print.html", context)


@login_required
@require_GET
def as_json(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The worksheet as the headless command prints it."""
    job, part = _find(request, job_id, part_id)
    found = work_job(job)[str(part.pk)]
    return JsonResponse(report(found), json_dumps_params={"indent": 2, "ensure_ascii": False})
