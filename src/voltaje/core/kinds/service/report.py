"""A service on the worksheet."""

from __future__ import annotations

from dataclasses import replace

from voltaje.core.codes import Edition
from voltaje.core.kinds.feeder.carried import report_amperes, report_design
from voltaje.core.kinds.service.calculate import Grounded, ServiceOutcome
from voltaje.core.kinds.service.entries import ServiceEntries
from voltaje.core.report import (
    Findings,
    Report,
    Result,
    Section,
    Text,
    Worksheet,
    conductor_figures,
    figure,
    say,
)
from voltaje.core.rules.common.fault_contribution import report_export
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america import feeder_demand
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.wired import interrupting, report_sizing, spare

ANSWER = (
    "device",
    "conductor",
    "grounded_conductor",
    "main_bonding_jumper",
    "electrode_conductor",
    "calculated_load",
)
# a service has no equipment ground of its own: supply-side bonding takes its place
NOT_HERE = ("ground_conductor", "neutral_conductor")
BY = {
    "table": say("{least} by table; {amperes} A of unbalanced load"),
    "share": say("{least} by {share} % of the area; {amperes} A of unbalanced load"),
    "parallel": say(
        "{least} by table; the least size of parallel sets applies; {amperes} A of unbalanced load"
    ),
    "unbalanced": say("by {amperes} A of unbalanced load; {least} at least"),
}


TO_ELECTRODE = {
    "water_pipe": say("To the metal underground water pipe"),
    "steel": say("To the structural steel"),
    "concrete": say("To the concrete-encased electrode"),
    "rod": say("To the rod, pipe or plate"),
    "ring": say("To the ground ring"),
}


def report(outcome: ServiceOutcome, entries: ServiceEntries, context: Context) -> Report:
    """The service's worksheet."""
    system, edition = context.supply.system, context.edition
    carried, found = outcome.carried, outcome.carried.calculated
    told = report_sizing(outcome.sizing, entries, context)
    worksheet = feeder_demand.report(found, carried.placed, edition)
    report_amperes(carried, system, edition, worksheet)
    if carried.design > carried.load:
        report_design(carried, system, edition, worksheet)
    report_export(outcome.back, carried.design, worksheet)
    results = {
        "connected_load": Result(found.connected, "VA", say("Connected load")),
        "calculated_load": Result(found.load, "VA", say("Calculated load")),
        "amperes": Result(carried.load, "A", say("Amperes")),
        "design_amperes": Result(outcome.design, "A", say("With 125 % of continuous")),
        "neutral_amperes": Result(outcome.neutral, "A", say("Unbalanced load")),
        **told.results,
    }
    findings = Findings(told.findings)
    bonds = Worksheet()
    if outcome.grounded is not None:
        _grounded(outcome, outcome.grounded, entries, edition, bonds, results)
    _side_jumper(outcome, edition, bonds, results)
    _electrodes(outcome, edition, bonds, results, findings)
    if outcome.fault:
        words = say("Available fault current")
        results["fault"] = Result(outcome.fault, "A", words)
        interrupting(outcome.fault, entries.interrupting, context, findings)
    spare(outcome.sizing.pair.device - outcome.design, findings)
    for name in NOT_HERE:
        results.pop(name, None)
    return Report(
        "service",
        edition.id,
        (
            worksheet.section("load", say("Calculated load")),
            *(_without(section) for section in told.sections),
            bonds.section("grounding", say("Grounding and bonding")),
        ),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=told.headline,
        alternatives=told.alternatives,
        marks=told.marks,
        wires=tuple(w for w in told.wires if w.role != "G"),
    )


def _without(section: Section) -> Section:
    lines = tuple(line for line in section.lines if line.name not in NOT_HERE)
    return replace(section, lines=lines)


def _grounded(
    outcome: ServiceOutcome,
    grounded: Grounded,
    entries: ServiceEntries,
    edition: Edition,
    worksheet: Worksheet,
    results: dict[str, Result],
) -> None:
    pair = outcome.sizing.pair
    metal, total = pair.option.material, pair.option.mils * pair.sets
    several = entries.disconnects > 1
    text = label(grounded.size, metal, grounded.count)
    results["grounded_conductor"] = Result(text, "", say("Grounded conductor"))
    results |= conductor_figures("grounded_conductor", grounded.size, grounded.count, metal)
    note = say("it is the path of fault current")
    if several:
        note = say("to every disconnect: it is the path of fault current")
    worksheet.step(
        "grounded_conductor",
        say("Grounded conductor: {size}", size=text),
        shown=Text(
            BY[grounded.by].template,
            {
                "amperes": figure(outcome.neutral, 1),
                "least": label(grounded.least, metal),
                "share": figure(grounded.share),
            },
        ),
        rules=(edition.rule("grounded_to_disconnect"), *grounded.rules),
        note=note,
        rounding=grounded.shown,
        flow="grounded",
    )
    worksheet.note(
        "grounded_by_load",
        say("By its load alone: {size}", size=label(grounded.load, metal, grounded.count)),
        shown=say("{amperes} A of unbalanced load", amperes=figure(outcome.neutral, 1)),
        rules=edition.rule("neutral"),
    )
    worksheet.note(
        "grounded_by_fault",
        say(
            "As the path of fault current: {size}",
            size=label(grounded.fault, metal, grounded.count),
        ),
        rules=edition.rule("grounded_to_disconnect"),
        note=say("the larger of the two is taken"),
    )
    jumper = outcome.main_jumper
    if jumper is None:
        return
    text = label(jumper.size, metal)
    results["main_bonding_jumper"] = Result(text, "", say("Main bonding jumper"))
    note = say("ties the grounded conductor to ground, here and nowhere after it")
    if several:
        note = say("ties the grounded conductor to ground, in each disconnect")
    worksheet.step(
        "main_bonding_jumper",
        say("Main bonding jumper: {size}", size=text),
        shown=jumper.shown or say("{mils} circular mils", mils=total),
        rules=(edition.rule("main_bonding_jumper"), *jumper.rules),
        note=note,
        flow="mbj",
    )


def _side_jumper(
    outcome: ServiceOutcome, edition: Edition, worksheet: Worksheet, results: dict[str, Result]
) -> None:
    side = outcome.side_jumper
    text = label(side.size, outcome.sizing.pair.option.material)
    results["supply_side_jumper"] = Result(text, "", say("Supply-side bonding jumper"))
    worksheet.step(
        "supply_side_jumper",
        say("Supply-side bonding jumper: {size}", size=text),
        shown=side.shown or "",
        rules=(edition.rule("supply_side_jumper"), *side.rules),
        note=say("for each metal raceway of the service"),
        flow="ssbj",
    )


def _electrodes(
    outcome: ServiceOutcome,
    edition: Edition,
    worksheet: Worksheet,
    results: dict[str, Result],
    findings: Findings,
) -> None:
    for name, jumper in outcome.electrodes:
        where = TO_ELECTRODE[name]
        text, key = label(jumper.size, "copper"), f"electrode_{name}"
        results[key] = Result(text, "", where)
        words = say("{electrode}: {size}", electrode=where, size=text)
        worksheet.step(
            key, words, shown=jumper.shown or "", rules=jumper.rules, entries=name, flow=key
        )
    if outcome.electrode is None:
        findings.fail(
            "electrode",
            say("No grounding electrode is entered."),
            mend=say("Choose those that are there; drive rods if there are none."),
            rules=edition.rule("electrode_system"),
            entries="rod",
        )
        return
    text = label(outcome.electrode.size, "copper")
    results["electrode_conductor"] = Result(text, "", say("Grounding electrode conductor"))
    present = [name for name, _ in outcome.electrodes]
    if present == ["rod"]:
        findings.check(
            "rod_two",
            say("A single rod needs a second one beside it unless it measures 25 Ω or less."),
            mend=say("Drive two, 6 ft apart at least."),
            rules=edition.rule("rod_two"),
            entries="rod",
        )
    if present == ["water_pipe"]:
        findings.check(
            "water_pipe",
            say("A water pipe is supplemented by another electrode."),
            mend=say("Add a rod or the concrete-encased electrode."),
            rules=edition.rule("electrode_system"),
            entries="water_pipe",
        )
