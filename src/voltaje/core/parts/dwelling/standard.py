"""The standard method, line by line as on the paper form."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.codes import Edition
from voltaje.core.electrical.loads import Load, paths, total
from voltaje.core.parts.dwelling.climate import Side, larger_side, largest_motor
from voltaje.core.parts.dwelling.entries import DwellingEntries
from voltaje.core.parts.dwelling.loads import Loads
from voltaje.core.parts.dwelling.outcome import Outcome, lowered_line
from voltaje.core.rules import cooking
from voltaje.core.rules import dwelling_demand as demand
from voltaje.core.units import UnitSystem
from voltaje.core.worksheet import Finding, Flow, Line, Section, figure, fits, say


@dataclass(frozen=True, slots=True)
class Standard:
    """The standard calculation with what the neutral and the lines need of it."""

    outcome: Outcome
    lighting: float
    fixed_factor: float
    cooking: float
    dryers: float
    side: Side
    dropped: Side
    motor: Load | None


def calculate(
    entries: DwellingEntries, loads: Loads, edition: Edition, units: UnitSystem = "us"
) -> Standard:
    """Sums the demands of article 220 part III. Raises :class:`NotCoveredError`."""
    lines: list[Line] = []
    findings: list[Finding] = []
    lighting = demand.lighting(
        entries.area or 0.0,
        entries.small_appliance_circuits,
        entries.laundry_circuits,
        edition,
        units,
    )
    fixed = demand.fixed(loads.fixed, edition)
    own = demand.own_circuit(loads.own, edition)
    chargers = demand.chargers(loads.chargers, edition)
    dryers = demand.dryers(loads.dryers, edition)
    lines += [*lighting.lines, *fixed.lines]
    if fixed.lowered_by:
        rule = edition.rule("fixed_appliances")
        lines.append(lowered_line("fixed", fixed.lowered_by, rule, paths(loads.fixed)))
    lines += [*own.lines, *chargers.lines, *dryers.lines]
    if dryers.lowered_by:
        rule = edition.rule("dryers")
        lines.append(lowered_line("dryers", dryers.lowered_by, rule, paths(loads.dryers)))
    cooked = list(loads.cooking)
    ways = cooking.ways(cooked, edition)
    cooking_demand = ways[0].demand if ways else 0.0
    if ways:
        lines += ways[0].lines
        if len(ways[0].lines) > 1 and ways[0].lines[-1].value != cooking_demand:
            lines.append(
                Line("cooking_demand", say("Cooking together"), cooking_demand, "VA",
                     " + ".join(figure(line.value) for line in ways[0].lines), kind="sum",
                     flow="cooking", entries=paths(cooked))
            )  # fmt: skip
        lines += [
            Line(
                f"cooking_other_{way.name}",
                say("{label} would give {demand} VA", label=way.label, demand=way.demand),
                None,
                expression="; ".join(line.expression for line in way.lines if line.value),
                rules=(edition.rule("cooking"),),
                entries=paths(cooked),
                kind="note",
            )
            for way in ways[1:]
        ]
        by = demand.lowered_by_number(cooked, lambda group: cooking.demand(list(group), edition))
        if by:
            lines.append(lowered_line("cooking", by, edition.rule("cooking"), paths(cooked)))
    other_motors = (*loads.fixed, *loads.own)
    side, dropped = larger_side(loads, other_motors, edition)
    lines += _climate_lines(side, dropped, edition)
    motor = side.motor
    adder = side.adder
    if motor:
        lines.append(
            Line(
                "motor_adder",
                say("Largest motor: {name}", name=motor.name),
                adder,
                "VA",
                f"{figure(motor.va)} × {figure(side.share)}",
                (edition.limit("largest_motor").rule,),
                entries=(motor.path,),
                flow="motor",
            )
        )
    groups = {
        "general_lighting_demand": lighting.demand,
        "fixed_appliance_demand": fixed.demand + own.demand,
        "vehicle_charging_demand": chargers.demand,
        "dryer_demand": dryers.demand,
        "cooking_demand": cooking_demand,
        "climate_demand": side.load,
        "motor_adder": adder,
    }
    calculated = sum(groups.values())
    lines.append(
        Line(
            "calculated_load",
            say("Calculated load, standard method"),
            calculated,
            "VA",
            " + ".join(figure(value) for value in groups.values() if value),
            kind="result",
        )
    )
    findings += _climate_findings(side, dropped, other_motors, edition)
    connected = (
        lighting.connected + fixed.connected + own.connected + chargers.connected
        + dryers.connected + total(cooked) + total(side.loads) + total(dropped_only(side, dropped))
    )  # fmt: skip
    flows = _flows(
        (
            ("lighting", "General lighting", lighting.connected, lighting.demand,
             say("by the demand factors")),
            ("fixed", "Appliances", fixed.connected + own.connected, fixed.demand + own.demand,
             say("{percent} %", percent=100 * fixed.factor) if fixed.factor < 1
             else say("whole")),
            ("charging", "Vehicle charging", chargers.connected, chargers.demand,
             say("a least value each")),
            ("dryers", "Drying", dryers.connected, dryers.demand,
             say("{least} VA at least", least=edition.value("dryer_least"))),
            ("cooking", "Cooking", total(cooked), cooking_demand,
             ways[0].label if ways else say("")),
            ("climate", "Heating" if side.name == "heating" else "Cooling", side.load, side.load,
             say("whole")),
            ("dropped", "Heating" if dropped.name == "heating" else "Cooling",
             total(dropped_only(side, dropped)), 0.0, say("not at the same time")),
            ("motor", "Largest motor", 0.0, adder, say("a quarter more")),
        )
    )  # fmt: skip
    section = Section("standard", say("Standard method"), tuple(lines))
    outcome = Outcome(section, connected, calculated, flows, groups, tuple(findings))
    return Standard(
        outcome, lighting.demand, fixed.factor, cooking_demand, dryers.demand, side, dropped, motor
    )


def dropped_only(side: Side, dropped: Side) -> list[Load]:
    """Loads of the dropped side that do not run on the counted side too."""
    return [load for load in dropped.loads if load not in side.loads]


def _climate_lines(side: Side, dropped: Side, edition: Edition) -> list[Line]:
    lines: list[Line] = []
    out = dropped_only(side, dropped)
    if side.loads:
        label = say("Heating") if side.name == "heating" else say("Cooling")
        rules = [edition.rule("noncoincident")] if out else []
        if side.name == "heating":
            rules.insert(0, edition.rule("heating"))
        lines.append(
            Line(
                "climate_demand",
                say("{label}, the larger, whole", label=label)
                if out
                else say("{label}, whole", label=label),
                side.load,
                "VA",
                " + ".join(
                    f"{load.count} × {figure(load.va)}" if load.count > 1 else figure(load.va)
                    for load in side.loads[:8]
                ),
                tuple(rules),
                entries=paths(side.loads),
                flow="climate",
            )
        )
    if out:
        lines.append(
            Line(
                "climate_dropped",
                say("{label} {va} VA drops out",
                    label="Cooling" if dropped.name == "cooling" else "Heating", va=total(out)),
                None,
                expression=(
                    f"{figure(side.load)} + {figure(side.adder)} motor ≥ "
                    f"{figure(dropped.load)} + {figure(dropped.adder)} motor"
                ),
                rules=(edition.rule("noncoincident"),),
                entries=paths(out),
                kind="note",
                flow="dropped",
            )
        )  # fmt: skip
    return lines


def _climate_findings(
    side: Side, dropped: Side, other_motors: tuple[Load, ...], edition: Edition
) -> list[Finding]:
    out = dropped_only(side, dropped)
    found: list[Finding] = []
    if out and largest_motor(out) and side.motor and side.motor in other_motors:
        found.append(
            Finding(
                "remark",
                "motor_from_appliances",
                say(
                    "{what} is the smaller and drops out, so the largest motor is {motor}.",
                    what="Cooling" if dropped.name == "cooling" else "Heating",
                    motor=side.motor.name,
                ),
                rules=(edition.rule("noncoincident"), edition.rule("largest_motor")),
                entries=(side.motor.path,),
            )
        )
    if out and not fits(dropped.load, side.load):
        found.append(
            Finding(
                "remark",
                "motor_turns_choice",
                say(
                    "Cooling counts although heating is {by} VA larger: with a quarter of its"
                    " motor, {motor} VA, it asks more of the service.",
                    by=dropped.load - side.load,
                    motor=side.adder,
                ),
                rules=(edition.rule("noncoincident"), edition.rule("largest_motor")),
            )
        )
    return found


def _flows(rows: tuple[tuple[str, str, float, float, object], ...]) -> tuple[Flow, ...]:
    return tuple(
        Flow(name, say(label), connected, calculated, why)  # type: ignore[arg-type]
        for name, label, connected, calculated, why in rows
        if connected or calculated
    )
