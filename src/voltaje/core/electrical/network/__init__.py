"""Networks with every conductor explicit, neutral and earth too, and their solution.

``elements`` are what a network is made of; ``tableau`` holds them as arrays; ``solve`` finds the
volts and amperes; ``harmonics`` adds the orders above the fundamental; ``capacity`` says how much
can be carried where there is no solution; ``supplies`` makes the sources of a supply system.
"""

from voltaje.core.electrical.network.elements import (
    EARTH,
    Conductor,
    ElementError,
    Load,
    Network,
    NoSolutionError,
    Source,
    Transformer,
)
from voltaje.core.electrical.network.solution import Solution, solved
from voltaje.core.electrical.network.supplies import sources

__all__ = [
    "EARTH",
    "Conductor",
    "ElementError",
    "Load",
    "Network",
    "NoSolutionError",
    "Solution",
    "Source",
    "Transformer",
    "solved",
    "sources",
]
