"""The places of a board: their numbers, their columns, the line behind each."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Literal

from voltaje.core.report import Text, say

Numbering = Literal["odd-even", "down", "column", "ways"]
NUMBERINGS: Mapping[Numbering, Text] = {
    "odd-even": say("odd left, even right"),
    "down": say("down the left, then the right"),
    "column": say("one column"),
    "ways": say("ways that hold every line"),
}
_TYPED = re.compile(r"(\d{1,3})\s*[-./ ]?\s*(L[123])?", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Place:
    """One place: its name, column (0 left) and row, the line behind it, the way it belongs to."""

    name: str
    column: int
    row: int
    line: str
    way: int


Span = tuple[Place, ...]


def line_of(span: Span) -> str:
    """What stands behind neighbouring places: ``"L1"``, ``"L1-L2"``, ``"all"``."""
    lines = sorted({place.line for place in span})
    return "all" if len(lines) > 2 else "-".join(lines)


@dataclass(frozen=True, slots=True)
class PanelLayout:
    """A board's places by column, from the top down."""

    numbering: Numbering
    lines: tuple[str, ...]
    columns: tuple[Span, ...]
    names: Mapping[str, Place] = field(compare=False, repr=False)
    # by poles, once they were asked for: to hash all places each time costs more than to find them
    _spans: dict[int, Sequence[Span]] = field(
        default_factory=dict, init=False, compare=False, repr=False
    )
    _behind: dict[int, frozenset[str]] = field(
        default_factory=dict, init=False, compare=False, repr=False
    )

    @property
    def count(self) -> int:
        """How many places there are."""
        return len(self.names)

    @property
    def rows(self) -> int:
        return max((len(column) for column in self.columns), default=0)

    def find(self, typed: str) -> Place | None:
        """The place that was typed: ``7``, ``3 L2``; of a way its first; ``None``: none."""
        match = _TYPED.fullmatch(typed.strip())
        if match is None:
            return None
        number, line = int(match[1]), (match[2] or "").upper()
        if self.numbering == "ways":
            line = line or self.lines[0]
        name = _name(number, line, self)
        found = self.names.get(name)
        return found if found is None or line in ("", found.line) else None

    def span(self, first: Place, poles: int) -> Span | None:
        """``poles`` neighbouring places from ``first`` on; ``None`` where they run over an end, or
        out of a way."""
        column = self.columns[first.column]
        found = column[first.row : first.row + poles]
        if len(found) < poles:
            return None
        if self.numbering == "ways" and found[-1].way != first.way:
            return None
        return found

    def spans(self, poles: int) -> Sequence[Span]:
        """All neighbouring places for so many poles, from the top down, left before right."""
        if poles not in self._spans:
            self._spans[poles] = tuple(self._neighbours(poles))
        return self._spans[poles]

    def _neighbours(self, poles: int) -> Sequence[Span]:
        found = []
        for column in self.columns:
            for row in range(len(column) - poles + 1):
                span = column[row : row + poles]
                if self.numbering != "ways" or span[-1].way == span[0].way:
                    found.append(span)
        return sorted(found, key=lambda span: (span[0].row, span[0].column))

    def behind(self, poles: int) -> frozenset[str]:
        """The lines, or pairs of lines, behind neighbouring positions for so many poles. In a way
        that holds L1, L2 and L3 no two neighbours stand behind L1 and L3."""
        if poles not in self._behind:
            self._behind[poles] = frozenset(line_of(span) for span in self.spans(poles))
        return self._behind[poles]


def _name(number: int, line: str, layout: PanelLayout) -> str:
    if layout.numbering == "ways" and len(layout.lines) > 1:
        return f"{number} {line}"
    return str(number)


def number_of(typed: str) -> int:
    """The number of a place or way as it was typed: 3 of ``3 L2``; 0 where it is none."""
    match = _TYPED.fullmatch(typed.strip())
    return int(match[1]) if match else 0


@lru_cache(maxsize=256)
def lay_out(numbering: Numbering, lines: tuple[str, ...], count: int) -> PanelLayout:
    """``count`` places under a numbering, over those lines from the top down."""
    columns: tuple[list[Place], list[Place]] = ([], [])
    if numbering == "ways":
        ways = -(-count // len(lines))
        for way in range(1, ways + 1):
            into = columns[(way - 1) % 2]
            for line in lines:
                name = f"{way} {line}" if len(lines) > 1 else str(way)
                into.append(Place(name, (way - 1) % 2, len(into), line, way))
    else:
        left = count if numbering == "column" else -(-count // 2)
        for number in range(1, count + 1):
            side = 0 if number <= left else 1
            if numbering == "odd-even":
                side = (number - 1) % 2
            row = len(columns[side])
            columns[side].append(Place(str(number), side, row, lines[row % len(lines)], row))
    found = tuple(tuple(column) for column in columns if column)
    names = {place.name: place for column in found for place in column}
    return PanelLayout(numbering, lines, found, names)
