"""Loads that never run together: of each name the largest alternative counts, in every family."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.core.electrical.systems import Piece


@dataclass(frozen=True, slots=True)
class NoncoincidentGroup:
    """Loads of one name that never run together: the one that is ``kept``, what is ``left`` out by
    index, and its VA."""

    name: str
    kept: int
    left: tuple[int, ...]
    off: float


def noncoincident(pieces: Sequence[Piece], shares: list[float]) -> list[NoncoincidentGroup]:
    """What of each name is left out; its ``shares``, VA by the order of the pieces, become 0."""
    found = []
    for name in dict.fromkeys(p.group for p in pieces if p.group):
        members = [i for i, p in enumerate(pieces) if p.group == name]
        # the pieces of one entered row run together: they are one alternative
        ways: dict[tuple[str, str], list[int]] = {}
        for i in members:
            ways.setdefault((pieces[i].part, pieces[i].choice or f"#{i}"), []).append(i)
        kept = max(ways.values(), key=lambda way: (sum(pieces[i].calculated for i in way), -way[0]))
        left = tuple(i for i in members if i not in kept)
        if left:
            off = sum(shares[i] for i in left)
            for i in left:
                shares[i] = 0.0
            found.append(NoncoincidentGroup(name, kept[0], left, off))
    return found
