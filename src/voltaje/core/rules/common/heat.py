"""A breaker in its surroundings: what of its rating it carries in a warm enclosure beside others.

The maker's own table, entered as rows, prevails; else a generic one is taken and marked so.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.codes import Cell, practice
from voltaje.core.entries import Entries, Few, Reads, Row, Temperature, WrongEntryError, entry
from voltaje.core.report import Worksheet, figure, say

Factor = Annotated[float, Reads(quantities.COUNT, 0.1, 1.5)]
STANDARDS = {
    "30": "IEC 60898: at 30 °C",
    "40": "IEC 60947-2, North American: at 40 °C",
}


class MakersRow(Row):
    """A row of the maker's table: what of the rating is left at a temperature inside."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"inside": "enclosure_temperature"}
    enclosure_temperature: Temperature | None = entry(None, "Inside, °C", example="50 °C")
    factor: Factor | None = entry(None, "Factor", example="0.9")


class Surroundings(Entries):
    """The breaker's standard, its enclosure, its neighbours, the maker's own table."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "reference": "reference_temperature",
        "inside": "enclosure_temperature",
        "beside": "adjacent_breakers",
        "makers": "manufacturer_table",
    }
    reference_temperature: Literal["30", "40"] = entry(
        "30", "Rated by", choices=STANDARDS, group="surroundings"
    )
    enclosure_temperature: Temperature = entry(
        40.0, "In the enclosure", group="surroundings", help="°C, or write 104 °F"
    )
    adjacent_breakers: Few = entry(
        0, "Loaded breakers beside it", group="surroundings", help="touching it"
    )
    manufacturer_table: tuple[MakersRow, ...] = entry(
        (), "Maker’s table", group="makers", add="Add a temperature"
    )


@dataclass(frozen=True, slots=True)
class Heat:
    """What is left of a rating: by the temperature ``inside`` and by its neighbours, each with its
    cell (``None``: the maker's own)."""

    inside: float
    inside_cell: Cell | None
    beside: float
    beside_cell: Cell | None

    @property
    def factor(self) -> float:
        return self.inside * self.beside


def heat(entries: Surroundings) -> Heat:
    """The factors of a breaker where it stands. Raises :class:`WrongEntryError` beyond a table."""
    book = practice()
    row = book.row_for("breaker_neighbours", entries.adjacent_breakers + 1)
    beside = book.cell("breaker_neighbours", row, "factor")
    own = _by_maker(entries)
    if own is not None:
        return Heat(own, None, beside.value, beside)
    at = next(
        (r for r in book.rows("breaker_heat") if entries.enclosure_temperature <= float(r)), None
    )
    if at is None:
        most = book.rows("breaker_heat")[-1]
        words = say("The generic factors end at {most} °C: enter the maker’s table.", most=most)
        raise WrongEntryError("enclosure_temperature", words)
    cell = book.cell("breaker_heat", at, entries.reference_temperature)
    return Heat(cell.value, cell, beside.value, beside)


def _by_maker(entries: Surroundings) -> float | None:
    """The maker's factor at that temperature, between two rows by a straight line; ``None`` where
    there is no table. Raises :class:`WrongEntryError` beyond it."""
    found = []
    for row in entries.manufacturer_table:
        if row.enclosure_temperature is None or row.factor is None:
            empty = "enclosure_temperature" if row.enclosure_temperature is None else "factor"
            words = say("Needed: both, like 50 °C and 0.9.")
            raise WrongEntryError(f"manufacturer_table.{row.id}.{empty}", words)
        found.append((row.enclosure_temperature, row.factor))
    if not found:
        return None
    found.sort()
    if entries.enclosure_temperature > found[-1][0]:
        words = say("The maker’s table ends at {most} °C: add a row.", most=found[-1][0])
        raise WrongEntryError("enclosure_temperature", words)
    above = next(i for i, (at, _) in enumerate(found) if entries.enclosure_temperature <= at)
    if not above:  # cooler than the first row: no more than that
        return found[0][1]
    (low, one), (high, other) = found[above - 1], found[above]
    if high == low:
        return min(one, other)
    return one + (other - one) * (entries.enclosure_temperature - low) / (high - low)


def report_heat(found: Heat, entries: Surroundings, rating: float, worksheet: Worksheet) -> None:
    """Both factors, from a rating to what is left of it."""
    warm = rating * found.inside
    note = (
        say("the maker’s table")
        if found.inside_cell is None
        else say("generic; the maker’s table prevails")
    )
    worksheet.step(
        "inside",
        say("At {degrees} °C in the enclosure", degrees=entries.enclosure_temperature),
        warm,
        "A",
        f"{figure(rating)} × {figure(found.inside, 3)}",
        found.inside_cell.rule if found.inside_cell else None,
        note=note,
        entries=("enclosure_temperature", "reference_temperature"),
    )
    if found.beside != 1 and found.beside_cell is not None:
        worksheet.step(
            "beside",
            say("{count} loaded side by side", count=entries.adjacent_breakers + 1),
            warm * found.beside,
            "A",
            f"{figure(warm)} × {figure(found.beside, 3)}",
            found.beside_cell.rule,
            note=say("generic; the maker’s table prevails"),
            entries="adjacent_breakers",
        )
