"""Builders: lines and findings written as they read on the worksheet."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import TypedDict, Unpack

from voltaje.core.report.sheet import (
    Change,
    Finding,
    LineKind,
    Offer,
    Rule,
    Section,
    Severity,
    WorksheetLine,
)
from voltaje.core.report.text import Text

Rules = Rule | Iterable[Rule | None] | None
Paths = str | Iterable[str]


def _rules(given: Rules) -> tuple[Rule, ...]:
    if given is None:
        return ()
    return (given,) if isinstance(given, Rule) else tuple(rule for rule in given if rule)


def _paths(given: Paths) -> tuple[str, ...]:
    if isinstance(given, str):
        return (given,) if given else ()
    return tuple(given)


class Further(TypedDict, total=False):
    """What else a line may have."""

    note: Text | None
    rounding: Text | None
    entries: Paths
    flow: str | None


class Worksheet:
    """Lines in their order: ``worksheet.step(name, label, value, unit, "the numbers put in",
    rules)``.

    ``flow`` is the band of the drawing that lines belong to where they say no other; ``rules`` and
    ``entries`` take one or several, rules that are ``None`` are left out.
    """

    def __init__(self, flow: str = "") -> None:
        self.flow = flow
        self.lines: list[WorksheetLine] = []

    def __iter__(self) -> Iterator[WorksheetLine]:
        return iter(self.lines)

    def __bool__(self) -> bool:
        return bool(self.lines)

    def __iadd__(self, lines: Iterable[WorksheetLine]) -> Worksheet:
        self.lines += lines
        return self

    def step(
        self,
        name: str,
        label: Text,
        value: float | None = None,
        unit: str = "",
        shown: Text | str = "",
        rules: Rules = None,
        *,
        note: Text | None = None,
        rounding: Text | None = None,
        entries: Paths = (),
        flow: str | None = None,
        kind: LineKind = "step",
    ) -> WorksheetLine:
        """A line that leads on."""
        line = WorksheetLine(
            name,
            label,
            value,
            unit,
            str(shown),
            _rules(rules),
            rounding,
            note,
            _paths(entries),
            kind,
            self.flow if flow is None else flow,
        )
        self.lines.append(line)
        return line

    def sum(
        self,
        name: str,
        label: Text,
        value: float | None = None,
        unit: str = "",
        shown: Text | str = "",
        rules: Rules = None,
        **further: Unpack[Further],
    ) -> WorksheetLine:
        """A line under a rule: what the lines above it come to."""
        return self.step(name, label, value, unit, shown, rules, kind="sum", **further)

    def result(
        self,
        name: str,
        label: Text,
        value: float | None = None,
        unit: str = "",
        shown: Text | str = "",
        rules: Rules = None,
        **further: Unpack[Further],
    ) -> WorksheetLine:
        """A line in a box: an answer."""
        return self.step(name, label, value, unit, shown, rules, kind="result", **further)

    def note(
        self,
        name: str,
        label: Text,
        value: float | None = None,
        unit: str = "",
        shown: Text | str = "",
        rules: Rules = None,
        **further: Unpack[Further],
    ) -> WorksheetLine:
        """A line beside the sum: it explains, and nothing follows from it."""
        return self.step(name, label, value, unit, shown, rules, kind="note", **further)

    def section(self, name: str, title: Text) -> Section:
        """The lines under one heading."""
        return Section(name, title, tuple(self.lines))


class Findings:
    """Findings in their order: ``found.fail(name, words, amount, mend=..., rules=...)``."""

    def __init__(self, found: Iterable[Finding] = ()) -> None:
        self.found = list(found)

    def __iter__(self) -> Iterator[Finding]:
        return iter(self.found)

    def __iadd__(self, more: Iterable[Finding]) -> Findings:
        self.found += more
        return self

    @property
    def failed(self) -> bool:
        """Whether anything fails so far."""
        return any(one.severity == "fail" for one in self.found)

    def add(
        self,
        severity: Severity,
        name: str,
        words: Text,
        amount: Text | str = "",
        *,
        mend: Text | None = None,
        rules: Rules = None,
        entries: Paths = (),
        offer: Offer | Change | None = None,
    ) -> None:
        """A finding of that severity: by how much, what mends it, under which rules."""
        told, under, at = str(amount), _rules(rules), _paths(entries)
        ahead = offer if isinstance(offer, Offer) else None
        change = offer if isinstance(offer, Change) else None
        self.found.append(Finding(severity, name, words, told, mend, under, at, ahead, change))

    def fail(
        self,
        name: str,
        words: Text,
        amount: Text | str = "",
        *,
        mend: Text | None = None,
        rules: Rules = None,
        entries: Paths = (),
        offer: Offer | Change | None = None,
    ) -> None:
        """What may not be."""
        self.add("fail", name, words, amount, mend=mend, rules=rules, entries=entries, offer=offer)

    def check(
        self,
        name: str,
        words: Text,
        amount: Text | str = "",
        *,
        mend: Text | None = None,
        rules: Rules = None,
        entries: Paths = (),
        offer: Offer | Change | None = None,
    ) -> None:
        """What is to be checked."""
        self.add("check", name, words, amount, mend=mend, rules=rules, entries=entries, offer=offer)

    def remark(
        self,
        name: str,
        words: Text,
        amount: Text | str = "",
        *,
        mend: Text | None = None,
        rules: Rules = None,
        entries: Paths = (),
    ) -> None:
        """What is worth telling and asks nothing."""
        self.add("remark", name, words, amount, mend=mend, rules=rules, entries=entries)

    def passes(
        self,
        name: str,
        words: Text,
        amount: Text | str = "",
        *,
        mend: Text | None = None,
        rules: Rules = None,
        entries: Paths = (),
    ) -> None:
        """What is in order."""
        self.add("pass", name, words, amount, mend=mend, rules=rules, entries=entries)

    def judged(
        self,
        holds: bool,
        name: str,
        words: Text,
        amount: Text | str = "",
        *,
        mend: Text | None = None,
        rules: Rules = None,
        entries: Paths = (),
    ) -> None:
        """What holds or fails; what mends it is told only where it fails."""
        self.add(
            "pass" if holds else "fail",
            name,
            words,
            amount,
            mend=None if holds else mend,
            rules=rules,
            entries=entries,
        )
