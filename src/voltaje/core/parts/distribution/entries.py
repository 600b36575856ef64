"""What is told of a distribution circuit: what of the load below counts, and how it is run."""

from __future__ import annotations

from typing import Annotated

from voltaje.core import units
from voltaje.core.entries import BigNameplate, Reads, entry
from voltaje.core.rules.iec.entries import CableEntries

Loss = Annotated[float, Reads(units.COUNT, 0.1, 8.0)]
Share = Annotated[float, Reads(units.COUNT, 1.0, 100.0)]


class DistributionEntries(CableEntries):
    """The load, and its cable, protection and sizes by hand."""

    load: BigNameplate | None = entry(
        None,
        "Load entered here",
        group="load",
        help="besides what hangs on it",
        example="12 kW",
    )
    diversity: Share = entry(
        100.0, "Of all of it at once, %", group="load", help="by usual guidance, or measured"
    )
    may_lose: Loss = entry(
        2.0, "Drop it may have, %", group="run", help="the rest is left to what follows"
    )


GROUPS = {
    "load": "The load",
    "run": "How it is run",
    "protection": "Protection and earth",
    "hand": "By hand",
}
