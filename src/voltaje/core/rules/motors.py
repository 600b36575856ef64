"""Motor currents from the code's tables."""

from __future__ import annotations

from fractions import Fraction

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.worksheet import fits

# common practice for a running motor whose nameplate gives none
MOTOR_POWER_FACTOR = 0.85
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


TABLES: dict[str, str] = {"line-neutral": "motor_current", "two-line": "motor_current"}
COLUMNS_3PH = {208.0: "208 V", 240.0: "230 V", 480.0: "460 V", 600.0: "575 V"}
COLUMNS_DC = ("90 V", "120 V", "180 V", "240 V", "500 V", "550 V")


def table_current(
    horsepower: float, volts: float, kind: str, three_phase: bool, edition: Edition
) -> Cell:
    """Full-load current, A, from the motor tables (430.247, 248, 250). A rating between two rows
    takes the larger row. Raises :class:`NotCoveredError` where the tables give none."""
    if kind == "direct current":
        topic, column = "motor_current_dc", f"{volts:g} V"
    elif three_phase:
        topic = "motor_current_3ph"
        column = COLUMNS_3PH.get(volts, "")
        if kind == "synchronous" and column:
            column = f"sync {column}"
    else:
        topic, column = "motor_current", SINGLE_PHASE_COLUMNS.get(volts, "")
    table = edition.table(topic)
    if column in table.columns:
        for row, cells in table.rows.items():
            if fits(horsepower, horsepower_of(row)) and cells[column]:
                return edition.cell(topic, row, column)
    kind_words = "direct-current" if kind == "direct current" else (
        "three-phase" if three_phase else "single-phase")  # fmt: skip
    raise NotCoveredError(
        edition.title, f"a {kind_words} motor of {horsepower:g} hp at {volts:g} V"
    )


LARGER: dict[str, tuple[float, float]] = {
    # most with the exception, percent: up to 100 A of current, above
    "nontime-delay fuse": (400.0, 400.0),
    "dual-element fuse": (225.0, 225.0),
    "inverse-time breaker": (400.0, 300.0),
    "instantaneous breaker": (1300.0, 1300.0),
}
DESIGN_B_INSTANTANEOUS = 1700.0


def larger_percent(device: str, kind: str, current: float) -> float:
    """The most percent where the motor does not start on the usual device (430.52(C))."""
    if device == "instantaneous breaker" and "design B" in kind:
        return DESIGN_B_INSTANTANEOUS
    small, large = LARGER[device]
    return small if fits(current, 100.0) else large
