"""The street between its consumers: their loads, the line each stands on, the network of it."""

from __future__ import annotations

from cmath import rect
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import acos, sqrt
from typing import TYPE_CHECKING

from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.lines import phasors, to_neutral
from voltaje.core.electrical.network import (
    Conductor,
    ElementError,
    Network,
    NetworkLoad,
    NoSolutionError,
    Source,
    solved,
)
from voltaje.core.electrical.systems import Piece, System
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.elements import at_its_volts
from voltaje.core.kinds.placing import check_line
from voltaje.core.kinds.street.entries import Consumer, StreetEntries
from voltaje.core.report import figure, fits, say
from voltaje.core.rules.common.runs import Strand
from voltaje.core.rules.context import Context

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


@dataclass(frozen=True, slots=True)
class StreetConsumer:
    """A consumer: its name, the path of its row, VA and power factor, m from the one before and
    from the head, whether it takes three lines, the line that it stands on (``"all"``), whether it
    was told to, and the pieces of the part below that it stands for (empty: its own load)."""

    name: str
    path: str
    va: float
    power_factor: float
    metres: float
    at: float
    three: bool
    line: str
    told: bool
    pinned: bool
    pieces: tuple[Piece, ...] = ()

    @property
    def moment(self) -> float:
        """VA × m, by which the trade spreads a street."""
        return self.va * self.at


def strand_of(entries: StreetEntries, context: Context) -> Strand:
    """The conductors of the job's family, as they lie."""
    lines = context.supply.system.lines
    return context.code.strand(entries, len(lines) + 1, len(lines) == 3, context)


def houses_of(entries: StreetEntries, context: Context) -> tuple[StreetConsumer, ...]:
    """The consumers in their order, each on a line. Raises :class:`WrongEntryError`."""
    system = context.supply.system
    if not system.has_neutral:
        raise WrongEntryError(
            "", say("A street has a neutral: this supply has none ({label}).", label=system.label)
        )
    if not entries.consumers:
        raise WrongEntryError("", say("No consumer yet: add one with its length and its load."))
    below = _below(context)
    found: list[StreetConsumer] = []
    at = 0.0
    for row in entries.consumers:
        path = f"consumers.{row.id}"
        if row.length is None:
            raise WrongEntryError(f"{path}.length", say("Needed: how far on it is, like 30 m."))
        three = row.connection == "three-phase"
        if three and system.phases != 3:
            raise WrongEntryError(
                f"{path}.connection", say("This supply has no three lines: choose one line.")
            )
        if three and system.high_leg:
            raise WrongEntryError(
                f"{path}.connection",
                say(
                    "{line} is the high leg, about 208 V to neutral: a consumer on three lines and"
                    " neutral cannot stand here.",
                    line=system.high_leg,
                ),
            )
        if row.line != "auto" and row.line not in system.lines:
            raise WrongEntryError(
                f"{path}.line",
                say("This supply has {lines}: choose one.", lines=" ".join(system.lines)),
            )
        check_line(row.line, row.connection, system, f"{path}.line")
        at += row.length
        name = row.name or str(say("consumer {n}", n=len(found) + 1))
        pieces = below.pop(row.name, ()) if row.nameplate is None else ()
        va, factor = _load(row, path, system, pieces)
        line = "all" if three else row.line
        place = (row.length, at, three, line, line != "auto", row.pinned, pieces)
        found.append(StreetConsumer(name, path, va, factor, *place))
    if below:
        raise WrongEntryError(
            "",
            say(
                "{names}: no consumer of that name stands along the street. Add one, without a"
                " load of its own.",
                names=", ".join(below),
            ),
        )
    return spread(found, system, entries.fuse or 0.0)


def _below(context: Context) -> dict[str, tuple[Piece, ...]]:
    """Pieces from below by the name of the part that hangs on the street."""
    found: dict[str, tuple[Piece, ...]] = {}
    at = 0
    for device in context.below.devices:
        found[device.name] = context.below.pieces[at : at + device.pieces]
        at += device.pieces
    return found


def _load(row: Consumer, path: str, system: System, pieces: Sequence[Piece]) -> tuple[float, float]:
    """VA and power factor of a row."""
    plate, factor = row.nameplate, row.power_factor or 1.0
    if plate is None:
        return sum(piece.calculated for piece in pieces), factor
    three = row.connection == "three-phase"
    volts = system.line_to_line if three else system.to_neutral
    plate = at_its_volts(plate, volts, row.connection, f"{path}.nameplate")
    if plate.horsepower is not None:
        words = say("Give the load in kW or A, like 6 kW or 25 A.")
        raise WrongEntryError(f"{path}.nameplate", words)
    if plate.watts is not None:
        return (plate.watts / factor if plate.active else plate.watts), factor
    own = plate.volts or volts
    return (plate.amperes or 0.0) * own * (sqrt(3) if three else 1.0), factor


def spread(
    houses: Sequence[StreetConsumer], system: System, fuse: float = 0.0
) -> tuple[StreetConsumer, ...]:
    """Those that may stand anywhere, by the rule of the trade: the largest VA × m first onto the
    line with the least of it. Where that would be more on a line than its ``fuse`` carries, A (0:
    none is told), the largest VA goes first onto the line with the least of them."""
    by_moment = _onto(houses, system, lambda house: house.moment)
    if not fuse or fits(_heaviest(by_moment, system), fuse):
        return by_moment
    by_load = _onto(houses, system, lambda house: house.va)
    return min(by_moment, by_load, key=lambda found: _heaviest(found, system))


def _onto(
    houses: Sequence[StreetConsumer], system: System, weight: Callable[[StreetConsumer], float]
) -> tuple[StreetConsumer, ...]:
    found = dict.fromkeys(system.lines, 0.0)
    for house in houses:
        if not house.three and house.line != "auto":
            found[house.line] += weight(house)
    lines: dict[str, str] = {}
    for house in sorted((h for h in houses if h.line == "auto"), key=lambda h: -weight(h)):
        line = min(to_neutral(system), key=lambda name: (found[name], name))
        found[line] += weight(house)
        lines[house.path] = line
    return tuple(replace(h, line=lines.get(h.path, h.line)) for h in houses)


def _heaviest(houses: Sequence[StreetConsumer], system: System) -> float:
    """A of the most loaded line at nominal volts, power factors added as if they were alike."""
    amperes = dict.fromkeys(system.lines, 0.0)
    for house in houses:
        if house.three:
            for line in amperes:
                amperes[line] += system.line_current(house.va)
        else:
            amperes[house.line] += house.va / system.to_neutral
    return max(amperes.values())


@dataclass(frozen=True, slots=True)
class Street:
    """The street with what its sums need: Ω of each piece of one conductor by the size that it
    has, the volts at its head, what is open."""

    system: System
    share: float
    houses: tuple[StreetConsumer, ...]
    ohms: tuple[complex, ...]
    opened: str = ""
    behind: int = 0

    def network(self) -> Network:
        """Every conductor of every piece; nodes are wire.number, 0 the head."""
        volts = {line: phasor * self.share for line, phasor in phasors(self.system).items()}
        sources = tuple(Source(f"source {w}", f"{w}.0", "N.0", emf) for w, emf in volts.items())
        conductors = [Conductor("bond", "N.0", "earth")]
        loads: list[NetworkLoad] = []
        for number, (house, z) in enumerate(zip(self.houses, self.ohms, strict=True), 1):
            for wire in (*self.system.lines, "N"):
                cut = wire == self.opened and number == self.behind + 1
                ends = f"{wire}.{number - 1}", f"{wire}.{number}"
                conductors.append(Conductor(f"{wire}:{number}", *ends, z, cut))
            soft = bool(self.opened) and number > self.behind
            loads += _loads(house, number, self.system, soft)
        return Network(sources, tuple(conductors), tuple(loads))

    def by_hand(self) -> tuple[float, float]:
        """The lowest V at any consumer and the most A of a line, every load taken at nominal volts:
        a first look that is a little too kind."""
        volts = {line: phasor * self.share for line, phasor in phasors(self.system).items()}
        behind = dict.fromkeys((*self.system.lines, "N"), 0j)
        carried: list[dict[str, complex]] = []
        for house in reversed(self.houses):
            lines = self.system.lines if house.line == "all" else (house.line,)
            for line in lines:
                rated = phasors(self.system)[line]
                va = rect(house.va / len(lines), acos(house.power_factor))
                current = (va / rated).conjugate()
                behind[line] += current
                behind["N"] -= current
            carried.append(dict(behind))
        lowest = min(abs(phasor) for phasor in volts.values())
        at = {**volts, "N": 0j}
        for house, z, amperes in zip(self.houses, self.ohms, reversed(carried), strict=True):
            at = {wire: at[wire] - z * amperes[wire] for wire in at}
            lines = self.system.lines if house.line == "all" else (house.line,)
            lowest = min([lowest, *(abs(at[line] - at["N"]) for line in lines)])
        return lowest, max(abs(behind[line]) for line in self.system.lines)

    def solve(self) -> Solution:
        """Solved with constant power; what hangs behind an opening as its impedance."""
        try:
            return solved(self.network())
        except NoSolutionError as error:
            heaviest = max(self.houses, key=lambda house: house.moment)
            raise WrongEntryError(
                f"{heaviest.path}.nameplate",
                say(
                    "More than this line can carry: the volts collapse. At most {share} % of all"
                    " these loads can be carried; enlarge the conductors or shorten the line.",
                    share=figure(100 * error.share, 0),
                ),
            ) from error
        except ElementError as error:
            raise WrongEntryError("", str(error)) from error


def _loads(house: StreetConsumer, number: int, system: System, soft: bool) -> list[NetworkLoad]:
    """The loads of one consumer, on its line or a third on each; ``soft`` ones, behind an opening,
    are taken as the impedance that they are at nominal volts, as the trade does by hand."""
    if not house.va:
        return []
    lines = system.lines if house.line == "all" else (house.line,)
    va = rect(house.va / len(lines), acos(house.power_factor))
    shares = (0.0, 0.0, 1.0) if soft else (1.0, 0.0, 0.0)
    return [
        NetworkLoad(
            f"{number}/{line}",
            f"{line}.{number}",
            f"N.{number}",
            va,
            abs(phasors(system)[line]),
            *shares,
        )
        for line in lines
    ]


@dataclass(frozen=True, slots=True)
class At:
    """At one consumer: V from each of its lines to the neutral, and the line that is ``cut``
    between the head and it (empty: none)."""

    house: StreetConsumer
    volts: Mapping[str, float]
    cut: str = ""

    @property
    def dark(self) -> bool:
        """Whether its only line is cut."""
        return bool(self.cut) and not self.house.three

    @property
    def on_two(self) -> bool:
        """Whether it takes three lines and one of them is cut."""
        return bool(self.cut) and self.house.three

    @property
    def lowest(self) -> float:
        """V of its lowest line that is not cut; of a dark one what is left."""
        lit = [v for line, v in self.volts.items() if line != self.cut]
        return min(lit or self.volts.values())

    @property
    def highest(self) -> float:
        return max(self.volts.values())


def sized(
    entries: StreetEntries, houses: Sequence[StreetConsumer], size: Size, strand: Strand
) -> tuple[complex, ...] | None:
    """Ω of one conductor of each piece; ``None`` for a size that is not made."""
    one = strand.ohms(size)
    if one is None:
        return None
    return tuple(one.z / 1000 * house.metres / (entries.sets or 1) for house in houses)
