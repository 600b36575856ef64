"""A motor by its kW on the worksheet."""

from __future__ import annotations

from voltaje.core.electrical.connection import current_divisor
from voltaje.core.kinds.machine.calculate import MachineOutcome
from voltaje.core.kinds.machine.entries import STARTS, MachineEntries
from voltaje.core.report import Findings, Report, Result, Worksheet, figure, fits, say
from voltaje.core.rules.context import Context

ANSWER = ("device", "conductor", "ground_conductor", "overload", "start_amperes", "drop_percent")


def report(outcome: MachineOutcome, entries: MachineEntries, context: Context) -> Report:
    """Its amperes, its start, device, cable, relay, and the drop while it starts."""
    findings = Findings()
    told = context.code.report_sizing(outcome.sizing, entries, context)
    findings += told.findings
    amperes = outcome.rated.amperes
    load = _load(outcome, entries)
    start = _start(outcome, entries, findings)
    _relay(outcome, entries, start, findings)
    results = {
        "load": Result(outcome.va, "VA", say("Load")),
        "amperes": Result(amperes, "A", say("Full-load amperes")),
        "start_amperes": Result(outcome.start, "A", say("Starting amperes")),
        "volts": Result(outcome.feed.volts, "V", say("Volts")),
        **told.results,
    }
    if entries.relay == "yes":
        results["overload"] = Result(amperes, "A", say("Overload relay"))
    if outcome.start_lost is not None:
        results["start_drop"] = Result(outcome.start_lost, "%", say("Drop while it starts"))
    return Report(
        "machine",
        context.edition.id,
        (
            load.section("load", say("Motor")),
            start.section("start", say("Its start")),
            *told.sections,
        ),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=told.headline,
        alternatives=told.alternatives,
        marks=told.marks,
        wires=told.wires,
        tests=told.tests,
    )


def _load(outcome: MachineOutcome, entries: MachineEntries) -> Worksheet:
    worksheet, rated = Worksheet("load"), outcome.rated
    volts = outcome.feed.volts
    if rated.by == "nameplate":
        worksheet.sum(
            "amperes", say("Rated amperes, nameplate"), rated.amperes, "A", entries="nameplate"
        )
        return worksheet
    if rated.cell is not None:
        shown = f"{figure(rated.cell.value)} × 400 ÷ {figure(volts)}"
        note = say("usual for its kW; the nameplate prevails")
        words = say("Rated amperes by its kW")
        worksheet.sum(
            "amperes", words, rated.amperes, "A", shown, rated.cell.rule, note=note, entries="power"
        )
        return worksheet
    share = f"{figure(entries.efficiency / 100, 3)} ÷ {figure(entries.power_factor)}"
    plate = entries.power
    watts = plate.watts if plate and plate.watts is not None else 0.0
    shown = (
        f"{figure(watts)} ÷ {current_divisor(volts, entries.connection)} ÷ {share}" if watts else ""
    )
    worksheet.sum(
        "amperes",
        say("Rated amperes by efficiency and power factor"),
        rated.amperes,
        "A",
        shown,
        note=say("the nameplate prevails"),
        entries=("power", "efficiency", "power_factor"),
    )
    return worksheet


def _start(outcome: MachineOutcome, entries: MachineEntries, findings: Findings) -> Worksheet:
    worksheet = Worksheet("start")
    words = say("Starting amperes, {way}", way=say(STARTS[entries.starting]))
    rules = outcome.usual.rule if outcome.usual else None
    shown = f"{figure(outcome.times)} × {figure(outcome.rated.amperes)}"
    note = say("as usual; the nameplate prevails") if outcome.usual else None
    paths = ("starting", "starting_current")
    worksheet.step(
        "start_amperes", words, outcome.start, "A", shown, rules, note=note, entries=paths
    )
    times = outcome.start / outcome.least if outcome.least else 0.0
    worksheet.step(
        "least_device",
        say("Least device that lets it start"),
        outcome.least,
        "A",
        f"{figure(outcome.start)} ÷ {figure(times)}",
        outcome.stands.rule,
        entries="device_type",
    )
    if outcome.start_lost is not None:
        percent = outcome.start_lost
        worksheet.step(
            "start_drop",
            say("Its own cable loses while it starts"),
            percent,
            "%",
            note=say("at the tabulated mV, which is not less than at the power factor of a start"),
            rules=outcome.start_most.rule,
            entries="length",
            flow="drop",
        )
        if not fits(percent, outcome.start_most.value):
            findings.check(
                "start_drop",
                say(
                    "Its cable loses {percent} % while it starts; {most} % are usual.",
                    percent=figure(percent, 1),
                    most=outcome.start_most.value,
                ),
                mend=say("A larger cable, or a start that draws less."),
                rules=outcome.start_most.rule,
                entries=("length", "starting"),
            )
    return worksheet


def _relay(
    outcome: MachineOutcome, entries: MachineEntries, worksheet: Worksheet, findings: Findings
) -> None:
    amperes, pair = outcome.rated.amperes, outcome.sizing.pair
    if entries.relay == "no":
        findings.check(
            "relay",
            say("No relay guards the motor itself: its device guards the cable alone."),
            mend=say("An overload relay, or thermistors in the winding."),
            entries="relay",
        )
        return
    words = say("Overload relay, set to")
    note = None
    if not fits(pair.device, pair.ampacity):
        note = say("it guards the cable too: the device clears shorts alone")
    worksheet.step("overload", words, amperes, "A", note=note, entries="relay")
