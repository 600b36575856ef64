"""What is told of a bench: its units, the joints between coil ends and points, what feeds it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from voltaje.core import quantities
from voltaje.core.entries import Entries, Name, Reads, Row, entry

Winding = Annotated[float, Reads(quantities.VOLTAGE, 1.0, 100_000.0)]
Angle = Annotated[float, Reads(quantities.COUNT, -360.0, 360.0)]
Kva = Annotated[float, Reads(quantities.SIZE, 10.0, 1e8)]
Impedance = Annotated[float, Reads(quantities.COUNT, 0.1, 20.0)]
UnitName = Annotated[str, Field(max_length=3)]
# no code figure: what a field of the page holds
Ends = Annotated[str, Field(max_length=200)]
Made = Literal["two", "three", "split", "zigzag", "linked"]
MADE = {
    "two": "two windings",
    "three": "three windings",
    "split": "split secondary: two alike halves",
    "zigzag": "zigzag leg: two halves for two phases",
    "linked": "linked pair: two alike coils",
}


class WindingUnit(Row):
    """Coils on one core, by their rated volts: their turns stand in the same ratio."""

    name: UnitName = entry("", "Unit", example="x")
    first: Winding | None = entry(None, "Coil 1, V", example="400 V")
    second: Winding | None = entry(None, "Coil 2, V", example="231 V")
    third: Winding | None = entry(None, "Coil 3, V", example="24 V")
    made: Made = entry("two", "What it is", choices=MADE)


class JointRow(Row):
    """Ends and points that are joined to one another."""

    ends: Ends = entry("", "Joined together", example="x2- y2- z2-")


class OtherSource(Row):
    """A source beside the supply: between two points."""

    name: UnitName = entry("", "To the point", example="p")
    volts: Winding | None = entry(None, "Volts", example="120 V")
    angle: Angle | None = entry(None, "Angle, °", example="-30")
    other: UnitName = entry("", "From", example="N")


class WindingConnectionsEntries(Entries):
    """Units, joints, and what feeds them."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"fed": "supplied_lines", "taken": "load_lines"}
    units: tuple[WindingUnit, ...] = entry((), "Units", group="units", add="Add a unit")
    joints: tuple[JointRow, ...] = entry((), "Joints", group="joints", add="Add a joint")
    supply: Winding | None = entry(
        None, "Supply", group="fed", help="line to line, on A, B, C", example="400 V"
    )
    sequence: Literal["ABC", "ACB"] = entry(
        "ABC", "Its lines follow", group="fed", choices={"ABC": "A, B, C", "ACB": "A, C, B"}
    )
    sources: tuple[OtherSource, ...] = entry(
        (), "Other sources", group="fed", add="Add another source"
    )
    supplied_lines: Name = entry(
        "A B C", "Lines fed", group="read", help="three points, for the group"
    )
    load_lines: Name = entry(
        "a b c", "Lines taken", group="read", help="three points, for the group"
    )
    meter: Name = entry("", "Meter between", group="read", help="two ends", example="x2+ z2-")
    kva: Kva | None = entry(
        None, "Size of each unit", group="read", help="for currents", example="10 kVA"
    )
    impedance: Impedance | None = entry(
        None, "Impedance, %", group="read", help="of each unit, for currents", example="4"
    )


GROUPS = {
    "units": "Units on the bench",
    "joints": "Joints: x1+ is coil 1 of unit x, its end with the dot",
    "fed": "What feeds it",
    "read": "What is read",
}
