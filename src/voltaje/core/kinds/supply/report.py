"""A supply on the worksheet: what stands on it, against its rating; its conductors' colors."""

from __future__ import annotations

from voltaje.core.electrical.systems import SYSTEMS, System
from voltaje.core.kinds.supply.calculate import SupplyOutcome
from voltaje.core.kinds.supply.entries import SupplyEntries, point
from voltaje.core.report import Findings, Report, Result, Worksheet, figure, fits, say, told
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.overcurrent import rounding_note, whole_amperes

# no code figure: a heavier line is named from here on; below it the figures print alike
HEAVIER = 1.001


def report(outcome: SupplyOutcome, entries: SupplyEntries, context: Context) -> Report:
    """The supply's worksheet."""
    system, edition = SYSTEMS[entries.system], context.edition
    pieces = context.below.pieces
    load, whole = outcome.load, whole_amperes(outcome.drawn)
    worksheet = Worksheet()
    worksheet.step("connected_load", say("Connected below"), outcome.connected, "VA")
    if outcome.calculated and len(pieces) > 1:
        worksheet += context.code.report_demand(outcome.calculated, pieces, edition)
    else:
        worksheet.sum("calculated_load", say("Calculated load below"), load, "VA")
    worksheet.result(
        "amperes",
        say("Amperes at {volts} V", volts=system.line_to_line or system.to_neutral),
        outcome.drawn,
        "A",
        _divided(outcome),
        edition.cites("rounding"),
        rounding=rounding_note(outcome.drawn),
    )
    marks, colors = point(entries, context.supply), Worksheet()
    for name in (*system.lines, *(("N",) if system.has_neutral else ())):
        words = say("{line}: {color}", line=name, color=told(marks.color(name)))
        rule = edition.cites("marking")
        colors.note(f"color_{name.lower()}", words, rules=rule, entries="marking")
    results = {
        "connected_load": Result(outcome.connected, "VA", say("Connected load")),
        "calculated_load": Result(load, "VA", say("Calculated load")),
        "amperes": Result(whole, "A", say("Amperes")),
        "amperes_exact": Result(outcome.drawn, "A", say("Amperes, not rounded")),
    }
    if outcome.loop:
        results["loop_impedance"] = Result(outcome.loop, "Ω", say("External loop Ze"))
    return Report(
        "supply",
        edition.id,
        (
            worksheet.section("supply", say("What stands on it")),
            colors.section("marking", say("Identification")),
        ),
        results,
        tuple(_findings(whole, system, outcome, entries, context)),
        answer=("amperes", "calculated_load"),
        headline=f"{figure(load / 1000, 1)} kVA · {whole} A",
    )


def _divided(outcome: SupplyOutcome) -> str:
    """The load over the volts, or whose heavier line it is."""
    if not fits(outcome.drawn, outcome.balanced * HEAVIER):
        return str(say("a dwelling’s heavier line; balanced {amperes} A", amperes=outcome.balanced))
    if not outcome.balanced:
        return ""
    return f"{figure(outcome.load)} ÷ {figure(outcome.load / outcome.balanced)}"


def _findings(
    amperes: int, system: System, outcome: SupplyOutcome, entries: SupplyEntries, context: Context
) -> Findings:
    findings = Findings()
    if outcome.declared is not None:
        findings.check(
            "declared",
            say(
                "The external loop is taken as usually declared, {ohms} Ω.",
                ohms=outcome.declared.value,
            ),
            mend=say("Measure it at the origin, or ask the supplier."),
            rules=outcome.declared.rule,
            entries=("external_loop", "earthing"),
        )
    if entries.earthing == "IT":
        findings.check(
            "earthing_it",
            say("Circuits of a supply that is earthed nowhere are not covered here."),
            entries="earthing",
        )
    if entries.rating is not None:
        holds, spare = fits(amperes, entries.rating), abs(entries.rating - amperes)
        words = say("{spare} A over the supply's {rating} A.", spare=spare, rating=entries.rating)
        if holds:
            words = say("{spare} A to spare on {rating} A.", spare=spare, rating=entries.rating)
        mend = say("Ask for a larger supply or shed load.")
        shown = f"{figure(spare)} A"
        findings.judged(holds, "rating", words, shown, mend=mend, entries="rating")
    nominal = system.line_to_line or system.to_neutral
    edition, off = context.edition, 100 * ((entries.measured_voltage or nominal) / nominal - 1)
    given = {"volts": entries.measured_voltage, "nominal": nominal, "percent": figure(off, 1)}
    words = say("{volts} V measured is {percent} % off the nominal {nominal} V.", **given)
    mend = say("Ask the utility, or change the transformer’s taps.")
    high, low = edition.limit("tolerance_high"), edition.limit("tolerance_low")
    if not (fits(off, high.value) and fits(-off, low.value)):
        tells = findings.fail if edition.says("tolerance_binds") else findings.check
        tells("volts", words, mend=mend, rules=(high.rule, low.rule), entries="measured_voltage")
    if system.high_leg:
        findings.remark(
            "high_leg",
            say(
                "{line} is the high leg: about 208 V to neutral; nothing to neutral on it.",
                line=system.high_leg,
            ),
            mend=say("Mark it orange."),
            rules=context.edition.cites("high_leg"),
            entries="system",
        )
    return findings
