"""Grounding and bonding by the conductors alone: what a service or a separately derived system of
that size asks for, without a job or a load."""

from voltaje.core.kinds.grounding import calculate, report
from voltaje.core.kinds.grounding.entries import GROUPS, GroundingEntries
from voltaje.core.kinds.grounding.slips import usual_slips
from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.report import say

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
    tasks=(
        say(
            "Ungrounded conductors of {size}, {material}, behind a device of {device_ahead}: size "
            "the grounded conductor, the bonding jumpers, the electrode conductors and the "
            "equipment grounding conductor."
        ),
        say(
            "Ungrounded service conductors of {size}, {material}: size the grounded conductor, "
            "the bonding jumpers and the electrode conductors."
        ),
    ),
)

__all__ = ["KIND"]
