"""What is told of a tray and of what lies in it."""

from __future__ import annotations

from typing import Annotated, Literal

from voltaje.core import quantities
from voltaje.core.entries import Entries, Reads, Row, entry
from voltaje.core.rules.north_america.wired import SIZE_LABELS
from voltaje.core.rules.north_america.wired.entries import Insulation

Count = Annotated[int, Reads(quantities.COUNT, 1, 200, whole=True)]
Diameter = Annotated[float, Reads(quantities.COUNT, 0.1, 6.0)]
Width = Literal["auto", "6", "9", "12", "18", "24", "30", "36"]
WIDTHS = {"auto": "smallest that takes them"} | {
    width: f"{width} in"
    for width in Width.__args__[1:]  # type: ignore[attr-defined]
}
Single = Literal[
    "1/0", "2/0", "3/0", "4/0", "250", "300", "350", "400", "500", "600", "700", "750", "800",
    "900", "1000",
]  # fmt: skip
SINGLES = {size: SIZE_LABELS[size] for size in Single.__args__}  # type: ignore[attr-defined]


class CableInTray(Row):
    """Multiconductor cables that are alike, by the outside diameter that their maker gives."""

    count: Count = entry(1, "How many", example="3")
    diameter: Diameter | None = entry(None, "Outside diameter, in", example="1.25")
    large: Literal["", "yes"] = entry(
        "", "Conductors", choices={"": "smaller than 4/0 AWG", "yes": "4/0 AWG and larger"}
    )


class SingleInTray(Row):
    """Single conductors that are alike."""

    count: Count = entry(1, "How many", example="3")
    size: Single = entry("4/0", "Size", choices=SINGLES)
    insulation: Insulation = entry("THHN", "Insulation")


class CableTrayEntries(Entries):
    """The tray: its bottom and width, and the cables or the single conductors in it."""

    what: Literal["cables", "singles"] = entry(
        "cables",
        "What lies in it",
        group="tray",
        choices={"cables": "multiconductor cables", "singles": "single conductors from 1/0 AWG"},
    )
    bottom: Literal["ladder", "solid"] = entry(
        "ladder",
        "Bottom",
        group="tray",
        choices={"ladder": "ladder or ventilated", "solid": "solid"},
        when=("what", ("cables",)),
    )
    width: Width = entry("auto", "Inside width", group="tray", choices=WIDTHS)
    cables: tuple[CableInTray, ...] = entry(
        (), "Cables", group="inside", add="Add cables", when=("what", ("cables",))
    )
    singles: tuple[SingleInTray, ...] = entry(
        (), "Conductors", group="inside", add="Add conductors", when=("what", ("singles",))
    )


GROUPS = {"tray": "The tray", "inside": "In it"}
