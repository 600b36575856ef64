"""How a cable is run under these codes, how it is protected, and what the user fixes by hand."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from voltaje.core import units
from voltaje.core.entries import (
    Current,
    Entries,
    Few,
    Length,
    Percent,
    Reads,
    Temperature,
    Usual,
    entry,
)

Ohms = Annotated[float, Reads(units.COUNT, 0.0, 2000.0)]
Millimetres = Annotated[float, Reads(units.COUNT, 0.0, 100_000.0)]
Resistivity = Annotated[float, Reads(units.COUNT, 0.1, 3.0)]
Depth = Annotated[float, Reads(units.COUNT, 0.3, 3.0)]
Area = Literal[
    "auto", "1", "1.5", "2.5", "4", "6", "10", "16", "25", "35", "50", "70", "95", "120",
    "150", "185", "240", "300", "400",
]  # fmt: skip
SIZES: tuple[str, ...] = Area.__args__[1:]  # type: ignore[attr-defined]
AREAS = {"auto": "as calculated"} | {size: f"{size} mm²" for size in SIZES}
Cable = Literal["single", "multi", "flat", "armoured", "single 90", "multi 90", "armoured 90"]
CABLES = {
    "single": "single-core, 70 °C copper",
    "multi": "multicore, 70 °C copper",
    "flat": "flat with protective conductor, 70 °C copper",
    "armoured": "armoured multicore, 70 °C copper",
    "single 90": "single-core, 90 °C copper",
    "multi 90": "multicore, 90 °C copper",
    "armoured 90": "armoured multicore, 90 °C copper",
}
Method = Literal["A", "B", "C", "D", "E", "F", "100", "101", "102", "103"]
METHODS = {
    "A": "A: in conduit in an insulated wall",
    "B": "B: in conduit or trunking on a wall",
    "C": "C: clipped direct to a wall",
    "D": "D: in the ground",
    "E": "E: in free air or on a tray, multicore",
    "F": "F: in free air or on a tray, single cores touching",
    "100": "100: on a ceiling under insulation to 100 mm",
    "101": "101: on a ceiling under more insulation",
    "102": "102: in an insulated stud wall, touching its board",
    "103": "103: in an insulated stud wall, not touching",
}
# methods whose columns have the insulation in them
INSULATED = ("A", "100", "101", "102", "103")
IN_AIR = tuple(name for name in METHODS if name != "D")
Device = Literal["B", "C", "D", "gG", "BS 88-3", "BS 3036"]
DEVICES = {
    "B": "breaker type B",
    "C": "breaker type C",
    "D": "breaker type D",
    "gG": "fuse gG",
    "BS 88-3": "cartridge fuse BS 88-3",
    "BS 3036": "rewirable fuse BS 3036",
}
BREAKERS = ("B", "C", "D")


class CableEntries(Entries):
    """Cable, reference method, surroundings, protection, and what is fixed by hand."""

    # the limit of these codes is from the origin to the load: what is lost ahead counts
    drop_sizing: ClassVar[str] = "total"

    cable: Cable = entry("single", "Cable", choices=CABLES, group="run")
    reference_method: Method = entry("B", "Reference method", choices=METHODS, group="run")
    ambient: Temperature = entry(
        30.0,
        "Ambient",
        group="run",
        help="°C, or write 104 °F",
        when=("reference_method", IN_AIR),
    )
    ground: Temperature = entry(
        20.0, "Ground", group="run", help="°C", when=("reference_method", ("D",))
    )
    soil: Resistivity = entry(
        2.5,
        "Soil, K·m/W",
        group="run",
        when=("reference_method", ("D",)),
        example="2.5",
    )
    depth: Depth = entry(
        0.7, "Depth, m", group="run", when=("reference_method", ("D",)), example="0.7"
    )
    grouped: Few = entry(
        0,
        "Other circuits with it",
        group="run",
        help="grouped; none that carries 30 % or less of what it may",
    )
    insulated: Millimetres = entry(
        0.0,
        "Surrounded by insulation, mm",
        group="run",
        help="over that length",
        when=("reference_method", ("B", "C", "E", "F")),
    )
    third: Percent = entry(
        0.0,
        "Third harmonic, %",
        group="run",
        help="of a three-phase line’s amperes",
    )
    length: Length | None = entry(
        None,
        "Length, one way",
        group="run",
        help="for the drop",
        usual=Usual(1.0, 5000.0, "a run inside or between buildings"),
    )
    device_type: Device = entry("B", "Device", choices=DEVICES, group="protection")
    rcd: Literal["none", "30", "100", "300"] = entry(
        "none",
        "Residual-current device",
        group="protection",
        choices={"none": "none", "30": "30 mA", "100": "100 mA", "300": "300 mA"},
    )
    earthing: Literal["supply", "TN", "TT"] = entry(
        "supply",
        "Earthing",
        group="protection",
        choices={
            "supply": "as the supply; TN where it is not told",
            "TN": "TN: the supply’s earth",
            "TT": "TT: an electrode of its own",
        },
    )
    external_loop: Ohms | None = entry(
        None,
        "External loop Ze, Ω",
        group="protection",
        help="in a job, empty: the supply’s",
        example="0.35",
    )
    device: Current | None = entry(
        None, "Device", help="empty: as calculated", group="hand", example="32 A"
    )
    area: Area = entry("auto", "Line conductors", choices=AREAS, group="hand")
    protective: Area = entry("auto", "Protective conductor", choices=AREAS, group="hand")

    @property
    def insulation(self) -> str:
        """The highest temperature of its insulation, °C."""
        return "90" if self.cable.endswith("90") else "70"


class FinalEntries(CableEntries):
    """A final circuit may also be a ring."""

    layout: Literal["radial", "ring"] = entry(
        "radial",
        "Layout",
        group="run",
        help="a ring’s length is that to its far point",
        choices={"radial": "radial", "ring": "ring, both ends at the board"},
    )
