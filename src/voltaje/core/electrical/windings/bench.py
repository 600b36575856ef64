"""Coils, joints and sources as a network, and the volts between any two ends."""

from __future__ import annotations

import cmath
from collections.abc import Mapping, Sequence
from math import pi, sqrt
from typing import TYPE_CHECKING

from voltaje.core.electrical.network import Conductor, Core, Load, Network, Source

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution

Joint = tuple[str, str]


def joined(
    cores: Sequence[Core],
    joints: Sequence[Joint],
    sources: Sequence[Source],
    loads: Sequence[Load] = (),
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
