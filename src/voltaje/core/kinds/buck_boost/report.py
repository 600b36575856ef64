"""A buck-boost transformer on the worksheet: the load, the one taken, every other way, and what it
costs to leave the volts alone."""

from __future__ import annotations

from math import sqrt

from voltaje.core.codes import Edition, practice
from voltaje.core.electrical.systems import LINES
from voltaje.core.kinds.buck_boost.calculate import BuckBoostOutcome
from voltaje.core.kinds.buck_boost.entries import BuckBoostEntries, BuckBoostLoad
from voltaje.core.kinds.buck_boost.ways import Choice
from voltaje.core.report import (
    Alternative,
    AxisMark,
    Findings,
    LineKind,
    MethodAlternative,
    PulledConductor,
    Report,
    Result,
    Section,
    Text,
    Worksheet,
    figure,
    fits,
    say,
    signed,
)
from voltaje.core.rules.common.bases import both_bases
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.autotransformers import (
    device_result,
    report_device,
    report_isolation,
)
from voltaje.core.rules.north_america.wired import (
    report_sizing,
    side_alternatives,
    side_findings,
    side_results,
    side_sections,
)

ANSWER = (
    "output",
    "kva",
    "device",
    "input_conductor",
    "output_conductor",
    "input",
    "load_amperes",
    "output_power",
    "load",
    "delivered_load",
)
SIDES = (("input", say("Input").template), ("output", say("Output").template))
# where each of several units stands; the third line of an open delta goes straight through
UNITS_BETWEEN = {
    "wye": ("L1–N", "L2–N", "L3–N"),
    "open delta": ("L1–L2", "L3–L2"),
}
READINGS = say("To be read before the load is put on")
HALVES = {"series": say("series"), "parallel": say("parallel")}


def report(outcome: BuckBoostOutcome, entries: BuckBoostLoad, context: Context) -> Report:
    """The sheet of a booster."""
    chosen, findings = outcome.chosen, Findings()
    sections = [_load(outcome, entries, context.edition).section("load", say("The load"))]
    results = {
        "measured_voltage": Result(outcome.measured, "V", say("Volts measured")),
        "required_voltage": Result(entries.required_voltage or 0.0, "V", say("Volts wanted")),
        "load_amperes": Result(outcome.load.amperes, "A", say("Load")),
        "load": Result(outcome.va / 1000, "kVA", say("Load")),
    }
    alternatives: tuple[Alternative, ...] = ()
    wires: tuple[PulledConductor, ...] = ()
    marks: tuple[AxisMark, ...] = ()
    methods: tuple[MethodAlternative, ...] = ()
    # the load's kVA by one of the two ways, as the job has it
    hidden = "delivered_load" if context.shop.basis == "nominal" else "load"
    answer = tuple(name for name in ANSWER if name != hidden)
    if chosen is not None:
        nominal = outcome.va / 1000
        # in the same connection as the load was calculated in
        share = chosen.out * chosen.load / (entries.required_voltage or chosen.out)
        delivered = nominal * share / outcome.load.amperes
        methods = both_bases(say("Load"), nominal, delivered, "kVA", context.shop.basis)
        results["delivered_load"] = Result(delivered, "kVA", say("Load, delivered"))
        sections.append(_chosen(chosen, outcome, entries))
        sections.append(_readings(chosen, outcome, entries))
        results |= _results(chosen, outcome)
        _say_of(chosen, outcome, entries, findings)
        if outcome.device is not None:
            sections.append(report_device(outcome.device, context.edition))
            results |= device_result(outcome.device)
        if outcome.sides is not None:
            told = _report_sides(outcome, context, results, findings)
            sections += told[0]
            alternatives, wires, marks = told[1:]
        elif not isinstance(entries, BuckBoostEntries):
            findings.remark(
                "not_sized",
                say(
                    "Device ahead and conductors are not sized: {code} has no rule for them here.",
                    code=context.edition.title,
                ),
            )
        elif outcome.unsized:
            words = say("{words}", words=outcome.unsized)
            findings.fail("unsized", words, entries=("load", "size"))
    else:
        findings.fail(
            "none",
            say("No usual unit gives these volts within ± {percent} %.", percent=entries.tolerance),
            mend=say("Allow more, or take an isolating transformer with taps."),
            entries="tolerance",
        )
    sections += [_ways(outcome), _alone(outcome, entries)]
    report_isolation(findings, context.edition)
    headline = say("no unit fits")
    if chosen is not None:
        headline = say("{volts} V · no size", volts=figure(chosen.out, 1))
    if chosen is not None and chosen.kva is not None:
        headline = say("{volts} V · {kva} kVA", volts=figure(chosen.out, 1), kva=chosen.kva)
    return Report(
        "buck_boost",
        context.edition.id,
        tuple(sections),
        results,
        tuple(findings),
        methods=methods,
        answer=tuple(name for name in answer if name in results) if chosen else ("load",),
        headline=str(headline),
        alternatives=alternatives,
        wires=wires,
        marks=marks,
    )


def _results(chosen: Choice, outcome: BuckBoostOutcome) -> dict[str, Result]:
    return {
        "output": Result(chosen.out, "V", say("Output")),
        "kva": Result(chosen.kva or 0.0, "kVA", say("Each unit")),
        "units": Result(outcome.units, "", say("Units")),
        "input": Result(chosen.source, "A", say("From the source")),
        "delivered_amperes": Result(chosen.load, "A", say("To the load")),
        "deviation": Result(chosen.error, "%", say("Off the volts wanted")),
        "output_power": Result(chosen.delivers / 1000, "kVA", say("Delivers")),
        "windings": Result(str(say(chosen.windings)), "", say("Windings")),
        "joints": Result(
            ", ".join(f"{one}–{other}" for one, other in chosen.joints), "", say("Jumpers")
        ),
        "source_ends": Result(", ".join(chosen.source_ends), "", say("Source on")),
        "load_ends": Result(", ".join(chosen.load_ends), "", say("Load on")),
        "primary_halves": Result(chosen.primary, "", say("Primary halves")),
        "secondary_halves": Result(chosen.secondary, "", say("Secondary halves")),
        "aiding": Result("yes" if chosen.stacked.aiding else "no", "", say("Aiding")),
    }


def _report_sides(
    outcome: BuckBoostOutcome, context: Context, results: dict[str, Result], findings: Findings
) -> tuple[
    list[Section], tuple[Alternative, ...], tuple[PulledConductor, ...], tuple[AxisMark, ...]
]:
    """Device and conductors of input and output; their figures and what is found of them are put
    in."""
    sections: list[Section] = []
    alternatives: list[Alternative] = []
    wires: tuple[PulledConductor, ...] = ()
    marks: tuple[AxisMark, ...] = ()
    for (side, title), run in zip(SIDES, outcome.sides or (), strict=True):
        told = report_sizing(run.sizing, run.entries, run.context(context))
        results |= side_results(told, side, title)
        found = list(side_sections(told, side, title))
        if side == "output":
            found.insert(0, _let_through(outcome, context))
            words = say("Comes through to the output")
            results["let_through"] = Result(outcome.let_through, "A", words)
        sections += found
        alternatives += side_alternatives(told, title)
        findings += side_findings(told)
        wires, marks = told.wires, marks or told.marks
    return sections, tuple(alternatives), wires, marks


def _let_through(outcome: BuckBoostOutcome, context: Context) -> Section:
    """What the input device lets pass to the output."""
    worksheet, chosen = Worksheet("output"), outcome.chosen
    assert chosen is not None and outcome.sides is not None  # noqa: S101 - it is sized
    device = outcome.sides[0].sizing.pair.device
    worksheet.sum(
        "let_through",
        say("The device ahead lets through to the output"),
        outcome.let_through,
        "A",
        f"{figure(device)} A × {figure(outcome.measured)} ÷ {figure(chosen.out, 1)}",
        context.edition.rule("autotransformer_output"),
        note=say("its conductors carry that, so that they need no device where they begin"),
        flow="output",
    )
    return worksheet.section("output_through", say("Output: what comes through"))


def _load(outcome: BuckBoostOutcome, entries: BuckBoostLoad, edition: Edition) -> Worksheet:
    worksheet, root = Worksheet("load"), "" if entries.phases == "1" else "1.732 × "
    wanted = figure(entries.required_voltage)
    if outcome.load.below:
        words = say("What hangs on it, the heaviest line for all")
        worksheet.step("below", words, outcome.load.below / 1000, "kVA")
    if outcome.load.table is not None:
        words = say("Full-load current by the table")
        worksheet.step(
            "table",
            words,
            outcome.load.table.value,
            "A",
            "",
            outcome.load.table.rule,
            entries="load",
        )
    shown = f"{figure(outcome.va)} VA ÷ ({root}{wanted} V)"
    words = say("Amperes at the volts wanted")
    worksheet.step(
        "load_amperes",
        words,
        outcome.load.amperes,
        "A",
        shown,
        entries=("load", "required_voltage"),
    )
    more = f"{figure(outcome.load.amperes)} × {figure(outcome.load.design / outcome.load.amperes)}"
    if outcome.load.motor and isinstance(entries, BuckBoostEntries):
        words, rule = say("For its conductors, a motor’s 125 %"), edition.rule("motor_conductor")
        worksheet.step(
            "design_amperes", words, outcome.load.design, "A", more, rule, entries="load_type"
        )
    elif outcome.load.design > outcome.load.amperes and isinstance(entries, BuckBoostEntries):
        words, rule = say("With 125 % of continuous"), edition.rule("continuous")
        worksheet.step("design_amperes", words, outcome.load.design, "A", more, rule)
    shown = f"{root}{wanted} V × {figure(outcome.load.amperes)} A ÷ 1,000"
    worksheet.sum("load", say("Load"), outcome.va / 1000, "kVA", shown, entries="load")
    return worksheet


def _chosen(chosen: Choice, outcome: BuckBoostOutcome, entries: BuckBoostLoad) -> Section:
    worksheet, way = Worksheet("unit"), chosen.stacked
    sign = "+" if way.aiding else "−"
    ratio = f"(1 {sign} {figure(way.series)} ÷ {figure(way.common)})"
    shown = f"{figure(outcome.measured)} V × {ratio}"
    if not chosen.fed_at_common:
        shown = f"{figure(outcome.measured)} V ÷ {ratio}"
    worksheet.sum(
        "output",
        say("Output: a ratio, not a sum"),
        chosen.out,
        "V",
        shown,
        practice().rule("booster_units"),
        entries=("measured_voltage",),
        flow="output",
    )
    shown = f"{figure(chosen.out, 1)} ÷ {figure(entries.required_voltage)} − 1"
    worksheet.step(
        "deviation", say("Off the volts wanted"), chosen.error, "%", shown, entries="tolerance"
    )
    worksheet.step("input", say("From the source"), chosen.source, "A", flow="source")
    words, note = say("In the series winding"), say("the line’s amperes of its side")
    worksheet.step("series", words, chosen.in_series, "A", note=note, flow="series")
    words, note = say("In the common winding"), say("the difference of both sides")
    shown = f"| {figure(chosen.source)} − {figure(chosen.load)} |"
    worksheet.step("common", words, chosen.in_common, "A", shown, note=note, flow="common")
    worksheet.result(
        "kva",
        say("Made of: {count} × {kva} kVA", count=outcome.units, kva=chosen.kva),
        chosen.kva,
        "kVA",
        say(
            "{volts} V × {amperes} A = {va} VA in each unit",
            volts=way.series,
            amperes=figure(chosen.in_series),
            va=figure(chosen.needs, 0),
        ),
        practice().rule("booster_sizes"),
        flow="unit",
    )
    for number, between in enumerate(UNITS_BETWEEN.get(entries.phases, ()), 1):
        words = say("Unit {number} stands between {lines}", number=number, lines=between)
        worksheet.note(f"unit_{number}", words, flow="unit")
    words = say("Delivers at these volts")
    worksheet.note("output_power", words, chosen.delivers / 1000, "kVA", flow="unit")
    worksheet.note(
        "flux",
        say(
            "Its windings stand at {percent} % of their rated volts", percent=figure(chosen.flux, 1)
        ),
        rules=practice().rule("overflux"),
        entries="frequency",
    )
    return worksheet.section("unit", _named(chosen))


def _readings(chosen: Choice, outcome: BuckBoostOutcome, entries: BuckBoostLoad) -> Section:
    """What a voltmeter shows before the load is put on, and what it shows where the series winding
    of one unit is reversed: the ratio's other sign."""
    worksheet, good = Worksheet("output"), chosen.out
    ratio = good / outcome.measured if chosen.fed_at_common else outcome.measured / good
    wrong = outcome.measured * (2 - ratio)
    if not chosen.fed_at_common:
        wrong = outcome.measured / (2 - ratio)
    if entries.phases == "1":
        note = say("reversed: {volts} V", volts=figure(wrong, 1))
        worksheet.step("reading", say("Across the output"), good, "V", note=note)
        return worksheet.section("readings", READINGS)
    if entries.phases == "wye":
        for line in LINES:
            note = say("its unit reversed: {volts} V", volts=figure(wrong / sqrt(3), 1))
            words = say("{line} to neutral", line=line)
            worksheet.step(f"reading_{line}", words, good / sqrt(3), "V", note=note)
        across = sqrt((good**2 + wrong**2 + good * wrong) / 3)
        note = say("one unit of the pair reversed: {volts} V", volts=figure(across, 1))
        worksheet.step("reading", say("Between any two lines"), good, "V", note=note)
        return worksheet.section("readings", READINGS)
    third = sqrt(good**2 + wrong**2 - good * wrong)
    reversed_ = say("its unit reversed: {volts} V", volts=figure(wrong, 1))
    either = say("one unit reversed: {volts} V", volts=figure(third, 1))
    for pair, note in (("L1–L2", reversed_), ("L2–L3", reversed_), ("L3–L1", either)):
        words = say("Between {pair}", pair=pair)
        worksheet.step(f"reading_{pair}", words, good, "V", note=note)
    worksheet.note("straight", say("L2 runs straight through: no unit is in it"))
    return worksheet.section("readings", READINGS)


def _named(chosen: Choice) -> Text:
    return say(
        "{windings}: primary in {primary}, secondary in {secondary}",
        windings=say(chosen.windings),
        primary=HALVES[chosen.primary],
        secondary=HALVES[chosen.secondary],
    )


def _ways(outcome: BuckBoostOutcome) -> Section:
    worksheet = Worksheet()
    for index, one in enumerate(outcome.choices):
        way = one.stacked
        shown = say(
            "{input} A in, {output} A out, {percent} % off",
            input=figure(one.source, 1),
            output=figure(one.load, 1),
            percent=signed(one.error),
        )
        words = say(
            "{unit}, {aiding}, fed at {end}",
            unit=_named(one),
            aiding=say("aiding") if way.aiding else say("opposing"),
            end=one.source_ends[0],
        )
        kind: LineKind = "sum" if one is outcome.chosen else "step"
        worksheet.step(f"way_{index}", words, one.out, "V", shown, note=_verdict(one), kind=kind)
    return worksheet.section("ways", say("Every unit and every joining of its halves"))


def _verdict(one: Choice) -> Text:
    if one.fault == "flux":
        return say(
            "its windings would stand at {percent} % of their volts", percent=figure(one.flux, 0)
        )
    if one.fault == "volts":
        return say("too far off the volts wanted")
    if one.fault == "size":
        return say("no usual size carries this load")
    return say("{kva} kVA each would do", kva=one.kva)


def _alone(outcome: BuckBoostOutcome, entries: BuckBoostLoad) -> Section:
    """What the load does at the volts that are there."""
    worksheet, alone = Worksheet(), outcome.alone
    shown = f"{figure(outcome.measured)} ÷ {figure(entries.required_voltage)}"
    worksheet.step("off", say("Volts, of those wanted"), 100 * alone.ratio, "%", shown)
    if entries.load_type == "motor":
        worksheet.step("amperes_alone", say("Its amperes, about"), 100 * alone.amperes, "%")
        worksheet.step("heat_alone", say("Its heat, about"), 100 * alone.heat, "%")
        worksheet.step("torque_alone", say("Its torque"), 100 * alone.torque, "%")
    else:
        worksheet.step("output_alone", say("Output of a heater"), 100 * alone.output, "%")
    if outcome.isolating is not None:
        words = say("An isolating transformer for the same load")
        worksheet.note("isolating", words, outcome.isolating, "kVA")
    return worksheet.section("alone", say("Left alone, and beside it"))


def _more_below(outcome: BuckBoostOutcome, entries: BuckBoostLoad, findings: Findings) -> None:
    """More hangs on it than was entered by hand."""
    if not fits(outcome.load.va, outcome.load.below):
        return
    findings.check(
        "below",
        say("What hangs on it is more than the load entered: it is worked for that."),
        entries="load",
    )


def _say_of(
    chosen: Choice, outcome: BuckBoostOutcome, entries: BuckBoostLoad, findings: Findings
) -> None:
    findings.passes(
        "output",
        say(
            "{volts} V from {measured} V: {percent} % off the {wanted} V wanted.",
            volts=figure(chosen.out, 1),
            measured=outcome.measured,
            percent=signed(chosen.error),
            wanted=entries.required_voltage,
        ),
    )
    if chosen.fault == "size":
        findings.fail(
            "size",
            say("Needs units of {kva} kVA: more than the usual ones.", kva=chosen.needs / 1000),
            mend=say("Split the load, or have units made."),
            entries="load",
        )
    if outcome.nominal:
        findings.check(
            "nominal",
            say(
                "Worked from the nominal {volts} V: a booster gives a ratio of what is there.",
                volts=outcome.measured,
            ),
            mend=say("Measure where it will stand, under load, and enter it."),
            entries="measured_voltage",
        )
    if outcome.load.below and outcome.load.table is None and entries.load is not None:
        _more_below(outcome, entries, findings)
    if entries.phases == "wye":
        findings.check(
            "star",
            say("Three units in wye need the source’s neutral or its grounded star point."),
            mend=say("Where there is none, take two in open delta."),
            entries="phases",
        )
    if 100 * abs(outcome.alone.ratio - 1) <= entries.tolerance:
        findings.check(
            "needless",
            say("The volts there are within what the load bears: it may need none."),
            entries="tolerance",
        )
