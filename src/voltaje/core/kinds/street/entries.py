"""What is told of a street: its consumers in their order, the line's conductors, its fuses."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.entries import (
    Current,
    Entries,
    Length,
    LoadAtItsVolts,
    Name,
    PowerFactor,
    Reads,
    Row,
    Units,
    Usual,
    entry,
)
from voltaje.core.kinds.cable_run.entries import size_entry
from voltaje.core.kinds.circuit.entries import LINE_LABELS
from voltaje.core.kinds.placing import LoadInBoard
from voltaje.core.rules.interface import Code

Behind = Annotated[int, Reads(quantities.COUNT, 0, 200, whole=True)]
Opened = Literal["none", "L1", "L2", "L3", "N"]
OPENED: Mapping[str, str] = {
    "none": "nothing",
    "L1": "L1",
    "L2": "L2",
    "L3": "L3",
    "N": "the neutral",
}


class Consumer(Row):
    """A house, a berth, a tent: how far on from the one before, its load, its line."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"stays": "pinned"}
    name: Name = entry("", "Name", example="No. 4")
    length: Length | None = entry(
        None,
        "From the one before",
        example="30 m",
        usual=Usual(0.3048, 1_524.0, "a piece of a street"),
    )
    nameplate: LoadAtItsVolts | None = entry(
        None,
        "Load",
        help="empty: of the part below by its name",
        example="6 kW",
        usual=Usual(100.0, 200_000.0, "a consumer"),
    )
    power_factor: PowerFactor | None = entry(None, "Power factor", example="0.95")
    connection: Literal["line-neutral", "three-phase"] = entry(
        "line-neutral",
        "Takes",
        choices={"line-neutral": "one line", "three-phase": "three lines"},
    )
    line: Literal["auto", "L1", "L2", "L3"] = entry(
        "auto", "Line", choices={name: LINE_LABELS[name] for name in ("auto", "L1", "L2", "L3")}
    )
    pinned: bool = entry(False, "Stays on its line")


class StreetLoad(LoadInBoard):
    """The consumers in their order from the supply, the line, its fuses, what is open."""

    consumers: tuple[Consumer, ...] = entry((), "Consumers", group="street", add="Add a consumer")
    size: str = entry("auto", "Conductor", group="run")
    sets: Units | None = entry(None, "Sets in parallel", help="empty: one", group="run")
    fuse: Current | None = entry(
        None, "Fuse of each line", help="gG, at its head", group="fuse", example="100 A"
    )
    opened: Opened = entry("none", "Opened", choices=OPENED, group="fuse")
    opened_behind: Behind = entry(
        0,
        "Behind consumer",
        help="by its number; 0: at the head",
        group="fuse",
        when=("opened", ("L1", "L2", "L3", "N")),
    )


class StreetEntries(StreetLoad):
    """A street's entries, as its work knows them under every family."""


@cache
def compose(code: Code) -> type[Entries]:
    """A street's entries under a family: its sizes, and how its conductors lie."""
    along = code.along
    sizes: Mapping[str, str] = along.SIZES  # type: ignore[attr-defined]
    names = Literal[("auto", *sizes)]  # type: ignore[valid-type]
    own = {
        "__doc__": StreetLoad.__doc__,
        "__annotations__": {"size": names},
        "size": size_entry(sizes),
    }
    return type("StreetEntries", (along, StreetLoad), own)


GROUPS = {
    "street": "Along the street",
    "run": "The line",
    "fuse": "Its fuses",
    "place": "In the board above",
}
