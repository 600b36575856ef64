"""Devices in stock, as a job keeps them: ratings in A with spaces between."""

from __future__ import annotations

import re

from voltaje.core.quantities import CURRENT, UnreadableError, read
from voltaje.core.report import figure

MOST_RATING, MOST_RATINGS = 6000.0, 40  # no code figures: A, and how many
_BETWEEN = re.compile(r"[\s;,]+")


def stock_of(text: str) -> str:
    """Ratings as they are typed (``15, 20 A, 30``) in their order, each once. Raises
    ``ValueError``."""
    plain = re.sub(r"(?<=\d)\s*A\b", "", text, flags=re.IGNORECASE)
    found: set[float] = set()
    for one in filter(None, _BETWEEN.split(plain)):
        try:
            value = read(one, CURRENT)
        except UnreadableError as error:
            raise ValueError(one) from error
        if not 0 < value <= MOST_RATING:
            raise ValueError(one)
        found.add(value)
    if len(found) > MOST_RATINGS:
        raise ValueError(text)
    return " ".join(figure(value, 1).replace(",", "") for value in sorted(found))
