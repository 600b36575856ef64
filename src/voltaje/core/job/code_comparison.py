"""One part under two codes: what each comes to, line by line where the lines mean the same, and
why they differ.

A document keeps the entries of each family. What the other family is not told it takes from what
the first is: how conductors lie, what a circuit is for. What is fixed by hand in one family's sizes
is left out under another's.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Annotated, Any

from pydantic import Field
from pydantic.fields import FieldInfo

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import Size
from voltaje.core.entries import Document, Entries, FieldSpec, fields, row_models
from voltaje.core.job.calculate import StandIn
from voltaje.core.job.usual_values import with_usual_values
from voltaje.core.kinds import Evaluated, PartInput, kind
from voltaje.core.kinds.interface import Kind
from voltaje.core.kinds.placing import device_of
from voltaje.core.kinds.usual_below import PREFIX, usual_specs
from voltaje.core.report import Report, Result, Text, WorksheetLine, figure, say, told
from voltaje.core.rules.interface import Code, code_of

HAND = "hand"  # the group of entries that are fixed by hand
SHOWN_RULES = 3  # no code figure
NEAR = 1e-6  # no code figure: figures that differ by less are the same
# the rows in the order in which one follows from another: name, words, results, lines of the
# worksheet
ROWS: tuple[tuple[str, Text, tuple[str, ...], tuple[str, ...]], ...] = (
    ("load", say("Load"), ("calculated_load", "load"), ("calculated_load", "load")),
    (
        "amperes",
        say("Amperes"),
        ("amperes",),
        ("full_load_current", "heaviest_line", "amperes", "by_power"),
    ),
    (
        "design",
        say("Asked of device and conductor"),
        ("design_amperes", "conductor_amperes"),
        ("design_amperes", "conductor_amperes", "continuous"),
    ),
    ("device", say("Device"), ("device", "service_device"), ("device", "service_device")),
    (
        "conductor",
        say("Conductor"),
        ("conductor", "service_conductor_copper"),
        ("ampacity_own", "tabulated", "service_conductor_copper"),
    ),
    (
        "ampacity",
        say("Carries as it lies"),
        ("conductor_ampacity", "service_conductor_copper_ampacity"),
        ("adjustment", "grouping", "ambient", "ampacity_terminals", "ampacity"),
    ),
    ("neutral", say("Neutral"), ("neutral_conductor", "neutral_conductor_copper"), ()),
    ("ground", say("Protective conductor"), ("ground_conductor",), ("ground_conductor",)),
    ("raceway", say("Raceway"), ("raceway",), ("raceway",)),
    ("drop", say("Voltage drop"), ("drop_percent",), ("drop", "drop_percent")),
    ("overload", say("Overload"), ("overload",), ("overload",)),
)
STAGES = ("load", "amperes", "design", "device", "ampacity", "conductor", "ground", "drop")
# of these every sheet of a kind has its own, whatever the code
ANSWERS = ("load", "device", "conductor")


@dataclass(frozen=True, slots=True)
class Figure:
    """One side of a row: a number with its unit or words, the conductor's mm² (0: it is none), the
    numbers of its rules."""

    value: float | str
    unit: str
    area: float
    rules: tuple[str, ...]

    @property
    def text(self) -> str:
        """As it is written."""
        if isinstance(self.value, str):
            return self.value
        return f"{figure(self.value)} {self.unit}".strip()

    @property
    def cited(self) -> str:
        return ", ".join(told(number) for number in self.rules)

    @property
    def shown_area(self) -> str:
        """mm² to a tenth."""
        return figure(self.area, 1)


@dataclass(frozen=True, slots=True)
class ComparedRow:
    """What means the same on both sheets; ``None`` where a side has no such figure."""

    name: str
    label: Text
    mine: Figure | None
    other: Figure | None

    @property
    def sides(self) -> tuple[Figure | None, Figure | None]:
        return self.mine, self.other

    @property
    def areas(self) -> bool:
        """Whether the sizes are of two kinds, so that their mm² tell more."""
        if self.mine is None or self.other is None or not (self.mine.area and self.other.area):
            return False
        return ("mm²" in self.mine.text) != ("mm²" in self.other.text)

    @property
    def differs(self) -> bool:
        """Whether both are there and not alike; conductors by their area."""
        if self.mine is None or self.other is None:
            return False
        if self.mine.area and self.other.area:
            return not _alike(self.mine.area, self.other.area)
        one, two = self.mine.value, self.other.value
        if isinstance(one, str) and isinstance(two, str):
            return _inches(one) != _inches(two)
        if isinstance(one, str) or isinstance(two, str):
            return True
        return not _alike(one, two)


@dataclass(frozen=True, slots=True)
class Beside:
    """A part under the ``mine`` code and under the ``other``: rows, why they differ, what keeps the
    other from an answer, and the entries by hand that are left out there."""

    mine: str
    other: str
    rows: tuple[ComparedRow, ...]
    why: Text
    problems: tuple[str, ...]
    left: tuple[str, ...]
    headline: str
    status: str

    @property
    def differs(self) -> bool:
        """Whether anything differs, an answer that is missing too."""
        return bool(self.problems) or any(row.differs for row in self.rows)


def _inches(text: str) -> str:
    """A trade size by its inches, however a code names it; other words as they are."""
    found = re.search(r"([\d/-]+) in\b", text)
    return found.group(1) if found else text


def _alike(one: float, two: float) -> bool:
    return abs(one - two) <= NEAR * max(1.0, abs(one), abs(two))


def counterpart(
    of: Kind, document: Mapping[str, Any], mine: Code, other: Code
) -> tuple[Document, tuple[str, ...]]:
    """What the other family reads of a document, and the labels of what it leaves out."""
    found = dict(document)
    if mine.family == other.family:
        return found, ()
    if of.counterpart is not None:
        found = of.counterpart(found, mine, other)
    model, own = of.entries_in(other), {spec.name: spec for spec in fields(of.entries_in(mine))}
    left = []
    for spec in fields(model):
        mine_too = own.get(spec.name)
        text = str(found.get(spec.name) or "")
        if mine_too is not None and text and _left_out(spec, mine_too, text):
            left.append(spec.label)
            found.pop(spec.name)
    wiring = other.entries_of(mine.wiring_method(document))
    # once the other family's own method is told, it says all
    if not document.get(next(iter(wiring))):
        found |= {
            name: value
            for name, value in wiring.items()
            if name in model.model_fields and not found.get(name)
        }
    return _rows(found, of, other), tuple(left)


def _left_out(spec: FieldSpec, mine: FieldSpec, text: str) -> bool:
    """By hand in another family's sizes, or a choice that this one does not have."""
    if spec.group == HAND or mine.group == HAND:
        return text != mine.default
    return bool(spec.choices) and text not in dict(spec.choices)


def _rows(document: Document, of: Kind, other: Code) -> Document:
    """Choices in rows that the other family does not have are left at its usual ones."""
    for name in row_models(of.entries_in(other)):
        spec = next(one for one in fields(of.entries_in(other)) if one.name == name)
        choices = {c.name: dict(c.choices) for c in spec.columns if c.choices}
        rows = document.get(name)
        if isinstance(rows, list):
            document[name] = [
                {k: v for k, v in row.items() if k not in choices or str(v) in choices[k]}
                if isinstance(row, dict)
                else row
                for row in rows
            ]
    return document


def inputs(parts: Sequence[PartInput], mine: Code, other: Code) -> list[PartInput]:
    """A job's parts as the other family reads them: usual values are put where they hold first, for
    one name may have other choices there."""
    return [
        replace(
            item,
            document=_without_usual(
                counterpart(kind(item.kind), item.document, mine, other)[0], mine
            ),
        )
        for item in with_usual_values(parts, mine)
    ]


def _without_usual(document: Document, mine: Code) -> Document:
    """The document without the usual values that are read under the first code."""
    names = {PREFIX + name for name in usual_specs(mine.wiring)}
    return {name: value for name, value in document.items() if name not in names}


@cache
def merged(own: type[Entries], other: type[Entries], group: str) -> type[Entries]:
    """One model for the form of a document that is read twice: all of ``own``, and what ``other``
    has besides, in a ``group`` of its own; rows of the same name have the columns of both. It
    serves forms and saving; each side still reads by its own model."""
    rows = row_models(own)
    found: dict[str, Any] = {}
    types: dict[str, Any] = {}
    for name, info in other.model_fields.items():
        if name not in own.model_fields:
            types[name], found[name] = _typed(info), _in_group(info, group)
    for name, row in row_models(other).items():
        if name in rows:
            own_row = rows[name].model_fields
            more = {n: i for n, i in row.model_fields.items() if n not in own_row}
            if more:
                both = type(
                    rows[name].__name__,
                    (rows[name],),
                    {
                        "__annotations__": {n: _typed(i) for n, i in more.items()},
                        **{n: _in_group(i, group) for n, i in more.items()},
                    },
                )
                types[name] = tuple[both, ...]  # type: ignore[valid-type]
                found[name] = own.model_fields[name]
    return type(own.__name__, (own,), {"__annotations__": types, "__doc__": own.__doc__, **found})


def _typed(info: FieldInfo) -> Any:
    return Annotated[info.annotation, *info.metadata] if info.metadata else info.annotation


def _in_group(info: FieldInfo, group: str) -> FieldInfo:
    extra = info.json_schema_extra
    form = dict(extra.get("form", {})) if isinstance(extra, dict) else {}  # type: ignore[arg-type]
    found: FieldInfo = Field(
        info.default,
        title=info.title,
        description=info.description,
        json_schema_extra={"form": {**form, "group": group}},
    )
    return found


def stand_ins(found: Mapping[str, Evaluated], other: Code) -> dict[str, StandIn]:
    """What the parts that the other family does not cover hand on, as the first one has it: a
    transformer that is not covered still changes the volts, and its load is still there."""
    stand: dict[str, StandIn] = {}
    for key, mine in found.items():
        of, context = mine.of, mine.context
        if of is None or context is None or of.covers(other) or mine.outcome is None:
            continue
        below = of.hand_down(mine.entries, context.supply) if of.holds_parts else context.supply
        up = of.hand_up(mine.entries, mine.outcome, context)
        device = device_of(key, "", mine.entries, mine.outcome, up, context.supply.system)
        stand[key] = StandIn(below, replace(up, devices=(device,) if device else ()))
    return stand


def compare(
    of: Kind,
    document: Mapping[str, Any],
    mine: Evaluated,
    other: Evaluated,
    books: tuple[Edition, Edition],
) -> Beside:
    """Both sides of one part. ``books`` are the editions that they were worked under."""
    codes = code_of(books[0].family), code_of(books[1].family)
    _, left = counterpart(of, document, *codes)
    sheets = mine.report, other.report
    rows = tuple(_compared(sheets, books, codes))
    return Beside(
        books[0].title,
        books[1].title,
        rows,
        _why(rows, books),
        tuple(problem.words for problem in other.problems),
        left,
        sheets[1].headline if sheets[1] else "",
        sheets[1].status if sheets[1] else "incomplete",
    )


def _compared(
    sheets: tuple[Report | None, Report | None],
    books: tuple[Edition, Edition],
    codes: tuple[Code, Code],
) -> list[ComparedRow]:
    found, seen = [], set()
    for name, label, results, lines in ROWS:
        sides = [
            _figure(sheet, results, lines, book, code)
            for sheet, book, code in zip(sheets, books, codes, strict=True)
        ]
        seen |= set(results)
        if sides[0] is not None or sides[1] is not None:
            found.append(ComparedRow(name, label, sides[0], sides[1]))
    # what else both answer
    first = sheets[0] or sheets[1]
    for name in first.answer if first else ():
        if name in seen or not all(sheet and name in sheet.results for sheet in sheets):
            continue
        sides = [
            _figure(sheet, (name,), (name,), book, code)
            for sheet, book, code in zip(sheets, books, codes, strict=True)
        ]
        found.append(ComparedRow(name, first.results[name].label, sides[0], sides[1]))  # type: ignore[union-attr]
    return found


def _figure(
    sheet: Report | None,
    results: Sequence[str],
    lines: Sequence[str],
    book: Edition,
    code: Code,
) -> Figure | None:
    if sheet is None:
        return None
    name = next((name for name in results if name in sheet.results), None)
    if name is None:
        return None
    result: Result = sheet.results[name]
    line = _line(sheet, lines)
    size = sheet.results.get(f"{name}_size")
    area = 0.0
    if size is not None and isinstance(size.value, str) and size.value:
        sets = sheet.results.get(f"{name}_sets")
        many = sets.value if sets is not None and isinstance(sets.value, int | float) else 1
        area = code.square_mm(Size(size.value), book) * float(many)
    rules = tuple(dict.fromkeys(rule.number for rule in line.rules)) if line else ()
    if line and not rules and line.kind in ("sum", "result"):
        rules = _summed(sheet, line)
    return Figure(result.value, result.unit, area, rules)


def _summed(sheet: Report, line: WorksheetLine) -> tuple[str, ...]:
    """What stands behind a sum that cites nothing itself: the first rules of the lines above it."""
    section = next(s for s in sheet.sections if any(one is line for one in s.lines))
    numbers = (rule.number for one in section.lines for rule in one.rules)
    return tuple(dict.fromkeys(numbers))[:SHOWN_RULES]


def _line(sheet: Report, names: Sequence[str]) -> WorksheetLine | None:
    by_name: dict[str, WorksheetLine] = {}
    for section in sheet.sections:
        for line in section.lines:
            by_name.setdefault(line.name, line)  # the method that is taken stands first
    return next((by_name[name] for name in names if name in by_name), None)


def _why(rows: Sequence[ComparedRow], books: tuple[Edition, Edition]) -> Text:
    """The first that differs explains the rest: each follows from what stands above it."""
    by_name = {row.name: row for row in rows}
    ordered = [by_name[name] for name in STAGES if name in by_name]
    differing = [row for row in (*ordered, *rows) if row.differs]
    # what no rule stands behind only follows from the next that one does
    ruled = (r for r in differing if r.mine and r.other and (r.mine.rules or r.other.rules))
    first = next(ruled, next(iter(differing), None))
    one, two = (first.mine, first.other) if first else (None, None)
    if first is None or one is None or two is None:
        answers = [by_name[name] for name in ANSWERS if name in by_name]
        if any((row.mine is None) != (row.other is None) for row in answers):
            return say("One of them has no result here: they cannot be compared.")
        return say("Both come to the same.")
    given = {
        "what": first.label,
        "mine": books[0].title,
        "other": books[1].title,
        "one": one.text,
        "two": two.text,
        "rule": one.cited or say("the load itself"),
        "rule_2": two.cited or say("the load itself"),
    }
    if first.name == "load":
        return say(
            "They add the load up by other rules: {one} by {mine} ({rule}), {two} by {other}"
            " ({rule_2}).",
            **given,
        )
    if first.name == "design":
        return say(
            "{mine} asks for {one} ({rule}), {other} for {two} ({rule_2}).",
            **given,
        )
    if first.name == "device":
        return say(
            "For the same amperes {mine} takes a device of {one} ({rule}), {other} one of {two}"
            " ({rule_2}).",
            **given,
        )
    if first.name in ("ampacity", "conductor"):
        size, size_2 = by_name.get("conductor"), by_name.get("ampacity")
        if size and size_2 and size.mine and size.other and size_2.mine and size_2.other:
            given |= {
                "size": size.mine.text,
                "size_2": size.other.text,
                "one": size_2.mine.text,
                "two": size_2.other.text,
            }
            return say(
                "Behind the same device {mine} has {size} carry {one} ({rule}), {other} {size_2}"
                " {two} ({rule_2}).",
                **given,
            )
    return say(
        "{what}: {one} by {mine} ({rule}), {two} by {other} ({rule_2}).",
        **given,
    )
