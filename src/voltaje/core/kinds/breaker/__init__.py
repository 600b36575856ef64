"""A breaker in its surroundings: what it carries in a warm enclosure beside others."""

from voltaje.core.kinds.breaker.breaker import GROUPS, BreakerEntries, calculate, report
from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.report import say

KIND = Kind(
    "breaker",
    "Breaker in the heat",
    "What it carries in its enclosure",
    BreakerEntries,
    calculate,
    report,
    no_load,
    passes_on,
    GROUPS,
    quick_only=True,
    order=150,
    families=None,
    tasks=(
        say(
            "A breaker of {rating} carries {load} for hours in an enclosure at "
            "{enclosure_temperature}: find what it may carry there."
        ),
    ),
)

__all__ = ["KIND"]
