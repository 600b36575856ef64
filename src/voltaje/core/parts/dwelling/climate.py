"""Heating against cooling: the noncoincident sides, and the six lines of the optional method."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from voltaje.core.electrical.loads import Load, total
from voltaje.core.parts.dwelling.loads import Loads
from voltaje.core.rules.dwelling_demand import lowered_by_number
from voltaje.core.worksheet import Alternative, fits, say

MOTOR_SHARE = 0.25
FEW_UNITS_BELOW = 4


@dataclass(frozen=True, slots=True)
class Side:
    """Loads that run together in one season; ``adder`` is a quarter of the largest motor that
    the calculation then holds, and ``motor`` that motor."""

    name: str
    loads: tuple[Load, ...]
    motor: Load | None

    @property
    def load(self) -> float:
        return total(self.loads)

    @property
    def adder(self) -> float:
        return self.motor.va * MOTOR_SHARE if self.motor else 0.0


def largest_motor(loads: Sequence[Load]) -> Load | None:
    """The motor with the largest load, VA."""
    motors = [load for load in loads if load.motor and load.va > 0]
    return max(motors, key=lambda load: (load.va, load.path), default=None)


def sides(loads: Loads, other_motors: Sequence[Load]) -> tuple[Side, Side]:
    """Heating and cooling, each with the largest motor it leaves in the calculation."""
    pump = loads.of("heat_pump")
    alone = loads.of("backup_alone")
    together = pump + loads.of("backup")
    if total(alone) > total(together):
        together = alone + loads.of("backup")
    heating = loads.of("heating", "storage", "fan") + together
    cooling = loads.of("cooling", "fan") + pump
    return (
        Side("heating", heating, largest_motor((*heating, *other_motors))),
        Side("cooling", cooling, largest_motor((*cooling, *other_motors))),
    )


def larger_side(loads: Loads, other_motors: Sequence[Load]) -> tuple[Side, Side]:
    """(the side that counts, the side that drops out). Each side is compared with the motor
    adder that it brings, so that dropping one never understates the motor."""
    heating, cooling = sides(loads, other_motors)
    if cooling.load + cooling.adder > heating.load + heating.adder and not fits(
        cooling.load + cooling.adder, heating.load + heating.adder
    ):
        return cooling, heating
    return heating, cooling


def selections(loads: Loads) -> tuple[Alternative, ...]:
    """The six lines of the optional method; the largest is marked as chosen."""
    pump, backup = loads.of("heat_pump"), loads.of("backup")
    alone = loads.of("backup_alone")
    heating = loads.of("heating")
    units = sum(load.count for load in heating)
    with_backup = total(pump) + 0.65 * total(backup)
    if alone:
        with_backup = max(with_backup, 0.65 * total(alone + backup))
    has_backup = bool(pump and (backup or alone))
    backup_only = 0.0 if pump else 0.65 * total(backup + alone)
    few = units < FEW_UNITS_BELOW
    lines = (
        ("cooling", say("Cooling, 100 %"), total(loads.of("cooling"))),
        ("heat_pump", say("Heat pump without backup, 100 %"), 0.0 if has_backup else total(pump)),
        (
            "heat_pump_backup",
            say("Heat pump 100 % and backup 65 %"),
            with_backup if has_backup else backup_only,
        ),
        (
            "heating_few",
            say("Space heating, fewer than four units, 65 %"),
            0.65 * total(heating) if few else 0.0,
        ),
        (
            "heating_many",
            say("Space heating, four or more units, 40 %"),
            0.0 if few else 0.40 * total(heating),
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


def lowered_by_fourth_unit(loads: Loads) -> float:
    """VA by which the largest selection falls because space heating has its fourth unit."""

    def demand(heating: Sequence[Load]) -> float:
        changed = Loads(
            loads.fixed, loads.own, loads.anywhere, loads.chargers, loads.cooking,
            loads.small_cooking, loads.dryers, {**loads.climate, "heating": tuple(heating)},
            loads.motor_rules,
        )  # fmt: skip
        return max(item.value for item in selections(changed))

    heating = loads.of("heating")
    return lowered_by_number(heating, demand) if heating else 0.0
