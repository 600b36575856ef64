"""Demand of a dwelling's loads, article 220 part III: each function one line of the form."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from voltaje.core import units as unit_table
from voltaje.core.codes import Edition
from voltaje.core.electrical.loads import Load, paths, total
from voltaje.core.rules.motors import SINGLE_PHASE_COLUMNS, single_phase_current
from voltaje.core.units import UnitSystem
from voltaje.core.worksheet import Line, figure, fits, say

WRITTEN_OUT = 6  # no code figure: how many terms a line holds


@dataclass(frozen=True, slots=True)
class Counted:
    """A group's demand in VA and the lines that show it. ``lowered_by`` is the VA by which the
    group would be larger with one load fewer, because a factor comes with their number."""

    demand: float
    connected: float
    lines: tuple[Line, ...]
    lowered_by: float = 0.0
    factor: float = 1.0


def tiered(load: float, steps: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """The parts of a load in each step, as (VA in the step, percent). ``steps`` are (above VA,
    percent), rising."""
    found = []
    for index, (above, percent) in enumerate(steps):
        upper = steps[index + 1][0] if index + 1 < len(steps) else float("inf")
        part = min(load, upper) - above
        if part > 0:
            found.append((part, percent))
    return found


def lighting(
    area: float, small_appliance: int, laundry: int, edition: Edition, units: UnitSystem = "us"
) -> Counted:
    """General lighting and receptacles, small-appliance and laundry circuits. ``area`` in ft²."""
    lines = list(lighting_connected(area, small_appliance, laundry, edition, units))
    connected = sum(line.value or 0.0 for line in lines)
    column = edition.table("lighting_demand").column("percent")
    steps = {float(above): percent for above, percent in column.items()}
    parts = tiered(connected, list(steps.items()))
    demand = sum(part * percent / 100 for part, percent in parts)
    lines.append(
        Line(
            "general_lighting_connected",
            say("Lighting, small appliances, laundry"),
            connected,
            "VA",
            " + ".join(figure(line.value) for line in lines),
            kind="sum",
            flow="lighting",
        )
    )
    last = list(column)[len(parts) - 1]
    lines.append(
        Line(
            "general_lighting_demand",
            say("First {first} whole, the rest by the table", first=figure(list(steps)[1]))
            if len(steps) > 1
            else say("By the table"),
            demand,
            "VA",
            " + ".join(f"{figure(part)} × {figure(percent / 100)}" for part, percent in parts),
            (edition.rule("lighting_demand", last, "percent"),),
            entries=("area", "small_appliance_circuits", "laundry_circuits"),
            kind="sum",
            flow="lighting",
        )
    )
    return Counted(demand, connected, tuple(lines))


def lighting_connected(
    area: float, small_appliance: int, laundry: int, edition: Edition, units: UnitSystem = "us"
) -> tuple[Line, ...]:
    """The three lines at the head of every form, before any demand factor."""
    each = edition.limit("unit_load")
    small, wash = edition.limit("small_appliance_va"), edition.limit("laundry_va")
    shown = f"{figure(area)} ft² × {figure(each.value)} VA"
    if units == "metric":
        # the code's 33 VA/m² is this figure rounded up; 3 VA/ft² is taken in both systems
        shown = f"{figure(area * unit_table.factor('square_foot', 'square_metre'))} m² = {shown}"
    return (
        Line(
            "general_lighting",
            say("General lighting and receptacles"),
            area * each.value,
            "VA",
            shown,
            (each.rule,),
            entries=("area",),
            flow="lighting",
        ),
        Line(
            "small_appliance",
            say("Small-appliance circuits"),
            small_appliance * small.value,
            "VA",
            f"{small_appliance} × {figure(small.value)}",
            (small.rule,),
            entries=("small_appliance_circuits",),
            flow="lighting",
        ),
        Line(
            "laundry",
            say("Laundry circuits"),
            laundry * wash.value,
            "VA",
            f"{laundry} × {figure(wash.value)}",
            (wash.rule,),
            entries=("laundry_circuits",),
            flow="lighting",
        ),
    )


def counts_for_fixed(load: Load, edition: Edition) -> bool:
    """Whether an appliance fastened in place may count among the four, by this edition's floor:
    500 W, or 1/4 hp for a motor. A motor entered in horsepower is judged by that, whatever its VA;
    one entered in VA or A by what a 1/4 hp motor draws by the table at its volts."""
    if not edition.has_limit("fixed_floor"):
        return True
    if not load.motor:
        return fits(edition.value("fixed_floor"), load.va)
    floor = edition.value("fixed_floor_hp")
    if load.horsepower:
        return fits(floor, load.horsepower)
    if not load.amperes:
        return False
    volts = min(SINGLE_PHASE_COLUMNS, key=lambda v: abs(v - load.va / load.amperes))
    return fits(single_phase_current(floor, volts, edition).value, load.amperes)


def fixed_factor(loads: Sequence[Load], edition: Edition) -> float:
    """What of them counts: less than 1 from a number on (220.53)."""
    many = fits(edition.value("fixed_count"), sum(load.count for load in loads))
    return edition.value("fixed_factor") / 100 if many else 1.0


def fixed(loads: Sequence[Load], edition: Edition) -> Counted:
    """Appliances fastened in place, with the 75 % rule as the edition states it."""
    eligible = [load for load in loads if counts_for_fixed(load, edition)]
    below = [load for load in loads if load not in eligible]
    factor = fixed_factor(eligible, edition)
    rule, share = edition.rule("fixed_appliances"), edition.limit("fixed_factor")
    lines: list[Line] = []
    count = sum(load.count for load in eligible)
    connected = total(eligible)
    if eligible:
        label = (
            say("{count} fastened in place, at {percent} %", count=count, percent=share.value)
            if factor < 1
            else say("{count} fastened in place, whole", count=count)
        )
        sums = _sum(eligible)
        lines.append(
            Line(
                "fixed_appliances",
                label,
                connected * factor,
                "VA",
                f"({sums}) × {figure(factor)}" if factor < 1 else sums,
                (share.rule if factor < 1 else rule,),
                entries=paths(eligible),
                flow="fixed",
            )
        )
    if below:
        lines.append(
            Line(
                "fixed_small",
                say(
                    "Fastened in place under {watts} W and {hp} hp, whole",
                    watts=edition.value("fixed_floor"),
                    hp=edition.value("fixed_floor_hp"),
                ),
                total(below),
                "VA",
                _sum(below),
                (edition.limit("fixed_floor").rule,),
                entries=paths(below),
                flow="fixed",
            )
        )
    lowered = lowered_by_number(eligible, lambda group: total(group) * fixed_factor(group, edition)
    )  # fmt: skip
    return Counted(connected * factor + total(below), total(loads), tuple(lines), lowered, factor)


def own_circuit(loads: Sequence[Load], edition: Edition) -> Counted:
    """Cord-connected appliances on a circuit of their own: whole, outside the 75 % rule."""
    if not loads:
        return Counted(0.0, 0.0, ())
    line = Line(
        "own_circuit",
        say("On a circuit of their own, whole"),
        total(loads),
        "VA",
        _sum(loads),
        entries=paths(loads),
        flow="fixed",
    )
    return Counted(total(loads), total(loads), (line,))


def chargers(loads: Sequence[Load], edition: Edition) -> Counted:
    """Vehicle charging where the edition gives it a rule of its own: a least value, each."""
    if not loads:
        return Counted(0.0, 0.0, ())
    least = edition.limit("charger_least")
    demand = sum(max(load.va, least.value) * load.count for load in loads)
    line = Line(
        "vehicle_charging",
        say("Vehicle charging, {least} VA at least each", least=least.value),
        demand,
        "VA",
        " + ".join(_times(load.count, max(load.va, least.value)) for load in loads),
        (least.rule,),
        entries=paths(loads),
        flow="charging",
    )
    return Counted(demand, total(loads), (line,))


def dryer_demand(loads: Sequence[Load], edition: Edition) -> tuple[float, str, float]:
    """Demand of clothes dryers in VA, the table's row, and its percent."""
    count = sum(load.count for load in loads)
    row = edition.table("dryers").span(count)
    percent = edition.cell("dryers", row, "percent").value
    least = edition.value("dryer_least")
    each = sum(sorted(max(load.va, least) * load.count for load in loads))
    return each * percent / 100, row, percent


def dryers(loads: Sequence[Load], edition: Edition) -> Counted:
    """Clothes dryers: 5,000 VA at least each, Table 220.54 from the fifth on."""
    if not loads:
        return Counted(0.0, 0.0, ())
    demand, row, percent = dryer_demand(loads, edition)
    count = sum(load.count for load in loads)
    least = edition.limit("dryer_least")
    terms = " + ".join(_times(load.count, max(load.va, least.value)) for load in loads)
    line = Line(
        "dryers",
        say("Clothes dryers, {count} at {percent} %", count=count, percent=percent)
        if count > 1
        else say("Clothes dryer, {least} VA at least", least=least.value),
        demand,
        "VA",
        f"({terms}) × {figure(percent / 100)}" if percent < 100 else terms,
        (edition.rule("dryers", row, "percent"),),
        entries=paths(loads),
        flow="dryers",
    )
    lowered = lowered_by_number(
        loads, lambda group: dryer_demand(group, edition)[0] if group else 0.0
    )
    return Counted(demand, total(loads), (line,), lowered)


def lowered_by_number(loads: Sequence[Load], demand: Callable[[Sequence[Load]], float]) -> float:
    """By how many VA the group would count more without one of its loads or one of its entries:
    a factor that comes with the number of loads can make the last one added lower the whole."""
    now = demand(loads)
    most = 0.0
    for index, load in enumerate(loads):
        without = [*loads[:index], *loads[index + 1 :]]
        most = max(most, demand(without) - now)
        if load.count > 1:
            without.insert(index, replace(load, count=load.count - 1))
            most = max(most, demand(without) - now)
    return most if most > 1e-6 else 0.0


def _times(count: int, va: float) -> str:
    return figure(va) if count == 1 else f"{count} × {figure(va)}"


def _sum(loads: Sequence[Load]) -> str:
    if len(loads) > WRITTEN_OUT:
        return f"sum of {len(loads)} entries"
    return " + ".join(_times(load.count, load.va) for load in loads)
