"""A raceway's fill on the worksheet."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi, sqrt

from voltaje.core.codes.vocabulary import Size
from voltaje.core.kinds.raceway_fill.calculate import RacewayFillOutcome
from voltaje.core.kinds.raceway_fill.entries import FilledRaceway
from voltaje.core.report import Findings, Report, Result, Worksheet, figure, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.conductors import label

ANSWER = ("trade_size", "fill_percent", "allowed", "more", "adjustment")
# common practice: three conductors may wedge side by side between these ratios of the raceway's
# inside to a conductor's outside diameter, each 5 % more for the bend
JAM = (2.8, 3.2)  # common practice
BEND = 1.05  # common practice


@dataclass(frozen=True, slots=True)
class CrossSection:
    """What the drawing needs: inside diameter of the raceway, or the side of a ``square`` one, in,
    and the diameter of each conductor."""

    inside: float
    conductors: tuple[float, ...]
    square: bool = False


def report(outcome: RacewayFillOutcome, entries: FilledRaceway, context: Context) -> Report:
    """The sheet of a raceway."""
    edition, worksheet, findings = context.edition, Worksheet(), Findings()
    for index, one in enumerate(outcome.rows):
        size = label(Size(one.row.size))
        worksheet.step(
            f"area_{index}",
            say(
                "{count} × {size} {insulation}",
                count=one.row.count,
                size=size,
                insulation=one.row.insulation,
            ),
            one.area,
            "in²",
            f"{one.row.count} × {figure(one.each.value, 4)}",
            one.each.rule,
            entries=f"conductors.{one.row.id}.count",
        )
    words = say("All {count} conductors", count=outcome.many)
    worksheet.sum("area", words, outcome.area, "in²")
    raceway = f"{outcome.trade_size} in {entries.raceway}"
    if entries.raceway == "wireway":
        raceway = str(say("{size} in wireway", size=outcome.trade_size))
    words = say("Inside of {raceway}", raceway=raceway)
    worksheet.step("inside", words, outcome.inside.value, "in²", rules=outcome.inside.rule)
    shown = f"{figure(outcome.area, 4)} ÷ {figure(outcome.inside.value, 3)}"
    worksheet.result("fill_percent", say("Filled"), outcome.percent, "%", shown)
    words = say("May be filled")
    if entries.nipple and entries.raceway != "wireway":
        words = say("May be filled, a nipple")
    worksheet.step("allowed", words, outcome.allowed.value, "%", rules=outcome.allowed.rule)
    if outcome.alike is not None:
        each = outcome.rows[0].each
        exact = outcome.inside.value * outcome.allowed.value / 100 / each.value
        rules = (outcome.rounded.rule,) if outcome.rounded else ()
        note = None
        if outcome.rounded is not None:
            note = say(
                "{exact} ends in {up} or more: the next whole number",
                exact=figure(exact, 2),
                up=outcome.rounded.value,
            )
        words = say("Of these alone it takes")
        worksheet.step("most", words, float(outcome.alike), "", figure(exact, 2), rules, note=note)
    sections = [worksheet.section("fill", say("Fill"))]
    after = Worksheet()
    if outcome.adjustment is not None:
        after.step(
            "adjustment",
            say("{count} carry current: their ampacity is multiplied by", count=outcome.current),
            outcome.adjustment.value,
            "%",
            rules=[c.rule for c in (outcome.adjustment, outcome.unadjusted) if c is not None],
        )
    elif outcome.unadjusted is not None:
        after.note(
            "unadjusted",
            say(
                "{count} carry current: not adjusted up to {free}",
                count=outcome.current,
                free=outcome.unadjusted.value,
            ),
            rules=outcome.unadjusted.rule,
        )
    after.step("more", say("More of the last kind go in"), float(outcome.more), "")
    sections.append(after.section("after", say("What follows")))
    words = say(
        "{percent} % is filled, {allowed} % may be.",
        percent=figure(outcome.percent, 1),
        allowed=outcome.allowed.value,
    )
    findings.judged(
        outcome.fit,
        "fill",
        words,
        mend=say("A larger raceway, or fewer conductors."),
        rules=outcome.allowed.rule,
        entries="wireway_size" if entries.raceway == "wireway" else "trade_size",
    )
    if outcome.jam is not None and JAM[0] <= outcome.jam * BEND <= JAM[1]:
        findings.check(
            "jam",
            say(
                "Three alike may wedge side by side: the raceway is {ratio} times a conductor’s"
                " diameter, between {low} and {high}.",
                ratio=figure(outcome.jam * BEND, 2),
                low=JAM[0],
                high=JAM[1],
            ),
            mend=say("Take the next size, or pull with care."),
            entries="trade_size",
        )
    results = {
        "trade_size": Result(raceway, "", say("Raceway")),
        "fill_percent": Result(outcome.percent, "%", say("Filled")),
        "allowed": Result(outcome.allowed.value, "%", say("May be filled")),
        "area": Result(outcome.area, "in²", say("Area of the conductors")),
        "inside": Result(outcome.inside.value, "in²", say("Inside area")),
        "conductors": Result(float(outcome.many), "", say("Conductors")),
        "more": Result(float(outcome.more), "", say("More of the last kind go in")),
    }
    if outcome.alike is not None:
        results["most"] = Result(float(outcome.alike), "", say("Of these alone it takes"))
    if outcome.adjustment is not None:
        results["adjustment"] = Result(outcome.adjustment.value, "%", say("Adjustment of ampacity"))
    if outcome.jam is not None:
        results["jam_ratio"] = Result(outcome.jam * BEND, "", say("Jam ratio"))
    diameters = tuple(one.diameter for one in outcome.rows for _ in range(one.row.count))
    square = entries.raceway == "wireway"
    inside = sqrt(outcome.inside.value) if square else 2 * sqrt(outcome.inside.value / pi)
    return Report(
        "raceway_fill",
        edition.id,
        tuple(sections),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=str(
            say("{raceway} · {percent} %", raceway=raceway, percent=figure(outcome.percent, 0))
        ),
        drawn=CrossSection(inside, diameters, square),
    )
