"""One published table: its cells as text, and where they come from."""

from __future__ import annotations

import csv
from collections.abc import Mapping
from dataclasses import dataclass, field
from fnmatch import fnmatchcase
from pathlib import Path


@dataclass(frozen=True)
class Table:
    """A table read from CSV. ``rows[row][column]`` is the cell as printed, ``""`` where empty.

    ``meta`` holds the header's lines: title, source, checked, check, and unit by column; a line
    that stands there several times is one of several lines.
    """

    topic: str
    meta: Mapping[str, str]
    key: str
    columns: tuple[str, ...]
    rows: Mapping[str, Mapping[str, str]]
    # columns as numbers, once they were asked for; another table has its own
    _numbers: dict[str, Mapping[str, float]] = field(
        default_factory=dict, init=False, repr=False, compare=False
    )

    @classmethod
    def load(cls, path: Path) -> Table:
        """Reads "# name: value" lines, then the columns, then the rows.

        Raises ``ValueError`` when the header lacks source or checked, or a row key repeats.
        """
        meta: dict[str, str] = {}
        body: list[str] = []
        for text in path.read_text(encoding="utf-8").splitlines():
            if text.startswith("#"):
                name, _, value = (part.strip() for part in text.lstrip("# ").partition(":"))
                meta[name] = f"{meta[name]}\n{value}" if name in meta else value
            elif text.strip():
                body.append(text)
        missing = {"title", "source", "checked"} - meta.keys()
        if missing:
            raise ValueError(f"{path.name}: the header lacks {', '.join(sorted(missing))}")
        reader = csv.DictReader(body)
        key, *columns = reader.fieldnames or [""]
        rows: dict[str, Mapping[str, str]] = {}
        for row in reader:
            name = row.pop(key)
            if name in rows or None in row or None in row.values():
                raise ValueError(f"{path.name}: row {name} is given twice or does not fit")
            rows[name] = row
        return cls(path.stem, meta, key, tuple(columns), rows)

    @property
    def size_columns(self) -> tuple[str, ...]:
        """The columns whose cells are conductor sizes, by the header's ``sizes``."""
        return self._named("sizes")

    @property
    def sums(self) -> tuple[str, ...]:
        """Those of them that may be the sum of conductors in parallel, by the header's ``sums``."""
        return self._named("sums")

    def _named(self, header: str) -> tuple[str, ...]:
        return tuple(name.strip() for name in self.meta.get(header, "").split(",") if name.strip())

    def unread(self, row: str, column: str) -> str:
        """Why no rule reads a cell, by the header's lines ``unread: rows | columns = why``, with
        ``*`` for any; ``""`` where one does."""
        for text in filter(None, self.meta.get("unread", "").split("\n")):
            place, _, why = text.partition(" = ")
            rows, _, columns = place.partition(" | ")
            if fnmatchcase(row, rows) and fnmatchcase(column, columns):
                return why
        return ""

    def read_with(self, column: str, cited: str) -> bool:
        """Whether a column is read whenever another of its row is ``cited``, by the header's lines
        ``read with: columns = columns cited``, with ``*`` for any."""
        for text in filter(None, self.meta.get("read with", "").split("\n")):
            columns, _, others = text.partition(" = ")
            if fnmatchcase(column, columns) and fnmatchcase(cited, others):
                return True
        return False

    @property
    def bounds(self) -> tuple[str, ...]:
        """The columns that say how far a row goes, by the header's ``bounds``."""
        return self._named("bounds")

    def rows_at(self, row: str) -> tuple[str, ...]:
        """The rows that a bound of ``row`` lies between: itself and the next."""
        rows = list(self.rows)
        at = rows.index(row)
        return tuple(rows[at : at + 2])

    @property
    def whole(self) -> tuple[str, ...]:
        """The columns of counts, whole numbers, by the header's ``whole``."""
        return self._named("whole")

    @property
    def names_columns_of(self) -> tuple[str, ...]:
        """The tables whose columns this one's rows choose, by the header's ``names columns of``."""
        return self._named("names columns of")

    @property
    def axes(self) -> tuple[str, ...]:
        """What the columns go by where they go by several things, by the header's ``axes``: a
        table of more than two axes has columns like ``B | 70 | 2``."""
        return tuple(name.strip() for name in self.meta.get("axes", "").split("|") if name.strip())

    def at(self, **by: str) -> str:
        """The column of those places on its axes. Raises ``KeyError`` where the table has none."""
        name = " | ".join(by[axis] for axis in self.axes)
        if name not in self.columns:
            raise KeyError(name)
        return name

    def column(self, name: str) -> Mapping[str, float]:
        """The filled cells of one column as numbers, in the order of the rows."""
        if name not in self._numbers:
            self._numbers[name] = {
                row: float(cells[name]) for row, cells in self.rows.items() if cells[name]
            }
        return self._numbers[name]

    def span(self, number: int) -> str:
        """The row whose key is ``number``, or a range "26-30" or "61+" that holds it.

        Raises ``KeyError`` when no row does.
        """
        for row in self.rows:
            low, _, high = row.partition("-")
            if row.endswith("+"):
                if number >= int(row[:-1]):
                    return row
            elif int(low) <= number <= int(high or low):
                return row
        raise KeyError(f"{self.topic}: no row for {number}")
