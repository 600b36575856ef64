"""A network as arrays, and its equations.

Node 0 is earth. Every branch obeys v(start) − v(end) = z J + E with J from start to end. Branches
with impedance go into the admittance matrix, branches without keep their current as an unknown
(modified nodal analysis, as in C.-W. Ho, A. Ruehli, P. Brennan, 1975).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array, csc_array
from scipy.sparse.csgraph import connected_components

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]
Phasors = NDArray[np.complex128]
Flags = NDArray[np.bool_]


def _ints(values: Any = ()) -> Ints:
    return np.asarray(values, dtype=np.int64)


def _phasors(values: Any = ()) -> Phasors:
    return np.asarray(values, dtype=np.complex128)


@dataclass(slots=True)
class Tableau:
    """``nodes`` counts the nodes with earth, which is node 0.

    Branches (m): ``start``, ``end``, ``z`` in Ω, ``emf`` in V. Windings (t, 4): primary plus and
    minus, secondary plus and minus, with ``ratio`` and ``winding_z`` in Ω on the secondary. Loads
    (k): ``plus``, ``minus``, ``va`` at ``rated`` V, and ``shares`` (3, k) of constant power,
    current and impedance.
    """

    nodes: int
    start: Ints
    end: Ints
    z: Phasors
    emf: Phasors
    plus: Ints
    minus: Ints
    va: Phasors
    rated: Floats
    shares: Floats
    windings: Ints = field(default_factory=lambda: np.zeros((0, 4), dtype=np.int64))
    ratio: Floats = field(default_factory=lambda: np.zeros(0))
    winding_z: Phasors = field(default_factory=_phasors)

    @property
    def ends(self) -> tuple[Ints, Ints]:
        """Both ends of everything that conducts: branches, then both windings of each core."""
        w = self.windings
        return (
            np.concatenate((self.start, w[:, 0], w[:, 2])),
            np.concatenate((self.end, w[:, 1], w[:, 3])),
        )


def components(nodes: int, *ends: tuple[Ints, Ints]) -> Ints:
    """The number of the connected piece that each node belongs to."""
    one = np.concatenate([pair[0] for pair in ends])
    other = np.concatenate([pair[1] for pair in ends])
    graph = coo_array((np.ones(len(one)), (one, other)), shape=(nodes, nodes))
    return np.asarray(connected_components(graph, directed=False)[1], dtype=np.int64)


@dataclass(slots=True)
class Reach:
    """What hangs together. ``soft``: loads with an end that no conductor joins to a source: they
    stand in series with other loads. ``live``: nodes that a source reaches, through loads too.
    ``pins``: one node of each piece that earth does not hold, from which its volts count."""

    soft: Flags
    live: Flags
    pins: Ints


def reach(t: Tableau) -> Reach:
    """Looks at what is joined to what."""
    start, end = t.ends
    w = t.windings
    across = (w[:, 0], w[:, 2])
    fed = t.emf != 0
    firm = components(t.nodes, (start, end), across)
    by_source = np.zeros(t.nodes, dtype=bool)
    by_source[t.start[fed]] = True
    firm_fed = np.zeros(t.nodes, dtype=bool)
    firm_fed[np.unique(firm[by_source])] = True
    joined = firm_fed[firm]
    soft = ~(joined[t.plus] & joined[t.minus])
    metal = components(t.nodes, (start, end), (t.plus, t.minus))
    loose = np.unique(metal[metal != metal[0]])
    # its own source's minus, a neutral where there is one, is the natural point to count from
    first = np.full(t.nodes, -1, dtype=np.int64)
    for nodes in (np.arange(t.nodes - 1, -1, -1), w[:, 3], t.end[fed]):
        first[metal[nodes]] = nodes
    energy = (
        components(t.nodes, (start, end), (t.plus, t.minus), across)
        if soft.any() or len(w)
        else metal
    )
    energy_fed = np.zeros(t.nodes, dtype=bool)
    energy_fed[np.unique(energy[by_source])] = True
    return Reach(soft, energy_fed[energy], first[loose])


def equations(
    t: Tableau, pins: Ints, admittance: Phasors, order: int = 1
) -> tuple[csc_array[Any], Phasors]:
    """Matrix and right side for the unknowns: volts of nodes 1…, then the current of each branch
    and winding without impedance. ``admittance`` stands across each load. At a harmonic order the
    reactances grow and the EMFs are none."""
    z = t.z if order == 1 else t.z.real + 1j * order * t.z.imag
    wz = t.winding_z if order == 1 else t.winding_z.real + 1j * order * t.winding_z.imag
    emf = t.emf if order == 1 else np.zeros_like(t.emf)
    free = z != 0
    tight = np.flatnonzero(~free)
    s, e = t.start[free], t.end[free]
    y = 1 / z[free]
    on = admittance != 0
    s, e = np.concatenate((s, t.plus[on])), np.concatenate((e, t.minus[on]))
    y_all = np.concatenate((y, admittance[on]))
    rows = [s, e, s, e, pins]
    cols = [s, e, e, s, pins]
    data = [y_all, y_all, -y_all, -y_all, np.ones(len(pins), dtype=np.complex128)]
    size = t.nodes + len(tight)
    at = t.nodes + np.arange(len(tight))
    one = np.ones(len(tight), dtype=np.complex128)
    for nodes, sign in ((t.start[tight], one), (t.end[tight], -one)):
        rows += [nodes, at]
        cols += [at, nodes]
        data += [sign, sign]
    # windings: (v1 − v2) ÷ ratio − (v3 − v4) = z J, with J out of the secondary
    weights = np.stack(
        (1 / t.ratio, -1 / t.ratio, -np.ones_like(t.ratio), np.ones_like(t.ratio)), axis=1
    )
    real = wz != 0
    for a in range(4):
        for b in range(4):
            rows.append(t.windings[real, a])
            cols.append(t.windings[real, b])
            data.append(weights[real, a] * weights[real, b] / wz[real])
    ideal = np.flatnonzero(~real)
    at_ideal = size + np.arange(len(ideal))
    for a in range(4):
        rows += [t.windings[ideal, a], at_ideal]
        cols += [at_ideal, t.windings[ideal, a]]
        data += [weights[ideal, a].astype(np.complex128)] * 2
    size += len(ideal)
    row, col, values = np.concatenate(rows), np.concatenate(cols), np.concatenate(data)
    keep = (row > 0) & (col > 0)  # earth stays at zero
    matrix = coo_array((values[keep], (row[keep] - 1, col[keep] - 1)), shape=(size - 1, size - 1))
    right = np.zeros(size, dtype=np.complex128)
    if order == 1:
        driven = y * emf[free]
        np.add.at(right, t.start[free], driven)
        np.add.at(right, t.end[free], -driven)
        right[t.nodes : t.nodes + len(tight)] = emf[tight]
    return matrix.tocsc(), right[1:]


def branch_currents(
    t: Tableau, volts: Phasors, unknown: Phasors, order: int = 1
) -> tuple[Phasors, Phasors]:
    """Amperes in each branch, from start to end, and out of each secondary. ``volts`` with earth,
    ``unknown`` the solved currents of what has no impedance."""
    z = t.z if order == 1 else t.z.real + 1j * order * t.z.imag
    wz = t.winding_z if order == 1 else t.winding_z.real + 1j * order * t.winding_z.imag
    emf = t.emf if order == 1 else np.zeros_like(t.emf)
    free = z != 0
    found = np.zeros(len(t.z), dtype=np.complex128)
    found[free] = (volts[t.start[free]] - volts[t.end[free]] - emf[free]) / z[free]
    tight = int((~free).sum())
    found[~free] = unknown[:tight]
    w = t.windings
    out = np.zeros(len(t.ratio), dtype=np.complex128)
    real = wz != 0
    inside = (volts[w[:, 0]] - volts[w[:, 1]]) / t.ratio - volts[w[:, 2]] + volts[w[:, 3]]
    out[real] = inside[real] / wz[real]
    out[~real] = unknown[tight:]
    return found, out


def leaving(t: Tableau, branches: Phasors, windings: Phasors, loads: Phasors) -> Phasors:
    """The sum of the amperes that leave each node: zero, by Kirchhoff, but at earth's pins."""
    w = t.windings
    drawn = windings / t.ratio
    nodes = (t.start, t.end, t.plus, t.minus, w[:, 0], w[:, 1], w[:, 2], w[:, 3])
    amperes = (branches, -branches, loads, -loads, drawn, -drawn, -windings, windings)
    return gathered(np.concatenate(nodes), np.concatenate(amperes), t.nodes)


def gathered(nodes: Ints, values: Phasors, count: int) -> Phasors:
    """Phasors summed by node."""
    found = np.empty(count, dtype=np.complex128)
    found.real = np.bincount(nodes, values.real, count)
    found.imag = np.bincount(nodes, values.imag, count)
    return found
