"""A cable tray with its cables or single conductors: in one layer or by area, and the width that it
takes."""

from voltaje.core.kinds.cable_tray import calculate, report
from voltaje.core.kinds.cable_tray.entries import GROUPS, CableTrayEntries
from voltaje.core.kinds.interface import Kind, no_load, passes_on

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
)

__all__ = ["KIND"]
