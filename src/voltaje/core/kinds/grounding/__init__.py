"""Grounding and bonding by the conductors alone: what a service or a separately derived system of
that size asks for, without a job or a load."""

from voltaje.core.kinds.grounding import calculate, report
from voltaje.core.kinds.grounding.entries import GROUPS, GroundingEntries
from voltaje.core.kinds.grounding.slips import usual_slips
from voltaje.core.kinds.interface import Kind, no_load, passes_on

KIND = Kind(
    "grounding",
    "Grounding and bonding",
    "By the size of the conductors",
    GroundingEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    order=47,
    seldom=("more",),
    families=("nec", "cec"),
    quick_only=True,
    slips=usual_slips,
)

__all__ = ["KIND"]
