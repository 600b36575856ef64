"""The vocabulary of AS/NZS 3000 with 3008.1.1: cables by how they are installed, in words."""

from __future__ import annotations

from typing import ClassVar, Literal

from voltaje.core.codes.vocabulary import Metal
from voltaje.core.entries import Temperature, entry
from voltaje.core.rules.iec60364.entries import (
    CableEntries,
    Depth,
    InstallationEntries,
    Method,
    Resistivity,
    ambient_entry,
    cables,
    depth_entry,
    ground_entry,
    labels,
    metal_entry,
    soil_entry,
)
from voltaje.core.rules.iec60364.runs import Neighbours

CABLES = cables("75", "single", "multi", "flat", "armoured", "single 90", "multi 90", "armoured 90")
METHODS = {
    "spaced": Method("unenclosed in air, spaced from the surface", grouping="E"),
    "touching": Method("unenclosed in air, touching a surface", grouping="C"),
    "enclosed": Method("enclosed in conduit or trunking in air"),
    "partly": Method("partly surrounded by thermal insulation", insulated=True),
    "fully": Method("completely surrounded by thermal insulation", insulated=True),
    "buried": Method("buried direct in the ground", ground=True, grouping="D"),
    "duct": Method("in an underground enclosure", ground=True, grouping="D"),
}
DEVICES = {
    "B": "breaker type B",
    "C": "breaker type C",
    "D": "breaker type D",
    "MCCB": "moulded-case breaker, adjustable",
    "gG": "fuse gG",
}
METHOD, GROUND = "installed", ("buried", "duct")
AIR = tuple(name for name in METHODS if name not in GROUND)


class AsInstallation(InstallationEntries):
    """How a cable lies under AS/NZS 3008.1.1."""

    METHODS: ClassVar = METHODS
    METHOD: ClassVar[str] = METHOD
    CABLES: ClassVar = CABLES
    COOL: ClassVar[str] = "75"

    cable: Literal[
        "single", "multi", "flat", "armoured", "single 90", "multi 90", "armoured 90"
    ] = entry("multi", "Cable", choices=CABLES, group="run")
    material: Metal = metal_entry()
    installed: Literal["spaced", "touching", "enclosed", "partly", "fully", "buried", "duct"] = (
        entry("enclosed", "Installed", choices=labels(METHODS), group="run")
    )
    ambient: Temperature = ambient_entry(40.0, METHOD, AIR)
    ground: Temperature = ground_entry(25.0, METHOD, GROUND)
    soil: Resistivity = soil_entry(1.2, METHOD, GROUND)
    depth: Depth = depth_entry(0.5, METHOD, GROUND)


class AsDevices(InstallationEntries):
    """The devices of the family."""

    DEVICES: ClassVar = DEVICES

    device_type: Literal["B", "C", "D", "MCCB", "gG"] = entry(
        "C", "Device", choices=DEVICES, group="protection"
    )


class AsCable(CableEntries, AsDevices, AsInstallation):
    """A run under AS/NZS 3000."""

    CHART: ClassVar = ("device_type", "cable", METHOD, "rcd")


class AsAlong(Neighbours, AsInstallation):
    """How the cable of a run of several segments lies."""
