"""The vocabulary of SANS 10142-1: installation methods by number."""

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
    "1": Method("1: clipped direct to a surface", grouping="C"),
    "3": Method("3: in conduit on a wall, or in trunking"),
    "4": Method("4: in conduit in a thermally insulating wall", insulated=True),
    "11": Method("11: on a perforated tray", grouping="E"),
    "12": Method("12: single cores in free air", grouping="E"),
    "13": Method("13: multicore in free air", grouping="E"),
    "ground": Method("in the ground", ground=True, grouping="D"),
}
DEVICES = {
    "B": "breaker, opens at 3 to 5 times",
    "C": "breaker, opens at 5 to 10 times",
    "D": "breaker, opens at 10 to 20 times",
    "MCCB": "moulded-case breaker, adjustable",
    "gG": "fuse gG",
}
METHOD, GROUND = "installation_method", ("ground",)
AIR = tuple(name for name in METHODS if name not in GROUND)


class SansInstallation(InstallationEntries):
    """How a cable lies under SANS 10142-1."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"insulated": "thermal_insulation"}
    METHODS: ClassVar = METHODS
    METHOD: ClassVar[str] = METHOD
    CABLES: ClassVar = CABLES

    cable: Literal[
        "single", "multi", "flat", "armoured", "single 90", "multi 90", "armoured 90"
    ] = entry("single", "Cable", choices=CABLES, group="run")
    material: Metal = metal_entry()
    installation_method: Literal["1", "3", "4", "11", "12", "13", "ground"] = entry(
        "3", "Installation method", choices=labels(METHODS), group="run"
    )
    ambient: Temperature = ambient_entry(30.0, METHOD, AIR)
    ground: Temperature = ground_entry(25.0, METHOD, GROUND)
    soil: Resistivity = soil_entry(1.2, METHOD, GROUND)
    depth: Depth = depth_entry(0.5, METHOD, GROUND)
    thermal_insulation: Millimetres = insulated_entry(METHOD, ("1", "3", "11", "12", "13"))


class SansDevices(InstallationEntries):
    """The devices of the family."""

    DEVICES: ClassVar = DEVICES

    device_type: Literal["B", "C", "D", "MCCB", "gG"] = device_entry(DEVICES)


class SansCable(CableEntries, SansDevices, SansInstallation):
    """A run under SANS 10142-1."""

    CHART: ClassVar = ("device_type", "cable", METHOD, "rcd")


class SansAlong(Neighbours, SansInstallation):
    """How the cable of a run of several segments lies."""
