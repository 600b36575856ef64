"""A board to be balanced: its circuits put on other lines, measured as often as one likes, then
held against the optimum for each number of moves."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any
from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods

from voltaje.core.codes import edition, editions
from voltaje.core.electrical.balance import Movable
from voltaje.core.practice.balancing import POINTS, BalanceExercise, balance_exercise
from voltaje.core.rules.interface import code_of

SEED = 16  # no code figure: letters of a seed


@dataclass(frozen=True, slots=True)
class BalanceRow:
    """A circuit with the line that was chosen for it."""

    load: Movable
    line: str
    amperes: float

    @property
    def moved(self) -> bool:
        return self.line != self.load.line


@dataclass(frozen=True, slots=True)
class LineBar:
    """A line's load: VA, A, and its share of the heaviest for a bar."""

    line: str
    va: float
    amperes: float
    share: float


def balance_address(code: str, seed: str = "") -> str:
    """The address of an exercise; without a seed it is given one."""
    asked = {"code": code, **({"seed": seed} if seed else {})}
    return f"{reverse('practice:balance')}?{urlencode(asked)}"


@lru_cache(maxsize=64)
def exercise_of(code: str, seed: str) -> BalanceExercise:
    """The exercise of a seed on a usual system of the code's countries."""
    if code_of(edition(code).family).units == "metric" and edition(code).family != "cec":
        return balance_exercise("3ph-400Y/230", seed)
    # by turns, so that both are met
    system = "3ph-208Y/120" if sum(map(ord, seed)) % 2 else "1ph-120/240"
    return balance_exercise(system, seed)


@require_http_methods(["GET", "POST"])
def balance_board(request: HttpRequest) -> HttpResponse:
    """The board of a seed: circuits moved, measured, judged."""
    code, seed = request.GET.get("code", ""), request.GET.get("seed", "")
    known = [book.id for book in editions()]
    if code not in known or not seed.isalnum() or len(seed) > SEED:
        return redirect(
            balance_address(code if code in known else "nec-2020", secrets.token_hex(3))
        )
    exercise = exercise_of(code, seed)
    posted: Any = request.POST if request.method == "POST" else {}
    do = str(posted.get("do", ""))
    lines = _lines(exercise, {} if do == "reset" else posted)
    measured = exercise.measured(lines)
    most = max(measured.va.values()) or 1.0
    done = do == "name"
    context = {
        "book": edition(code),
        "system": exercise.task.system,
        "rows": [_row(exercise, load, lines) for load in exercise.task.loads],
        "bars": [
            LineBar(name, va, measured.amperes[name], round(100 * va / most, 1))
            for name, va in measured.va.items()
        ],
        "measured": measured,
        "moves": exercise.moves(lines),
        "judged": exercise.judged(lines) if done else None,
        "works": [
            (work, _moves(exercise, work.answer.lines)) for work in exercise.works
        ] if done else [],
        "most": POINTS,
        "pressed": do,
        "again": request.get_full_path(),
        "next": balance_address(code),
        "back": f"{reverse('practice:list')}?{urlencode({'code': code})}",
    }  # fmt: skip
    return render(request, "practice/balance.html", context)


def _lines(exercise: BalanceExercise, posted: Any) -> dict[str, str]:
    """Where each circuit stands: as chosen, where that is one of its lines."""
    found = {}
    for load in exercise.task.loads:
        asked = str(posted.get(f"line-{load.key}", ""))
        found[load.key] = asked if asked in load.options else load.line
    return found


def _row(exercise: BalanceExercise, load: Movable, lines: Mapping[str, str]) -> BalanceRow:
    line = lines[load.key]
    amperes = exercise.task.amperes(load, line)
    return BalanceRow(load, line, max(abs(one) for one in amperes.values()))


def _moves(exercise: BalanceExercise, lines: Mapping[str, str]) -> list[tuple[str, str, str]]:
    return [
        (load.name, load.line, lines[load.key])
        for load in exercise.task.loads
        if lines[load.key] != load.line
    ]
