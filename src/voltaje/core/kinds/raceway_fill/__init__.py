"""A raceway with any mix of conductors: what they fill, which trade size takes them, how many
more go in, and the adjustment that follows."""

from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.kinds.raceway_fill import calculate, report
from voltaje.core.kinds.raceway_fill.entries import GROUPS, RacewayFillEntries, compose
from voltaje.core.report import say

KIND = Kind(
    "raceway_fill",
    "Raceway fill",
    "Any mix of conductors in a raceway",
    RacewayFillEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    order=48,
    seldom=(),
    quick_only=True,
    families=("nec", "cec"),
    compose=compose,
    tasks=(
        say(
            "The conductors below go into one raceway ({raceway}): find its fill and the smallest "
            "trade size."
        ),
    ),
)

__all__ = ["KIND"]
