"""Dwellings on one feeder or service, counted together: the factors of article 220 part III go by
the lights, appliances, dryers and ranges of all of them, not of each by itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import chain

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.loads import CountedLoad, Household, total
from voltaje.core.report import Rule, Text, Worksheet, figure, fits, say
from voltaje.core.rules.north_america import cooking
from voltaje.core.rules.north_america import dwelling_demand as demand


@dataclass(frozen=True, slots=True)
class Item:
    """One line of the sum: what it counts, VA left of it, how, by which rules."""

    name: str
    words: Text
    va: float
    shown: str
    rules: tuple[Rule | None, ...]


@dataclass(frozen=True, slots=True)
class Together:
    """Several dwellings: how ``many``, the lines of the sum, and VA of ``each`` counted by itself.
    ``optional`` says that the method for three and more is taken."""

    many: int
    items: tuple[Item, ...]
    each: float
    optional: bool

    @property
    def demand(self) -> float:
        """VA of all of them."""
        return sum(item.va for item in self.items)


def together(homes: Sequence[Household], each: float, edition: Edition) -> Together:
    """Dwellings counted together: by the optional method where all of them go by theirs and it may
    be used, else by the standard one. ``each`` is the sum of their own calculated loads. Raises
    :class:`NotCoveredError` for cooking that the table does not have."""
    many = len(homes)
    least = edition.value("dwellings_together_least")
    if all(home.optional and home.electric for home in homes) and fits(least, many):
        return Together(many, (_optional(homes, edition),), each, True)
    return Together(many, tuple(_standard(homes, edition)), each, False)


def _all(homes: Sequence[Household], name: str) -> list[CountedLoad]:
    return list(chain.from_iterable(getattr(home, name) for home in homes))


def _optional(homes: Sequence[Household], edition: Edition) -> Item:
    """All that is connected, at the table's percentage."""
    connected = sum(home.lighting + home.climate for home in homes)
    connected += sum(
        total(_all(homes, name)) for name in ("fixed", "own", "chargers", "dryers", "cooking")
    )
    percent = _percent(len(homes), edition)
    words = say(
        "{many} dwellings, connected load, optional method for multifamily dwellings",
        many=len(homes),
    )
    shown = f"{figure(connected)} × {figure(percent.value / 100, 4)}"
    value = connected * percent.value / 100
    return Item("dwellings_optional", words, value, shown, (percent.rule,))


def _percent(many: int, edition: Edition) -> Cell:
    row = edition.row_for("dwellings_together", many)
    return edition.cell("dwellings_together", row, "percent")


def _standard(homes: Sequence[Household], edition: Edition) -> list[Item]:
    """Each group of all dwellings by its own table; the largest motor of all."""
    many = len(homes)
    parts = demand.lighting_parts(sum(home.lighting for home in homes), edition)
    rules = tuple(percent.rule for _, percent in parts)
    found = [
        Item(
            "dwellings_lighting",
            say("Lighting, small appliances, laundry of {many} dwellings", many=many),
            sum(part * percent.value / 100 for part, percent in parts),
            demand.parts_shown(parts),
            rules,
        )
    ]
    fixed = demand.fixed(_all(homes, "fixed"), edition)
    share = edition.limit("fixed_factor")
    if fixed.loads:
        count = sum(load.count for load in fixed.eligible)
        shown = f"{figure(total(fixed.eligible))} × {figure(fixed.factor)}"
        if fixed.below:
            shown += f" + {figure(total(fixed.below))}"
        words = say("{count} appliances fastened in place", count=count)
        found.append(Item("dwellings_fixed", words, fixed.demand, shown, (share.rule,)))
    own = demand.own_circuit(_all(homes, "own"))
    if own.loads:
        words = say("On circuits of their own, whole")
        found.append(Item("dwellings_own", words, own.demand, "", ()))
    chargers = demand.chargers(_all(homes, "chargers"), edition)
    if chargers.loads:
        least = edition.limit("charger_least")
        words = say("Vehicle charging, {least} VA at least each", least=least.value)
        found.append(Item("dwellings_charging", words, chargers.demand, "", (least.rule,)))
    dryers = demand.dryers(_all(homes, "dryers"), edition)
    if dryers.loads:
        percent = dryers.percent or demand.dryer_demand(dryers.loads, edition)[1]
        count = sum(load.count for load in dryers.loads)
        words = say("Clothes dryers, {count} at {percent} %", count=count, percent=percent.value)
        found.append(Item("dwellings_dryers", words, dryers.demand, "", (percent.rule,)))
    ways = cooking.ways(_all(homes, "cooking"), edition)
    if ways:
        lines = cooking.report(ways[0], edition)
        shown = "; ".join(line.expression for line in lines if line.expression)
        words = say("Cooking, {label}", label=cooking.label(ways[0]))
        rules = tuple(dict.fromkeys(rule for line in lines for rule in line.rules))
        found.append(Item("dwellings_cooking", words, ways[0].demand, shown, rules))
    climate = sum(home.climate for home in homes)
    if climate:
        words = say("Heating or cooling of each, the larger, whole")
        rule = edition.rule("noncoincident")
        found.append(Item("dwellings_climate", words, climate, "", (rule,)))
    motor = max(home.motor for home in homes)
    if motor:
        words = say("A quarter of the largest motor of all")
        rule = edition.limit("largest_motor").rule
        found.append(Item("dwellings_motor", words, motor, "", (rule,)))
    return found


def report(found: Together, edition: Edition) -> Worksheet:
    """The lines of the sum, and what each dwelling by itself would give."""
    worksheet = Worksheet()
    for item in found.items:
        worksheet.step(
            item.name, item.words, item.va, "VA", item.shown, item.rules, flow="dwelling"
        )
    words = say("Calculated separately they come to {each} VA", each=found.each)
    note = say("factors that go by numbers count all dwellings of one feeder or service")
    rule = edition.rule("dwellings_together" if found.optional else "fixed_appliances")
    worksheet.note("dwellings_each", words, rules=rule, note=note)
    return worksheet
