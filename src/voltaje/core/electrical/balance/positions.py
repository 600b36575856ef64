"""The positions of boards as rows of the program, so that it looks only among spreads that can be
built.

Behind each line, or pair of lines, as many neighbouring positions are taken as devices (and sets
that share a neutral) ask for, and none is taken twice. Single-pole devices take what is left behind
their line. What the rows leave open (a set that stands apart already) is looked at by
:mod:`~voltaje.core.electrical.balance.built` afterwards.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from math import inf

from voltaje.core.electrical.balance.built import behind, together
from voltaje.core.electrical.balance.task import BalanceTask, Movable
from voltaje.core.electrical.panel_layout import Schedule, Seat, line_of
from voltaje.core.mixed_integer import Row


@dataclass(slots=True)
class Positions:
    """Further columns of the program, each 0 or 1, from ``first`` on, and its rows."""

    first: int
    columns: int = 0
    rows: list[Row] = field(default_factory=list)

    def column(self) -> int:
        """One more column."""
        self.columns += 1
        return self.first + self.columns - 1


@dataclass(slots=True)
class _Asked:
    """How many devices of so many poles stand behind a line: a number, and columns that add to
    it."""

    fixed: float = 0.0
    columns: dict[int, float] = field(default_factory=dict)


def positions(
    task: BalanceTask, board: str, at: Mapping[tuple[str, str], int], first: int
) -> Positions:
    """The rows for one board of a task; ``at`` has the column of each load and line, ``first`` is
    the first column that is free."""
    found, schedule = Positions(first), task.boards[board]
    free = {load.key: load for load in task.loads if load.free and load.board == board}
    wanted = {load.key: load.line for load in task.loads if load.board == board}
    held = {p.name for seat in schedule.seats if _held(seat) for p in seat.span or ()}
    asked: dict[tuple[int, str], _Asked] = defaultdict(_Asked)
    over: dict[str, list[int]] = defaultdict(list)
    for seats in together(schedule):
        loose = [seat for seat in seats if not _held(seat)]
        if len(seats) > 1 and loose:
            if len(loose) == len(seats):
                columns = _side_by_side(found, seats, free, wanted, asked)
            else:
                columns = _beside_held(found, schedule, seats, held, over)
            _behind_its_lines(found, at, seats, free, wanted, columns)
            continue
        for seat in loose:
            poles, load = seat.device.poles, free.get(seat.device.key)
            if load is None:
                asked[poles, behind(seat, wanted)].fixed += 1
            else:
                for option in load.options:
                    asked[poles, option].columns[at[load.key, option]] = 1.0
    _spans(found, schedule, held, asked, over)
    found.rows += _left(schedule, held, asked, over)
    return found


def _held(seat: Seat) -> bool:
    """Whether a device stays in the positions that it has."""
    return seat.span is not None and (seat.device.pinned or seat.device.what == "main")


Lines = tuple[str, ...]


def _side_by_side(
    found: Positions,
    seats: list[Seat],
    free: Mapping[str, Movable],
    wanted: Mapping[str, str],
    asked: dict[tuple[int, str], _Asked],
) -> list[tuple[Lines, int]]:
    """Circuits that share a neutral: one column for each pair of lines (or all) that they could
    stand behind together."""
    poles = len(seats)
    lines = sorted({o for s in seats for o in _may(s, free, wanted)})
    columns = [(group, found.column()) for group in _groups(lines, poles)]
    for group, column in columns:
        asked[poles, "all" if poles > 2 else "-".join(group)].columns[column] = 1.0
    return columns


def _beside_held(
    found: Positions,
    schedule: Schedule,
    seats: list[Seat],
    held: set[str],
    over: dict[str, list[int]],
) -> list[tuple[Lines, int]]:
    """The same with one of them pinned: a column for each neighbouring positions around it."""
    pinned = {place.name for seat in seats if _held(seat) for place in seat.span or ()}
    columns = []
    for span in schedule.layout.spans(len(seats)):
        names = {place.name for place in span}
        if pinned <= names and not (names - pinned) & held:
            column = found.column()
            columns.append((tuple(place.line for place in span), column))
            for name in names - pinned:
                over[name].append(column)
    return columns


def _behind_its_lines(
    found: Positions,
    at: Mapping[tuple[str, str], int],
    seats: list[Seat],
    free: Mapping[str, Movable],
    wanted: Mapping[str, str],
    columns: list[tuple[Lines, int]],
) -> None:
    """A set stands in one of the ways of its ``columns``, behind the lines that its circuits
    choose."""
    found.rows.append(({column: 1.0 for _, column in columns}, 1.0, 1.0))
    for line in sorted({o for s in seats for o in _may(s, free, wanted)}):
        row: dict[int, float] = {column: 1.0 for lines, column in columns if line in lines}
        there = 0.0
        for seat in seats:
            load = free.get(seat.device.key)
            if load is None:
                there += wanted.get(seat.device.key, seat.line) == line
            elif line in load.options:
                row[at[load.key, line]] = -1.0
        found.rows.append((row, there, there))


def _may(seat: Seat, free: Mapping[str, Movable], wanted: Mapping[str, str]) -> tuple[str, ...]:
    load = free.get(seat.device.key)
    return load.options if load else (wanted.get(seat.device.key, seat.line),)


def _groups(lines: list[str], poles: int) -> list[Lines]:
    if poles > 2:
        return [tuple(lines)] if len(lines) == poles else []
    return [(one, other) for i, one in enumerate(lines) for other in lines[i + 1 :]]


def _spans(
    found: Positions,
    schedule: Schedule,
    held: set[str],
    asked: Mapping[tuple[int, str], _Asked],
    over: dict[str, list[int]],
) -> None:
    """A column for each neighbouring positions that devices of several poles could take; as many of
    them as are asked for. ``over`` has the columns that take each position."""
    for poles in sorted({poles for poles, _ in asked if poles > 1}):
        by_line: dict[str, list[int]] = defaultdict(list)
        every: list[int] = []
        for span in schedule.layout.spans(poles):
            if any(place.name in held for place in span):
                continue
            column = found.column()
            by_line[line_of(span)].append(column)
            every.append(column)
            for place in span:
                over[place.name].append(column)
        all_of: dict[int, float] = dict.fromkeys(every, 1.0)
        fixed = 0.0
        for (other, line), one in asked.items():
            if other != poles:
                continue
            fixed += one.fixed
            for column, share in one.columns.items():
                all_of[column] = all_of.get(column, 0.0) - share
            if line != "auto":
                row = dict.fromkeys(by_line[line], 1.0)
                row |= {column: -share for column, share in one.columns.items()}
                found.rows.append((row, one.fixed, inf))
        # what may stand behind any line takes the rest
        found.rows.append((all_of, fixed, fixed))
    for columns in over.values():
        if len(columns) > 1:
            found.rows.append((dict.fromkeys(columns, 1.0), -inf, 1.0))


def _left(
    schedule: Schedule,
    held: set[str],
    asked: Mapping[tuple[int, str], _Asked],
    over: Mapping[str, list[int]],
) -> Iterator[Row]:
    """Single-pole devices have room behind their line, and all of them together."""
    open_ = [p for column in schedule.layout.columns for p in column if p.name not in held]
    room = Counter(place.line for place in open_)
    total: dict[int, float] = {}
    singles = 0.0
    for line in schedule.layout.lines:
        row = {column: 1.0 for p in open_ if p.line == line for column in over.get(p.name, ())}
        one = asked.get((1, line), _Asked())
        row |= one.columns
        yield row, -inf, room[line] - one.fixed
        for column, share in row.items():
            total[column] = total.get(column, 0.0) + share
        singles += one.fixed
    anywhere = asked.get((1, "auto"), _Asked()).fixed
    if anywhere:
        yield total, -inf, sum(room.values()) - singles - anywhere
