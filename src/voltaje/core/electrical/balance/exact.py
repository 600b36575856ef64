"""The best spread, as a mixed-integer program.

A choice is a variable for each load and line. VA and the real and imaginary parts of currents are
linear in the choices; the length of a phasor is the largest of its projections, so it is held from
below by tangents: each solution adds those at its own angles, until the length of what was found is
the bound itself. The answer is then proven, or its gap is told.
"""

from __future__ import annotations

import cmath
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import cos, inf, pi, sin
from typing import TYPE_CHECKING, Any

from voltaje.core.effort import Effort
from voltaje.core.electrical.balance.built import all_unbuilt, unbuilt
from voltaje.core.electrical.balance.measure import drop, value
from voltaje.core.electrical.balance.polish import polished
from voltaje.core.electrical.balance.positions import positions
from voltaje.core.electrical.balance.task import (
    BalanceTask,
    Movable,
    Objective,
    allowed,
    by_hand,
    rooms,
)
from voltaje.core.electrical.lines import phasors
from voltaje.core.mixed_integer import Row, minimize

if TYPE_CHECKING:
    from voltaje.core.mixed_integer import Values

USUAL = 5.0  # no code figure: s of effort of a search
BOARD = 0.5  # no code figure: s of effort of one board among several
TANGENTS = 12  # no code figure: the directions that a phasor is first held by
ROUNDS = 40  # no code figure: how often tangents are added at most
# no code figures: what nobody measures. Percent of deviation, and the share of the mean amperes,
# below which a spread counts as even; the relative gap that counts as closed
EVEN_PERCENT, EVEN_SHARE, CLOSED = 0.5, 5e-3, 5e-3
EVEN_LOST = 0.05  # no code figure: percent of the volts that no meter shows


@dataclass(frozen=True, slots=True)
class Answer:
    """Where each load stands, what that comes to, and the ``bound`` that nothing can be below.
    ``proven``: nothing is better by more than can be measured."""

    lines: Mapping[str, str]
    value: float
    bound: float
    proven: bool

    @property
    def gap(self) -> float:
        """How far the answer may be from the best, in its own unit."""
        return max(0.0, self.value - self.bound)


def solve(
    task: BalanceTask,
    objective: Objective,
    effort: Effort | None = None,
    most_moves: int | None = None,
    known: Mapping[str, str] | None = None,
    better: Callable[[Answer], None] | None = None,
) -> Answer:
    """The best spread that the effort finds; with ``most_moves`` the best that so many moves from
    where the loads stand can reach. ``known`` is a spread that is allowed and to be beaten;
    ``better`` is told each better one on the way."""
    effort = effort or Effort(USUAL)
    best = dict(known) if known is not None else _first(task, objective, most_moves)
    top = value(task, best, objective) if _stands(task, best) else inf
    free = [load for load in task.loads if load.free]
    floor = _floor(task, objective)
    if not free or most_moves == 0:
        mine = value(task, best, objective)
        return Answer(best, mine, mine, True)
    if top <= floor:
        return Answer(best, top, 0.0, True)
    bound = least(task, objective)
    if objective in ("neutral", "heaviest") and most_moves is None and known is None:
        # what is even in VA is most often even in amperes too, and far sooner found
        even = solve(task, "deviation", effort.at_most(effort.left / 4)).lines
        even = polished(task, even, objective, max(bound, floor) * (1 + CLOSED))
        if _stands(task, even) and value(task, even, objective) < top:
            best, top = dict(even), value(task, even, objective)
        if top <= max(bound, floor) * (1 + CLOSED):
            return _answer(task, objective, best, top, bound, floor)
    search = _Search(_Program(task, objective, free, most_moves, max(floor, bound)), best, top)
    search.bound, search.better = bound, better
    search.run(effort, floor)
    return _answer(task, objective, search.best, search.top, search.bound, floor)


class _Search:
    """Rounds of the program: each better spread is kept, what cannot be built is left out, and
    phasors get their tangents, until the bound and the best meet."""

    def __init__(self, program: _Program, best: Mapping[str, str], top: float) -> None:
        self.program, self.best, self.top = program, dict(best), top
        self.bound = 0.0
        self.better: Callable[[Answer], None] | None = None

    def run(self, effort: Effort, floor: float) -> None:
        """Until it is proven, nothing is left to try, or the effort is spent."""
        rounds = 0
        while rounds < ROUNDS and effort.left:
            found = self.program.run(effort, self._seen if self.better else None)
            self.bound = max(self.bound, min(found.bound, self.top))
            rounds += 1
            if found.lines is None:
                break
            short = list(all_unbuilt(self.program.task, found.lines, effort))
            if len(short) > 1 and rounds == 1 and self._board_by_board(found.lines, effort, floor):
                break
            for board in short:  # all at once: of forty boards each would take a round
                self.program.forbid(board, found.lines)
            if short:
                continue
            self._take(found.lines)
            if self.top <= max(self.bound, floor) * (1 + CLOSED):
                break
            if not self.program.cut(found.lines) and found.optimal:
                break

    def _board_by_board(self, lines: Mapping[str, str], effort: Effort, floor: float) -> bool:
        """Where several boards cannot hold what was found: each board's loads anew in positions
        that it has, the others standing. Whether that is as good as can be."""
        task, objective = self.program.task, self.program.objective
        if self.program.most_moves is not None:
            return False
        found = dict(lines)
        for board, schedule in task.boards.items():
            loads = tuple(
                load
                if load.board == board or load.pinned
                else replace(load, line=found[load.key], pinned=True)
                for load in task.loads
            )
            part = replace(task, loads=loads, boards={board: schedule})
            free = [load for load in loads if load.free]
            if not free:
                continue
            program = _Program(part, objective, free, None, self.program.floor)
            program.forbid(board, {})
            mine = program.run(effort.at_most(BOARD)).lines
            if mine is None or unbuilt(part, mine, effort):
                mine = part.now()  # as it stands, which its positions hold
            found |= {load.key: mine[load.key] for load in free}
        if _stands(task, found):
            self._take(found)
        return self.top <= max(self.bound, floor) * (1 + CLOSED)

    def _take(self, lines: Mapping[str, str]) -> bool:
        mine = value(self.program.task, lines, self.program.objective)
        if mine >= self.top:
            return False
        self.best, self.top = dict(lines), mine
        return True

    def _seen(self, lines: Mapping[str, str], bound: float) -> None:
        """A better one within a round, before its bound is known."""
        task, objective = self.program.task, self.program.objective
        if self.better is None or value(task, lines, objective) >= self.top:
            return
        if not unbuilt(task, lines) and self._take(lines):
            known = max(self.bound, min(bound, self.top))
            self.better(_answer(task, objective, self.best, self.top, known, self.program.floor))


def least(task: BalanceTask, objective: Objective) -> float:
    """What no spread is below, whatever stands where. Of the heaviest line: P = Re Σ V·I* is at
    most Σ |V| times the largest |I|. Nothing is known so of the others: 0."""
    if objective != "heaviest":
        return 0.0
    volts = sum(abs(phasor) for phasor in phasors(task.system).values())
    each = [
        sum(load.va * case.share(load.key) for load in task.loads) / volts for case in task.cases
    ]
    if task.weighted:
        return sum(case.weight * amperes for case, amperes in zip(task.cases, each, strict=True))
    return max(each, default=0.0)


def _answer(
    task: BalanceTask,
    objective: Objective,
    best: Mapping[str, str],
    top: float,
    bound: float,
    floor: float,
) -> Answer:
    # a gap below what anybody can measure is none
    proven = top <= max(bound, floor) * (1 + CLOSED) + max(floor, 1e-9)
    if top == inf:  # nothing allowed was found: it stands as it did
        top, proven = value(task, best, objective), False
    return Answer(best, top, min(bound, top), proven)


def _stands(task: BalanceTask, lines: Mapping[str, str]) -> bool:
    """Whether a spread is allowed and there are places for it."""
    return allowed(task, lines) and not unbuilt(task, lines)


def _first(task: BalanceTask, objective: Objective, most_moves: int | None) -> dict[str, str]:
    now = task.now()
    if most_moves is not None:
        return now
    both = [lines for lines in (now, by_hand(task)) if _stands(task, lines)]
    return min(both, key=lambda lines: value(task, lines, objective), default=now)


def _floor(task: BalanceTask, objective: Objective) -> float:
    """What counts as even: for amperes a share of the mean line's, of all cases the least."""
    if objective == "deviation":
        return EVEN_PERCENT
    if objective == "lost":
        return EVEN_LOST
    if objective == "heaviest":
        return 0.0
    means = []
    for case in task.cases:
        total = sum(load.va * case.share(load.key) for load in task.loads)
        means.append(task.system.line_current(total))
    return EVEN_SHARE * min(means, default=0.0)


@dataclass(frozen=True, slots=True)
class _Found:
    lines: dict[str, str] | None
    bound: float
    optimal: bool


class _Program:
    """The rows of the program: one column for each load and option, then one figure for each case
    (or one for all)."""

    def __init__(
        self,
        task: BalanceTask,
        objective: Objective,
        free: Sequence[Movable],
        most_moves: int | None,
        floor: float,
    ) -> None:
        self.task, self.objective, self.free, self.floor = task, objective, free, floor
        self.most_moves = most_moves
        self.standing: dict[
            tuple[int, str], complex
        ] = {}  # A of what is not free, by case and line
        self.columns = [(load, line) for load in free for line in load.options]
        self.at = {(load.key, line): i for i, (load, line) in enumerate(self.columns)}
        self.figures = len(task.cases) if task.weighted else 1
        self.width = len(self.columns) + self.figures
        self.placed: set[str] = set()  # boards whose positions are in the program
        self.rows: list[Row] = []
        self.fixed = [load for load in task.loads if not load.free]
        self.poles = {
            seat.device.key: seat.device.poles
            for schedule in task.boards.values()
            for seat in schedule.seats
        }
        self._choices(most_moves)
        self._rooms()
        self._hold()

    def _figure(self, case: int) -> int:
        return len(self.columns) + (case if self.task.weighted else 0)

    def _choices(self, most_moves: int | None) -> None:
        for load in self.free:
            self.rows.append(({self.at[load.key, o]: 1.0 for o in load.options}, 1.0, 1.0))
        shared: dict[str, list[Movable]] = {}
        for load in self.task.loads:
            if load.multiwire:
                shared.setdefault(load.multiwire, []).append(load)
        for members in shared.values():
            lines = {line for load in members for line in load.options}
            if len(members) > len(lines):
                continue  # more circuits than lines: two of them share one whatever is done
            for line in lines:
                there = sum(1.0 for load in members if not load.free and load.line == line)
                row = {self.at[m.key, line]: 1.0 for m in members if (m.key, line) in self.at}
                if row:
                    self.rows.append((row, -inf, max(0.0, 1.0 - there)))
        if most_moves is not None:
            stay = {
                self.at[load.key, load.line]: 1.0
                for load in self.free
                if (load.key, load.line) in self.at
            }
            self.rows.append((stay, len(self.free) - most_moves, inf))
        else:
            self._symmetry()

    def _rooms(self) -> None:
        """No more devices behind a line of a board than it has places there."""
        for board, room in rooms(self.task).items():
            mine = [load for load in self.free if load.board == board]
            for line, most in room.items():
                row = {
                    self.at[load.key, option]: 1.0
                    for load in mine
                    for option in load.options
                    if option == "all" or line in option.split("-")
                }
                if len(row) > most:
                    self.rows.append((row, -inf, float(most)))

    def forbid(self, board: str, lines: Mapping[str, str]) -> None:
        """Leaves out a spread that this board's positions cannot hold: first by the positions
        themselves, which leaves out all of its like; what they leave open, by itself."""
        if board not in self.placed:
            self.placed.add(board)
            found = positions(self.task, board, self.at, self.width)
            self.width += found.columns
            self.rows += found.rows
            return
        row = {self.at[load.key, lines[load.key]]: 1.0 for load in self.free if load.board == board}
        self.rows.append((row, -inf, len(row) - 1.0))

    def _symmetry(self) -> None:
        """Loads that are alike are taken in the order of their lines."""
        alike: dict[Any, list[Movable]] = {}
        for load in self.free:
            shares = tuple(case.share(load.key) for case in self.task.cases)
            if not load.multiwire:
                kind = (load.va, load.options, shares, load.board, self.poles.get(load.key))
                alike.setdefault(kind, []).append(load)
        for group in alike.values():
            for one, other in pairwise(group):
                row: dict[int, float] = {}
                for place, line in enumerate(one.options):
                    row[self.at[one.key, line]] = float(place)
                    row[self.at[other.key, line]] = -float(place)
                self.rows.append((row, -inf, 0.0))

    def _hold(self) -> None:
        """What the figure of each case is at least."""
        for index in range(len(self.task.cases)):
            if self.objective == "deviation":
                self._deviation(index)
                continue
            if self.objective == "lost":
                self._lost(index)
                continue
            for name in self._names():
                for k in range(TANGENTS):
                    self._tangent(index, name, 2 * pi * k / TANGENTS)

    def _names(self) -> tuple[str, ...]:
        if self.objective == "neutral":
            return ("N",) if self.task.system.has_neutral else ()
        return self.task.system.lines

    def _deviation(self, index: int) -> None:
        case, task = self.task.cases[index], self.task
        lines = task.system.lines
        total = sum(load.va * case.share(load.key) for load in task.loads)
        mean = total / len(lines)
        if not mean:
            return
        for line in lines:
            there = sum(
                task.va(load, load.line).get(line, 0.0) * case.share(load.key)
                for load in self.fixed
            )
            row = {
                i: 100 / mean * share
                for i, (load, option) in enumerate(self.columns)
                if (share := task.va(load, option).get(line, 0.0) * case.share(load.key))
            }
            off = 100 * (there - mean) / mean
            at = self._figure(index)
            self.rows.append(({**row, at: -1.0}, -inf, -off))
            self.rows.append(({**{i: -v for i, v in row.items()}, at: -1.0}, -inf, off))

    def _lost(self, index: int) -> None:
        """What each consumer loses on the line that it stands on; where it does not stand, the row
        is slack by all that could be lost there."""
        case, task = self.task.cases[index], self.task
        for load in task.loads:
            lines = task.system.lines if load.line == "all" else load.options
            for line in lines:
                there = sum(
                    drop(task, load.key, line, one, one.line) * case.share(one.key)
                    for one in self.fixed
                )
                row = {
                    i: share
                    for i, (one, option) in enumerate(self.columns)
                    if (share := drop(task, load.key, line, one, option) * case.share(one.key))
                }
                row[self._figure(index)] = -1.0
                slack = 0.0
                if (load.key, line) in self.at:
                    most: dict[str, float] = {}
                    for column, (one, _) in enumerate(self.columns):
                        most[one.key] = max(most.get(one.key, 0.0), row.get(column, 0.0))
                    slack = max(0.0, there + sum(most.values()))
                    at = self.at[load.key, line]
                    row[at] = row.get(at, 0.0) + slack
                elif load.free or (load.line != "all" and line != load.line):
                    continue
                self.rows.append((row, -inf, slack - there))

    def _tangent(self, index: int, name: str, angle: float) -> None:
        """The current's projection in one direction is at most its length."""
        case, task = self.task.cases[index], self.task
        unit = complex(cos(angle), -sin(angle))
        if (index, name) not in self.standing:
            self.standing[index, name] = sum(
                (
                    task.amperes(load, load.line).get(name, 0j) * case.share(load.key)
                    for load in self.fixed
                ),
                0j,
            )
        there = (self.standing[index, name] * unit).real
        row = {
            i: share
            for i, (load, option) in enumerate(self.columns)
            if (
                share := (task.amperes(load, option).get(name, 0j) * unit).real
                * case.share(load.key)
            )
        }
        self.rows.append(({**row, self._figure(index): -1.0}, -inf, -there))

    def cut(self, lines: Mapping[str, str]) -> bool:
        """Tangents at the angles of what was found; whether there was any to add."""
        if self.objective in ("deviation", "lost"):
            return False
        for index, case in enumerate(self.task.cases):
            for name in self._names():
                total = sum(
                    self.task.amperes(load, lines[load.key]).get(name, 0j) * case.share(load.key)
                    for load in self.task.loads
                )
                if abs(total) > 1e-9:
                    self._tangent(index, name, cmath.phase(total))
        return True

    def run(
        self, effort: Effort, better: Callable[[Mapping[str, str], float], None] | None = None
    ) -> _Found:
        """Solves it as it stands; ``better`` is told each better spread on the way."""
        first, last = len(self.columns), len(self.columns) + self.figures
        cost = [0.0] * self.width
        for index, case in enumerate(self.task.cases):
            cost[self._figure(index)] = case.weight if self.task.weighted else 1.0
        least_of = 0.0 if self.task.weighted else self.floor  # below it a spread counts as even

        def told(values: Values, bound: float) -> None:
            if better is not None:
                better(self._lines(values), bound)

        found = minimize(
            cost,
            self.rows,
            effort,
            whole=lambda i: not first <= i < last,
            upper=lambda i: inf if first <= i < last else 1.0,
            lower=lambda i: least_of if first <= i < last else 0.0,
            gap=CLOSED / 2,
            better=told if better is not None else None,
        )
        lines = None if found.values is None else self._lines(found.values)
        return _Found(lines, found.bound, found.ended == "optimal")

    def _lines(self, values: Values) -> dict[str, str]:
        """The line of each load in a solution."""
        lines = self.task.now()
        for (load, line), taken in zip(self.columns, values, strict=False):
            if taken > 0.5:  # no code figure: a choice that is made
                lines[load.key] = line
        return lines
