"""Heating against cooling: the noncoincident sides, and the six lines of the optional method."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from voltaje.core.codes import Edition
from voltaje.core.electrical.loads import CountedLoad, total
from voltaje.core.kinds.dwelling.nec.loads import Loads
from voltaje.core.report import MethodAlternative, Text, fits, say, words
from voltaje.core.rules.north_america.dwelling_demand import lowered_by_number


@dataclass(frozen=True, slots=True)
class Side:
    """Loads that run together in one season; ``adder`` is a quarter of the largest motor that
    the calculation then holds, and ``motor`` that motor; ``share`` that quarter."""

    name: str
    loads: tuple[CountedLoad, ...]
    motor: CountedLoad | None
    share: float

    @property
    def load(self) -> float:
        return total(self.loads)

    @property
    def adder(self) -> float:
        return self.motor.va * self.share if self.motor else 0.0


def dropped_only(side: Side, dropped: Side) -> list[CountedLoad]:
    """Loads of the dropped side that do not run on the counted side too."""
    return [load for load in dropped.loads if load not in side.loads]


def motor_share(edition: Edition) -> float:
    """What the largest motor counts more, as a factor (220.50, 430.24)."""
    return edition.value("largest_motor") / 100


def largest_motor(loads: Sequence[CountedLoad]) -> CountedLoad | None:
    """The motor with the largest load, VA."""
    motors = [load for load in loads if load.motor and load.va > 0]
    return max(motors, key=lambda load: (load.va, load.path), default=None)


def sides(loads: Loads, other_motors: Sequence[CountedLoad], edition: Edition) -> tuple[Side, Side]:
    """Heating and cooling, each with the largest motor it leaves in the calculation."""
    pump = loads.of("heat_pump")
    alone = loads.of("backup_alone")
    together = pump + loads.of("backup")
    if total(alone) > total(together):
        together = alone + loads.of("backup")
    heating = loads.of("heating", "storage", "fan") + together
    cooling = loads.of("cooling", "fan") + pump
    share = motor_share(edition)
    return (
        Side("heating", heating, largest_motor((*heating, *other_motors)), share),
        Side("cooling", cooling, largest_motor((*cooling, *other_motors)), share),
    )


def larger_side(
    loads: Loads, other_motors: Sequence[CountedLoad], edition: Edition
) -> tuple[Side, Side]:
    """(the side that counts, the side that drops out). Each side is compared with the motor
    adder that it brings, so that dropping one never understates the motor."""
    heating, cooling = sides(loads, other_motors, edition)
    if cooling.load + cooling.adder > heating.load + heating.adder and not fits(
        cooling.load + cooling.adder, heating.load + heating.adder
    ):
        return cooling, heating
    return heating, cooling


@dataclass(frozen=True, slots=True)
class Selection:
    """One of the six lines of the optional method, VA."""

    name: str
    value: float
    chosen: bool


def selections(loads: Loads, edition: Edition) -> tuple[Selection, ...]:
    """The six lines of the optional method; the largest is marked as chosen."""
    spare = edition.value("optional_backup") / 100
    pump, backup = loads.of("heat_pump"), loads.of("backup")
    alone, heating = loads.of("backup_alone"), loads.of("heating")
    units = sum(load.count for load in heating)
    with_backup = total(pump) + spare * total(backup)
    if alone:
        with_backup = max(with_backup, spare * total(alone + backup))
    has_backup = bool(pump and (backup or alone))
    backup_only = 0.0 if pump else spare * total(backup + alone)
    few = units < edition.value("optional_many_from")
    few_share = edition.value("optional_few") / 100
    many_share = edition.value("optional_many") / 100
    values = {
        "cooling": total(loads.of("cooling")),
        "heat_pump": 0.0 if has_backup else total(pump),
        "heat_pump_backup": with_backup if has_backup else backup_only,
        "heating_few": few_share * total(heating) if few else 0.0,
        "heating_many": 0.0 if few else many_share * total(heating),
        "storage": total(loads.of("storage")),
    }
    largest = max(values, key=lambda name: values[name])
    return tuple(
        Selection(name, value, name == largest and value > 0) for name, value in values.items()
    )


def selection_label(name: str, edition: Edition) -> Text:
    """One of the six lines in words."""
    many = words(edition.value("optional_many_from"))
    return {
        "cooling": say("Cooling, 100 %"),
        "heat_pump": say("Heat pump without backup, 100 %"),
        "heat_pump_backup": say(
            "Heat pump 100 % and backup {percent} %", percent=edition.value("optional_backup")
        ),
        "heating_few": say(
            "Space heating, fewer than {many} units, {percent} %",
            many=many,
            percent=edition.value("optional_few"),
        ),
        "heating_many": say(
            "Space heating, {many} or more units, {percent} %",
            many=many,
            percent=edition.value("optional_many"),
        ),
        "storage": say("Thermal storage, 100 %"),
    }[name]


def report_selections(
    found: Sequence[Selection], edition: Edition
) -> tuple[MethodAlternative, ...]:
    """The six lines side by side, each with its verdict."""
    told = []
    for item in found:
        why = say("the largest") if item.chosen else say("not the largest")
        if not item.value:
            why = say("none here")
        label = selection_label(item.name, edition)
        told.append(MethodAlternative(item.name, label, item.value, "VA", item.chosen, True, why))
    return tuple(told)


def lowered_by_fourth_unit(loads: Loads, edition: Edition) -> float:
    """VA by which the largest selection falls because space heating has its fourth unit."""

    def demand(heating: Sequence[CountedLoad]) -> float:
        changed = replace(loads, climate={**loads.climate, "heating": tuple(heating)})
        return max(item.value for item in selections(changed, edition))

    heating = loads.of("heating")
    return lowered_by_number(heating, demand) if heating else 0.0
