"""What a way of calculating gives: its total, its lines, its flows and its findings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from voltaje.core.worksheet import Finding, Flow, Line, Rule, Section, Text, figure, say


@dataclass(frozen=True, slots=True)
class Outcome:
    """``groups`` are the demands by name, VA, that add up to ``calculated``."""

    section: Section
    connected: float
    calculated: float
    flows: tuple[Flow, ...]
    groups: dict[str, float] = field(default_factory=dict)
    findings: tuple[Finding, ...] = ()


def lowered_line(name: str, by: float, rule: Rule, entries: Sequence[str]) -> Line:
    """The line that says that a factor which comes with the number of loads lowered the sum."""
    return Line(
        f"{name}_lowered",
        say(
            "With one fewer this group would count {by} VA more: the factor comes with the number",
            by=by,
        ),
        None,
        "",
        "",
        (rule,),
        entries=tuple(entries),
        kind="note",
    )


def lowered_finding(name: str, what: Text, by: float, rule: Rule) -> Finding:
    """The same, as a finding."""
    return Finding(
        "look",
        f"{name}_lowered",
        say(
            "{what}: the last one added lowers the calculated load, by up to {by} VA.",
            what=what,
            by=by,
        ),
        f"{figure(by)} VA",
        say("The code permits it; keep the larger figure if it may be removed again."),
        (rule,),
    )
