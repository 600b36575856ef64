"""What a feed's wires are to this code: how many of them count, how many have the line's size."""

from __future__ import annotations

from voltaje.core.rules.interface import Feed
from voltaje.core.rules.north_america.alternatives import Wires
from voltaje.core.rules.north_america.wiring import counted_conductors


def counted(feed: Feed) -> int:
    """Current-carrying conductors of one set."""
    return counted_conductors(feed.lines, feed.has_neutral, feed.wye_pair, feed.nonlinear)


def full_wires(feed: Feed) -> Wires:
    """The conductors of the line's size."""
    return Wires(feed.lines + (1 if feed.has_neutral and not feed.neutral_size else 0))
