"""A supply in numbers: the calculated load of all that stands on it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from voltaje.core.electrical.systems import SYSTEMS, Demand
from voltaje.core.parts.kind import Outcome
from voltaje.core.parts.supply.entries import SupplyEntries
from voltaje.core.rules.context import Context


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplyOutcome(Outcome):
    """What is ``calculated`` of all below (``None``: nothing hangs on it), VA; the ``balanced``
    amperes of it, and those ``drawn``, a dwelling's heavier line included."""

    connected: float
    calculated: Any
    load: float
    balanced: float
    drawn: float


def work(entries: SupplyEntries, context: Context) -> SupplyOutcome:
    """The calculated load of all that stands on the supply, in VA and A."""
    system, below = SYSTEMS[entries.system], context.below
    found = None
    if below.pieces:
        found = context.code.calculate(below.pieces, context.edition)
    load = found.load if found else 0.0
    exact = system.line_current(load)
    drawn = max([exact, *below.lines])
    return SupplyOutcome(
        connected=below.connected, calculated=found, load=load, balanced=exact, drawn=drawn
    )


def hand_up(entries: SupplyEntries, outcome: SupplyOutcome, context: Context) -> Demand:
    """All that stands on it."""
    return context.below
