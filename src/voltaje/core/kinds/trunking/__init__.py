"""A conduit or a trunking of a metric installation with any mix of cables: the terms of the cables
against the one of the enclosure."""

from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.kinds.trunking import calculate, report
from voltaje.core.kinds.trunking.entries import GROUPS, TrunkingEntries
from voltaje.core.report import say

KIND = Kind(
    "trunking",
    "Conduit and trunking",
    "Any mix of cables in a conduit or a trunking",
    TrunkingEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    order=51,
    seldom=(),
    families=("bs7671",),
    quick_only=True,
    tasks=(say("The cables below go into {what}: find the smallest size."),),
)

__all__ = ["KIND"]
