"""Puts a dwelling together: the two methods side by side, the service, the neutral."""

from __future__ import annotations

from collections.abc import Sequence

from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.electrical.systems import DWELLING_SYSTEMS, Demand, Piece, System
from voltaje.core.parts.dwelling import measured, neutral, optional, standard
from voltaje.core.parts.dwelling.entries import GROUPS, DwellingEntries
from voltaje.core.parts.dwelling.loads import Loads, collect
from voltaje.core.parts.dwelling.outcome import Outcome
from voltaje.core.parts.dwelling.service import Service, against_existing, size
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.units import UnitSystem
from voltaje.core.worksheet import Alternative, Finding, Line, Result, Section, Worked, figure, say


def work(entries: DwellingEntries, context: Context) -> Worked:
    """A dwelling's worksheet. Raises :class:`NotCoveredError` where the edition has no answer."""
    system = context.supply.system
    if system.id not in DWELLING_SYSTEMS:
        raise NotCoveredError(context.edition.title, f"a dwelling on {system.label}")
    if entries.calculation == "measured":
        return measured.work(entries, system, context.edition)
    return _calculated(entries, system, context.edition, context.units)


def _calculated(
    entries: DwellingEntries, system: System, edition: Edition, units: UnitSystem
) -> Worked:
    loads = collect(entries, system, edition)
    by_standard = standard.calculate(entries, loads, edition, units)
    by_optional, choices = optional.calculate(entries, loads, edition, units)
    outcomes = {"standard": by_standard.outcome, "optional": by_optional}
    if entries.calculation == "added":
        main = "existing"
        outcomes["existing"] = optional.existing(entries, loads, edition, units)
    else:
        main = entries.method
    chosen = outcomes[main]
    on_neutral, per_line = neutral.calculate(loads, by_standard, system, edition)
    if entries.calculation == "added":
        service = against_existing(entries.existing_service or 0.0, chosen, system, edition)
    else:
        service = size(
            chosen, main, on_neutral, per_line, system, edition, entries.supplied == "feeder"
        )
    neutral_amperes = service.neutral_amperes or on_neutral.amperes
    others = [outcome for name, outcome in outcomes.items() if name != main]
    findings = [
        *service.findings,
        *chosen.findings,
        *_look(entries, loads, by_standard.fixed_factor, system, edition),
    ]
    results = {
        **_outcome_results("standard", by_standard.outcome, system),
        **_outcome_results("optional", by_optional, system),
        **{
            name: Result(value, "VA", say(name.replace("_", " ").capitalize()))
            for name, value in by_standard.outcome.groups.items()
        },
        "connected_load": Result(chosen.connected, "VA", say("Connected load")),
        "calculated_load": Result(chosen.calculated, "VA", say("Calculated load")),
        **service.results,
        **(
            {"cautious_load": Result(chosen.cautious, "VA", say("With the heaters whole"))}
            if chosen.cautious
            else {}
        ),
        "neutral_load": Result(on_neutral.load, "VA", say("Neutral load")),
        "neutral_amperes": Result(service.whole(neutral_amperes), "A", say("Neutral")),
        "line_1_amperes": Result(service.whole(per_line.l1), "A", say("L1")),
        "line_2_amperes": Result(service.whole(per_line.l2), "A", say("L2")),
        "neutral_line_amperes": Result(
            service.whole(per_line.neutral), "A", say("Neutral, pair by pair")
        ),
    }
    sections = (
        chosen.section,
        service.section,
        on_neutral.section,
        per_line.section,
        *(outcome.section for outcome in others),
        _difference(by_standard.outcome, by_optional, edition),
    )
    headline = f"{figure(service.amperes)} A · {figure(service.device)} A"
    return Worked(
        "dwelling",
        edition.id,
        sections,
        results,
        tuple(findings),
        (*_methods(outcomes, main, system), *choices),
        {name: outcome.flows for name, outcome in outcomes.items()} | {"shown": chosen.flows},
        service.answer,
        headline,
    )


def _outcome_results(name: str, outcome: Outcome, system: System) -> dict[str, Result]:
    label = "Standard method" if name == "standard" else "Optional method"
    return {
        f"{name}_load": Result(outcome.calculated, "VA", say(label)),
        f"{name}_amperes": Result(
            Service.whole(outcome.calculated / system.line_to_line), "A", say(label)
        ),
    }


def _methods(outcomes: dict[str, Outcome], main: str, system: System) -> tuple[Alternative, ...]:
    labels = {
        "standard": say("Standard method"),
        "optional": say("Optional method"),
        "existing": say("Existing dwelling, load added"),
    }
    return tuple(
        Alternative(
            f"method_{name}",
            labels[name],
            outcome.calculated,
            "VA",
            name == main,
            True,
            say("{amperes} A", amperes=Service.whole(outcome.calculated / system.line_to_line)),
        )
        for name, outcome in outcomes.items()
    )


def _difference(by_standard: Outcome, by_optional: Outcome, edition: Edition) -> Section:
    """Why the two methods differ: what each takes off what is connected."""
    gap = by_standard.calculated - by_optional.calculated
    lines = [
        Line(
            f"taken_off_{flow.name}",
            say("{group}: standard method", group=flow.label),
            flow.calculated - flow.connected,
            "VA",
            f"{figure(flow.connected)} → {figure(flow.calculated)}, {flow.why}",
        )
        for flow in by_standard.flows
        if abs(flow.calculated - flow.connected) > 1e-6
    ]
    general = by_optional.groups["general_demand"]
    connected = sum(f.connected for f in by_optional.flows if f.name != "climate")
    climate = by_optional.groups["climate_demand"] - sum(
        f.connected for f in by_optional.flows if f.name == "climate"
    )
    lines.append(
        Line("taken_off_general", say("All but heating and cooling: optional method"),
             general - connected, "VA", f"{figure(connected)} → {figure(general)}",
             (edition.rule("optional_general"),))
    )  # fmt: skip
    if climate:
        lines.append(
            Line("taken_off_climate", say("Heating and cooling: optional method"), climate, "VA",
                 rules=(edition.rule("optional_climate"),))
        )  # fmt: skip
    words = (
        say("The optional method is {gap} VA lower", gap=gap)
        if gap >= 0
        else say("The optional method is {gap} VA higher", gap=-gap)
    )
    lines.append(
        Line("method_difference", words, -gap, "VA",
             f"{figure(by_optional.calculated)} − {figure(by_standard.calculated)}",
             kind="result")
    )  # fmt: skip
    return Section("difference", say("Why the methods differ"), tuple(lines))


def _look(
    entries: DwellingEntries, loads: Loads, factor: float, system: System, edition: Edition
) -> list[Finding]:
    found: list[Finding] = []
    if loads.small_cooking:
        found.append(
            Finding(
                "look",
                "small_cooking",
                say("Not over 1¾ kW: the cooking table does not speak of {names}, which is"
                    " counted as an appliance fastened in place.",
                    names=_names([load.name for load in loads.small_cooking])),
                rules=(edition.rule("cooking"),),
                entries=tuple(load.path for load in loads.small_cooking),
            )
        )  # fmt: skip
    chargers = [row for row in entries.appliances if row.place == "charger"]
    if chargers and not edition.has_limit("charger_least") and factor < 1:
        ids = {f"appliances.{row.id}.nameplate" for row in chargers}
        va = sum(load.total for load in loads.fixed if load.path in ids)
        found.append(
            Finding(
                "look",
                "charger_at_75",
                say("This edition does not leave vehicle charging out of the {percent} %, though it"
                    " is continuous: whole, it would add {va} VA.", percent=100 * factor,
                    va=va * (1 - factor)),
                f"{figure(va * (1 - factor))} VA",
                say("Ask the authority; a later edition counts it whole, with a least value."),
                (edition.rule("fixed_appliances"), edition.rule("vehicle_charging")),
                tuple(sorted(ids)),
            )
        )  # fmt: skip
    if loads.anywhere:
        found.append(
            Finding(
                "remark",
                "any_outlet",
                say("{names}: on any outlet, so it is in the lighting and small-appliance load"
                    " and is not counted again.",
                    names=_names([load.name for load in loads.anywhere])),
                rules=(edition.rule("unit_load"),),
                entries=tuple(load.path for load in loads.anywhere),
            )
        )  # fmt: skip
    if entries.laundry_circuits == 0:
        found.append(
            Finding("look", "no_laundry", say("No laundry circuit is counted: a dwelling needs one"
                    " unless it shares a laundry in the building."),
                    f"{figure(edition.value('laundry_va'))} VA", say("Put in 1 laundry circuit."),
                    (edition.rule("laundry"),), ("laundry_circuits",))
        )  # fmt: skip
    if system.is_wye:
        found.append(
            Finding("remark", "volts_208", say("On 208 V a heating element made for 240 V gives"
                    " 75 % of its nameplate. The calculation keeps the nameplate."),
                    remedy=say("Order elements for 208 V where the heat is needed."))
        )  # fmt: skip
    if loads.motor_rules:
        found.append(
            Finding("holds", "motor_table", say("Horsepower is taken by the code's full-load"
                    " current, not converted."), rules=tuple(dict.fromkeys(loads.motor_rules)))
        )  # fmt: skip
    return found


def _names(names: Sequence[str]) -> str:
    shown = names[:4]
    return ", ".join(dict.fromkeys(shown)) + (" …" if len(names) > len(shown) else "")


def _hand_up(entries: DwellingEntries, worked: Worked, context: Context) -> Demand:
    exact = worked.value("amperes_exact")
    neutral = worked.value("neutral_amperes") if "neutral_amperes" in worked.results else 0.0
    connected, calculated = worked.value("connected_load"), worked.value("calculated_load")
    piece = Piece(
        "", "dwelling", connected, calculated, exact, device=worked.value("service_device")
        if "service_device" in worked.results else 0.0, neutral=neutral,
    )  # fmt: skip
    return Demand(connected, calculated, neutral, (exact, exact), (piece,))


KIND = Kind(
    "dwelling",
    "Dwelling",
    "Calculated load and service",
    DwellingEntries,
    work,
    _hand_up,
    lambda entries, above: above,
    GROUPS,
)
