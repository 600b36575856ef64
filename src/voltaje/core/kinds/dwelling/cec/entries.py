"""What section 8 asks of a dwelling, in the order of its rule."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import ClassVar, Literal

from voltaje.core.codes import editions
from voltaje.core.entries import (
    Area,
    Current,
    Few,
    Name,
    Nameplate,
    PowerOrAmperes,
    Problem,
    Row,
    Temperature,
    Units,
    Usual,
    entry,
)
from voltaje.core.kinds.dwelling.rows import (
    CLIMATES,
    CONNECTIONS,
    Climate,
    CookingRow,
    DryerRow,
    LoadVolts,
)
from voltaje.core.kinds.placing import LoadInBoard
from voltaje.core.report import say
from voltaje.core.rules.north_america.cec import Cover
from voltaje.core.rules.north_america.wired.entries import Terminals, terminals_entry

CountsAs = Literal["other", "tankless", "steam", "pool", "spa", "vehicle", "managed"]
COUNTS_AS = {
    "other": "another load",
    "tankless": "tankless water heater",
    "steam": "steam shower",
    "pool": "pool or hot-tub heater",
    "spa": "spa heater",
    "vehicle": "vehicle charging",
    "managed": "vehicle charging, managed",
}


def _preset(name: str, counts_as: str = "other", connection: str = "240") -> dict[str, str]:
    return {"name": name, "counts_as": counts_as, "connection": connection}


class CecApplianceRow(Row):
    """An appliance that is not cooking, drying, heating or cooling."""

    name: Name = entry(
        "",
        "Appliance",
        suggestions=(
            _preset("Storage water heater"),
            _preset("Tankless water heater", "tankless"),
            _preset("Steam shower", "steam"),
            _preset("Pool heater", "pool"),
            _preset("Hot tub", "spa"),
            _preset("Vehicle charger", "vehicle"),
            _preset("Sauna heater"),
            _preset("Well pump"),
        ),
    )
    nameplate: Nameplate = entry(
        ..., "Nameplate", usual=Usual(10.0, 40_000.0, "an appliance of a dwelling")
    )
    connection: LoadVolts = entry("240", "Volts", choices=CONNECTIONS)
    counts_as: CountsAs = entry("other", "Counts as", choices=COUNTS_AS)
    count: Units = entry(1, "How many")


class CecClimateRow(Row):
    """Heating or cooling equipment."""

    name: Name = entry(
        "",
        "Heating or cooling",
        suggestions=(
            {"name": "Baseboard heater", "what": "heating", "control": "rooms"},
            {"name": "Electric furnace", "what": "heating", "control": "central"},
            {"name": "Air conditioner", "what": "cooling"},
            {"name": "Heat pump", "what": "heat_pump"},
            {"name": "Backup heat", "what": "backup"},
        ),
    )
    nameplate: Nameplate = entry(
        ..., "Nameplate", usual=Usual(50.0, 60_000.0, "heating or cooling of a dwelling")
    )
    what: Climate = entry("heating", "What", choices=CLIMATES)
    control: Literal["rooms", "central"] = entry(
        "rooms",
        "Controlled",
        choices={"rooms": "room by room", "central": "as one, or in a duct"},
    )
    connection: LoadVolts = entry("240", "Volts", choices=CONNECTIONS)
    count: Units = entry(1, "How many")


class UnitRow(Row):
    """Dwelling units of one load, heating and cooling left out."""

    name: Name = entry("", "Units", example="Two bedrooms")
    load: PowerOrAmperes = entry(
        ...,
        "Load of each",
        help="heating and cooling left out",
        usual=Usual(3000.0, 60_000.0, "a dwelling unit"),
    )
    count: Units = entry(1, "How many")


ONE = ("subject", ("single", "unit"))
SEVERAL = ("subject", ("building",))


def _covers() -> dict[str, str]:
    degrees = editions("cec")[-1].cells("insulations", "°C")
    return {name: f"{name}, {cell.value:g} °C" for name, cell in degrees.items()}


class CecDwelling(LoadInBoard):
    """A dwelling. Areas in ft², loads in VA once read."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "never_together": "noncoincident_climate",
        "units_apart": "noncoincident_units",
        "cover": "conductor_type",
    }
    subject: Literal["single", "unit", "building"] = entry(
        "single",
        "What is calculated",
        choices={
            "single": "a single dwelling",
            "unit": "one unit of an apartment building",
            "building": "row housing or an apartment building",
        },
        group="question",
    )
    area: Area | None = entry(
        None,
        "Floor area",
        help="living area without the basement, inside walls",
        group="house",
        needed=True,
        when=ONE,
        usual=Usual(18.580608, 1_858.0608, "a dwelling’s floor"),
    )
    basement: Area | None = entry(None, "Basement", group="house", when=ONE, example="60 m²")
    appliances: tuple[CecApplianceRow, ...] = entry(
        (), "Appliances", group="appliances", add="Add an appliance", when=ONE
    )
    cooking: tuple[CookingRow, ...] = entry(
        (), "Cooking", group="cooking", add="Add a range, oven or cooktop", when=ONE
    )
    dryers: tuple[DryerRow, ...] = entry(
        (), "Clothes dryers", group="dryers", add="Add a dryer", when=ONE
    )
    climate: tuple[CecClimateRow, ...] = entry(
        (), "Heating and cooling", group="climate", add="Add heating or cooling", when=ONE
    )
    noncoincident_climate: bool = entry(
        False,
        "Heating and cooling never run together",
        group="climate",
        when=ONE,
        help="interlocked, or known not to",
    )
    units: tuple[UnitRow, ...] = entry(
        (), "Dwelling units", group="units", add="Add units", when=SEVERAL
    )
    units_heating: PowerOrAmperes | None = entry(
        None, "Heating of all units", group="units", when=SEVERAL, example="36 kW"
    )
    units_cooling: PowerOrAmperes | None = entry(
        None, "Cooling of all units", group="units", when=SEVERAL, example="8 kW"
    )
    noncoincident_units: bool = entry(
        False,
        "Their heating and cooling never run together",
        group="units",
        when=SEVERAL,
        help="interlocked, or known not to",
    )
    units_vehicles: PowerOrAmperes | None = entry(
        None, "Vehicle charging outside the units", group="units", when=SEVERAL, example="14 kW"
    )
    units_common: PowerOrAmperes | None = entry(
        None,
        "Other load outside the units",
        group="units",
        when=SEVERAL,
        help="corridors, laundry, garage",
        example="9 kW",
    )
    existing: Current | None = entry(
        None, "Existing service", group="run", help="empty: it is to be sized", example="100 A"
    )
    conductor_type: Cover = entry("RW90", "Insulation", choices=_covers(), group="run")
    terminals: Terminals = terminals_entry()
    ambient: Temperature = entry(30.0, "Ambient", group="run", help="°C, or write 104 °F")
    others: Few = entry(
        0, "Other current-carrying conductors", help="in the same raceway", group="run"
    )

    def problems(self) -> Iterator[Problem]:
        """What one field cannot see."""
        if self.subject == "building":
            if not self.units:
                yield Problem("units", str(say("Needed: the dwelling units and their loads.")))
        elif self.area is None:
            yield Problem("area", str(say("Needed: nothing is given yet.")))


GROUPS = {
    "question": "The question",
    "house": "The house",
    "appliances": "Appliances",
    "cooking": "Cooking",
    "dryers": "Drying",
    "climate": "Heating and cooling",
    "units": "The units",
    "run": "How its conductors are run",
    "place": "In the board above",
}
