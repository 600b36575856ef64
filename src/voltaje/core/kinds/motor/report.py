"""A motor on the worksheet."""

from __future__ import annotations

from voltaje.core.codes import Edition
from voltaje.core.electrical.connection import current_divisor
from voltaje.core.kinds.motor.calculate import (
    START_POWER_FACTOR,
    Devices,
    MotorOutcome,
    Start,
    under,
)
from voltaje.core.kinds.motor.entries import DUTY, MotorEntries
from voltaje.core.quantities import feet
from voltaje.core.report import Findings, Report, Result, Section, Worksheet, figure, fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.wired import report_sizing

# common practice: the drop, percent, above which contactors fall out and lamps dim, and volts
# that are far enough off to deserve a word
START_DROP, VOLTS_OFF = 15.0, 0.05
PROTECTION = {
    "inverse-time breaker": say("Inverse-time breaker"),
    "dual-element fuse": say("Dual-element fuse"),
    "nontime-delay fuse": say("Nontime-delay fuse"),
    "instantaneous breaker": say("Instantaneous breaker"),
}
ANSWER = ("device", "conductor", "overload", "ground_conductor", "raceway", "drop_percent")


def report(outcome: MotorOutcome, entries: MotorEntries, context: Context) -> Report:
    """The motor's worksheet: table current, conductors, device, overload, volts, start."""
    edition = context.edition
    told = report_sizing(outcome.sizing, entries, under(context))
    findings = Findings(told.findings)
    sections = [
        _motor(outcome, entries, edition).section("load", say("The motor")),
        _devices(outcome, entries, edition).section(
            "protection", say("Short-circuit and ground-fault device")
        ),
        *told.sections,
        _overload(outcome, entries, edition, findings),
    ]
    if entries.actual_volts is not None:
        worksheet = _volts(entries.actual_volts, outcome, findings)
        sections.append(worksheet.section("volts", say("Its actual volts")))
    if outcome.start is not None:
        worksheet = _start(outcome, outcome.start, entries, findings)
        sections.append(worksheet.section("start", say("While it starts")))
    _device_above(outcome, edition, findings)
    results = {**_results(outcome), **told.results}
    return Report(
        "motor",
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


def _results(outcome: MotorOutcome) -> dict[str, Result]:
    current = outcome.current.value
    results = {
        "full_load_current": Result(current, "A", say("Full-load current")),
        "amperes": Result(current, "A", say("Full-load current")),
        "conductor_amperes": Result(outcome.conductor, "A", say("Conductors carry")),
        "load": Result(outcome.va, "VA", say("Load")),
        "maximum_device": Result(outcome.devices.most, "A", say("Device, at most")),
        "overload": Result(outcome.overload.amperes, "A", say("Overload, at most")),
        "volts": Result(outcome.volts, "V", say("Volts")),
    }
    start = outcome.start
    if start is not None:
        results["locked_rotor"] = Result(start.locked, "A", say("Locked-rotor amperes"))
        if start.lost is not None:
            words = say("Voltage drop while it starts")
            results["start_drop"] = Result(start.lost.percent, "%", words)
    return results


def _motor(outcome: MotorOutcome, entries: MotorEntries, edition: Edition) -> Worksheet:
    cell, worksheet = outcome.current, Worksheet("load")
    note = say("by the table, not the nameplate")
    if edition.says("motor_by_nameplate"):
        note = say("by the table: no nameplate amperes are given")
    worksheet.sum(
        "full_load_current",
        say("Full-load current, {hp} hp at {volts} V", hp=entries.horsepower, volts=outcome.volts),
        cell.value,
        "A",
        "",
        (cell.rule, edition.rule("motor_table_current")),
        note=say("by the nameplate") if cell.rule.topic == "motor_nameplate" else note,
        entries=("horsepower", "motor"),
    )
    by = outcome.conductor_by
    factor, amperes = figure(by.value / 100, 4), outcome.conductor
    if entries.duty == "continuous":
        shown = f"{figure(cell.value)} × {factor}"
        worksheet.sum("conductor_amperes", say("Conductors, 125 %"), amperes, "A", shown, by.rule)
    else:
        words = say("Conductors: {duty}", duty=say(DUTY[entries.duty]))
        shown = f"{figure(entries.nameplate)} × {factor}"
        paths = ("duty", "rated_time", "nameplate")
        worksheet.sum("conductor_amperes", words, amperes, "A", shown, by.rule, entries=paths)
    return worksheet


def _devices(outcome: MotorOutcome, entries: MotorEntries, edition: Edition) -> Worksheet:
    found, current, worksheet = outcome.devices, outcome.current.value, Worksheet("device")
    percent = found.percent
    worksheet.step(
        "device_percent",
        say(
            "{device}, {percent} %",
            device=PROTECTION[entries.protection],
            percent=percent.value,
        ),
        found.exact,
        "A",
        f"{figure(current)} × {figure(percent.value / 100, 4)}",
        percent.rule,
        entries="protection",
    )
    if entries.protection == "instantaneous breaker":
        larger = found.larger.percent.rule if found.larger else None
        worksheet.result(
            "maximum_device",
            say("Its setting, at most"),
            found.most,
            "A",
            f"{figure(current)} × {figure(found.most / current)}",
            (edition.rule("motor_instantaneous"), larger),
            note=say("adjustable, in a listed combination controller"),
            entries="starts_on_device",
        )
        return worksheet
    rule = edition.cites("motor_next_size") if found.most > found.exact * (1 + 1e-9) else None
    if found.larger is not None:
        rule = edition.rule("motor_larger")
        _larger(found, current, edition, worksheet)
    words, shown = say("Device, at most"), f"{figure(found.exact)} → {figure(found.most)} A"
    rules = (rule, edition.rule("standard_devices"))
    worksheet.result("maximum_device", words, found.most, "A", shown, rules)
    return worksheet


def _larger(found: Devices, current: float, edition: Edition, worksheet: Worksheet) -> None:
    larger, rule = found.larger, edition.rule("motor_larger")
    assert larger is not None  # noqa: S101 - asked by the caller
    worksheet.step(
        "device_larger",
        say("It does not start: up to {percent} %", percent=larger.percent.value),
        larger.limit,
        "A",
        f"{figure(current)} × {figure(larger.percent.value / 100, 4)}",
        (rule, larger.percent.rule),
        entries="starts_on_device",
    )
    above = larger.above
    if above is not None and larger.ends is not None:
        words = say(
            "Fuses above {ends} A: up to {percent} %", ends=larger.ends.value, percent=above.value
        )
        shown = f"{figure(current)} × {figure(above.value / 100, 4)}"
        rules = (rule, above.rule, larger.ends.rule)
        worksheet.step("device_larger_class", words, larger.higher, "A", shown, rules)


def _overload(
    outcome: MotorOutcome, entries: MotorEntries, edition: Edition, findings: Findings
) -> Section:
    found, worksheet = outcome.overload, Worksheet("overload")
    plate = figure(found.plate)
    if not found.read:
        findings.check(
            "nameplate",
            say("Without the nameplate’s amperes the overload is taken from the table."),
            mend=say("Read the nameplate: the overload goes by it and nothing else does."),
            rules=edition.rule("motor_table_current"),
            entries="nameplate",
        )
    worksheet.result(
        "overload",
        say("Overload, {percent} % of the nameplate", percent=found.share.value),
        found.amperes,
        "A",
        f"{plate} × {figure(found.share.value / 100, 4)}",
        found.share.rule,
        entries=("nameplate", "service_factor", "temperature_rise"),
    )
    words = say("At most, where it will not start")
    shown = f"{plate} × {figure(found.most_share.value / 100, 4)}"
    worksheet.note("overload_most", words, found.most, "A", shown, found.most_share.rule)
    if found.secondary is not None:
        more = edition.value("motor_conductor")
        shown = f"{figure(entries.secondary)} × {figure(more / 100, 4)}"
        rule = edition.rule("wound_rotor_secondary")
        worksheet.step(
            "secondary",
            say("Secondary conductors, 125 %"),
            found.secondary,
            "A",
            shown,
            rule,
            entries="secondary",
            flow="load",
        )
    return worksheet.section("overload", say("Overload"))


def _start(
    outcome: MotorOutcome, start: Start, entries: MotorEntries, findings: Findings
) -> Worksheet:
    """The drop with the rotor locked: its amperes by code letter, or a multiple of the table's."""
    feed, locked, worksheet = outcome.sizing.feed, figure(start.locked), Worksheet()
    shown = f"{figure(outcome.current.value)} × {figure(entries.starting_current)}"
    if start.letter is not None:
        shown = f"{figure(entries.horsepower)} hp × {figure(start.letter.value)} kVA ÷"
        shown += f" {current_divisor(feed.volts, feed.connection)}"
    worksheet.step(
        "locked_rotor",
        say("Locked-rotor amperes"),
        start.locked,
        "A",
        shown,
        start.letter.rule if start.letter else None,
        entries=("code_letter", "starting_current"),
        flow="load",
    )
    lost = start.lost
    if lost is None:
        return worksheet
    carried = say(
        "{amperes} A × {ohms} Ω × {feet} ft: {lost} V, {there} V there",
        amperes=locked,
        ohms=figure(lost.ohms, 4),
        feet=feet(entries.length or 0.0),
        lost=figure(lost.volts_lost, 1),
        there=figure(feed.volts - lost.volts_lost, 1),
    )
    worksheet.sum(
        "start_drop",
        say("Voltage drop while it starts"),
        lost.percent,
        "%",
        carried,
        lost.rule,
        note=say("at a power factor of {pf}", pf=START_POWER_FACTOR),
        flow="drop",
    )
    if not fits(lost.percent, START_DROP):
        findings.check(
            "start_drop",
            say(
                "While it starts {percent} % is lost: above {most} % contactors fall out"
                " and lamps dim.",
                percent=figure(lost.percent, 1),
                most=START_DROP,
            ),
            f"{figure(lost.percent - START_DROP, 1)} %",
            mend=say("A larger conductor, or a starter that takes less."),
            entries="length",
        )
    return worksheet


def _volts(actual: float, outcome: MotorOutcome, findings: Findings) -> Worksheet:
    """A loaded motor draws about its power at any volts: current goes up as the volts go down,
    heat with its square, torque with the square of the volts. Common practice."""
    current, ratio, worksheet = outcome.current.value, actual / outcome.volts, Worksheet()
    amperes, heat, torque = current / ratio, (1 / ratio**2 - 1) * 100, ratio**2 * 100
    if abs(ratio - 1) > VOLTS_OFF:
        percent = figure((ratio - 1) * 100, 1)
        findings.check(
            "actual_volts",
            say(
                "{volts} V is {percent} % off: about {amperes} A, {heat} % in temperature"
                " rise, {torque} % of its torque.",
                volts=actual,
                percent=percent,
                amperes=figure(amperes, 1),
                heat=f"{heat:+.0f}",
                torque=figure(torque, 0),
            ),
            f"{percent} %",
            mend=say("Mend the drop, or change the transformer’s taps."),
            entries="actual_volts",
        )
    shown, path = figure(ratio, 3), "actual_volts"
    over = f"{figure(current)} ÷ {shown}"
    worksheet.step("current_at_volts", say("Current, about"), amperes, "A", over, entries=path)
    words = say("Temperature rise, more by about")
    worksheet.step("heat_at_volts", words, heat, "%", f"1 ÷ {shown}² − 1", entries=path)
    words = say("Torque, of its rated")
    worksheet.step("torque_at_volts", words, torque, "%", f"{shown}²", entries=path)
    return worksheet


def _device_above(outcome: MotorOutcome, edition: Edition, findings: Findings) -> None:
    device, wire = outcome.sizing.pair.device, outcome.sizing.pair.ampacity
    if device <= wire or findings.failed:
        return
    findings.passes(
        "device_above_ampacity",
        say(
            "The {device} A device stands above the conductor’s {wire} A, and may: the"
            " overload at {overload} A protects motor and conductor from running too hot,"
            " the device only clears a short circuit or a fault to ground, and must let"
            " the motor start.",
            device=device,
            wire=wire,
            overload=figure(outcome.overload.amperes, 1),
        ),
        rules=(edition.rule("motor_devices"), edition.rule("protected_elsewhere")),
    )
