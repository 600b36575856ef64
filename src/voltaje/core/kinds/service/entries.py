"""What is told of a service: its disconnects, its electrodes, and how it is run."""

from __future__ import annotations

from functools import cache
from typing import Annotated

from voltaje.core import quantities
from voltaje.core.entries import Entries, Reads, entry
from voltaje.core.rules.interface import Code
from voltaje.core.rules.north_america.wired import (
    SIZE_LABELS,
    WIRING_GROUPS,
    Interrupting,
    SizeChoice,
    WiringEntries,
)

Disconnects = Annotated[int, Reads(quantities.COUNT, 1, 6, whole=True)]
ELECTRODES = {
    "water_pipe": ("water pipe", "Metal underground water pipe"),
    "steel": ("structural steel", "Structural steel"),
    "concrete": ("concrete-encased", "Concrete-encased electrode"),
    "rod": ("rod", "Rod, pipe or plate"),
    "ring": ("ring", "Ground ring"),
}


class ServiceLoad(Entries):
    """Disconnects, raceways, electrodes, and how the service conductors are run."""

    disconnects: Disconnects = entry(1, "Disconnects", group="service")
    interrupting: Interrupting | None = entry(
        None, "Interrupting rating", group="service", help="of its devices", example="22 kA"
    )
    water_pipe: bool = entry(False, "Metal underground water pipe", group="electrodes")
    steel: bool = entry(False, "Structural steel", group="electrodes")
    concrete: bool = entry(False, "Concrete-encased electrode", group="electrodes")
    rod: bool = entry(False, "Rod, pipe or plate", group="electrodes")
    ring: bool = entry(False, "Ground ring", group="electrodes")
    ring_size: SizeChoice = entry("2", "Ring conductor", choices=SIZE_LABELS, group="electrodes")


class ServiceEntries(ServiceLoad, WiringEntries):
    """A service's entries, as its work knows them under every family."""


@cache
def compose(code: Code) -> type[Entries]:
    """A service's entries under a family: its own way of running conductors."""
    return type("ServiceEntries", (ServiceLoad, code.wiring), {"__doc__": ServiceLoad.__doc__})


GROUPS = {
    "service": "The service",
    "electrodes": "Electrodes that are there",
    **WIRING_GROUPS,
}
