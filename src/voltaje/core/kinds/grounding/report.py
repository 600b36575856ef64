"""Grounding and bonding on the worksheet, each conductor with its purpose."""

from __future__ import annotations

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import Size
from voltaje.core.kinds.grounding.calculate import GroundedConductor, GroundingOutcome
from voltaje.core.kinds.grounding.entries import GroundingEntries
from voltaje.core.kinds.service.report import TO_ELECTRODE
from voltaje.core.report import Findings, Report, Result, Section, Text, Worksheet, figure, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.wiring import circular_mils

ANSWER = (
    "main_bonding_jumper",
    "supply_side_jumper",
    "grounded_conductor",
    "electrode_conductor",
    "ground_conductor",
)
GOVERNS = {
    "fault": say("as the path of fault current"),
    "parallel": say("the least size of parallel sets applies"),
    "line": say("no larger than the ungrounded conductors"),
    "load": say("its load asks for more"),
}


def report(outcome: GroundingOutcome, entries: GroundingEntries, context: Context) -> Report:
    """The sheet of grounding and bonding."""
    edition = context.edition
    results: dict[str, Result] = {}
    worksheet, findings = Worksheet(), Findings()
    jumper = entries.jumper_material
    each = label(Size(entries.size), entries.material)
    words = say("Ungrounded conductors: {size}", size=each)
    worksheet.step(
        "mils", words, outcome.mils, "circular mils", rules=edition.cites("conductor_properties")
    )
    if outcome.sets > 1:
        words = say("All {sets} sets", sets=outcome.sets)
        shown = f"{figure(outcome.mils)} × {outcome.sets}"
        worksheet.sum("total_mils", words, outcome.total, "circular mils", shown)
    for name, found, title, purpose, topic in (
        (
            "main_bonding_jumper",
            outcome.main_jumper,
            say("Main or system bonding jumper"),
            say("ties the grounded conductor to ground, here and nowhere after it"),
            "main_bonding_jumper",
        ),
        (
            "supply_side_jumper",
            outcome.side_jumper,
            say("Supply-side bonding jumper"),
            say("bonds each metal raceway ahead of the first device")
            if entries.lie == "each" and outcome.sets > 1
            else say("bonds the raceway ahead of the first device"),
            "supply_side_jumper",
        ),
    ):
        text = label(found.size, jumper)
        results[name] = Result(text, "", title)
        worksheet.step(
            name,
            say("{conductor}: {size}", conductor=title, size=text),
            shown=found.shown or say("{mils} circular mils", mils=figure(found.mils, 0)),
            rules=(edition.cites(topic), *found.rules),
            note=purpose,
            flow="bonding",
        )
    sections = [worksheet.section("bonding", say("Bonding"))]
    sections.append(_grounded(outcome.grounded, entries, edition, results))
    if outcome.electrodes:
        sections.append(_electrodes(outcome, edition, results))
    else:
        findings.remark("electrode", say("No grounding electrode is entered."), entries="rod")
    if outcome.ground is not None:
        sections.append(_ground(outcome, entries, edition, results))
    headline = say(
        "{jumper} · {grounded}",
        jumper=results["main_bonding_jumper"].value,
        grounded=results["grounded_conductor"].value,
    )
    return Report(
        "grounding",
        edition.id,
        tuple(sections),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=str(headline),
    )


def _grounded(
    found: GroundedConductor,
    entries: GroundingEntries,
    edition: Edition,
    results: dict[str, Result],
) -> Section:
    """Both ways beside each other, and the larger."""
    worksheet, metal = Worksheet(), entries.material
    text = label(found.fault.size, metal)
    results["grounded_by_fault"] = Result(text, "", say("Grounded conductor by fault path"))
    worksheet.step(
        "grounded_by_fault",
        say("As the path of fault current: {size}", size=text),
        shown=found.fault.shown or say("{mils} circular mils", mils=figure(found.fault.mils, 0)),
        rules=found.fault.rules,
    )
    if found.load is not None:
        text = label(found.load, metal)
        results["grounded_by_load"] = Result(text, "", say("Grounded conductor by its load"))
        shown = figure(entries.neutral)
        if found.count > 1:
            shown = f"{figure(entries.neutral)} ÷ {found.count}"
        worksheet.step(
            "grounded_by_load",
            say("By its load: {size}", size=text),
            found.each,
            "A",
            shown,
            (edition.cites("neutral"), edition.cites("ampacity", found.load)),
            entries="neutral",
        )
    text = label(found.size, metal, found.count)
    results["grounded_conductor"] = Result(text, "", say("Grounded conductor"))
    words = say("Grounded conductor: {size}", size=text)
    note = GOVERNS[found.governs]
    worksheet.result("grounded_conductor", words, rules=found.rules, note=note, flow="grounded")
    return worksheet.section("grounded", say("Grounded conductor, both ways"))


def _electrodes(outcome: GroundingOutcome, edition: Edition, results: dict[str, Result]) -> Section:
    worksheet, areas = Worksheet(), circular_mils(edition)
    largest = max((one for _, one in outcome.electrodes), key=lambda one: areas[one.size])
    for name, jumper in outcome.electrodes:
        where, text = TO_ELECTRODE[name], label(jumper.size, "copper")
        results[f"electrode_{name}"] = Result(text, "", where)
        worksheet.step(
            f"electrode_{name}",
            say("{electrode}: {size}", electrode=where, size=text),
            shown=jumper.shown or "",
            rules=jumper.rules,
            entries=name,
            flow=f"electrode_{name}",
        )
    text = label(largest.size, "copper")
    results["electrode_conductor"] = Result(text, "", say("Grounding electrode conductor"))
    return worksheet.section("electrodes", say("Grounding electrode conductors, copper"))


def _ground(
    outcome: GroundingOutcome,
    entries: GroundingEntries,
    edition: Edition,
    results: dict[str, Result],
) -> Section:
    worksheet, found = Worksheet(), outcome.ground
    assert found is not None  # noqa: S101 - only called with one
    text = label(found.size, entries.jumper_material)
    results["ground_conductor"] = Result(text, "", say("Equipment grounding conductor"))
    shown: Text | str = say("{device} A", device=entries.device_ahead)
    if found.grew:
        shown = say(
            "{table} by the table, enlarged with the conductors to {mils} circular mils",
            table=label(found.table_size, entries.jumper_material),
            mils=figure(found.mils, 0),
        )
    words = say("Equipment grounding conductor: {size}", size=text)
    note = say("in each raceway") if outcome.sets > 1 else None
    worksheet.step(
        "ground_conductor", words, shown=shown, rules=found.rules, note=note, entries="device_ahead"
    )
    return worksheet.section("ground", say("Equipment grounding conductor"))
