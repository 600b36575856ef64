"""A dwelling: its calculated load by the standard and the optional method, or as it stands
with load added, and the service that follows from it.

``entries`` what is read off on site; ``loads`` turns rows into loads; ``standard`` and
``optional`` (also for what exists) are the ways to calculate, ``neutral`` and ``service`` what
follows, each with its numbers first and its telling after them; ``work`` and ``tell`` put them
together.
"""

from voltaje.core.parts.dwelling.entries import GROUPS, DwellingEntries
from voltaje.core.parts.dwelling.tell import tell
from voltaje.core.parts.dwelling.work import hand_up, work
from voltaje.core.parts.kind import Kind

KIND = Kind(
    "dwelling",
    "Dwelling",
    "Calculated load and service",
    DwellingEntries,
    work,
    tell,
    hand_up,
    lambda entries, above: above,
    GROUPS,
    order=110,
)

__all__ = ["KIND"]
