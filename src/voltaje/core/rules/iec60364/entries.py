"""How a cable is run under these codes, how it is protected, and what the user fixes by hand.

What all families ask stands here; how a cable lies is each family's own vocabulary
(``InstallationEntries``), in a module of the family's name.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.capabilities import InInsulation, can
from voltaje.core.codes.vocabulary import Metal
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
from voltaje.core.rules.interface import Code, Wiring

Ohms = Annotated[float, Reads(quantities.RESISTANCE, 0.0, 2000.0)]
Millimetres = Annotated[float, Reads(quantities.COUNT, 0.0, 100_000.0)]
Resistivity = Annotated[float, Reads(quantities.COUNT, 0.1, 3.0)]
Depth = Annotated[float, Reads(quantities.COUNT, 0.3, 3.0)]
Times = Annotated[float, Reads(quantities.COUNT, 1.5, 20.0)]
Area = Literal[
    "auto", "1", "1.5", "2.5", "4", "6", "10", "16", "25", "35", "50", "70", "95", "120",
    "150", "185", "240", "300", "400",
]  # fmt: skip
SIZES: tuple[str, ...] = Area.__args__[1:]  # type: ignore[attr-defined]
AREAS = {"auto": "as calculated"} | {size: f"{size} mm²" for size in SIZES}
METALS: Mapping[str, str] = {"copper": "copper", "aluminum": "aluminum"}
BREAKERS = ("B", "C", "D")


# what a circuit may be for: its code gives no load for each outlet
USES = (
    "general", "sockets", "lighting", "cooker", "shower", "water heater", "space heating",
    "vehicle charging", "kiln", "kitchen", "sign",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Method:
    """A way to lay a cable: its ``label``, whether it lies in the ``ground``, the column of the
    grouping table that its neighbours lie in, and whether its capacities have thermal insulation
    in them already."""

    label: str
    ground: bool = False
    grouping: str = "B"
    insulated: bool = False


class InstallationEntries(Wiring):
    """The face of a family's vocabulary: cable, metal, method, surroundings, kind of device.

    ``METHODS`` are its ways to lay a cable by name, ``METHOD`` the entry that chooses one,
    ``DEVICES`` its devices by name, ``CABLES`` its cables; ``COOL`` is the lower of the two
    temperatures, °C, that its cables are made for.
    """

    METHODS: ClassVar[Mapping[str, Method]] = {}
    METHOD: ClassVar[str] = ""
    CABLES: ClassVar[Mapping[str, str]] = {}
    DEVICES: ClassVar[Mapping[str, str]] = {}
    COOL: ClassVar[str] = "70"

    if TYPE_CHECKING:
        cable: str
        material: Metal
        ambient: float
        ground: float
        soil: float
        depth: float
        grouped_circuits: int
        device_type: str

    @property
    def method_id(self) -> str:
        """The name of the method that is chosen."""
        return str(getattr(self, self.METHOD))

    @property
    def method(self) -> Method:
        """How the cable lies."""
        return self.METHODS[self.method_id]

    @property
    def insulation(self) -> str:
        """The highest temperature of its insulation, °C."""
        return "90" if self.cable.endswith("90") else self.COOL

    @property
    def in_insulation(self) -> float:
        """mm of the cable that are surrounded by thermal insulation, where it is asked."""
        return float(self.thermal_insulation) if can(self, InInsulation) else 0.0


def labels(methods: Mapping[str, Method]) -> dict[str, str]:
    """The choices of a family's methods."""
    return {name: method.label for name, method in methods.items()}


def cables(cool: str, *names: str) -> dict[str, str]:
    """The choices of cables, the lower temperature being ``cool`` °C."""
    made = {
        "single": "single-core",
        "multi": "multicore",
        "flat": "flat with protective conductor",
        "armoured": "armoured multicore",
    }
    found = {}
    for name in names:
        kind, _, hot = name.partition(" ")
        found[name] = f"{made[kind]}, {hot or cool} °C"
    return found


def metal_entry() -> Any:
    """Copper or aluminum."""
    return entry("copper", "Metal", choices=METALS, group="run")


def ambient_entry(degrees: float, method: str, names: Sequence[str]) -> Any:
    """The air around the cable, °C, as the tables have it where nothing is told."""
    help_ = "°C, or write 104 °F"
    return entry(degrees, "Ambient", group="run", help=help_, when=(method, tuple(names)))


def ground_entry(degrees: float, method: str, names: Sequence[str]) -> Any:
    """The ground around the cable, °C."""
    return entry(degrees, "Ground", group="run", help="°C", when=(method, tuple(names)))


def soil_entry(resistivity: float, method: str, names: Sequence[str]) -> Any:
    """The thermal resistivity of the soil, K·m/W."""
    shown = f"{resistivity:g}"
    return entry(
        resistivity, "Soil, K·m/W", group="run", when=(method, tuple(names)), example=shown
    )


def depth_entry(metres: float, method: str, names: Sequence[str]) -> Any:
    """How deep the cable lies, m."""
    shown = f"{metres:g}"
    return entry(metres, "Depth, m", group="run", when=(method, tuple(names)), example=shown)


def insulated_entry(method: str, names: Sequence[str]) -> Any:
    """How far thermal insulation surrounds the cable, mm."""
    return entry(
        0.0,
        "Surrounded by insulation, mm",
        group="run",
        at_rest="",
        help="over that length",
        when=(method, tuple(names)),
    )


def device_entry(devices: Mapping[str, str]) -> Any:
    """The kind of device."""
    return entry("B", "Device", choices=devices, group="protection")


class CableEntries(InstallationEntries):
    """What every family asks of a run, its protection, and what is fixed by hand."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "third": "third_harmonic",
        "grouped": "grouped_circuits",
        "drop_by": "drop_method",
        "setting": "thermal_setting",
        "magnetic": "magnetic_setting",
        "protective": "protective_conductor",
    }
    # the limit of these codes is from the origin to the load: what is lost ahead counts
    drop_sizing: ClassVar[str] = "total"
    USES: ClassVar[tuple[str, ...]] = USES
    # usual diversity by its name, where guides give what the code itself does not (empty: none)
    DIVERSITY: ClassVar[Mapping[str, str]] = {}
    # what a circuit chart shows of a run beside its load, in this order
    CHART: ClassVar[tuple[str, ...]] = ()
    CONDUCTOR: ClassVar[str] = "area"  # the entry that fixes it by hand

    # no code figure that is reckoned with: which circuits are left out is for the user to say
    grouped_circuits: Few = entry(
        0,
        "Other circuits with it",
        group="run",
        help="grouped; none that carries 30 % or less of what it may",
        at_rest="no other circuits with it",
    )
    third_harmonic: Percent = entry(
        0.0,
        "Third harmonic, %",
        group="run",
        help="of a three-phase line’s amperes",
        at_rest="",
    )
    length: Length | None = entry(
        None,
        "Length, one way",
        group="run",
        help="for the drop",
        usual=Usual(0.3048, 1_524.0, "a run inside or between buildings"),
        seldom=False,
    )
    drop_method: Literal["job", "table", "finer"] = entry(
        "job",
        "Voltage drop calculated",
        group="run",
        at_rest="",
        choices={
            "job": "as the job has it",
            "table": "as tabulated",
            "finer": "for its own temperature and power factor",
        },
    )
    thermal_setting: Current | None = entry(
        None,
        "Thermal setting",
        group="protection",
        help="empty: its rating",
        when=("device_type", ("MCCB",)),
        example="160 A",
    )
    magnetic_setting: Times | None = entry(
        None,
        "Magnetic setting, times its rating",
        group="protection",
        help="empty: as usual",
        counts=("moulded_times", "empty: as usual, {figure}"),
        when=("device_type", ("MCCB",)),
        example="8",
    )
    rcd: Literal["none", "30", "100", "300"] = entry(
        "none",
        "Residual-current device",
        group="protection",
        at_rest="no residual-current device",
        choices={"none": "none", "30": "30 mA", "100": "100 mA", "300": "300 mA"},
    )
    earthing: Literal["supply", "TN", "TT"] = entry(
        "supply",
        "Earthing",
        group="protection",
        at_rest="earthing as the supply",
        choices={
            "supply": "as the supply; TN where it is not told",
            "TN": "TN: the supply’s earth",
            "TT": "TT: an electrode of its own",
        },
    )
    external_loop: Ohms | None = entry(
        None,
        "External loop Ze",
        group="protection",
        help="in a job, empty: the supply’s",
        example="0.35 Ω",
    )
    device: Current | None = entry(
        None, "Device", help="empty: as calculated", group="hand", example="32 A"
    )
    area: Area = entry("auto", "Line conductors", choices=AREAS, group="hand", at_rest="")
    protective_conductor: Area = entry(
        "auto", "Protective conductor", choices=AREAS, group="hand", at_rest=""
    )


def beside(load: type[Entries], code: Code) -> type[Entries]:
    """What is told of a load, and a cable of the family, without what only final circuits
    may be."""
    cable = code.cable
    name = load.__name__.replace("Load", "Entries")
    return type(name, (load, cable), {"__doc__": load.__doc__})


class RingEntries(Entries):
    """A final circuit that may also be a ring, its legs alike or not, with a spur off it."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"other_leg": "other_leg_length"}
    layout: Literal["radial", "ring"] = entry(
        "radial",
        "Layout",
        group="run",
        at_rest="radial",
        help="a ring’s length is that to its far point",
        choices={"radial": "radial", "ring": "ring, both ends at the board"},
    )
    other_leg_length: Length | None = entry(
        None,
        "The other way round",
        group="run",
        help="empty: as long",
        when=("layout", ("ring",)),
    )
    spur: Length | None = entry(
        None,
        "Spur at its far point",
        group="run",
        help="unfused, to one single or twin socket",
        when=("layout", ("ring",)),
    )


__all__ = [
    "BREAKERS",
    "SIZES",
    "Area",
    "CableEntries",
    "InstallationEntries",
    "Method",
    "Millimetres",
    "Resistivity",
    "RingEntries",
    "Temperature",
    "beside",
]
