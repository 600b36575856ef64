"""From one schedule to another, one step after the other, each of which can be done: what goes to
free places moves, two that stand where the other goes change places, and where nothing else helps
one is taken off for a while."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from voltaje.core.electrical.panel_layout.layout import Span
from voltaje.core.electrical.panel_layout.schedule import Schedule, Seat, is_set

Act = Literal["move", "swap", "lift", "set"]


@dataclass(frozen=True, slots=True)
class Shift:
    """One step: ``devices`` (one, or a set, by their keys) from their places to others; in a swap
    the ``others`` the other way. ``lift`` takes them off, ``set`` puts them down again."""

    act: Act
    devices: tuple[str, ...]
    places: tuple[Span, ...] = ()
    others: tuple[str, ...] = ()
    back: tuple[Span, ...] = ()


@dataclass(slots=True)
class _Unit:
    keys: tuple[str, ...]
    now: tuple[Span, ...] | None
    to: tuple[Span, ...]

    def names(self, spans: tuple[Span, ...] | None) -> set[str]:
        return {place.name for span in spans or () for place in span}


def order(before: Schedule, after: Schedule) -> tuple[Shift, ...]:
    """The steps from one to the other; both hold the same devices."""
    return tuple(_steps(_units(before, after)))


def _units(before: Schedule, after: Schedule) -> list[_Unit]:
    """What goes: sets as a whole, the larger first."""
    now = {s.device.key: s.span for s in before.seats}
    to = {s.device.key: s.span for s in after.seats}
    groups: dict[str, list[Seat]] = {}
    for seat in before.seats:
        name = f"set {seat.device.multiwire}" if is_set(seat.device) else seat.device.key
        groups.setdefault(name, []).append(seat)
    units = []
    for seats in groups.values():
        whole = [s.device.key for s in seats]
        for keys in (
            [whole] if _together(seats, now) and _together(seats, to) else [[k] for k in whole]
        ):
            here = [now[k] for k in keys]
            there = [to[k] for k in keys]
            if here != there and None not in here and None not in there:
                units.append(
                    _Unit(tuple(keys), tuple(s for s in here if s), tuple(s for s in there if s))
                )
    return sorted(units, key=lambda u: -sum(len(span) for span in u.to))


def _together(seats: list[Seat], spans: Mapping[str, Span | None]) -> bool:
    places = [p for s in seats for p in spans[s.device.key] or ()]
    if len(places) < len(seats) or len({p.column for p in places}) > 1:
        return False
    rows = sorted(p.row for p in places)
    return rows == list(range(rows[0], rows[0] + len(rows)))


def _steps(units: list[_Unit]) -> Iterator[Shift]:
    pending = list(units)
    while pending:
        step = _move(pending) or _swap(pending) or _lift(pending)
        yield step
        pending = [unit for unit in pending if unit.now != unit.to]


def _move(pending: list[_Unit]) -> Shift | None:
    """One whose goal is free."""
    for unit in pending:
        asked = unit.names(unit.to)
        if any(asked & other.names(other.now) for other in pending if other is not unit):
            continue
        act: Act = "set" if unit.now is None else "move"
        unit.now = unit.to
        return Shift(act, unit.keys, unit.to)
    return None


def _swap(pending: list[_Unit]) -> Shift | None:
    """Two of one size, of which each goes where the other stands."""
    for unit in pending:
        for other in pending:
            if other is unit or unit.now is None or other.now is None:
                continue
            there = unit.names(unit.to) == other.names(other.now)
            back = other.names(other.to) == unit.names(unit.now)
            if there and back:
                unit.now, other.now = unit.to, other.to
                return Shift("swap", unit.keys, unit.to, other.keys, other.to)
    return None


def _lift(pending: list[_Unit]) -> Shift:
    """The smallest that stands in another's way."""
    asked = {name: unit for unit in pending for name in unit.names(unit.to)}
    blocking = [
        unit
        for unit in pending
        if any(asked.get(name, unit) is not unit for name in unit.names(unit.now))
    ]
    unit = min(blocking, key=lambda u: sum(len(span) for span in u.to))
    unit.now = None
    return Shift("lift", unit.keys)
