"""What is told at the origin: its conductors, how it is earthed, the heat of a fault there."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.entries import Entries, Reads, entry
from voltaje.core.rules.iec60364.entries import SIZES, Area

Fault = Annotated[float, Reads(quantities.CURRENT, 1.0, 100_000.0)]
Seconds = Annotated[float, Reads(quantities.COUNT, 0.005, 5.0)]
Origin = Literal[
    "6", "10", "16", "25", "35", "50", "70", "95", "120", "150", "185", "240", "300", "400"
]  # fmt: skip
ORIGIN = {size: f"{size} mm²" for size in SIZES if size in Origin.__args__}  # type: ignore[attr-defined]


class EarthingEntries(Entries):
    """The conductors at the origin, the earth, and what a fault there leaves as heat."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "guarded": "mechanically_protected",
        "sheathed": "corrosion_protected",
        "seconds": "clearing_time",
        "line": "line_conductor",
        "neutral": "supply_neutral",
    }
    line_conductor: Origin = entry(
        "25", "Line conductors at the origin", choices=ORIGIN, group="origin"
    )
    supply_neutral: Area = entry(
        "auto",
        "Neutral of the supply",
        choices={"auto": "as the lines"} | {size: f"{size} mm²" for size in SIZES},
        group="origin",
    )
    earthing: Literal["supply", "TN-S", "TN-C-S", "TT"] = entry(
        "supply",
        "Earthing",
        group="origin",
        choices={
            "supply": "as the supply; TN-S where it is not told",
            "TN-S": "TN-S: a separate earth of the supply’s",
            "TN-C-S": "TN-C-S: the supply’s neutral earthed at the origin",
            "TT": "TT: an electrode of its own",
        },
    )
    buried: bool = entry(False, "Buried earthing conductor", group="origin")
    corrosion_protected: bool = entry(
        False, "Protected against corrosion", group="origin", help="where it is buried, by a sheath"
    )
    mechanically_protected: bool = entry(
        False, "Protected against blows", group="origin", help="where it is buried"
    )
    fault: Fault | None = entry(
        None,
        "Earth-fault current",
        group="heat",
        help="empty: by the supply’s external loop",
        example="1.2 kA",
    )
    clearing_time: Seconds | None = entry(
        None, "Cleared within, s", group="heat", help="by the supplier’s fuse", example="0.4"
    )


def bare(entries: EarthingEntries) -> str:
    """What a buried earthing conductor lacks, as :func:`earth.main_earthing` takes it."""
    if not entries.buried:
        return ""
    if not entries.corrosion_protected:
        return "bare"
    return "" if entries.mechanically_protected else "struck"


GROUPS = {"origin": "At the origin", "heat": "The heat of a fault"}
