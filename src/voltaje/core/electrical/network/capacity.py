"""How much of a network's load can be carried, where there is no solution for all of it."""

from __future__ import annotations

from dataclasses import replace
from math import hypot, sqrt

from voltaje.core.electrical.network.solve import NotSettledError, solve
from voltaje.core.electrical.network.tableau import Tableau

HALVINGS = 16


def largest_share(t: Tableau) -> float:
    """The share of all loads, 0 to 1, with which the volts just settle, within 2⁻¹⁶."""
    low, high = 0.0, 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        try:
            solve(replace(t, va=t.va * middle))
        except NotSettledError:
            high = middle
        else:
            low = middle
    return low


def most_at_end(volts: float, ohms: complex, power_factor: float = 1.0) -> float:
    """The most VA that a load of constant power can take through a loop of ``ohms`` from ``volts``:
    V² ÷ (2 (Z + R cos φ + X sin φ)). There its own volts are what the loop loses."""
    sine = sqrt(1 - power_factor**2)
    size = hypot(ohms.real, ohms.imag)
    return volts**2 / (2 * (size + ohms.real * power_factor + ohms.imag * sine))
