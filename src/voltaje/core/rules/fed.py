"""What sources below a part add to a fault there: electronics give little more than they are rated
for, yet it comes on top of what the supply gives."""

from __future__ import annotations

from voltaje.core.codes import practice
from voltaje.core.electrical.systems import Demand, System


def at_fault(below: Demand, system: System) -> float:
    """A that what feeds in from below adds to a fault on a system."""
    if not below.fed:
        return 0.0
    times = practice().value("inverter_fault")
    return times * sum(fed.amperes(system) for fed in below.fed)


def with_fed(fault: float, below: Demand, system: System) -> float:
    """The fault current, A, with what is added from below; 0 where the supply's is not known."""
    return fault + at_fault(below, system) if fault else 0.0
