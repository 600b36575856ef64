"""Power, amperes and volts on the worksheet: the formula with its figures, the power in every
unit."""

from __future__ import annotations

from voltaje.core.kinds.amperes.calculate import AmperesOutcome, efficiency_of, root_of
from voltaje.core.kinds.amperes.entries import AmperesEntries
from voltaje.core.report import Findings, Report, Result, Worksheet, figure, say
from voltaje.core.rules.context import Context

MAIN = {"current": "amperes", "power": "kva", "voltage": "volts"}
EVERY = ("amperes", "volts", "kva", "kw", "horsepower")


def report(outcome: AmperesOutcome, entries: AmperesEntries, context: Context) -> Report:
    """The sheet: the one unknown, the formula with its figures, the same power in every unit."""
    amperes, findings = outcome.amperes or 0.0, Findings()
    worksheet = _solved(outcome, entries, context)
    _no_table(outcome, entries, context, findings)
    results = {
        "amperes": Result(amperes, "A", say("Full-load current")),
        "formula_amperes": Result(outcome.formula, "A", say("By the formula")),
        "volts": Result(outcome.volts, "V", say("Volts")),
        "phases": Result(entries.phases, "", say("Phases")),
        "kva": Result(outcome.va / 1000, "kVA", say("Apparent power")),
        "kw": Result(outcome.watts / 1000, "kW", say("Power taken in")),
        "horsepower": Result(outcome.shaft, "hp", say("At the shaft")),
        "power_factor": Result(outcome.power_factor, "", say("Power factor")),
    }
    headline = {
        "current": f"{figure(amperes, 2)} A",
        "voltage": f"{figure(outcome.volts, 1)} V",
        "power": f"{figure(outcome.va / 1000, 2)} kVA",
        "power_factor": str(say("power factor {factor}", factor=figure(outcome.power_factor, 3))),
    }[outcome.unknown]
    main = MAIN.get(outcome.unknown, outcome.unknown)
    rest = [name for name in EVERY if name != main]
    return Report(
        "amperes",
        context.edition.id,
        (
            worksheet.section("solved", say("Solved")),
            _every(outcome, entries).section("units", say("In every unit")),
        ),
        results,
        tuple(findings),
        answer=(main, *rest[:3]),
        headline=headline,
    )


def _every(outcome: AmperesOutcome, entries: AmperesEntries) -> Worksheet:
    worksheet, root = Worksheet(), "1.732 × " if root_of(entries) > 1 else ""
    kva, kw = outcome.va / 1000, outcome.watts / 1000
    volts, amperes = figure(outcome.volts), figure(outcome.formula)
    for name, value, unit, shown in (
        ("kva", kva, "kVA", f"{root}{volts} V × {amperes} A ÷ 1,000"),
        ("kw", kw, "kW", f"{figure(kva, 3)} kVA × {figure(outcome.power_factor, 3)}"),
        (
            "horsepower",
            outcome.shaft,
            "hp",
            f"{figure(kw, 3)} kW × {figure(efficiency_of(entries))} ÷ 0.746",
        ),
    ):
        worksheet.note(f"as_{name}", say("The same in {unit}", unit=unit), value, unit, shown)
    return worksheet


def _solved(outcome: AmperesOutcome, entries: AmperesEntries, context: Context) -> Worksheet:
    """The unknown, and the line of its formula."""
    worksheet, three, plate = Worksheet(), root_of(entries) > 1, entries.power
    root, given = "1.732 × " if three else "", figure(outcome.given)
    volts, amperes, va = (figure(x) for x in (outcome.volts, outcome.formula, outcome.va))
    if outcome.unknown == "power":
        words, shown = say("Apparent power"), f"{root}{volts} V × {amperes} A ÷ 1,000"
        value, paths = outcome.va / 1000, ("current", "voltage")
        worksheet.result("kva", words, value, "kVA", shown, entries=paths, flow="power")
        return worksheet
    if plate is not None and plate.horsepower is not None:
        words = say("Power taken in")
        shown = f"{figure(plate.horsepower)} hp × 746 ÷ {figure(efficiency_of(entries))}"
        paths = ("power", "efficiency")
        worksheet.step("watts", words, outcome.given, "W", shown, entries=paths, flow="power")
    if outcome.unknown == "power_factor":
        words = say("Power factor")
        shown = f"{given} W ÷ ({root}{volts} V × {amperes} A)"
        factor, every = outcome.given / outcome.va, ("power", "current", "voltage")
        worksheet.result("power_factor", words, factor, "", shown, entries=every, flow="factor")
        return worksheet
    if outcome.active and outcome.power_factor < 1:
        words, shown = say("Apparent power"), f"{given} W ÷ {figure(outcome.power_factor)}"
        paths = ("power", "power_factor")
        worksheet.step("va", words, outcome.va, "VA", shown, entries=paths, flow="power")
    if outcome.unknown == "voltage":
        words, shown = say("Volts"), f"{va} VA ÷ ({root}{amperes} A)"
        paths = ("power", "current")
        worksheet.result("volts", words, outcome.volts, "V", shown, entries=paths, flow="volts")
        return worksheet
    words = say("Amperes by the formula")
    shown = f"{va} VA ÷ ({root}{volts} V)" if three else f"{va} VA ÷ {volts} V"
    paths = ("power", "voltage")
    worksheet.result("amperes", words, outcome.formula, "A", shown, entries=paths, flow="current")
    if outcome.table is not None:
        note = say(
            "what conductors and devices go by; the formula gives {amperes} A",
            amperes=figure(outcome.formula, 1),
        )
        worksheet.result(
            "table_current",
            say("Full-load current by the table"),
            outcome.table.value,
            "A",
            "",
            (outcome.table.rule, context.edition.cites("motor_table_current")),
            note=note,
            entries="motor",
            flow="current",
        )
    return worksheet


def _no_table(
    outcome: AmperesOutcome, entries: AmperesEntries, context: Context, findings: Findings
) -> None:
    rule = context.edition.cites("motor_table_current")
    if outcome.no_table == "formula":
        words = say("By the formula: conductors and devices of a motor go by the code’s table.")
        findings.check("formula", words, rules=rule, entries="motor")
    elif outcome.no_table == "not there":
        words = say(
            "The code’s table has no {hp} hp motor at {volts} V: only the formula is left.",
            hp=entries.power.horsepower if entries.power else 0.0,
            volts=outcome.volts,
        )
        findings.check("no_table", words, rules=rule, entries="voltage")
