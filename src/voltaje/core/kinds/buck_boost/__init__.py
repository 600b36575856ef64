"""A buck-boost transformer: usual units joined into an autotransformer, from the volts measured to
the volts wanted. ``ways`` has every unit and joining, ``calculate`` the one taken with its device
and conductors, ``report`` all of it. In a job circuits hang on it."""

from voltaje.core.kinds.buck_boost import calculate, report
from voltaje.core.kinds.buck_boost.calculate import (
    fault_current,
    hand_down,
    hand_up,
    network_contribution,
    voltage_drop,
)
from voltaje.core.kinds.buck_boost.entries import GROUPS, BuckBoostEntries, compose
from voltaje.core.kinds.buck_boost.slips import usual_slips
from voltaje.core.kinds.incomplete import Known
from voltaje.core.kinds.interface import Kind
from voltaje.core.report import say

KIND = Kind(
    "buck_boost",
    "Buck-boost transformer",
    "The volts there to the volts wanted",
    BuckBoostEntries,
    calculate.calculate,
    report.report,
    hand_up,
    hand_down,
    GROUPS,
    holds_parts=True,
    known=Known(("load_amperes", "load")),
    fault_current=fault_current,
    uses_fault=True,
    voltage_drop=voltage_drop,
    network_contribution=network_contribution,
    equipment=calculate.equipment,
    order=35,
    formerly=("booster",),
    families=None,
    compose=compose,
    slips=usual_slips,
    tasks=(
        say(
            "The line measures {measured_voltage}; a load of {load} needs {required_voltage}. "
            "Choose the buck-boost transformer and its connection, then size the device and "
            "conductors on its input."
        ),
    ),
)

__all__ = ["KIND"]
