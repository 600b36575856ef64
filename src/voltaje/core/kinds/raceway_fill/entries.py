"""What is told of a raceway and of the conductors in it."""

from __future__ import annotations

from typing import Annotated, Literal

from voltaje.core import quantities
from voltaje.core.entries import Entries, Reads, Row, entry
from voltaje.core.rules.north_america.wired import METHOD_LABELS, SIZE_LABELS
from voltaje.core.rules.north_america.wired.entries import Insulation, SizeChoice

Count = Annotated[int, Reads(quantities.COUNT, 1, 400, whole=True)]
TradeSize = Literal[
    "auto", "1/2", "3/4", "1", "1-1/4", "1-1/2", "2", "2-1/2", "3", "3-1/2", "4", "5", "6"
]
LABELS = {"auto": "smallest that takes them"} | {
    size: f"{size} in"
    for size in TradeSize.__args__[1:]  # type: ignore[attr-defined]
}
ROUND = ("EMT", "PVC 40", "PVC 80", "RMC")
WirewaySize = Literal[
    "auto", "2-1/2 × 2-1/2", "4 × 4", "6 × 6", "8 × 8", "10 × 10", "12 × 12"
]  # fmt: skip
WIREWAYS = {"auto": "smallest that takes them"} | {
    size: f"{size} in"
    for size in WirewaySize.__args__[1:]  # type: ignore[attr-defined]
}
SIZES = {**SIZE_LABELS, "auto": "choose a size"}


class FilledWith(Row):
    """Conductors that are alike: how many, their size and insulation, and whether current counts in
    them."""

    count: Count = entry(1, "How many", example="3")
    size: SizeChoice = entry("auto", "Size", choices=SIZES)
    insulation: Insulation = entry("THHN", "Insulation")
    carries: Literal["yes", "no"] = entry(
        "yes",
        "Counts for the adjustment",
        choices={"yes": "carries current", "no": "ground, or neutral of unbalance alone"},
    )


class RacewayFillEntries(Entries):
    """The raceway and its conductors."""

    raceway: Literal["EMT", "PVC 40", "PVC 80", "RMC", "wireway"] = entry(
        "EMT",
        "Raceway",
        group="raceway",
        choices={name: METHOD_LABELS[name] for name in ROUND} | {"wireway": "metal wireway"},
    )
    trade_size: TradeSize = entry(
        "auto", "Trade size", group="raceway", choices=LABELS, when=("raceway", ROUND)
    )
    wireway_size: WirewaySize = entry(
        "auto", "Width × height", group="raceway", choices=WIREWAYS, when=("raceway", ("wireway",))
    )
    nipple: bool = entry(False, "Nipple of 24 in at most", group="raceway", when=("raceway", ROUND))
    conductors: tuple[FilledWith, ...] = entry(
        (), "Conductors", group="conductors", add="Add conductors"
    )


GROUPS = {"raceway": "The raceway", "conductors": "The conductors"}
