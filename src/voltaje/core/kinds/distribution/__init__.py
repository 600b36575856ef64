"""A distribution circuit of the codes that think as IEC 60364 does: from one board to the next,
with the earth-fault loop that it hands down."""

from voltaje.core.kinds.distribution import calculate, report
from voltaje.core.kinds.distribution.calculate import (
    fault_current,
    hand_up,
    loop_impedance,
    network_contribution,
)
from voltaje.core.kinds.distribution.entries import GROUPS, compose
from voltaje.core.kinds.interface import Kind, lost_in_conductors, passes_on
from voltaje.core.report import say
from voltaje.core.rules.iec60364 import METRIC
from voltaje.core.rules.interface import code_of

KIND = Kind(
    "distribution",
    "Distribution circuit",
    "From one board to the next, metric",
    compose(code_of("bs7671")),
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    holds_parts=True,
    voltage_drop=lost_in_conductors,
    loop_impedance=loop_impedance,
    uses_loop=True,
    network_contribution=network_contribution,
    order=45,
    families=METRIC,
    compose=compose,
    uses_fault=True,
    fault_current=fault_current,
    unknowns={"length": "largest"},
    tasks=(
        say(
            "A distribution circuit of {length} on {system} carries {load}: size its "
            "protective device and cable."
        ),
        say(
            "A distribution circuit on {system} carries {load}: size its protective device "
            "and cable."
        ),
    ),
)

__all__ = ["KIND"]
