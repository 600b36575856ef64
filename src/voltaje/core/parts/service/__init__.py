"""A service: its disconnects, its conductors, and everything that is grounded and bonded there."""

from voltaje.core.parts.far_end import brings, fault_at_far_end, lost_at_far_end
from voltaje.core.parts.kind import Kind, passes_on
from voltaje.core.parts.service.entries import ELECTRODES, GROUPS, compose
from voltaje.core.parts.service.tell import tell
from voltaje.core.parts.service.work import hand_up, work
from voltaje.core.rules.awg import AWG
from voltaje.core.rules.code import code_of

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
