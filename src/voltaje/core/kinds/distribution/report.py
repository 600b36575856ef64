"""A distribution circuit on the worksheet."""

from __future__ import annotations

from voltaje.core.kinds.distribution.calculate import DistributionOutcome, fault_current
from voltaje.core.kinds.distribution.entries import DistributionEntries
from voltaje.core.report import Findings, Report, Result, Section, Worksheet, figure, fits, say
from voltaje.core.rules.common.fault_contribution import report_export
from voltaje.core.rules.context import Context

ANSWER = ("device", "conductor", "ground_conductor", "drop_percent", "loop_impedance")


def report(outcome: DistributionOutcome, entries: DistributionEntries, context: Context) -> Report:
    """The load by line, the design current, device, cable, drop and loop."""
    findings = Findings()
    code, worksheet = context.code, Worksheet("load")
    told = code.report_sizing(outcome.sizing, entries, context)
    words = say("All that hangs on it")
    worksheet.step("load", words, outcome.va, "VA", entries="load")
    for line, amperes in outcome.by_line.items():
        worksheet.step(f"line_{line.lower()}", say("{line}, all of it on", line=line), amperes, "A")
    shown = f"{figure(max(outcome.by_line.values()))} × {figure(entries.diversity / 100, 4)}"
    words = say("Design current Ib, the heaviest line")
    worksheet.sum("amperes", words, outcome.amperes, "A", shown, entries="diversity")
    report_export(outcome.back, outcome.amperes or 0.0, worksheet)
    findings += told.findings
    behind = max((piece.device for piece in outcome.pieces), default=0.0)
    if not fits(behind, outcome.sizing.device):
        findings.check(
            "larger_behind",
            say(
                "A device behind it, {behind} A, is above its own {own} A: this one opens first.",
                behind=behind,
                own=outcome.sizing.device,
            ),
            entries=("device", "diversity"),
        )
    _selective(outcome, behind, context, findings)
    _breaking(outcome, entries, context, findings)
    prospective = _prospective(outcome, entries, context)
    results = {
        "calculated_load": Result(
            outcome.va * entries.diversity / 100, "VA", say("Calculated load")
        ),
        "amperes": Result(outcome.amperes or 0.0, "A", say("Design current")),
        "volts": Result(outcome.feed.volts, "V", say("Volts")),
        **told.results,
        **(
            {"fault": Result(outcome.fault, "A", say("Prospective current"))}
            if outcome.fault
            else {}
        ),
    }
    return Report(
        "distribution",
        context.edition.id,
        (worksheet.section("load", say("Load")), *told.sections, *prospective),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=told.headline,
        alternatives=told.alternatives,
        marks=told.marks,
        wires=told.wires,
        tests=told.tests,
    )


def _selective(
    outcome: DistributionOutcome, behind: float, context: Context, findings: Findings
) -> None:
    """Whether the device behind opens first, by generic curves: a fuse at 1.6 times the largest
    behind it, a breaker for faults that stay below its own magnetic release."""
    pair, edition = outcome.sizing.pair, context.edition
    if not behind or not fits(behind, pair.device):
        return
    share, times = edition.limit("selective"), pair.opening.times
    if not times:
        holds = fits(share.value * behind, pair.device)
        words = say(
            "By generic curves the {behind} A behind opens first: the fuse is {own} A.",
            behind=behind,
            own=pair.device,
        )
        if not holds:
            words = say(
                "By generic curves this fuse of {own} A may open with the {behind} A behind it:"
                " {times} times are wanted.",
                own=pair.device,
                behind=behind,
                times=share.value,
            )
        if holds:
            findings.passes("selective", words, rules=share.rule)
            return
        findings.check(
            "selective",
            words,
            mend=say("A larger fuse here, or the makers’ tables."),
            rules=share.rule,
            entries=("device", "device_type"),
        )
        return
    if outcome.loop:
        most = outcome.sizing.earth_volts / outcome.loop
        if most > times * pair.device:
            findings.remark(
                "selective",
                say(
                    "By generic curves it may open with the device behind it: a fault there of"
                    " {fault} A reaches its magnetic release at {release} A.",
                    fault=figure(most, 0),
                    release=figure(times * pair.device, 0),
                ),
                mend=say("A fuse here, a larger breaker, or the makers’ tables."),
                rules=share.rule,
                entries=("device", "device_type"),
            )


def _breaking(
    outcome: DistributionOutcome,
    entries: DistributionEntries,
    context: Context,
    findings: Findings,
) -> None:
    """Whether its device breaks what can flow where it stands."""
    if not outcome.fault:
        return
    edition = context.edition
    usual = edition.cell("breaking", entries.device_type, "kA")
    can = entries.breaking or 1000 * usual.value
    words = say(
        "{fault} kA can flow at its device, which breaks {can} kA.",
        fault=figure(outcome.fault / 1000, 2),
        can=figure(can / 1000, 1),
    )
    findings.judged(
        fits(outcome.fault, can),
        "breaking",
        words,
        f"{figure(abs(can - outcome.fault) / 1000, 2)} kA",
        mend=say("A device of a higher breaking capacity."),
        rules=(edition.rule("interrupting"), *((usual.rule,) if not entries.breaking else ())),
        entries=("breaking", "device_type"),
    )


def _prospective(
    outcome: DistributionOutcome, entries: DistributionEntries, context: Context
) -> tuple[Section, ...]:
    """The prospective currents at its far end: the highest for breaking capacities, the lowest for
    what opens a device."""
    worksheet, edition = Worksheet(), context.edition
    highest = fault_current(entries, outcome, context).amperes
    if highest:
        worksheet.step(
            "fault_most",
            say("At its far end, at most"),
            highest,
            "A",
            note=say("conductors at 20 °C, R and X added apart"),
            rules=edition.rule("interrupting"),
            entries="length",
        )
    if outcome.loop:
        volts, least = outcome.sizing.earth_volts, edition.limit("loop_least")
        worksheet.step(
            "minimum_fault_current",
            say("Line to earth at its far end, at least"),
            volts * least.value / outcome.loop,
            "A",
            f"{figure(volts)} × {figure(least.value)} ÷ {figure(outcome.loop, 3)}",
            (edition.rule("loop"), least.rule),
            entries="external_loop",
        )
    return (worksheet.section("prospective", say("Prospective currents")),) if worksheet else ()
