"""When a fuse opens: the generic band of gG fuse-links, between its earliest and its latest.

Points of the band by IEC 60269-1; between them straight on logarithmic paper. A rating that the
table does not have takes the next one below, in multiples of its rating.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from math import exp, log

from voltaje.core.codes import Cell, practice
from voltaje.core.report import Rule, Text, figure, fits, say

HOUR, MINUTE = 3600.0, 60.0  # no code figures: s
SLOW_LEAST, SLOW_MOST, FAST = 10.0, 5.0, 0.1  # no code figures: s that the gates are given for


@dataclass(frozen=True, slots=True)
class FuseOpening:
    """A of a fuse of that ``rating``: whether it ``carries`` them for good, the earliest and the
    latest s at which it opens (``None``: it need not)."""

    rating: float
    amperes: float
    carries: bool
    earliest: float
    latest: float | None
    rules: tuple[Rule, ...]


def opening(rating: float, amperes: float) -> FuseOpening:
    """When a gG fuse opens at a steady current, both in A."""
    book = practice()
    carries, opens = book.limit("fuse_carries"), book.limit("fuse_opens")
    hours = _hours(rating)
    topic = "fuse_gates"
    rows = book.rows(topic)
    row = next((row for row in reversed(rows) if float(row) <= rating), rows[0])
    at = {name: book.cell(topic, row, name).value / float(row) for name in book.columns(topic)}
    rules = (carries.rule, hours.rule)
    share, hour = amperes / rating, hours.value * HOUR
    least = ((carries.value, hour), (at["least at 10 s"], SLOW_LEAST), (at["least at 0.1 s"], FAST))
    most = ((opens.value, hour), (at["most at 5 s"], SLOW_MOST), (at["most at 0.1 s"], FAST))
    if fits(amperes, rating):
        return FuseOpening(rating, amperes, True, float("inf"), None, rules)
    earliest = _between(least, share) if share > carries.value else hour
    latest = _between(most, share) if share >= opens.value else None
    return FuseOpening(rating, amperes, False, earliest, latest, rules)


def _hours(rating: float) -> Cell:
    book, topic = practice(), "fuse_hours"
    rows = book.rows(topic)
    return book.cell(topic, next((r for r in rows if rating <= float(r)), rows[-1]), "hours")


def _between(points: tuple[tuple[float, float], ...], share: float) -> float:
    """Seconds at a multiple of the rating, on logarithmic paper; the last point holds beyond."""
    for (one, slow), (other, fast) in pairwise(points):
        if share <= other:
            along = log(share / one) / log(other / one)
            return exp(log(slow) + along * (log(fast) - log(slow)))
    return points[-1][1]


def when(found: FuseOpening) -> Text:
    """About when it opens, in words."""
    if found.carries:
        return say("carried")
    if found.latest is None:
        return say("opens after {earliest} at the earliest, or not", earliest=_time(found.earliest))
    return say(
        "opens within {earliest} to {latest}",
        earliest=_time(found.earliest),
        latest=_time(found.latest),
    )


def _time(seconds: float) -> str:
    if seconds >= HOUR:
        return f"{figure(seconds / HOUR, 1)} h"
    if seconds >= MINUTE:
        return f"{figure(seconds / MINUTE, 0)} min"
    return f"{figure(seconds, 1)} s"
