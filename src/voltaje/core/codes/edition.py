"""Editions of a code: which number a rule has, what its table says, what it inherits."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, cached_property
from pathlib import Path

from voltaje.core.codes.table import Table
from voltaje.core.worksheet import Rule

HOME = Path(__file__).parent


class NotCoveredError(LookupError):
    """The edition does not answer here. ``str()`` names the edition and the topic."""

    def __init__(self, edition: str, topic: str) -> None:
        self.edition, self.topic = edition, topic
        super().__init__(f"“{topic}” is not covered by {edition} here.")


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
    """A value looked up, with its address."""

    value: float
    rule: Rule


class Edition:
    """One edition, read once. Use :func:`edition` to get it."""

    def __init__(self, folder: Path) -> None:
        self.id = folder.name
        self._folder = folder
        with (folder / "edition.csv").open(encoding="utf-8", newline="") as file:
            row = next(csv.DictReader(file))
        self.title = row["title"]
        self.year = int(row["year"])
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

    def table(self, topic: str) -> Table:
        """This edition's table or the nearest ancestor's. Raises :class:`NotCoveredError`."""
        for at in self.lineage():
            if table := at._tables.get(topic):
                return table
        raise NotCoveredError(self.title, topic)

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
        table = self.table(topic)
        text = table.rows.get(row, {}).get(column, "")
        if not text:
            raise NotCoveredError(self.title, f"{topic}, {row}, {column}")
        return Cell(float(text), self.rule(topic, row, column))


@cache
def edition(id: str) -> Edition:
    """The edition of that id, such as ``nec-2020``. Raises :class:`NotCoveredError`."""
    folder = HOME / id
    if not id.replace("-", "").isalnum() or not (folder / "edition.csv").is_file():
        raise NotCoveredError("Voltaje", id)
    return Edition(folder)


@cache
def editions() -> tuple[Edition, ...]:
    """All editions, oldest first."""
    found = (edition(path.parent.name) for path in HOME.glob("*/edition.csv"))
    return tuple(sorted(found, key=lambda e: e.year))
