"""Demand of a dwelling's loads, article 220 part III: each function one line of the form."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.loads import CountedLoad, paths, total
from voltaje.core.quantities import UnitSystem, square_feet
from voltaje.core.report import Worksheet, WorksheetLine, figure, fits, say
from voltaje.core.rules.north_america.motors import SINGLE_PHASE_VOLTS, single_phase_current

WRITTEN_OUT = 6  # no code figure: how many terms a line holds


@dataclass(frozen=True, slots=True)
class GroupDemand:
    """A group's demand in VA: its ``loads``, those of them ``below`` a floor, which count whole,
    the ``factor`` of the others, the table's ``percent``. ``lowered_by`` is the VA by which the
    group would be larger with one load fewer, because a factor comes with their number."""

    demand: float = 0.0
    connected: float = 0.0
    loads: tuple[CountedLoad, ...] = ()
    below: tuple[CountedLoad, ...] = ()
    factor: float = 1.0
    percent: Cell | None = None
    lowered_by: float = 0.0

    @property
    def eligible(self) -> tuple[CountedLoad, ...]:
        """The loads that the factor is for."""
        return tuple(load for load in self.loads if load not in self.below)


@dataclass(frozen=True, slots=True)
class Lighting:
    """General lighting and receptacles, small-appliance and laundry circuits, VA: each of them,
    ``connected`` in all, their ``demand`` and its ``parts`` as (VA in the step, its percent)."""

    area: float
    small_circuits: int
    laundry_circuits: int
    general: float
    small: float
    laundry: float
    demand: float
    parts: tuple[tuple[float, Cell], ...]

    @property
    def connected(self) -> float:
        return self.general + self.small + self.laundry


Step = TypeVar("Step")


def tiered(load: float, steps: Sequence[tuple[float, Step]]) -> list[tuple[float, Step]]:
    """The parts of a load in each step, as (VA in the step, its percent). ``steps`` are (above VA,
    percent), rising."""
    found = []
    for index, (above, percent) in enumerate(steps):
        upper = steps[index + 1][0] if index + 1 < len(steps) else float("inf")
        part = min(load, upper) - above
        if part > 0:
            found.append((part, percent))
    return found


def lighting(area: float, small_appliance: int, laundry: int, edition: Edition) -> Lighting:
    """General lighting and receptacles, small-appliance and laundry circuits. ``area`` in ft²."""
    general = square_feet(area) * edition.value("unit_load")
    small = small_appliance * edition.value("small_appliance_va")
    wash = laundry * edition.value("laundry_va")
    parts = lighting_parts(general + small + wash, edition)
    demand = sum(part * percent.value / 100 for part, percent in parts)
    return Lighting(area, small_appliance, laundry, general, small, wash, demand, parts)


def lighting_parts(load: float, edition: Edition) -> tuple[tuple[float, Cell], ...]:
    """A dwelling's lighting by the steps of Table 220.45 (220.42 before 2023): VA in each step and
    its percent."""
    column = edition.cells("lighting_demand", "percent")
    return tuple(tiered(load, [(float(above), cell) for above, cell in column.items()]))


def report_lighting(found: Lighting, edition: Edition) -> tuple[WorksheetLine, ...]:
    """The sum of the three, and its demand by the table."""
    worksheet = Worksheet("lighting")
    each = (found.general, found.small, found.laundry)
    worksheet.sum(
        "general_lighting_connected",
        say("Lighting, small appliances, laundry"),
        found.connected,
        "VA",
        " + ".join(figure(va) for va in each),
    )
    steps = [float(above) for above in edition.rows("lighting_demand")]
    words = say("By the table")
    if len(steps) > 1:
        words = say("First {first} whole, the rest by the table", first=figure(steps[1]))
    worksheet.sum(
        "general_lighting_demand",
        words,
        found.demand,
        "VA",
        parts_shown(found.parts),
        tuple(percent.rule for _, percent in found.parts),
        entries=("area", "small_appliance_circuits", "laundry_circuits"),
    )
    return tuple(worksheet)


def parts_shown(parts: Iterable[tuple[float, Cell]]) -> str:
    """``3,000 × 1 + 4,650 × 0.35``."""
    return " + ".join(f"{figure(va)} × {figure(cell.value / 100, 4)}" for va, cell in parts)


def report_lighting_connected(
    found: Lighting, edition: Edition, units: UnitSystem = "us"
) -> tuple[WorksheetLine, ...]:
    """The three lines at the head of every form, before any demand factor."""
    worksheet, each = Worksheet("lighting"), edition.limit("unit_load")
    small, wash = edition.limit("small_appliance_va"), edition.limit("laundry_va")
    shown = f"{figure(square_feet(found.area))} ft² × {figure(each.value)} VA"
    if units == "metric":
        # the code's 33 VA/m² is this figure rounded up; 3 VA/ft² is taken in both systems
        shown = f"{figure(round(found.area, 6))} m² = {shown}"
    words = say("General lighting and receptacles")
    worksheet.step("general_lighting", words, found.general, "VA", shown, each.rule, entries="area")
    for name, words, va, count, cell in (
        (
            "small_appliance",
            say("Small-appliance circuits"),
            found.small,
            found.small_circuits,
            small,
        ),
        ("laundry", say("Laundry circuits"), found.laundry, found.laundry_circuits, wash),
    ):
        shown = f"{count} × {figure(cell.value)}"
        worksheet.step(name, words, va, "VA", shown, cell.rule, entries=f"{name}_circuits")
    return tuple(worksheet)


def counts_for_fixed(load: CountedLoad, edition: Edition) -> bool:
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
    volts = min(SINGLE_PHASE_VOLTS, key=lambda v: abs(v - load.va / load.amperes))
    return fits(single_phase_current(floor, volts, edition).value, load.amperes)


def fixed_factor(loads: Sequence[CountedLoad], edition: Edition) -> float:
    """What of them counts: less than 1 from a number on (220.53)."""
    many = fits(edition.value("fixed_count"), sum(load.count for load in loads))
    return edition.value("fixed_factor") / 100 if many else 1.0


def fixed(loads: Sequence[CountedLoad], edition: Edition) -> GroupDemand:
    """Appliances fastened in place, with the 75 % rule as the edition states it."""
    eligible = tuple(load for load in loads if counts_for_fixed(load, edition))
    below = tuple(load for load in loads if load not in eligible)
    factor = fixed_factor(eligible, edition)

    def demand(group: Sequence[CountedLoad]) -> float:
        return total(group) * fixed_factor(group, edition)

    return GroupDemand(
        total(eligible) * factor + total(below),
        total(loads),
        tuple(loads),
        below,
        factor,
        lowered_by=lowered_by_number(eligible, demand),
    )


def report_fixed(found: GroupDemand, edition: Edition) -> tuple[WorksheetLine, ...]:
    """Those that count among the number, and those below the floor, whole."""
    worksheet, share = Worksheet("fixed"), edition.limit("fixed_factor")
    eligible = found.eligible
    if eligible:
        count = sum(load.count for load in eligible)
        words, shown = say("{count} fastened in place, whole", count=count), _sum(eligible)
        rule = edition.rule("fixed_appliances")
        if found.factor < 1:
            words = say(
                "{count} fastened in place, at {percent} %", count=count, percent=share.value
            )
            shown, rule = f"({shown}) × {figure(found.factor)}", share.rule
        value = total(eligible) * found.factor
        paths_ = paths(eligible)
        worksheet.step("fixed_appliances", words, value, "VA", shown, rule, entries=paths_)
    if found.below:
        watts = edition.limit("fixed_floor")
        words = say(
            "Fastened in place under {watts} W and {hp} hp, whole",
            watts=watts.value,
            hp=edition.value("fixed_floor_hp"),
        )
        shown, paths_ = _sum(found.below), paths(found.below)
        value = total(found.below)
        worksheet.step("fixed_small", words, value, "VA", shown, watts.rule, entries=paths_)
    return tuple(worksheet)


def own_circuit(loads: Sequence[CountedLoad]) -> GroupDemand:
    """Cord-connected appliances on a circuit of their own: whole, outside the 75 % rule."""
    return GroupDemand(total(loads), total(loads), tuple(loads))


def report_own_circuit(found: GroupDemand) -> tuple[WorksheetLine, ...]:
    """Their line, where there are any."""
    worksheet = Worksheet("fixed")
    if found.loads:
        words = say("On a circuit of their own, whole")
        shown = _sum(found.loads)
        worksheet.step("own_circuit", words, found.demand, "VA", shown, entries=paths(found.loads))
    return tuple(worksheet)


def chargers(loads: Sequence[CountedLoad], edition: Edition) -> GroupDemand:
    """Vehicle charging where the edition gives it a rule of its own: a least value, each."""
    if not loads:
        return GroupDemand()
    least = edition.value("charger_least")
    demand = sum(max(load.va, least) * load.count for load in loads)
    return GroupDemand(demand, total(loads), tuple(loads))


def report_chargers(found: GroupDemand, edition: Edition) -> tuple[WorksheetLine, ...]:
    """Their line, where there are any."""
    worksheet = Worksheet("charging")
    if found.loads:
        least = edition.limit("charger_least")
        words = say("Vehicle charging, {least} VA at least each", least=least.value)
        terms = [_times(load.count, max(load.va, least.value)) for load in found.loads]
        shown, paths_ = " + ".join(terms), paths(found.loads)
        value = found.demand
        worksheet.step("vehicle_charging", words, value, "VA", shown, least.rule, entries=paths_)
    return tuple(worksheet)


def dryer_demand(loads: Sequence[CountedLoad], edition: Edition) -> tuple[float, Cell]:
    """Demand of clothes dryers in VA, and the table's percent (Table 220.54)."""
    count = sum(load.count for load in loads)
    percent = edition.cell("dryers", edition.row_for("dryers", count), "percent")
    least = edition.value("dryer_least")
    each = sum(sorted(max(load.va, least) * load.count for load in loads))
    return each * percent.value / 100, percent


def dryers(loads: Sequence[CountedLoad], edition: Edition) -> GroupDemand:
    """Clothes dryers: 5,000 VA at least each, Table 220.54 from the fifth on."""
    if not loads:
        return GroupDemand()
    demand, percent = dryer_demand(loads, edition)
    lowered = lowered_by_number(
        loads, lambda group: dryer_demand(group, edition)[0] if group else 0.0
    )
    return GroupDemand(
        demand, total(loads), tuple(loads), (), percent.value / 100, percent, lowered
    )


def report_dryers(found: GroupDemand, edition: Edition) -> tuple[WorksheetLine, ...]:
    """Their line, where there are any."""
    worksheet, loads = Worksheet("dryers"), found.loads
    if not loads:
        return ()
    count, least = sum(load.count for load in loads), edition.value("dryer_least")
    percent = found.percent or dryer_demand(loads, edition)[1]
    words = say("Clothes dryer, {least} VA at least", least=least)
    if count > 1:
        words = say("Clothes dryers, {count} at {percent} %", count=count, percent=percent.value)
    shown = " + ".join(_times(load.count, max(load.va, least)) for load in loads)
    shown = f"({shown})" if " " in shown else shown
    shown = f"{shown} × {figure(percent.value)} %"
    worksheet.step("dryers", words, found.demand, "VA", shown, percent.rule, entries=paths(loads))
    return tuple(worksheet)


def lowered_by_number(
    loads: Sequence[CountedLoad], demand: Callable[[Sequence[CountedLoad]], float]
) -> float:
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


def _sum(loads: Sequence[CountedLoad]) -> str:
    if len(loads) > WRITTEN_OUT:
        return str(say("sum of {count} entries", count=len(loads)))
    return " + ".join(_times(load.count, load.va) for load in loads)
