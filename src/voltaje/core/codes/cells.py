"""What may stand in a cell in place of what is printed there: a local amendment's value."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from voltaje.core.codes.table import Table

FACTOR = 10.0
YES_NO = ("no", "yes")
LARGEST_SIZE = 5000  # kcmil: sums of conductors in parallel stand in some tables
_FIGURE = re.compile(r"^[0-9]{1,7}(\.[0-9]{1,6})?$")
_SIZE = re.compile(r"^[1-4]/0$")


@dataclass(frozen=True, slots=True)
class Span:
    """What a cell accepts: figures from ``low`` to ``high``, or one of ``choices``; neither where
    nothing can be amended. ``words`` says it."""

    words: str
    low: float = 0.0
    high: float = 0.0
    choices: tuple[str, ...] = ()
    whole: bool = False

    @property
    def open(self) -> bool:
        """Whether the cell can be amended at all."""
        return bool(self.choices) or self.high > 0

    def problem(self, value: str) -> str:
        """Why a value is not accepted, in words that say what is; ``""`` where it is."""
        if value in self.choices:
            return ""
        if self.high and _FIGURE.match(value) and self.low <= float(value) <= self.high:
            return "" if not self.whole or float(value).is_integer() else self.words
        return self.words


def span(table: Table, row: str, column: str, sizes: Iterable[str] = ()) -> Span:
    """What a cell accepts: of a figure a tenth to ten times, of a conductor size another of
    ``sizes``, of words another of the column's."""
    printed = table.rows.get(row, {}).get(column, "")
    if not printed:
        return Span("Nothing stands there in this edition: there is nothing to amend.")
    if fixed := table.meta.get("fixed") or table.unread(row, column):
        return Span(fixed)
    if column in table.size_columns or _SIZE.match(printed):
        known = tuple(sizes)
        if column not in table.sums:
            return Span("Give a conductor size, like 4 or 2/0, or kcmil like 500.", choices=known)
        return Span(
            f"Give a conductor size, like 4 or 2/0, or kcmil up to {LARGEST_SIZE:,}.",
            250,
            LARGEST_SIZE,
            known,
        )
    if _FIGURE.match(printed) and float(printed) > 0:
        low, high = float(printed) / FACTOR, float(printed) * FACTOR
        if column in table.whole:
            words = f"Give a whole number up to {high:.6g}, like {printed}."
            return Span(words, max(1.0, low), high, whole=True)
        return Span(f"Give a figure from {low:.6g} to {high:.6g}, like {printed}.", low, high)
    if printed in YES_NO:
        return Span("Give yes or no.", choices=YES_NO)
    return Span("Only figures, sizes and yes or no can be amended.")
