"""A branch circuit for one load, or for outlets of one kind."""

from voltaje.core.parts.circuit.entries import GROUPS, CircuitEntries
from voltaje.core.parts.circuit.tell import tell
from voltaje.core.parts.circuit.work import hand_up, work
from voltaje.core.parts.kind import Kind

KIND = Kind(
    "circuit",
    "Circuit",
    "Any load: device, conductors, raceway",
    CircuitEntries,
    work,
    tell,
    hand_up,
    lambda entries, above: above,
    GROUPS,
    order=70,
)

__all__ = ["KIND"]
