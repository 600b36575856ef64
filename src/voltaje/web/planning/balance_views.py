"""A board balanced, or all boards below a part: how even it is, the hand rule, the best that can be
had, and for each number of moves what it reaches; a point is applied as one revision. A longer look
tells the best so far while it lasts."""

from __future__ import annotations

import json
from collections.abc import Iterator
from time import monotonic
from typing import Any
from weakref import finalize

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_http_methods

from voltaje.core.electrical.balance import (
    MOST_MOVES,
    OBJECTIVES,
    Answer,
    BalanceTask,
    ConflictError,
    Objective,
    Work,
    curve,
    look,
    solve,
)
from voltaje.core.job.spread import Spread, gather
from voltaje.core.kinds import kind
from voltaje.core.kinds.board.entries import IMBALANCE
from voltaje.core.report import figure
from voltaje.web.history import revisions
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import work_job
from voltaje.web.parts.respond import paper_of
from voltaje.web.planning import balance_page, long_looks

SECONDS, CURVE_SECONDS = 1.5, 3.0
LONGER = (10, 30, 60)  # no code figures: s that a longer look may take


def part_of(request: HttpRequest, job_id: Any, part_id: Any) -> tuple[Job, Part]:
    """The account's own job and a part of it, or no page."""
    job = own_job(request, job_id)
    part = next((part for part in job.loaded() if part.pk == part_id), None)
    if part is None or not kind(part.kind).holds_parts:
        raise Http404
    return job, part


def spread_of(job: Job, part: Part) -> Spread | None:
    """What is to be spread below a part; ``None`` where nothing can be."""
    return gather(job.inputs(), work_job(job), str(part.pk))


def _objective(request: HttpRequest, task: BalanceTask | None = None) -> Objective:
    """What is to be made small, of what a task can be asked for."""
    known = task.objectives if task is not None else tuple(OBJECTIVES)
    asked = request.GET.get("objective", "")
    return next((name for name in known if name == asked), "deviation")


def _moves(request: HttpRequest) -> int | None:
    """The number of moves that is asked for; ``None``: the one that is advised."""
    text = request.GET.get("moves", "")
    return int(text) if text in {str(n) for n in range(MOST_MOVES + 1)} else None


def _task(spread: Spread, request: HttpRequest) -> tuple[BalanceTask | None, str]:
    """The task that a query asks for, and the words of a conflict: its pins are left out then."""
    pins, weights, by_sum = balance_page.asked(request.GET)
    try:
        return spread.task(pins, weights, by_sum), ""
    except ConflictError as error:
        try:
            return spread.task((), weights, by_sum), str(error)
        except ConflictError:
            return None, str(error)


@login_required
@require_http_methods(["GET", "POST"])
def balance(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The page, and applying what it shows."""
    job, part = part_of(request, job_id, part_id)
    if request.method == "POST":
        return _apply(request, job, part)
    objective = _objective(request)
    pins, weights, by_sum = balance_page.asked(request.GET)
    spread = spread_of(job, part)
    context: dict[str, Any] = {
        "job": job,
        "part": part,
        "objective": objective,
        "pins": pins,
        "by_sum": by_sum,
        "longer": LONGER,
    }
    if spread is None:
        return render(request, "sheets/balance.html", context)
    context["missing"] = spread.missing
    task, context["conflict"] = _task(spread, request)
    if task is None:
        return render(request, "sheets/balance.html", context)
    objective = context["objective"] = _objective(request, task)
    names = task.objectives
    context["objectives"] = [(name, OBJECTIVES[name], name == objective) for name in names]
    best = solve(task, objective, SECONDS)
    began = monotonic()
    works = list(curve(task, objective, CURVE_SECONDS))
    context["cut_short"] = monotonic() - began >= CURVE_SECONDS
    chosen = _moves(request)
    context |= balance_page.found(spread, task, objective, _limit(job, part), best, works, chosen)
    effects = balance_page.effects(job, part, task, spread, context["chosen"])
    context["effect_titles"], context["effects"], context["at_loads"] = effects
    query = request.GET.copy()
    query.pop("moves", None)
    context["query"] = query.urlencode()
    context["cases"] = [
        (case.name, figure(weights.get(case.name, 1.0), 2)) for case in spread.cases
    ]
    context["pinnable"] = [
        (one, one.key in pins, spread.names.get(one.board, ""))
        for one in task.loads
        if len(one.options) > 1 and (one.free or one.key in pins)
    ]
    return render(request, "sheets/balance.html", context)


@login_required
@require_GET
def longer(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponseBase:
    """A longer look, told line by line: seconds, the best so far with its gap, and that part of the
    page with it. Whoever goes away ends it. Where it cannot begin now: 429 and why."""
    job, part = part_of(request, job_id, part_id)
    spread = spread_of(job, part)
    task = _task(spread, request)[0] if spread else None
    objective = _objective(request, task)
    if spread is None or task is None:
        return HttpResponse("", content_type="application/x-ndjson")
    asked = request.GET.get("seconds", "")
    seconds = next((s for s in LONGER if str(s) == asked), LONGER[0])
    limit = _limit(job, part)
    try:
        place = long_looks.begin(job.owner_id)
    except long_looks.BusyError as error:
        text = "text/plain; charset=utf-8"
        return HttpResponse(str(error), content_type=text, status=429, headers={"Retry-After": 30})

    def told(answer: Answer, works: list[Work], done: bool) -> str:
        shown = balance_page.found(spread, task, objective, limit, answer, works, None)
        query = request.GET.copy()
        query.pop("seconds", None)
        context = {**shown, "job": job, "part": part, "query": query.urlencode()}
        line = {
            "seconds": round(answer.seconds, 1),
            "best": figure(answer.value, 1),
            "bound": figure(answer.bound, 1),
            "unit": balance_page.UNITS[objective],
            "moves": works[-1].moves if works else 0,
            "proven": answer.proven,
            "done": done,
            "html": render_to_string("sheets/_balance.html", context, request),
        }
        return json.dumps(line) + "\n"

    def lines() -> Iterator[str]:
        """The best so far; then the curve of moves, point by point."""
        for answer in look(task, objective, seconds):
            yield told(answer, [], False)
        works: list[Work] = []
        for work in curve(task, objective, min(seconds, LONGER[1])):
            works.append(work)
            yield told(answer, works, False)
        yield told(answer, works, True)

    return Look(lines(), place)


class Look(StreamingHttpResponse):
    """The lines of a longer look, whose place is given free when it is read or left."""

    def __init__(self, lines: Iterator[str], place: long_looks.Place) -> None:
        super().__init__(lines, content_type="application/x-ndjson")
        self._place = place
        finalize(self, place.leave)

    def close(self) -> None:
        """Gives the place free."""
        try:
            self._place.end()
        finally:
            super().close()


@login_required
@require_GET
def work_order(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The order of work of the moves, on paper."""
    job, part = part_of(request, job_id, part_id)
    spread = spread_of(job, part)
    task = _task(spread, request)[0] if spread else None
    objective = _objective(request, task)
    if spread is None or task is None:
        return redirect("jobs:balance", job.pk, part.pk)
    best = solve(task, objective, SECONDS)
    works = list(curve(task, objective, CURVE_SECONDS))
    chosen = _moves(request)
    context = balance_page.found(spread, task, objective, _limit(job, part), best, works, chosen)
    query = request.GET.copy()
    query.pop("paper", None)
    context |= {
        "job": job,
        "part": part,
        "edition": job.code(),
        "paper": paper_of(request, job.units),
        "made_at": timezone.localtime(),
        "query": query.urlencode(),
        "columns": list(context["columns"][:2]) if context["chosen"] else [],
    }
    return render(request, "sheets/work_order.html", context)


def _limit(job: Job, part: Part) -> float:
    """How far the lines may differ, percent: a board's own limit, else the usual one."""
    entries = work_job(job)[str(part.pk)].entries
    return float(getattr(entries, "maximum_imbalance", IMBALANCE))


def _apply(request: HttpRequest, job: Job, part: Part) -> HttpResponse:
    """Keeps lines and places of all circuits as one revision, unless they have changed since."""
    wanted = dict(item.split("=", 1) for item in request.POST.getlist("to") if "=" in item)
    was = dict(item.split("=", 1) for item in request.POST.getlist("was") if "=" in item)
    with revisions.changing(job) as held:
        try:
            revisions.check_since(held, request.POST.get("revision", ""))
        except revisions.LaterError as error:
            messages.error(request, str(error))
            return redirect("jobs:balance", job.pk, part.pk)
        held_part = next((one for one in held.loaded() if one.pk == part.pk), part)
        spread = spread_of(held, held_part)
        task = spread.task() if spread else None
        stands = {load.key: load for load in task.loads} if task else {}
        same = all(key in stands and stands[key].line == line for key, line in was.items())
        known = all(key in stands and line in stands[key].options for key, line in wanted.items())
        if not (task and spread and wanted and same and known and set(wanted) == set(was)):
            messages.error(
                request,
                gettext("The board has changed since. Check it again: nothing was moved."),
            )
            return redirect("jobs:balance", job.pk, part.pk)
        entries = balance_page.states(held, held_part, task, spread, {**task.now(), **wanted})
        if entries is None:
            messages.error(request, gettext("There are no places for that: nothing was moved."))
            return redirect("jobs:balance", job.pk, part.pk)
        by_id = {str(one.pk): one for one in held.loaded()}
        states: dict[str, revisions.State] = {}
        for key, changed in entries.items():
            state = revisions.part_state(by_id[key])
            states[key] = {**(state or {}), "entries": {**by_id[key].entries, **changed}}
        revisions.write(held, request.user, states)
    messages.success(request, gettext("The circuits were moved; undo brings them back."))
    return redirect("jobs:part", job.pk, part.pk)
