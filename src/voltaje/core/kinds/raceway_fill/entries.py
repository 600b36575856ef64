"""What is told of a raceway and of the conductors in it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.codes import editions
from voltaje.core.entries import Entries, Reads, Row, entry
from voltaje.core.rules.interface import Code
from voltaje.core.rules.north_america.cec import Cover
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


class FilledRaceway(Entries):
    """A raceway and its conductors, as every family has them."""

    if TYPE_CHECKING:  # each family's own fields, in the order of its form
        raceway: Any
        trade_size: Any
        wireway_size: Any
        nipple: bool
        conductors: tuple[Any, ...]


class RacewayFillEntries(FilledRaceway):
    """The raceway and its conductors by the NEC, nipples and wireways among them."""

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


CEC_SIZES = {"auto": LABELS["auto"]} | {row: row for row in editions("cec")[-1].rows("raceways")}


class CecFilledWith(FilledWith):
    """Conductors that are alike, in an insulation of the Canadian code."""

    insulation: Cover = entry("RW90", "Insulation")  # type: ignore[assignment]


class CecRacewayEntries(FilledRaceway):
    """The raceway and its conductors by the Canadian code."""

    wireway_size: ClassVar[str] = "auto"  # type: ignore[misc]  # no rule of wireways is here
    nipple: ClassVar[bool] = False  # type: ignore[misc]
    raceway: Literal["EMT", "PVC 40", "RMC"] = entry(
        "EMT",
        "Raceway",
        group="raceway",
        choices={name: METHOD_LABELS[name] for name in ("EMT", "PVC 40", "RMC")},
    )
    trade_size: Literal[tuple(CEC_SIZES)] = entry(  # type: ignore[valid-type]
        "auto", "Trade size", group="raceway", choices=CEC_SIZES
    )
    conductors: tuple[CecFilledWith, ...] = entry(
        (), "Conductors", group="conductors", add="Add conductors"
    )


def compose(code: Code) -> type[Entries]:
    """A raceway's entries under a family."""
    return CecRacewayEntries if code.family == "cec" else RacewayFillEntries


GROUPS = {"raceway": "The raceway", "conductors": "The conductors"}
