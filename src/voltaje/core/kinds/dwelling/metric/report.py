"""A dwelling at 230/400 V on the worksheet."""

from __future__ import annotations

from voltaje.core.codes import Edition
from voltaje.core.kinds.dwelling.metric.calculate import MainsOutcome, OnLine
from voltaje.core.kinds.dwelling.metric.entries import MainsEntries
from voltaje.core.report import (
    Findings,
    Flow,
    MethodAlternative,
    Report,
    Result,
    Section,
    Text,
    Worksheet,
    figure,
    fits,
    say,
)
from voltaje.core.report import told as told_in
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364 import protective_conductors as earth
from voltaje.core.rules.iec60364.dwellings import by_points, is_guided

ANSWER = ("device", "conductor", "ground_conductor", "earthing_conductor", "main_bonding")


def report(outcome: MainsOutcome, entries: MainsEntries, context: Context) -> Report:
    """A dwelling's worksheet: its lines, the heaviest first, then the mains."""
    edition, code = context.edition, context.code
    told = code.report_sizing(outcome.sizing, entries, context)
    findings = Findings()
    uses = code.dwelling_uses  # type: ignore[attr-defined]
    lines = sorted(outcome.lines, key=lambda line: -line.amperes)
    sections = [_line(line, uses, len(lines) > 1, edition) for line in lines if line.rows]
    _advise(outcome, context, findings)
    if is_guided(edition):
        findings.remark(
            "guidance",
            say("By usual guidance: the code itself gives no figures of diversity."),
            rules=edition.rule("diversity"),
        )
    elif not by_points(edition):
        findings.remark(
            "own_factors",
            say("By your own factors: the supplier’s after-diversity demand prevails."),
        )
    findings += told.findings
    found = {
        "connected_load": Result(outcome.connected, "VA", say("Connected load")),
        "calculated_load": Result(outcome.calculated, "VA", say("Calculated load")),
        "amperes": Result(outcome.heaviest, "A", say("Amperes")),
        **told.results,
        "earthing_conductor": Result(f"{outcome.earthing} mm²", "", say("Main earthing conductor")),
        "main_bonding": Result(f"{outcome.bonding} mm²", "", say("Main bonding")),
    }
    if len(lines) > 1:
        for line in outcome.lines:
            key = f"line_{line.line[1:]}_amperes"
            found[key] = Result(line.amperes, "A", say("{line}", line=line.line))
    return Report(
        "dwelling",
        edition.id,
        (*sections, *told.sections, _earth(outcome, edition)),
        found,
        tuple(findings),
        _ways(outcome),
        flows={"shown": _flows(outcome, uses, context.supply.system.to_neutral)},
        answer=tuple(name for name in ANSWER if name in found),
        headline=f"{figure(outcome.heaviest)} A · {told.headline}",
        alternatives=told.alternatives,
        marks=told.marks,
        wires=told.wires,
        tests=told.tests,
    )


def _title(label: str, short: bool = False) -> Text:
    """A use as a line begins with it, in the language of whoever reads; ``short`` of its comma."""
    words = told_in(label)
    words = words.partition(",")[0] if short else words
    return say("{words}", words=words[:1].upper() + words[1:])


def _line(line: OnLine, uses: dict[str, str], several: bool, edition: Edition) -> Section:
    worksheet = Worksheet()
    for group in line.groups:
        worksheet.step(
            f"{line.line.lower()}_{group.use.replace(' ', '_')}",
            _title(uses[group.use]),
            group.demand,
            "A",
            group.shown,
            group.rules,
            entries=group.paths,
            flow=group.use.replace(" ", "_"),
        )
    words = say("Demand of {line}", line=line.line) if several else say("Maximum demand")
    shown = " + ".join(figure(group.demand) for group in line.groups)
    name = f"demand_{line.line.lower()}" if several else "amperes"
    worksheet.result(name, words, line.amperes, "A", shown)
    title = say("Demand on {line}", line=line.line) if several else say("Maximum demand")
    return worksheet.section(f"load_{line.line.lower()}" if several else "load", title)


def _flows(outcome: MainsOutcome, uses: dict[str, str], volts: float) -> tuple[Flow, ...]:
    found: dict[str, tuple[float, float]] = {}
    for line in outcome.lines:
        for group in line.groups:
            before, after = found.get(group.use, (0.0, 0.0))
            # of points whose load is not told, what counts is all that is known
            connected = group.connected or group.demand
            found[group.use] = (before + connected * volts, after + group.demand * volts)
    return tuple(
        Flow(
            use.replace(" ", "_"),
            _title(uses[use], short=True),
            before,
            after,
            say("{percent} %", percent=round(100 * after / before) if before else 0),
        )
        for use, (before, after) in found.items()
    )


def _ways(outcome: MainsOutcome) -> tuple[MethodAlternative, ...]:
    """One phase and three beside each other."""
    advice = outcome.advice
    now = len(outcome.lines) > 1
    return (
        MethodAlternative(
            "single_phase",
            say("All on one phase"),
            advice.together,
            "A",
            not now,
            not advice.three,
            say("at most {most} A", most=advice.most),
        ),
        *(
            (
                MethodAlternative(
                    "three_phase",
                    say("Spread over three phases"),
                    outcome.heaviest,
                    "A",
                    True,
                    True,
                    say("the heaviest line"),
                ),
            )
            if now
            else ()
        ),
    )


def _advise(outcome: MainsOutcome, context: Context, findings: Findings) -> None:
    """One phase or three, from the result."""
    advice, three = outcome.advice, len(outcome.lines) > 1
    rule = advice.rule.rule if advice.rule is not None else None
    if not three and not fits(advice.together, advice.most):
        findings.check(
            "three_phase",
            say(
                "{amperes} A is more than the {most} A that one phase gives.",
                amperes=advice.together,
                most=advice.most,
            ),
            f"{figure(advice.together - advice.most)} A",
            mend=say("Ask for three phases and spread the loads over them."),
            rules=rule,
            entries="largest_phase_load",
        )
    elif three and advice.only_three:
        names = ", ".join(dict.fromkeys(advice.only_three[:4]))
        findings.passes("three_phase", say("Three phases are needed: {names}.", names=names))
    elif three and not advice.three:
        findings.remark(
            "three_phase",
            say(
                "Nothing needs three phases, and one would carry it: {amperes} A of {most} A.",
                amperes=advice.together,
                most=advice.most,
            ),
            rules=rule,
            entries="largest_phase_load",
        )
    elif three:
        findings.passes(
            "three_phase",
            say(
                "On one phase it would be {amperes} A: more than the {most} A that it gives.",
                amperes=advice.together,
                most=advice.most,
            ),
            rules=rule,
        )
    del context


def _earth(outcome: MainsOutcome, edition: Edition) -> Section:
    worksheet = Worksheet()
    line = outcome.sizing.pair.size
    words = say("Main earthing conductor, copper")
    worksheet.step(
        "earthing_conductor",
        words,
        float(outcome.earthing),
        "mm²",
        earth.protective_shown(line, edition),
        rules=earth.protective_rule(line, edition),
        entries="earthing",
    )
    rules = earth.bonding_rules(outcome.combined, line, edition)
    words = say("Main bonding, copper")
    worksheet.step(
        "main_bonding", words, float(outcome.bonding), "mm²", rules=rules, entries="earthing"
    )
    return worksheet.section("earth", say("Earthing and bonding"))
