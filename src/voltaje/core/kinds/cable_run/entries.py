"""What is told of a run: its segments, its conductor, its limit."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Annotated, Any, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.electrical.systems import Connection
from voltaje.core.entries import (
    Current,
    Entries,
    Length,
    LoadAtItsVolts,
    Name,
    Percent,
    PowerFactor,
    Reads,
    Row,
    Units,
    Usual,
    Voltage,
    entry,
)
from voltaje.core.kinds.placing import LoadInBoard
from voltaje.core.rules.interface import Code

OwnOhms = Annotated[float, Reads(quantities.IMPEDANCE, 1e-6, 1000.0)]
OwnMv = Annotated[float, Reads(quantities.COUNT, 0.001, 200.0)]


class RunSegment(Row):
    """A piece of the run and what hangs at its far end."""

    name: Annotated[str, Name] = entry("", "To", example="Lamp post")
    nameplate: LoadAtItsVolts | None = entry(
        None, "Load there", usual=Usual(1.0, 1_000_000.0, "a load on a run")
    )
    length: Length | None = entry(
        None, "Length", example="80 ft", usual=Usual(0.3048, 4_572.0, "a piece of a run")
    )
    size: str = entry("auto", "Conductor")
    power_factor: PowerFactor | None = entry(None, "Power factor", example="1")
    mv: OwnMv | None = entry(None, "Its own mV/A/m", example="mV/A/m")
    impedance: OwnOhms | None = entry(
        None, "Ω of one conductor, in place of its length", example="mΩ or Ω"
    )
    device: Current | None = entry(None, "Or by its device, A", example="device, A")
    feeds_in: bool = entry(False, "Feeds in")


def size_entry(sizes: Mapping[str, str]) -> Any:
    """One conductor throughout, of those that a family has."""
    choices = {"auto": "smallest that holds", **sizes}
    return entry("auto", "Conductor", group="run", choices=choices)


def connection_entry(usual: str) -> Any:
    """How the run is connected."""
    choices = {
        "line-neutral": "line and neutral",
        "two-line": "two lines",
        "three-phase": "three-phase",
    }
    return entry(usual, "Connection", group="run", choices=choices, seldom=False)


class RunLoad(LoadInBoard):
    """The segments in their order from the supply, the connection, the limit."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"ahead": "upstream_drop", "limit": "maximum_drop"}
    segments: tuple[RunSegment, ...] = entry((), "Segments", group="segments", add="Add a segment")
    connection: Connection = connection_entry("two-line")
    size: str = entry("auto", "Conductor", group="run")
    sets: Units | None = entry(None, "Sets in parallel", help="empty: one", group="run")
    maximum_drop: Percent | None = entry(
        None, "Drop allowed, %", help="empty: the job’s", group="limit", example="3"
    )
    drop_method: Literal["job", "impedance", "table"] = entry(
        "job",
        "Voltage drop calculated",
        group="limit",
        choices={
            "job": "as the job",
            "impedance": "by impedance, solved",
            "table": "by the cable’s table",
        },
    )
    upstream_drop: Percent = entry(
        0.0, "Lost ahead of it, %", help="from the supply", group="limit"
    )
    measured_start: Voltage | None = entry(
        None,
        "Measured voltage at the beginning",
        help="with its loads on; empty: the supply’s volts",
        group="measured",
        example="241 V",
    )
    measured_end: Voltage | None = entry(
        None,
        "Measured voltage at the end",
        help="with its loads on: finds the impedance that loses so much",
        group="measured",
        example="228 V",
    )


class CableRunEntries(RunLoad):
    """A run's entries, as its work knows them under every family."""


@cache
def compose(code: Code) -> type[Entries]:
    """A run's entries under a family: its sizes, and how its conductors lie."""
    along = code.along
    sizes: Mapping[str, str] = along.SIZES  # type: ignore[attr-defined]
    names = Literal[("auto", *sizes)]  # type: ignore[valid-type]
    segment = type(
        "RunSegment",
        (RunSegment,),
        {
            "__annotations__": {"size": names},
            "size": entry("auto", "Conductor", choices={"auto": "as the run", **sizes}),
        },
    )
    own = {
        "__doc__": RunLoad.__doc__,
        "__annotations__": {
            "segments": tuple[segment, ...],  # type: ignore[valid-type]
            "connection": Connection,
            "size": names,
        },
        "connection": connection_entry(along.CONNECTION),  # type: ignore[attr-defined]
        "segments": entry((), "Segments", group="segments", add="Add a segment"),
        "size": size_entry(sizes),
    }
    return type("RunEntries", (along, RunLoad), own)


GROUPS = {
    "segments": "Along the run",
    "run": "How it is run",
    "limit": "Limit",
    "measured": "Measured",
    "place": "In the board above",
}
