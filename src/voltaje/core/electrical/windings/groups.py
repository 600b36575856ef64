"""The connection group of a three-phase bank, from its solved phasors and its joints.

A group is the letter of the high-voltage side, that of the low-voltage side, and the hour to which
the low side's first phasor points while the high side's stands at twelve; it lags clockwise
(IEC 60076-1).
"""

from __future__ import annotations

import cmath
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import degrees
from typing import TYPE_CHECKING

from voltaje.core.electrical.network import Coil, Core, ElementError, Network, solution_or_none
from voltaje.core.electrical.windings.bench import contracted, to_star

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution

# how far, in degrees and as a share, a set may be from three equal phasors
ANGLE, SIZE = 1.0, 0.01
USUAL = {
    "Dd": (0, 2, 4, 6, 8, 10),
    "Yy": (0, 6),
    "Dy": (1, 5, 7, 11),
    "Yd": (1, 5, 7, 11),
    "Dz": (0, 2, 4, 6, 8, 10),
    "Yz": (1, 5, 7, 11),
}


@dataclass(frozen=True, slots=True)
class VectorGroup:
    """``name`` such as ``Dy11`` where the bank is a standard one, else empty; the letters, the hour
    (``None`` where the phasors are no even set), whether both sides follow the same sequence, and
    the lines' phasors of both sides from their middle, V."""

    name: str
    letters: str
    hour: int | None
    same_sequence: bool
    high: tuple[complex, ...]
    low: tuple[complex, ...]


def group_of(solution: Solution, high: Sequence[str], low: Sequence[str]) -> VectorGroup:
    """The group of a bank whose lines are ``high`` and ``low``, three nodes each."""
    volts = solution.waves[1].volts
    one, other = to_star(volts, high), to_star(volts, low)
    letters = _letter(solution, high).upper() + _letter(solution, low)
    even = _even(one) and _even(other)
    same = even and _turns(one) == _turns(other)
    hour = None
    if even and same:
        lag = degrees(cmath.phase(one[0] / other[0])) * (1 if _turns(one) < 0 else -1)
        if abs(lag / 30 - round(lag / 30)) * 30 <= ANGLE:
            hour = round(lag / 30) % 12
    name = f"{letters}{hour}" if hour in USUAL.get(letters, ()) else ""
    return VectorGroup(name, letters, hour, same, tuple(one), tuple(other))


def mended_by(
    network: Network, high: Sequence[str], low: Sequence[str], most: int = 2
) -> tuple[tuple[str, ...], VectorGroup] | None:
    """The fewest coils, at most two, that turned round make the bank a standard one, and which. Of
    several the one that gives the most volts, so that no coil works against another. Coils of the
    most volts on their core are tried last: turning those is turning all others of it."""
    try:
        network, place = contracted(network)
        high, low = [place[line] for line in high], [place[line] for line in low]
    except ElementError:  # a coil shorted upon itself: as it stands, joint by joint
        pass
    most_of = {
        coil.name: max(c.turns for c in core.coils) for core in network.cores for coil in core.coils
    }
    first = [coil.name for coil in network.coils if coil.turns < most_of[coil.name]]
    last = [coil.name for coil in network.coils if coil.name not in first]
    for count in range(1, most + 1):
        for coils in (first, last) if count == 1 else ((*first, *last),):
            best: tuple[tuple[str, ...], VectorGroup] | None = None
            for turned in combinations(coils, count):
                solution = solution_or_none(reversed_coils(network, turned))
                found = group_of(solution, high, low) if solution else None
                if found is None or not found.name:
                    continue
                if best is None or abs(found.low[0]) > abs(best[1].low[0]) * (1 + SIZE):
                    best = turned, found
            if best is not None:
                return best
    return None


def reversed_coils(network: Network, names: Sequence[str]) -> Network:
    """The network with those coils turned round, end for end."""

    def turned(coil: Coil) -> Coil:
        return replace(coil, start=coil.end, end=coil.start) if coil.name in names else coil

    cores = tuple(Core(c.name, tuple(map(turned, c.coils)), c.magnetizing) for c in network.cores)
    return replace(network, cores=cores)


def _even(phasors: Sequence[complex]) -> bool:
    """Three phasors of one size, a third of a turn apart."""
    size = abs(phasors[0])
    if size < 1e-9 or any(abs(abs(p) / size - 1) > SIZE for p in phasors):
        return False
    first, second = _turns(phasors), _turns(phasors[1:])
    return abs(abs(first) - 120) <= ANGLE and abs(second - first) <= 2 * ANGLE


def _turns(phasors: Sequence[complex]) -> float:
    """Degrees from the first phasor to the second: −120 in the usual sequence."""
    return round(degrees(cmath.phase(phasors[1] / phasors[0])), 3)


def _letter(solution: Solution, lines: Sequence[str]) -> str:
    """``d``, ``y`` or ``z`` by how the coils behind those lines hang together, else ``?``."""
    place = solution.joints
    ends = [place(line) for line in lines]
    coils = [(place(c.start), place(c.end)) for c in solution.network.coils]
    cores = [core.name for core in solution.network.cores for _ in core.coils]
    between = [{one, other} for one, other in coils]
    if all({ends[i], ends[j]} in between for i, j in ((0, 1), (1, 2), (0, 2))):
        return "d"
    hung = list(zip(coils, cores, strict=True))
    reach: list[Mapping[str, set[str]]] = []
    for end in ends:  # how far one coil, then another of a different core, leads
        first = {_far(pair, end): core for pair, core in hung if end in pair}
        second = {
            _far(pair, middle)
            for middle, own in first.items()
            for pair, core in hung
            if middle in pair and core != own
        }
        reach.append({"y": set(first), "z": second - {end}})
    for letter in ("y", "z"):
        if set.intersection(*(found[letter] for found in reach)) - set(ends):
            return letter
    return "?"


def _far(pair: tuple[str, str], end: str) -> str:
    return pair[1] if pair[0] == end else pair[0]
