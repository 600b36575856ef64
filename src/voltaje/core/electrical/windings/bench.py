"""Coils, joints and sources as a network, and the volts between any two ends."""

from __future__ import annotations

import cmath
from collections.abc import Mapping, Sequence
from dataclasses import replace
from math import pi, sqrt
from typing import TYPE_CHECKING

from voltaje.core.electrical.network import (
    EARTH,
    Coil,
    Conductor,
    Core,
    Network,
    NetworkLoad,
    Source,
)

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution

Joint = tuple[str, str]
# common practice for small units: a fifth of the impedance is resistance, and what magnetizes them
# is 1 % of their rated amperes
RESISTIVE, REACTIVE, MAGNETIZING = 0.2, 0.98, 0.01


def small_unit(name: str, coils: Sequence[Coil], va: float, percent: float) -> Core:
    """A unit of those coils, by their rated volts: half of its ``percent`` of impedance, as it is
    measured between two windings, in each, and what magnetizes it, which settles where a star point
    stands that nothing else ties down."""
    share = complex(RESISTIVE, REACTIVE) * percent / 100 / 2
    leaking = (replace(c, impedance=share * c.turns**2 / va) if percent else c for c in coils)
    return Core(name, tuple(leaking), -1j * MAGNETIZING * va)


def joined(
    cores: Sequence[Core],
    joints: Sequence[Joint],
    sources: Sequence[Source],
    loads: Sequence[NetworkLoad] = (),
    conductors: Sequence[Conductor] = (),
) -> Network:
    """The network of coils joined end to end. A joint is named ``H1–X2``; one between ends that
    others tie together already adds nothing and is left out."""
    top: dict[str, str] = {}

    def root(end: str) -> str:
        while end in top:
            end = top[end]
        return end

    links = []
    for one, other in joints:
        first, second = root(one), root(other)
        if first != second:
            top[second] = first
            links.append(Conductor(f"{one}–{other}", one, other))
    return Network(tuple(sources), (*links, *conductors), tuple(loads), tuple(cores))


def contracted(network: Network) -> tuple[Network, Mapping[str, str]]:
    """The same with all that closed conductors without impedance tie together as one node, and the
    node of each name: many times smaller, without currents in the joints. Raises ``ElementError``
    where a coil or a source has both its ends on one node."""
    top: dict[str, str] = {}

    def root(node: str) -> str:
        while top.get(node, node) != node:
            node = top[node]
        return node

    links = [c for c in network.conductors if not c.impedance and not c.open]
    for link in links:
        one, other = root(link.start), root(link.end)
        if one != other:
            # the earth stays what it is
            one, other = (other, one) if other == EARTH else (one, other)
            top[other] = one
    ends = [(s.plus, s.minus) for s in network.sources]
    ends += [(load.plus, load.minus) for load in network.loads]
    ends += [(item.start, item.end) for item in network.conductors]
    ends += [(coil.start, coil.end) for coil in network.coils]
    place = {node: root(node) for pair in ends for node in pair}
    found = Network(
        tuple(replace(s, plus=place[s.plus], minus=place[s.minus]) for s in network.sources),
        tuple(
            replace(c, start=place[c.start], end=place[c.end])
            for c in network.conductors
            if c.impedance or c.open
        ),
        tuple(replace(one, plus=place[one.plus], minus=place[one.minus]) for one in network.loads),
        tuple(
            replace(
                core,
                coils=tuple(replace(c, start=place[c.start], end=place[c.end]) for c in core.coils),
            )
            for core in network.cores
        ),
    )
    return found, place


def across(solution: Solution, one: str, other: str) -> complex | None:
    """The phasor from ``one`` to ``other``, as a voltmeter reads it; ``None`` where nothing ties
    the two together, so that there is nothing to read."""
    if not solution.tied(one, other):
        return None
    return solution.phasor(one, other)


def phases_of(line_to_line: float, ends: Sequence[str], star: str) -> tuple[Source, ...]:
    """Three sources in star that give ``line_to_line`` V, the first at zero degrees, each a third
    of a turn after the one before."""
    volts = line_to_line / sqrt(3)
    return tuple(
        Source(f"line {end}", end, star, cmath.rect(volts, -2 * pi * index / 3))
        for index, end in enumerate(ends)
    )


def to_star(volts: Mapping[str, complex], lines: Sequence[str]) -> list[complex]:
    """Three lines' phasors counted from their middle."""
    found = [volts[line] for line in lines]
    middle = sum(found) / len(found)
    return [one - middle for one in found]
