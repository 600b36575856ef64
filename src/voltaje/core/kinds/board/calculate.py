"""A board in numbers: VA and A on each line, its poles, its shared neutrals."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from voltaje.core.electrical.lines import currents, place
from voltaje.core.electrical.panel_layout import (
    Device,
    Numbering,
    PanelLayout,
    Schedule,
    Seat,
    fill,
    lay_out,
    lines_used,
    number_of,
    stand,
)
from voltaje.core.electrical.systems import Demand, Piece, System
from voltaje.core.kinds.board.entries import BoardEntries
from voltaje.core.kinds.feeder.carried import carry
from voltaje.core.kinds.interface import Equipment, Outcome
from voltaje.core.report import figure, say
from voltaje.core.rules.common.fault_contribution import with_fed
from voltaje.core.rules.context import Context

KEPT_NAMES = {"spare": say("Spare"), "space": say("Space")}
SPARE_PLACES = 2  # no code figure: with so many more behind each line no place is ever short


@dataclass(frozen=True, slots=True)
class Shared:
    """Circuits that share a neutral: the name, their own names, the amperes of each line, those of
    the neutral, and the line that two of them stand on (empty: none)."""

    name: str
    circuits: tuple[str, ...]
    lines: tuple[str, ...]
    by_line: Mapping[str, float]
    neutral: float
    twice: str


@dataclass(frozen=True, kw_only=True)
class BoardOutcome(Outcome):
    """Its loads ``placed`` on their lines and what is ``calculated`` of them (``None``: empty); VA
    and A by line, ``deviation`` of the worst from their mean in VA and ``percent``; ``exact``
    amperes of the heaviest line with 125 % of continuous (``by_line`` where they are more than the
    balanced ones), ``line_of`` each part by its id; its devices as they
    ``stand`` where they were given places, ``kept`` places for spares and spaces among them."""

    placed: tuple[Piece, ...]
    calculated: Any
    va: Mapping[str, float]
    on_lines: Mapping[str, float]
    neutral: float
    deviation: float
    percent: float
    exact: float
    by_line: Mapping[str, float]
    shared: tuple[Shared, ...]
    line_of: Mapping[str, str]
    standing: Schedule

    @cached_property
    def schedule(self) -> Schedule:
        """Every device in its places; those that were given none, where they are proposed."""
        return fill(self.standing, self.line_of, frozenset())

    def given_places(self) -> Mapping[str, str]:
        """The places that parts on it were given, by their ids."""
        return {seat.device.key: seat.name for seat in self.standing.seats if seat.given}

    def va_of(self, system: System) -> dict[str, dict[str, float]]:
        """VA of each device on each line, by the device's key."""
        found: dict[str, dict[str, float]] = {}
        for seat, at in loaded_seats(self.standing):
            mine = found[seat.device.key] = dict.fromkeys(system.lines, 0.0)
            for piece in self.placed[at : at + seat.device.pieces]:
                names = _lines_of(piece, system)
                for name in names:
                    mine[name] += piece.calculated / len(names)
        return found


def calculate(entries: BoardEntries, context: Context) -> BoardOutcome:
    """The board: what stands in which place and on each line, and the load of all of it."""
    system, edition = context.supply.system, context.edition
    standing = stand(*_devices(entries, context), system.high_leg)
    held = _held(standing)
    placed = place(_given(context.below.pieces, standing), system, held)
    lines = _lines(placed, standing)
    if _is_tight(standing, lines):
        # where places are short they settle the line of what may stand anywhere
        standing = fill(standing, lines, _soft(standing))
        placed = place(_given(context.below.pieces, standing), system, held)
        lines = _lines(placed, standing)
    found = context.code.calculated_load(placed, edition) if placed else None
    carried = carry(placed, found, system) if found else None
    connected, percent = deviation(placed, system)
    amperes, neutral = currents([(p, p.calculated) for p in placed], system)
    return BoardOutcome(
        fault=with_fed(context.below, context.supply),
        placed=placed,
        calculated=found,
        va=connected,
        on_lines=amperes,
        neutral=neutral,
        deviation=percent * sum(connected.values()) / len(connected) / 100,
        percent=percent,
        exact=carried.design if carried else 0.0,
        by_line=carried.design_lines if carried and carried.by_line else {},
        shared=shared_neutrals(placed, system),
        line_of={p.part: p.line for p in placed if p.part} | lines,
        standing=standing,
    )


def deviation(placed: Sequence[Piece], system: System) -> tuple[dict[str, float], float]:
    """VA on each line, and by how much the line farthest from their mean differs from it, %."""
    connected = dict.fromkeys(system.lines, 0.0)
    for piece in placed:
        names = _lines_of(piece, system)
        for name in names:
            connected[name] += piece.calculated / len(names)
    mean = sum(connected.values()) / len(connected)
    farthest = max((abs(va - mean) for va in connected.values()), default=0.0)
    return connected, 100 * farthest / mean if mean else 0.0


def _devices(entries: BoardEntries, context: Context) -> tuple[PanelLayout, tuple[Device, ...]]:
    """The board's places, and what stands or is kept in them: the main, circuits, spares."""
    lines = context.supply.system.lines
    own = []
    if entries.main_position:
        rating = entries.main or 0.0
        own.append(
            Device(
                "main",
                str(say("Main")),
                len(lines),
                entries.main_position,
                rating=rating,
                what="main",
            )
        )
    kept = [
        Device(
            f"reserved_positions.{row.id or index}",
            row.name or str(KEPT_NAMES[row.what]),
            min(int(row.poles), len(lines)),
            row.position,
            rating=row.device or 0.0,
            what=row.what,
        )
        for index, row in enumerate(entries.reserved_positions)
    ]
    # from below they come in the tree's order from its foot up
    devices = (*own, *reversed(context.below.devices), *kept)
    numbering = context.code.numbering if entries.numbering == "usual" else entries.numbering
    count = entries.spaces or _enough(devices, numbering, lines)
    return lay_out(numbering, lines, count), devices


def _enough(devices: Sequence[Device], numbering: Numbering, lines: tuple[str, ...]) -> int:
    """Places of a board whose size is not told: all that stands in it and is named, and room for
    what stands as neighbours."""
    step = 2 * len(lines)
    needed = sum(device.poles for device in devices) + step
    wide = len(lines) if numbering == "ways" else 1
    furthest = max((number_of(device.place) for device in devices), default=0) * wide
    return -(-max(needed, furthest) // step) * step


def loaded_seats(standing: Schedule) -> Iterator[tuple[Seat, int]]:
    """Each device that loads stand behind, and where its loads begin among those from below, which
    come from the tree's foot up."""
    at = 0
    for seat in reversed(standing.seats):
        if seat.device.what == "circuit":
            yield seat, at
            at += seat.device.pieces


def _given(pieces: Sequence[Piece], standing: Schedule) -> tuple[Piece, ...]:
    """The pieces on the lines behind the places that their devices were given."""
    found = list(pieces)
    for seat, at in loaded_seats(standing):
        if seat.span and seat.device.alone and not seat.device.tied:
            found[at] = found[at].on(seat.line)
    return tuple(found)


def _held(standing: Schedule) -> dict[int, frozenset[str]]:
    """The lines behind positions for the device of each load that stands alone behind one, by the
    index of the load."""
    return {
        at: standing.layout.behind(seat.device.poles)
        for seat, at in loaded_seats(standing)
        if seat.device.alone and not seat.device.tied
    }


def _lines(placed: Sequence[Piece], standing: Schedule) -> dict[str, str]:
    """The line that each device is to stand behind, by its key."""
    found = {}
    for seat, at in loaded_seats(standing):
        device = seat.device
        if device.alone and not device.tied:
            found[device.key] = placed[at].line
        elif device.poles == len(standing.layout.lines) > 1:
            found[device.key] = "all"
        elif device.line != "auto":
            found[device.key] = device.line
    return found


def _soft(standing: Schedule) -> frozenset[str]:
    """Devices whose line nobody asked for."""
    return frozenset(
        seat.device.key
        for seat in standing.seats
        if seat.device.line == "auto" or seat.device.what != "circuit"
    )


def _is_tight(standing: Schedule, lines: Mapping[str, str]) -> bool:
    """Whether places could run short behind some line."""
    room = Counter(place.line for column in standing.layout.columns for place in column)
    room.subtract(lines_used(standing))
    for seat in standing.seats:
        if seat.span is None:
            line = lines.get(seat.device.key, "auto")
            names = line.split("-") if line not in ("all", "auto") else standing.layout.lines
            room.subtract(names[: max(seat.device.poles, 1)])
    return min(room.values(), default=0) < SPARE_PLACES


def _lines_of(piece: Piece, system: System) -> tuple[str, ...]:
    if piece.line == "all" or piece.connection == "three-phase":
        return system.lines
    found = tuple(name for name in piece.line.split("-") if name in system.lines)
    return found or system.lines


def shared_neutrals(placed: Sequence[Piece], system: System) -> tuple[Shared, ...]:
    """Circuits that share a neutral: what it carries, and whether their lines differ."""
    found = []
    for name in dict.fromkeys(p.multiwire for p in placed if p.multiwire):
        members = [p for p in placed if p.multiwire == name]
        lines = tuple(p.line for p in members)
        by_line = dict.fromkeys(system.lines, 0.0)
        for piece in members:
            by_line[piece.line] = by_line.get(piece.line, 0.0) + piece.amperes
        twice = ""
        if len(set(lines)) < len(lines):
            twice = max(by_line, key=lambda line: by_line[line])
        neutral = system.neutral_current(tuple(by_line.values()))
        names = tuple(p.name for p in members)
        found.append(Shared(name, names, lines, by_line, neutral, twice))
    return tuple(found)


def hand_up(entries: BoardEntries, outcome: BoardOutcome, context: Context) -> Demand:
    """Its circuits, each with the line it stands on."""
    return Demand.of(outcome.placed)


def equipment(
    entries: BoardEntries, outcome: BoardOutcome, context: Context
) -> Iterable[Equipment]:
    """The board itself: its system, bus rating, main, places and mounting, as far as they are
    told."""
    said = [context.supply.system.label]
    if entries.rating:
        said.append(str(say("bus {amperes} A", amperes=figure(entries.rating, 0))))
    if entries.main:
        said.append(str(say("main {amperes} A", amperes=figure(entries.main, 0))))
    if entries.spaces:
        said.append(str(say("{number} pole spaces", number=entries.spaces)))
    said.append(str(say(entries.mounting)))
    told_of = (entries.rating, entries.main, entries.spaces, entries.mounting)
    key = "|".join(["board", context.supply.system.id, *(str(one or "") for one in told_of)])
    yield Equipment(key, say("Board, {text}", text=", ".join(said)))
