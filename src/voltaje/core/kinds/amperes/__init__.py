"""The first question of all: amperes from kVA, kW, hp or W, and back; any one unknown is solved.

A motor's horsepower goes by the code's table; by formula only when that is asked for.
"""

from voltaje.core.kinds.amperes import calculate, report
from voltaje.core.kinds.amperes.entries import GROUPS, AmperesEntries
from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.report import say

KIND = Kind(
    "amperes",
    "Amperes",
    "kVA, kW, hp or W to amperes, and back",
    AmperesEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    quick_only=True,
    order=120,
    families=None,
    tasks=(
        say(
            "A load of {power} on {voltage}: find its current and what stands on the nameplate "
            "besides."
        ),
        say("A load draws {current} on {voltage}: find its power and kVA."),
    ),
)

__all__ = ["KIND"]
