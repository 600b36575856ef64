"""A household cooking circuit: a range, an oven, a cooktop, or a cooktop and ovens together."""

from voltaje.core.kinds.cooking import calculate, report
from voltaje.core.kinds.cooking.calculate import hand_up
from voltaje.core.kinds.cooking.entries import GROUPS, CookingEntries
from voltaje.core.kinds.cooking.slips import usual_slips
from voltaje.core.kinds.interface import Kind, passes_on

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
)

__all__ = ["KIND"]
