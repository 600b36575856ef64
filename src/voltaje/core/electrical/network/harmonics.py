"""Orders above the fundamental: each solved for itself, with the sources as short circuits and the
electronic loads as current sources, and combined by squares.

A load's harmonic current keeps the phase it has at the peak of the volts, so that orders of three
of three phases add in the neutral (common practice for rectifiers with a capacitor behind them).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from voltaje.core.electrical.network.solve import NetworkSolution, factored
from voltaje.core.electrical.network.tableau import (
    Floats,
    Phasors,
    Tableau,
    currents,
    equations,
)


@dataclass(slots=True)
class Order:
    """Volts and amperes of one harmonic order, shapes as in ``NetworkSolution``."""

    volts: Phasors
    branches: Phasors
    coils: Phasors
    loads: Phasors


def solve_order(t: Tableau, base: NetworkSolution, order: int, shares: Floats) -> Order:
    """``shares`` (k): each load's current of that order over its fundamental."""
    soft = base.reach.soft
    part = np.where(soft, 1.0, t.shares[2])
    on = (part > 0) & (t.va != 0)
    admittance = np.zeros(len(t.va), dtype=np.complex128)
    z = t.rated[on] ** 2 / (part[on] * np.conj(t.va[on]))
    # capacitive vars answer a higher order with more current, inductive ones with less
    reactance = np.where(z.imag >= 0, z.imag * order, z.imag / order)
    admittance[on] = 1 / (z.real + 1j * reactance)
    matrix, _ = equations(t, base.reach.pins, admittance, base.reach.live, order)
    current = base.loads
    forced = np.where(soft, 0, shares * np.abs(current) * np.exp(1j * order * np.angle(current)))
    right = np.zeros(matrix.shape[0] + 1, dtype=np.complex128)
    np.add.at(right, t.plus, -forced)
    np.add.at(right, t.minus, forced)
    x = factored(matrix).solve(right[1:])
    volts = np.concatenate((np.zeros(1, dtype=np.complex128), x[: t.nodes - 1]))
    branches, coils = currents(t, volts, x[t.nodes - 1 :], order)
    loads = forced + admittance * (volts[t.plus] - volts[t.minus])
    return Order(volts, branches, coils, loads)


def orders(loads: Sequence[tuple[tuple[int, float], ...]]) -> dict[int, Floats]:
    """Order → share of each load, from each load's (order, share) pairs."""
    found: dict[int, Floats] = {}
    for index, pairs in enumerate(loads):
        for order, share in pairs:
            found.setdefault(order, np.zeros(len(loads)))[index] = share
    return dict(sorted(found.items()))
