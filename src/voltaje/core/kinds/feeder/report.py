"""A feeder on the worksheet."""

from __future__ import annotations

from voltaje.core.codes import Edition
from voltaje.core.kinds.feeder.calculate import ByArea, Entered, FeederOutcome, MotorCeiling, Once
from voltaje.core.kinds.feeder.carried import report_amperes, report_design
from voltaje.core.kinds.feeder.entries import FeederEntries
from voltaje.core.quantities import AREA, UnitSystem, square_feet
from voltaje.core.quantities import show as show_unit
from voltaje.core.report import Findings, Report, Result, Worksheet, figure, say
from voltaje.core.rules.common.fault_contribution import report_export
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america import feeder_demand
from voltaje.core.rules.north_america.wired import report_sizing, spare

ANSWER = (
    "device",
    "conductor",
    "neutral_conductor",
    "ground_conductor",
    "calculated_load",
    "raceway",
    "drop_percent",
)


def report(outcome: FeederOutcome, entries: FeederEntries, context: Context) -> Report:
    """The feeder's worksheet: demand, amperes by line, device, conductors, neutral."""
    system, edition = context.supply.system, context.edition
    carried, found = outcome.carried, outcome.carried.calculated
    own = Worksheet()
    for one in outcome.entered:
        _entered(one, edition, context.units, own)
    if outcome.once is not None:
        _once(outcome.once, own)
    if outcome.by_area is not None:
        _by_area(outcome.by_area, edition, own)
    worksheet = feeder_demand.report(found, carried.placed, edition)
    report_amperes(carried, system, edition, worksheet)
    if carried.design > carried.load:
        report_design(carried, system, edition, worksheet)
    report_export(outcome.back, carried.design, worksheet)
    told = report_sizing(outcome.sizing, entries, context)
    findings = Findings(told.findings)
    ceiling, device = outcome.ceiling, outcome.sizing.pair.device
    if outcome.largest > device:
        findings.remark(
            "largest_branch",
            say(
                "The largest motor’s own device, {branch} A, stands above the feeder’s {device} A.",
                branch=outcome.largest,
                device=device,
            ),
            mend=say("Up to {most} A is allowed here.", most=ceiling.most if ceiling else 0.0),
            rules=edition.rule("motor_feeder_device"),
            entries="device",
        )
    spare(device - outcome.design, findings)
    motors = Worksheet("device")
    if ceiling is not None:
        _ceiling(ceiling, edition, motors)
    words = say("Device of a feeder with motors")
    sections = (
        *((own.section("entered", say("Entered here")),) if own else ()),
        worksheet.section("load", say("Calculated load")),
        *((motors.section("motors", words),) if motors else ()),
        *told.sections,
    )
    results = {**_results(outcome), **told.results}
    return Report(
        "feeder",
        edition.id,
        sections,
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=told.headline,
        alternatives=told.alternatives,
        marks=told.marks,
        wires=told.wires,
    )


def _results(outcome: FeederOutcome) -> dict[str, Result]:
    carried, found = outcome.carried, outcome.carried.calculated
    results = {
        "connected_load": Result(found.connected, "VA", say("Connected load")),
        "calculated_load": Result(found.load, "VA", say("Calculated load")),
        "amperes": Result(carried.load, "A", say("Amperes")),
        "design_amperes": Result(outcome.design, "A", say("With 125 % of continuous")),
        "neutral_amperes": Result(outcome.neutral, "A", say("Neutral")),
    }
    for name, value in carried.lines.items():
        results[f"line_{name.lower()}"] = Result(value, "A", say(name))
    if outcome.ceiling is not None:
        most = outcome.ceiling.most
        results["maximum_motor_device"] = Result(most, "A", say("Device, at most"))
    return results


def _entered(one: Entered, edition: Edition, units: UnitSystem, worksheet: Worksheet) -> None:
    flow = one.category
    if one.what == "floor":
        included = edition.says("unit_loads_continuous")
        note = say("the continuous quarter is in it") if included else None
        if one.as_other:
            note = say("“{name}” is taken as this", name=one.as_other)
        words = say("{name}, {area}", name=one.name, area=show_unit(one.count, AREA, units))
        shown = f"{figure(square_feet(one.count))} ft² × {figure(one.each)}"
        paths = (f"{one.path}.name", f"{one.path}.area")
        worksheet.step(
            "floor", words, one.va, "VA", shown, one.rule, note=note, entries=paths, flow=flow
        )
    elif one.what == "load":
        shown = f"{figure(one.count)} × {figure(one.each)}" if one.count > 1 else ""
        path = f"{one.path}.nameplate"
        words = say("{name}", name=one.name)
        worksheet.step("load", words, one.va, "VA", shown, entries=path, flow=flow)
    else:
        shown = f"{figure(one.count)} × {figure(one.each)}"
        worksheet.step(one.what, say(one.name), one.va, "VA", shown, one.rule, flow=flow)


def _once(once: Once, worksheet: Worksheet) -> None:
    words = say("Lighting counts once: by floor area")
    if once.by_area < once.circuits:
        words = say("Lighting counts once: by its circuits")
    shown = say("{area} by area, {circuits} by circuits", area=once.by_area, circuits=once.circuits)
    larger = max(once.by_area, once.circuits)
    worksheet.note("lighting_once", words, larger, "VA", shown, flow="lighting")


def _by_area(found: ByArea, edition: Edition, worksheet: Worksheet) -> None:
    shown = [f"{figure(area)} ft² × {figure(cell.value)}" for area, cell in found.floors]
    worksheet.note(
        "office_receptacles",
        say("Office receptacles by floor area"),
        found.least,
        "VA",
        " + ".join(shown),
        (edition.rule("office_receptacles"), found.floors[-1][1].rule),
        note=say(
            "by their number {number} VA after demand: the larger counts", number=found.by_number
        ),
        flow="receptacles",
    )


def _ceiling(found: MotorCeiling, edition: Edition, worksheet: Worksheet) -> None:
    terms = " + ".join(figure(term) for term in found.terms)
    worksheet.note(
        "maximum_motor_device",
        say("Largest motor’s device and the rest, at most"),
        found.most,
        "A",
        f"{terms} = {figure(found.exact)} → {figure(found.most)} A",
        (
            edition.rule("motor_feeder_device"),
            edition.rule("motor_feeder_mixed") if found.mixed else None,
            edition.rule("motor_feeder_instantaneous") if found.instantaneous else None,
        ),
        note=say("the next size down: no next size up here"),
    )
