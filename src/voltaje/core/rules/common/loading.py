"""How far windings are loaded, with one tolerance for all of them: a load that passes a rating by
less than the figures of loads are fine is taken as at it, and the sheet says so."""

from __future__ import annotations

from voltaje.core.codes import practice
from voltaje.core.report import Findings, Text, figure_beside, fits, say

TOPIC = "rating_tolerance"


def within_rating(percent: float) -> bool:
    """Whether windings loaded to that percent of their rating hold."""
    return fits(percent, 100.0 + practice().value(TOPIC))


def percent_of(percent: float) -> str:
    """The percent as it is told: near 100 with the digits that tell it from 100."""
    return figure_beside(percent, 100.0, 0)


def judge_loading(
    findings: Findings,
    percent: float,
    name: str = "loading",
    amount: Text | str = "",
    mend: Text | None = None,
    entries: str = "load",
) -> None:
    """Adds the finding of windings loaded to that percent of their rating."""
    words, rules = say("Loaded to {percent} %.", percent=percent_of(percent)), None
    if within_rating(percent) and not fits(percent, 100.0):
        tolerance = practice().limit(TOPIC)
        words = say(
            "Loaded to {percent} %: within {tolerance} % of its rating, counted as fully loaded.",
            percent=percent_of(percent),
            tolerance=tolerance.value,
        )
        rules = tolerance.rule
    holds = within_rating(percent)
    findings.judged(holds, name, words, amount, mend=mend, rules=rules, entries=entries)
