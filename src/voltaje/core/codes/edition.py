"""Editions of a code: which number a rule has, what its table says, what it inherits."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cache, cached_property, lru_cache
from pathlib import Path
from typing import NamedTuple

from voltaje.core.codes.cells import Span, span
from voltaje.core.codes.table import Table
from voltaje.core.codes.vocabulary import Size
from voltaje.core.report import Rule, Text, say

HOME = Path(__file__).parent
# the order in which families are shown
FAMILIES = ("nec", "cec", "bs7671", "sans10142", "asnzs3000")


class NotCoveredError(LookupError):
    """The edition does not answer here. ``str()`` names the edition and the topic."""

    def __init__(self, edition: str, topic: Text | str) -> None:
        self.edition, self.topic = edition, str(topic)
        words = say("“{topic}” is not covered by {edition} here.", topic=topic, edition=edition)
        super().__init__(str(words))


@dataclass(frozen=True, slots=True)
class RuleText:
    """A rule in our own words, with its number in this edition and how far it was checked."""

    topic: str
    number: str
    is_table: bool
    says: str
    checked: str


@dataclass(frozen=True, slots=True)
class Cell:
    """A figure looked up, with its address and its amendment: they cannot part."""

    value: float
    rule: Rule


@dataclass(frozen=True, slots=True)
class SizeCell:
    """A conductor size looked up, with its address and its amendment."""

    size: Size
    rule: Rule

    @property
    def rules(self) -> tuple[Rule, ...]:
        """The rule as what else it takes is added to."""
        return (self.rule,)


class Edition:
    """One edition, read once. Use :func:`edition` to get it."""

    def __init__(self, folder: Path) -> None:
        self.id = folder.name
        self._folder = folder
        self._known: dict[str, Table] = {}
        self._values: dict[str, float] = {}
        self._cells: dict[tuple[str, str, str], Cell] = {}
        self._columns: dict[tuple[str, str], Mapping[str, Cell]] = {}
        with (folder / "edition.csv").open(encoding="utf-8", newline="") as file:
            row = next(csv.DictReader(file))
        self.title = row["title"]
        self.year = int(row["year"])
        self.family = row["family"]
        # the words by which people name it, without its number
        self.asked = tuple(row.get("asked", "").split())
        self.parent: Edition | None = edition(row["parent"]) if row["parent"] else None
        with (folder / "rules.csv").open(encoding="utf-8", newline="") as file:
            self._rules = {
                entry["topic"]: RuleText(
                    entry["topic"],
                    entry["number"],
                    entry["table"] == "yes",
                    entry["says"],
                    entry["checked"],
                )
                for entry in csv.DictReader(file)
            }

    def lineage(self) -> Iterator[Edition]:
        """This edition, its parent, its parent's parent."""
        at: Edition | None = self
        while at is not None:
            yield at
            at = at.parent

    def text(self, topic: str) -> RuleText:
        """The rule's number and words. Raises :class:`NotCoveredError`."""
        for at in self.lineage():
            if topic in at._rules:
                return at._rules[topic]
        raise NotCoveredError(self.title, topic)

    def rule(self, topic: str, row: str = "", column: str = "") -> Rule:
        """The rule's address in this edition, for a worksheet line.

        Raises :class:`NotCoveredError`.
        """
        text = self.text(topic)
        return Rule(self.id, topic, text.number, text.is_table, row, column)

    def cites(self, topic: str, row: str = "", column: str = "") -> Rule | None:
        """Like :meth:`rule`; ``None`` where the edition says nothing of it."""
        try:
            return self.rule(topic, row, column)
        except NotCoveredError:
            return None

    def table(self, topic: str) -> Table:
        """This edition's table or the nearest ancestor's. Raises :class:`NotCoveredError`."""
        found = self._known.get(topic)
        if found is None:
            found = self._inherited(topic)
            if found is None:
                raise NotCoveredError(self.title, topic)
            self._known[topic] = found
        return found

    def _inherited(self, topic: str) -> Table | None:
        """This edition's table, the nearest ancestor's, or the ancestor's with the rows that this
        edition gives in their place, where its header says ``inherits: rows``."""
        own = self._tables.get(topic)
        above = self.parent._inherited(topic) if self.parent else None
        if own is None or above is None or own.meta.get("inherits") != "rows":
            return own or above
        return replace(own, rows={**above.rows, **own.rows})

    @cached_property
    def _tables(self) -> dict[str, Table]:
        return {
            path.stem: Table.load(path)
            for path in sorted(self._folder.glob("*.csv"))
            if path.stem not in ("edition", "rules")
        }

    def topics(self) -> list[str]:
        """Every topic this edition answers, in the order of the oldest edition."""
        found: dict[str, None] = {}
        for at in reversed(list(self.lineage())):
            found.update(dict.fromkeys(at._rules))
        return list(found)

    def cell(self, topic: str, row: str, column: str) -> Cell:
        """One cell as a number, with its address.

        Raises :class:`NotCoveredError` when the table or a filled cell is not there.
        """
        key = (topic, row, column)
        if (known := self._cells.get(key)) is not None:
            return known
        table = self.table(topic)
        text = table.rows.get(row, {}).get(column, "")
        if not text:
            raise NotCoveredError(self.title, f"{topic}, {row}, {column}")
        found = self._cells[key] = Cell(float(text), self.rule(topic, row, column))
        return found

    def cell_or_none(self, topic: str, row: str, column: str) -> Cell | None:
        """Like :meth:`cell`; ``None`` where the table leaves it empty or has no such row or column.
        Raises :class:`NotCoveredError` where there is no such table."""
        if not self.table(topic).rows.get(row, {}).get(column):
            return None
        return self.cell(topic, row, column)

    def cells(self, topic: str, column: str) -> Mapping[str, Cell]:
        """The filled cells of a column in the order of the rows, by row; none where the table has
        no such column. Raises :class:`NotCoveredError`."""
        key = (topic, column)
        if key not in self._columns:
            found = ((row, self.cell_or_none(topic, row, column)) for row in self.rows(topic))
            self._columns[key] = {row: cell for row, cell in found if cell is not None}
        return self._columns[key]

    def size_cell(self, topic: str, row: str, column: str) -> SizeCell | None:
        """A cell that holds a conductor size; ``None`` where it is empty. Raises like
        :meth:`cell_or_none`."""
        text = self.table(topic).rows.get(row, {}).get(column, "")
        return SizeCell(Size(text), self.rule(topic, row, column)) if text else None

    def word(self, topic: str, row: str, column: str) -> str:
        """A cell that holds no figure: yes or no, the name of a column or of a rule; ``""`` where
        it is empty or there is no such row. Raises :class:`NotCoveredError`."""
        return self.table(topic).rows.get(row, {}).get(column, "")

    def rows(self, topic: str) -> tuple[str, ...]:
        """The keys of a table's rows in their order. Raises :class:`NotCoveredError`."""
        return tuple(self.table(topic).rows)

    def columns(self, topic: str) -> tuple[str, ...]:
        """The names of a table's columns. Raises :class:`NotCoveredError`."""
        return self.table(topic).columns

    def header(self, topic: str, name: str) -> str:
        """A line of a table's header; ``""`` where it has none. Raises :class:`NotCoveredError`."""
        return self.table(topic).meta.get(name, "")

    def row_for(self, topic: str, number: int) -> str:
        """The row of a count: one that is it, or a range that holds it. Raises ``KeyError`` when no
        row does, :class:`NotCoveredError`."""
        return self.table(topic).span(number)

    def column_at(self, topic: str, **by: str) -> str:
        """The column of those places on a table's axes. Raises ``KeyError`` where it has none,
        :class:`NotCoveredError`."""
        return self.table(topic).at(**by)

    def limit(self, topic: str) -> Cell:
        """A limit or factor that stands in the text of a rule, with that rule.

        Raises :class:`NotCoveredError`.
        """
        key = ("limits", topic, "")
        if (known := self._cells.get(key)) is not None:
            return known
        row = self.table("limits").rows.get(topic, {})
        if not row.get("value"):
            raise NotCoveredError(self.title, topic)
        found = Cell(float(row["value"]), self.rule(row["rule"], topic, "value"))
        self._cells[key] = found
        return found

    def limit_rule(self, topic: str) -> Rule:
        """The rule of a limit that is a size, or yes or no. Raises :class:`NotCoveredError`."""
        return self.rule(self.table("limits").rows[topic]["rule"], topic, "value")

    def value(self, topic: str) -> float:
        """A limit's figure alone, for what is asked many times. Raises like :meth:`limit`."""
        if topic not in self._values:
            self._values[topic] = self.limit(topic).value
        return self._values[topic]

    def has_limit(self, topic: str) -> bool:
        """Whether this edition gives that limit at all."""
        return bool(self.table("limits").rows.get(topic, {}).get("value"))

    def says(self, topic: str) -> bool:
        """A limit that is yes or no; no where it is not there."""
        return self.table("limits").rows.get(topic, {}).get("value") == "yes"

    def limit_size(self, topic: str) -> Size:
        """A limit that is a conductor size, such as ``1/0``. Raises :class:`NotCoveredError`."""
        return Size(self.table("limits").rows[topic]["value"])

    def span(self, topic: str, row: str, column: str) -> Span:
        """What a local amendment may put into a cell. Raises :class:`NotCoveredError`."""
        sizes = self.table("ampacity").rows if self.has_table("ampacity") else ()
        return span(self.table(topic), row, column, sizes)

    def has_table(self, topic: str) -> bool:
        """Whether this edition or an ancestor holds a table of that topic."""
        return self._inherited(topic) is not None

    def address(self, rule: Rule) -> tuple[str, str, str] | None:
        """The table, row and column that a rule was read from; ``None`` where it names no cell."""
        limits = self.table("limits").rows
        if rule.column == "value" and limits.get(rule.row, {}).get("rule") == rule.topic:
            return "limits", rule.row, "value"
        known = rule.row and self.has_table(rule.topic)
        if known and self.table(rule.topic).rows.get(rule.row, {}).get(rule.column):
            return rule.topic, rule.row, rule.column
        return None

    def misread(self, cells: Iterable[Misreading]) -> Edition:
        """This edition with some cells read as other figures, as by a slip: whatever is worked with
        it is wrong on purpose, and its rules say nothing of it. Cells that are not there are passed
        over."""
        return Misread(self, tuple(cells))

    def with_amendments(self, amendments: Iterable[Amendment]) -> Edition:
        """This edition with some of its figures overridden.

        Raises :class:`NotCoveredError` for a cell that is not in it, ``ValueError`` for a value
        that the cell does not accept, with the words that say what it does.
        """
        found = tuple(amendments)
        return Amended(self, found) if found else self


@dataclass(frozen=True, slots=True)
class Amendment:
    """A figure that a jurisdiction has changed: the cell, the value as text, who and why."""

    topic: str
    row: str
    column: str
    value: str
    jurisdiction: str
    reason: str


class Misreading(NamedTuple):
    """A cell and the figure that is taken for it."""

    topic: str
    row: str
    column: str
    value: str


class Overlaid(Edition):
    """An edition with other figures in some cells."""

    def __init__(self, base: Edition) -> None:
        self.id, self.title, self.year, self.parent = base.id, base.title, base.year, base.parent
        self.family, self.asked = base.family, base.asked
        self._rules, self._folder, self._base = base._rules, base._folder, base
        self._changed: dict[str, Table] = {}
        self._values, self._cells, self._columns = {}, {}, {}

    def _put(self, topic: str, row: str, column: str, value: str) -> None:
        table = self.table(topic)
        rows = {**table.rows, row: {**table.rows[row], column: value}}
        self._changed[topic] = replace(table, rows=rows)

    def table(self, topic: str) -> Table:
        """The table with its other figures, or the edition's own."""
        return self._changed.get(topic) or self._base.table(topic)

    def rule(self, topic: str, row: str = "", column: str = "") -> Rule:
        """The rule's address as the edition beneath has it."""
        return self._base.rule(topic, row, column)

    def has_table(self, topic: str) -> bool:
        """Whether the edition beneath has it: a figure changes, never a table."""
        return self._base.has_table(topic)


class Misread(Overlaid):
    """An edition as somebody misreads it, to find out what a slip gives."""

    def __init__(self, base: Edition, cells: tuple[Misreading, ...]) -> None:
        super().__init__(base)
        for topic, row, column, value in cells:
            if base.has_table(topic) and base.table(topic).rows.get(row, {}).get(column):
                self._put(topic, row, column, value)

    def _of(self, topic: str) -> Edition | None:
        """The edition beneath where it has read that table already: nothing of it is other."""
        return None if topic in self._changed else self._base

    def cell(self, topic: str, row: str, column: str) -> Cell:
        """As :meth:`Edition.cell`."""
        beneath = self._of(topic)
        return beneath.cell(topic, row, column) if beneath else super().cell(topic, row, column)

    def cells(self, topic: str, column: str) -> Mapping[str, Cell]:
        """As :meth:`Edition.cells`."""
        beneath = self._of(topic)
        return beneath.cells(topic, column) if beneath else super().cells(topic, column)

    def limit(self, topic: str) -> Cell:
        """As :meth:`Edition.limit`."""
        beneath = self._of("limits")
        return beneath.limit(topic) if beneath else super().limit(topic)


class Amended(Overlaid):
    """An edition as a jurisdiction amends it. Every rule that cites a changed figure says so."""

    def __init__(self, base: Edition, amendments: tuple[Amendment, ...]) -> None:
        super().__init__(base)
        self.amendments = amendments
        self._why: dict[tuple[str, str, str], str] = {}
        self._limits_of: dict[str, str] = {}
        self._of: dict[str, list[tuple[str, str, str]]] = {}
        for item in amendments:
            table = self._changed.get(item.topic) or base.table(item.topic)
            if item.column not in table.rows.get(item.row, {}):
                raise NotCoveredError(base.title, f"{item.topic}, {item.row}, {item.column}")
            was = table.rows[item.row][item.column]
            if problem := base.span(item.topic, item.row, item.column).problem(item.value):
                raise ValueError(problem)
            self._put(item.topic, item.row, item.column, item.value)
            words = f"{item.jurisdiction}: {item.value} instead of {was}. {item.reason}"
            self._why[item.topic, item.row, item.column] = words
            if item.topic == "limits":  # whoever cites the rule hears of it, whatever the cell
                self._limits_of[table.rows[item.row]["rule"]] = words
            else:
                self._of.setdefault(item.topic, []).append((item.row, item.column, words))
            for topic in table.names_columns_of:
                self._of.setdefault(topic, []).append(("", item.row, words))

    def rule(self, topic: str, row: str = "", column: str = "") -> Rule:
        """The rule's address, with the amendment where it changes that cell."""
        found = self._base.rule(topic, row, column)
        words = (
            self._why.get((topic, row, column))
            or self._why.get(("limits", row, "value"))
            or self._limits_of.get(topic)
            or ""
        )
        words = " ".join(filter(None, (words, self._read_there(topic, row, column))))
        return replace(found, amended=words) if words else found

    def _read_there(self, topic: str, row: str, column: str) -> str:
        """The amendments that a line which cites a table, or a cell of it, has read besides."""
        if topic not in self._of:
            return ""
        table = self.table(topic)
        return " ".join(
            words
            for at, of, words in self._of[topic]
            # a cell that is read beside the one cited; the bounds of its row; what chose the column
            if (at == row and table.read_with(of, column))
            or (of in table.bounds and row in table.rows_at(at))
            or (not at and f" {column}".endswith(f" {of}"))
        )


@cache
def edition(id: str) -> Edition:
    """The edition of that id, such as ``nec-2020``. Raises :class:`NotCoveredError`."""
    folder = HOME / id
    if not id.replace("-", "").isalnum() or not (folder / "edition.csv").is_file():
        raise NotCoveredError("Voltaje", id)
    return Edition(folder)


def code_edition(id: str) -> Edition:
    """The edition of a code that somebody names; a book of practice is none.

    Raises :class:`NotCoveredError`.
    """
    found = edition(id)
    if not found.year:
        raise NotCoveredError("Voltaje", id)
    return found


@lru_cache(maxsize=256)
def amended(id: str, amendments: tuple[Amendment, ...]) -> Edition:
    """An edition with amendments, the same object for the same ones. Those that no longer fit the
    edition, because the job has changed to another, are passed over.

    Raises :class:`NotCoveredError` for an unknown edition.
    """
    base = edition(id)
    fitting = []
    for item in amendments:
        try:
            base.with_amendments([item])
        except (NotCoveredError, ValueError):
            continue
        fitting.append(item)
    return base.with_amendments(fitting)


@cache
def editions(family: str = "") -> tuple[Edition, ...]:
    """All editions of codes, or those of one family, oldest first; the families one after the
    other. Books without a year are no codes."""
    found = [edition(path.parent.name) for path in HOME.glob("*/edition.csv")]
    codes = [e for e in found if e.year and (not family or e.family == family)]
    return tuple(sorted(codes, key=lambda e: (FAMILIES.index(e.family), e.year)))


def practice() -> Edition:
    """Cable tables and supply practice: facts that no edition of a code gives."""
    return edition("cables")
