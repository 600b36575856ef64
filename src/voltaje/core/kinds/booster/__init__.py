"""A buck-boost transformer: usual units joined into an autotransformer, from the volts measured to
the volts wanted. ``ways`` has every unit and joining, ``work`` the one taken with its device and
conductors, ``tell`` all of it. In a job circuits hang on it."""

from voltaje.core.kinds.booster.calculate import (
    brings,
    fault_out,
    hand_down,
    hand_up,
    lost_out,
    work,
)
from voltaje.core.kinds.booster.entries import GROUPS, BoosterEntries
from voltaje.core.kinds.booster.report import tell
from voltaje.core.kinds.incomplete import Known
from voltaje.core.kinds.interface import Kind

KIND = Kind(
    "booster",
    "Buck-boost transformer",
    "The volts there to the volts wanted",
    BoosterEntries,
    work,
    tell,
    hand_up,
    hand_down,
    GROUPS,
    holds_parts=True,
    known=Known(("load_amperes", "load")),
    fault_out=fault_out,
    uses_fault=True,
    lost_out=lost_out,
    brings=brings,
    order=35,
)

__all__ = ["KIND"]
