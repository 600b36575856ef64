"""Networks with every conductor explicit, neutral and earth too, and their solution.

What needs numpy is only read in when something is solved: a single sheet does without.
``elements`` are what a network is made of; ``tableau`` holds them as arrays; ``solve`` finds the
volts and amperes; ``harmonics`` adds the orders above the fundamental; ``capacity`` says how much
can be carried where there is no solution; ``supplies`` makes the sources of a supply system.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from voltaje.core.electrical.network.elements import (
    EARTH,
    Coil,
    Conductor,
    Core,
    ElementError,
    Network,
    NetworkLoad,
    NoSolutionError,
    ShortError,
    Source,
    transformer,
)
from voltaje.core.electrical.network.supplies import sources

if TYPE_CHECKING:
    from voltaje.core.electrical.network.solution import Solution

__all__ = [
    "EARTH",
    "Coil",
    "Conductor",
    "Core",
    "ElementError",
    "Network",
    "NetworkLoad",
    "NoSolutionError",
    "ShortError",
    "Solution",
    "Source",
    "solution_or_none",
    "solved",
    "sources",
    "transformer",
]


def solved(
    network: Network, method: Literal["sweep", "matrix", "newton"] | None = None
) -> Solution:
    """Solves a network.

    Raises :class:`NoSolutionError` where the loads are more than can be carried, and
    :class:`ElementError` for loops without impedance and loads between conductors of one
    potential, :class:`ShortError` for a joint that closes coils or sources of different volts.
    """
    from voltaje.core.electrical.network import solution

    return solution.solved(network, method)


def solution_or_none(network: Network) -> Solution | None:
    """The network solved; ``None``, without a reason, where it cannot be."""
    from voltaje.core.electrical.network import solution

    return solution.solution_or_none(network)
