"""A device moved to another place by hand: where everything then stands, or why it cannot."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

from voltaje.core.electrical.panel_layout.layout import Span
from voltaje.core.electrical.panel_layout.schedule import (
    Device,
    Schedule,
    Seat,
    Trouble,
    barred,
    is_set,
    placing,
)
from voltaje.core.report import Text, say


class MisplacedError(ValueError):
    """A device that cannot stand there; ``words`` say why."""

    def __init__(self, words: Text) -> None:
        super().__init__(str(words))
        self.words = words


def move(schedule: Schedule, key: str, to: str) -> dict[str, Span]:
    """The places of all devices once one (with the set it belongs to) stands at ``to``. What stands
    there changes places with it where it is as large; all others stay where they are shown. Raises
    :class:`MisplacedError` with the reason, ``KeyError`` for an unknown device."""
    seat = schedule.of(key)
    if seat.device.pinned:
        raise MisplacedError(
            say("{name} is pinned to its place: take the pin off first.", name=seat.device.name)
        )
    group = _together(schedule, seat)
    target = _target(schedule, seat.device, group, to)
    now = {s.device.key: s.span for s in schedule.seats if s.span is not None}
    mine = {s.device.key for s in group}
    asked = {place.name for span in target.values() for place in span}
    others = [
        s
        for s in schedule.seats
        if s.span and s.device.key not in mine and any(p.name in asked for p in s.span)
    ]
    back: dict[str, Span] = {}
    if others:
        back = _back(schedule, group, target, others)
    found = {**now, **target, **back}
    for other in (*group, *others):
        _allowed(schedule, other.device, found[other.device.key])
    return found


def _together(schedule: Schedule, seat: Seat) -> list[Seat]:
    """The device, or the set that it stands in, from the top down."""
    if not is_set(seat.device) or seat.span is None:
        return [seat]
    found = [
        s
        for s in schedule.seats
        if s.span and is_set(s.device) and s.device.multiwire == seat.device.multiwire
    ]
    found.sort(key=lambda s: (s.span[0].column, s.span[0].row) if s.span else (0, 0))
    rows = [s.span[0].row for s in found if s.span]
    column = {s.span[0].column for s in found if s.span}
    if len(column) == 1 and rows == list(range(rows[0], rows[0] + len(rows))):
        return found
    return [seat]


def _target(schedule: Schedule, device: Device, group: Sequence[Seat], to: str) -> dict[str, Span]:
    """Where the group would stand with this device of it at ``to``."""
    if len(group) == 1:
        found = placing(schedule.layout, replace(device, place=to), {}, schedule.high_leg)
        if isinstance(found, Trouble):
            raise MisplacedError(found.words)
        return {device.key: found}
    first = schedule.layout.find(to)
    before = next(i for i, s in enumerate(group) if s.device.key == device.key)
    column = schedule.layout.columns[first.column] if first else ()
    start = first.row - before if first else -1
    places = column[start : start + len(group)] if start >= 0 else ()
    if first is None or len(places) < len(group):
        raise MisplacedError(
            say(
                "“{name}” is {poles} circuits under one handle: there are not so many neighbours.",
                name=device.multiwire,
                poles=len(group),
            )
        )
    return {s.device.key: (place,) for s, place in zip(group, places, strict=True)}


def _back(
    schedule: Schedule,
    group: Sequence[Seat],
    target: Mapping[str, Span],
    others: Sequence[Seat],
) -> dict[str, Span]:
    """Where those go that stand at the target: to the places that become free."""
    mine = {s.device.key for s in group}
    asked = {place.name for span in target.values() for place in span}
    pinned = next((s for s in others if s.device.pinned), None)
    if pinned is not None:
        raise MisplacedError(say("{name} stands there and is pinned.", name=pinned.device.name))
    freed = [p for s in group for p in s.span or () if p.name not in asked]
    for other in others:
        left = [p for p in other.span or () if p.name in asked]
        if len(left) < len(other.span or ()) or _splits(schedule, other, others):
            break
    else:
        if sum(s.device.poles for s in others) == len(freed) and _runs(freed):
            found, at = {}, 0
            for other in sorted(others, key=lambda s: s.span[0].row if s.span else 0):
                found[other.device.key] = tuple(freed[at : at + other.device.poles])
                at += other.device.poles
            if all(_runs(span) for span in found.values()) and not (mine & set(found)):
                return found
    raise MisplacedError(
        say(
            "{other} stands there and does not fit where {name} stands: move it away first.",
            other=", ".join(s.device.name for s in others),
            name=group[0].device.name,
        )
    )


def _splits(schedule: Schedule, seat: Seat, others: Sequence[Seat]) -> bool:
    """Whether a set would be taken apart: some of it goes and some stays."""
    if not is_set(seat.device):
        return False
    going = {s.device.key for s in others}
    return any(
        is_set(s.device)
        and s.device.multiwire == seat.device.multiwire
        and s.device.key not in going
        for s in schedule.seats
    )


def _runs(places: Sequence[object]) -> bool:
    found = [(p.column, p.row) for p in places]  # type: ignore[attr-defined]
    return all(one[0] == other[0] and other[1] == one[1] + 1 for one, other in pairwise(found))


def _allowed(schedule: Schedule, device: Device, span: Span) -> None:
    """Raises where a device of a swap may not stand in its new places."""
    if barred(span, device, schedule.high_leg):
        raise MisplacedError(
            say("{name} would stand on the high leg, about 208 V to neutral.", name=device.name)
        )
    found = placing(schedule.layout, replace(device, place=span[0].name), {}, schedule.high_leg)
    if isinstance(found, Trouble):
        raise MisplacedError(found.words)
