"""The vocabulary of BS 7671: reference methods by letter and number, rings, British fuses."""

from __future__ import annotations

from collections.abc import Mapping
from typing import ClassVar, Literal

from voltaje.core.codes.vocabulary import Metal
from voltaje.core.entries import Temperature, entry
from voltaje.core.rules.iec60364.entries import (
    CableEntries,
    Depth,
    InstallationEntries,
    Method,
    Millimetres,
    Resistivity,
    RingEntries,
    ambient_entry,
    cables,
    depth_entry,
    device_entry,
    ground_entry,
    insulated_entry,
    labels,
    metal_entry,
    soil_entry,
)
from voltaje.core.rules.iec60364.runs import Neighbours

CABLES = cables("70", "single", "multi", "flat", "armoured", "single 90", "multi 90", "armoured 90")
METHODS = {
    "A": Method("A: in conduit in an insulated wall", insulated=True),
    "B": Method("B: in conduit or trunking on a wall"),
    "C": Method("C: clipped direct to a wall", grouping="C"),
    "D": Method("D: in the ground", ground=True, grouping="D"),
    "E": Method("E: in free air or on a tray, multicore", grouping="E"),
    "F": Method("F: in free air or on a tray, single cores in trefoil", grouping="E"),
    "F flat": Method("F: in free air or on a tray, single cores flat, touching", grouping="E"),
    "100": Method("100: on a ceiling under insulation to 100 mm", insulated=True),
    "101": Method("101: on a ceiling under more insulation", insulated=True),
    "102": Method("102: in an insulated stud wall, touching its board", insulated=True),
    "103": Method("103: in an insulated stud wall, not touching", insulated=True),
}
DEVICES = {
    "B": "breaker type B",
    "C": "breaker type C",
    "D": "breaker type D",
    "MCCB": "moulded-case breaker, adjustable",
    "gG": "fuse gG",
    "BS 88-3": "cartridge fuse BS 88-3",
    "BS 3036": "rewirable fuse BS 3036",
}
METHOD, AIR = "reference_method", tuple(name for name in METHODS if name != "D")


class BsInstallation(InstallationEntries):
    """How a cable lies under BS 7671."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"insulated": "thermal_insulation"}
    METHODS: ClassVar = METHODS
    METHOD: ClassVar[str] = METHOD
    CABLES: ClassVar = CABLES

    cable: Literal[
        "single", "multi", "flat", "armoured", "single 90", "multi 90", "armoured 90"
    ] = entry("single", "Cable", choices=CABLES, group="run")
    material: Metal = metal_entry()
    reference_method: Literal[
        "A", "B", "C", "D", "E", "F", "F flat", "100", "101", "102", "103"
    ] = entry("B", "Reference method", choices=labels(METHODS), group="run")
    ambient: Temperature = ambient_entry(30.0, METHOD, AIR)
    ground: Temperature = ground_entry(20.0, METHOD, ("D",))
    soil: Resistivity = soil_entry(2.5, METHOD, ("D",))
    depth: Depth = depth_entry(0.7, METHOD, ("D",))
    thermal_insulation: Millimetres = insulated_entry(METHOD, ("B", "C", "E", "F", "F flat"))


class BsDevices(InstallationEntries):
    """The devices of the family."""

    DEVICES: ClassVar = DEVICES

    device_type: Literal["B", "C", "D", "MCCB", "gG", "BS 88-3", "BS 3036"] = device_entry(DEVICES)


class BsCable(CableEntries, BsDevices, BsInstallation):
    """A run under BS 7671."""

    CHART: ClassVar = ("device_type", "cable", METHOD, "rcd")


class BsFinal(RingEntries, BsCable):
    """A final circuit under BS 7671."""

    DIVERSITY: ClassVar = {
        "cooker": "a dwelling’s cooker",
        "cooker and socket": "a dwelling’s cooker, a socket on its unit",
    }


class BsAlong(Neighbours, BsInstallation):
    """How the cable of a run of several segments lies."""
