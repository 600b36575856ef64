"""A breaker's rating, and what is left of it where it stands."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.entries import Current, WrongEntryError, entry
from voltaje.core.kinds.interface import Outcome
from voltaje.core.report import Findings, Report, Result, Worksheet, figure, fits, say
from voltaje.core.rules.common.heat import Heat, Surroundings, heat, report_heat
from voltaje.core.rules.context import Context

GROUPS = {
    "breaker": "The breaker",
    "surroundings": "Where it stands",
    "makers": "Maker’s table, if at hand",
}


class BreakerEntries(Surroundings):
    """A breaker, what it carries for hours, and where it stands."""

    rating: Current | None = entry(None, "Rating", group="breaker", example="63 A")
    load: Current | None = entry(
        None, "Carries for hours", group="breaker", help="if it is known", example="50 A"
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class BreakerOutcome(Outcome):
    """What of the rating is left, and A of it."""

    rating: float
    heat: Heat
    carries: float


def calculate(entries: BreakerEntries, context: Context) -> BreakerOutcome:
    """Raises :class:`WrongEntryError` without a rating, or beyond the tables."""
    if not entries.rating:
        raise WrongEntryError("rating", say("Needed: what the breaker is rated, like 63 A."))
    found = heat(entries)
    carries = entries.rating * found.factor
    return BreakerOutcome(amperes=carries, rating=entries.rating, heat=found, carries=carries)


def report(outcome: BreakerOutcome, entries: BreakerEntries, context: Context) -> Report:
    """From the rating to what it carries."""
    worksheet, findings = Worksheet("breaker"), Findings()
    worksheet.step("rating", say("Rated"), outcome.rating, "A", entries="rating")
    report_heat(outcome.heat, entries, outcome.rating, worksheet)
    shown = f"{figure(outcome.rating)} × {figure(outcome.heat.factor, 3)}"
    words = say("Carries where it stands")
    worksheet.result("derated_current", words, outcome.carries, "A", shown, entries="rating")
    if entries.load is not None:
        spare = figure(abs(outcome.carries - entries.load), 1)
        holds = fits(entries.load, outcome.carries)
        words = say("{spare} A more than it carries there: it opens after a while.", spare=spare)
        if holds:
            words = say("{spare} A to spare.", spare=spare)
        mend = say("A larger one with a larger cable, air around it, or space between.")
        findings.judged(holds, "load", words, f"{spare} A", mend=mend, entries="load")
    return Report(
        "breaker",
        context.edition.id,
        (worksheet.section("breaker", say("The breaker where it stands")),),
        {
            "derated_current": Result(outcome.carries, "A", say("Carries there")),
            "rating": Result(outcome.rating, "A", say("Rating")),
            "share": Result(100 * outcome.heat.factor, "%", say("Of its rating")),
        },
        tuple(findings),
        answer=("derated_current", "rating", "share"),
        headline=f"{figure(outcome.rating)} A → {figure(outcome.carries, 1)} A",
    )
