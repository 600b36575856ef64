"""A supply in numbers: the calculated load of all that stands on it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from voltaje.core.codes import Cell, practice
from voltaje.core.electrical.fault import FaultCurrent
from voltaje.core.electrical.systems import SYSTEMS, Demand
from voltaje.core.kinds.interface import Outcome
from voltaje.core.kinds.supply.entries import SupplyEntries
from voltaje.core.rules.context import Context


@dataclass(frozen=True, slots=True, kw_only=True)
class SupplyOutcome(Outcome):
    """What is ``calculated`` of all below (``None``: nothing hangs on it), VA; the ``balanced``
    amperes of it, and those ``drawn``, a dwelling's heavier line included; the earth-fault ``loop``
    at it, Ω (0: not known), and the cell of a usual one that is taken for it."""

    connected: float
    calculated: Any
    load: float
    balanced: float
    drawn: float
    loop: float
    declared: Cell | None


def calculate(entries: SupplyEntries, context: Context) -> SupplyOutcome:
    """The calculated load of all that stands on the supply, in VA and A."""
    system, below = SYSTEMS[entries.system], context.below
    found = None
    if below.pieces:
        found = context.code.calculated_load(below.pieces, context.edition)
    load = found.load if found else 0.0
    exact = system.line_current(load)
    # the heavier lines of several dwellings are counted together as their loads are
    several = found is not None and len(below.pieces) > 1 and below.calculated > load
    together = load / below.calculated if several else 1.0
    drawn = max([exact, *(amperes * together for amperes in below.lines)])
    declared = None
    topic = f"declared_{entries.earthing.lower().replace('-', '_')}"
    if entries.external_loop is None and context.edition.has_limit(topic):
        declared = context.edition.limit(topic)
    return SupplyOutcome(
        connected=below.connected,
        calculated=found,
        load=load,
        balanced=exact,
        drawn=drawn,
        loop=entries.external_loop or (declared.value if declared else 0.0),
        declared=declared,
    )


def fault_current(entries: SupplyEntries, outcome: SupplyOutcome, context: Context) -> FaultCurrent:
    """What the source gives, with its X/R or the usual one of its kind: the utility's, or a source
    of the installation's own."""
    if not entries.fault:
        return FaultCurrent()
    usual = practice().value("source_xr_private" if entries.private else "source_xr")
    return FaultCurrent(entries.fault, entries.source_xr or usual)


def hand_up(entries: SupplyEntries, outcome: SupplyOutcome, context: Context) -> Demand:
    """All that stands on it."""
    return context.below
