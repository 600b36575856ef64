"""What a dwelling of conductors by gauge is told, whichever code counts it: cooking, dryers, kinds
of heating and cooling, and what a nameplate comes to."""

from __future__ import annotations

from typing import Annotated, Literal

from voltaje.core import quantities
from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import Connection, System
from voltaje.core.entries import Name, Nameplate, ReadsNameplate, Row, Units, Usual, entry
from voltaje.core.report import Rule
from voltaje.core.rules.north_america.motors import single_phase_current

LoadVolts = Literal["120", "240"]
CONNECTIONS = {"120": "120 V", "240": "240 V"}
Climate = Literal["heating", "cooling", "heat_pump", "backup", "backup_alone", "storage", "fan"]
CLIMATES = {
    "heating": "electric heating",
    "cooling": "air conditioner",
    "heat_pump": "heat pump",
    "backup": "heat pump backup",
    "backup_alone": "backup, compressor locked out",
    "storage": "thermal storage heating",
    "fan": "blower for both",
}


class CookingRow(Row):
    """A range, oven or cooktop."""

    name: Name = entry(
        "", "Cooking", suggestions=tuple({"name": n} for n in ("Range", "Wall oven", "Cooktop"))
    )
    nameplate: Annotated[quantities.Nameplate, ReadsNameplate(27_000.0)] = entry(
        ..., "Nameplate", usual=Usual(1200.0, 27_000.0, "a range, oven or cooktop")
    )
    count: Units = entry(1, "How many")


class DryerRow(Row):
    """An electric clothes dryer."""

    name: Name = entry("", "Dryer", suggestions=({"name": "Clothes dryer"},))
    nameplate: Nameplate = entry(..., "Nameplate", usual=Usual(1200.0, 12_000.0, "a clothes dryer"))
    count: Units = entry(1, "How many")


def connection_of(choice: str) -> Connection:
    """``"120"`` is line to neutral; ``"240"`` is two lines, whatever the supply's volts."""
    return "line-neutral" if choice == "120" else "two-line"


def read_load(
    plate: quantities.Nameplate, connection: Connection, system: System, edition: Edition
) -> tuple[float, float, Rule | None]:
    """VA and amperes of one nameplate, and the motor table's cell where horsepower was given.

    Amperes on the nameplate count at the nameplate's volts, or at the supply's if it has none.
    """
    nominal = system.to_neutral if connection == "line-neutral" else system.line_to_line
    if plate.horsepower is not None:
        cell = single_phase_current(plate.horsepower, nominal, edition)
        return cell.value * nominal, cell.value, cell.rule
    if plate.amperes is not None:
        return plate.amperes * (plate.volts or nominal), plate.amperes, None
    watts = plate.watts or 0.0
    return watts, watts / nominal, None
