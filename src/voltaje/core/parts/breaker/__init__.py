"""A breaker in its surroundings: what it carries in a warm enclosure beside others."""

from voltaje.core.electrical.systems import Demand
from voltaje.core.parts.breaker.breaker import GROUPS, BreakerEntries, tell, work
from voltaje.core.parts.kind import Kind

KIND = Kind(
    "breaker",
    "Breaker in the heat",
    "What it carries in its enclosure",
    BreakerEntries,
    work,
    tell,
    lambda entries, outcome, context: Demand(),
    lambda entries, above: above,
    GROUPS,
    quick_only=True,
    order=150,
    families=None,
)

__all__ = ["KIND"]
