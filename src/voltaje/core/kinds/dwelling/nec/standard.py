"""The standard method, line by line as on the paper form."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from voltaje.core.codes import Edition
from voltaje.core.electrical.loads import CountedLoad, paths, total
from voltaje.core.kinds.dwelling.nec.climate import Side, dropped_only, larger_side, largest_motor
from voltaje.core.kinds.dwelling.nec.entries import DwellingEntries
from voltaje.core.kinds.dwelling.nec.loads import Loads
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import Findings, Flow, Rule, Section, Text, Worksheet, figure, fits, say
from voltaje.core.rules.north_america import cooking
from voltaje.core.rules.north_america import dwelling_demand as demand
from voltaje.core.rules.north_america.dwelling_demand import GroupDemand, Lighting


@dataclass(frozen=True, slots=True)
class Standard:
    """The demands of article 220 part III, VA: each group, the permitted ``ways`` of cooking, the
    cheapest first, and by how much its number of loads lowers it; the season that counts and the
    one that drops out."""

    lighting: Lighting
    fixed: GroupDemand
    own: GroupDemand
    chargers: GroupDemand
    dryers: GroupDemand
    cooked: tuple[CountedLoad, ...]
    ways: tuple[cooking.CookingDemand, ...]
    cooking_lowered: float
    side: Side
    dropped: Side
    cautious: float = 0.0

    @property
    def cooking(self) -> float:
        """Demand of cooking, VA."""
        return self.ways[0].demand if self.ways else 0.0

    @property
    def groups(self) -> Mapping[str, float]:
        """The demands by name, VA, that add up to the calculated load."""
        return {
            "general_lighting_demand": self.lighting.demand,
            "fixed_appliance_demand": self.fixed.demand + self.own.demand,
            "vehicle_charging_demand": self.chargers.demand,
            "dryer_demand": self.dryers.demand,
            "cooking_demand": self.cooking,
            "climate_demand": self.side.load,
            "motor_adder": self.side.adder,
        }

    @property
    def connected(self) -> float:
        """All that is connected, VA."""
        groups = (self.lighting, self.fixed, self.own, self.chargers, self.dryers)
        out = dropped_only(self.side, self.dropped)
        climate = total(self.side.loads) + total(out)
        return sum(group.connected for group in groups) + total(self.cooked) + climate

    @property
    def calculated(self) -> float:
        """The calculated load, VA."""
        return sum(self.groups.values())


def calculate(entries: DwellingEntries, loads: Loads, edition: Edition) -> Standard:
    """Sums the demands of article 220 part III. Raises :class:`NotCoveredError`."""
    cooked = list(loads.cooking)
    lowered = 0.0
    if cooked:
        lowered = demand.lowered_by_number(
            cooked, lambda group: cooking.demand(list(group), edition)
        )
    side, dropped = larger_side(loads, (*loads.fixed, *loads.own), edition)
    return Standard(
        demand.lighting(
            entries.area or 0.0, entries.small_appliance_circuits, entries.laundry_circuits, edition
        ),
        demand.fixed(loads.fixed, edition),
        demand.own_circuit(loads.own),
        demand.chargers(loads.chargers, edition),
        demand.dryers(loads.dryers, edition),
        loads.cooking,
        tuple(cooking.ways(cooked, edition)),
        lowered,
        side,
        dropped,
    )


def report(found: Standard, edition: Edition, units: UnitSystem) -> Section:
    """The form line by line."""
    worksheet = Worksheet()
    worksheet += demand.report_lighting_connected(found.lighting, edition, units)
    worksheet += demand.report_lighting(found.lighting, edition)
    worksheet += demand.report_fixed(found.fixed, edition)
    lowered(
        worksheet,
        "fixed",
        found.fixed.lowered_by,
        edition.rule("fixed_appliances"),
        found.fixed.loads,
    )
    worksheet += demand.report_own_circuit(found.own)
    worksheet += demand.report_chargers(found.chargers, edition)
    worksheet += demand.report_dryers(found.dryers, edition)
    lowered(
        worksheet, "dryers", found.dryers.lowered_by, edition.rule("dryers"), found.dryers.loads
    )
    _cooking(found, edition, worksheet)
    _climate(found, edition, worksheet)
    side = found.side
    if side.motor:
        worksheet.step(
            "motor_adder",
            say("Largest motor: {name}", name=side.motor.name),
            side.adder,
            "VA",
            f"{figure(side.motor.va)} × {figure(side.share)}",
            edition.limit("largest_motor").rule,
            entries=side.motor.path,
            flow="motor",
        )
    shown = " + ".join(figure(value) for value in found.groups.values() if value)
    words = say("Calculated load, standard method")
    worksheet.result("calculated_load", words, found.calculated, "VA", shown)
    return worksheet.section("standard", say("Standard method"))


def lowered(
    worksheet: Worksheet, name: str, by: float, rule: Rule, loads: tuple[CountedLoad, ...]
) -> None:
    """The line that says that a factor which comes with the number of loads lowered the sum."""
    if by:
        words = say(
            "With fewer loads this group would count {by} VA more: the factor follows the number",
            by=by,
        )
        worksheet.note(f"{name}_lowered", words, rules=rule, entries=paths(loads))


def _cooking(found: Standard, edition: Edition, worksheet: Worksheet) -> None:
    if not found.ways:
        return
    first, *others = found.ways
    lines, entries = cooking.report(first, edition), paths(found.cooked)
    worksheet += lines
    if len(lines) > 1 and lines[-1].value != found.cooking:
        words = say("Cooking together")
        shown = " + ".join(figure(line.value) for line in lines)
        worksheet.sum(
            "cooking_demand", words, found.cooking, "VA", shown, entries=entries, flow="cooking"
        )
    for way in others:
        words = say("{label} would give {demand} VA", label=cooking.label(way), demand=way.demand)
        told = cooking.report(way, edition)
        shown = "; ".join(line.expression for line in told if line.value)
        rule = edition.rule("cooking")
        worksheet.note(f"cooking_other_{way.name}", words, None, "", shown, rule, entries=entries)
    lowered(worksheet, "cooking", found.cooking_lowered, edition.rule("cooking"), found.cooked)


def _climate(found: Standard, edition: Edition, worksheet: Worksheet) -> None:
    side, dropped = found.side, found.dropped
    out = dropped_only(side, dropped)
    heating, rule = side.name == "heating", edition.rule("noncoincident")
    if side.loads:
        words = say("Heating, whole") if heating else say("Cooling, whole")
        if out:
            words = say("Cooling, the larger, whole")
            if heating:
                words = say("Heating, the larger, whole")
        terms = [
            f"{load.count} × {figure(load.va)}" if load.count > 1 else figure(load.va)
            for load in side.loads[:8]
        ]
        rules = (edition.rule("heating") if heating else None, rule if out else None)
        shown, entries = " + ".join(terms), paths(side.loads)
        worksheet.step(
            "climate_demand", words, side.load, "VA", shown, rules, entries=entries, flow="climate"
        )
    if out:
        words = say("Heating {va} VA drops out", va=total(out))
        if dropped.name == "cooling":
            words = say("Cooling {va} VA drops out", va=total(out))
        against = say(
            "{load} + {adder} motor ≥ {less} + {least} motor",
            load=side.load,
            adder=side.adder,
            less=dropped.load,
            least=dropped.adder,
        )
        entries = paths(out)
        worksheet.note(
            "climate_dropped", words, None, "", against, rule, entries=entries, flow="dropped"
        )


def findings(found: Standard, edition: Edition) -> Findings:
    """What the choice between the seasons brings about."""
    told, side, dropped = Findings(), found.side, found.dropped
    out = dropped_only(side, dropped)
    rules = (edition.rule("noncoincident"), edition.rule("largest_motor"))
    others = (*found.fixed.loads, *found.own.loads)
    if out and largest_motor(out) and side.motor and side.motor in others:
        given = {"motor": side.motor.name}
        words = say(
            "Heating is the smaller and drops out, so the largest motor is {motor}.", **given
        )
        if dropped.name == "cooling":
            words = say(
                "Cooling is the smaller and drops out, so the largest motor is {motor}.", **given
            )
        told.remark("motor_from_appliances", words, rules=rules, entries=side.motor.path)
    if out and not fits(dropped.load, side.load):
        words = say(
            "Cooling counts although heating is {by} VA larger: with a quarter of its"
            " motor, {motor} VA, it asks more of the service.",
            by=dropped.load - side.load,
            motor=side.adder,
        )
        told.remark("motor_turns_choice", words, rules=rules)
    return told


def flows(found: Standard, edition: Edition) -> tuple[Flow, ...]:
    """The bands of the drawing: what is connected and what is left of it."""
    return tuple(flow for flow in _flows(found, edition) if flow.connected or flow.calculated)


def _flows(found: Standard, edition: Edition) -> Iterator[Flow]:
    lighting, fixed, own, side = found.lighting, found.fixed, found.own, found.side
    whole, factor = say("whole"), 100 * fixed.factor
    out = total(dropped_only(side, found.dropped))
    by = say("by the demand factors")
    yield Flow("lighting", say("General lighting"), lighting.connected, lighting.demand, by)
    connected, left = fixed.connected + own.connected, fixed.demand + own.demand
    share = say("{percent} %", percent=factor) if fixed.factor < 1 else whole
    yield Flow("fixed", say("Appliances"), connected, left, share)
    words, least = say("Vehicle charging"), say("a least value each")
    yield Flow("charging", words, found.chargers.connected, found.chargers.demand, least)
    least = say("{least} VA at least", least=edition.value("dryer_least"))
    yield Flow("dryers", say("Drying"), found.dryers.connected, found.dryers.demand, least)
    way = cooking.label(found.ways[0]) if found.ways else say("")
    yield Flow("cooking", say("Cooking"), total(found.cooked), found.cooking, way)
    yield Flow("climate", _season(side), side.load, side.load, whole)
    yield Flow("dropped", _season(found.dropped), out, 0.0, say("not at the same time"))
    yield Flow("motor", say("Largest motor"), 0.0, side.adder, say("a quarter more"))


def _season(side: Side) -> Text:
    return say("Heating") if side.name == "heating" else say("Cooling")
