"""A transformer: its size, its protection, the conductors and devices on both its sides."""

from voltaje.core.kinds.incomplete import Known
from voltaje.core.kinds.interface import Kind
from voltaje.core.kinds.transformer import calculate, report
from voltaje.core.kinds.transformer.calculate import (
    hand_down,
    hand_up,
    network_contribution,
    voltage_drop,
)
from voltaje.core.kinds.transformer.entries import GROUPS, compose
from voltaje.core.kinds.transformer.slips import usual_slips
from voltaje.core.report import say
from voltaje.core.rules.interface import code_of
from voltaje.core.rules.north_america import AWG

KIND = Kind(
    "transformer",
    "Transformer",
    "Size, protection, conductors on both sides",
    compose(code_of("nec")),
    calculate.calculate,
    report.report,
    hand_up,
    hand_down,
    GROUPS,
    holds_parts=True,
    known=Known(("calculated_load",), ()),
    fault_current=lambda entries, outcome, context: outcome.behind,
    uses_fault=True,
    voltage_drop=voltage_drop,
    network_contribution=network_contribution,
    equipment=calculate.equipment,
    order=30,
    families=AWG,
    compose=compose,
    slips=usual_slips,
    tasks=(
        say(
            "A {kva} transformer ({connection}), {system} to {secondary}, {length} from its "
            "supply: size its devices and conductors on both sides."
        ),
        say(
            "A {kva} transformer ({connection}), {system} to {secondary}: size its devices and "
            "conductors on both sides."
        ),
    ),
    nameplate=("connection", "secondary", "kva", "impedance"),
)

__all__ = ["KIND"]
