"""What is told of an inverter: its data sheet, its breaker, its run, the bus that it feeds."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import ClassVar, Literal

from voltaje.core.codes import practice
from voltaje.core.electrical.systems import Connection
from voltaje.core.entries import (
    BigNameplate,
    Current,
    Entries,
    Percent,
    PowerFactor,
    Usual,
    entry,
)
from voltaje.core.kinds.circuit.entries import CONNECTIONS
from voltaje.core.kinds.placing import InBoard
from voltaje.core.rules.common.heat import Surroundings
from voltaje.core.rules.interface import Code

PLACES = {
    "": "not told",
    "opposite": "at the end opposite the main",
    "center": "at an end of a bus that is fed in its middle",
    "anywhere": "anywhere on the bus",
    "line": "ahead of the main",
}


class InverterLoad(InBoard, Surroundings):
    """The inverter's output, its breaker where it stands, and the bus that it feeds."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "may_rise": "maximum_rise",
        "most": "maximum_current",
        "bus": "bus_rating",
        "bus_others": "bus_other_devices",
        "place": "connection_point",
    }
    power: BigNameplate | None = entry(
        None,
        "Rated output",
        group="load",
        example="30 kW",
        usual=Usual(200.0, 2_000_000.0, "an inverter"),
    )
    maximum_current: Current | None = entry(
        None, "Maximum output current", group="load", help="data sheet", example="48 A"
    )
    connection: Connection = entry("three-phase", "Connection", choices=CONNECTIONS, group="load")
    power_factor: PowerFactor = entry(1.0, "Power factor", group="load", example="1")
    maximum_rise: Percent | None = entry(
        None,
        "Rise it may make, %",
        group="bus",
        help="empty: as usual",
        counts=("rise", "empty: as usual, {figure}"),
        example="2",
    )
    bus_rating: Current | None = entry(
        None, "Rating of the bus it feeds", group="bus", help="the board’s", example="200 A"
    )
    main: Current | None = entry(None, "Main device of that bus", group="bus", example="200 A")
    bus_other_devices: Current | None = entry(
        None,
        "Sum of the other devices on it",
        group="bus",
        help="all but the main",
        example="160 A",
    )
    connection_point: Literal["", "opposite", "center", "anywhere", "line"] = entry(
        "", "Where it is joined", choices=PLACES, group="bus"
    )

    dwelling: bool = entry(
        False,
        "The bus is a dwelling’s",
        group="bus",
        when=("connection_point", ("center",)),
        help="only there may a bus fed in its middle take a larger share",
        counts=("bus_share", "only there may a bus fed in its middle take {figure} %"),
    )

    @property
    def maximum_drop(self) -> float:
        """What the cable may make of a difference, percent: here a rise."""
        return practice().value("rise") if self.maximum_rise is None else self.maximum_rise


@cache
def compose(code: Code) -> type[Entries]:
    """Its entries under the family that runs its final circuits so."""
    wiring = code.wiring
    cable = code.cable
    own: dict[str, object] = {"__doc__": InverterLoad.__doc__}
    if cable is not wiring or "drop_sizing" not in wiring.model_fields:
        own["drop_sizing"] = ""  # what loads lose ahead of it is nothing that its rise adds to
    return type("InverterEntries", (InverterLoad, cable), own)


GROUPS = {
    "load": "The inverter",
    "surroundings": "Its breaker’s surroundings",
    "makers": "Maker’s table of the breaker, if at hand",
    "run": "How it is run",
    "bus": "Where it feeds in",
    "protection": "Protection and earth",
    "hand": "By hand",
    "place": "In the board above",
}
