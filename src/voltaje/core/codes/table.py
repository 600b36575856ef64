"""One published table: its cells as text, and where they come from."""

from __future__ import annotations

import csv
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path


@dataclass(frozen=True)
class Table:
    """A table read from CSV. ``rows[row][column]`` is the cell as printed, ``""`` where empty.

    ``meta`` holds the header's lines: title, source, checked, check, and unit by column.
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
                name, _, value = text.lstrip("# ").partition(":")
                meta[name.strip()] = value.strip()
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
        return tuple(name.strip() for name in self.meta.get("sizes", "").split(",") if name.strip())

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
