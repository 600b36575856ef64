"""Household cooking appliances over 1¾ kW: Table 220.55 and its notes.

Ratings are kW here and never a percentage; a percentage is only ever read from columns A and B
and a kilowatt figure only from column C, so the two cannot be taken for one another.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import floor

from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.electrical.loads import Load, paths, total
from voltaje.core.worksheet import Line, Rule, Text, figure, fits, say

HALF = 0.5  # no code figure: what rounds up


@dataclass(frozen=True, slots=True)
class Way:
    """One permitted way through the table: demand in VA, the lines that lead to it."""

    name: str
    label: Text
    demand: float
    lines: tuple[Line, ...]


def in_table(load: Load, edition: Edition) -> bool:
    """Whether the table speaks of it: over 1¾ kW."""
    return not fits(load.va, edition.value("cooking_over") * 1000)


def major_fraction_kw(excess: float) -> int:
    """Whole kilowatts of an excess, a major fraction counting as one: 2.2 → 2, 1.6 → 2, 0.4 → 0.

    Half a kilowatt counts as a major fraction, so 12.5 kW counts one above 12.
    """
    return floor(excess + HALF + 1e-9) if excess > 0 else 0


def column_c(count: int, edition: Edition) -> tuple[float, str, Rule]:
    """Demand in kW for ``count`` appliances not over 12 kW, its working, and the cell."""
    table = edition.table("cooking")
    row = table.span(count)
    base = edition.cell("cooking", row, "C kW")
    each = float(table.rows[row]["C kW each"] or 0)
    if not each:
        return base.value, f"{figure(base.value)} kW", base.rule
    demand = base.value + each * count
    working = f"{figure(base.value)} + {count} × {figure(each)} = {figure(demand)} kW"
    return demand, working, base.rule


def ways(loads: list[Load], edition: Edition) -> list[Way]:
    """The permitted ways, cheapest first. ``loads`` are all over 1¾ kW and none over 27 kW.

    Raises :class:`NotCoveredError` above 27 kW.
    """
    most = edition.value("cooking_most")
    if any(not fits(load.va, most * 1000) for load in loads):
        raise NotCoveredError(edition.title, f"a household cooking appliance over {most:g} kW")
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


def demand(loads: list[Load], edition: Edition) -> float:
    """The cheapest permitted demand, VA; 0 without loads. Raises :class:`NotCoveredError`."""
    return min((way.demand for way in ways(loads, edition)), default=0.0)


def _all_by_column_c(loads: list[Load], edition: Edition) -> Way:
    lines = _column_c_lines(loads, edition)
    return Way("column_c", say("Column C"), lines[-1].value or 0.0, tuple(lines))


def _small_by_percentage(loads: list[Load], small: list[Load], edition: Edition) -> Way:
    lines: list[Line] = []
    from_b = edition.value("cooking_b_from") * 1000
    groups = (
        ("A", [load for load in small if not fits(from_b, load.va)]),
        ("B", [load for load in small if fits(from_b, load.va)]),
    )
    for column, members in groups:
        if members:
            lines.append(_percentage_line(column, members, edition))
    large = [load for load in loads if load not in small]
    if large:
        lines += _column_c_lines(large, edition)[-1:]
    columns = [column for column, members in groups if members] + (["C"] if large else [])
    label = say("Columns {columns}", columns=" + ".join(columns))
    if len(columns) == 1:
        label = say("Column {columns}", columns=columns[0])
    return Way("percentage", label, sum(line.value or 0.0 for line in lines), tuple(lines))


def _percentage_line(column: str, loads: list[Load], edition: Edition) -> Line:
    count = sum(load.count for load in loads)
    row = edition.table("cooking").span(count)
    percent = edition.cell("cooking", row, f"{column} percent")
    nameplates = total(loads)
    return Line(
        f"cooking_column_{column.lower()}",
        say("Column {column}: {count} at {percent} %", column=column, count=count,
            percent=percent.value),
        nameplates * percent.value / 100,
        "VA",
        f"{figure(nameplates)} × {figure(percent.value / 100)}",
        (percent.rule, edition.rule("cooking_note_3")),
        entries=paths(loads),
        flow="cooking",
    )  # fmt: skip


def _column_c_lines(loads: list[Load], edition: Edition) -> list[Line]:
    count = sum(load.count for load in loads)
    base, working, rule = column_c(count, edition)
    largest = max(load.va for load in loads) / 1000
    lines: list[Line] = []
    rules: tuple[Rule, ...] = (rule,)
    to, step = edition.limit("cooking_c_to"), edition.limit("cooking_step")
    label = say("Column C: {count} not over {to} kW", count=count, to=to.value)
    rounding = None
    demand = base
    if not fits(largest, to.value):
        alike = all(abs(load.va - loads[0].va) < 1e-6 for load in loads)
        if alike:
            rating, note = largest, "cooking_note_1"
        else:
            note = "cooking_note_2"
            raised = sum(max(load.va / 1000, to.value) * load.count for load in loads)
            rating = raised / count
            lines.append(
                Line(
                    "cooking_average",
                    say("Average of {count}, none below {to} kW", count=count, to=to.value),
                    rating,
                    "kW",
                    f"{figure(raised)} kW ÷ {count}",
                    (edition.rule(note),),
                    entries=paths(loads),
                    kind="note",
                    flow="cooking",
                )
            )
        above = major_fraction_kw(rating - to.value)
        more = above * step.value
        demand = base * (1 + more / 100)
        working = (
            f"{working}; {figure(rating)} − {figure(to.value)} = {figure(rating - to.value)} →"
            f" {above} × {figure(step.value)} %; "
            f"{figure(base)} × {figure(1 + more / 100)} = {figure(demand)} kW"
        )
        rounding = say(
            "{excess} kW above {to} counts as {above}: half a kilowatt or more counts whole",
            excess=rating - to.value,
            above=above,
            to=to.value,
        )
        rules = (rule, edition.rule(note))
        label = say("Column C raised by {percent} %: {count} of {rating} kW", percent=more,
                    count=count, rating=rating)  # fmt: skip
    lines.append(
        Line(
            "cooking_column_c",
            label,
            demand * 1000,
            "VA",
            working,
            rules,
            rounding,
            entries=paths(loads),
            flow="cooking",
        )
    )
    return lines
