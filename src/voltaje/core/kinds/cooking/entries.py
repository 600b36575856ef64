"""What cooks, by its nameplates, and how its circuit is run."""

from __future__ import annotations

from typing import Literal

from voltaje.core.entries import Nameplate, Usual, entry
from voltaje.core.kinds.circuit.entries import LINE_LABELS
from voltaje.core.kinds.placing import LoadInBoard
from voltaje.core.rules.north_america.wired import WIRING_GROUPS, WiringEntries

TOGETHER = ("together",)
ONE = ("range", "oven", "cooktop")
LABELS = {
    "range": "one range",
    "oven": "one wall oven",
    "cooktop": "one cooktop",
    "together": "a cooktop and wall ovens on one circuit",
}
UNIT_LABELS = {"cooktop": "Cooktop", "oven_1": "Wall oven", "oven_2": "Second wall oven"}


# common practice: what household cooking usually is, VA
USUAL = Usual(1200.0, 27_000.0, "a range, oven or cooktop")


class CookingEntries(LoadInBoard, WiringEntries):
    """What cooks, by its nameplates, and how the circuit is run."""

    layout: Literal["range", "oven", "cooktop", "together"] = entry(
        "range", "What it feeds", choices=LABELS, group="units"
    )
    nameplate: Nameplate | None = entry(
        None, "Nameplate", group="units", example="11.4 kW", when=("layout", ONE), usual=USUAL
    )
    cooktop: Nameplate | None = entry(
        None, "Cooktop", group="units", example="7.2 kW", when=("layout", TOGETHER), usual=USUAL
    )
    oven_1: Nameplate | None = entry(
        None, "Wall oven", group="units", example="4.5 kW", when=("layout", TOGETHER), usual=USUAL
    )
    oven_2: Nameplate | None = entry(
        None,
        "Second wall oven",
        group="units",
        help="if there is one",
        example="3.6 kW",
        when=("layout", TOGETHER),
        usual=USUAL,
    )
    neutral: Literal["yes", "no"] = entry(
        "yes",
        "Neutral",
        choices={"yes": "needed: clock, lamp, 120 V parts", "no": "not needed"},
        group="units",
    )
    line: Literal["auto", "L1-L2", "L2-L3", "L1-L3"] = entry(
        "auto",
        "Line",
        group="place",
        choices={k: LINE_LABELS[k] for k in ("auto", "L1-L2", "L2-L3", "L1-L3")},
    )


GROUPS = {"units": "What cooks", **WIRING_GROUPS, "place": "In its board"}
