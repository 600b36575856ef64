"""A dwelling on the worksheet: the methods side by side, the service, the neutral."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import System
from voltaje.core.kinds.dwelling.nec import neutral, optional, service, standard
from voltaje.core.kinds.dwelling.nec.calculate import DwellingOutcome, Measured, Methods
from voltaje.core.kinds.dwelling.nec.climate import report_selections
from voltaje.core.kinds.dwelling.nec.entries import DwellingEntries
from voltaje.core.kinds.dwelling.nec.loads import Loads
from voltaje.core.report import (
    Findings,
    Flow,
    MethodAlternative,
    Report,
    Result,
    Section,
    Worksheet,
    figure,
    say,
)
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.overcurrent import whole_amperes


def report(outcome: DwellingOutcome, entries: DwellingEntries, context: Context) -> Report:
    """A dwelling's worksheet."""
    if outcome.measured is not None:
        return _measured(outcome, outcome.measured, entries, context)
    assert outcome.methods is not None  # noqa: S101 - it is calculated, then
    return _calculated(outcome, outcome.methods, entries, context)


def _calculated(
    outcome: DwellingOutcome, found: Methods, entries: DwellingEntries, context: Context
) -> Report:
    edition, units, system = context.edition, context.units, context.supply.system
    by_standard, by_optional, existing = found.standard, found.optional, found.existing
    sections = {"standard": standard.report(by_standard, edition, units)}
    flows = {"standard": standard.flows(by_standard, edition)}
    sections["optional"], flows["optional"] = optional.report(by_optional, edition, units)
    if existing is not None:
        told = optional.report_existing(existing, edition, units)
        sections["existing"], flows["existing"] = told
    main = outcome.main
    feeder = entries.supplied == "feeder" and existing is None
    sized = service.report(outcome.service, found.per_line, system, edition, feeder)
    findings = Findings(sized.findings)
    if existing is not None:
        findings += optional.existing_findings(existing, edition)
    elif main == "standard":
        findings += standard.findings(by_standard, edition)
    _look(entries, found.loads, by_standard.fixed.factor, system, edition, findings)
    amperes, device = outcome.service.amperes, outcome.service.device
    return Report(
        "dwelling",
        edition.id,
        (
            sections[main],
            sized.section,
            neutral.report(found.neutral, edition),
            neutral.report_lines(found.per_line, edition),
            *(section for name, section in sections.items() if name != main),
            _difference(found, flows["standard"], flows["optional"], edition),
        ),
        _results(outcome, found, sized.results, system),
        tuple(findings),
        (*_methods(found, main, system), *report_selections(by_optional.choices, edition)),
        {**flows, "shown": flows[main]},
        sized.answer,
        f"{figure(amperes)} A · {figure(device)} A",
        sized.alternatives,
        sized.marks,
    )


def _whole(load: float, system: System) -> int:
    return whole_amperes(load / system.line_to_line)


GROUPS = {
    "general_lighting_demand": say("General lighting demand"),
    "fixed_appliance_demand": say("Fixed appliance demand"),
    "vehicle_charging_demand": say("Vehicle charging demand"),
    "dryer_demand": say("Dryer demand"),
    "cooking_demand": say("Cooking demand"),
    "climate_demand": say("Climate demand"),
    "motor_adder": say("Motor adder"),
}


def _results(
    outcome: DwellingOutcome, found: Methods, sized: dict[str, Result], system: System
) -> dict[str, Result]:
    by_standard, by_optional, lines = found.standard, found.optional, found.per_line
    results = {}
    for name, words, load in (
        ("standard", say("Standard method"), by_standard.calculated),
        ("optional", say("Optional method"), by_optional.calculated),
    ):
        results[f"{name}_load"] = Result(load, "VA", words)
        results[f"{name}_amperes"] = Result(_whole(load, system), "A", words)
    for name, value in by_standard.groups.items():
        results[name] = Result(value, "VA", GROUPS[name])
    results["connected_load"] = Result(outcome.connected, "VA", say("Connected load"))
    results["calculated_load"] = Result(outcome.calculated, "VA", say("Calculated load"))
    results |= sized
    cautious = found.existing.cautious if found.existing else 0.0
    if cautious:
        results["cautious_load"] = Result(cautious, "VA", say("With the heaters whole"))
    l1, l2, shared = (whole_amperes(x) for x in (lines.l1, lines.l2, lines.neutral))
    return {
        **results,
        "neutral_load": Result(found.neutral.load, "VA", say("Neutral load")),
        "neutral_amperes": Result(outcome.neutral_amperes, "A", say("Neutral")),
        "line_1_amperes": Result(l1, "A", say("L1")),
        "line_2_amperes": Result(l2, "A", say("L2")),
        "neutral_line_amperes": Result(shared, "A", say("Neutral, pair by pair")),
    }


def _methods(found: Methods, main: str, system: System) -> tuple[MethodAlternative, ...]:
    ways = [
        ("standard", say("Standard method"), found.standard.calculated),
        ("optional", say("Optional method"), found.optional.calculated),
    ]
    if found.existing is not None:
        words = say("Existing dwelling, load added")
        ways.append(("existing", words, found.existing.calculated))
    return tuple(
        MethodAlternative(
            f"method_{name}",
            words,
            load,
            "VA",
            name == main,
            True,
            say("{amperes} A", amperes=_whole(load, system)),
        )
        for name, words, load in ways
    )


def _difference(
    found: Methods, by_standard: Sequence[Flow], by_optional: Sequence[Flow], edition: Edition
) -> Section:
    """Why the two methods differ: what each takes off what is connected."""
    worksheet, general = Worksheet(), found.optional.general.calculated
    gap = found.standard.calculated - found.optional.calculated
    for flow in by_standard:
        off = flow.calculated - flow.connected
        if abs(off) > 1e-6:
            words = say("{group}: standard method", group=flow.label)
            shown = f"{figure(flow.connected)} → {figure(flow.calculated)}, {flow.why}"
            worksheet.step(f"taken_off_{flow.name}", words, off, "VA", shown)
    connected = sum(f.connected for f in by_optional if f.name != "climate")
    words = say("All but heating and cooling: optional method")
    shown, rule = f"{figure(connected)} → {figure(general)}", edition.rule("optional_general")
    worksheet.step("taken_off_general", words, general - connected, "VA", shown, rule)
    climate = found.optional.climate - sum(f.connected for f in by_optional if f.name == "climate")
    if climate:
        words, rule = say("Heating and cooling: optional method"), edition.rule("optional_climate")
        worksheet.step("taken_off_climate", words, climate, "VA", rules=rule)
    words = say("The optional method is {gap} VA higher", gap=-gap)
    if gap >= 0:
        words = say("The optional method is {gap} VA lower", gap=gap)
    shown = f"{figure(found.optional.calculated)} − {figure(found.standard.calculated)}"
    worksheet.result("method_difference", words, -gap, "VA", shown)
    return worksheet.section("difference", say("Why the methods differ"))


def _look(
    entries: DwellingEntries,
    loads: Loads,
    factor: float,
    system: System,
    edition: Edition,
    findings: Findings,
) -> None:
    if loads.small_cooking:
        findings.check(
            "small_cooking",
            say(
                "Not over 1¾ kW: the cooking table does not speak of {names}, which is"
                " counted as an appliance fastened in place.",
                names=_names([load.name for load in loads.small_cooking]),
            ),
            rules=edition.rule("cooking"),
            entries=[load.path for load in loads.small_cooking],
        )
    _chargers(entries, loads, factor, edition, findings)
    if loads.anywhere:
        findings.remark(
            "any_outlet",
            say(
                "{names}: on any outlet, so it is in the lighting and small-appliance load"
                " and is not counted again.",
                names=_names([load.name for load in loads.anywhere]),
            ),
            rules=edition.rule("unit_load"),
            entries=[load.path for load in loads.anywhere],
        )
    if entries.laundry_circuits == 0:
        findings.check(
            "no_laundry",
            say(
                "No laundry circuit is counted: a dwelling needs one"
                " unless it shares a laundry in the building."
            ),
            f"{figure(edition.value('laundry_va'))} VA",
            mend=say("Put in 1 laundry circuit."),
            rules=edition.rule("laundry"),
            entries="laundry_circuits",
        )
    if system.is_wye:
        words = say(
            "On 208 V a heating element made for 240 V gives"
            " 75 % of its nameplate. The calculation keeps the nameplate."
        )
        mend = say("Order elements for 208 V where the heat is needed.")
        findings.remark("volts_208", words, mend=mend)
    if loads.motor_rules:
        words = say("Horsepower is taken by the code's full-load current, not converted.")
        findings.passes("motor_table", words, rules=dict.fromkeys(loads.motor_rules))


def _chargers(
    entries: DwellingEntries, loads: Loads, factor: float, edition: Edition, findings: Findings
) -> None:
    """Vehicle charging that the edition leaves among the appliances fastened in place."""
    chargers = [row for row in entries.appliances if row.place == "charger"]
    if not chargers or edition.has_limit("charger_least") or factor >= 1:
        return
    ids = sorted(f"appliances.{row.id}.nameplate" for row in chargers)
    va = sum(load.total for load in loads.fixed if load.path in ids)
    findings.check(
        "charger_at_75",
        say(
            "This edition does not leave vehicle charging out of the {percent} %, though it"
            " is continuous: whole, it would add {va} VA.",
            percent=100 * factor,
            va=va * (1 - factor),
        ),
        f"{figure(va * (1 - factor))} VA",
        mend=say("Ask the authority; a later edition counts it whole, with a least value."),
        rules=(edition.rule("fixed_appliances"), edition.rule("vehicle_charging")),
        entries=ids,
    )


def _names(names: Sequence[str]) -> str:
    shown = names[:4]
    return ", ".join(dict.fromkeys(shown)) + (" …" if len(names) > len(shown) else "")


def _measured(
    outcome: DwellingOutcome, found: Measured, entries: DwellingEntries, context: Context
) -> Report:
    edition, system = context.edition, context.supply.system
    plate, worksheet = entries.measured_demand, Worksheet()
    margin = edition.limit("measured_margin")
    demand, new, rule = found.demand, found.new, margin.rule
    with_margin, factor = demand * margin.value / 100, figure(margin.value / 100, 4)
    shown, path = "", "measured_demand"
    if plate is not None and plate.amperes is not None:
        shown = f"{figure(plate.amperes)} A × {figure(plate.volts or system.line_to_line)} V"
    worksheet.step(path, say("Highest measured demand"), demand, "VA", shown, entries=path)
    words, shown = say("At {percent} %", percent=margin.value), f"{figure(demand)} × {factor}"
    worksheet.step("measured_margin", words, with_margin, "VA", shown, rule, entries=path)
    worksheet.step("new_load", say("New load"), new, "VA", entries="new_load")
    shown = f"{figure(with_margin)} + {figure(new)}"
    words = say("Calculated load")
    worksheet.result("calculated_load", words, found.calculated, "VA", shown, rule)
    judged = service.report(outcome.service, None, system, edition)
    findings = Findings(judged.findings)
    if entries.measured_over == "days30" and not entries.season_covered:
        findings.check(
            "season",
            say(
                "A 30-day recording must hold the heating or cooling at its highest, or their"
                " larger load must be added."
            ),
            mend=say("Add it to the new load, or tick that it ran."),
            rules=rule,
            entries="season_covered",
        )
    words = say("{percent} %", percent=margin.value)
    flows = (
        Flow("measured", say("Measured demand"), demand, with_margin, words),
        Flow("new", say("New load"), new, new, say("whole")),
    )
    results = {
        "connected_load": Result(outcome.connected, "VA", say("Connected load")),
        "calculated_load": Result(found.calculated, "VA", say("Calculated load")),
        **judged.results,
    }
    return Report(
        "dwelling",
        edition.id,
        (worksheet.section("measured", say("By measured demand")), judged.section),
        results,
        tuple(findings),
        (),
        {"shown": flows},
        judged.answer,
        f"{outcome.service.amperes} A · {figure(outcome.service.device)} A",
    )
