"""A bench of windings: units, and the list of joints between the ends of their coils, solved as it
is typed. ``bench`` reads the list, ``work`` solves it, ``tell`` puts volts, group and what is wrong
on the tape, ``benches`` are worked ones to begin with."""

from voltaje.core.parts.joints.entries import GROUPS, JointsEntries
from voltaje.core.parts.joints.tell import tell
from voltaje.core.parts.joints.work import work
from voltaje.core.parts.kind import Kind, no_load, passes_on

KIND = Kind(
    "joints",
    "Windings and joints",
    "Any list of joints: volts, phasors, group and clock",
    JointsEntries,
    work,
    tell,
    no_load,
    passes_on,
    GROUPS,
    order=145,
    families=None,
)

__all__ = ["KIND"]
