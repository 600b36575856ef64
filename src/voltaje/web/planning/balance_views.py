"""A board balanced, or all boards below a part: how even it is, the hand rule, the best that can be
had, and for each number of moves what it reaches; a point is applied as one revision. What takes
longer than a page may is sought by a worker."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_http_methods

from voltaje.core.electrical.balance import MOST_MOVES, OBJECTIVES
from voltaje.core.job.spread import Spread, gather
from voltaje.core.kinds import kind
from voltaje.core.kinds.board.entries import IMBALANCE
from voltaje.core.report import figure
from voltaje.web.background import asking
from voltaje.web.background.views import shown
from voltaje.web.history import revisions
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import work_job
from voltaje.web.parts.respond import paper_of
from voltaje.web.planning import balance_page, long_work

LONGER = (10, 30, 60)  # no code figures: s of effort of a longer search


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


def _moves(request: HttpRequest) -> int | None:
    """The number of moves that is asked for; ``None``: the one that is advised."""
    text = request.GET.get("moves", "")
    return int(text) if text in {str(n) for n in range(MOST_MOVES + 1)} else None


def _question(request: HttpRequest, part: Part) -> dict[str, Any]:
    """What a query asks for."""
    pins, weights, by_sum = balance_page.asked(request.GET)
    asked = request.GET.get("seconds", "")
    seconds = next((s for s in LONGER if str(s) == asked), long_work.USUAL)
    objective = request.GET.get("objective", "")
    return long_work.balance_question(str(part.pk), objective, pins, weights, by_sum, seconds)


@login_required
@require_http_methods(["GET", "POST"])
def balance(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The page, and applying what it shows."""
    job, part = part_of(request, job_id, part_id)
    if request.method == "POST":
        return _apply(request, job, part)
    question = _question(request, part)
    spread = spread_of(job, part)
    context: dict[str, Any] = {
        "job": job,
        "part": part,
        "pins": question["pins"],
        "by_sum": question["by_sum"],
    }
    if spread is None:
        return render(request, "sheets/balance.html", context)
    context["missing"] = spread.missing
    task, context["conflict"] = long_work.task_of(spread, question)
    if task is None:
        return render(request, "sheets/balance.html", context)
    objective = long_work.objective_of(task, question)
    question["objective"] = objective
    names = task.objectives
    query = request.GET.copy()
    for name in ("moves", "seconds"):
        query.pop(name, None)
    context |= {
        "task": task,
        "objective": objective,
        "objectives": [(name, OBJECTIVES[name], name == objective) for name in names],
        "alone": not any(load.free for load in task.loads),
        "asked": [(name, text) for name, texts in query.lists() for text in texts],
        "cases": [
            (case.name, figure(question["weights"].get(case.name, 1.0), 2)) for case in spread.cases
        ],
        "pinnable": [
            (one, one.key in question["pins"], spread.names.get(one.board, ""))
            for one in task.loads
            if len(one.options) > 1 and (one.free or one.key in question["pins"])
        ],
    }
    usual = {**question, "seconds": long_work.USUAL}  # what a longer search is to better
    so_far = asking.done(long_work.BALANCE, job, usual) if usual != question else None
    try:
        background = asking.ask(long_work.BALANCE, job, question, so_far)
    except asking.BusyError as error:
        return render(request, "sheets/balance.html", {**context, "busy": str(error)}, status=429)
    context |= shown(background)
    if background.result is not None:
        best, works = long_work.found(background.result)
        limit = _limit(job, part)
        context |= balance_page.found(
            spread, task, objective, limit, best, works, _moves(request), background.live
        )
        if not background.live:
            effects = balance_page.effects(job, part, task, spread, context["chosen"])
            context["effect_titles"], context["effects"], context["at_loads"] = effects
        if background.state == "done":
            context["cut_short"] = not background.result["complete"]
            context["longer"] = [s for s in LONGER if s > question["seconds"]]
    # a longer search keeps what it has found when a number of moves is looked at
    if question["seconds"] in LONGER:
        query["seconds"] = str(question["seconds"])
    context["query"] = query.urlencode()
    return render(request, "sheets/balance.html", context)


@login_required
@require_GET
def work_order(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The order of work of the moves, on paper; what is not found yet is sought on the page."""
    job, part = part_of(request, job_id, part_id)
    page = redirect("jobs:balance", job.pk, part.pk)
    page["Location"] += f"?{request.GET.urlencode()}"
    spread, question = spread_of(job, part), _question(request, part)
    task = long_work.task_of(spread, question)[0] if spread else None
    if spread is None or task is None:
        return page
    objective = long_work.objective_of(task, question)
    question["objective"] = objective
    try:
        background = asking.ask(long_work.BALANCE, job, question)
    except asking.BusyError:
        return page
    if background.live or background.result is None:
        return page
    best, works = long_work.found(background.result)
    limit = _limit(job, part)
    context = balance_page.found(spread, task, objective, limit, best, works, _moves(request))
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
