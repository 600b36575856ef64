"""A service: its disconnects, its conductors, and everything that is grounded and bonded there."""

from voltaje.core.kinds.interface import Kind, lost_in_conductors, passes_on
from voltaje.core.kinds.service import calculate, report
from voltaje.core.kinds.service.calculate import hand_up
from voltaje.core.kinds.service.entries import ELECTRODES, GROUPS, compose
from voltaje.core.rules.interface import code_of
from voltaje.core.rules.north_america import AWG
from voltaje.core.rules.north_america.wired.far_end import fault_at_far_end, network_contribution

KIND = Kind(
    "service",
    "Service",
    "Disconnect, conductors, grounding",
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
    uses_fault=True,
    order=20,
    families=AWG,
    compose=compose,
)

__all__ = ["ELECTRODES", "KIND"]
