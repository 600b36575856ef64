"""An inverter on the worksheet."""

from __future__ import annotations

from voltaje.core.electrical.connection import current_divisor
from voltaje.core.kinds.inverter.calculate import BusOption, InverterOutcome
from voltaje.core.kinds.inverter.entries import InverterLoad
from voltaje.core.report import (
    Findings,
    Report,
    Result,
    Text,
    Worksheet,
    figure,
    figure_beside,
    fits,
    say,
)
from voltaje.core.rules.common.heat import report_heat
from voltaje.core.rules.context import Context

ANSWER = ("device", "conductor", "ground_conductor", "derated_current", "rise")
BUS = {
    "sum": say("Main and inverter, anywhere on the bus"),
    "opposite": say("Main and inverter at opposite ends"),
    "devices": say("All devices but the main"),
    "rating": say("Main and inverter’s device"),
}


def report(outcome: InverterOutcome, entries: InverterLoad, context: Context) -> Report:
    """Its amperes, what its breaker carries, cable, the rise, the bus."""
    findings = Findings()
    told = context.code.report_sizing(outcome.sizing, entries, context)
    # what a load loses is what an inverter raises: the one finding is said by the other
    findings += (f for f in told.findings if f.name != "drop")
    load, heat, bus = _output(outcome, entries), Worksheet("breaker"), Worksheet("bus")
    device = outcome.sizing.device
    report_heat(outcome.heat, entries, device, heat)
    shown = f"{figure(outcome.output, 1)} ÷ {figure(outcome.heat.factor, 3)}"
    words = say("Least rating that carries its output there")
    heat.step("least", words, outcome.least, "A", shown, entries="enclosure_temperature")
    words = say("Its device carries there")
    heat.sum(
        "derated_current",
        words,
        outcome.carries,
        "A",
        f"{figure(device)} × {figure(outcome.heat.factor, 3)}",
    )
    spare = outcome.carries - outcome.output
    findings.judged(
        spare > 0,
        "derated_current",
        say(
            "The {device} A device carries {carries} A in its enclosure, {spare} A more than the"
            " output.",
            device=device,
            carries=figure(outcome.carries, 1),
            spare=figure(spare, 1),
        )
        if spare > 0
        else say(
            "The {device} A device carries {carries} A in its enclosure: less than the {output} A"
            " of the output.",
            device=device,
            carries=figure_beside(outcome.carries, outcome.output, 1),
            output=figure(outcome.output, 1),
        ),
        f"{figure(abs(spare), 1)} A",
        mend=say("The next standard size above, with its cable; air, or space beside it."),
        entries=("device", "enclosure_temperature", "adjacent_breakers"),
    )
    _rise(outcome, findings)
    _bus(outcome, entries, context, bus, findings)
    findings.remark(
        "isolators",
        say("Isolators on both sides, and a residual-current device of the kind its maker asks."),
    )
    results = {
        "amperes": Result(outcome.output, "A", say("Output current")),
        "design_amperes": Result(outcome.asked.design, "A", context.code.design_label),
        "load": Result(outcome.output * outcome.across, "VA", say("Output")),
        "derated_current": Result(outcome.carries, "A", say("Device carries there")),
        "volts": Result(outcome.feed.volts, "V", say("Volts")),
        **told.results,
    }
    if outcome.rise is not None:
        results["rise"] = Result(outcome.rise, "%", say("Rise of its volts"))
    sections = [
        load.section("load", say("Output")),
        heat.section("breaker", say("Its breaker where it stands")),
        *told.sections,
    ]
    if outcome.bus is not None:
        sections.append(bus.section("bus", say("The bus that it feeds")))
    return Report(
        "inverter",
        context.edition.id,
        tuple(sections),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=told.headline,
        alternatives=told.alternatives,
        marks=told.marks,
        wires=told.wires,
        tests=told.tests,
    )


def _output(outcome: InverterOutcome, entries: InverterLoad) -> Worksheet:
    worksheet, volts = Worksheet("load"), outcome.feed.volts
    plate = entries.power
    if plate is not None and plate.watts is not None:
        shown = f"{figure(plate.watts)} ÷ {current_divisor(volts, entries.connection)}"
        if plate.active and entries.power_factor < 1:
            shown += f" ÷ {figure(entries.power_factor)}"
        paths = ("power", "power_factor")
        words = say("By its rated output")
        worksheet.step("by_power", words, outcome.by_power, "A", shown, entries=paths)
    if outcome.by_sheet:
        words = say("Maximum of its data sheet")
        worksheet.step("by_sheet", words, outcome.by_sheet, "A", entries="maximum_current")
    note = say("for hours: the larger of both")
    worksheet.sum("amperes", say("Output current"), outcome.output, "A", "", note=note)
    return worksheet


def _rise(outcome: InverterOutcome, findings: Findings) -> None:
    if outcome.rise is None:
        return
    most, rules = outcome.rise_most, outcome.rise_rule
    given = {"rise": figure(outcome.rise), "most": most}
    words = say("Its volts rise {rise} % above the board’s; it may be {most} % at most.", **given)
    shown = f"{figure(abs(most - outcome.rise))} %"
    if fits(outcome.rise, most):
        findings.passes("rise", words, shown, rules=rules)
        return
    mend = say("A larger cable: an inverter switches off on high volts.")
    findings.check("rise", words, shown, mend=mend, rules=rules, entries=("length", "maximum_rise"))


def _bus(
    outcome: InverterOutcome,
    entries: InverterLoad,
    context: Context,
    worksheet: Worksheet,
    findings: Findings,
) -> None:
    if outcome.bus is None:
        return
    edition, bus = context.edition, outcome.bus
    rule = edition.cites("bus_connection")
    if edition.has_limit("bus_inverter"):
        share = edition.limit("bus_inverter")
        shown = f"{figure(outcome.output, 1)} × {figure(share.value / 100, 4)}"
        worksheet.step(
            "counted", say("Counts for the inverter"), bus.counted, "A", shown, share.rule
        )
    for way in bus.ways:
        sign = "≤" if way.holds else ">"
        shown = f"{figure(way.asked, 1)} {sign} {figure(way.may, 1)} A"
        rules = edition.limit("bus_share").rule if way.name == "opposite" else rule
        paths = ("bus_rating", "main", "bus_other_devices", "connection_point")
        worksheet.step(
            f"bus_{way.name}", BUS[way.name], way.asked, "A", shown, rules, entries=paths
        )
    best = max(bus.ways, key=lambda way: way.may - way.asked)
    findings.judged(
        bus.holds,
        "bus",
        _said(best, bus.holds),
        f"{figure(abs(best.may - best.asked), 1)} A",
        mend=say("A smaller main, a larger bus, the end opposite the main, or ahead of the main."),
        rules=rule,
        entries=("bus_rating", "main", "connection_point"),
    )


def _said(best: BusOption, holds: bool) -> Text:
    given = {"asked": figure(best.asked, 1), "may": figure(best.may, 1)}
    if holds:
        return say("The bus holds it: {asked} A of {may} A.", **given)
    return say("The bus does not hold it: {asked} A of {may} A.", **given)
