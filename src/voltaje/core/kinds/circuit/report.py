"""A circuit on the worksheet."""

from __future__ import annotations

from typing import Any

from voltaje.core.codes import Edition, practice
from voltaje.core.electrical.connection import current_divisor
from voltaje.core.kinds.circuit.calculate import CircuitAmperes, CircuitOutcome, under
from voltaje.core.kinds.circuit.entries import CircuitLoad
from voltaje.core.report import (
    Findings,
    Offer,
    Report,
    Result,
    Worksheet,
    figure,
    figure_beside,
    fits,
    say,
)
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import CircuitLimit
from voltaje.core.rules.north_america.wired import spare

ANSWER = ("device", "conductor", "ground_conductor", "raceway", "drop_percent")


def report(outcome: CircuitOutcome, entries: CircuitLoad, context: Context) -> Report:
    """The circuit's worksheet."""
    edition, load, asked, code = context.edition, outcome.load, outcome.asked, context.code
    findings, worksheet = Findings(), Worksheet("load")
    _load(entries, load, context, worksheet)
    if load.unlike:
        _other_volts(load, entries, context, findings)
    code.report_design(outcome.wants, asked, edition, worksheet)
    if asked.over is not None:
        _too_much(asked.over, edition, findings)
    _too_many(entries, edition, findings)
    if entries.shared_neutral:
        _multiwire(entries, edition, worksheet)
    told = code.report_sizing(outcome.sizing, entries, under(asked, context))
    findings += told.findings
    _high_leg(entries, context, findings)
    if entries.use != "air conditioning":
        spare(outcome.sizing.device - asked.design, findings)
    results = {
        "load": Result(load.va, "VA", say("Load")),
        "amperes": Result(load.amperes, "A", say("Full-load amperes")),
        "design_amperes": Result(asked.design, "A", code.design_label),
        "volts": Result(outcome.feed.volts, "V", say("Volts")),
        **told.results,
    }
    return Report(
        "circuit",
        edition.id,
        (worksheet.section("load", say("Load")), *told.sections),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results),
        headline=told.headline,
        alternatives=told.alternatives,
        marks=told.marks,
        wires=told.wires,
        tests=told.tests,
    )


def _load(
    entries: CircuitLoad, load: CircuitAmperes, context: Context, worksheet: Worksheet
) -> None:
    edition, code = context.edition, context.code
    if entries.use == "air conditioning":
        worksheet.sum(
            "amperes",
            say("Minimum circuit ampacity"),
            load.amperes,
            "A",
            "",
            edition.rule("air_conditioning"),
            note=say("the quarter more for its motor is in it"),
            entries="minimum_ampacity",
        )
        return
    if entries.use == "receptacles":
        each = code.outlet(edition)
        words = say("{count} outlets", count=entries.outlets)
        shown = f"{entries.outlets} × {figure(each.value)}"
        worksheet.step("load", words, load.va, "VA", shown, each.rule, entries="outlets")
    else:
        _entered(entries, load, worksheet)
        if entries.use == "range":
            _range(load, edition, worksheet)
        elif load.va > load.entered:
            least = code.least_sign(edition)
            rule = least.rule if least else None
            worksheet.step("sign", say("A sign outlet counts at least"), load.va, "VA", "", rule)
    note = None
    if load.rated:
        note = say("at its own {volts} V, where it draws more", volts=load.rated)
    shown = f"{figure(load.va)} ÷ {current_divisor(load.volts, entries.connection)}"
    words, path = say("Full-load amperes"), "connection"
    if load.shares:
        most = max(load.shares)
        words, path = say("Full-load amperes of the heaviest line"), "line_shares"
        shown = f"{figure(load.va)} × {figure(most, 4)} ÷ {figure(load.va * most / load.amperes)}"
        lines = ", ".join(f"L{n} {figure(100 * one, 1)} %" for n, one in enumerate(load.shares, 1))
        worksheet.note("line_shares", say("Split as measured: {lines}", lines=lines), entries=path)
    worksheet.sum("amperes", words, load.amperes, "A", shown, note=note, entries=path)


def _range(load: CircuitAmperes, edition: Edition, worksheet: Worksheet) -> None:
    base, mark = edition.limit("range_circuit_base"), edition.limit("range_circuit_mark")
    share = edition.limit("range_circuit_share")
    shown = figure(base.value)
    if load.entered > mark.value:
        over = f"({figure(load.entered)} − {figure(mark.value)})"
        shown = f"{figure(base.value)} + {figure(share.value / 100, 4)} × {over}"
    words, rules = say("Demand of one range"), (base.rule, mark.rule, share.rule)
    worksheet.step("range", words, load.va, "VA", shown, rules, entries="load")


def _entered(entries: CircuitLoad, load: CircuitAmperes, worksheet: Worksheet) -> None:
    plate = entries.load
    shown, paths = "", ["load"]
    if plate is not None and plate.amperes is not None:
        rated = plate.volts or entries.rated_volts or load.volts
        shown = f"{figure(plate.amperes)} × {current_divisor(rated, entries.connection)}"
    elif plate is not None and plate.ohms is not None:
        volts = plate.volts or load.volts
        shown = f"{figure(volts)}² ÷ {figure(plate.ohms, 2)}"
        if entries.power_factor < 1:
            shown += f" ÷ {figure(entries.power_factor)}"
    elif plate is not None and plate.active and entries.power_factor < 1:
        shown = f"{figure(plate.watts)} W ÷ {figure(entries.power_factor)}"
        paths.append("power_factor")
    worksheet.step("load", say("Load"), load.entered, "VA", shown, entries=paths)


def _other_volts(
    load: CircuitAmperes, entries: CircuitLoad, context: Context, findings: Findings
) -> None:
    """A resistive load on volts other than its own: power goes with the square."""
    volts = context.supply.system.volts(entries.connection)
    rated, ratio = load.unlike, volts / load.unlike
    offer = _booster(load, volts, entries, context)
    if rated > volts:
        findings.check(
            "rated_volts",
            say(
                "Rated {rated} V on {volts} V: a heater gives {percent} % of its power, {va} VA.",
                rated=rated,
                volts=volts,
                percent=figure(100 * ratio**2, 0),
                va=figure(load.va * ratio**2, 0),
            ),
            f"{figure(100 * (1 - ratio**2), 0)} %",
            mend=say(
                "Order it for the supply’s volts, or raise the volts with a buck-boost transformer."
            ),
            entries="rated_volts",
            offer=offer,
        )
        return
    findings.fail(
        "rated_volts",
        say("Rated {rated} V on {volts} V: too high for it.", rated=rated, volts=volts),
        f"{figure(volts - rated)} V",
        mend=say("Connect it to the volts on its nameplate."),
        entries="rated_volts",
        offer=offer,
    )


# uses whose power goes with the square of the volts
HEATS = ("kiln", "space heating", "water heater")


def _booster(
    load: CircuitAmperes, volts: float, entries: CircuitLoad, context: Context
) -> Offer | None:
    """A buck-boost transformer ahead of the circuit, as long as the volts are within its reach."""
    rated = load.unlike
    if not fits(100 * abs(rated / volts - 1), practice().value("booster_reach")):
        return None
    wye = context.supply.system.is_wye
    three = "wye" if wye else "open delta"
    phases = three if entries.connection == "three-phase" else "1"
    line = entries.line
    if entries.connection == "line-neutral" and line == "auto":
        line = "L1"
    asked = (
        ("phases", phases),
        ("required_voltage", f"{rated:g} V"),
        ("load_type", "heater" if entries.use in HEATS else "other"),
    )
    return Offer(
        "buck_boost",
        say("Put a buck-boost transformer ahead of it"),
        (*asked, *((("line", line),) if phases == "1" else ())),
        (("line", "auto"),),
        (("load", f"{load.va:g} VA"), ("measured_voltage", f"{volts:g} V")),
    )


def _too_many(entries: Any, edition: Edition, findings: Findings) -> None:
    """More outlets than a circuit may have whose load is not known."""
    if entries.load is not None or not edition.has_limit("outlets_most"):
        return
    most = edition.limit("outlets_most")
    if entries.outlets > most.value:
        findings.fail(
            "outlets_most",
            say(
                "{count} outlets: a circuit may have {most}.",
                count=entries.outlets,
                most=most.value,
            ),
            figure(entries.outlets - most.value, 0),
            mend=say("Split it, or put in the load where it is known."),
            rules=most.rule,
            entries="outlets",
        )


def _too_much(over: CircuitLimit, edition: Edition, findings: Findings) -> None:
    count = max(2, int(-(-over.design // over.most)))
    findings.fail(
        "too_much",
        say(
            "{design} A is more than the {most} A that such a circuit may have.",
            design=figure_beside(over.design, over.most, 1),
            most=over.most,
        ),
        f"{figure(over.design - over.most, 1)} A",
        mend=say("Split it over {count} circuits.", count=count),
        rules=edition.rule(over.topic),
        entries=("load", "outlets"),
    )


def _multiwire(entries: CircuitLoad, edition: Edition, worksheet: Worksheet) -> None:
    worksheet.note(
        "multiwire",
        say("Shares its neutral as “{name}”", name=entries.shared_neutral),
        rules=edition.cites("multiwire"),
        note=say(
            "its lines open together, by one device or listed handle ties, and must differ:"
            " on one line the neutral would carry the sum"
        ),
        entries="shared_neutral",
        flow="neutral",
    )


def _high_leg(entries: CircuitLoad, context: Context, findings: Findings) -> None:
    high = context.supply.system.high_leg
    if entries.connection == "line-neutral" and high and entries.line == high:
        findings.fail(
            "high_leg",
            say("{line} is the high leg: about 208 V to neutral.", line=high),
            mend=say("Put it on L1 or L3."),
            rules=context.edition.cites("high_leg"),
            entries="line",
        )
