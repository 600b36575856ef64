"""A household cooking circuit: a range, an oven, a cooktop, or a cooktop and ovens together."""

from voltaje.core.kinds.cooking import calculate, report
from voltaje.core.kinds.cooking.calculate import hand_up
from voltaje.core.kinds.cooking.entries import GROUPS, CookingEntries
from voltaje.core.kinds.cooking.slips import usual_slips
from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.report import say

KIND = Kind(
    "cooking",
    "Cooking circuit",
    "Range, oven, cooktop, taps",
    CookingEntries,
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    order=90,
    unknowns={"length": "largest"},
    slips=usual_slips,
    tasks=(
        say(
            "A cooking circuit, {layout}, nameplate {nameplate}, on {system}: find its demand, "
            "then size its device, conductors and neutral."
        ),
        say(
            "A cooktop of {cooktop} and an oven of {oven_1} on one circuit of {system}: find the "
            "demand, then size the device, the conductors and the taps."
        ),
    ),
    nameplate=("layout", "nameplate", "cooktop", "oven_1", "oven_2", "neutral"),
)

__all__ = ["KIND"]
