"""A run of several segments: ``along`` is the run between its joints, the rest as in every kind."""

from voltaje.core.kinds.cable_run import calculate, report
from voltaje.core.kinds.cable_run.calculate import hand_up, network_contribution
from voltaje.core.kinds.cable_run.entries import GROUPS, compose
from voltaje.core.kinds.cable_run.faults import hidden_faults
from voltaje.core.kinds.incomplete import Known
from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.report import say
from voltaje.core.rules.interface import code_of

KIND = Kind(
    "cable_run",
    "Run",
    "Volts along several segments",
    compose(code_of("nec")),
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    holds_parts=True,
    known=Known(("amperes", "load")),
    network_contribution=network_contribution,
    own_network=True,
    order=60,
    families=None,
    compose=compose,
    formerly=("run",),
    faults=hidden_faults,
    tasks=(
        say(
            "A run on {system} feeds the loads below, one behind the other, sized for at most "
            "{maximum_drop} % voltage drop: find the current of each segment and the voltage at "
            "the end."
        ),
        say(
            "A run on {system} feeds the loads below, one behind the other: find the current of "
            "each segment and the voltage at the end."
        ),
    ),
)

__all__ = ["KIND"]
