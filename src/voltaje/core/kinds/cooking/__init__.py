"""A household cooking circuit: a range, an oven, a cooktop, or a cooktop and ovens together."""

from voltaje.core.kinds.cooking.calculate import hand_up, work
from voltaje.core.kinds.cooking.entries import GROUPS, CookingEntries
from voltaje.core.kinds.cooking.report import tell
from voltaje.core.kinds.interface import Kind, passes_on

KIND = Kind(
    "cooking",
    "Cooking circuit",
    "Range, oven, cooktop, taps",
    CookingEntries,
    work,
    tell,
    hand_up,
    passes_on,
    GROUPS,
    order=90,
)

__all__ = ["KIND"]
