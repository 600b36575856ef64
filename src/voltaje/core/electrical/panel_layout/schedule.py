"""What stands in which place of a board, and why a device cannot stand where it is put.

A device takes neighbouring places, one for each pole. Single-pole devices that share a neutral
are a *set*: neighbours on different lines, under one handle.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import permutations
from typing import Literal

from voltaje.core.electrical.panel_layout.layout import PanelLayout, Place, Span, line_of
from voltaje.core.report import Text, say

FILLING = ("no_room", "no_lines", "apart")  # what :func:`fill` tells
MOST_TRIES = 4000  # no code figure: how long places are tried before one is told as without room


@dataclass(frozen=True, slots=True)
class Device:
    """A device on a board, by the ``key`` of its part: its poles, the ``place`` of its first pole
    as it was given (empty: none), the line asked for (``"auto"``: any). ``tied`` says that its
    lines are settled elsewhere and cannot change with its place, ``to_neutral`` that its load
    stands on one line and the neutral, ``multiwire`` names those that share a neutral, ``rating``
    is in A (0: not known), ``pieces`` how many loads stand behind it, ``alone`` says that one load
    stands behind it with a connection of as many lines as it has poles."""

    key: str
    name: str
    poles: int
    place: str = ""
    line: str = "auto"
    tied: bool = False
    pinned: bool = False
    to_neutral: bool = False
    multiwire: str = ""
    rating: float = 0.0
    pieces: int = 0
    alone: bool = False
    what: Literal["circuit", "spare", "space", "main"] = "circuit"


@dataclass(frozen=True, slots=True)
class Seat:
    """A device in its places, from its first pole on (``None``: no room); ``given`` where it was
    put there, else proposed."""

    device: Device
    span: Span | None
    given: bool = False

    @property
    def line(self) -> str:
        """The line or lines behind it; as it asks where it has no place."""
        return line_of(self.span) if self.span else self.device.line

    @property
    def name(self) -> str:
        """Its places: ``7``, ``7, 9``, ``3 L1 to L3``."""
        if not self.span:
            return ""
        if " " in self.span[0].name and len(self.span) > 1:
            return f"{self.span[0].name}–{self.span[-1].line}"
        return ", ".join(place.name for place in self.span)


@dataclass(frozen=True, slots=True)
class Trouble:
    """Why a device cannot stand where it is: a code, the device's key, and the words."""

    code: str
    key: str
    words: Text


@dataclass(frozen=True, slots=True)
class Schedule:
    """Devices in their places, in the order in which they were told."""

    layout: PanelLayout
    seats: tuple[Seat, ...]
    troubles: tuple[Trouble, ...] = ()
    high_leg: str = ""

    def of(self, key: str) -> Seat:
        """The seat of a device. Raises ``KeyError``."""
        for seat in self.seats:
            if seat.device.key == key:
                return seat
        raise KeyError(key)

    def taken(self) -> dict[str, Seat]:
        """What stands in each place, by the place's name."""
        return {place.name: seat for seat in self.seats for place in seat.span or ()}

    @property
    def poles(self) -> int:
        """Places that are taken or kept, those of devices without room included."""
        return sum(seat.device.poles for seat in self.seats)


def is_set(device: Device) -> bool:
    """Whether it is one of several that share a neutral, each by a pole of its own."""
    return bool(device.multiwire) and device.poles == 1 and device.to_neutral


def stand(layout: PanelLayout, devices: Sequence[Device], high_leg: str = "") -> Schedule:
    """Those that were given places in them; who stands in another's way, or cannot stand there, is
    left without, and told. Pinned ones come first, then in their order."""
    taken: dict[str, Device] = {}
    spans: dict[str, Span] = {}
    troubles: list[Trouble] = []
    for device in sorted(devices, key=lambda d: not d.pinned):
        if not device.place:
            continue
        found = placing(layout, device, taken, high_leg)
        if isinstance(found, Trouble):
            troubles.append(found)
            continue
        spans[device.key] = found
        taken |= {place.name: device for place in found}
        if not device.tied and device.line not in ("auto", "all", line_of(found)):
            words = say(
                "{name} says {line}, but behind place {place} stands {behind}: this counts.",
                name=device.name,
                line=device.line,
                place=device.place,
                behind=line_of(found),
            )
            troubles.append(Trouble("line", device.key, words))
    seats = tuple(Seat(d, spans.get(d.key), d.key in spans) for d in devices)
    return Schedule(layout, seats, tuple(troubles), high_leg)


def placing(
    layout: PanelLayout, device: Device, taken: Mapping[str, Device], high_leg: str = ""
) -> Span | Trouble:
    """The places that a device takes where it was put, or why it cannot stand there."""

    def no(code: str, words: Text) -> Trouble:
        return Trouble(code, device.key, words)

    first = layout.find(device.place)
    named = {"name": device.name, "place": device.place}
    if first is None:
        return no("no_place", _no_such(layout, device))
    span = layout.span(first, device.poles)
    if span is None:
        words = say(
            "{name} has {poles} poles: from place {place} there are not so many neighbours.",
            poles=device.poles,
            **named,
        )
        return no("over_end", words)
    other = next((taken[p.name] for p in span if p.name in taken), None)
    if other is not None:
        words = say("{name} cannot stand in {place}: {other} does.", other=other.name, **named)
        return no("taken", words)
    if barred(span, device, high_leg):
        words = say(
            "{name} cannot stand in {place}: behind it is the high leg, about 208 V to neutral.",
            **named,
        )
        return no("high_leg", words)
    if device.tied and device.line not in ("auto", line_of(span)):
        words = say(
            "{name} stands on {line} by its own sheet: behind {place} is {behind}.",
            line=device.line,
            behind=line_of(span),
            **named,
        )
        return no("tied", words)
    return span


def barred(span: Span, device: Device, high_leg: str) -> bool:
    """Whether a load to neutral would stand on the high leg."""
    return bool(high_leg) and device.to_neutral and any(p.line == high_leg for p in span)


def _no_such(layout: PanelLayout, device: Device) -> Text:
    places = [place for column in layout.columns for place in column]
    if not places:
        return say("{name}: this board has no places.", name=device.name)
    last = max(places, key=lambda place: (place.way, place.column, place.row))
    if layout.numbering != "ways":
        last = max(places, key=lambda place: int(place.name))
    return say(
        "{name}: there is no place {place}; they go from {first} to {last}.",
        name=device.name,
        place=device.place,
        first=places[0].name,
        last=last.name,
    )


# those without a place ----------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class _Unit:
    """What is seated together: one device, or a set."""

    devices: tuple[Device, ...]
    poles: int


def fill(schedule: Schedule, lines: Mapping[str, str], soft: frozenset[str]) -> Schedule:
    """A place for each device that has none, behind the line that ``lines`` gives it by its key;
    those in ``soft`` may take another where there is no room there. Who finds none is told."""
    seats = {seat.device.key: seat for seat in schedule.seats}
    loose = [seat.device for seat in schedule.seats if seat.span is None]
    units = _units(schedule, loose, lines)
    free = {place.name for column in schedule.layout.columns for place in column}
    free -= set(schedule.taken())
    found = _seated(schedule, units, free, lines, frozenset()) or (
        _seated(schedule, units, free, lines, soft) if soft else None
    )
    # what was told of an earlier filling is looked at anew
    troubles = [one for one in schedule.troubles if one.code not in FILLING]
    if found is None:
        found = _as_far(schedule, units, free, lines, soft)
    for device in loose:
        if device.key in found:
            seats[device.key] = Seat(device, found[device.key])
        elif device.poles > len(schedule.layout.lines):
            words = say(
                "{name} has {poles} poles: this board has {lines}.",
                name=device.name,
                poles=device.poles,
                lines=" ".join(schedule.layout.lines),
            )
            troubles.append(Trouble("no_lines", device.key, words))
        else:
            words = say(
                "No room for {name}: {poles} neighbouring places are asked for.",
                name=device.name,
                poles=device.poles,
            )
            if device.poles == 1:
                words = say("No place is left for {name}.", name=device.name)
            troubles.append(Trouble("no_room", device.key, words))
    order = tuple(seats[seat.device.key] for seat in schedule.seats)
    whole = replace(schedule, seats=order)
    return replace(whole, troubles=(*troubles, *_apart(whole)))


def _units(schedule: Schedule, loose: Sequence[Device], lines: Mapping[str, str]) -> list[_Unit]:
    """Sets together, the largest first. Two circuits of a set that are asked onto one line are no
    neighbours of each other."""
    sets: dict[str, list[Device]] = {}
    for device in loose:
        if is_set(device):
            sets.setdefault(device.multiwire, []).append(device)
    started = {s.device.multiwire for s in schedule.seats if s.span and is_set(s.device)}
    units = []
    for device in loose:
        mine = sets.get(device.multiwire, []) if is_set(device) else []
        asked = [line for d in mine if (line := lines.get(d.key, "auto")) != "auto"]
        together = (
            1 < len(mine) <= len(schedule.layout.lines)
            and device.multiwire not in started
            and len(set(asked)) == len(asked)
        )
        if not together:
            units.append(_Unit((device,), device.poles))
        elif mine[0] is device:
            units.append(_Unit(tuple(mine), len(mine)))
    # a place that waits for the others of its set comes before what can stand anywhere
    return sorted(units, key=lambda u: (-u.poles, u.devices[0].multiwire not in started))


def _options(
    schedule: Schedule,
    unit: _Unit,
    free: set[str],
    lines: Mapping[str, str],
    soft: frozenset[str],
) -> Iterator[dict[str, Span]]:
    """The ways in which a unit can be seated: those behind its lines first."""
    other: list[dict[str, Span]] = []
    for span in _near(schedule, unit):
        if any(place.name not in free for place in span):
            continue
        if len(unit.devices) == 1:
            device = unit.devices[0]
            ways = [{device.key: span}]
        else:
            ways = [
                {d.key: (place,) for d, place in zip(order, span, strict=True)}
                for order in permutations(unit.devices)
            ]
        for way in ways:
            if any(barred(way[d.key], d, schedule.high_leg) for d in unit.devices):
                continue
            if all(_fits(way[d.key], lines.get(d.key, "auto")) for d in unit.devices):
                yield way
            elif all(
                d.key in soft or _fits(way[d.key], lines.get(d.key, "auto")) for d in unit.devices
            ):
                other.append(way)
    yield from other


def _near(schedule: Schedule, unit: _Unit) -> Sequence[Span]:
    """Where a unit is looked for: beside the rest of its set where that stands already."""
    spans = schedule.layout.spans(unit.poles)
    device = unit.devices[0]
    if len(unit.devices) > 1 or not is_set(device):
        return spans
    there = [
        seat.span[0]
        for seat in schedule.seats
        if seat.span and is_set(seat.device) and seat.device.multiwire == device.multiwire
    ]
    if not there:
        return spans
    return sorted(
        spans,
        key=lambda span: min(
            abs(span[0].row - p.row) + 100 * (span[0].column != p.column) for p in there
        ),
    )


def _fits(span: Span, line: str) -> bool:
    return line == "auto" or line_of(span) == line or (line == "all" and len(span) > 2)


def _seated(
    schedule: Schedule,
    units: Sequence[_Unit],
    free: set[str],
    lines: Mapping[str, str],
    soft: frozenset[str],
) -> dict[str, Span] | None:
    """All units in places, tried in depth; ``None`` where there is no way, or none was found."""
    tries = 0

    def go(at: int, left: set[str]) -> dict[str, Span] | None:
        nonlocal tries
        if at == len(units):
            return {}
        for way in _options(schedule, units[at], left, lines, soft):
            tries += 1
            if tries > MOST_TRIES:
                return None
            used = {place.name for span in way.values() for place in span}
            rest = go(at + 1, left - used)
            if rest is not None:
                return way | rest
        return None

    return go(0, free)


def _as_far(
    schedule: Schedule,
    units: Sequence[_Unit],
    free: set[str],
    lines: Mapping[str, str],
    soft: frozenset[str],
) -> dict[str, Span]:
    """As many as find a place, one after the other."""
    found: dict[str, Span] = {}
    left = set(free)
    for unit in units:
        way = next(_options(schedule, unit, left, lines, soft), None)
        if way is not None:
            found |= way
            left -= {place.name for span in way.values() for place in span}
    return found


def _apart(schedule: Schedule) -> Iterator[Trouble]:
    """Sets whose devices are not neighbours, or of which two stand behind one line."""
    sets: dict[str, list[Seat]] = {}
    for seat in schedule.seats:
        if is_set(seat.device):
            sets.setdefault(seat.device.multiwire, []).append(seat)
    for name, seats in sets.items():
        if len(seats) < 2 or any(seat.span is None for seat in seats):
            continue
        if len({seat.line for seat in seats}) < len(seats):
            continue  # two on one line: the board's own finding says so
        places = sorted(
            (place for seat in seats for place in seat.span or ()),
            key=lambda place: (place.column, place.row),
        )
        if not _neighbours(places):
            words = say(
                "“{name}”: {circuits} share a neutral and stand apart ({places}): one handle is to"
                " open them all.",
                name=name,
                circuits=", ".join(seat.device.name for seat in seats),
                places=", ".join(place.name for place in places),
            )
            yield Trouble("apart", seats[0].device.key, words)


def _neighbours(places: Sequence[Place]) -> bool:
    first = places[0]
    rows = [place.row for place in places]
    return all(place.column == first.column for place in places) and rows == list(
        range(first.row, first.row + len(places))
    )


def lines_used(schedule: Schedule) -> Counter[str]:
    """How many places behind each line are taken."""
    return Counter(place.line for seat in schedule.seats for place in seat.span or ())
