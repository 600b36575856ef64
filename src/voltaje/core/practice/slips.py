"""Usual slips as changes: of an entry, of a step, of the cell that is read. The calculation runs
with the slip in it; no second set of formulas exists. Common practice, no source."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.systems import System
from voltaje.core.entries import Document, FieldSpec
from voltaje.core.kinds import Evaluated, Kind
from voltaje.core.kinds.slips import UsualSlip, cell_read_as
from voltaje.core.practice.arithmetic import figures, put_in
from voltaje.core.practice.lines import AskedLine
from voltaje.core.quantities import UnreadableError, read_number
from voltaje.core.report import Report, Rule, Text, say, told


@dataclass(frozen=True, slots=True)
class StepSlip:
    """A step of one line done otherwise, and the figure that this gives."""

    name: str
    words: Text
    value: float
    rule: Rule | None = None


def in_general(words: Text) -> str:
    """A slip without the figures of its problem, to be counted over many."""
    if "row" in words.given:
        return say("a neighbouring row or column read").in_english
    if "figure" in words.given:
        return words.template.format(**{**words.params, "figure": "a factor"})
    return words.in_english


# entries that are read as another choice, by name: (as it is, as it is taken, the slip in words)
SWAPPED: Mapping[str, tuple[tuple[str, str, Text], ...]] = {
    "terminals": (
        ("75", "auto", say("terminals listed for 75 °C read as 60 °C")),
        ("75", "rule", say("terminals listed for 75 °C read as 60 °C")),
        ("auto", "75", say("75 °C read where the terminals are for 60 °C")),
        ("rule", "75", say("75 °C read where the terminals are for 60 °C")),
    ),
    "material": (
        ("copper", "aluminum", say("aluminum read for copper")),
        ("aluminum", "copper", say("copper read for aluminum")),
    ),
    "continuous": (
        ("yes", "no", say("125 % for a continuous load left out")),
        ("auto", "no", say("125 % for a continuous load left out")),
        ("auto", "yes", say("125 % taken though the load is not continuous")),
        ("no", "yes", say("125 % taken though the load is not continuous")),
    ),
    "connection": (
        ("three-phase", "two-line", say("√3 left out: worked as single-phase")),
        ("two-line", "three-phase", say("√3 used on a single-phase load")),
        ("line-neutral", "two-line", say("line-to-line voltage used for a load to neutral")),
        ("two-line", "line-neutral", say("voltage to neutral used for a load between lines")),
    ),
    "tap": tuple(
        (one, other, say("the tap taken in the wrong direction"))
        for one, other in (("+5", "-5"), ("-5", "+5"), ("+2.5", "-2.5"), ("-2.5", "+2.5"))
    ),
    "phases": (
        ("1", "3", say("√3 used on a single-phase load")),
        ("3", "1", say("√3 left out: worked as single-phase")),
    ),
    "insulation": (
        ("THHN", "THWN", say("the 75 °C column read for 90 °C insulation")),
        ("THWN-2", "THWN", say("the 75 °C column read for 90 °C insulation")),
        ("THWN", "THWN-2", say("the 90 °C column read for 75 °C insulation")),
    ),
    "cable": tuple(
        (one, other, say("the other insulation’s column read"))
        for one, other in (("single", "single 90"), ("single 90", "single"), ("multi", "multi 90"))
    ),
    "device_type": (
        ("B", "C", say("read as a device of type C")),
        ("C", "B", say("read as a device of type B")),
        ("D", "C", say("read as a device of type C")),
    ),
    "motor": (
        ("three-phase", "single-phase", say("the single-phase table for a three-phase motor")),
    ),
}
# figures that are taken as another one: the slip in words, and by what they are multiplied
SCALED: Mapping[str, tuple[tuple[str, Text, float], ...]] = {
    "length": (
        ("half", say("half the length: one way there, none back"), 0.5),
        ("twice", say("the length taken there and back, though the factor 2 has it already"), 2.0),
        ("feet", say("feet read as metres"), 1 / 0.3048),
        ("metres", say("metres read as feet"), 0.3048),
    ),
}


def entry_slips(
    specs: tuple[FieldSpec, ...], document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """What a document may be misread as: swaps and scales by the entry's name, and each entry that
    is not as usual, overlooked."""
    for spec in specs:
        text = str(document.get(spec.name, "") or "").strip()
        known = {value for value, _ in spec.choices}
        own = text or spec.default
        for was, becomes, words in SWAPPED.get(spec.name, ()):
            if own == was and becomes in known:
                yield UsualSlip(f"{spec.name}:{becomes}", words, {**document, spec.name: becomes})
        for name, words, times in SCALED.get(spec.name, ()):
            if scaled := _times(text, times):
                yield UsualSlip(f"{spec.name}:{name}", words, {**document, spec.name: scaled})
        if _overlooked(spec, text):
            words = say("“{entry}” overlooked", entry=told(spec.label))
            left = {name: value for name, value in document.items() if name != spec.name}
            yield UsualSlip(f"{spec.name}:overlooked", words, left)
        if spec.kind == "rows":
            yield from _row_slips(spec, document)
            yield from _column_slips(spec, document)


def _overlooked(spec: FieldSpec, text: str) -> bool:
    if not text or spec.required or spec.kind == "rows" or spec.name in SWAPPED:
        return False
    return text != spec.default and spec.group not in ("place",)


def _row_slips(spec: FieldSpec, document: Document) -> Iterator[UsualSlip]:
    """A row left out, where there are others."""
    rows = document.get(spec.name)
    if not isinstance(rows, list) or len(rows) < 2:
        return
    for index, row in enumerate(rows):
        name = str(row.get("name") or index + 1)
        words = say("“{name}” left out", name=name)
        yield UsualSlip(
            f"{spec.name}:without {index}",
            words,
            {**document, spec.name: [*rows[:index], *rows[index + 1 :]]},
        )


def _column_slips(spec: FieldSpec, document: Document) -> Iterator[UsualSlip]:
    """A length of every row read otherwise; several alike counted once."""
    rows = document.get(spec.name)
    if not isinstance(rows, list):
        return
    names = {column.name for column in spec.columns}
    for name, words, times in SCALED["length"] if "length" in names else ():
        scaled = [{**row, "length": _times(str(row.get("length", "")), times)} for row in rows]
        if any(row["length"] for row in scaled):
            changed = {**document, spec.name: scaled}
            yield UsualSlip(f"{spec.name}.length:{name}", words, changed)
    if "count" in names and any(str(row.get("count", "")) not in ("", "1") for row in rows):
        once = [{n: v for n, v in row.items() if n != "count"} for row in rows]
        words = say("several alike counted once")
        yield UsualSlip(f"{spec.name}.count", words, {**document, spec.name: once})


def kind_slips(of: Kind, worked: Evaluated, document: Document) -> Iterator[UsualSlip]:
    """Those that the kind itself declares."""
    if of.slips is not None and worked.outcome is not None and worked.context is not None:
        yield from of.slips(worked.entries, worked.outcome, document, worked.context.edition)


# what a figure that is left out is replaced by, by the first words of its cell's unit: a factor by
# one, a percentage by a hundred, what is added by nothing (no code figures)
NEUTRAL = (
    ("percent added", 0.0),
    ("percent for each", 0.0),
    ("percent above", None),
    ("percent below", None),
    ("percent of the nominal volts", None),
    ("percent of", 100.0),
    ("percent", None),
    ("factor", 1.0),
    ("Cmin", 1.0),
    ("of the", 1.0),
    ("VA for each circuit", 0.0),
)
# rules whose slip has a name of its own
RULE_SLIPS: Mapping[str, Text] = {
    "continuous": say("{figure} for a continuous load left out"),
    "motor_conductor": say("{figure} for a motor’s conductors left out"),
    "largest_motor": say("the largest motor’s {figure} left out"),
    "small_appliance_va": say("the small-appliance circuits left out"),
    "laundry_va": say("the laundry circuit left out"),
    "range_neutral": say("{figure} for the neutral left out"),
    "neutral_cooking": say("{figure} for the neutral left out"),
    "dwelling_share": say("the dwelling’s {figure} left out"),
    "loop_least": say("the voltage factor left out"),
    "hot_factor_70": say("cold resistance taken for hot"),
    "hot_factor_75": say("cold resistance taken for hot"),
    "hot_factor_90": say("cold resistance taken for hot"),
    "cooking_step": say("the increase above the column’s last kilowatt left out"),
}


def rule_slips(report: Report, document: Document, edition: Edition) -> Iterator[UsualSlip]:
    """Each factor and percentage that the worksheet reads, left out or taken twice: through the
    whole calculation, so that what follows from it is told too."""
    for rule, (topic, row, column) in _read(report, edition).items():
        cell = edition.limit(row) if topic == "limits" else _cell(edition, topic, row, column)
        unit = _unit(topic, row, edition)
        plain = next((value for start, value in NEUTRAL if unit.startswith(start)), None)
        if cell is None or plain is None or cell.value == plain:
            continue
        figure = f"{cell.value:g} %" if unit.startswith("percent") else f"{cell.value:g}"
        plainly = RULE_SLIPS.get(row) or say("{figure} left out")
        named = "{figure" in plainly.template
        words = say(plainly.template, figure=figure) if named else plainly
        yield from cell_read_as(document, edition, rule, plain, words)
        words = say("{figure} taken twice", figure=figure)
        twice = cell.value * cell.value / plain if plain else 2 * cell.value
        yield from cell_read_as(document, edition, rule, twice, words)


def neighbour_slips(report: Report, document: Document, edition: Edition) -> Iterator[UsualSlip]:
    """Each cell that the worksheet reads taken as one beside it, through the whole calculation."""
    for rule in _read(report, edition):
        own = _cell(edition, rule.topic, rule.row, rule.column) if rule.is_table else None
        if own is None:
            continue
        for row, column in _neighbours(rule, edition):
            cell = _cell(edition, rule.topic, row, column)
            if cell is not None and cell.value != own.value:
                words = _read_beside(rule, row, column)
                yield from cell_read_as(document, edition, rule, cell.value, words)


def _read(report: Report, edition: Edition) -> dict[Rule, tuple[str, str, str]]:
    """The cells that a worksheet reads, each by its rule with its address; where a line cites a
    rule without a cell, the limits with a slip of their own that stand in that rule."""
    found: dict[Rule, tuple[str, str, str]] = {}
    cited = [r for section in report.sections for line in section.lines for r in line.rules]
    named = [edition.limit(limit).rule for limit in RULE_SLIPS if edition.has_limit(limit)]
    topics = {rule.topic for rule in cited}
    for rule in (*cited, *(one for one in named if one.topic in topics)):
        address = edition.address(rule)
        if address is not None and address not in found.values():
            found[rule] = address
    return found


def _unit(topic: str, row: str, edition: Edition) -> str:
    """The unit of a cell: its row's where the limits stand, its table's elsewhere."""
    if topic == "limits":
        return edition.word("limits", row, "unit")
    return edition.header(topic, "unit")


def _read_beside(rule: Rule, row: str, column: str) -> Text:
    return say(
        "read in row {row}, column {column} of {cite}",
        row=row,
        column=column or "value",
        cite=rule.cite,
    )


def _times(text: str, times: float) -> str:
    number, _, unit = text.partition(" ")
    try:
        return f"{read_number(number) * times:.6g} {unit}".strip()
    except (ValueError, OverflowError, UnreadableError):
        return ""


ROOT = 1.732  # as worksheets print it (no code figure)
NAMED = {1.25: say("the 125 % left out"), ROOT: say("√3 left out")}


def step_slips(asked: AskedLine) -> Iterator[StepSlip]:
    """The line's own sum with one step done otherwise: a factor left out or taken twice, divided
    for multiplied."""
    shown = asked.expression
    found = figures(shown)
    if len(found) < 2:
        return
    for start, end, value in found:
        if value in (0.0, 1.0):
            continue
        before, after = shown[:start].rstrip(), shown[end:].lstrip()
        added = before.endswith(("+", "−")) or after.startswith("+")
        if added and not before.endswith(("×", "÷")) and not after.startswith(("×", "÷")):
            words = say("{figure} left out", figure=shown[start:end])
            if (left := put_in(shown, [(start, end, 0.0)])) is not None:
                yield StepSlip(f"without {shown[start:end]}", words, left)
            words = say("{figure} added for subtracted, or the reverse", figure=shown[start:end])
            if (turned := put_in(shown, [(start, end, -value)])) is not None:
                yield StepSlip(f"turned {shown[start:end]}", words, turned)
            continue
        factor = before.endswith(("×", "÷", "(")) or after.startswith(("×", "÷"))
        if not factor:
            continue
        printed = shown[start:end]
        left = put_in(shown, [(start, end, 1.0)])
        if left is not None:
            words = NAMED.get(value) or say("{figure} left out", figure=printed)
            yield StepSlip(f"without {printed}", words, left)
        twice = put_in(shown, [(start, end, value * value)])
        if twice is not None:
            words = say("{figure} taken twice", figure=printed)
            yield StepSlip(f"twice {printed}", words, twice)
        over = put_in(shown, [(start, end, 1 / value)])
        if over is not None:
            words = say(
                "divided by {figure} where it is multiplied, or the reverse", figure=printed
            )
            yield StepSlip(f"inverse {printed}", words, over)


def volt_slips(asked: AskedLine, system: System) -> Iterator[StepSlip]:
    """The line's own sum with the other of a system's two voltages."""
    across, neutral = system.line_to_line, system.to_neutral
    if not across or not neutral:
        return
    for was, becomes, words in (
        (across, neutral, say("voltage to neutral taken for line-to-line voltage")),
        (neutral, across, say("line-to-line voltage taken for voltage to neutral")),
    ):
        at = [(start, end, becomes) for start, end, v in figures(asked.expression) if v == was]
        value = put_in(asked.expression, at) if at else None
        if value is not None:
            yield StepSlip(f"volts {becomes:g}", words, value)


def term_slips(asked: AskedLine, term: AskedLine) -> Iterator[StepSlip]:
    """A sum without one of the lines that it adds up, or with it twice."""
    value, own = asked.value or 0.0, term.value or 0.0
    yield StepSlip(
        f"without {term.id}", say("“{name}” left out", name=str(term.label)), value - own
    )
    words = say("“{name}” counted twice", name=str(term.label))
    yield StepSlip(f"twice {term.id}", words, value + own)


# tables whose rows are ratings as they are made
STANDARD = ("standard_devices", "fuse_ratings", "circuit_ratings", "transformer_sizes")
LOWER = say("the next standard size down")


def cell_slips(asked: AskedLine, edition: Edition) -> Iterator[StepSlip]:
    """The line with a neighbour of the cell that it read: the row before or after, the column
    beside."""
    for rule in asked.rules:
        known = rule.is_table and edition.has_table(rule.topic)
        if not known or not rule.row or not rule.column:
            continue
        own = _cell(edition, rule.topic, rule.row, rule.column)
        if own is None:
            continue
        for row, column in _neighbours(rule, edition):
            cell = _cell(edition, rule.topic, row, column)
            if cell is None or cell.value == own.value:
                continue
            value = _with_cell(asked, own.value, cell.value)
            if value is not None and rule.topic in STANDARD:
                words = say("the next standard size up") if value > (asked.value or 0) else LOWER
                yield StepSlip(f"{rule.topic}:{row}", words, value, cell.rule)
            elif value is not None:
                words = _read_beside(rule, row, column)
                yield StepSlip(f"{rule.topic}:{row}:{column}", words, value, cell.rule)


def _cell(edition: Edition, topic: str, row: str, column: str) -> Cell | None:
    """A cell that holds a figure; ``None`` where there is none, or a word."""
    try:
        return edition.cell_or_none(topic, row, column)
    except ValueError:
        return None


def _with_cell(asked: AskedLine, own: float, other: float) -> float | None:
    """The line with another figure for its cell's: in its sum, or as itself."""
    at = [(s, e, other) for s, e, value in figures(asked.expression) if value == own]
    if at and (value := put_in(asked.expression, at)) is not None:
        return value
    return other if asked.value == own else None


def _neighbours(rule: Rule, edition: Edition) -> Iterator[tuple[str, str]]:
    table = edition.table(rule.topic)
    rows = list(table.rows)
    if rule.row in rows:
        at = rows.index(rule.row)
        yield from ((rows[i], rule.column) for i in (at - 1, at + 1) if 0 <= i < len(rows))
        columns: list[Any] = list(table.rows[rule.row])
        if rule.column in columns:
            here = columns.index(rule.column)
            beside = range(max(0, here - 2), min(len(columns), here + 3))
            yield from ((rule.row, columns[i]) for i in beside if i != here)
