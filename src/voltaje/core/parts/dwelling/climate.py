"""Heating against cooling: the noncoincident sides, and the six lines of the optional method."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.core.codes import Edition
from voltaje.core.electrical.loads import Load, total
from voltaje.core.parts.dwelling.loads import Loads
from voltaje.core.rules.dwelling_demand import lowered_by_number
from voltaje.core.worksheet import Alternative, fits, say, words


@dataclass(frozen=True, slots=True)
class Side:
    """Loads that run together in one season; ``adder`` is a quarter of the largest motor that
    the calculation then holds, and ``motor`` that motor; ``share`` that quarter."""

    name: str
    loads: tuple[Load, ...]
    motor: Load | None
    share: float

    @property
    def load(self) -> float:
        return total(self.loads)

    @property
    def adder(self) -> float:
        return self.motor.va * self.share if self.motor else 0.0


def motor_share(edition: Edition) -> float:
    """What the largest motor counts more, as a factor (220.50, 430.24)."""
    return edition.value("largest_motor") / 100


def largest_motor(loads: Sequence[Load]) -> Load | None:
    """The motor with the largest load, VA."""
    motors = [load for load in loads if load.motor and load.va > 0]
    return max(motors, key=lambda load: (load.va, load.path), default=None)


def sides(loads: Loads, other_motors: Sequence[Load], edition: Edition) -> tuple[Side, Side]:
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


def larger_side(loads: Loads, other_motors: Sequence[Load], edition: Edition) -> tuple[Side, Side]:
    """(the side that counts, the side that drops out). Each side is compared with the motor
    adder that it brings, so that dropping one never understates the motor."""
    heating, cooling = sides(loads, other_motors, edition)
    if cooling.load + cooling.adder > heating.load + heating.adder and not fits(
        cooling.load + cooling.adder, heating.load + heating.adder
    ):
        return cooling, heating
    return heating, cooling


def selections(loads: Loads, edition: Edition) -> tuple[Alternative, ...]:
    """The six lines of the optional method; the largest is marked as chosen."""
    backup_percent = edition.value("optional_backup")
    few_percent, many_percent = edition.value("optional_few"), edition.value("optional_many")
    spare = backup_percent / 100
    pump, backup = loads.of("heat_pump"), loads.of("backup")
    alone = loads.of("backup_alone")
    heating = loads.of("heating")
    units = sum(load.count for load in heating)
    with_backup = total(pump) + spare * total(backup)
    if alone:
        with_backup = max(with_backup, spare * total(alone + backup))
    has_backup = bool(pump and (backup or alone))
    backup_only = 0.0 if pump else spare * total(backup + alone)
    from_many = edition.value("optional_many_from")
    few = units < from_many
    lines = (
        ("cooling", say("Cooling, 100 %"), total(loads.of("cooling"))),
        ("heat_pump", say("Heat pump without backup, 100 %"), 0.0 if has_backup else total(pump)),
        (
            "heat_pump_backup",
            say("Heat pump 100 % and backup {percent} %", percent=backup_percent),
            with_backup if has_backup else backup_only,
        ),
        (
            "heating_few",
            say(
                "Space heating, fewer than {many} units, {percent} %",
                many=words(from_many),
                percent=few_percent,
            ),
            few_percent / 100 * total(heating) if few else 0.0,
        ),
        (
            "heating_many",
            say(
                "Space heating, {many} or more units, {percent} %",
                many=words(from_many),
                percent=many_percent,
            ),
            0.0 if few else many_percent / 100 * total(heating),
        ),
        ("storage", say("Thermal storage, 100 %"), total(loads.of("storage"))),
    )
    chosen = max(range(len(lines)), key=lambda i: (lines[i][2], -i))
    return tuple(
        Alternative(
            name,
            label,
            value,
            "VA",
            index == chosen and value > 0,
            True,
            say("the largest") if index == chosen and value > 0 else say("not the largest")
            if value
            else say("none here"),
        )
        for index, (name, label, value) in enumerate(lines)
    )  # fmt: skip


def lowered_by_fourth_unit(loads: Loads, edition: Edition) -> float:
    """VA by which the largest selection falls because space heating has its fourth unit."""

    def demand(heating: Sequence[Load]) -> float:
        changed = Loads(
            loads.fixed, loads.own, loads.anywhere, loads.chargers, loads.cooking,
            loads.small_cooking, loads.dryers, {**loads.climate, "heating": tuple(heating)},
            loads.motor_rules,
        )  # fmt: skip
        return max(item.value for item in selections(changed, edition))

    heating = loads.of("heating")
    return lowered_by_number(heating, demand) if heating else 0.0
