"""A sizing on the worksheet: its sections, findings, results and marks."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from typing import Any

from voltaje.core.capabilities import OnLine, can
from voltaje.core.codes import NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.report import (
    AxisMark,
    Change,
    Findings,
    PulledConductor,
    Result,
    Rule,
    Section,
    Worksheet,
    conductor_figures,
    figure,
    fits,
    say,
)
from voltaje.core.rules.common.habit import tell_habit
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import SizingReport
from voltaje.core.rules.north_america import alternatives
from voltaje.core.rules.north_america.alternatives import Alternatives, Candidate
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.overcurrent import next_standard_device
from voltaje.core.rules.north_america.raceway import Fill
from voltaje.core.rules.north_america.wired.report_drop import report_drop
from voltaje.core.rules.north_america.wired.sizing import Sizing, rest_of
from voltaje.core.rules.north_america.wiring import (
    COLUMNS,
    Installation,
    adjustment_factor,
    ambient_factor,
    cable,
    circular_mils,
)


def report_sizing(sizing: Sizing, entries: Any, context: Context) -> SizingReport:
    """Words for what :func:`voltaje.core.rules.north_america.wired.sizing.size` has found."""
    rest, pair = rest_of(sizing.feed, entries, context), sizing.pair
    found = alternatives.alternatives(sizing.choice_need(entries, context), *rest)
    plain = alternatives.alternatives(sizing.need, *rest)
    installation: Installation = rest[0]
    findings = Findings()
    if not sizing.choice.holds:
        _pinned(sizing, findings)
    elif not context.shop.is_plain and not entries.pin():
        _by_habit(sizing, rest, context, findings)
    results = {
        "device": Result(pair.device, "A", say("Device")),
        "conductor": Result(pair.conductor, "", say("Conductors")),
        **_figures("conductor", pair.option.size, pair, pair.ampacity),
    }
    conductors = _conductors(sizing, installation.of_sets(pair.sets), context)
    _terminals_change(found, sizing, installation, context, conductors)
    beside = Worksheet()
    if sizing.feed.has_neutral:
        _neutral(sizing, beside, results)
    _ground(sizing, beside, results)
    if sizing.fill is not None:
        _raceway(sizing, sizing.fill, entries, beside, results)
    elif sizing.unfilled:
        mend = say("Take sets in parallel or another raceway.")
        words = say("{words}", words=sizing.unfilled)
        findings.fail("raceway", words, mend=mend, entries="wiring_method")
    headline = f"{figure(pair.device)} A · {pair.conductor}"
    section: Section | None = None
    if sizing.lost is not None:
        section = report_drop(sizing, found, plain, entries, context, beside, findings)
        results["drop_percent"] = Result(sizing.lost.percent, "%", say("Voltage drop"))
        headline += f" · {figure(sizing.lost.percent, 1)} %"
    sections = (
        _device(sizing.need, pair, context).section("device", say("Device")),
        conductors.section("conductor", say("Conductors")),
        *((section,) if section else ()),
        beside.section("beside", say("With them")),
    )
    marks, wires = _marks(sizing.need, pair), _wires(sizing, entries, context)
    return SizingReport(found.all, sections, findings, results, marks, headline, wires)


def _figures(
    name: str, size: Size, pair: Candidate, ampacity: float | None = None
) -> dict[str, Result]:
    return conductor_figures(name, size, pair.sets, pair.option.material, ampacity)


def _by_habit(sizing: Sizing, rest: tuple[Any, ...], context: Context, findings: Findings) -> None:
    """What the job's stock and reserve have done to the choice."""
    *before, _, pin = rest
    with suppress(NotCoveredError):
        usual = alternatives.chosen_pair(sizing.need, *before, context.shop.plain, pin).pair
        tell_habit(
            context.shop,
            (usual.device, usual.conductor),
            (sizing.plain.pair.device, sizing.plain.pair.conductor),
            findings,
        )


def _pinned(sizing: Sizing, findings: Findings) -> None:
    """What was fixed by hand and does not hold."""
    bad, free = sizing.pair, sizing.choice.free
    words = say(
        "{device} A with {conductor} does not hold. {why}.",
        device=bad.device,
        conductor=bad.conductor,
        why=str(bad.verdict.why),
    )
    mend = say("No pair passes: shorten, split the load, or change the wiring method.")
    change = None
    if free:
        words_of = say("Use {device} A, {conductor}", device=free.device, conductor=free.conductor)
        change = Change(words_of, (("device", ""), ("size", "auto"), ("sets", "")))
        mend = say(
            "{device} A with {conductor} would hold.", device=free.device, conductor=free.conductor
        )
    entries = ("device", "size", "sets")
    rule = bad.verdict.rule
    findings.fail("pin", words, mend=mend, rules=rule, entries=entries, offer=change)


def _wires(sizing: Sizing, entries: Any, context: Context) -> tuple[PulledConductor, ...]:
    point = context.supply
    found = []
    line = entries.line if can(entries, OnLine) else "auto"
    for name in sizing.feed.wires(context.supply.system, line):
        size = sizing.neutral_size if name == "N" else sizing.pair.option.size
        color = point.color(name) or ("white" if name == "N" else "")
        found.append(PulledConductor(name, color, label(Size(size))))
    return (*found, PulledConductor("G", "green", label(sizing.ground.size)))


def _device(need: SizingRequest, pair: Candidate, context: Context) -> Worksheet:
    edition, worksheet = context.edition, Worksheet("device")
    rule, standard = edition.rule("standard_devices"), False
    with suppress(NotCoveredError):
        next_ = next_standard_device(pair.device, edition)
        standard = True
        if next_.value == pair.device:  # a rating beside the list has no cell of its own
            rule = next_.rule
    most = max(need.devices, default=pair.device)
    if need.elsewhere:
        shown = str(say("at most {amperes} A", amperes=min(most, need.ceiling)))
    else:
        sign = "≤" if fits(need.design, pair.device) else ">"
        shown = f"{figure(need.design)} {sign} {figure(pair.device)} A"
    rules = (rule, edition.rule(need.device_topic))
    shown = shown if standard else ""
    worksheet.result("device", say("Device"), pair.device, "A", shown, rules, entries="device")
    return worksheet


def _conductors(sizing: Sizing, installation: Installation, context: Context) -> Worksheet:
    """Ampacity step by step: its own column, ambient, neighbours, terminals."""
    need, pair, edition, worksheet = (
        sizing.need,
        sizing.pair,
        context.edition,
        Worksheet("conductor"),
    )
    option, sets = pair.option, pair.sets
    column = installation.own_column(edition)
    base = option.base * sets
    words = say(
        "{conductor}: the {column} °C column of its insulation",
        conductor=pair.conductor,
        column=column,
    )
    shown = f"{sets} × {figure(option.base)} A" if sets > 1 else ""
    from_ = ("material", "insulation", "wiring_method")
    worksheet.step("ampacity_own", words, base, "A", shown, option.base_cell.rule, entries=from_)
    if option.ambient != 1:
        _, rule = ambient_factor(column, installation.ambient_c, edition)
        words = say("At {degrees} °C ambient", degrees=installation.ambient_c)
        shown = f"{figure(base)} × {figure(option.ambient)}"
        after = option.base * option.ambient * sets
        worksheet.step("ambient", words, after, "A", shown, rule, entries="ambient")
    if option.adjustment != 1:
        _, rule = adjustment_factor(installation.counted, edition)
        words = say("{count} current-carrying conductors together", count=installation.counted)
        before = option.base * option.ambient * sets
        shown = f"{figure(before)} × {figure(option.adjustment)}"
        after = option.corrected * sets
        worksheet.step("adjustment", words, after, "A", shown, rule, entries="others")
    at = pair.column
    reads = option.terminal(at) * sets
    rules = (
        edition.rule("terminations"),
        option.at_terminals(at).rule,
        *_cable_rules(installation, context),
    )
    sign = "≤" if need.conductor <= reads * (1 + 1e-9) else ">"
    there = f"{sets} × {figure(reads / sets)}" if sets > 1 else figure(reads)
    worksheet.step(
        "ampacity_terminals",
        say("At its terminals, {column} °C", column=at),
        reads,
        "A",
        f"{figure(need.conductor)} {sign} {there}",
        rules,
        entries="terminals",
        flow="terminals",
    )
    if option.small_cell and not need.elsewhere:
        rule, words = option.small_cell.rule, say("Most it may be protected at")
        worksheet.note("small_conductor", words, option.small, "A", "", rule, flow="small")
    worksheet.result(
        "ampacity",
        say("Ampacity"),
        pair.ampacity,
        "A",
        "",
        pair.verdict.rule,
        note=pair.verdict.why,
        entries=("size", "sets"),
    )
    return worksheet


def _terminals_change(
    found: Alternatives,
    sizing: Sizing,
    installation: Installation,
    context: Context,
    worksheet: Worksheet,
) -> None:
    """Where the terminals change column a larger device may take a smaller wire."""
    pair, edition = sizing.pair, context.edition
    if installation.listed_75 or pair.column != COLUMNS[0]:
        return
    mils = circular_mils(edition)
    own = pair.option.mils * pair.sets * (1 - 1e-9)
    larger = (r for r in found.all if r.passes and r.device > pair.device)
    alike = (r for r in larger if r.material == pair.option.material)
    other = next((r for r in alike if mils[r.size] * r.sets < own), None)
    if other is None:
        return
    worksheet.note(
        "terminals_change",
        say("{device} A would take {conductor}", device=other.device, conductor=other.conductor),
        rules=edition.rule("terminations"),
        note=say(
            "a smaller wire behind a larger device: above {amperes} A the terminals"
            " are read at {column} °C",
            column=COLUMNS[1],
            amperes=edition.value("terminations"),
        ),
        flow="terminals",
    )


def _cable_rules(installation: Installation, context: Context) -> tuple[Rule, ...]:
    made = cable(installation.method, context.edition)
    if made is None or made.topic == "ampacity":
        return ()
    return (context.edition.rule(made.topic),)


def _neutral(sizing: Sizing, worksheet: Worksheet, results: dict[str, Result]) -> None:
    pair, feed = sizing.pair, sizing.feed
    text = label(Size(sizing.neutral_size), pair.option.material, pair.sets)
    results["neutral_conductor"] = Result(text, "", say("Neutral"))
    results |= _figures("neutral_conductor", Size(sizing.neutral_size), pair)
    worksheet.step(
        "neutral_conductor",
        say("Neutral: {size}", size=text),
        rules=feed.neutral_rules,
        note=None if feed.neutral_size else say("same size as the lines"),
        flow="neutral",
    )


def _ground(sizing: Sizing, worksheet: Worksheet, results: dict[str, Result]) -> None:
    ground, pair = sizing.ground, sizing.pair
    text = label(ground.size, pair.option.material, pair.sets)
    results["ground_conductor"] = Result(text, "", say("Equipment ground"))
    results |= _figures("ground_conductor", ground.size, pair)
    note = None
    if ground.grew:
        note = say("{table} by the table, grown with the lines", table=label(ground.table_size))
    elif pair.sets > 1:
        note = say("full size in each raceway")
    device = sizing.feed.ground_device or pair.device
    worksheet.step(
        "ground_conductor",
        say("Equipment ground: {size}", size=text),
        shown=f"{figure(device)} A → {label(ground.table_size)}",
        rules=ground.rules,
        note=note,
        flow="ground",
    )


def _raceway(
    sizing: Sizing, fill: Fill, entries: Any, worksheet: Worksheet, results: dict[str, Result]
) -> None:
    sets, note = sizing.pair.sets, None
    if sets > 1 and entries.raceways != "one":
        note = say("{size} for each set", size=fill.trade_size)
    elif sets > 1:
        note = say("for all {sets} sets, with one equipment ground", sets=sets)
    elif entries.others:
        note = say("other conductors taken as of the same size")
    text = str(say("{size} in {method}", size=fill.trade_size, method=say(entries.method_label)))
    results["raceway"] = Result(text, "", say("Raceway"))
    shown = say(
        "{area} ÷ {inside} in², at most {most} %",
        area=fill.shown,
        inside=figure(fill.inside, 3),
        most=fill.allowed,
    )
    worksheet.step(
        "raceway",
        say("Raceway: {text}", text=text),
        fill.percent,
        "%",
        shown,
        fill.rules,
        note=note,
        entries="wiring_method",
        flow="raceway",
    )


def _marks(need: SizingRequest, pair: Candidate) -> tuple[AxisMark, ...]:
    option, sets = pair.option, pair.sets
    final = pair.ampacity
    terminal = option.terminal(pair.column) * sets
    found = [
        AxisMark("load", say("Load"), need.load, "load"),
        AxisMark("device", say("Device"), pair.device, "device"),
        AxisMark("own", say("In its own column"), option.base * sets, "conductor"),
    ]
    asked = need.conductor if need.elsewhere else need.design
    if abs(asked - need.load) > 1e-9 * need.load:
        found.insert(1, AxisMark("design", say("With 125 %"), asked, "load"))
    if option.ambient != 1:
        after = option.base * option.ambient * sets
        found.append(AxisMark("ambient", say("After ambient"), after, "conductor"))
    if option.adjustment != 1:
        found.append(
            AxisMark("adjusted", say("After adjustment"), option.corrected * sets, "conductor")
        )
    governs = abs(terminal - final) < 1e-9 * final
    found.append(AxisMark("terminals", say("At the terminals"), terminal, "conductor", governs))
    if option.small and not need.elsewhere:
        governs = option.small <= final
        found.append(
            AxisMark("small", say("Small-conductor limit"), option.small, "limit", governs)
        )
    if final < terminal:
        found = [
            replace(
                mark,
                governs=mark.name in ("adjusted", "ambient")
                and abs(mark.amperes - final) < 1e-9 * final,
            )
            for mark in found
        ]
    return tuple(found)


def spare(amperes: float, findings: Findings) -> None:
    """What is to spare on the device, where nothing fails."""
    if not findings.failed:
        shown = figure(amperes, 1)
        findings.passes(
            "device", say("{spare} A to spare on the device.", spare=shown), f"{shown} A"
        )


def interrupting(fault: float, rating: float | None, context: Context, findings: Findings) -> None:
    """Whether devices of that interrupting rating, A, are up to the fault current (110.9)."""
    if not fault:
        return
    rule, shown = context.edition.cites("interrupting"), figure(fault, 0)
    if rating is None:
        findings.check(
            "interrupting",
            say("{fault} A can flow here at a fault.", fault=shown),
            mend=say("Enter the interrupting rating of its devices."),
            rules=rule,
            entries="interrupting",
        )
        return
    findings.judged(
        fits(fault, rating),
        "interrupting",
        say(
            "{fault} A at a fault, {rating} A can be interrupted.",
            fault=shown,
            rating=figure(rating, 0),
        ),
        f"{figure(abs(rating - fault), 0)} A",
        mend=say("Devices of a higher interrupting rating."),
        rules=rule,
        entries="interrupting",
    )
