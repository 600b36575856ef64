"""A cooking circuit on the worksheet, with what other editions would change."""

from __future__ import annotations

from dataclasses import replace

from voltaje.core.codes import Edition, NotCoveredError, editions
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.cooking.calculate import CookingOutcome, calculate
from voltaje.core.kinds.cooking.entries import UNIT_LABELS, CookingEntries
from voltaje.core.report import Findings, Report, Result, Worksheet, figure, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america import cooking
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.wired import report_sizing, spare

ANSWER = (
    "device",
    "conductor",
    "neutral_conductor",
    "ground_conductor",
    "tap_cooktop",
    "tap_oven_1",
    "tap_oven_2",
    "drop_percent",
)

NAMEPLATE = {
    "range": say("Range: its nameplate"),
    "oven": say("Wall oven: its nameplate"),
    "cooktop": say("Cooktop: its nameplate"),
}
TAPS = {
    "cooktop": say("Tap to the cooktop"),
    "oven_1": say("Tap to the wall oven"),
    "oven_2": say("Tap to the second wall oven"),
}


def report(outcome: CookingOutcome, entries: CookingEntries, context: Context) -> Report:
    """The cooking circuit's worksheet."""
    edition = context.edition
    told = report_sizing(outcome.sizing, entries, context)
    findings, worksheet = Findings(), Worksheet("load")
    _demand(outcome, entries, edition, worksheet)
    volts, amperes = outcome.sizing.feed.volts, outcome.amperes or 0.0
    shown = f"{figure(outcome.demand)} ÷ {figure(volts)}"
    worksheet.sum("amperes", say("Amperes"), amperes, "A", shown)
    _rated(outcome, edition, worksheet, findings)
    findings += told.findings
    sections = [worksheet.section("load", say("Load")), *told.sections]
    results = {
        "connected_load": Result(outcome.total, "VA", say("Nameplates")),
        "load": Result(outcome.demand, "VA", say("Branch-circuit load")),
        "amperes": Result(amperes, "A", say("Amperes")),
        **told.results,
    }
    if outcome.taps:
        taps = _taps(outcome, entries, edition, results)
        sections.append(taps.section("taps", say("Taps from the junction box")))
    others = _other_editions(outcome, entries, context)
    if others:
        sections.append(others.section("editions", say("Under the other editions")))
    spare(outcome.sizing.pair.device - amperes, findings)
    return Report(
        "cooking",
        edition.id,
        tuple(sections),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=told.headline,
        alternatives=told.alternatives,
        marks=told.marks,
        wires=told.wires,
    )


def _demand(
    outcome: CookingOutcome, entries: CookingEntries, edition: Edition, worksheet: Worksheet
) -> None:
    paths = tuple(name for name, _ in outcome.units)
    total, together = outcome.total, entries.layout == "together"
    note = edition.rule("cooking_note_together" if together else "cooking_note_one")
    if outcome.by == "unit":
        words = NAMEPLATE[entries.layout]
        worksheet.step("nameplate", words, total, "VA", "", note, entries=paths)
        return
    if together:
        words = say("Nameplates, taken as one range")
        shown = " + ".join(figure(va) for _, va in outcome.units)
        worksheet.note("nameplates", words, total, "VA", shown, note, entries=paths)
    if outcome.by == "small":
        words = say("Up to 1¾ kW: its nameplate")
        worksheet.step("nameplate", words, total, "VA", entries=paths)
    elif outcome.by == "less":
        words, rule = say("Its nameplate, less than the table"), edition.rule("cooking")
        worksheet.step("nameplate", words, total, "VA", "", rule, entries=paths)
    elif outcome.way is not None:
        worksheet += cooking.report(outcome.way, edition)


def _rated(
    outcome: CookingOutcome, edition: Edition, worksheet: Worksheet, findings: Findings
) -> None:
    rated = outcome.rated
    if rated.least is not None:
        words = say("Circuit of {kw} kW or more, at least", kw=edition.value("range_kw"))
        rule = rated.least.rule
        worksheet.note("range_circuit", words, rated.least.value, "A", rules=rule, flow="device")
    if rated.taps is not None:
        amperes = rated.taps.value
        words = say("This edition takes taps from a {amperes} A circuit", amperes=amperes)
        worksheet.note("tap_circuit", words, amperes, "A", rules=rated.taps.rule, flow="device")
    if rated.over is not None:
        amperes = outcome.amperes or 0.0
        findings.fail(
            "taps",
            say(
                "{amperes} A is more than the {most} A circuit that taps may leave.",
                amperes=figure(amperes, 1),
                most=rated.over,
            ),
            f"{figure(amperes - rated.over, 1)} A",
            mend=say("Give the cooktop and the ovens circuits of their own."),
            rules=edition.rule("cooking_tap"),
            entries="cooktop",
        )


def _taps(
    outcome: CookingOutcome, entries: CookingEntries, edition: Edition, results: dict[str, Result]
) -> Worksheet:
    worksheet, rule = Worksheet(), edition.rule("cooking_tap")
    least = figure(edition.value("tap_least"))
    for tap in outcome.taps:
        unit, text, key = (
            say(UNIT_LABELS[tap.name]),
            label(tap.size, entries.material),
            f"tap_{tap.name}",
        )
        results[key] = Result(text, "", TAPS[tap.name])
        results[f"amperes_{tap.name}"] = Result(tap.amperes, "A", unit)
        worksheet.step(
            key,
            say("{unit}: {size}", unit=unit, size=text),
            tap.ampacity,
            "A",
            say(
                "{amperes} A, at least {least} ≤ {ampacity} A",
                amperes=tap.amperes,
                least=least,
                ampacity=tap.ampacity,
            ),
            rule,
            note=say("no longer than needed to service the unit"),
            entries=tap.name,
            flow=key,
        )
    return worksheet


def _other_editions(
    outcome: CookingOutcome, entries: CookingEntries, context: Context
) -> Worksheet:
    """What changes elsewhere, where it does: device and conductors."""
    worksheet, here = Worksheet(), outcome.sizing.pair
    topic = "cooking_tap" if entries.layout == "together" else "range_circuit"
    plain = Context().limits
    for other in editions(context.edition.family):
        if other.id == context.edition.id:
            continue
        try:
            there = calculate(entries, replace(context, edition=other, limits=plain)).sizing.pair
        except (NotCoveredError, WrongEntryError):
            continue
        if (here.device, here.conductor) != (there.device, there.conductor):
            worksheet.note(
                f"edition_{other.id}",
                say(
                    "{edition}: {device} A, {conductor}",
                    edition=other.title,
                    device=there.device,
                    conductor=there.conductor,
                ),
                rules=other.rule(topic),
                note=say(
                    "here {device} A, {conductor}", device=here.device, conductor=here.conductor
                ),
            )
    return worksheet
