"""Usual slips as changes: of an entry, of a step, of the cell that is read. The calculation runs
with the slip in it; no second set of formulas exists. Common practice, no source."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.systems import System
from voltaje.core.entries import Document, FieldSpec
from voltaje.core.practice.arithmetic import figures, put_in
from voltaje.core.practice.lines import AskedLine
from voltaje.core.quantities import UnreadableError, read_number
from voltaje.core.report import Rule, Text, say, told


@dataclass(frozen=True, slots=True)
class EntrySlip:
    """Entries read otherwise: its name, what it is in words, the document with it."""

    name: str
    words: Text
    document: Document


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
) -> Iterator[EntrySlip]:
    """What a document may be misread as: swaps and scales by the entry's name, and each entry that
    is not as usual, overlooked."""
    for spec in specs:
        text = str(document.get(spec.name, "") or "").strip()
        known = {value for value, _ in spec.choices}
        own = text or spec.default
        for was, becomes, words in SWAPPED.get(spec.name, ()):
            if own == was and becomes in known:
                yield EntrySlip(f"{spec.name}:{becomes}", words, {**document, spec.name: becomes})
        for name, words, times in SCALED.get(spec.name, ()):
            if scaled := _times(text, times):
                yield EntrySlip(f"{spec.name}:{name}", words, {**document, spec.name: scaled})
        if _overlooked(spec, text):
            words = say("“{entry}” overlooked", entry=told(spec.label))
            left = {name: value for name, value in document.items() if name != spec.name}
            yield EntrySlip(f"{spec.name}:overlooked", words, left)
        if spec.kind == "rows":
            yield from _row_slips(spec, document)


def _overlooked(spec: FieldSpec, text: str) -> bool:
    if not text or spec.required or spec.kind == "rows" or spec.name in SWAPPED:
        return False
    return text != spec.default and spec.group not in ("place",)


def _row_slips(spec: FieldSpec, document: Document) -> Iterator[EntrySlip]:
    """A row left out, where there are others."""
    rows = document.get(spec.name)
    if not isinstance(rows, list) or len(rows) < 2:
        return
    for index, row in enumerate(rows):
        name = str(row.get("name") or index + 1)
        words = say("“{name}” left out", name=name)
        yield EntrySlip(
            f"{spec.name}:without {index}",
            words,
            {**document, spec.name: [*rows[:index], *rows[index + 1 :]]},
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
                words = say(
                    "read in row {row}, column {column} of {cite}",
                    row=row,
                    column=column or "value",
                    cite=rule.cite,
                )
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
