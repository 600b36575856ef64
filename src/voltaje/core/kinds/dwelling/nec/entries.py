"""What is read off a dwelling's drawings and nameplates, in the order of the paper form."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from voltaje.core import quantities
from voltaje.core.entries import (
    Area,
    Current,
    Few,
    Name,
    Nameplate,
    Problem,
    Reads,
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

LineChoice = Literal["auto", "L1", "L2"]
LINES = {"auto": "either", "L1": "L1", "L2": "L2"}
Place = Literal["fixed", "own", "any", "charger"]
PLACES = {
    "fixed": "fastened in place",
    "own": "cord, own circuit",
    "any": "cord, any outlet",
    "charger": "vehicle charger",
}
LINE_TO_LINE_FROM = 180.0  # V, no code figure: between 120 V and 208 V


def _preset(name: str, connection: str, motor: str = "", **more: str) -> dict[str, str]:
    return {"name": name, "connection": connection, "motor": motor, **more}


class ApplianceRow(Row):
    """An appliance that is not cooking, drying, heating or cooling."""

    name: Name = entry(
        "",
        "Appliance",
        suggestions=(
            _preset("Water heater", "240"),
            _preset("Dishwasher", "120"),
            _preset("Disposer", "120", "yes"),
            _preset("Compactor", "120", "yes"),
            _preset("Microwave oven, built in", "120"),
            _preset("Range hood", "120", "yes"),
            _preset("Well pump", "240", "yes"),
            _preset("Sump pump", "120", "yes"),
            _preset("Pool pump", "240", "yes"),
            _preset("Sauna heater", "240"),
            _preset("Freezer", "120", "yes", place="own"),
            _preset("Vehicle charger", "240", place="charger"),
        ),
    )
    nameplate: Nameplate = entry(
        ..., "Nameplate", usual=Usual(10.0, 30_000.0, "an appliance of a dwelling")
    )
    connection: LoadVolts = entry("120", "Volts", choices=CONNECTIONS)
    place: Place = entry("fixed", "Where", choices=PLACES)
    motor: bool = entry(False, "Motor")
    count: Units = entry(1, "How many")
    line: LineChoice = entry("auto", "Line", choices=LINES)


class ClimateRow(Row):
    """Heating or cooling equipment; ``count`` is the number of separately controlled units."""

    name: Name = entry(
        "",
        "Heating or cooling",
        suggestions=(
            _preset("Baseboard heater", "240", what="heating"),
            _preset("Electric furnace", "240", what="heating"),
            _preset("Air conditioner", "240", what="cooling"),
            _preset("Room air conditioner", "120", what="cooling"),
            _preset("Heat pump", "240", what="heat_pump"),
            _preset("Backup heat", "240", what="backup"),
            _preset("Furnace blower", "120", what="fan"),
        ),
    )
    nameplate: Nameplate = entry(
        ..., "Nameplate", usual=Usual(50.0, 60_000.0, "heating or cooling of a dwelling")
    )
    what: Climate = entry("heating", "What", choices=CLIMATES)
    connection: LoadVolts = entry("240", "Volts", choices=CONNECTIONS)
    count: Units = entry(1, "How many")
    line: LineChoice = entry("auto", "Line", choices=LINES)


NEW = ("calculation", ("new",))
EXISTING = ("calculation", ("added", "measured"))
ADDED = ("calculation", ("added",))
MEASURED = ("calculation", ("measured",))
NOT_MEASURED = ("calculation", ("new", "added"))


INSULATIONS = {
    "THW": "THW, 75 °C",
    "THWN": "THWN, 75 °C",
    "THWN-2": "THWN-2, 90 °C",
    "XHHW-2": "XHHW-2, 90 °C",
}


class DwellingEntries(LoadInBoard):
    """A dwelling. Areas in ft², loads in VA, currents in A once read."""

    calculation: Literal["new", "added", "measured"] = entry(
        "new",
        "Question",
        choices={
            "new": "a service to be sized",
            "added": "existing service, load added",
            "measured": "existing service, measured demand",
        },
        group="question",
    )
    method: Literal["standard", "optional"] = entry(
        "standard",
        "Method",
        choices={"standard": "standard", "optional": "optional"},
        group="question",
        when=NEW,
    )
    supplied: Literal["service", "feeder"] = entry(
        "service",
        "Supplied by",
        choices={"service": "its own service", "feeder": "a feeder that serves it alone"},
        group="question",
        when=NEW,
    )
    existing_service: Current | None = entry(
        None, "Existing service", group="question", when=EXISTING, needed=True, example="100 A"
    )
    adds_climate: bool = entry(False, "Heating or cooling is added", group="question", when=ADDED)
    # 220.87: how the meter averages, no code figure that is reckoned with
    measured_demand: Nameplate | None = entry(
        None,
        "Highest measured demand",
        group="question",
        when=MEASURED,
        needed=True,
        help="15-minute average",
        example="58 A or 13.9 kW",
    )
    measured_over: Literal["year", "days30"] = entry(
        "year",
        "Measured over",
        choices={"year": "a year", "days30": "30 days, recorded"},
        group="question",
        when=MEASURED,
    )
    season_covered: bool = entry(
        False,
        "Heating or cooling ran at its highest",
        group="question",
        when=MEASURED,
        help="or its load is put in with the new load",
    )
    new_load: Nameplate | None = entry(
        None,
        "New load",
        group="question",
        when=MEASURED,
        needed=True,
        example="7.2 kW",
        usual=Usual(100.0, 60_000.0, "a load added to a dwelling"),
    )
    area: Area | None = entry(
        None,
        "Floor area",
        help="outside walls",
        group="house",
        needed=True,
        when=NOT_MEASURED,
        usual=Usual(18.580608, 1_858.0608, "a dwelling’s floor"),
    )
    small_appliance_circuits: Annotated[int, Reads(quantities.COUNT, 2, 100, whole=True)] = entry(
        2, "Small-appliance circuits", group="house", when=NOT_MEASURED
    )
    laundry_circuits: Annotated[int, Reads(quantities.COUNT, 0, 100, whole=True)] = entry(
        1, "Laundry circuits", group="house", when=NOT_MEASURED
    )
    appliances: tuple[ApplianceRow, ...] = entry(
        (), "Appliances", group="appliances", add="Add an appliance", when=NOT_MEASURED
    )
    cooking: tuple[CookingRow, ...] = entry(
        (), "Cooking", group="cooking", add="Add a range, oven or cooktop", when=NOT_MEASURED
    )
    dryers: tuple[DryerRow, ...] = entry(
        (), "Clothes dryers", group="dryers", add="Add a dryer", when=NOT_MEASURED
    )
    climate: tuple[ClimateRow, ...] = entry(
        (),
        "Heating and cooling",
        group="climate",
        add="Add heating or cooling",
        when=NOT_MEASURED,
    )

    insulation: Literal["THW", "THWN", "THWN-2", "XHHW-2"] = entry(
        "THW", "Insulation", choices=INSULATIONS, group="run", when=NEW
    )
    ambient: Temperature = entry(30.0, "Ambient", group="run", help="°C, or write 104 °F", when=NEW)
    others: Few = entry(
        0, "Other current-carrying conductors", help="in the same raceway", group="run", when=NEW
    )

    def problems(self) -> Iterator[Problem]:
        """What one field cannot see: entries that need one another."""
        if self.calculation == "measured":
            needed: tuple[str, ...] = ("existing_service", "measured_demand", "new_load")
        elif self.calculation == "added":
            needed = ("existing_service", "area")
        else:
            needed = ("area",)
        for name in needed:
            if getattr(self, name) is None:
                yield Problem(name, str(say("Needed: nothing is given yet.")))
        for name in ("measured_demand", "new_load"):
            plate = getattr(self, name)
            if plate is not None and plate.horsepower is not None:
                yield Problem(name, str(say("Give amperes or kW, like 58 A or 13.9 kW.")))
        for group, rows in (("appliances", self.appliances), ("climate", self.climate)):
            for row in rows:
                volts = row.nameplate.volts
                if volts is not None and (volts >= LINE_TO_LINE_FROM) != (row.connection == "240"):
                    other = "240" if row.connection == "120" else "120"
                    yield Problem(
                        f"{group}.{row.id}.connection",
                        str(
                            say(
                                "The nameplate says {volts} V: choose {other} V.",
                                volts=volts,
                                other=other,
                            )
                        ),
                    )
                if row.connection == "240" and row.line != "auto":
                    yield Problem(
                        f"{group}.{row.id}.line",
                        str(say("A load at 240 V is on both lines: choose “either”.")),
                    )


GROUPS = {
    "question": "The question",
    "house": "The house",
    "appliances": "Appliances",
    "cooking": "Cooking",
    "dryers": "Drying",
    "climate": "Heating and cooling",
    "run": "How its conductors are run",
    "place": "In the board above",
}
