"""A cable tray with its cables or single conductors: in one layer or by area, and the width that it
takes."""

from voltaje.core.kinds.cable_tray import calculate, report
from voltaje.core.kinds.cable_tray.entries import GROUPS, CableTrayEntries
from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.report import say

KIND = Kind(
    "cable_tray",
    "Cable tray fill",
    "Width of a tray for its cables",
    CableTrayEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    order=50,
    seldom=(),
    quick_only=True,
    tasks=(
        say(
            "The cables or conductors below lie in one cable tray ({bottom}): find the smallest "
            "width."
        ),
        say("The conductors below lie in one cable tray: find the smallest width."),
    ),
)

__all__ = ["KIND"]
