"""What is told of an inverter: its data sheet, its breaker, its run, the bus that it feeds."""

from __future__ import annotations

from functools import cache
from typing import Literal

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

    power: BigNameplate | None = entry(
        None,
        "Rated output",
        group="load",
        example="30 kW",
        usual=Usual(200.0, 2_000_000.0, "an inverter"),
    )
    most: Current | None = entry(
        None, "Maximum output current", group="load", help="data sheet", example="48 A"
    )
    connection: Connection = entry("three-phase", "Connection", choices=CONNECTIONS, group="load")
    power_factor: PowerFactor = entry(1.0, "Power factor", group="load", example="1")
    may_rise: Percent | None = entry(
        None,
        "Rise it may make, %",
        group="bus",
        help="empty: as usual",
        counts=("rise", "empty: as usual, {figure}"),
        example="2",
    )
    bus: Current | None = entry(
        None, "Rating of the bus it feeds", group="bus", help="the board’s", example="200 A"
    )
    main: Current | None = entry(None, "Main device of that bus", group="bus", example="200 A")
    bus_others: Current | None = entry(
        None,
        "Sum of the other devices on it",
        group="bus",
        help="all but the main",
        example="160 A",
    )
    place: Literal["", "opposite", "center", "anywhere", "line"] = entry(
        "", "Where it is joined", choices=PLACES, group="bus"
    )

    dwelling: bool = entry(
        False,
        "The bus is a dwelling’s",
        group="bus",
        when=("place", ("center",)),
        help="only there may a bus fed in its middle take a larger share",
        counts=("bus_share", "only there may a bus fed in its middle take {figure} %"),
    )

    @property
    def may_lose(self) -> float:
        """What the cable may make of a difference, percent: here a rise."""
        return practice().value("rise") if self.may_rise is None else self.may_rise


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
