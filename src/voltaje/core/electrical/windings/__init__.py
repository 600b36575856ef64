"""Coils on cores, joined as hands join them: the bench on which windings are tried.

``bench`` makes a network of coils, joints, sources and loads and reads volts between ends, an open
corner's among them; ``groups`` tells a bank's connection group from its solved phasors; ``stack``
has every way in which the two windings of a unit stand in series as an autotransformer. The
network itself (``electrical/network``) knows cores and coils as elements of its own.
"""

from voltaje.core.electrical.windings.bench import (
    Joint,
    across,
    contracted,
    joined,
    phases_of,
    small_unit,
)
from voltaje.core.electrical.windings.groups import VectorGroup, group_of, mended_by
from voltaje.core.electrical.windings.stack import Stacked, TwoWindingUnit, ways

__all__ = [
    "Joint",
    "Stacked",
    "TwoWindingUnit",
    "VectorGroup",
    "across",
    "contracted",
    "group_of",
    "joined",
    "mended_by",
    "phases_of",
    "small_unit",
    "ways",
]
