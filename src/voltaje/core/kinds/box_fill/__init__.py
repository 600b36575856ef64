"""A box with its conductors, devices, clamps and grounds: the volume that they take, and the
smallest box that has it; pull boxes by their raceways."""

from voltaje.core.kinds.box_fill import calculate, report
from voltaje.core.kinds.box_fill.entries import GROUPS, BoxFillEntries, compose
from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.report import say

KIND = Kind(
    "box_fill",
    "Box fill",
    "Volume of a box, sizes of a pull box",
    BoxFillEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    order=49,
    seldom=(),
    quick_only=True,
    families=("nec", "cec"),
    compose=compose,
    tasks=(say("Find the smallest box for what is in it or enters it below."),),
)

__all__ = ["KIND"]
