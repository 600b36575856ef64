"""How a cable is run under these codes, and what the user fixes by hand."""

from __future__ import annotations

from typing import Annotated, Literal

from voltaje.core import units
from voltaje.core.entries import Current, Entries, Few, Length, Reads, Temperature, Usual, entry

Ohms = Annotated[float, Reads(units.COUNT, 0.0, 200.0)]
Area = Literal["auto", "1", "1.5", "2.5", "4", "6", "10", "16", "25", "35", "50", "70", "95", "120"]
SIZES: tuple[str, ...] = Area.__args__[1:]  # type: ignore[attr-defined]
AREAS = {"auto": "as calculated"} | {size: f"{size} mm²" for size in SIZES}
METHODS = {"B": "B: in conduit or trunking on a wall", "C": "C: clipped direct to a wall"}
CABLES = {"single": "single-core, 70 °C copper", "multi": "multicore, 70 °C copper"}


class CableEntries(Entries):
    """Cable, reference method, surroundings, and what is fixed by hand."""

    cable: Literal["single", "multi"] = entry("single", "Cable", choices=CABLES, group="run")
    reference_method: Literal["B", "C"] = entry(
        "B", "Reference method", choices=METHODS, group="run"
    )
    ambient: Temperature = entry(30.0, "Ambient", group="run", help="°C, or write 104 °F")
    grouped: Few = entry(0, "Other circuits with it", group="run", help="grouped")
    length: Length | None = entry(
        None,
        "Length, one way",
        group="run",
        help="for the drop",
        usual=Usual(1.0, 5000.0, "a run inside or between buildings"),
    )
    external_loop: Ohms | None = entry(None, "External loop Ze, Ω", group="run", example="0.35")
    device: Current | None = entry(
        None, "Device", help="empty: as calculated", group="hand", example="32 A"
    )
    area: Area = entry("auto", "Line conductors", choices=AREAS, group="hand")
    protective: Area = entry("auto", "Protective conductor", choices=AREAS, group="hand")
