"""Rows of entries as loads in VA and amperes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from voltaje.core import quantities
from voltaje.core.capabilities import can
from voltaje.core.codes import Edition
from voltaje.core.electrical.loads import CountedLoad, LineChoice
from voltaje.core.electrical.systems import Connection, System
from voltaje.core.kinds.dwelling.nec.entries import DwellingEntries
from voltaje.core.kinds.dwelling.rows import CLIMATES, connection_of, read_load
from voltaje.core.report import Rule, Text, say
from voltaje.core.rules.north_america.cooking import in_table

MOTOR_CLIMATES = ("cooling", "heat_pump", "fan")


class OnOneLine(Protocol):
    """A row whose load is put on a line of the dwelling."""

    line: LineChoice


@dataclass(frozen=True, slots=True)
class Loads:
    """A dwelling's loads by where the form puts them."""

    fixed: tuple[CountedLoad, ...]
    own: tuple[CountedLoad, ...]
    anywhere: tuple[CountedLoad, ...]
    chargers: tuple[CountedLoad, ...]
    cooking: tuple[CountedLoad, ...]
    small_cooking: tuple[CountedLoad, ...]
    dryers: tuple[CountedLoad, ...]
    climate: dict[str, tuple[CountedLoad, ...]]
    motor_rules: tuple[Rule, ...]

    def of(self, *kinds: str) -> tuple[CountedLoad, ...]:
        """The climate loads of these kinds."""
        return tuple(load for kind in kinds for load in self.climate.get(kind, ()))


def collect(entries: DwellingEntries, system: System, edition: Edition) -> Loads:
    """Reads all rows. In editions without a rule for vehicle charging a charger is an appliance
    fastened in place; cooking not over 1¾ kW is one too."""
    rules: list[Rule] = []

    def load(
        row: object, group: str, label: Text, connection: Connection, motor: bool
    ) -> CountedLoad:
        plate: quantities.Nameplate = row.nameplate  # type: ignore[attr-defined]
        va, amperes, rule = read_load(plate, connection, system, edition)
        if rule:
            rules.append(rule)
        return CountedLoad(
            f"{group}.{row.id}.nameplate",  # type: ignore[attr-defined]
            row.name or str(label),  # type: ignore[attr-defined]
            va,
            amperes,
            connection,
            row.count,  # type: ignore[attr-defined]
            motor or plate.horsepower is not None,
            row.line if can(row, OnOneLine) else "auto",
            plate.horsepower or 0.0,
        )

    by_place: dict[str, list[CountedLoad]] = {"fixed": [], "own": [], "any": [], "charger": []}
    for row in entries.appliances:
        by_place[row.place].append(
            load(row, "appliances", say("Appliance"), connection_of(row.connection), row.motor)
        )
    cooking = [load(row, "cooking", say("Range"), "two-line", False) for row in entries.cooking]
    climate: dict[str, list[CountedLoad]] = {}
    for unit in entries.climate:
        motor = unit.what in MOTOR_CLIMATES
        climate.setdefault(unit.what, []).append(
            load(unit, "climate", say(CLIMATES[unit.what]), connection_of(unit.connection), motor)
        )
    small = [item for item in cooking if not in_table(item, edition)]
    chargers = by_place["charger"]
    fixed = by_place["fixed"] + small
    if not edition.has_limit("charger_least"):
        fixed, chargers = fixed + chargers, []
    return Loads(
        tuple(fixed),
        tuple(by_place["own"]),
        tuple(by_place["any"]),
        tuple(chargers),
        tuple(item for item in cooking if in_table(item, edition)),
        tuple(small),
        tuple(
            load(row, "dryers", say("Clothes dryer"), "two-line", False) for row in entries.dryers
        ),
        {kind: tuple(found) for kind, found in climate.items()},
        tuple(rules),
    )
