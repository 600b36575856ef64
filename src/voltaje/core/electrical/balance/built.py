"""A spread in places: the schedule of each board once its circuits stand on those lines.

Who keeps its line keeps its place where the others find room; where they do not, as few as can be
change places too (a small mixed-integer program).
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace

from voltaje.core.effort import Effort
from voltaje.core.electrical.balance.task import BalanceTask
from voltaje.core.electrical.panel_layout import Schedule, Seat, Span, fill, is_set, line_of
from voltaje.core.mixed_integer import Row, minimize

SECONDS = 2.0  # no code figure: s of effort that one board's places are looked for


def unbuilt(task: BalanceTask, lines: Mapping[str, str], effort: Effort | None = None) -> str:
    """The first board whose places cannot hold a spread, or nothing."""
    return next(all_unbuilt(task, lines, effort), "")


def all_unbuilt(
    task: BalanceTask, lines: Mapping[str, str], effort: Effort | None = None
) -> Iterator[str]:
    """All boards whose places cannot hold a spread."""
    for key, schedule in task.boards.items():
        if seated(task, key, schedule, lines, effort) is None:
            yield key


def built(task: BalanceTask, lines: Mapping[str, str]) -> dict[str, Schedule] | None:
    """Each board's schedule under a spread; ``None`` where one cannot hold it."""
    found = {}
    for key, schedule in task.boards.items():
        mine = seated(task, key, schedule, lines)
        if mine is None:
            return None
        found[key] = mine
    return found


def seated(
    task: BalanceTask,
    board: str,
    schedule: Schedule,
    lines: Mapping[str, str],
    effort: Effort | None = None,
) -> Schedule | None:
    """One board under a spread; ``None`` where its places cannot hold it, or the ``effort`` does
    not find them."""
    wanted = {load.key: lines[load.key] for load in task.loads if load.board == board and load.free}
    if all(
        wanted.get(seat.device.key, seat.line) == seat.line for seat in schedule.seats if seat.span
    ):
        return schedule
    found = _kept(schedule, wanted)
    if found is not None:
        return found
    return _packed(schedule, wanted, (effort or Effort()).at_most(SECONDS))


def behind(seat: Seat, wanted: Mapping[str, str]) -> str:
    """The line that a device is to stand behind: of what cannot move its own, of a spare any."""
    if seat.device.what in ("spare", "space") and not seat.given:
        return "auto"
    return wanted.get(seat.device.key, seat.line)


def _kept(schedule: Schedule, wanted: Mapping[str, str]) -> Schedule | None:
    """With everything that keeps its line in its place."""
    lines = {seat.device.key: behind(seat, wanted) for seat in schedule.seats}
    loose = {
        seat.device.key
        for seat in schedule.seats
        if seat.span is None or lines[seat.device.key] not in ("auto", seat.line)
    }
    # a set goes as a whole
    going = [seat.device for seat in schedule.seats if seat.device.key in loose]
    sets = {device.multiwire for device in going if is_set(device)}
    seats = tuple(
        replace(seat, span=None, given=False)
        if seat.device.key in loose
        or (is_set(seat.device) and seat.device.multiwire in sets and not seat.device.pinned)
        else seat
        for seat in schedule.seats
    )
    found = fill(replace(schedule, seats=seats, troubles=()), lines, frozenset())
    if any(seat.span is None for seat in found.seats):
        return None
    # a set that stood together before is not to be taken apart
    before = {trouble.key for trouble in schedule.troubles if trouble.code == "apart"}
    apart = {trouble.key for trouble in found.troubles if trouble.code == "apart"}
    return None if apart - before else found


def _packed(schedule: Schedule, wanted: Mapping[str, str], effort: Effort) -> Schedule | None:
    """With as few as can be in other places: a choice for each device (or set) and span."""
    units = _units(schedule, wanted)
    columns: list[tuple[int, dict[str, Span], float]] = []
    for index, seats in enumerate(units):
        for way in _ways(schedule, seats, wanted):
            stays = all(way[seat.device.key] == seat.span for seat in seats)
            columns.append((index, way, 0.0 if stays else 1.0))
    if len({index for index, _, _ in columns}) < len(units):
        return None
    once: list[dict[int, float]] = [{} for _ in units]
    taken_by: dict[str, dict[int, float]] = {}
    for number, (index, way, _) in enumerate(columns):
        once[index][number] = 1.0
        for span in way.values():
            for place in span:
                taken_by.setdefault(place.name, {})[number] = 1.0
    rows: list[Row] = [(row, 1.0, 1.0) for row in once]
    rows += [(row, 0.0, 1.0) for row in taken_by.values()]
    found = minimize([cost for _, _, cost in columns], rows, effort)
    if found.values is None:
        return None
    spans: dict[str, Span] = {}
    for (_, way, _), taken in zip(columns, found.values, strict=True):
        if taken > 0.5:  # no code figure: a choice that is made
            spans |= way
    seats = []
    for seat in schedule.seats:
        span = spans[seat.device.key]
        seats.append(Seat(seat.device, span, seat.given and span == seat.span))
    return replace(schedule, seats=tuple(seats), troubles=())


def _units(schedule: Schedule, wanted: Mapping[str, str]) -> list[list[Seat]]:
    """Devices that are seated together: each by itself; sets as a whole, where no two of them are
    held on one line."""
    units: list[list[Seat]] = []
    for seats in _sets(schedule):
        whole = len({behind(seat, wanted) for seat in seats}) == len(seats) > 1
        units += [seats] if whole else [[seat] for seat in seats]
    return units


def _sets(schedule: Schedule) -> list[list[Seat]]:
    """Devices that share a neutral together, every other one by itself."""
    found: dict[str, list[Seat]] = {}
    for seat in schedule.seats:
        name = f"set {seat.device.multiwire}" if is_set(seat.device) else seat.device.key
        found.setdefault(name, []).append(seat)
    return list(found.values())


def together(schedule: Schedule) -> list[list[Seat]]:
    """Devices that cannot be seated other than together: sets, save those of more circuits than
    there are lines, and those that stand apart already."""
    apart = {trouble.key for trouble in schedule.troubles if trouble.code == "apart"}
    units: list[list[Seat]] = []
    for seats in _sets(schedule):
        loose = len(seats) > len(schedule.layout.lines) or any(s.device.key in apart for s in seats)
        units += [[seat] for seat in seats] if loose else [seats]
    return units


def _ways(
    schedule: Schedule, seats: list[Seat], wanted: Mapping[str, str]
) -> list[dict[str, Span]]:
    """Where a unit can stand: what is pinned, the main and what has loads of its own only where it
    does."""
    first = seats[0]
    if len(seats) == 1 and first.span and first.device.what == "main":
        return [{first.device.key: first.span}]
    found: list[dict[str, Span]] = []
    for span in schedule.layout.spans(sum(seat.device.poles for seat in seats)):
        if len(seats) == 1:
            ways = [{first.device.key: span}]
        else:
            by_line = {place.line: place for place in span}
            asked = [behind(seat, wanted) for seat in seats]
            if set(asked) != set(by_line):
                continue
            ways = [
                {seat.device.key: (by_line[line],) for seat, line in zip(seats, asked, strict=True)}
            ]
        for way in ways:
            if all(_may(schedule, seat, way[seat.device.key], wanted) for seat in seats):
                found.append(way)
    return found


def _may(schedule: Schedule, seat: Seat, span: Span, wanted: Mapping[str, str]) -> bool:
    if seat.device.pinned and seat.span is not None and span != seat.span:
        return False
    high = schedule.high_leg
    if high and seat.device.to_neutral and any(place.line == high for place in span):
        return False
    line = behind(seat, wanted)
    return line == "auto" or line_of(span) == line
