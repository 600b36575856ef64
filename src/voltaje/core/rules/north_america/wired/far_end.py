"""What arrives at the far end of conductors: fault current, and their impedance for the network."""

from __future__ import annotations

from math import sqrt
from typing import Any, Protocol

from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.fault import FaultCurrent, cold
from voltaje.core.electrical.network.contribution import NetworkContribution, NetworkSegment
from voltaje.core.quantities import feet
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.drop import FEET, impedance, table_degrees
from voltaje.core.rules.north_america.wired.sizing import Sizing


class HasSizing(Protocol):
    """An outcome with conductors of its own."""

    @property
    def sizing(self) -> Sizing: ...


def fault_at_far_end(entries: Any, outcome: HasSizing, context: Context) -> FaultCurrent:
    """Fault current at the end of the conductors of a feeder or service, cold as they may be; what
    comes in where their length is not known."""
    system, fault = context.supply.system, context.supply.fault_current
    pair = outcome.sizing.pair
    if not entries.length or not fault.known:
        return fault
    edition, metal = context.edition, pair.option.material
    r, x, _ = impedance(pair.option.size, metal, entries.wiring_method, edition)
    r = cold(r, metal, table_degrees(edition))
    one = complex(r, x) * feet(entries.length) / FEET / pair.sets
    volts = system.line_to_line or system.to_neutral
    # a three-phase fault has one conductor in its way, one of a single phase has two
    if system.phases == 3:
        return fault.through(volts / sqrt(3), one)
    return fault.through(volts, 2 * one)


def network_contribution(entries: Any, outcome: HasSizing, context: Context) -> NetworkContribution:
    """The conductors of a feeder or service; none where their length is not known."""
    sizing = outcome.sizing
    found = conductors(sizing, sizing.neutral_size, entries.length, entries, context)
    return NetworkContribution((found,) if found else ())


def conductors(
    sizing: Sizing, neutral: str, metres: float | None, entries: Any, context: Context
) -> NetworkSegment | None:
    """Ω of the chosen conductors of a run; the neutral's by its own size where it has one."""
    if not metres:
        return None
    pair = sizing.pair

    def ohms(size: Size) -> complex:
        r, x, _ = impedance(size, pair.option.material, entries.wiring_method, context.edition)
        return complex(r, x) * feet(metres) / FEET / pair.sets

    return NetworkSegment(ohms(pair.option.size), ohms(Size(neutral or pair.option.size)))
