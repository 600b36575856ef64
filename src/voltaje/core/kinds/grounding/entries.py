"""What is told of the conductors that are grounded and bonded: size, sets, how they lie, what
electrodes are there."""

from __future__ import annotations

from typing import Literal

from voltaje.core.codes.vocabulary import Metal
from voltaje.core.entries import Current, Entries, Units, entry
from voltaje.core.rules.north_america.wired import SIZE_LABELS, SizeChoice

LABELS = {**SIZE_LABELS, "auto": "choose a size"}


class GroundingEntries(Entries):
    """The ungrounded conductors, the device ahead of them, the neutral’s load, the electrodes."""

    size: SizeChoice = entry(
        "auto", "Ungrounded conductors", choices=LABELS, group="conductors", needed=True
    )
    material: Metal = entry(
        "copper",
        "Their metal",
        choices={"copper": "copper", "aluminum": "aluminum"},
        group="conductors",
    )
    sets: Units = entry(1, "Sets in parallel", group="conductors")
    lie: Literal["each", "one"] = entry(
        "each",
        "Sets lie",
        group="conductors",
        choices={"each": "each in its raceway", "one": "all in one raceway or tray"},
    )
    jumper_material: Metal = entry(
        "copper",
        "Metal of jumpers and grounding",
        choices={"copper": "copper", "aluminum": "aluminum"},
        group="conductors",
    )
    neutral: Current | None = entry(
        None,
        "Neutral load",
        group="neutral",
        help="calculated, in all; empty: none, or no neutral is used",
        example="120 A",
    )
    device_ahead: Current | None = entry(
        None, "Device ahead", group="device", help="for the equipment ground", example="400 A"
    )
    enlarged_from: SizeChoice = entry(
        "auto",
        "Enlarged from",
        group="device",
        choices={**SIZE_LABELS, "auto": "not enlarged"},
    )
    water_pipe: bool = entry(False, "Metal underground water pipe", group="electrodes")
    steel: bool = entry(False, "Structural steel", group="electrodes")
    concrete: bool = entry(False, "Concrete-encased electrode", group="electrodes")
    rod: bool = entry(False, "Rod, pipe or plate", group="electrodes")
    ring: bool = entry(False, "Ground ring", group="electrodes")
    ring_size: SizeChoice = entry("2", "Ring conductor", choices=SIZE_LABELS, group="electrodes")


GROUPS = {
    "conductors": "The conductors",
    "neutral": "The grounded conductor",
    "device": "Equipment grounding conductor",
    "electrodes": "Electrodes that are there",
}
