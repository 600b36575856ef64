"""The neutral of a dwelling's service or feeder, 220.61."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.core.worksheet import fits

RANGE_AND_DRYER_FACTOR = 0.70
FULL_AMPERES = 200.0
EXCESS_FACTOR = 0.70


def reduced_above_200(amperes: float) -> float:
    """Amperes of unbalanced load after the 70 % on what exceeds 200 A (220.61(B)(2))."""
    if fits(amperes, FULL_AMPERES):
        return amperes
    return FULL_AMPERES + EXCESS_FACTOR * (amperes - FULL_AMPERES)


def paired(on_l1: Sequence[float], on_l2: Sequence[float]) -> float:
    """Neutral amperes of 120 V loads on two lines: the largest on one line is set against the
    largest on the other, and of each pair the larger counts, as annex D1(b) does it. Never less
    than the heavier line, whichever loads happen to run."""
    one, two = sorted(on_l1, reverse=True), sorted(on_l2, reverse=True)
    length = max(len(one), len(two))
    one += [0.0] * (length - len(one))
    two += [0.0] * (length - len(two))
    return sum(max(a, b) for a, b in zip(one, two, strict=True))
