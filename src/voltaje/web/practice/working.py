"""A problem's worksheet as a learner fills it: what is asked, what was typed, how it is marked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from voltaje.core.practice import AskedLine, Marked, Marker, hints
from voltaje.core.report import Rule, Text
from voltaje.web.http import intake

LONGEST = 60  # no code figure: characters of a figure


@dataclass(frozen=True, slots=True)
class Line:
    """A line as the page shows it: what is asked, what was typed, how it is marked, the hints that
    were asked for, and whether there are more."""

    asked: AskedLine
    given: str
    marked: Marked | None
    hints: tuple[Text, ...]
    more: bool
    count: int
    first: bool

    @property
    def unit(self) -> str:
        """The unit beside what was typed, unless that has it."""
        unit = self.asked.unit
        return "" if unit and self.given.replace(" ", "").endswith(unit) else unit


def typed_lines(posted: Mapping[str, Any], marker: Marker) -> dict[str, str]:
    """What was typed for each line, by the line's id."""
    return {
        line.id: intake.one_line(str(posted.get(f"line-{line.id}", "")), LONGEST)
        for line in marker.lines
    }


def shown_lines(
    marker: Marker,
    typed: Mapping[str, str],
    marked: tuple[Marked, ...],
    helped: Mapping[str, int] | None = None,
) -> list[Line]:
    """Every line as the page shows it."""
    by_id = {one.asked.id: one for one in marked}
    found, before = [], ""
    for asked in marker.lines:
        every = hints(asked, _about(marker))
        count = min((helped or {}).get(asked.id, 0), len(every))
        one = by_id.get(asked.id)
        given = one.given if one else typed.get(asked.id, "")
        section = str(asked.section)
        found.append(
            Line(asked, given, one, every[:count], count < len(every), count, section != before)
        )
        before = section
    return found


def _about(marker: Marker) -> Any:
    """What a rule or table is about, by its own title."""

    def title(rule: Rule) -> str:
        book = marker.book
        if rule.is_table and book.has_table(rule.topic):
            return str(book.table(rule.topic).meta.get("title", ""))
        return ""

    return title
