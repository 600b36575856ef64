"""Motor currents from the code's tables."""

from __future__ import annotations

from fractions import Fraction

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.worksheet import fits

SINGLE_PHASE_COLUMNS = {120.0: "115 V", 240.0: "230 V", 208.0: "208 V"}


def horsepower_of(row: str) -> float:
    """A table's row key as a number: ``"7-1/2"`` → 7.5."""
    whole, _, part = row.rpartition("-")
    return float(Fraction(part) + (int(whole) if whole else 0))


def single_phase_current(horsepower: float, volts: float, edition: Edition) -> Cell:
    """Full-load current, A, at nominal 120, 208 or 240 V (Table 430.248).

    A rating between two rows takes the larger row. Raises :class:`NotCoveredError` beyond it.
    """
    column = SINGLE_PHASE_COLUMNS.get(volts)
    if column:
        for row in edition.table("motor_current").rows:
            if fits(horsepower, horsepower_of(row)):
                return edition.cell("motor_current", row, column)
    raise NotCoveredError(
        edition.title, f"a single-phase motor of {horsepower:g} hp at {volts:g} V"
    )
