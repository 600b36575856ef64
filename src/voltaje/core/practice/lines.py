"""What is asked of a problem: the lines of its worksheet with a figure, the answers in words."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

from voltaje.core.report import Report, Rule, Text, WorksheetLine, figure, say

ANSWER = "answer:"
SIZE = re.compile(r"AWG|kcmil|mm²")


@dataclass(frozen=True, slots=True)
class AskedLine:
    """A line to be filled in: its ``id``, what it is called, its ``value`` with the unit, or an
    answer in ``words`` like a conductor; the line of the worksheet where it is one."""

    id: str
    section: Text | str
    label: Text
    value: float | None
    unit: str
    words: str = ""
    line: WorksheetLine | None = None

    @property
    def shown(self) -> str:
        """The right answer as the worksheet prints it."""
        return self.words or f"{figure(self.value)} {self.unit}".strip()

    @property
    def rules(self) -> tuple[Rule, ...]:
        return self.line.rules if self.line else ()

    @property
    def expression(self) -> str:
        return str(self.line.expression) if self.line else ""


def asked_lines(report: Report, answer_only: bool = False) -> tuple[AskedLine, ...]:
    """The lines with figures in their order, then the answers in words; or the answers alone."""
    found: list[AskedLine] = []
    words = (result.value for result in report.results.values())
    told = frozenset(value for value in words if isinstance(value, str) and len(value) > 1)
    if not answer_only:
        seen: dict[str, int] = {}
        for section in report.sections:
            for line in section.lines:
                restated = line.entries and not line.expression and not line.rules
                if not line.value or line.kind == "note" or restated:  # nothing is to be found
                    continue
                seen[line.name] = seen.get(line.name, 0) + 1
                id = f"{section.name}.{line.name}.{seen[line.name]}"
                found.append(
                    AskedLine(
                        id, section.title, _bare(line, told), line.value, line.unit, line=line
                    )
                )
    for name in report.answer:
        result = report.results.get(name)
        if result is None:
            continue
        value, text = result.value, ""
        if isinstance(value, str):
            text = value
        if text or answer_only:
            number = None if text else float(value)
            id, label = ANSWER + name, _own(result.label)
            found.append(AskedLine(id, say("Answer"), label, number, result.unit, text))
    return tuple(found)


def _own(label: Text | str) -> Text:
    return label if isinstance(label, Text) else say(label)


def _bare(line: WorksheetLine, told: frozenset[str]) -> Text:
    """A label that tells its own answer is cut, like "Raceway: 3/4 in EMT" or "2 AWG Cu: …".
    ``told`` are the answers in words."""
    given = {
        name: "…" if str(value) in told or SIZE.search(str(value)) else value
        for name, value in line.label.given.items()
    }
    shown = str(Text(line.label.template, given)).removeprefix("…: ").removeprefix("…, ")
    return say("{label}", label=shown[:1].upper() + shown[1:])


def hints(asked: AskedLine, title: Callable[[Rule], str]) -> tuple[Text, ...]:
    """What helps with a line, one after the other: the rule, its table, the cell, the line itself.
    ``title`` tells what a rule or table is about."""
    found: list[Text] = []
    for rule in asked.rules:
        found.append(say("Look at {cite}.", cite=rule.cite))
        if about := title(rule):
            found.append(say("{cite}: {about}", cite=rule.cite, about=about))
        if rule.row and rule.is_table:
            found.append(say("Row {row}, column {column}.", row=rule.row, column=rule.column))
    if asked.expression:
        found.append(say("{sum}", sum=asked.expression))
    found.append(say("It is {shown}.", shown=asked.shown))
    return tuple(found)
