"""What hangs on a feeder apart from the parts below it, and how it is run."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Annotated, Any, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.codes import editions
from voltaje.core.entries import (
    AS_COUNTED,
    Entries,
    Few,
    Length,
    LoadAtItsVolts,
    Name,
    Reads,
    Row,
    Units,
    Usual,
    entry,
)
from voltaje.core.kinds.placing import InBoard
from voltaje.core.rules.interface import Code
from voltaje.core.rules.north_america.wired import WIRING_GROUPS, WiringEntries

FloorArea = Annotated[float, Reads(quantities.AREA, 0.09290304, 185_806.08)]  # 1 to 2,000,000 ft²
Outlets = Annotated[int, Reads(quantities.COUNT, 0, 10_000, whole=True)]
EACH = "{figure} VA each"
CATEGORIES = {
    "other": "other load",
    "lighting": "lighting",
    "receptacles": "receptacles",
    "kitchen": "kitchen equipment",
    "heating": "space heating",
    "cooling": "air conditioning",
}
CONNECTIONS = {
    "auto": "all lines",
    "line-neutral": "line and neutral",
    "two-line": "two lines",
    "three-phase": "three-phase",
}


def _occupancies() -> list[dict[str, str]]:
    names: dict[str, None] = {}
    for code in editions("nec"):
        names.update(dict.fromkeys(code.rows("occupancy_load")))
        names.update(dict.fromkeys(code.rows("occupancy_names")))
    return [{"name": name} for name in sorted(names)]


class Floor(Row):
    """A floor area with its occupancy."""

    name: Annotated[str, Name] = entry("", "Occupancy", suggestions=_occupancies(), example="Store")
    area: FloorArea | None = entry(
        None, "Area", example="3000 sq ft", usual=Usual(4.645152, 46_451.52, "an occupancy’s floor")
    )


class FeederLoad(Row):
    """A load by its nameplate."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"together": "noncoincident_with"}
    name: Annotated[str, Name] = entry("", "Load", example="Exhaust fans")
    count: Units = entry(1, "How many")
    nameplate: LoadAtItsVolts | None = entry(
        None, "Nameplate", usual=Usual(20.0, 2_000_000.0, "a load of a feeder")
    )
    category: Literal["other", "lighting", "receptacles", "kitchen", "heating", "cooling"] = entry(
        "other", "What it is", choices=CATEGORIES
    )
    connection: Literal["auto", "line-neutral", "two-line", "three-phase"] = entry(
        "auto", "Connection", choices=CONNECTIONS
    )
    continuous: bool = entry(False, "Continuous")
    noncoincident_with: Name = entry("", "Never runs with", example="Season")


class OnFeeder(InBoard):
    """What hangs on the feeder apart from the parts below it."""

    floors: tuple[Floor, ...] = entry((), "Floor areas", group="loads", add="Add a floor area")
    receptacles: Outlets = entry(
        0, "Receptacles", help=AS_COUNTED, group="loads", counts=("receptacle_load", EACH)
    )
    show_window: Length | None = entry(
        None,
        "Show window",
        help=AS_COUNTED,
        group="loads",
        counts=("show_window", "{figure} VA a foot"),
        example="30 ft",
    )
    signs: Few = entry(
        0, "Sign circuits", help=AS_COUNTED, group="loads", counts=("sign_circuit", EACH)
    )
    loads: tuple[FeederLoad, ...] = entry((), "Loads", group="loads", add="Add a load")
    demand: Literal["calculated", "whole"] = entry(
        "calculated",
        "Demand factors",
        group="loads",
        choices={"calculated": "as the code allows", "whole": "none: all load whole"},
    )
    nonlinear: bool = entry(False, "Mostly nonlinear load", group="run")


class FeederEntries(OnFeeder, WiringEntries):
    """A feeder's entries, as its work knows them under every family."""


@cache
def compose(code: Code) -> type[Entries]:
    """A feeder's entries under a family: without what only tables of occupancies know, where it has
    none."""
    own: dict[str, Any] = {"__doc__": OnFeeder.__doc__}
    if not editions(code.family)[-1].has_table("occupancy_load"):
        own |= {"floors": (), "show_window": None, "signs": 0}
        own["__annotations__"] = dict.fromkeys(("floors", "show_window", "signs"), ClassVar[Any])
    return type("FeederEntries", (OnFeeder, code.wiring), own)


GROUPS = {"loads": "Load entered here", **WIRING_GROUPS, "place": "In the board above"}
