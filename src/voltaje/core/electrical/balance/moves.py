"""The fewest moves: what each number of them can reach, and the work in its order."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from voltaje.core.effort import Effort
from voltaje.core.electrical.balance.built import seated
from voltaje.core.electrical.balance.exact import CLOSED, USUAL, Answer, solve
from voltaje.core.electrical.balance.task import BalanceTask, Movable, Objective, allowed
from voltaje.core.electrical.panel_layout import Schedule, Seat, Span, line_of, order

MOST_MOVES = 24  # no code figure: beyond it a board is wired anew


@dataclass(frozen=True, slots=True)
class MoveStep:
    """One step of the work: a circuit goes from its line to another, or two change places. Where
    they have places in a board these are told: ``at`` and ``place`` of the one, ``back`` where the
    other goes. A set that shares a neutral goes together, its names in ``one``'s. ``lift`` takes a
    circuit off for a while, ``set`` puts it down again. ``devices`` are the keys of all breakers
    that are handled in it."""

    act: Literal["move", "swap", "lift", "set"]
    one: Movable
    to: str
    other: Movable | None = None
    at: str = ""
    place: str = ""
    back: str = ""
    devices: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Work:
    """A spread that ``moves`` reach, and the steps to it."""

    moves: int
    answer: Answer
    steps: tuple[MoveStep, ...]

    @property
    def handled(self) -> int:
        """How many breakers are handled: those that move, and those that make room for them."""
        return len({key for step in self.steps for key in step.devices})


def curve(
    task: BalanceTask,
    objective: Objective,
    effort: Effort | None = None,
    goal: float = 0.0,
    best: Answer | None = None,
) -> Iterator[Work]:
    """What stands, then the best for 1, 2 … moves, one after the other, until nothing more is won,
    the ``goal`` or the ``best`` (sought where it is not told) is reached, or the effort is spent:
    then ``effort.left`` is 0. It never rises: what fewer moves reach, more do too; only from a
    spread that is not allowed to one that is it may."""
    effort = effort or Effort(USUAL)
    if best is None:
        best = solve(task, objective, effort.at_most(effort.left / 4))
    last: Answer | None = None
    for moves in range(MOST_MOVES + 1):
        known = last.lines if last else None
        found = solve(task, objective, effort, moves, known)
        if not allowed(task, found.lines):
            if not moves:
                yield Work(moves, found, ())
            continue  # so many moves do not part the circuits of a shared neutral
        if last is not None and found.value > last.value:
            found = last
        if last is None or found.value < last.value - CLOSED * max(1.0, last.value):
            yield Work(moves, found, work_of(task, found.lines))
        last = found
        if found.value <= max(goal, best.value * (1 + CLOSED) + 1e-9) or not effort.left:
            return


def work_of(task: BalanceTask, lines: Mapping[str, str]) -> tuple[MoveStep, ...]:
    """The work from where the loads stand, one step after the other, board by board: in places
    where a board has any that were given, or where others must make room, else over lines."""
    steps: list[MoveStep] = []
    placed: set[str] = set()
    for key, schedule in task.boards.items():
        after = seated(task, key, schedule, lines)
        if after is None:
            continue
        given = any(seat.given for seat in schedule.seats)
        if not given and not _make_room(schedule, after):
            continue
        placed.add(key)
        steps += _in_places(task, schedule, after)
    rest = [load for load in task.loads if load.board not in placed]
    return (*steps, *_over_lines(rest, lines))


def _make_room(before: Schedule, after: Schedule) -> bool:
    """Whether circuits that keep their line have other places afterwards."""
    return any(
        old.span and new.span and old.span != new.span and old.line == new.line
        for old, new in zip(before.seats, after.seats, strict=True)
        if old.device.what == "circuit"
    )


def _in_places(task: BalanceTask, before: Schedule, after: Schedule) -> Iterator[MoveStep]:
    """The steps of one board in its places."""
    named = {load.key: load for load in task.loads}
    seats = {seat.device.key: seat for seat in before.seats}
    for shift in order(before, after):
        one = _unit(shift.devices, named, seats)
        at = _places(tuple(seats[key].span or () for key in shift.devices))
        if shift.act == "lift":
            yield MoveStep("lift", one, one.line, at=at, devices=shift.devices)
            continue
        to = "-".join(line_of(span) for span in shift.places)
        place = _places(shift.places)
        if shift.others:
            other = _unit(shift.others, named, seats)
            both = (*shift.devices, *shift.others)
            yield MoveStep(shift.act, one, to, other, at, place, _places(shift.back), both)
        else:
            yield MoveStep(shift.act, one, to, at=at, place=place, devices=shift.devices)


def _unit(keys: Sequence[str], named: Mapping[str, Movable], seats: Mapping[str, Seat]) -> Movable:
    """What goes in one step, as one: its names together."""
    found = [
        named[key]
        if key in named
        else Movable(key, seats[key].device.name, 0.0, "", seats[key].line, ())
        for key in keys
    ]
    if len(found) == 1:
        return found[0]
    name, line = ", ".join(one.name for one in found), "-".join(one.line for one in found)
    return replace(found[0], name=name, line=line, va=sum(one.va for one in found))


def _places(spans: Sequence[Span]) -> str:
    return ", ".join(place.name for span in spans for place in span)


def _over_lines(loads: Sequence[Movable], lines: Mapping[str, str]) -> tuple[MoveStep, ...]:
    """Over lines alone: circuits of one shared neutral change places among themselves, so that
    never two of them stand on one line; of the others pairs change places first, the larger first,
    then single ones move."""
    steps: list[MoveStep] = []
    shared: dict[str, list[Movable]] = {}
    for load in loads:
        if load.multiwire:
            shared.setdefault(load.multiwire, []).append(load)
    for members in shared.values():
        steps += _among(members, lines)
    going = [one for one in loads if not one.multiwire and lines[one.key] != one.line]
    going.sort(key=lambda load: -load.va)
    singles: list[MoveStep] = []
    while going:
        one = going.pop(0)
        to = lines[one.key]
        back = (
            other
            for other in going
            if other.line == to and lines[other.key] == one.line and other.board == one.board
        )
        partner = next(back, None)
        if partner is None:
            singles.append(MoveStep("move", one, to, devices=(one.key,)))
            continue
        going.remove(partner)
        steps.append(MoveStep("swap", one, to, partner, devices=(one.key, partner.key)))
    return (*steps, *singles)


def _among(members: Sequence[Movable], lines: Mapping[str, str]) -> Iterator[MoveStep]:
    """Circuits of one shared neutral: whoever stands where one goes takes its place in turn."""
    standing = {load.key: load.line for load in members}
    for load in members:
        to = lines[load.key]
        if standing[load.key] == to:
            continue
        here = replace(load, line=standing[load.key])
        there = next((m for m in members if m is not load and standing[m.key] == to), None)
        if there is None:
            yield MoveStep("move", here, to, devices=(load.key,))
        else:
            both = (load.key, there.key)
            yield MoveStep("swap", here, to, replace(there, line=to), devices=both)
            standing[there.key] = here.line
        standing[load.key] = to
