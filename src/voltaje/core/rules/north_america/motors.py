"""Motor currents from the code's tables."""

from __future__ import annotations

from fractions import Fraction
from functools import cache

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.report import fits, say

# common practice, no code figure: a running motor whose nameplate gives none
MOTOR_POWER_FACTOR = 0.85
# no code figures: nominal volts at which a single-phase motor may stand in a dwelling
SINGLE_PHASE_VOLTS = (120.0, 240.0, 208.0)


FEEDER_DEVICE = "inverse-time breaker"  # what a feeder counts of a motor by its percentage


@cache
def horsepower_of(row: str) -> float:
    """A table's row key as a number: ``"7-1/2"`` → 7.5."""
    whole, _, part = row.rpartition("-")
    return float(Fraction(part) + (int(whole) if whole else 0))


def column_of(volts: float, edition: Edition) -> str:
    """The column of the motor tables that a system of those volts uses: 230 V for 220 to 240 V.
    Empty where none does."""
    # how far a column goes stands in its heading, so it has no cell of its own
    topic = "motor_voltages"
    for column in edition.rows(topic):
        low, high = (float(edition.word(topic, column, end)) for end in ("from", "to"))
        if fits(low, volts) and fits(volts, high):
            return column
    return ""


def single_phase_current(horsepower: float, volts: float, edition: Edition) -> Cell:
    """Full-load current, A, on a system of those volts (Table 430.248).

    A rating between two rows takes the larger row. Raises :class:`NotCoveredError` beyond it.
    """
    column = column_of(volts, edition)
    for row, cell in edition.cells("motor_current", column).items():
        if fits(horsepower, horsepower_of(row)):
            return cell
    raise NotCoveredError(
        edition.title,
        say(
            "a single-phase motor of {horsepower} hp at {volts} V",
            horsepower=horsepower,
            volts=volts,
        ),
    )


TABLES: dict[str, str] = {"line-neutral": "motor_current", "two-line": "motor_current"}
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
        column = column_of(volts, edition)
        if kind == "synchronous" and column:
            column = f"sync {column}"
    else:
        topic, column = "motor_current", column_of(volts, edition)
    for row, cell in edition.cells(topic, column).items():
        if fits(horsepower, horsepower_of(row)):
            return cell
    given = {"horsepower": horsepower, "volts": volts}
    if kind == "direct current":
        what = say("a direct-current motor of {horsepower} hp at {volts} V", **given)
    elif three_phase:
        what = say("a three-phase motor of {horsepower} hp at {volts} V", **given)
    else:
        what = say("a single-phase motor of {horsepower} hp at {volts} V", **given)
    raise NotCoveredError(edition.title, what)


MARKED = ("up to 100 A", "above 100 A")
ABOVE_CLASS = "fuse above 600 A"


def larger_percent(device: str, kind: str, current: float, edition: Edition) -> Cell:
    """The most percent where the motor does not start on the usual device (430.52(C)(1)
    Exception 2; (C)(3) Exception 1 for an instantaneous breaker)."""
    row = device
    if device == "instantaneous breaker" and "design B" in kind:
        row = f"{device} design B"
    return edition.cell("motor_devices_larger", row, _larger_column(current, edition))


def _larger_column(current: float, edition: Edition) -> str:
    """The column of a full-load current: a breaker's percent changes at a mark."""
    return MARKED[0] if fits(current, edition.value("motor_larger_mark")) else MARKED[1]


def largest_fuse(device: str, current: float, edition: Edition) -> tuple[Cell, Cell] | None:
    """The rating at which a letter of the exception ends, A, and what holds for the fuses above it:
    400 % for nontime-delay fuses ends at 600 A, larger ones go to 300 %. ``None`` where it ends
    nowhere."""
    ends = edition.cell_or_none("motor_devices_larger", device, "class")
    if ends is None:
        return None
    column = _larger_column(current, edition)
    return ends, edition.cell("motor_devices_larger", ABOVE_CLASS, column)
