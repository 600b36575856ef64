"""A buck-boost transformer: usual units joined into an autotransformer, from the volts measured to
the volts wanted. ``work`` has every unit and joining, ``tell`` the one taken and the others."""

from voltaje.core.electrical.systems import Demand
from voltaje.core.parts.booster.entries import GROUPS, BoosterEntries
from voltaje.core.parts.booster.tell import tell
from voltaje.core.parts.booster.work import work
from voltaje.core.parts.kind import Kind

KIND = Kind(
    "booster",
    "Buck-boost transformer",
    "The volts there to the volts wanted",
    BoosterEntries,
    work,
    tell,
    lambda entries, outcome, context: Demand(),
    lambda entries, above: above,
    GROUPS,
    quick_only=True,
    order=130,
)

__all__ = ["KIND"]
