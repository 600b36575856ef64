"""What is told of a conduit or a trunking, and of the cables in it."""

from __future__ import annotations

from typing import Annotated, Literal

from voltaje.core import quantities
from voltaje.core.entries import Entries, Length, Reads, Row, entry

Count = Annotated[int, Reads(quantities.COUNT, 1, 400, whole=True)]
Area = Literal["1", "1.5", "2.5", "4", "6", "10", "16", "25"]
AREAS = {size: f"{size} mm²" for size in Area.__args__}  # type: ignore[attr-defined]
Conduit = Literal["auto", "16", "20", "25", "32", "38", "50", "63"]
CONDUITS = {"auto": "smallest that takes them"} | {
    size: f"{size} mm"
    for size in Conduit.__args__[1:]  # type: ignore[attr-defined]
}
Trunking = Literal[
    "auto", "75 × 25", "50 × 38", "100 × 25", "50 × 50", "75 × 38", "100 × 38", "75 × 50",
    "100 × 50", "75 × 75", "150 × 50", "100 × 75", "200 × 50", "100 × 100", "150 × 75",
    "200 × 75", "150 × 100", "200 × 100", "150 × 150", "200 × 150", "200 × 200",
]  # fmt: skip
TRUNKINGS = {"auto": "smallest that takes them"} | {
    size: f"{size} mm"
    for size in Trunking.__args__[1:]  # type: ignore[attr-defined]
}


class CableInside(Row):
    """Single-core cables that are alike."""

    count: Count = entry(1, "How many", example="3")
    size: Area = entry("2.5", "Size", choices=AREAS)
    strands: Literal["stranded", "solid"] = entry(
        "stranded", "Conductor", choices={"stranded": "stranded", "solid": "solid"}
    )
    insulation: Literal["PVC", "XLPE"] = entry(
        "PVC",
        "Insulation",
        choices={"PVC": "thermoplastic (PVC)", "XLPE": "thermosetting (XLPE)"},
    )
    carries: Literal["yes", "no"] = entry(
        "yes",
        "Counts as a circuit’s conductor",
        choices={"yes": "carries current", "no": "protective conductor"},
    )


class TrunkingEntries(Entries):
    """The enclosure, its run, and the cables in it."""

    what: Literal["conduit", "trunking"] = entry(
        "conduit",
        "Enclosure",
        group="enclosure",
        choices={"conduit": "conduit", "trunking": "trunking"},
    )
    length: Length | None = entry(
        None,
        "Length between draw-in boxes",
        group="enclosure",
        help="empty: a short straight run",
        when=("what", ("conduit",)),
        example="5 m",
    )
    bends: Literal["0", "1", "2", "3", "4"] = entry(
        "0",
        "Bends of 90°",
        group="enclosure",
        choices={"0": "none", "1": "1", "2": "2", "3": "3", "4": "4"},
        when=("what", ("conduit",)),
    )
    conduit: Conduit = entry(
        "auto", "Diameter", group="enclosure", choices=CONDUITS, when=("what", ("conduit",))
    )
    trunking: Trunking = entry(
        "auto", "Width × height", group="enclosure", choices=TRUNKINGS, when=("what", ("trunking",))
    )
    cables: tuple[CableInside, ...] = entry((), "Cables", group="cables", add="Add cables")


GROUPS = {"enclosure": "The enclosure", "cables": "The cables"}
