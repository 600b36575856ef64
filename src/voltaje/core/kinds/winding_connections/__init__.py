"""A bench of windings: units, and the list of joints between the ends of their coils, solved as it
is typed. ``bench`` reads the list, ``calculate`` solves it, ``report`` puts volts, group and what
is wrong on the worksheet, ``benches`` are worked ones to begin with."""

from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.kinds.winding_connections import calculate, report
from voltaje.core.kinds.winding_connections.entries import GROUPS, WindingConnectionsEntries
from voltaje.core.report import say

KIND = Kind(
    "winding_connections",
    "Windings and joints",
    "Any list of joints: volts, phasors, group and clock",
    WindingConnectionsEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    order=145,
    families=None,
    formerly=("joints",),
    tasks=(
        say(
            "The coils below are joined as listed and fed with {supply}: find the voltages "
            "between the lines and the vector group."
        ),
        say("The coils below are joined as listed: find the voltages between the lines."),
    ),
)

__all__ = ["KIND"]
