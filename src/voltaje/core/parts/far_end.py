"""What arrives at the far end of conductors: fault current, and their impedance for the volts."""

from __future__ import annotations

from typing import Any

from voltaje.core.parts.kind import Brings, Context, Piecewise
from voltaje.core.rules.drop import FEET, impedance, run_ohms
from voltaje.core.rules.transformers import fault_at_end


def fault_at_far_end(entries: Any, worked: Any, context: Context) -> float:
    """Fault current at the end of the conductors of a feeder or service; what comes in where their
    length is not known."""
    system, fault = context.supply.system, context.supply.fault
    chosen = next((rung for rung in worked.ladder if rung.chosen), None)
    if not entries.length or chosen is None or not fault:
        return fault
    ohms = run_ohms(entries.length, chosen.size, entries.material, entries.method, context.edition,
                    chosen.sets)  # fmt: skip
    volts = system.line_to_line or system.to_neutral
    return fault_at_end(fault, volts, ohms, system.phases == 3)


def lost_at_far_end(entries: Any, worked: Any, context: Context) -> float:
    """Percent of the volts that its conductors lose, of both sides of a transformer; 0 where no
    length is known. What a transformer loses in itself is left to the volts of the job."""
    return sum(
        float(result.value)
        for name, result in worked.results.items()
        if name.endswith("drop_percent")
    )


def brings(entries: Any, worked: Any, context: Context) -> Brings:
    """The conductors of a feeder or service; none where their length is not known."""
    found = conductors(worked, "", entries.length, entries, context)
    return Brings((found,) if found else ())


def conductors(
    worked: Any, group: str, feet: float | None, entries: Any, context: Context
) -> Piecewise | None:
    """Ω of the chosen conductors of a run; the neutral's by its own size where it has one."""
    chosen = next((r for r in worked.ladder if r.chosen and r.group == group), None)
    if not feet or chosen is None:
        return None

    def ohms(size_: str) -> complex:
        r, x, _ = impedance(size_, chosen.material, entries.method, context.edition)
        return complex(r, x) * feet / FEET / int(chosen.sets)

    own = next((wire.size for wire in worked.wires if wire.role == "N"), "") if not group else ""
    neutral = own.removesuffix(" AWG").removesuffix(" kcmil").split(" × ")[-1]
    return Piecewise(ohms(chosen.size), ohms(neutral or chosen.size))
