"""What arrives at the far end of conductors: fault current, and their impedance for the volts."""

from __future__ import annotations

from typing import Any

from voltaje.core.codes.vocabulary import Size
from voltaje.core.parts.kind import Brings, Piecewise, WiredOutcome
from voltaje.core.rules.awg.drop import FEET, impedance, run_ohms
from voltaje.core.rules.awg.transformers import fault_at_end
from voltaje.core.rules.awg.wired.work import Sizing
from voltaje.core.rules.context import Context


def fault_at_far_end(entries: Any, outcome: WiredOutcome, context: Context) -> float:
    """Fault current at the end of the conductors of a feeder or service; what comes in where their
    length is not known."""
    system, fault = context.supply.system, context.supply.fault
    pair = outcome.sizing.pair
    if not entries.length or not fault:
        return fault
    size, sets = pair.option.size, pair.sets
    edition = context.edition
    ohms = run_ohms(entries.length, size, entries.material, entries.method, edition, sets)
    volts = system.line_to_line or system.to_neutral
    return fault_at_end(fault, volts, ohms, system.phases == 3)


def lost_at_far_end(entries: Any, outcome: WiredOutcome, context: Context) -> float:
    """Percent of the volts that its conductors lose; 0 where no length is known."""
    return outcome.drop or 0.0


def brings(entries: Any, outcome: WiredOutcome, context: Context) -> Brings:
    """The conductors of a feeder or service; none where their length is not known."""
    sizing = outcome.sizing
    found = conductors(sizing, sizing.neutral_size, entries.length, entries, context)
    return Brings((found,) if found else ())


def conductors(
    sizing: Sizing, neutral: str, feet: float | None, entries: Any, context: Context
) -> Piecewise | None:
    """Ω of the chosen conductors of a run; the neutral's by its own size where it has one."""
    if not feet:
        return None
    pair = sizing.pair

    def ohms(size: Size) -> complex:
        r, x, _ = impedance(size, pair.option.material, entries.method, context.edition)
        return complex(r, x) * feet / FEET / pair.sets

    return Piecewise(ohms(pair.option.size), ohms(Size(neutral or pair.option.size)))
