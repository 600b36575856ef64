"""What is told of a distribution circuit: what of the load below counts, and how it is run."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Annotated, ClassVar

from voltaje.core import quantities
from voltaje.core.entries import Entries, LoadAtItsVolts, Reads, entry
from voltaje.core.kinds.placing import InBoard
from voltaje.core.rules.iec60364.entries import CableEntries, beside
from voltaje.core.rules.interface import Code
from voltaje.core.rules.north_america.wired import Interrupting

Loss = Annotated[float, Reads(quantities.COUNT, 0.1, 8.0)]
Share = Annotated[float, Reads(quantities.COUNT, 1.0, 100.0)]


class DistributionLoad(InBoard):
    """The load, what of it counts, and the drop that it may have."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"may_lose": "maximum_drop"}
    load: LoadAtItsVolts | None = entry(
        None,
        "Load entered here",
        group="load",
        help="besides what hangs on it",
        example="12 kW",
    )
    diversity: Share = entry(
        100.0, "Of all of it at once, %", group="load", help="by usual guidance, or measured"
    )
    breaking: Interrupting | None = entry(
        None,
        "Breaking capacity",
        group="protection",
        help="empty: as usual for its kind",
        example="25 kA",
    )
    maximum_drop: Loss = entry(
        2.0, "Drop it may have, %", group="run", help="the rest is left to what follows"
    )


class DistributionEntries(DistributionLoad, CableEntries):
    """A distribution circuit's entries, as its work knows them under every family."""


@cache
def compose(code: Code) -> type[Entries]:
    """Its entries under a family: a submain is no ring."""
    return beside(DistributionLoad, code)


GROUPS = {
    "load": "The load",
    "run": "How it is run",
    "protection": "Protection and earth",
    "hand": "By hand",
    "place": "In the board above",
}
