"""Volts and amperes of a tableau at the fundamental.

Three ways, in this order: a network that is a tree is swept, Kirchhoff's two laws in turn; any
other by the admittance matrix, factored once,
with the loads' currents put right until nothing moves; where neither settles, Newton's method.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from scipy.sparse import block_array, coo_array, csc_array, csr_array, diags_array
from scipy.sparse.csgraph import depth_first_order
from scipy.sparse.linalg import splu

from voltaje.core.electrical.network.tableau import (
    Flags,
    Floats,
    Ints,
    Phasors,
    Reach,
    Tableau,
    currents,
    equations,
    gathered,
    leaving,
    reach,
)

Method = Literal["sweep", "matrix", "newton"]
TOLERANCE = 1e-10  # of the highest EMF
SETTLES = 60
NEWTON_STEPS = 40
SINGULAR = 1e-14  # of the largest pivot
CONSISTENT = 1e-7  # of the largest EMF
MOST_BY_NORM = 600
# even at the edge of what can be carried a step leaves about half of what was wrong; where so many
# steps together leave more than half, there is no solution to come to
STALLED_AFTER = 6


class NotSettledError(ArithmeticError):
    """No volts were found. ``worst`` is the index of the load that fell furthest."""

    def __init__(self, worst: int) -> None:
        super().__init__("the loads' volts do not settle")
        self.worst = worst


class NoImpedanceError(ValueError):
    """Branches without impedance that form a loop: nothing divides the current between them.
    ``branches`` are their indexes."""

    def __init__(self, branches: list[int]) -> None:
        super().__init__("a loop without impedance")
        self.branches = branches


@dataclass(slots=True)
class NetworkSolution:
    """Volts of each node (with earth), amperes in each branch, into each coil's dotted end and into
    each load's plus. ``mismatch`` is the largest sum of amperes at a node over the largest
    current."""

    volts: Phasors
    branches: Phasors
    coils: Phasors
    loads: Phasors
    reach: Reach
    iterations: int
    method: Method
    mismatch: float


def solve(t: Tableau, method: Method | None = None) -> NetworkSolution:
    """Solves it. ``method`` forces one of the three ways.

    Raises :class:`NotSettledError` and :class:`NoImpedanceError`.
    """
    if method in (None, "sweep"):
        swept = _sweep(t)
        if swept is not None:
            return swept
    found = reach(t)
    loop = loop_without_impedance(t)
    if loop:
        raise NoImpedanceError(loop)
    return _by_matrix(t, found, method)


def linear_admittance(t: Tableau, soft: Flags) -> Phasors:
    """The part of each load that is an impedance: the whole of a soft one."""
    share = np.where(soft, 1.0, t.shares[2])
    return np.asarray(share * np.conj(t.va) / t.rated**2)


def drawn(t: Tableau, across: Phasors, soft: Flags) -> Phasors:
    """Amperes that the loads of constant power and current take at the volts across them."""
    firm = ~soft
    safe = np.where(across != 0, across, 1.0)
    power = np.where(firm, t.shares[0], 0.0) * np.conj(t.va / safe)
    if not t.shares[1].any():
        return power
    current = np.where(firm, t.shares[1], 0.0) * np.conj(t.va) / t.rated
    return np.asarray(power + current * safe / np.abs(safe))


def loop_without_impedance(t: Tableau) -> list[int]:
    """Branches without impedance, sources among them, of which some close a loop."""
    tight = np.flatnonzero(t.z == 0)
    root: dict[int, int] = {}

    def top(node: int) -> int:
        while root.get(node, node) != node:
            node = root[node]
        return node

    for index in tight.tolist():
        one, other = top(int(t.start[index])), top(int(t.end[index]))
        if one == other:
            piece = [i for i in tight.tolist() if top(int(t.start[i])) == one]
            return [*piece] if index in piece else [*piece, index]
        root[one] = other
    return []


@dataclass(slots=True)
class BranchTree:
    """Branches as a tree that grows from earth, its nodes in the order of a walk down.

    ``nodes`` are the nodes but earth in that order, ``after`` the position behind each one's own
    subtree, ``branch`` the branch that leads to it, ``sign`` +1 where that branch starts above.
    """

    nodes: Ints
    after: Ints
    branch: Ints
    sign: Floats

    def below(self, values: Phasors) -> Phasors:
        """Sums over each node's subtree, itself included."""
        sums = np.concatenate((np.zeros(1, dtype=np.complex128), np.cumsum(values)))
        return np.asarray(sums[self.after] - sums[:-1])

    def above(self, values: Phasors) -> Phasors:
        """Sums from earth down to each node, itself included."""
        count = len(values)
        return np.asarray(np.cumsum(values - gathered(self.after, values, count + 1)[:-1]))


def _adjacent(one: Ints, other: Ints, count: int) -> Any:
    """Who stands next to whom, row by row; made here because it is made often."""
    by_row = np.argsort(one * count + other)
    begins = np.zeros(count + 1, dtype=np.int32)
    np.cumsum(np.bincount(one, minlength=count), out=begins[1:])
    ones = np.ones(len(one))
    return csr_array((ones, other[by_row].astype(np.int32), begins), shape=(count, count))


def tree_of(t: Tableau) -> BranchTree | None:
    """The branches as a tree; ``None`` where they close loops or leave nodes apart."""
    count = t.nodes
    if len(t.z) != count - 1 or len(t.core):
        return None
    one, other = np.concatenate((t.start, t.end)), np.concatenate((t.end, t.start))
    order, before = depth_first_order(_adjacent(one, other, count), 0)
    if len(order) != count:
        return None
    # the same walk with the children taken from the other side gives what lies to the right
    last = count - 1
    from_right, _ = depth_first_order(_adjacent(last - one, last - other, count), last)
    place = np.empty(count, dtype=np.int64)
    place[order] = np.arange(count)
    mirror = np.empty(count, dtype=np.int64)
    mirror[last - from_right] = np.arange(count)
    up = np.where(before >= 0, before, 0)
    depth = (before >= 0).astype(np.int64)
    while up.any():  # every round doubles how far up it has counted
        depth = depth + depth[up]
        up = up[up]
    size = count - place - mirror + depth
    nodes = order[1:].astype(np.int64)
    branch = np.empty(count, dtype=np.int64)
    downward = before[t.end] == t.start
    branch[np.where(downward, t.end, t.start)] = np.arange(count - 1)
    return BranchTree(
        nodes,
        (place + size)[nodes] - 1,
        branch[nodes],
        np.where(downward, 1.0, -1.0)[branch[nodes]],
    )


def _sweep(t: Tableau) -> NetworkSolution | None:
    """Tree networks: amperes from the loads by the first law, volts from the amperes by the second,
    again and again. ``None`` where the network is no tree or it does not settle."""
    tree = tree_of(t)
    if tree is None or not t.emf.any():
        return None
    firm = np.zeros(len(t.va), dtype=bool)
    found = Reach(firm, np.ones(t.nodes, dtype=bool), np.zeros(0, dtype=np.int64))
    z, lift = t.z[tree.branch], -t.emf[tree.branch] * tree.sign
    place = np.zeros(t.nodes, dtype=np.int64)
    place[tree.nodes] = np.arange(1, t.nodes)
    plus, minus = place[t.plus], place[t.minus]
    ends = np.concatenate((plus, minus))
    linear = linear_admittance(t, firm)
    some_linear = bool(linear.any())
    v = np.zeros(t.nodes, dtype=np.complex128)  # in the order of the walk, earth first
    v[1:] = tree.above(lift)
    limit = TOLERANCE * float(np.abs(t.emf).max(initial=1.0))
    last = np.inf
    for step in range(1, SETTLES + 1):
        across = v[plus] - v[minus]
        load = drawn(t, across, firm)
        if some_linear:
            load = load + linear * across
        taken = np.concatenate((load, -load))
        amperes = tree.below(gathered(ends, taken, t.nodes)[1:])
        new = tree.above(lift - z * amperes)
        moved = float(np.abs(new - v[1:]).max(initial=0.0))
        v[1:] = new
        if moved <= limit:
            volts = np.zeros(t.nodes, dtype=np.complex128)
            volts[tree.nodes] = new
            branches = np.empty(len(t.z), dtype=np.complex128)
            branches[tree.branch] = amperes * tree.sign
            return _finish(
                t, volts, branches, np.zeros(0, dtype=np.complex128), load, found, step, "sweep"
            )
        if not np.isfinite(moved) or (step > 8 and moved > last):
            return None
        last = moved
    return None


class LeastNorm:
    """What stands for the inverse of a matrix that has none: where coils without impedance close
    a loop whose volts add up to nothing, no current is taken to circulate in it."""

    def __init__(self, matrix: csc_array[Any]) -> None:
        self.inverse = np.linalg.pinv(matrix.toarray(), rcond=1e-11)

    def solve(self, right: Phasors) -> Phasors:
        return np.asarray(self.inverse @ right)


def factored(matrix: csc_array[Any]) -> Any:
    """The matrix, ready to solve with; a singular one by least norm. Raises
    :class:`NoImpedanceError` where it is too large for that."""
    try:
        factor = splu(matrix, permc_spec="COLAMD")
        pivots = np.abs(factor.U.diagonal())
        if float(pivots.min(initial=1.0)) > SINGULAR * float(pivots.max(initial=1.0)):
            return factor
    except RuntimeError as error:
        if matrix.shape[0] > MOST_BY_NORM:
            raise NoImpedanceError([]) from error
    if matrix.shape[0] > MOST_BY_NORM:
        return factor
    return LeastNorm(matrix)


def _by_matrix(t: Tableau, found: Reach, method: Method | None) -> NetworkSolution:
    linear = linear_admittance(t, found.soft)
    matrix, right = equations(t, found.pins, linear, found.live)
    factor = factored(matrix)
    x = factor.solve(right)
    scale = float(np.abs(right).max(initial=1.0))
    if not float(np.abs(matrix @ x - right).max(initial=0.0)) <= CONSISTENT * scale:
        raise NoImpedanceError([])  # ideal coils that close a loop of volts
    limit = TOLERANCE * float(np.abs(t.emf).max(initial=1.0))
    last = np.inf
    if method != "newton":
        for step in range(1, SETTLES + 1):
            load = drawn(t, _across(t, x), found.soft)
            new = factor.solve(right - _injected(t, load, len(right)))
            moved = float(np.abs(new - x)[: t.nodes - 1].max(initial=0.0))
            x = new
            if moved <= limit:
                return _unpack(t, x, found, linear, step, "matrix")
            if not np.isfinite(moved) or (step > 8 and moved > last):
                break
            last = moved
    return _newton(t, found, linear, matrix, right, factor.solve(right))


def _newton(
    t: Tableau,
    found: Reach,
    linear: Phasors,
    matrix: csc_array[Any],
    right: Phasors,
    x: Phasors,
) -> NetworkSolution:
    """Newton's method on real and imaginary parts, the step halved where it makes it worse."""
    size = len(right)
    block = block_array([[matrix.real, -matrix.imag], [matrix.imag, matrix.real]], format="csc")
    limit = TOLERANCE * float(np.abs(t.emf).max(initial=1.0))
    firm = ~found.soft & ((t.shares[0] + t.shares[1]) > 0)
    scale = float(np.abs(right).max(initial=1.0))

    def off(at: Phasors) -> Phasors:
        return np.asarray(
            matrix @ at + _injected(t, drawn(t, _across(t, at), found.soft), size) - right
        )

    wrong = off(x)
    worst = float(np.abs(wrong).max(initial=0.0))
    history = [worst]
    for step in range(1, NEWTON_STEPS + 1):
        slope = block + _slopes(t, _across(t, x), firm, size)
        try:
            delta = splu(slope.tocsc()).solve(-np.concatenate((wrong.real, wrong.imag)))
        except RuntimeError:
            break
        change = delta[:size] + 1j * delta[size:]
        part = 1.0
        while part > 1e-4:
            trial = x + part * change
            new = off(trial)
            if float(np.abs(new).max(initial=0.0)) < worst or worst < 1e-12 * scale:
                break
            part /= 2
        else:
            break
        x, wrong = trial, new
        worst = float(np.abs(wrong).max(initial=0.0))
        history.append(worst)
        if step > STALLED_AFTER and worst > 0.5 * history[-1 - STALLED_AFTER] > 1e-9 * scale:
            break
        if part * float(np.abs(change)[: t.nodes - 1].max(initial=0.0)) <= limit:
            return _unpack(t, x, found, linear, step, "newton")
    across = np.abs(_across(t, x)) / t.rated
    raise NotSettledError(int(np.argmin(np.where(firm, across, np.inf))))


def _slopes(t: Tableau, across: Phasors, firm: Flags, size: int) -> Any:
    """How the loads' currents change with the volts: I = a dV + b dV*, as a real matrix."""
    v = np.where(np.abs(across) > 0, across, 1.0)
    magnitude = np.abs(v)
    current = t.shares[1] * np.conj(t.va) / t.rated
    a = np.where(firm, current / (2 * magnitude), 0)
    b = np.where(
        firm,
        -t.shares[0] * np.conj(t.va) / np.conj(v) ** 2 - current * v**2 / (2 * magnitude**3),
        0,
    )
    count = np.arange(len(t.va))
    row = np.concatenate((t.plus, t.minus))
    keep = row > 0
    ones = np.ones(len(t.va))
    reach_of = coo_array(
        (
            np.concatenate((ones, -ones))[keep],
            (row[keep] - 1, np.concatenate((count, count))[keep]),
        ),
        shape=(size, len(t.va)),
    ).tocsc()

    def stamped(values: Any) -> Any:
        return reach_of @ diags_array(values) @ reach_of.T

    return block_array(
        [
            [stamped((a + b).real), stamped((b - a).imag)],
            [stamped((a + b).imag), stamped((a - b).real)],
        ],
        format="csc",
    )


def _across(t: Tableau, x: Phasors) -> Phasors:
    volts = np.concatenate((np.zeros(1, dtype=np.complex128), x[: t.nodes - 1]))
    return volts[t.plus] - volts[t.minus]


def _injected(t: Tableau, load: Phasors, size: int) -> Phasors:
    """The loads' currents as they leave the nodes, without earth."""
    return gathered(np.concatenate((t.plus, t.minus)), np.concatenate((load, -load)), size + 1)[1:]


def _unpack(
    t: Tableau, x: Phasors, found: Reach, linear: Phasors, step: int, method: Method
) -> NetworkSolution:
    volts = np.concatenate((np.zeros(1, dtype=np.complex128), x[: t.nodes - 1]))
    branches, coils = currents(t, volts, x[t.nodes - 1 :])
    across = volts[t.plus] - volts[t.minus]
    load = drawn(t, across, found.soft) + linear * across
    return _finish(t, volts, branches, coils, load, found, step, method)


def _finish(
    t: Tableau,
    volts: Phasors,
    branches: Phasors,
    coils: Phasors,
    load: Phasors,
    found: Reach,
    step: int,
    method: Method,
) -> NetworkSolution:
    sums = np.abs(leaving(t, branches, coils, load))
    sums[0] = 0.0
    most = max(float(np.abs(branches).max(initial=0.0)), float(np.abs(load).max(initial=0.0)))
    return NetworkSolution(
        volts,
        branches,
        coils,
        load,
        found,
        step,
        method,
        float(sums.max(initial=0.0)) / most if most else 0.0,
    )
