"""What is read off a board's own nameplate."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.electrical.panel_layout import NUMBERINGS
from voltaje.core.entries import Current, Entries, Name, Reads, Row, entry
from voltaje.core.kinds.placing import PlaceText
from voltaje.core.rules.north_america.wired import Interrupting

Poles = Annotated[int, Reads(quantities.COUNT, 1, 84, whole=True)]
ImbalancePercent = Annotated[float, Reads(quantities.COUNT, 1.0, 100.0)]
# Common practice: worth a look beyond this deviation from the mean.
IMBALANCE = 20.0


class KeptPlace(Row):
    """A spare device, or a place that is kept free."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"space": "position"}
    COMPLETE = True

    name: Name = entry("", "Name", example="Spare")
    what: Literal["spare", "space"] = entry(
        "spare", "What", choices={"spare": "spare device", "space": "space kept free"}
    )
    position: PlaceText = entry("", "Place", help="empty: proposed", example="40")
    poles: Literal["1", "2", "3"] = entry(
        "1", "Poles", choices={"1": "1 pole", "2": "2 poles", "3": "3 poles"}
    )
    device: Current | None = entry(None, "Device", example="20 A")


class BoardEntries(Entries):
    """What is read off the board's own nameplate."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "main_at": "main_position",
        "kept": "reserved_positions",
        "imbalance": "maximum_imbalance",
    }
    rating: Current | None = entry(
        None, "Bus rating", group="board", help="nameplate", example="225 A"
    )
    main: Current | None = entry(
        None, "Main device", group="board", help="empty: main lugs only", example="200 A"
    )
    spaces: Poles | None = entry(None, "Pole spaces", group="board", example="42")
    mounting: Literal["surface", "flush", "free-standing"] = entry(
        "surface",
        "Mounting",
        group="board",
        choices={"surface": "surface", "flush": "flush", "free-standing": "free-standing"},
    )
    interrupting: Interrupting | None = entry(
        None, "Interrupting rating", group="board", help="of its devices", example="10 kA"
    )
    maximum_imbalance: ImbalancePercent = entry(
        IMBALANCE, "Lines may differ by, %", group="board", help="from their mean"
    )
    numbering: Literal["usual", "odd-even", "down", "column", "ways"] = entry(
        "usual",
        "Places are numbered",
        group="places",
        choices={"usual": "as usual here", **{k: v.template for k, v in NUMBERINGS.items()}},
    )
    main_position: PlaceText = entry(
        "",
        "Main stands in places",
        help="its first; empty: ahead of them",
        group="places",
        example="1",
    )
    reserved_positions: tuple[KeptPlace, ...] = entry(
        (), "Spares and spaces", group="places", add="Add a spare or a space"
    )
