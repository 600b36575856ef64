"""A network, solved, with its names."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from math import sqrt

import numpy as np

from voltaje.core.electrical.network.capacity import largest_share
from voltaje.core.electrical.network.elements import (
    EARTH,
    Coil,
    Conductor,
    ElementError,
    Network,
    NetworkLoad,
    NoSolutionError,
    ShortError,
    Source,
)
from voltaje.core.electrical.network.harmonics import orders, solve_order
from voltaje.core.electrical.network.solve import (
    Method,
    NoImpedanceError,
    NotSettledError,
    solve,
)
from voltaje.core.electrical.network.tableau import Phasors, Tableau
from voltaje.core.report import say

NO_VOLTS = 0.01


@dataclass(frozen=True, slots=True)
class Wave:
    """Phasors of one order: volts of the nodes, amperes of the elements."""

    volts: Mapping[str, complex]
    amperes: Mapping[str, complex]


@dataclass(frozen=True, slots=True)
class Solution:
    """Volts and amperes by name.

    ``waves`` holds the phasors by order, 1 the fundamental. Amperes: in a conductor from its start
    to its end, out of a source's plus, into a load's plus and into a coil's dotted end.
    ``dead`` are nodes that no source reaches, ``floating`` those from which the volts of a piece
    without earth are counted, ``series`` loads that stand in series with others behind an opening
    and are taken as impedances. ``mismatch`` is Kirchhoff's first law checked on the answer: the
    largest sum at a node over the largest current.
    """

    network: Network
    waves: Mapping[int, Wave]
    dead: tuple[str, ...]
    floating: tuple[str, ...]
    series: tuple[str, ...]
    iterations: int
    method: Method
    mismatch: float
    powers: Mapping[str, complex] = field(default_factory=dict)

    def volts(self, plus: str, minus: str = EARTH) -> float:
        """Rms volts between two nodes, all orders."""
        return sqrt(sum(abs(w.volts[plus] - w.volts[minus]) ** 2 for w in self.waves.values()))

    def phasor(self, plus: str, minus: str = EARTH) -> complex:
        """The fundamental between two nodes."""
        return self.waves[1].volts[plus] - self.waves[1].volts[minus]

    def amperes(self, name: str) -> float:
        """Rms amperes of an element, all orders."""
        return sqrt(sum(abs(w.amperes[name]) ** 2 for w in self.waves.values()))

    def current(self, name: str) -> complex:
        """The fundamental in an element, with its direction."""
        return self.waves[1].amperes[name]

    def load_volts(self, name: str) -> float:
        """Rms volts across a load. Raises ``KeyError``."""
        for load in self.network.loads:
            if load.name == name:
                return self.volts(load.plus, load.minus)
        raise KeyError(name)

    def loss(self, name: str) -> float:
        """Watts lost in a conductor, a coil or behind a source, all orders. Raises ``KeyError``."""
        every: list[Source | Conductor | Coil] = [
            *self.network.conductors,
            *self.network.coils,
            *self.network.sources,
        ]
        for item in every:
            if item.name == name:
                return self.amperes(name) ** 2 * complex(item.impedance).real
        raise KeyError(name)

    def joints(self, node: str) -> str:
        """The one node that stands for all that closed conductors without impedance tie to it."""
        return _roots(self.network, ideal=True).get(node, node)

    def tied(self, one: str, other: str) -> bool:
        """Whether anything that conducts ties the two together, so that a meter reads between them:
        conductors, coils, sources, loads, not the flux of a core."""
        roots = _roots(self.network, ideal=False)
        return roots.get(one, one) == roots.get(other, other)

    @property
    def losses(self) -> float:
        """Watts lost in all conductors."""
        return sum(
            self.amperes(item.name) ** 2 * complex(item.impedance).real
            for item in self.network.conductors
        )


def solved(network: Network, method: Method | None = None) -> Solution:
    """Solves a network.

    Raises :class:`NoSolutionError` where the loads are more than can be carried, and
    :class:`ElementError` for loops without impedance and loads between conductors of one
    potential.
    """
    try:
        return _solved(network, method)
    except NoImpedanceError as error:
        branches: list[Source | Conductor] = [*network.sources, *_closed(network)]
        found = [branches[i].name for i in error.branches if i < len(branches)]
        _name_the_short(network, error)
        if not found:
            ideal = [coil.name for coil in network.coils if not coil.impedance]
            raise ElementError(
                ideal[-1] if ideal else "network",
                "impedance",
                say(
                    "its windings close a loop without impedance: give the transformer its"
                    " impedance"
                ),
            ) from error
        raise ElementError(
            found[-1],
            "impedance",
            say(
                "it closes a loop without impedance with {others}: nothing divides the current"
                " between them; give one of them a length",
                others=", ".join(found[:-1]),
            ),
        ) from error


def solution_or_none(network: Network) -> Solution | None:
    """The network solved; ``None``, without a reason, where it cannot be."""
    try:
        return _solved(network, None)
    except (NoImpedanceError, ElementError, NoSolutionError):
        return None


def _solved(network: Network, method: Method | None) -> Solution:
    """Raises :class:`NoImpedanceError` where a loop has no impedance."""
    names = _nodes(network)
    t = _tableau(network, names)
    try:
        base = solve(t, method)
    except NotSettledError as error:
        _check_no_load(t, network)
        raise NoSolutionError(network.loads[error.worst].name, largest_share(t)) from error
    waves = {1: _wave(network, names, base.volts, base.branches, base.coils, base.loads)}
    for order, shares in orders([load.harmonics for load in network.loads]).items():
        w = solve_order(t, base, order, shares)
        waves[order] = _wave(network, names, w.volts, w.branches, w.coils, w.loads)
    by_index = list(names)
    return Solution(
        network,
        waves,
        tuple(
            name
            for name, live in zip(by_index, base.reach.live, strict=True)
            if not live and name != EARTH
        ),
        tuple(by_index[i] for i in base.reach.pins if base.reach.live[i]),
        tuple(load.name for load, soft in zip(network.loads, base.reach.soft, strict=True) if soft),
        base.iterations,
        base.method,
        base.mismatch,
        _powers(network, waves[1]),
    )


@lru_cache(maxsize=64)
def _roots(network: Network, ideal: bool) -> Mapping[str, str]:
    """For each node the one that stands for its piece: of ``ideal`` conductors alone, or of all."""
    top: dict[str, str] = {}

    def root(node: str) -> str:
        while top.get(node, node) != node:
            node = top[node]
        return node

    pairs = [(c.start, c.end) for c in _closed(network) if not (ideal and c.impedance)]
    if not ideal:
        pairs += [(coil.start, coil.end) for coil in network.coils]
        pairs += [(source.plus, source.minus) for source in network.sources]
        pairs += [(load.plus, load.minus) for load in network.loads]
    for one, other in pairs:
        top[root(other)] = root(one)
    return {node: root(node) for pair in pairs for node in pair}


def _name_the_short(network: Network, error: NoImpedanceError) -> None:
    """Raises :class:`ShortError` for the joint that cannot be closed, and the volts across it: the
    joints are closed one after the other, as hands would, until one is closed on volts."""
    joints = [c for c in network.conductors if not c.impedance and not c.open]

    def closed_up_to(count: int) -> Solution | None:
        apart = {joint.name for joint in joints[count:]}
        left = tuple(replace(c, open=c.open or c.name in apart) for c in network.conductors)
        return solution_or_none(replace(network, conductors=left))

    low, high = (
        0,
        len(joints),
    )  # with the first ``low`` closed it has a solution, with ``high`` none
    good = closed_up_to(0)
    if good is None or not joints:
        return
    while high - low > 1:
        middle = (low + high) // 2
        found = closed_up_to(middle)
        if found is None:
            high = middle
        else:
            low, good = middle, found
    joint = joints[low]
    across = good.phasor(joint.start, joint.end)
    if abs(across) > NO_VOLTS:
        raise ShortError(joint.name, across) from error


def _closed(network: Network) -> list[Conductor]:
    return [item for item in network.conductors if not item.open]


def _nodes(network: Network) -> dict[str, int]:
    names = {EARTH: 0}
    for source in network.sources:
        names.setdefault(source.minus, len(names))
        names.setdefault(source.plus, len(names))
    for item in network.conductors:
        names.setdefault(item.start, len(names))
        names.setdefault(item.end, len(names))
    for coil in network.coils:
        names.setdefault(coil.start, len(names))
        names.setdefault(coil.end, len(names))
    for load in network.loads:
        names.setdefault(load.plus, len(names))
        names.setdefault(load.minus, len(names))
    return names


def _tableau(network: Network, names: Mapping[str, int]) -> Tableau:
    closed = _closed(network)
    start = [*(s.plus for s in network.sources), *(c.start for c in closed)]
    end = [*(s.minus for s in network.sources), *(c.end for c in closed)]
    z = [*(s.impedance for s in network.sources), *(c.impedance for c in closed)]
    emf = [*(s.volts for s in network.sources), *[0j] * len(closed)]
    coils = network.coils
    most = [max(coil.turns for coil in core.coils) for core in network.cores]
    core = [index for index, one in enumerate(network.cores) for _ in one.coils]
    loads = network.loads
    return Tableau(
        len(names),
        np.array([names[n] for n in start], dtype=np.int64),
        np.array([names[n] for n in end], dtype=np.int64),
        np.array(z, dtype=np.complex128),
        np.array(emf, dtype=np.complex128),
        np.array([names[load.plus] for load in loads], dtype=np.int64),
        np.array([names[load.minus] for load in loads], dtype=np.int64),
        np.array([load.va for load in loads], dtype=np.complex128),
        np.array([load.volts for load in loads], dtype=np.float64),
        np.array([[load.power, load.current, load.constant] for load in loads], dtype=np.float64)
        .reshape(-1, 3)
        .T,
        np.array([names[coil.start] for coil in coils], dtype=np.int64),
        np.array([names[coil.end] for coil in coils], dtype=np.int64),
        np.array([coil.impedance for coil in coils], dtype=np.complex128),
        np.array([c.turns / most[i] for c, i in zip(coils, core, strict=True)], dtype=np.float64),
        np.array(core, dtype=np.int64),
        np.array(
            [one.magnetizing / n**2 for one, n in zip(network.cores, most, strict=True)],
            dtype=np.complex128,
        ),
    )


def _wave(
    network: Network,
    names: Mapping[str, int],
    volts: Phasors,
    branches: Phasors,
    coils: Phasors,
    loads: Phasors,
) -> Wave:
    amperes: dict[str, complex] = {}
    found = iter(branches.tolist())
    for source in network.sources:
        amperes[source.name] = -next(found)
    for item in network.conductors:
        amperes[item.name] = 0j if item.open else next(found)
    amperes.update(zip((coil.name for coil in network.coils), coils.tolist(), strict=True))
    amperes.update(zip((load.name for load in network.loads), loads.tolist(), strict=True))
    return Wave(dict(zip(names, volts.tolist(), strict=True)), amperes)


def _powers(network: Network, wave: Wave) -> dict[str, complex]:
    """VA that each source gives and each load takes at the fundamental."""
    found = {}
    items: list[Source | NetworkLoad] = [*network.sources, *network.loads]
    for item in items:
        across = wave.volts[item.plus] - wave.volts[item.minus]
        found[item.name] = across * wave.amperes[item.name].conjugate()
    return found


def _check_no_load(t: Tableau, network: Network) -> None:
    """A load between two conductors of one potential gets no volts however small it is."""
    bare = solve(replace(t, va=np.zeros_like(t.va)))
    across = np.abs(bare.volts[t.plus] - bare.volts[t.minus]) / t.rated
    for load, ratio, soft in zip(network.loads, across, bare.reach.soft, strict=True):
        if ratio < NO_VOLTS and not soft:
            raise ElementError(
                load.name,
                "minus",
                say("both its ends stand on conductors of the same potential: it gets no volts"),
            )
