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

    Branches (m): ``start``, ``end``, ``z`` in Ω, ``emf`` in V. Coils (c): ``coil_start`` (dotted),
    ``coil_end``, ``coil_z`` in Ω, ``turns`` over the most of their ``core``'s; cores: ``core_y`` in
    S across such a coil. Loads (k): ``plus``, ``minus``, ``va`` at ``rated`` V, and ``shares``
    (3, k) of constant power, current and impedance.
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
    coil_start: Ints = field(default_factory=_ints)
    coil_end: Ints = field(default_factory=_ints)
    coil_z: Phasors = field(default_factory=_phasors)
    turns: Floats = field(default_factory=lambda: np.zeros(0))
    core: Ints = field(default_factory=_ints)
    core_y: Phasors = field(default_factory=_phasors)

    @property
    def ends(self) -> tuple[Ints, Ints]:
        """Both ends of everything that conducts: branches, then coils."""
        return (
            np.concatenate((self.start, self.coil_start)),
            np.concatenate((self.end, self.coil_end)),
        )

    @property
    def first(self) -> Ints:
        """For each coil the index of its core's first one; coils stand core by core."""
        return np.searchsorted(self.core, self.core)


SMALL = 400  # nodes up to which pieces are told without a sparse matrix


def components(nodes: int, *ends: tuple[Ints, Ints]) -> Ints:
    """The number of the connected piece that each node belongs to."""
    one = np.concatenate([pair[0] for pair in ends])
    other = np.concatenate([pair[1] for pair in ends])
    if nodes <= SMALL:
        return _few_components(nodes, one.tolist(), other.tolist())
    graph = coo_array((np.ones(len(one)), (one, other)), shape=(nodes, nodes))
    return np.asarray(connected_components(graph, directed=False)[1], dtype=np.int64)


def _few_components(nodes: int, one: list[int], other: list[int]) -> Ints:
    """The same without a matrix, whose making costs more than a small network's whole solution."""
    top = list(range(nodes))
    for a, b in zip(one, other, strict=True):
        while top[a] != a:
            a = top[a]
        while top[b] != b:
            b = top[b]
        # the lower number stands for both: then a piece's number is met before its nodes
        top[max(a, b)] = min(a, b)
    numbers: dict[int, int] = {}
    for node in range(nodes):
        top[node] = top[top[node]]
        numbers.setdefault(top[node], len(numbers))
    return np.array([numbers[node] for node in top], dtype=np.int64)


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
    across = (t.coil_start, t.coil_start[t.first])
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
    behind = t.coil_end[t.first != np.arange(len(t.core))]
    for nodes in (np.arange(t.nodes - 1, -1, -1), behind, t.end[fed]):
        first[metal[nodes]] = nodes
    energy = (
        components(t.nodes, (start, end), (t.plus, t.minus), across)
        if soft.any() or len(t.core)
        else metal
    )
    energy_fed = np.zeros(t.nodes, dtype=bool)
    energy_fed[np.unique(energy[by_source])] = True
    return Reach(soft, energy_fed[energy], first[loose])


def equations(
    t: Tableau, pins: Ints, admittance: Phasors, live: Flags, order: int = 1
) -> tuple[csc_array[Any], Phasors]:
    """Matrix and right side for the unknowns: volts of nodes 1…, the current of each branch without
    impedance, of each coil, the volts per turn of each core. ``admittance`` stands across each
    load; a core without ``live`` nodes has no flux. At a harmonic order the reactances grow and
    the EMFs are none."""
    z = t.z if order == 1 else t.z.real + 1j * order * t.z.imag
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
    # coils: v(start) − v(end) = z J + turns e; cores: the ampere-turns are what magnetizes
    coil_z, core_y, turns = _coils(t, live, order)
    count = len(coil_z)
    at = size + np.arange(count)
    flux = size + count + t.core
    one = np.ones(count, dtype=np.complex128)
    for nodes, sign in ((t.coil_start, one), (t.coil_end, -one)):
        rows += [nodes, at]
        cols += [at, nodes]
        data += [sign, sign]
    own = size + count + np.arange(len(core_y))
    rows += [at, at, flux, own]
    cols += [at, flux, at, own]
    data += [-coil_z, -turns.astype(np.complex128), -turns.astype(np.complex128), core_y]
    size += count + len(core_y)
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


def _coils(t: Tableau, live: Flags, order: int) -> tuple[Phasors, Phasors, Floats]:
    """Impedance of each coil, admittance of each core, turns, at an order. A core that no source
    reaches is held at no flux, and its coils get an impedance, so that all there is zero."""
    reactive = 1j * order * t.coil_z.imag
    z = t.coil_z.real + reactive
    y = t.core_y.real + 1j * t.core_y.imag / order
    dead = ~live[t.coil_start] if len(t.core) else np.zeros(0, dtype=bool)
    turns = np.where(dead, 0.0, t.turns)
    z = np.where(dead & (z == 0), 1.0, z)
    held = np.zeros(len(y), dtype=bool)
    held[t.core[dead]] = True
    return z, np.where(held, 1.0, y), turns


def currents(
    t: Tableau, volts: Phasors, unknown: Phasors, order: int = 1
) -> tuple[Phasors, Phasors]:
    """Amperes in each branch, from start to end, and into each coil's dotted end. ``volts`` with
    earth, ``unknown`` what was solved besides them."""
    z = t.z if order == 1 else t.z.real + 1j * order * t.z.imag
    emf = t.emf if order == 1 else np.zeros_like(t.emf)
    free = z != 0
    found = np.zeros(len(t.z), dtype=np.complex128)
    found[free] = (volts[t.start[free]] - volts[t.end[free]] - emf[free]) / z[free]
    tight = int((~free).sum())
    found[~free] = unknown[:tight]
    return found, unknown[tight : tight + len(t.coil_z)]


def leaving(t: Tableau, branches: Phasors, coils: Phasors, loads: Phasors) -> Phasors:
    """The sum of the amperes that leave each node: zero, by Kirchhoff, but at earth's pins."""
    nodes = (t.start, t.end, t.plus, t.minus, t.coil_start, t.coil_end)
    amperes = (branches, -branches, loads, -loads, coils, -coils)
    return gathered(np.concatenate(nodes), np.concatenate(amperes), t.nodes)


def gathered(nodes: Ints, values: Phasors, count: int) -> Phasors:
    """Phasors summed by node."""
    found = np.empty(count, dtype=np.complex128)
    found.real = np.bincount(nodes, values.real, count)
    found.imag = np.bincount(nodes, values.imag, count)
    return found
