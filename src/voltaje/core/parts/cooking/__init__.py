"""A household cooking circuit: a range, an oven, a cooktop, or a cooktop and ovens together."""

from voltaje.core.parts.cooking.entries import GROUPS, CookingEntries
from voltaje.core.parts.cooking.tell import tell
from voltaje.core.parts.cooking.work import hand_up, work
from voltaje.core.parts.kind import Kind, passes_on

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
