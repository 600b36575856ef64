"""A board balanced: how even it is, the hand rule, the best that can be had, and for each number of
moves what it reaches, with the work in its order; a point is applied as one revision."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import gettext, ngettext
from django.views.decorators.http import require_http_methods

from voltaje.core.electrical.balance import (
    OBJECTIVES,
    Answer,
    ConflictError,
    Measure,
    Objective,
    Task,
    Work,
    by_hand,
    curve,
    measure,
    solve,
    task_of,
)
from voltaje.core.electrical.systems import Piece
from voltaje.core.entries import fields
from voltaje.core.parts.board.entries import IMBALANCE
from voltaje.core.worksheet import figure
from voltaje.web.jobs import revisions
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.worked import work_job
from voltaje.web.sheets.board_views import board_of

SECONDS, CURVE_SECONDS = 1.5, 3.0
UNITS = {"deviation": "%", "neutral": "A", "heaviest": "A"}
BAR = 160.0


@dataclass(frozen=True)
class Point:
    """One number of moves on the page: what it reaches, and how long its bar is."""

    work: Work
    shown: str
    bar: float
    chosen: bool


@dataclass(frozen=True)
class Column:
    """One spread on the page, beside the others."""

    title: str
    measured: Measure
    note: str = ""

    @property
    def lines(self) -> list[tuple[str, str, str]]:
        """Line, VA, A."""
        return [
            (name, figure(va, 0), figure(self.measured.amperes[name], 1))
            for name, va in self.measured.va.items()
        ]

    @property
    def deviation(self) -> str:
        return figure(self.measured.deviation, 1)

    @property
    def neutral(self) -> str:
        return figure(self.measured.neutral, 1)

    @property
    def heaviest(self) -> str:
        return figure(self.measured.heaviest, 1)


def _pieces(job: Job, board: Part) -> tuple[tuple[Piece, ...], Any]:
    """The board's loads on their lines, and its system; nothing where it cannot be worked."""
    found = work_job(job)[str(board.pk)]
    if found.outcome is None or found.context is None:
        return (), None
    return found.outcome.placed, found.context.supply.system


def _can_move(job: Job, board: Part) -> dict[str, Part]:
    """The parts under the board whose entries say on which line they stand."""
    found = {}
    for part in job.under(board):
        names = {spec.name for spec in fields(job.entries_of(part.kind))}
        if "line" in names:
            found[str(part.pk)] = part
    return found


def _task(job: Job, board: Part, pins: list[str]) -> Task | None:
    pieces, system = _pieces(job, board)
    if system is None or not pieces:
        return None
    movable = _can_move(job, board)
    stay = [piece.part for piece in pieces if piece.part not in movable]
    return task_of(pieces, system, (*stay, *pins))


def _unpinned(job: Job, board: Part) -> Task | None:
    """The same without pins; nothing where what cannot move conflicts by itself."""
    try:
        return _task(job, board, [])
    except ConflictError:
        return None


@login_required
@require_http_methods(["GET", "POST"])
def balance(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The page, and applying what it shows."""
    job, board = board_of(request, job_id, part_id)
    if request.method == "POST":
        return _apply(request, job, board)
    asked = request.GET.get("objective", "")
    objective: Objective = asked if asked in OBJECTIVES else "deviation"  # type: ignore[assignment]
    pins = request.GET.getlist("pin")
    context: dict[str, Any] = {
        "job": job,
        "part": board,
        "objectives": [(name, words, name == objective) for name, words in OBJECTIVES.items()],
        "objective": objective,
        "pins": pins,
    }
    try:
        task = _task(job, board, pins)
    except ConflictError as error:
        context["conflict"] = str(error)
        task = _unpinned(job, board)
    if task is None:
        return render(request, "sheets/balance.html", context)
    moves = request.GET.get("moves", "")
    context |= _found(
        task, objective, _limit(job, board), int(moves) if moves.isdecimal() else None
    )
    context["pinnable"] = [
        (one, one.key in pins)
        for one in task.loads
        if len(one.options) > 1 and one.key in _can_move(job, board)
    ]
    return render(request, "sheets/balance.html", context)


def _found(task: Task, objective: Objective, limit: float, moves: int | None) -> dict[str, Any]:
    case = task.cases[0]
    hand = by_hand(task)
    best = solve(task, objective, SECONDS)
    works = list(curve(task, objective, CURVE_SECONDS))
    most = max((work.answer.value for work in works), default=0.0)
    chosen = next((work for work in works if work.moves == moves), None)
    chosen = chosen or _advised(works, objective, limit)
    points = [
        Point(
            work,
            figure(work.answer.value, 1),
            round(BAR * work.answer.value / most, 1) if most else 0.0,
            work is chosen,
        )
        for work in works
    ]
    columns = [
        Column(gettext("As it stands"), measure(task, task.now(), case)),
        Column(
            gettext("By the hand rule"),
            measure(task, hand, case),
            gettext("the largest first onto the lightest line"),
        ),
        Column(gettext("The best"), measure(task, best.lines, case), _proof(best, objective)),
    ]
    if chosen is not None and chosen.moves:
        words = ngettext("After {n} move", "After {n} moves", chosen.moves)
        columns.insert(
            1, Column(words.format(n=chosen.moves), measure(task, chosen.answer.lines, case))
        )
    return {
        "task": task,
        "columns": columns,
        "points": points,
        "chosen": chosen,
        "limit": figure(limit, 0) if objective == "deviation" else "",
        "unit": UNITS[objective],
        "alone": not any(load.free for load in task.loads),
        "changes": _changes(task, chosen.answer.lines) if chosen else [],
    }


def _limit(job: Job, board: Part) -> float:
    """How far the board's lines may differ, percent."""
    entries = work_job(job)[str(board.pk)].entries
    return float(getattr(entries, "imbalance", IMBALANCE))


def _advised(works: list[Work], objective: Objective, limit: float) -> Work | None:
    """The fewest moves that bring the board within its own limit, percent; else the last."""
    if not works:
        return None
    if objective == "deviation":
        within = next((work for work in works if work.answer.value <= limit), None)
        if within is not None:
            return within
    return works[-1]


def _proof(best: Answer, objective: Objective) -> str:
    if best.proven:
        return gettext("proven: nothing is better by more than can be measured")
    return gettext("within {gap} {unit} of the best, when the time was up").format(
        gap=figure(best.gap, 1), unit=UNITS[objective]
    )


def _changes(task: Task, lines: Mapping[str, str]) -> list[tuple[str, str, str]]:
    """Every circuit that has a line of its own: its key, the line it stands on, the one to be. All
    are kept with their lines, so that none is spread anew by itself."""
    return [(load.key, load.line, lines[load.key]) for load in task.loads if len(load.options) > 1]


def _apply(request: HttpRequest, job: Job, board: Part) -> HttpResponse:
    """Keeps the lines of all circuits as one revision, unless the board has changed since."""
    wanted = dict(item.split("=", 1) for item in request.POST.getlist("to") if "=" in item)
    was = dict(item.split("=", 1) for item in request.POST.getlist("was") if "=" in item)
    with revisions.changing(job) as held:
        held_board = next((p for p in held.loaded() if p.pk == board.pk), board)
        movable = _can_move(held, held_board)
        task = _unpinned(held, held_board)
        stands = {load.key: load for load in task.loads} if task else {}
        same = all(key in stands and stands[key].line == line for key, line in was.items())
        known = all(key in stands and line in stands[key].options for key, line in wanted.items())
        if not (wanted and same and known and set(wanted) == set(was)):
            messages.error(
                request,
                gettext("The board has changed since: look at it again, nothing was moved."),
            )
            return redirect("jobs:balance", job.pk, board.pk)
        states: dict[str, revisions.State] = {}
        for key, line in wanted.items():
            if key in movable:
                state = revisions.part_state(movable[key])
                state = {**(state or {}), "entries": {**movable[key].entries, "line": line}}
                states[key] = state
        revisions.write(held, request.user, states)
    messages.success(request, gettext("The circuits were moved; undo brings them back."))
    return redirect("jobs:part", job.pk, board.pk)
