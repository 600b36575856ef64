"""A distribution circuit in numbers: what hangs on it by line, the design current, its sizing, the
loop at its end."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from voltaje.core.codes import Edition
from voltaje.core.electrical.fault import FaultCurrent
from voltaje.core.electrical.lines import currents, place
from voltaje.core.electrical.network.contribution import NetworkContribution, NetworkSegment
from voltaje.core.electrical.systems import Connection, Demand, Piece
from voltaje.core.entries import NothingBelowError, WrongEntryError
from voltaje.core.kinds.distribution.entries import DistributionEntries
from voltaje.core.kinds.elements import at_its_volts
from voltaje.core.kinds.interface import SizedOutcome
from voltaje.core.report import say
from voltaje.core.rules.common.fault_contribution import Export, export, with_fed
from voltaje.core.rules.common.noncoincident_loads import noncoincident
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364.protective_conductors import ohms_per_km
from voltaje.core.rules.iec60364.sizing import CableSizing
from voltaje.core.rules.interface import CircuitLoadRequest, Feed

USE = "distribution"


@dataclass(frozen=True, slots=True, kw_only=True)
class DistributionOutcome(SizedOutcome[CableSizing]):
    """All ``pieces`` on their lines and their VA; A ``by_line`` with all of it on, the heaviest
    one's share or what flows ``back`` as the ``design`` current; the sizing."""

    pieces: tuple[Piece, ...]
    va: float
    by_line: dict[str, float]
    design: float
    back: Export | None
    feed: Feed

    @property
    def loop(self) -> float:
        """Zs at its end, Ω; 0 where it is not known."""
        return self.sizing.pair.loop or 0.0


def connection_of(context: Context) -> Connection:
    """It takes all lines of its supply."""
    return "three-phase" if context.supply.system.phases == 3 else "line-neutral"


def calculate(entries: DistributionEntries, context: Context) -> DistributionOutcome:
    """Raises :class:`WrongEntryError` where nothing hangs on it and nothing is entered."""
    system, code = context.supply.system, context.code
    connection = connection_of(context)
    volts = system.volts(connection)
    if not volts:
        words = say(
            "The supply, {label}, has no such line: choose another.", label=say(system.label)
        )
        raise WrongEntryError("", words)
    pieces = (*_own(entries, connection, volts), *context.below.pieces)
    if not pieces and not context.below.infeed:
        words = say("Nothing hangs on it yet: add boards and circuits below it, or a load here.")
        raise NothingBelowError("load", words)
    placed = place(pieces, system)
    shares = [piece.calculated for piece in placed]
    noncoincident(placed, shares)
    by_line, _ = currents(list(zip(placed, shares, strict=True)), system)
    load = max(by_line.values()) * entries.diversity / 100
    back = export(context.below, system, context.edition)
    design = max(load, back.design) if back else load
    asked = code.ask(CircuitLoadRequest(USE, design), context.edition)
    feed = Feed(connection, volts, len(system.lines), system.has_neutral, passes_on=True)
    sizing: CableSizing = code.size(asked.need, feed, entries, context)  # type: ignore[assignment]
    return DistributionOutcome(
        fault=with_fed(context.below, context.supply),
        amperes=load,
        back=back,
        wires=(*system.lines, *(("N",) if system.has_neutral else ())),
        drop=sizing.lost_percent,
        drop_limit=sizing.total_limit,
        pieces=placed,
        va=sum(shares),
        by_line=by_line,
        design=design,
        feed=feed,
        sizing=sizing,
    )


def _own(entries: DistributionEntries, connection: Connection, volts: float) -> tuple[Piece, ...]:
    """What is entered on it, as one load on all lines."""
    plate = entries.load
    if plate is None:
        return ()
    plate = at_its_volts(plate, volts, connection, "load")
    if plate.horsepower is not None:
        raise WrongEntryError("load", say("Give the load in kW, kVA or A, like 12 kW."))
    across = volts * (sqrt(3) if connection == "three-phase" else 1.0)
    va = plate.watts if plate.watts is not None else (plate.amperes or 0.0) * across
    return (Piece("", "other", va, va, va / across, connection),)


def hand_up(entries: DistributionEntries, outcome: DistributionOutcome, context: Context) -> Demand:
    """What hangs on it, piece by piece, on its lines; what counts of it is this circuit's own."""
    return Demand.of(outcome.pieces)


def loop_impedance(
    entries: DistributionEntries, outcome: DistributionOutcome, context: Context
) -> float:
    """Zs at its end, Ω; 0 where it is not known."""
    return outcome.loop


def network_contribution(
    entries: DistributionEntries, outcome: DistributionOutcome, context: Context
) -> NetworkContribution:
    """Ω of its conductors at the temperature of their insulation."""
    if not entries.length:
        return NetworkContribution()
    each = ohms_of(entries, outcome, context.edition)
    return NetworkContribution((NetworkSegment(each, each),))


def ohms_of(
    entries: DistributionEntries, outcome: DistributionOutcome, edition: Edition, hot: bool = True
) -> complex:
    """R + jX of one of its conductors, Ω, at the temperature of its insulation or at 20 °C."""
    pair = outcome.sizing.pair
    metres = entries.length or 0.0
    cold = ohms_per_km(pair.size, edition, pair.metal).value * metres / 1000
    warm = cold * edition.value(f"hot_factor_{entries.insulation}")
    # what the drop's figure has beyond the resistance is reactance
    wires = sqrt(3) if outcome.feed.connection == "three-phase" else 2.0
    z = pair.mv.value / wires * metres / 1000  # mV for each A and m are mΩ for each m
    return complex(warm if hot else cold, sqrt(max(0.0, z * z - warm * warm)))


def fault_current(
    entries: DistributionEntries, outcome: DistributionOutcome, context: Context
) -> FaultCurrent:
    """The highest prospective current at its far end: conductors at 20 °C behind the impedance of
    all that stands ahead."""
    system = context.supply.system
    volts = system.to_neutral or system.line_to_line
    # a three-phase fault has one conductor in its way, one between line and neutral has two
    ways = 1.0 if system.phases == 3 else 2.0
    cold = ways * ohms_of(entries, outcome, context.edition, hot=False)
    return context.supply.fault_current.through(volts, cold)
