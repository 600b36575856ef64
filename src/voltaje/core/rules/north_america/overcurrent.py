"""Standard devices and the rounding of amperes."""

from __future__ import annotations

from functools import lru_cache
from math import floor

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.report import Text, figure, fits, say

# no code figures: what rounds up, what a rounding must change to be told, how many are shown
HALF, SHOWN, SHOWN_DEVICES = 0.5, 0.005, 4


def whole_amperes(amperes: float) -> int:
    """Nearest whole ampere; a fraction below 0.5 is dropped (220.5(B))."""
    return floor(amperes + HALF + 1e-9 * max(1.0, abs(amperes)))


def rounding_note(amperes: float) -> Text | None:
    """What the rounding did, or ``None`` where it did nothing."""
    whole = whole_amperes(amperes)
    if abs(whole - amperes) < SHOWN:
        return None
    return say("{exact} A is taken as {whole} A", exact=amperes, whole=whole)


def next_standard_device(amperes: float, edition: Edition) -> Cell:
    """The smallest standard rating that carries ``amperes`` (240.6(A)).

    Raises :class:`NotCoveredError` above the largest standard rating.
    """
    for rating in edition.cells("standard_devices", "A").values():
        if fits(amperes, rating.value):
            return rating
    raise NotCoveredError(
        edition.title, say("a standard device for {amperes} A", amperes=figure(amperes, 0))
    )


def previous_standard_device(rating: float, edition: Edition) -> float:
    """The largest standard rating below ``rating``, or 0."""
    return max((size for size in standard_ratings(edition) if size < rating), default=0.0)


@lru_cache(maxsize=64)
def standard_ratings(edition: Edition) -> tuple[float, ...]:
    """The standard ratings of fuses and inverse-time breakers, A, rising."""
    return tuple(cell.value for cell in edition.cells("standard_devices", "A").values())


def largest_rating(edition: Edition) -> float:
    """The largest standard rating, A: where no rule sets a lower one."""
    return standard_ratings(edition)[-1]


def devices_between(
    least: float,
    most: float,
    edition: Edition,
    count: int = SHOWN_DEVICES,
    ratings: tuple[float, ...] = (),
) -> tuple[float, ...]:
    """Up to ``count`` ratings from the first that carries ``least`` to ``most``, A: of the standard
    ones, or of those ``ratings``, rising."""
    found: list[float] = []
    for rating in ratings or standard_ratings(edition):
        if len(found) == count or not fits(rating, most):
            break
        if fits(least, rating):
            found.append(rating)
    return tuple(found)
