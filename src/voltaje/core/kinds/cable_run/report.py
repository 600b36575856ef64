"""A run on the worksheet."""

from __future__ import annotations

from voltaje.core.codes import practice
from voltaje.core.electrical.connection import current_divisor
from voltaje.core.kinds.cable_run.calculate import CableRunOutcome, Other
from voltaje.core.kinds.cable_run.entries import CableRunEntries
from voltaje.core.kinds.cable_run.unknowns import MeasuredDrop, source_for
from voltaje.core.quantities import LENGTH, UnitSystem, feet, show
from voltaje.core.quantities import METRES_PER_FOOT as METRES
from voltaje.core.report import (
    Findings,
    InstrumentPoint,
    MethodAlternative,
    PointKey,
    Report,
    Result,
    Section,
    Text,
    Worksheet,
    figure,
    figure_beside,
    fits,
    say,
)
from voltaje.core.rules.context import Context

NOTHING = 1e-6  # no code figure: a sum that is so much smaller than its terms is none
# common practice: readings and lengths are not better than a fifth
MEASURED_MORE = 1.2
RISE = 0.005  # no code figure: a rise, in percent, that is worth a word
ANSWER = ("end_volts", "drop_percent", "conductor", "drop_by_table")


def report(outcome: CableRunOutcome, entries: CableRunEntries, context: Context) -> Report:
    """The run's worksheet: amperes and volts of each segment three ways, the solved volts at each
    joint, and what would mend a drop beyond the limit."""
    needs = source_for(outcome.along, outcome.segments)
    sections = (
        _amounts(outcome).section("load", say("Amperes of each segment")),
        _drops(outcome, context).section("drop", say("Volts lost, by impedance")),
        _table(outcome).section("table", say("By the cable’s table, mV for each A and m")),
        *_k_section(outcome),
        _volts(outcome).section("volts", say("Volts at each joint, solved")),
        *(_other(outcome, other) for other in outcome.others),
        *_measured(outcome),
        _mends(outcome, needs, context).section(
            "mend", say("To keep within {limit} %", limit=figure(outcome.limit))
        ),
    )
    findings = _findings(outcome, entries, context)
    _ampacity(outcome, context, findings)
    _wires(entries, context, findings)
    return Report(
        "cable_run",
        context.edition.id,
        sections,
        _results(outcome, needs),
        tuple(findings),
        answer=ANSWER,
        headline=f"{_sizes(outcome)} · {figure(outcome.percent, 1)} %",
        methods=_methods(outcome),
        points=_points(outcome, context),
    )


def _results(outcome: CableRunOutcome, needs: float | None) -> dict[str, Result]:
    along, ends, volts = outcome.along, outcome.ends, outcome.along.volts
    several = str(say(" × {sets} sets", sets=along.sets)) if along.sets > 1 else ""
    by_table = 100 * outcome.by_table / volts
    by_impedance = 100 * outcome.by_impedance / volts
    va = sum(j.va for j in along.joints if j.va > 0)
    length = sum(j.metres for j in along.joints)
    results = {
        "drop_percent": Result(outcome.percent, "%", say("Voltage drop")),
        "drop_volts": Result(
            outcome.percent * volts / 100 if along.by_table else ends[0] - min(ends[1:]),
            "V",
            say("Volts lost"),
        ),
        "end_volts": Result(ends[-1], "V", say("Volts at the end")),
        "conductor": Result(_sizes(outcome) + several, "", say("Conductor")),
        "drop_by_table": Result(by_table, "%", say("By the table")),
        "drop_by_impedance": Result(by_impedance, "%", say("By impedance")),
        "amperes": Result(outcome.amperes or 0.0, "A", say("Amperes of the first segment")),
        "load": Result(va, "VA", say("Load")),
        "length": Result(length, "m", say("Length")),
        "supply_volts": Result(ends[0], "V", say("Volts at its beginning")),
        "maximum_drop": Result(outcome.limit, "%", say("Drop allowed")),
    }
    if needs is not None:
        words = say("Source voltage needed")
        results["needed_source"] = Result(needs, "V", words)
    if outcome.measured is not None:
        words = say("Measured impedance")
        results["measured_ohms"] = Result(outcome.measured.ohms, "Ω", words)
    if outcome.rise > RISE:
        results["rise"] = Result(outcome.rise, "%", say("Voltage rise"))
    return results


def _sizes(outcome: CableRunOutcome) -> str:
    """The sizes that the segments have, in their order; never one that none of them has."""
    sizes = dict.fromkeys(s.size for s in outcome.segments)
    return ", ".join(outcome.along.strand.name(size) for size in sizes)


def _amounts(outcome: CableRunOutcome) -> Worksheet:
    along, worksheet = outcome.along, Worksheet()
    for index, (segment, joint) in enumerate(zip(outcome.segments, along.joints, strict=True)):
        behind = along.joints[index:]
        shown = (
            f"{figure(abs(joint.va))} ÷ {current_divisor(along.volts, along.entries.connection)}"
        )
        if len(behind) > 1:
            shown = " + ".join(figure(abs(j.current), 1) for j in behind if j.current)
        back = segment.amperes.real < 0
        worksheet.step(
            "segment_amperes",
            say("To {name}", name=segment.name),
            abs(segment.amperes),
            "A",
            shown,
            joint.rules,
            note=say("flows towards the supply") if back else None,
            entries=f"{joint.path}.nameplate",
            flow=f"s{index}",
        )
    return worksheet


def _drops(outcome: CableRunOutcome, context: Context) -> Worksheet:
    along, total, worksheet = outcome.along, outcome.by_impedance, Worksheet()
    factor, us = "1.732" if along.three else "2", context.units == "us"
    for index, (segment, one) in enumerate(zip(outcome.segments, outcome.lost, strict=True)):
        size = abs(segment.amperes)
        cos = segment.amperes.real / size if size else 1.0
        sin = -segment.amperes.imag / size if size else 0.0
        each = f" ÷ {segment.sets}" if segment.sets > 1 else ""
        per, unit, length = 1.0, "Ω/km", f"{figure(segment.metres, 1)} m"
        if us:
            per, unit = METRES, "Ω/1,000 ft"
            length = f"{figure(feet(segment.metres), 1)} ft"
        ohms = figure(one.ohms.r * per, 3)
        if abs(sin) >= 1e-9:
            x = figure(one.ohms.x * per, 3)
            ohms = f"({ohms} × {figure(abs(cos), 3)} + {x} × {figure(sin, 3)})"
        if segment.given:
            length, unit, ohms, each = "", "Ω", figure(segment.given, 4), ""
            if abs(sin) >= 1e-9:
                ohms += f" × {figure(abs(cos), 3)}"
        note_ohms = None
        if abs(one.ohms.factor - 1) > NOTHING:
            note_ohms = say(
                "R = {figure} of the table × {factor} for the conductor temperature",
                figure=figure(one.ohms.figure, 4),
                factor=figure(one.ohms.factor, 4),
            )
        # flows that cancel leave nothing to be a share of
        even = abs(total) > NOTHING * sum(abs(each.by_impedance) for each in outcome.lost)
        share = 100 * one.by_impedance / total if even and total else None
        worksheet.step(
            "segment_drop",
            say("To {name}, {size}", name=segment.name, size=along.strand.name(segment.size)),
            one.by_impedance,
            "V",
            f"{factor} × {figure(size, 1)} A{each} × {ohms} {unit}"
            + (f" × {length}" if length else ""),
            one.ohms.rule,
            note=None if share is None else say("{share} % of the whole", share=figure(share, 0)),
            rounding=note_ohms,
            entries=f"{along.joints[index].path}.{'impedance' if segment.given else 'length'}",
            flow=f"s{index}",
        )
    shown = " + ".join(figure(one.by_impedance) for one in outcome.lost)
    worksheet.sum("drop_sum", say("In all"), total, "V", shown)
    volts = figure(along.volts)
    words, shown = say("Of {volts} V", volts=volts), f"{figure(total)} ÷ {volts}"
    percent = 100 * total / along.volts
    if along.by_table:
        worksheet.sum("impedance_percent", words, percent, "%", shown)
    else:
        worksheet.result("drop_percent", words, percent, "%", shown, outcome.limit_rule)
    return worksheet


def _table(outcome: CableRunOutcome) -> Worksheet:
    volts, worksheet = outcome.along.volts, Worksheet()
    factor = "1.732" if outcome.along.three else "2"
    strand = outcome.along.strand
    if strand.installed is not None:
        rated = [strand.carries(s.size, abs(s.amperes), s.sets) for s in outcome.segments]
        least = min((c for c in rated if c.amperes), key=lambda c: c.amperes or 0.0, default=None)
        if least is not None:
            words = say("The least of them carries, {lies}", lies=strand.installed)
            worksheet.note("carries", words, least.amperes, "A", rules=least.rules)
    for index, (segment, one) in enumerate(zip(outcome.segments, outcome.lost, strict=True)):
        amperes, metres = figure(abs(segment.amperes), 1), figure(segment.metres, 1)
        worksheet.step(
            "segment_table",
            say("To {name}", name=segment.name),
            one.by_table,
            "V",
            f"{factor} × {amperes} A × {figure(segment.given, 4)} Ω"
            if segment.given
            else f"{one.mv_shown or figure(one.mv, 3)} mV × {amperes} A × {metres} m ÷ 1,000",
            one.table_rule,
            note=None if one.table_rule else say("its own figure"),
            flow=f"s{index}",
        )
    by_table, percent = 100 * outcome.by_table / volts, 100 * outcome.by_impedance / volts
    words = say("Of {volts} V", volts=figure(volts))
    if outcome.along.by_table:
        shown = f"{figure(outcome.by_table)} ÷ {figure(volts)}"
        worksheet.result("drop_percent", words, by_table, "%", shown, outcome.limit_rule)
    else:
        worksheet.sum("table_percent", words, by_table, "%")
    words = say("Less than by impedance")
    if by_table >= percent:
        words = say("More than by impedance")
    note = say(
        "the table adds amperes whatever their power factor, leaves reactance out and"
        " has its own temperature and rounding"
    )
    worksheet.note("table_differs", words, abs(by_table - percent), "%", note=note)
    return worksheet


def _methods(outcome: CableRunOutcome) -> tuple[MethodAlternative, ...]:
    """The ways side by side, each with its volts."""
    ways = [
        ("impedance", say("By impedance"), outcome.by_impedance),
        ("table", say("By the cable’s table"), outcome.by_table),
    ]
    if all(one.by_k for one in outcome.lost):
        ways.append(("k", say("By the K factor"), sum(one.by_k for one in outcome.lost)))
    volts = outcome.along.volts
    return tuple(
        MethodAlternative(
            f"method_{name}",
            label,
            100 * lost / volts,
            "%",
            name == ("table" if outcome.along.by_table else "impedance"),
            True,
            say("{lost} V", lost=figure(lost)),
        )
        for name, label, lost in ways
    )


def _k_section(outcome: CableRunOutcome) -> tuple[Section, ...]:
    if not all(one.by_k for one in outcome.lost):
        return ()
    volts, worksheet = outcome.along.volts, Worksheet()
    total = sum(one.by_k for one in outcome.lost)
    words = say("2 K I L ÷ circular mils, √3 for three-phase")
    shown = " + ".join(figure(one.by_k) for one in outcome.lost)
    worksheet.step("k_volts", words, total, "V", shown, practice().rule("k_factor"))
    words = say("Of {volts} V", volts=figure(volts))
    worksheet.sum("k_percent", words, 100 * total / volts, "%")
    return (worksheet.section("k", say("Quick check with the K factor")),)


def _volts(outcome: CableRunOutcome) -> Worksheet:
    ends, worksheet = outcome.ends, Worksheet()
    worksheet.step("joint_volts", say("At the beginning"), ends[0], "V", flow="start")
    for index, joint in enumerate(outcome.along.joints, 1):
        percent = 100 * (ends[0] - ends[index]) / outcome.along.volts
        shown = say("{percent} % below the beginning", percent=percent)
        words, path = say("{name}", name=joint.name), f"{joint.path}.name"
        flow = f"s{index - 1}"
        worksheet.step("joint_volts", words, ends[index], "V", shown, entries=path, flow=flow)
    return worksheet


def _other(outcome: CableRunOutcome, other: Other) -> Section:
    """The run in another case: what flows, and the volts at each joint."""
    worksheet, volts = Worksheet(), outcome.along.volts
    for index, joint in enumerate(other.case.joints):
        percent = 100 * (other.ends[0] - other.ends[index + 1]) / volts
        shown = say("{percent} % below the beginning", percent=figure(percent, 2))
        words = say("{name}, {amperes} A", name=joint.name, amperes=figure(other.amperes[index], 1))
        worksheet.step("case_volts", words, other.ends[index + 1], "V", shown, flow=f"s{index}")
    title = say("The run {case}", case=other.case.label)
    return worksheet.section(f"case_{other.case.name}", title)


def _measured(outcome: CableRunOutcome) -> tuple[Section, ...]:
    """The impedance behind the readings, put in and checked."""
    found, worksheet = outcome.measured, Worksheet()
    if found is None:
        return ()
    lost = found.start - found.end
    shown = f"{figure(found.start, 1)} − {figure(found.end, 1)}"
    worksheet.sum(
        "measured_drop", say("Measured voltage drop"), lost, "V", shown, entries="measured_end"
    )
    words = say("Impedance of one conductor, from the measured drop")
    note = say(
        "found by solving the run with it: its end has {end} V then", end=figure(found.end, 1)
    )
    shown = f"{figure(found.calculated, 4)} Ω × {figure(found.times, 3)}"
    worksheet.result("measured_ohms", words, found.ohms, "Ω", shown, note=note)
    return (worksheet.section("measured", say("By what was measured")),)


def _mends(outcome: CableRunOutcome, needs: float | None, context: Context) -> Worksheet:
    """A larger conductor, a shorter run, higher volts; the longest run with this conductor."""
    volts_lost = outcome.by_table if outcome.along.by_table else outcome.by_impedance
    lost = 100 * volts_lost / outcome.along.volts
    found = outcome.along.mends(outcome.size, lost, outcome.limit)
    units, worksheet = context.units, Worksheet()
    limit, percent = figure(outcome.limit), figure(abs(lost))
    if found.larger:
        words = say("Smallest conductor: {size}", size=outcome.along.strand.name(found.larger[0]))
        worksheet.step("mend_size", words, found.larger[1], "%", entries="size")
    if found.longest is not None:
        words = say(
            "Longest run with {size}: {length}",
            size=outcome.along.strand.name(outcome.size),
            length=_length(found.longest, units),
        )
        length = _length(found.length, units)
        shown, note = f"{length} × {limit} ÷ {percent}", say("all lengths in proportion")
        worksheet.step("mend_length", words, None, "", shown, note=note)
    if found.volts is not None:
        step: Text | None = None
        if found.next_volts:
            step = say("the next usual volts: {volts} V", volts=found.next_volts)
        words = say("Volts for the same load and conductor")
        shown = f"{figure(outcome.along.volts)} × √({percent} ÷ {limit})"
        worksheet.step("mend_volts", words, found.volts, "V", shown, note=step)
    if needs is not None:
        volts = figure(outcome.along.volts)
        words = say("Source voltage for {volts} V at the lowest load", volts=volts)
        note = say("by the source’s tap, or a buck-boost transformer")
        worksheet.step("source_volts", words, needs, "V", note=note)
    return worksheet


def _length(metres: float, units: UnitSystem) -> str:
    """A length to a tenth of the unit that is shown."""
    shown = round(feet(metres), 1) * METRES if units == "us" else round(metres, 1)
    return show(shown, LENGTH, units)


def _findings(outcome: CableRunOutcome, entries: CableRunEntries, context: Context) -> Findings:
    findings = Findings()
    percent, limit, rise = outcome.percent, outcome.limit, outcome.rise
    worst = outcome.along.joints[outcome.worst]
    shown, most = figure_beside(percent, limit, 1), figure(limit)
    if fits(percent, limit):
        words = say(
            "{percent} % at {name}, within {limit} %.", percent=shown, name=worst.name, limit=most
        )
        rule = outcome.limit_rule
        findings.passes("drop", words, f"{figure(limit - percent, 1)} %", rules=rule)
    else:
        given = {"percent": shown, "name": worst.name, "limit": most}
        words = say("{percent} % at {name}, above the {limit} % that is advised.", **given)
        tells = findings.check
        if entries.maximum_drop is None and context.limits.binds(context.edition):
            words = say("{percent} % at {name}, above the {limit} % that it may be.", **given)
            tells = findings.fail
        tells(
            "drop",
            words,
            f"{figure_beside(percent - limit, 0.0, 1)} %",
            mend=say(
                "See “To keep within {limit} %”: larger, shorter or higher volts.", limit=most
            ),
            rules=outcome.limit_rule,
            entries="size",
        )
    if outcome.measured is not None:
        _judge_measured(outcome.measured, findings)
    elif entries.measured_start is not None:
        words = say("The voltage measured at the beginning is not used: give that at the end too.")
        findings.remark("measured", words, entries=("measured_start", "measured_end"))
    total = context.limits.total(context.edition)
    whole = percent + entries.upstream_drop
    if entries.upstream_drop and not fits(whole, total.value):
        findings.check(
            "drop_ahead",
            say(
                "With the {ahead} % ahead of it: {sum} %, above {limit} % in all.",
                ahead=figure(entries.upstream_drop),
                sum=figure(whole, 1),
                limit=figure(total.value),
            ),
            f"{figure(whole - total.value, 1)} %",
            rules=total.rule,
            entries="upstream_drop",
        )
    if rise > RISE:
        allowed = context.limits.rise(context.edition)
        words = say("What feeds in raises the volts by {rise} %.", rise=figure(rise, 1))
        amount, rule = f"{figure(rise, 1)} %", allowed.rule
        if not fits(rise, allowed.value) or rise > limit:
            mend = say("A larger conductor: an inverter switches off on high volts.")
            findings.check("rise", words, amount, mend=mend, rules=rule)
        else:
            findings.passes("rise", words, amount, rules=rule)
    return findings


def _judge_measured(found: MeasuredDrop, findings: Findings) -> None:
    """What the measured impedance says of joints, lengths and loads."""
    given = {"ohms": figure(found.ohms, 4), "calculated": figure(found.calculated, 4)}
    if found.times > MEASURED_MORE:
        findings.check(
            "measured",
            say("Measured impedance {ohms} Ω exceeds the calculated {calculated} Ω.", **given),
            mend=say("Look for a loose joint, a smaller conductor, a longer way or more load."),
            entries="measured_end",
        )
    elif found.times < 1 / MEASURED_MORE:
        findings.check(
            "measured",
            say("Measured impedance {ohms} Ω is below the calculated {calculated} Ω.", **given),
            mend=say("Less load was on, the conductors were cold, or they are larger or shorter."),
            entries="measured_end",
        )
    else:
        words = say(
            "Measured impedance {ohms} Ω agrees with the calculated {calculated} Ω.", **given
        )
        findings.passes("measured", words)


def _ampacity(outcome: CableRunOutcome, context: Context, findings: Findings) -> None:
    """Whether each size carries its amperes, without any 125 %."""
    along = outcome.along
    for index, (segment, joint) in enumerate(zip(outcome.segments, along.joints, strict=True)):
        carries, amperes = along.carries(segment.size), along.amperes(index)
        if carries.amperes is None:
            if carries.unrated is not None:
                mend = say("Take the ampacity from the code that governs the cable.")
                findings.check("ampacity", carries.unrated, mend=mend)
            return
        if not fits(amperes, carries.amperes):
            findings.fail(
                "ampacity",
                say(
                    "To {name}: {amperes} A on {size}, good for {carries} A.",
                    name=segment.name,
                    amperes=figure(amperes, 1),
                    size=along.strand.name(segment.size),
                    carries=figure(carries.amperes, 1),
                ),
                f"{figure(amperes - carries.amperes, 1)} A",
                mend=say("A larger conductor: ampacity comes before drop."),
                rules=carries.rules,
                entries=f"{joint.path}.size",
            )


def _wires(entries: CableRunEntries, context: Context, findings: Findings) -> None:
    """Whether what hangs on the run finds its lines and its neutral in it."""
    if entries.connection == "three-phase":
        return
    two = entries.connection == "two-line"
    for piece in context.below.pieces:
        if piece.connection != entries.connection or (piece.neutral and two):
            findings.fail(
                "wires",
                say(
                    "{name} needs wires that this run does not have.",
                    name=piece.name or "What hangs on it",
                ),
                mend=say("Choose a connection with its lines and neutral, like three-phase."),
                entries="connection",
            )
            return


def _points(outcome: CableRunOutcome, context: Context) -> tuple[InstrumentPoint, ...]:
    along, ends, answer = outcome.along, outcome.ends, outcome.solution
    volts, other = along.volts, "1" if along.three else "r"
    phasor = answer.phasor("0.0", f"{other}.0")
    begins = say("At the beginning")
    found = [
        InstrumentPoint(
            PointKey("start"), begins, ends[0], "V", phasor, nominal=volts, role="joint"
        )
    ]
    at = 0.0
    for index, (joint, segment) in enumerate(zip(along.joints, outcome.segments, strict=True), 1):
        at += segment.metres
        current = answer.current(f"0:{index}")
        length = _length(segment.metres, context.units)
        words = say("To {name}, {length}", name=joint.name, length=length)
        name, size = f"line:{index}", along.strand.name(segment.size)
        found.append(
            InstrumentPoint(PointKey(name), words, abs(current), "A", current, size, index, at)
        )
        phasor = answer.phasor(f"0.{index}", f"{other}.{index}")
        words, name = say("{name}", name=joint.name), f"joint:{index}"
        found.append(
            InstrumentPoint(
                PointKey(name), words, ends[index], "V", phasor, "", index, at, volts, "joint"
            )
        )
    return tuple(found)
