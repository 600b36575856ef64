"""The vocabulary of the Canadian Electrical Code: raceways, cables and insulations by its names.

It sizes as its neighbour does, by tables of its own; a document keeps each code's way of running
conductors beside the other's, so its entries have names of their own.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar, Literal

from voltaje.core.codes import editions
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.entries import Current, Few, Length, Temperature, Units, entry
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.runs import AWG, AwgAlong, NecStrand, celsius_entry
from voltaje.core.rules.north_america.wired.entries import (
    USES,
    DropBy,
    DropSizing,
    InstalledEntries,
    Raceways,
    SizeChoice,
    Terminals,
    ambient_entry,
    device_entry,
    drop_method_entry,
    drop_sizing_entry,
    length_entry,
    metal_entry,
    others_entry,
    raceways_entry,
    sets_entry,
    size_entry,
    terminals_entry,
)
from voltaje.core.rules.north_america.wiring import RACEWAYS

FAMILY = "cec"
RunIn = Literal["EMT", "PVC 40", "RMC", "NMD90", "NMWU", "AC90", "TECK90"]
RUN_IN: Mapping[str, str] = {
    "EMT": "EMT",
    "PVC 40": "rigid PVC conduit",
    "RMC": "rigid metal conduit",
    "NMD90": "NMD90 cable",
    "NMWU": "NMWU cable",
    "AC90": "AC90 armoured cable",
    "TECK90": "TECK90 armoured cable",
}
Cover = Literal["T90 Nylon", "RW90", "TWN75", "RW75", "TW75", "TW"]
IN_RACEWAY = tuple(name for name in RUN_IN if name in RACEWAYS)
# what no rule of this family that is here knows of: signs
CEC_USES = (*(use for use in USES if use != "sign"), "range")


def _run_in_entry(usual: str) -> Any:
    return entry(usual, "Run in", choices=RUN_IN, group="run")


def _cover_entry(usual: str) -> Any:
    degrees = editions(FAMILY)[-1].cells("insulations", "°C")
    labels = {name: f"{name}, {cell.value:g} °C" for name, cell in degrees.items()}
    return entry(
        usual, "Insulation", group="run", when=("raceway_or_cable", IN_RACEWAY), choices=labels
    )


class CecWiring(InstalledEntries):
    """How the conductors are run, and what the user fixes by hand."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "cover": "conductor_type",
        "run_in": "raceway_or_cable",
        "marked": "continuous_rating",
    }
    USES: ClassVar[tuple[str, ...]] = CEC_USES
    MOTOR_STARTING: ClassVar[bool] = True  # its table of devices asks how a motor starts
    METHODS: ClassVar[Mapping[str, str]] = RUN_IN
    METHOD: ClassVar[str] = "raceway_or_cable"
    INSULATION: ClassVar[str] = "conductor_type"
    compact: ClassVar[bool] = False  # type: ignore[misc]  # its tables give no such dimensions

    material: Metal = metal_entry("Conductors")
    raceway_or_cable: RunIn = _run_in_entry("EMT")
    conductor_type: Cover = _cover_entry("RW90")
    terminals: Terminals = terminals_entry()
    continuous_rating: Literal["80", "100"] = entry(
        "80",
        "Marked for continuous load",
        group="run",
        choices={"80": "80 %, or not marked", "100": "100 %"},
    )
    ambient: Temperature = ambient_entry()
    others: Few = others_entry()
    length: Length | None = length_entry()
    drop_sizing: DropSizing = drop_sizing_entry()
    drop_method: DropBy = drop_method_entry()
    device: Current | None = device_entry()
    size: SizeChoice = size_entry()
    sets: Units | None = sets_entry()
    raceways: Raceways = raceways_entry("raceway_or_cable")

    @property  # type: ignore[misc]
    def wiring_method(self) -> str:
        """The wiring method, as the tables name it."""
        return self.raceway_or_cable

    @property  # type: ignore[misc]
    def insulation(self) -> str:
        """The insulation in a raceway, as the tables name it."""
        return self.conductor_type


class CecAlong(AwgAlong):
    """How the conductors of a run lie."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "celsius": "conductor_temperature",
        "cover": "conductor_type",
        "run_in": "raceway_or_cable",
    }
    material: Metal = metal_entry("Metal")
    raceway_or_cable: RunIn = _run_in_entry("PVC 40")
    conductor_type: Cover = _cover_entry("RW90")
    conductor_temperature: Temperature = celsius_entry()

    @property  # type: ignore[misc]
    def wiring_method(self) -> str:
        """The wiring method, as the tables name it."""
        return self.raceway_or_cable

    @property  # type: ignore[misc]
    def insulation(self) -> str:
        """The insulation in a raceway, as the tables name it."""
        return self.conductor_type

    SIZES: ClassVar[Mapping[str, str]] = {size: label(Size(size)) for size in AWG}


class CecStrand(NecStrand):
    """The conductors of a run: AWG and kcmil alone, whatever the job's units."""

    def __init__(self, entries: Any, wires: int, three: bool, context: Context) -> None:
        super().__init__(entries, wires, three, context)
        self.sizes = tuple(Size(size) for size in AWG)
