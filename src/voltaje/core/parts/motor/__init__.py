"""A motor circuit: conductors, short-circuit device and overload, each by its own current."""

from voltaje.core.parts.kind import Kind, passes_on
from voltaje.core.parts.motor.entries import GROUPS, compose
from voltaje.core.parts.motor.tell import tell
from voltaje.core.parts.motor.work import hand_up, work
from voltaje.core.rules.awg import AWG
from voltaje.core.rules.code import code_of

KIND = Kind(
    "motor",
    "Motor circuit",
    "Horsepower to conductors, device, overload",
    compose(code_of("nec")),
    work,
    tell,
    hand_up,
    passes_on,
    GROUPS,
    order=100,
    families=AWG,
    compose=compose,
)

__all__ = ["KIND"]
