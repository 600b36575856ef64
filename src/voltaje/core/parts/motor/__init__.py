"""A motor circuit: conductors, short-circuit device and overload, each by its own current."""

from voltaje.core.parts.kind import Kind
from voltaje.core.parts.motor.entries import GROUPS, MotorEntries
from voltaje.core.parts.motor.tell import tell
from voltaje.core.parts.motor.work import hand_up, work

KIND = Kind(
    "motor",
    "Motor circuit",
    "Horsepower to conductors, device, overload",
    MotorEntries,
    work,
    tell,
    hand_up,
    lambda entries, above: above,
    GROUPS,
    order=100,
)

__all__ = ["KIND"]
