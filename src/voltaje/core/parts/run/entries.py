"""What is told of a run: its segments, its conductor, its limit."""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from voltaje.core import units
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.systems import Connection
from voltaje.core.entries import (
    BigNameplate,
    Entries,
    Length,
    Name,
    Percent,
    PowerFactor,
    Reads,
    Row,
    Temperature,
    Units,
    Usual,
    entry,
)
from voltaje.core.rules.nec.conductors import label
from voltaje.core.rules.nec.runs import METRIC
from voltaje.core.rules.nec.wired import (
    Insulation,
    Metal,
    Method,
    insulation_entry,
    metal_entry,
    method_entry,
)
from voltaje.core.units import UnitSystem

MM2 = tuple(f"{size} mm²" for size in METRIC)
RunSize = Literal[
    "auto",
    "14",
    "12",
    "10",
    "8",
    "6",
    "4",
    "3",
    "2",
    "1",
    "1/0",
    "2/0",
    "3/0",
    "4/0",
    "250",
    "300",
    "350",
    "400",
    "500",
    "600",
    "750",
    "1000",
    "1.5 mm²",
    "2.5 mm²",
    "4 mm²",
    "6 mm²",
    "10 mm²",
    "16 mm²",
    "25 mm²",
    "35 mm²",
    "50 mm²",
    "70 mm²",
    "95 mm²",
    "120 mm²",
    "150 mm²",
    "185 mm²",
    "240 mm²",
    "300 mm²",
]
AWG = tuple(s for s in get_args(RunSize) if s != "auto" and s not in MM2)
OwnMv = Annotated[float, Reads(units.COUNT, 0.001, 200.0)]


def sizes_in(units_: UnitSystem) -> tuple[Size, ...]:
    """The sizes that are tried, smallest first."""
    return tuple(Size(size) for size in (MM2 if units_ == "metric" else AWG))


SIZE_NAMES = {size: label(size) for size in AWG} | {size: size for size in MM2}


class RunSegment(Row):
    """A piece of the run and what hangs at its far end."""

    name: Annotated[str, Name] = entry("", "To", example="Lamp post")
    nameplate: BigNameplate | None = entry(
        None, "Load there", usual=Usual(1.0, 1_000_000.0, "a load on a run")
    )
    length: Length | None = entry(
        None, "Length", example="80 ft", usual=Usual(1.0, 15_000.0, "a piece of a run")
    )
    size: RunSize = entry("auto", "Conductor", choices={"auto": "as the run", **SIZE_NAMES})
    power_factor: PowerFactor | None = entry(None, "Power factor", example="1")
    mv: OwnMv | None = entry(None, "Its own mV/A/m", example="mV/A/m")
    feeds_in: bool = entry(False, "Feeds in")


class RunEntries(Entries):
    """The segments in their order from the supply, and the conductor."""

    segments: tuple[RunSegment, ...] = entry((), "Segments", group="segments", add="Add a segment")
    connection: Connection = entry(
        "two-line",
        "Connection",
        group="run",
        choices={
            "line-neutral": "line and neutral",
            "two-line": "two lines",
            "three-phase": "three-phase",
        },
    )
    size: RunSize = entry(
        "auto", "Conductor", group="run", choices={"auto": "smallest that holds", **SIZE_NAMES}
    )
    sets: Units | None = entry(None, "Sets in parallel", help="empty: one", group="run")
    material: Metal = metal_entry("Metal")
    method: Method = method_entry("PVC 40")
    insulation: Insulation = insulation_entry("THWN-2")
    celsius: Temperature = entry(75.0, "Conductors at", help="°C, when loaded", group="run")
    limit: Percent | None = entry(
        None, "Drop allowed, %", help="empty: the job’s", group="limit", example="3"
    )
    ahead: Percent = entry(0.0, "Lost ahead of it, %", help="from the supply", group="limit")


GROUPS = {"segments": "Along the run", "run": "How it is run", "limit": "Limit"}
