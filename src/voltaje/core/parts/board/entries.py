"""What is read off a board's own nameplate."""

from __future__ import annotations

from typing import Annotated, Literal

from voltaje.core import units
from voltaje.core.entries import Current, Entries, Reads, entry
from voltaje.core.rules.awg.wired import Interrupting

Poles = Annotated[int, Reads(units.COUNT, 1, 84, whole=True)]
ImbalancePercent = Annotated[float, Reads(units.COUNT, 1.0, 100.0)]
# Common practice: worth a look beyond this deviation from the mean.
IMBALANCE = 20.0


class BoardEntries(Entries):
    """What is read off the board's own nameplate."""

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
    imbalance: ImbalancePercent = entry(
        IMBALANCE, "Lines may differ by, %", group="board", help="from their mean"
    )
