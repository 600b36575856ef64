"""A service: its disconnects, its conductors, and everything that is grounded and bonded there."""

from voltaje.core.kinds.far_end import brings, fault_at_far_end, lost_at_far_end
from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.kinds.service.calculate import hand_up, work
from voltaje.core.kinds.service.entries import ELECTRODES, GROUPS, compose
from voltaje.core.kinds.service.report import tell
from voltaje.core.rules.interface import code_of
from voltaje.core.rules.north_america import AWG

KIND = Kind(
    "service",
    "Service",
    "Disconnect, conductors, grounding",
    compose(code_of("nec")),
    work,
    tell,
    hand_up,
    passes_on,
    GROUPS,
    holds_parts=True,
    fault_out=fault_at_far_end,
    lost_out=lost_at_far_end,
    brings=brings,
    uses_fault=True,
    order=20,
    families=AWG,
    compose=compose,
)

__all__ = ["ELECTRODES", "KIND"]
