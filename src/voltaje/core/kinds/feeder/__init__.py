"""A feeder: the calculated load of what hangs on it and what is entered, sized like a circuit.

``carried`` is what services and transformers share with it: amperes on each line and the neutral.
"""

from voltaje.core.kinds.feeder import calculate, report
from voltaje.core.kinds.feeder.calculate import hand_up
from voltaje.core.kinds.feeder.carried import Carried, connection_of, report_amperes
from voltaje.core.kinds.feeder.entries import GROUPS, compose
from voltaje.core.kinds.feeder.slips import usual_slips
from voltaje.core.kinds.interface import Kind, lost_in_conductors, passes_on
from voltaje.core.report import say
from voltaje.core.rules.interface import code_of
from voltaje.core.rules.north_america import AWG
from voltaje.core.rules.north_america.wired.far_end import fault_at_far_end, network_contribution

KIND = Kind(
    "feeder",
    "Feeder",
    "Calculated load, device, conductors",
    compose(code_of("nec")),
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    holds_parts=True,
    fault_current=fault_at_far_end,
    voltage_drop=lost_in_conductors,
    network_contribution=network_contribution,
    order=40,
    families=AWG,
    compose=compose,
    unknowns={"length": "largest", "others": "largest"},
    slips=usual_slips,
    tasks=(
        say(
            "A feeder of {length} on {system} carries the loads below: find its calculated load, "
            "then size its device and conductors."
        ),
        say(
            "A feeder on {system} carries the loads below: find its calculated load, then size "
            "its device and conductors."
        ),
    ),
)

__all__ = ["KIND", "Carried", "connection_of", "report_amperes"]
