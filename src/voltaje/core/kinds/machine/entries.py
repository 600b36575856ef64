"""What is told of a motor by its kW: its nameplate, how it starts, how it is run."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.electrical.systems import Connection
from voltaje.core.entries import (
    BigNameplate,
    Entries,
    Name,
    Percent,
    PowerFactor,
    Reads,
    Usual,
    entry,
)
from voltaje.core.kinds.circuit.entries import CONNECTIONS, LINE_LABELS
from voltaje.core.kinds.placing import LoadInBoard
from voltaje.core.rules.iec60364.entries import CableEntries, beside
from voltaje.core.rules.interface import Code

NameplateCurrent = Annotated[float, Reads(quantities.CURRENT, 0.05, 6000.0)]
StartTimes = Annotated[float, Reads(quantities.COUNT, 1.0, 15.0)]
STARTS = {
    "direct": "direct on line",
    "wye_delta": "star-delta",
    "soft": "soft starter",
    "converter": "frequency converter",
}


class MachineLoad(LoadInBoard):
    """A motor: its nameplate, how it starts, and its place in its board."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "together": "noncoincident_with",
        "start_times": "starting_current",
        "start": "starting",
    }
    power: BigNameplate | None = entry(
        None,
        "Rated power",
        group="load",
        help="at the shaft, as the nameplate says",
        example="7.5 kW",
        usual=Usual(60.0, 400_000.0, "a motor"),
    )
    nameplate: NameplateCurrent | None = entry(
        None,
        "Nameplate amperes",
        group="load",
        help="empty: as usual for its kW",
        example="15.2 A",
    )
    connection: Connection = entry("three-phase", "Connection", choices=CONNECTIONS, group="load")
    efficiency: Percent = entry(
        85.0, "Efficiency, %", group="load", help="where no amperes are known"
    )
    power_factor: PowerFactor = entry(0.82, "Power factor", group="load", example="0.82")
    starting: Literal["direct", "wye_delta", "soft", "converter"] = entry(
        "direct", "Starts", choices=STARTS, group="start"
    )
    starting_current: StartTimes | None = entry(
        None,
        "Starting amperes, times its own",
        group="start",
        help="nameplate; empty: as usual",
        example="6.5",
    )
    relay: Literal["yes", "no"] = entry(
        "yes",
        "Overload relay",
        group="start",
        choices={"yes": "yes, set to its amperes", "no": "none: the device guards its cable"},
    )
    line: Literal["auto", "L1", "L2", "L3", "L1-L2", "L2-L3", "L1-L3"] = entry(
        "auto", "Line", choices=LINE_LABELS, group="place"
    )
    noncoincident_with: Name = entry(
        "", "Never runs with", help="one name for the group", group="place", example="Winch"
    )


class MachineEntries(MachineLoad, CableEntries):
    """A motor's entries, as its work knows them under every family."""


@cache
def compose(code: Code) -> type[Entries]:
    """Its entries under a family: a motor stands on no ring."""
    return beside(MachineLoad, code)


GROUPS = {
    "load": "The motor",
    "start": "How it starts",
    "run": "How it is run",
    "protection": "Protection and earth",
    "hand": "By hand",
    "place": "In its board",
}
