"""What is told of a supply: its system, volts, colors and rating; the point it hands down."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.electrical.systems import METRIC_SYSTEMS, SYSTEMS, SupplyPoint
from voltaje.core.entries import Current, Entries, Name, Reads, Voltage, entry

SystemId = Literal[
    "1ph-120/240",
    "1ph-120/208",
    "1ph-120",
    "3ph-208Y/120",
    "3ph-480Y/277",
    "3ph-600Y/347",
    "3ph-400Y/230",
    "1ph-230",
    "3ph-415Y/240",
    "1ph-240",
    "3ph-380Y/220",
    "1ph-220",
    "3ph-240",
    "3ph-240/120",
]
Ohms = Annotated[float, Reads(quantities.RESISTANCE, 0.001, 2000.0)]
# IEC 60445 and HD 308; what stood before them in Britain and southern Africa (common practice)
MARKINGS = {
    "harmonised": ("brown", "black", "gray", "blue"),
    "older": ("red", "yellow", "blue", "black"),
}
XR = Annotated[float, Reads(quantities.COUNT, 0.1, 100.0)]
Times = Annotated[float, Reads(quantities.COUNT, 0.0, 10.0)]
Fault = Annotated[float, Reads(quantities.CURRENT, 100.0, 300_000.0)]


class SupplyEntries(Entries):
    """System, its volts and colors and, where there is one, the rating that it may not exceed."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"volts": "measured_voltage"}
    system: SystemId = entry(
        "1ph-120/240",
        "System",
        choices={name: system.label for name, system in SYSTEMS.items()},
        group="supply",
    )
    measured_voltage: Voltage | None = entry(
        None, "Measured volts", help="line to line, if measured", group="supply", example="236 V"
    )
    frequency: Literal["60", "50"] = entry(
        "60", "Frequency", choices={"60": "60 Hz", "50": "50 Hz"}, group="supply"
    )
    rating: Current | None = entry(None, "Rating", help="if the utility sets one", group="supply")
    fault: Fault | None = entry(
        None, "Available fault current", help="from the utility", group="supply", example="22 kA"
    )
    source_xr: XR | None = entry(
        None,
        "X/R of the source",
        help="from the utility; empty: as usual",
        group="supply",
        example="6",
    )
    motor_fault: Times | None = entry(
        None,
        "Motors add at a fault, times their amperes",
        help="empty: as usual",
        group="supply",
        example="4",
    )
    private: bool = entry(
        False,
        "Private supply",
        group="supply",
        help="its own transformer or generator",
        when=("system", METRIC_SYSTEMS),
    )
    earthing: Literal["", "TN-S", "TN-C-S", "TT", "IT"] = entry(
        "",
        "Earthing",
        group="earthing",
        when=("system", METRIC_SYSTEMS),
        choices={
            "": "not told",
            "TN-S": "TN-S: a separate earth of the supply’s",
            "TN-C-S": "TN-C-S: the supply’s neutral earthed at the origin",
            "TT": "TT: an electrode of its own",
            "IT": "IT: earthed nowhere, or through an impedance",
        },
    )
    external_loop: Ohms | None = entry(
        None,
        "External loop Ze",
        group="earthing",
        when=("system", METRIC_SYSTEMS),
        help="measured; empty: as usually declared",
        example="0.35 Ω",
    )
    marking: Literal["usual", "harmonised", "older", "own"] = entry(
        "usual",
        "Identification",
        group="marking",
        choices={
            "usual": "the usual colors",
            "harmonised": "brown, black, gray; neutral blue",
            "older": "red, yellow, blue; neutral black",
            "own": "own marking",
        },
    )
    mark_l1: Name = entry("", "L1", group="marking", when=("marking", ("own",)), example="black")
    mark_l2: Name = entry("", "L2", group="marking", when=("marking", ("own",)), example="red")
    mark_l3: Name = entry("", "L3", group="marking", when=("marking", ("own",)), example="blue")
    mark_n: Name = entry(
        "", "Neutral", group="marking", when=("marking", ("own",)), example="white"
    )


def point(entries: SupplyEntries, above: SupplyPoint) -> SupplyPoint:
    """What hangs on the supply stands on this."""
    marking = MARKINGS.get(entries.marking, above.marking)
    if entries.marking == "own":
        marking = (entries.mark_l1, entries.mark_l2, entries.mark_l3, entries.mark_n)
    return SupplyPoint(
        SYSTEMS[entries.system],
        entries.measured_voltage or 0.0,
        float(entries.frequency),
        entries.fault or 0.0,
        marking,
        earthing=entries.earthing,
        loop_impedance=entries.external_loop or 0.0,
        private=entries.private,
        motor_times=entries.motor_fault or 0.0,
    )
