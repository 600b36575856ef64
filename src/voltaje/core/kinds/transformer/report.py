"""A transformer on the worksheet."""

from __future__ import annotations

from math import sqrt

from voltaje.core.codes import Edition
from voltaje.core.kinds.feeder.carried import HEAVIER
from voltaje.core.kinds.transformer.calculate import TransformerOutcome
from voltaje.core.kinds.transformer.entries import TransformerEntries
from voltaje.core.quantities import METRES_PER_FOOT, POUNDS_PER_KG, feet
from voltaje.core.report import Findings, Report, Result, Text, Worksheet, figure, fits, say
from voltaje.core.rules.common.bases import both_bases
from voltaje.core.rules.common.loading import judge_loading, percent_of, within_rating
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.transformers import Limit, standard_kva
from voltaje.core.rules.north_america.wired import (
    SizingReport,
    report_sizing,
    side_alternatives,
    side_findings,
    side_results,
    side_sections,
)

ANSWER = (
    "kva",
    "tap_current",
    "primary_device",
    "primary_conductor",
    "secondary_device",
    "secondary_conductor",
    "loading",
)


def report(outcome: TransformerOutcome, entries: TransformerEntries, context: Context) -> Report:
    """The transformer's worksheet."""
    edition, findings = context.edition, Findings()
    one = outcome.primary
    first = report_sizing(one.sizing, one.entries, one.context(context)) if one else None
    two = outcome.secondary
    second = report_sizing(two.sizing, two.entries, two.context(context))
    worksheet = _transformer(outcome, entries, context, findings)
    if outcome.below_rated:
        _below_rated(outcome, entries, findings)
    _run_rules(outcome, entries, edition, findings)
    _inrush(outcome, entries, findings)
    findings += side_findings(first) if first else ()
    findings += side_findings(second)
    if not findings.failed:
        left = outcome.kva * 1000 - outcome.heaviest
        spare = f"{figure(max(left, 0.0), 0)} VA"
        judge_loading(findings, outcome.loading, amount=spare, entries="kva")
    guard = _schemes if entries.primary_voltage is None else _high
    saved = _saved(first, context) if first else Worksheet()
    bonds = _grounding(outcome, edition)
    sections = (
        worksheet.section("load", say("The transformer")),
        guard(outcome, entries, edition).section(
            "protection", say("Most its devices may be rated")
        ),
        *(side_sections(first, "primary", "Primary") if first else ()),
        *((saved.section("saved", say("What the smaller device saves")),) if saved else ()),
        *side_sections(second, "secondary", "Secondary"),
        bonds.section("grounding", say("Grounding and bonding of the secondary")),
    )
    results = _results(outcome, entries, first, second)
    if outcome.run.protected:  # no device is asked there: the primary's protects the conductors
        results.pop("secondary_device", None)
    on_tap = context.shop.basis == "actual" and turns_of(entries) != 1
    return Report(
        "transformer",
        edition.id,
        sections,
        results,
        tuple(findings),
        methods=both_bases(
            say("Primary full-load current"),
            outcome.one.current,
            outcome.one.current / turns_of(entries),
            "A",
            context.shop.basis,
        ),
        answer=tuple(n for n in ANSWER if n in results and (n != "tap_current" or on_tap)),
        headline=f"{figure(outcome.kva)} kVA · {percent_of(outcome.loading)} %",
        alternatives=(
            *(side_alternatives(first, "Primary") if first else ()),
            *side_alternatives(second, "Secondary"),
        ),
        marks=(first or second).marks,
        wires=second.wires,
    )


def _results(
    outcome: TransformerOutcome,
    entries: TransformerEntries,
    first: SizingReport | None,
    second: SizingReport,
) -> dict[str, Result]:
    one, two = outcome.one, outcome.two
    device = {"primary_device": Result(outcome.primary_device, "A", say("Primary: device"))}
    metal = outcome.secondary.sizing.pair.option.material
    results = {
        "connection": Result(entries.connection, "", say("Connection")),
        "tap": Result(entries.tap, "%", say("Tap")),
        "kva": Result(outcome.kva, "kVA", say("Transformer")),
        "calculated_load": Result(outcome.load, "VA", say("Calculated load")),
        "loading": Result(outcome.loading, "%", say("Loading")),
        "primary_current": Result(one.current, "A", say("Primary")),
        "tap_current": Result(one.current / turns_of(entries), "A", say("Primary, on its tap")),
        "secondary_current": Result(two.current, "A", say("Secondary")),
        "secondary_volts": Result(outcome.volts, "V", say("Secondary volts")),
        "primary_volts": Result(one.volts, "V", say("Primary volts")),
        "maximum_primary_device": _most(outcome, "primary", say("Primary device, at most")),
        **(side_results(first, "primary", "Primary") if first else device),
        **side_results(second, "secondary", "Secondary"),
    }
    if two.system.has_neutral:
        text = label(outcome.jumper.size, metal)
        results["system_bonding_jumper"] = Result(text, "", say("System bonding jumper"))
    text, words = label(outcome.steel.size, metal), say("Grounding electrode conductor")
    results["electrode_conductor"] = Result(text, "", words)
    if two.system.has_neutral:
        share = two.system.to_neutral / (two.system.line_to_line or two.system.to_neutral)
        words = say("Secondary volts to X0")
        results["secondary_to_neutral"] = Result(outcome.volts * share, "V", words)
    if outcome.limits.get("secondary"):
        words = say("Secondary device, at most")
        results["maximum_secondary_device"] = _most(outcome, "secondary", words)
    if entries.impedance is not None:
        words = say("Available fault current at the secondary")
        results["fault"] = Result(outcome.fault, "A", words)
    return results


def turns_of(entries: TransformerEntries) -> float:
    """Turns of the primary in use on its tap, of those of its nominal volts."""
    return 1 + float(entries.tap) / 100


def _most(outcome: TransformerOutcome, side: str, words: Text) -> Result:
    return Result(outcome.limits[side].standard, "A", words)


def _transformer(
    outcome: TransformerOutcome, entries: TransformerEntries, context: Context, findings: Findings
) -> Worksheet:
    """Its size, the currents of both sides, the secondary's volts, its fault current."""
    kva, one, two, worksheet = outcome.kva, outcome.one, outcome.two, Worksheet()
    _size(outcome, entries, context.edition, worksheet, findings)
    va = figure(kva * 1000)
    words, shown = say("Primary full-load current"), f"{va} ÷ {one.divisor}"
    worksheet.sum("primary_current", words, one.current, "A", shown, flow="primary")
    words, shown = say("Secondary full-load current"), f"{va} ÷ {two.divisor}"
    worksheet.sum("secondary_current", words, two.current, "A", shown, flow="secondary")
    if context.edition.has_limit("transformer_conductors"):
        more = context.edition.limit("transformer_conductors")
        for side, winding in (("primary", one), ("secondary", two)):
            words = say("Conductors of the {side}, {percent} %", side=say(side), percent=more.value)
            shown = f"{figure(winding.current)} × {figure(more.value / 100, 4)}"
            carried = winding.current * more.value / 100
            worksheet.step(f"{side}_carries", words, carried, "A", shown, more.rule, flow=side)
    turns = figure(turns_of(entries), 3)
    if float(entries.tap):
        worksheet.note(
            "tap_current",
            say("Primary full-load current on tap {tap} %", tap=entries.tap),
            one.current / turns_of(entries),
            "A",
            f"{figure(one.current)} ÷ {turns}",
            entries="tap",
            note=say("rated kVA at the volts of the tap; devices go by the nameplate’s current"),
            flow="primary",
        )
    worksheet.note(
        "secondary_volts",
        say("Secondary volts on tap {tap} %", tap=entries.tap),
        outcome.volts,
        "V",
        f"{figure(two.volts)} × {figure(context.supply.share, 3)} ÷ {turns}",
        entries="tap",
        note=say("a tap for fewer primary volts raises the secondary"),
        flow="tap",
    )
    if entries.connection == "open delta":
        note = say(
            "two units carry 57.7 % of what three would, and each is loaded with the line current"
        )
        words, shown = say("Each of the two units"), f"{figure(kva)} ÷ 1.732"
        each = kva / sqrt(3)
        worksheet.note("open_delta", words, each, "kVA", shown, note=note, flow="load")
    if entries.impedance is not None:
        shown = str(say("by its impedance and the source’s"))
        if not context.supply.fault:
            shown = f"{figure(two.current)} ÷ {figure(entries.impedance / 100, 4)}"
        worksheet.note(
            "fault",
            say("Available fault current at the secondary"),
            outcome.fault,
            "A",
            shown,
            context.edition.rule("fault_current"),
            entries="impedance",
            flow="secondary",
        )
    return worksheet


def _size(
    outcome: TransformerOutcome,
    entries: TransformerEntries,
    edition: Edition,
    worksheet: Worksheet,
    findings: Findings,
) -> None:
    load, needed, kva = outcome.load, outcome.needed, outcome.kva
    worksheet.sum("calculated_load", say("Calculated load below"), load, "VA", flow="load")
    heaviest = outcome.heaviest
    if not fits(heaviest, load * HEAVIER):
        words = say("By the heaviest winding, the lines not being alike")
        note = say("a transformer is rated for its heaviest winding")
        worksheet.sum("heaviest_va", words, heaviest, "VA", note=note, flow="load")
    if entries.spare:
        shown = f"{figure(heaviest)} × {figure(1 + entries.spare / 100)}"
        words = say("With spare")
        worksheet.step("with_spare", words, needed, "kVA", shown, entries="spare", flow="load")
    if entries.kva is None:
        worksheet.result(
            "kva",
            say("Next usual size"),
            kva,
            "kVA",
            f"{figure(needed)} → {figure(kva)}",
            edition.rule("transformer_sizes"),
            entries="kva",
            flow="load",
        )
        return
    worksheet.result("kva", say("Size, by hand"), kva, "kVA", entries="kva")
    if not within_rating(outcome.loading):
        larger = standard_kva(needed, outcome.two.three_phase, edition)
        findings.fail(
            "overloaded",
            say("{load} kVA of load on {kva} kVA.", load=figure(heaviest / 1000, 1), kva=kva),
            f"{figure((heaviest - entries.kva) / 1000, 1)} kVA",
            mend=say("A size of {next} kVA would carry it.", next=larger),
            entries="kva",
        )


def _schemes(
    outcome: TransformerOutcome, entries: TransformerEntries, edition: Edition
) -> Worksheet:
    """The table's figures for both schemes side by side."""
    worksheet = Worksheet()
    for scheme, side, limit in outcome.schemes:
        words = say("Primary only") if scheme == "primary only" else say("Both sides")
        name = f"{scheme}_{side}"
        if limit is None:
            rule = edition.rule("transformer_protection")
            none = say("{scheme}: {side}, none asked", scheme=words, side=say(side))
            worksheet.note(name, none, rules=rule)
            continue
        how = say("the largest standard size not above")
        if limit.next_size:
            how = say("the next standard size up is allowed at 125 %")
        winding = outcome.one if side == "primary" else outcome.two
        worksheet.step(
            name,
            say(
                "{scheme}: {side}, {percent} %", scheme=words, side=say(side), percent=limit.percent
            ),
            limit.standard,
            "A",
            _limit(winding.current, limit),
            limit.rules,
            note=how,
            entries="protection",
            kind="sum" if scheme == entries.protection else "note",
            flow=side,
        )
    return worksheet


def _limit(current: float, limit: Limit) -> str:
    share = figure(limit.percent / 100, 4)
    exact, standard = figure(limit.exact), figure(limit.standard)
    return f"{figure(current)} × {share} = {exact} → {standard} A"


def _high(outcome: TransformerOutcome, entries: TransformerEntries, edition: Edition) -> Worksheet:
    """450.3(A), for a primary above 1,000 V."""
    worksheet, limit = Worksheet(), outcome.limits["primary"]
    worksheet.sum(
        "high_primary",
        say(
            "Primary {device}, {percent} %",
            device=say(entries.primary_device_type),
            percent=limit.percent,
        ),
        limit.standard,
        "A",
        _limit(outcome.one.current, limit),
        limit.rules,
        entries=("primary_voltage", "supervised"),
        note=say("conductors above 1,000 V are not sized here"),
        flow="primary",
    )
    second = outcome.limits.get("secondary")
    if second is not None:
        words = say("Secondary, {percent} %", percent=second.percent)
        shown = _limit(outcome.two.current, second)
        rules = second.rules
        worksheet.sum("high_secondary", words, second.standard, "A", shown, rules, flow="secondary")
    return worksheet


def _below_rated(
    outcome: TransformerOutcome, entries: TransformerEntries, findings: Findings
) -> None:
    two, device = outcome.two, entries.secondary_device or 0.0
    va = device * two.volts * (sqrt(3) if two.three_phase else 1.0)
    findings.check(
        "secondary_below",
        say(
            "{device} A is below the full-load current of {current} A, and no load is known below:"
            " it leaves {kva} kVA.",
            device=device,
            current=figure(two.current, 1),
            kva=figure(va / 1000, 1),
        ),
        f"{figure(two.current - device, 1)} A",
        mend=say("Put the load below it, or take the next size up."),
        entries="secondary_device",
    )


def _run_rules(
    outcome: TransformerOutcome, entries: TransformerEntries, edition: Edition, findings: Findings
) -> None:
    run, length = outcome.run, None
    if entries.secondary_length is not None:
        length = feet(entries.secondary_length)
    rule = edition.rule(run.topic)
    if length is not None and run.feet is not None and not fits(length, run.feet):
        findings.fail(
            "secondary_length",
            say(
                "The secondary conductors are {length} ft long, at most {feet} ft by this rule.",
                length=figure(length, 1),
                feet=run.feet,
            ),
            f"{figure(length - run.feet, 1)} ft",
            mend=say("Shorten them, or choose another rule."),
            rules=rule,
            entries="secondary_length",
        )
    ampacity = outcome.secondary.sizing.pair.ampacity
    if not fits(run.needed, ampacity):
        findings.fail(
            "secondary_ratio",
            say(
                "The secondary conductors carry {ampacity} A; against the primary device"
                " they need {needed} A.",
                ampacity=figure(ampacity, 1),
                needed=figure(run.needed, 1),
            ),
            f"{figure(run.needed - ampacity, 1)} A",
            mend=say("A smaller primary device, or larger secondary conductors."),
            rules=rule,
            entries="secondary_size",
        )
    if run.protected:
        findings.passes(
            "secondary_protection",
            say(
                "No device is asked at the secondary: the primary’s protects conductors that carry"
                " {needed} A, its own rating by the ratio of the volts.",
                needed=figure(run.needed, 1),
            ),
            rules=edition.rule("secondary_by_primary"),
            entries=("protection", "connection"),
        )
    if not run.by_primary:
        findings.passes(
            "secondary_protection",
            say(
                "The primary device does not protect these secondary conductors: they end"
                " in one of their own, and its rating is carried in full."
            ),
            rules=(edition.rule("secondary_by_primary"), edition.rule("secondary_no_next")),
        )


def _inrush(outcome: TransformerOutcome, entries: TransformerEntries, findings: Findings) -> None:
    inrush, let = outcome.inrush, outcome.lets_pass
    if fits(inrush, let):
        return
    findings.check(
        "inrush",
        say(
            "Inrush of {inrush} A, {times} times rated; the device lets {let} A pass"
            " for that instant.",
            inrush=figure(inrush, 0),
            times=entries.inrush,
            let=figure(let, 0),
        ),
        f"{figure(inrush - let, 0)} A",
        mend=say("Take a larger device or one with a higher instantaneous setting."),
        entries=("inrush", "inrush_time", "device_withstand"),
    )


def _grounding(outcome: TransformerOutcome, edition: Edition) -> Worksheet:
    """The bonds of a separately derived system, copper (250.30)."""
    pair, worksheet = outcome.secondary.sizing.pair, Worksheet("bond")
    metal, mils = pair.option.material, pair.option.mils * pair.sets
    jumper, steel, rod = outcome.jumper, outcome.steel, outcome.rod
    derived = edition.rule("derived_system")
    text = label(jumper.size, metal)
    if outcome.two.system.has_neutral:
        worksheet.step(
            "system_bonding_jumper",
            say("System bonding jumper: {size}", size=text),
            shown=jumper.shown or say("{mils} circular mils", mils=mils),
            rules=(derived, *jumper.rules),
            note=say("at one point: here or at the first disconnect"),
        )
    words = say("Supply-side bonding jumper: {size}", size=text)
    rules = (edition.rule("supply_side_jumper"), *jumper.rules)
    worksheet.step("supply_side_jumper", words, shown=jumper.shown or "", rules=rules)
    words = say(
        "Grounding electrode conductor to steel or water pipe: {size}",
        size=label(steel.size, metal),
    )
    rules = (derived, *steel.rules)
    worksheet.step("electrode_conductor", words, rules=rules, flow="electrode")
    words = say("To a rod: {size} is enough", size=label(rod.size, metal))
    worksheet.note("electrode_rod", words, shown=rod.shown or "", rules=rod.rules, flow="electrode")
    return worksheet


def _saved(told: SizingReport, context: Context) -> Worksheet:
    """The metal that the chosen pair saves against the largest device that is allowed."""
    worksheet, own = Worksheet(), next((r for r in told.alternatives if r.chosen), None)
    if own is None:
        return worksheet
    larger = [r for r in told.alternatives if r.passes and r.device > own.device]
    rivals = [r for r in larger if r.material == own.material]
    if not rivals:
        return worksheet
    most = max(rivals, key=lambda r: (r.device, -r.mass))
    unit, factor, length = "lb", POUNDS_PER_KG * METRES_PER_FOOT, "100 ft"
    if context.units == "metric":
        unit, factor, length = "kg", 1.0, "100 m"
    words = say(
        "Metal saved on {length} against {device} A with {conductor}",
        length=length,
        device=most.device,
        conductor=most.conductor,
    )
    saved = (most.mass - own.mass) * 100 * factor
    worksheet.note("metal_saved", words, saved, unit, flow="primary")
    return worksheet
