"""Standard devices and the rounding of amperes."""

from __future__ import annotations

from math import floor

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.worksheet import Text, fits, say


def whole_amperes(amperes: float) -> int:
    """Nearest whole ampere; a fraction below 0.5 is dropped (220.5(B))."""
    return floor(amperes + 0.5 + 1e-9 * max(1.0, abs(amperes)))


def rounding_note(amperes: float) -> Text | None:
    """What the rounding did, or ``None`` where it did nothing."""
    whole = whole_amperes(amperes)
    if abs(whole - amperes) < 0.005:
        return None
    return say("{exact} A is taken as {whole} A", exact=amperes, whole=whole)


def next_standard_device(amperes: float, edition: Edition) -> Cell:
    """The smallest standard rating that carries ``amperes`` (240.6(A)).

    Raises :class:`NotCoveredError` above the largest standard rating.
    """
    for position, rating in edition.table("standard_devices").column("A").items():
        if fits(amperes, rating):
            return Cell(rating, edition.rule("standard_devices", position, "A"))
    raise NotCoveredError(edition.title, f"a standard device for {amperes:,.0f} A")


def previous_standard_device(rating: float, edition: Edition) -> float:
    """The largest standard rating below ``rating``, or 0."""
    sizes = edition.table("standard_devices").column("A").values()
    return max((size for size in sizes if size < rating), default=0.0)
