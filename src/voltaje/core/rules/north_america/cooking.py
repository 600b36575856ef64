"""Household cooking appliances over 1¾ kW: Table 220.55 and its notes.

Ratings are kW here and never a percentage; a percentage is only ever read from columns A and B
and a kilowatt figure only from column C, so the two cannot be taken for one another.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import floor

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.electrical.loads import CountedLoad, paths, total
from voltaje.core.report import Text, Worksheet, WorksheetLine, figure, fits, say

HALF = 0.5  # no code figure: what rounds up


@dataclass(frozen=True, slots=True)
class Share:
    """Loads that count a percentage of their nameplates: the column, their number, VA connected,
    the table's percent."""

    column: str
    count: int
    connected: float
    percent: Cell
    paths: tuple[str, ...]

    @property
    def demand(self) -> float:
        return self.connected * self.percent.value / 100


@dataclass(frozen=True, slots=True)
class ColumnC:
    """``count`` appliances by column C: ``base`` kW, ``each`` of it for each of them (0: none), by
    the ``cell`` of their row. Above 12 kW it grows by ``percent``, for ``above`` whole kilowatts of
    the ``rating`` that counts, the largest or an average of ``raised`` kW (0: all are alike)."""

    count: int
    cell: Cell
    base: float
    each: float
    rating: float
    raised: float
    above: int
    percent: float
    demand: float
    paths: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class CookingDemand:
    """One permitted way through the table, its demand in VA: some by a percentage, the rest by
    column C, whose working is told ``whole`` where it stands alone."""

    name: str
    demand: float
    shares: tuple[Share, ...] = ()
    column_c: ColumnC | None = None

    @property
    def columns(self) -> tuple[str, ...]:
        return (*(share.column for share in self.shares), *(("C",) if self.column_c else ()))


def in_table(load: CountedLoad, edition: Edition) -> bool:
    """Whether the table speaks of it: over 1¾ kW."""
    return not fits(load.va, edition.value("cooking_over") * 1000)


def major_fraction_kw(excess: float) -> int:
    """Whole kilowatts of an excess, a major fraction counting as one: 2.2 → 2, 1.6 → 2, 0.4 → 0.

    Half a kilowatt counts as a major fraction, so 12.5 kW counts one above 12.
    """
    return floor(excess + HALF + 1e-9) if excess > 0 else 0


def column_c(count: int, edition: Edition) -> tuple[float, float, Cell]:
    """Demand in kW for ``count`` appliances not over 12 kW, what of it comes with each of them
    (0: none), and the table's cell."""
    row = edition.row_for("cooking", count)
    base = edition.cell("cooking", row, "C kW")
    more = edition.cell_or_none("cooking", row, "C kW each")
    each = more.value if more else 0.0
    return base.value + each * count, each, base


def ways(loads: list[CountedLoad], edition: Edition) -> list[CookingDemand]:
    """The permitted ways, cheapest first. ``loads`` are all over 1¾ kW and none over 27 kW.

    Raises :class:`NotCoveredError` above 27 kW.
    """
    most = edition.value("cooking_most")
    if any(not fits(load.va, most * 1000) for load in loads):
        raise NotCoveredError(
            edition.title, say("a household cooking appliance over {most} kW", most=most)
        )
    if not loads:
        return []
    small = [load for load in loads if fits(load.va, edition.value("cooking_b_to") * 1000)]
    # note 2 averages ranges above 8¾ kW: a smaller unit in the average would lower what the large
    # ones count, so beside them it goes by columns A and B
    averaged = any(not fits(load.va, edition.value("cooking_c_to") * 1000) for load in loads)
    found = [] if small and averaged else [_all_by_column_c(loads, edition)]
    if small:
        found.append(_small_by_percentage(loads, small, edition))
    return sorted(found, key=lambda way: way.demand)


def demand(loads: list[CountedLoad], edition: Edition) -> float:
    """The cheapest permitted demand, VA; 0 without loads. Raises :class:`NotCoveredError`."""
    return min((way.demand for way in ways(loads, edition)), default=0.0)


def _all_by_column_c(loads: list[CountedLoad], edition: Edition) -> CookingDemand:
    found = _by_column_c(loads, edition)
    return CookingDemand("column_c", found.demand * 1000, (), found)


def _small_by_percentage(
    loads: list[CountedLoad], small: list[CountedLoad], edition: Edition
) -> CookingDemand:
    from_b = edition.value("cooking_b_from") * 1000
    groups = (
        ("A", [load for load in small if not fits(from_b, load.va)]),
        ("B", [load for load in small if fits(from_b, load.va)]),
    )
    shares = tuple(_share(column, group, edition) for column, group in groups if group)
    large = [load for load in loads if load not in small]
    rest = _by_column_c(large, edition) if large else None
    demand = sum(share.demand for share in shares) + (rest.demand * 1000 if rest else 0.0)
    return CookingDemand("percentage", demand, shares, rest)


def _share(column: str, loads: list[CountedLoad], edition: Edition) -> Share:
    count = sum(load.count for load in loads)
    percent = edition.cell("cooking", edition.row_for("cooking", count), f"{column} percent")
    return Share(column, count, total(loads), percent, paths(loads))


def _by_column_c(loads: list[CountedLoad], edition: Edition) -> ColumnC:
    count = sum(load.count for load in loads)
    base, each, cell = column_c(count, edition)
    to, step = edition.value("cooking_c_to"), edition.value("cooking_step")
    rating, raised, above, percent = max(load.va for load in loads) / 1000, 0.0, 0, 0.0
    if not fits(rating, to):
        if not all(abs(load.va - loads[0].va) < 1e-6 for load in loads):
            raised = sum(max(load.va / 1000, to) * load.count for load in loads)
            rating = raised / count
        above = major_fraction_kw(rating - to)
        percent = above * step
    else:
        rating = 0.0
    demand = base * (1 + percent / 100)
    return ColumnC(count, cell, base, each, rating, raised, above, percent, demand, paths(loads))


def label(way: CookingDemand) -> Text:
    """The way by its columns."""
    if way.name == "column_c":
        return say("Column C")
    if len(way.columns) == 1:
        return say("Column {columns}", columns=way.columns[0])
    return say("Columns {columns}", columns=" + ".join(way.columns))


def report(way: CookingDemand, edition: Edition) -> tuple[WorksheetLine, ...]:
    """The lines that lead to the demand of a way."""
    worksheet = Worksheet("cooking")
    for share in way.shares:
        worksheet.step(
            f"cooking_column_{share.column.lower()}",
            say(
                "Column {column}: {count} at {percent} %",
                column=share.column,
                count=share.count,
                percent=share.percent.value,
            ),
            share.demand,
            "VA",
            f"{figure(share.connected)} × {figure(share.percent.value / 100, 4)}",
            (share.percent.rule, edition.rule("cooking_note_3")),
            entries=share.paths,
        )
    if way.column_c is not None:
        _report_column_c(way.column_c, not way.shares, edition, worksheet)
    return tuple(worksheet)


def _report_column_c(found: ColumnC, whole: bool, edition: Edition, worksheet: Worksheet) -> None:
    rule = found.cell.rule
    to, step = edition.value("cooking_c_to"), edition.value("cooking_step")
    working = f"{figure(found.base)} kW"
    if found.each:
        first = figure(found.base - found.each * found.count)
        working = f"{first} + {found.count} × {figure(found.each)} = {figure(found.base)} kW"
    demand = found.demand * 1000
    if not found.rating:
        words = say("Column C: {count} not over {to} kW", count=found.count, to=to)
        worksheet.step("cooking_column_c", words, demand, "VA", working, rule, entries=found.paths)
        return
    note = edition.rule("cooking_note_2" if found.raised else "cooking_note_1")
    if found.raised and whole:
        words = say("Average of {count}, none below {to} kW", count=found.count, to=to)
        shown = f"{figure(found.raised)} kW ÷ {found.count}"
        worksheet.note(
            "cooking_average", words, found.rating, "kW", shown, note, entries=found.paths
        )
    excess = found.rating - to
    working += f"; {figure(found.rating)} − {figure(to)} = {figure(excess)} →"
    working += f" {found.above} × {figure(step)} %; "
    working += f"{figure(found.base)} × {figure(1 + found.percent / 100)}"
    working += f" = {figure(found.demand)} kW"
    worksheet.step(
        "cooking_column_c",
        say(
            "Column C raised by {percent} %: {count} of {rating} kW",
            percent=found.percent,
            count=found.count,
            rating=found.rating,
        ),
        demand,
        "VA",
        working,
        (rule, note),
        rounding=say(
            "{excess} kW above {to} counts as {above}: half a kilowatt or more counts whole",
            excess=excess,
            above=found.above,
            to=to,
        ),
        entries=found.paths,
    )
