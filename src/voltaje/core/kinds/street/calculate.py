"""A street in numbers: its conductor, amperes of each line, volts at every consumer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from voltaje.core.codes import Cell
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.balance import BalanceTask, LineLoads, Movable
from voltaje.core.electrical.connection import load_current
from voltaje.core.electrical.lines import to_neutral
from voltaje.core.electrical.network.contribution import NetworkContribution, NetworkSegment
from voltaje.core.electrical.systems import Connection, Demand, Piece
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.interface import Outcome
from voltaje.core.kinds.street.along import At, Street, StreetConsumer, houses_of, sized, strand_of
from voltaje.core.kinds.street.entries import StreetEntries
from voltaje.core.report import fits, say
from voltaje.core.rules.common.fuses import FuseOpening, opening
from voltaje.core.rules.common.runs import Carries, Strand
from voltaje.core.rules.context import Context
from voltaje.core.rules.settings import Limits

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


NEAR = 0.95  # no code figure: what the look by hand may miss


@dataclass(frozen=True, slots=True)
class EndFault:
    """A line to the neutral at the last consumer: the loop in Ω there, what of it the ``source`` is
    (0: not known, so that the current is at most that), A, when the fuse at the head opens, and
    within how many s the code asks it to (``None``: it asks no time)."""

    loop: complex
    source: float
    amperes: float
    opens: FuseOpening
    within: Cell | None

    @property
    def holds(self) -> bool:
        """Whether the fuse opens at all, and within the time that is asked."""
        latest = self.opens.latest
        return latest is not None and (self.within is None or fits(latest, self.within.value))


@dataclass(frozen=True, slots=True, kw_only=True)
class StreetOutcome(Outcome):
    """The ``street`` solved; each consumer with its volts ``there``; A of each line and of the
    neutral at its head, W ``lost``, the ``size`` and whether it was ``found``, what it carries; the
    supply's tolerance ``low`` and ``high`` in percent; when each line's fuse opens, and for a
    fault at the last consumer (``None``: no fuse is told)."""

    street: Street
    solution: Solution
    there: tuple[At, ...]
    head: Mapping[str, float]
    losses: float
    size: Size
    strand: Strand
    found: bool
    carries: Carries
    low: Cell
    high: Cell
    fuses: Mapping[str, FuseOpening]
    end_fault: EndFault | None

    @property
    def volts(self) -> float:
        """Nominal volts to neutral."""
        return self.street.system.to_neutral

    @property
    def lowest(self) -> At:
        """The consumer with the lowest volts, of those that are not dark."""
        lit = [at for at in self.there if not at.dark] or list(self.there)
        return min(lit, key=lambda at: at.lowest)

    @property
    def highest(self) -> At:
        return max(self.there, key=lambda at: at.highest)

    def rows_to_spread(self) -> BalanceTask:
        """The consumers on their lines, with the way to each."""
        system, way = self.street.system, 0j
        loads, ohms = [], {}
        for house, z in zip(self.street.houses, self.street.ohms, strict=True):
            way += z
            ohms[house.path] = way
            options = ("all",) if house.three else to_neutral(system)
            connection = "three-phase" if house.three else "line-neutral"
            stays = house.pinned or house.three
            loads.append(
                Movable(house.path, house.name, house.va, connection, house.line, options, stays)
            )
        return BalanceTask(system, tuple(loads), along=LineLoads(ohms, self.volts))


def calculate(entries: StreetEntries, context: Context) -> StreetOutcome:
    """The street: who stands on which line, its conductor, the volts at every consumer."""
    system = context.supply.system
    houses = houses_of(entries, context)
    if not any(house.va for house in houses):
        raise WrongEntryError(
            f"{houses[-1].path}.nameplate", say("No load on the street yet: give one, like 6 kW.")
        )
    strand = strand_of(entries, context)
    # the supply's own band, whatever drop the job goes by
    band = Limits(scheme="tolerance")
    low, high = band.total(context.edition), band.rise(context.edition)
    size, street, answer = _size(entries, houses, strand, context, low.value)
    if entries.opened != "none":
        street = _opened(entries, street)
        answer = street.solve()
    heaviest = max(answer.amperes(f"{line}:1") for line in system.lines)
    head = {wire: answer.amperes(f"{wire}:1") for wire in (*system.lines, "N")}
    there = tuple(_at(house, number, answer, street) for number, house in enumerate(houses, 1))
    fuses = {}
    if entries.fuse:
        fuses = {line: opening(entries.fuse, head[line]) for line in system.lines}
    nominal = system.to_neutral
    return StreetOutcome(
        amperes=heaviest,
        wires=(*system.lines, "N"),
        drop=100 * (nominal - min(at.lowest for at in there)) / nominal,
        opened=entries.opened != "none",
        street=street,
        solution=answer,
        there=there,
        head=head,
        losses=answer.losses,
        size=size,
        strand=strand,
        found=entries.size == "auto",
        carries=strand.carries(size, heaviest / (entries.sets or 1), entries.sets or 1),
        low=low,
        high=high,
        fuses=fuses,
        end_fault=_end_fault(entries, replace(street, opened=""), context),
    )


def _opened(entries: StreetEntries, street: Street) -> Street:
    """The street with one conductor cut."""
    many = len(street.houses)
    if entries.opened_behind >= many:
        raise WrongEntryError(
            "opened_behind",
            say("Give 0 to {most}: behind the last there is nothing.", most=many - 1),
        )
    if entries.opened not in (*street.system.lines, "N"):
        raise WrongEntryError(
            "opened", say("This supply has {lines}.", lines=" ".join(street.system.lines))
        )
    return replace(street, opened=entries.opened, behind=entries.opened_behind)


def _size(
    entries: StreetEntries,
    houses: tuple[StreetConsumer, ...],
    strand: Strand,
    context: Context,
    limit: float,
) -> tuple[Size, Street, Solution]:
    """The conductor with the street solved: the one told, or the smallest that carries its load and
    keeps every consumer within the supply's tolerance, behind the fuse that is told, which opens
    for a fault at its end. Where no size lets it open in time that last is left to the sheet."""
    supply, sets, fuse = context.supply, entries.sets or 1, entries.fuse or 0.0
    nominal = supply.system.to_neutral
    if entries.size != "auto":
        size = Size(entries.size)
        ohms = sized(entries, houses, size, strand)
        if ohms is None:
            words = say("{size} is not made of it: choose a larger one.", size=strand.name(size))
            raise WrongEntryError("size", words)
        street = Street(supply.system, supply.share, houses, ohms)
        return size, street, street.solve()
    first: tuple[Size, Street, Solution] | None = None
    for size in strand.sizes:
        ohms = sized(entries, houses, size, strand)
        if ohms is None:
            continue
        street = Street(supply.system, supply.share, houses, ohms)
        fault = _end_fault(entries, street, context)
        opens = fault is None or fault.holds
        if first is not None and not opens:
            continue
        volts, heaviest = street.by_hand()
        carries = strand.carries(size, heaviest / sets, sets).amperes
        if not fits(NEAR * max(heaviest, fuse), carries or heaviest) or volts < NEAR * _floor(
            nominal, limit
        ):
            continue  # far from it: the solver is not asked
        try:
            answer = street.solve()
        except WrongEntryError:
            continue
        heaviest = max(answer.amperes(f"{line}:1") for line in supply.system.lines)
        carries = strand.carries(size, heaviest / sets, sets).amperes
        volts = min(_at(h, n, answer, street).lowest for n, h in enumerate(houses, 1))
        # 433.1.1, 240.4: the conductor carries what its fuse lets through
        holds = carries is None or fits(max(heaviest, fuse), carries)
        if holds and fits(_floor(nominal, limit), volts):
            first = first or (size, street, answer)
            if opens:
                return size, street, answer
    if first is not None:
        return first
    words = say(
        "No size keeps every consumer within {limit} %: use sets in parallel, spread the consumers,"
        " or shorten the street.",
        limit=limit,
    )
    raise WrongEntryError("size", words)


def _end_fault(entries: StreetEntries, street: Street, context: Context) -> EndFault | None:
    if not entries.fuse:
        return None
    supply = context.supply
    source = supply.loop_impedance
    if not source and supply.fault:
        source = supply.system.to_neutral / supply.fault
    # there and back through the line and the neutral, warm
    loop = source + 2 * sum(street.ohms, 0j)
    amperes = supply.system.to_neutral / abs(loop)
    asked = "time_distribution"
    within = context.edition.limit(asked) if context.edition.has_limit(asked) else None
    return EndFault(loop, source, amperes, opening(entries.fuse, amperes), within)


def _floor(nominal: float, limit: float) -> float:
    return nominal * (1 - limit / 100)


def _at(house: StreetConsumer, number: int, answer: Solution, street: Street) -> At:
    lines = street.system.lines if house.line == "all" else (house.line,)
    volts = {line: answer.volts(f"{line}.{number}", f"N.{number}") for line in lines}
    cut = street.opened if street.opened in lines and number > street.behind else ""
    return At(house, volts, cut)


def hand_up(entries: StreetEntries, outcome: StreetOutcome, context: Context) -> Demand:
    """Each consumer on its line; of a part below its own pieces, on that line."""
    system = outcome.street.system
    pieces: list[Piece] = []
    for house in outcome.street.houses:
        if house.pieces:
            pieces += [p.on(house.line) if _can(p, house) else p for p in house.pieces]
        elif house.va:
            connection: Connection = "three-phase" if house.three else "line-neutral"
            volts = system.line_to_line if house.three else system.to_neutral
            pieces.append(
                Piece(
                    house.name,
                    "other",
                    house.va,
                    house.va,
                    load_current(house.va, volts, connection),
                    connection,
                    house.line,
                    power_factor=house.power_factor,
                )
            )
    return Demand.of(pieces)


def _can(piece: Piece, house: StreetConsumer) -> bool:
    """Whether a load of a part below stands on the line that its consumer has."""
    return not house.three and piece.connection == "line-neutral"


def network_contribution(
    entries: StreetEntries, outcome: StreetOutcome, context: Context
) -> NetworkContribution:
    """Piece by piece, with the loads where they stand; parts below hang at the far end."""
    return NetworkContribution(
        tuple(
            NetworkSegment(z, z, int(bool(house.va) and not house.pieces))
            for z, house in zip(outcome.street.ohms, outcome.street.houses, strict=True)
        )
    )
