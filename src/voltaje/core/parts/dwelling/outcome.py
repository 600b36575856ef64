"""What a way of calculating gives: its total, its lines, its flows and its findings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from voltaje.core.worksheet import Finding, Flow, Line, Rule, Section, say


@dataclass(frozen=True, slots=True)
class Outcome:
    """``groups`` are the demands by name, VA, that add up to ``calculated``; ``cautious`` a larger
    figure, VA, that stands beside it (0: none)."""

    section: Section
    connected: float
    calculated: float
    flows: tuple[Flow, ...]
    groups: dict[str, float] = field(default_factory=dict)
    findings: tuple[Finding, ...] = ()
    cautious: float = 0.0


def lowered_line(name: str, by: float, rule: Rule, entries: Sequence[str]) -> Line:
    """The line that says that a factor which comes with the number of loads lowered the sum."""
    return Line(
        f"{name}_lowered",
        say(
            "With fewer loads this group would count {by} VA more: the factor follows the number",
            by=by,
        ),
        None,
        "",
        "",
        (rule,),
        entries=tuple(entries),
        kind="note",
    )
