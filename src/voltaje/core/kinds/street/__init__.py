"""A line with consumers along it, each on one of its lines or on all: ``along`` is the line between
them, the rest as in every kind."""

from voltaje.core.kinds.incomplete import Known
from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.kinds.street import calculate, report
from voltaje.core.kinds.street.calculate import hand_up, network_contribution
from voltaje.core.kinds.street.entries import GROUPS, compose
from voltaje.core.kinds.street.faults import hidden_faults
from voltaje.core.report import say
from voltaje.core.rules.interface import code_of

KIND = Kind(
    "street",
    "Street",
    "Consumers along a line, each on its phase",
    compose(code_of("nec")),
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    holds_parts=True,
    known=Known(("amperes", "load"), ()),
    network_contribution=network_contribution,
    own_network=True,
    order=62,
    families=None,
    compose=compose,
    faults=hidden_faults,
    tasks=(
        say(
            "A line on {system} feeds the consumers below, one behind the other: find the current "
            "of each line and the voltage at the last consumer."
        ),
    ),
)

__all__ = ["KIND"]
