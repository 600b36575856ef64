"""Made-up radial four-wire networks, as arrays for the solver and for two general libraries."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from voltaje.core.electrical.network.tableau import Tableau

VOLTS = 230.0
TURN = np.exp(-2j * np.pi * np.arange(3) / 3)


@dataclass(frozen=True)
class Radial:
    """``buses`` in a tree: bus ``i`` hangs on ``parent[i-1]`` by a line of ``z`` Ω in each phase
    and ``zn`` Ω in the neutral; ``va`` (buses, 3) are single-phase loads of constant power."""

    parent: np.ndarray
    z: np.ndarray
    zn: np.ndarray
    va: np.ndarray

    @property
    def buses(self) -> int:
        return len(self.parent) + 1


def radial(buses: int, seed: int = 1, drop: float = 0.06) -> Radial:
    """Unbalanced: most buses have a load on one phase only. Scaled so that the worst bus loses
    about ``drop`` of its volts."""
    rng = np.random.default_rng(seed)
    # few long branches, as streets have: a bus hangs on one of the eight before it
    parent = np.array([max(0, i - 1 - int(rng.integers(0, 8))) for i in range(1, buses)])
    metres = rng.uniform(10, 40, buses - 1)
    # heavy cables in parallel: one of the libraries stops at 0.03 VA for each bus, which must be
    # little beside the loads
    z = metres * (0.032 + 0.02j) / 1000
    zn = metres * (0.050 + 0.025j) / 1000
    va = np.zeros((buses, 3), dtype=complex)
    on = rng.integers(0, 3, buses)
    va[np.arange(buses), on] = rng.uniform(200, 3000, buses) * np.exp(
        1j * rng.uniform(0, 0.5, buses)
    )
    va[0] = 0
    sums = va.copy()
    for bus in range(buses - 1, 0, -1):
        sums[parent[bus - 1]] += sums[bus]
    lost = np.zeros(buses)
    for bus in range(1, buses):
        lost[bus] = (
            lost[parent[bus - 1]] + abs(z[bus - 1] + zn[bus - 1]) * np.abs(sums[bus]).max() / VOLTS
        )
    va *= drop * VOLTS / lost.max()
    return Radial(parent, z, zn, va)


def tableau(net: Radial) -> Tableau:
    """With the neutral explicit: nodes 1 + 4 × bus + (L1, L2, L3, N)."""
    bus = np.arange(1, net.buses)
    wire = np.arange(4)
    start = (1 + 4 * net.parent[:, None] + wire).ravel()
    end = (1 + 4 * bus[:, None] + wire).ravel()
    z = np.repeat(net.z[:, None], 4, axis=1)
    z[:, 3] = net.zn
    at, phase = np.nonzero(net.va)
    return Tableau(
        nodes=1 + 4 * net.buses,
        start=np.concatenate(([4, 1, 2, 3], start)),
        end=np.concatenate(([0, 4, 4, 4], end)),
        z=np.concatenate((np.zeros(4), z.ravel())).astype(complex),
        emf=np.concatenate(([0], VOLTS * TURN, np.zeros(len(start)))).astype(complex),
        plus=1 + 4 * at + phase,
        minus=1 + 4 * at + 3,
        va=net.va[at, phase],
        rated=np.full(len(at), VOLTS),
        shares=np.repeat([[1.0], [0.0], [0.0]], len(at), axis=1),
    )


def to_neutral(volts: np.ndarray) -> np.ndarray:
    """(buses, 3) line-to-neutral volts."""
    table = volts[1:].reshape(-1, 4)
    return table[:, :3] - table[:, 3:]
