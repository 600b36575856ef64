"""What is told of a bank of single-phase units: their windings and taps, the volts there and
wanted."""

from __future__ import annotations

from collections.abc import Mapping
from math import sqrt
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.entries import Entries, KvaOrAmperes, Name, Reads, entry

Winding = Annotated[float, Reads(quantities.VOLTAGE, 5.0, 500_000.0)]
Kva = Annotated[float, Reads(quantities.SIZE, 10.0, 1e7)]
Tolerance = Annotated[float, Reads(quantities.COUNT, 0.1, 20.0)]
Impedance = Annotated[float, Reads(quantities.COUNT, 0.1, 20.0)]
TURNED = {"none": "none", "1": "of unit 1", "2": "of unit 2", "3": "of unit 3"}


class BankEntries(Entries):
    """Two or three alike single-phase units, and what is asked of them."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "wanted": "required_voltage",
        "turned": "reversed_secondary",
    }
    count: Literal["3", "2"] = entry(
        "3",
        "Units",
        group="units",
        choices={"3": "three", "2": "two, in open delta"},
    )
    primary: Winding | None = entry(
        None, "Primary winding", group="units", help="rated volts", example="480 V", needed=True
    )
    secondary: Winding | None = entry(
        None, "Secondary winding", group="units", help="rated volts", example="120 V", needed=True
    )
    kva: Kva | None = entry(None, "Size of each", group="units", example="25 kVA", needed=True)
    tap_side: Literal["none", "primary", "secondary"] = entry(
        "none",
        "Taps",
        group="units",
        choices={"none": "none", "primary": "on the primary", "secondary": "on the secondary"},
    )
    taps: Name = entry(
        "+5, +2.5, 0, -2.5, -5",
        "Taps, %",
        group="units",
        help="of the rated turns",
        when=("tap_side", ("primary", "secondary")),
        example="+2.5, 0, -2.5",
    )
    impedance: Impedance | None = entry(
        None, "Impedance, %", group="units", help="nameplate, for a wrong corner", example="3"
    )
    supply: Winding | None = entry(
        None, "Supply", group="lines", help="volts line to line", example="480 V", needed=True
    )
    required_voltage: Winding | None = entry(
        None, "Wanted", group="lines", help="volts line to line", example="208 V", needed=True
    )
    tolerance: Tolerance = entry(3.0, "It may be off, ± %", group="lines")
    load: KvaOrAmperes | None = entry(
        None,
        "Load",
        group="lines",
        help="three-phase, balanced: kVA, or amperes in each line",
        example="60 kVA",
    )
    lighting: KvaOrAmperes | None = entry(
        None,
        "Single-phase load of one unit",
        group="lines",
        help="from its ends, or to its earthed middle: kVA, or amperes at its ends",
        example="15 kVA",
    )
    reversed_secondary: Literal["none", "1", "2", "3"] = entry(
        "none", "Secondary coil turned round", group="lines", choices=TURNED
    )

    @property
    def load_va(self) -> float | None:
        """VA of the three-phase load, amperes at the volts wanted; ``None``: not given."""
        return self.load.va(self.required_voltage or 0.0, sqrt(3)) if self.load else None

    @property
    def lighting_va(self) -> float | None:
        """VA of the single-phase load, amperes at the ends of its unit; ``None``: not given."""
        return self.lighting.va(self.required_voltage or 0.0) if self.lighting else None


GROUPS = {"units": "The units", "lines": "The lines"}
