"""What is told of an autotransformer: a unit whose two windings stand in series, or one winding
with taps."""

from __future__ import annotations

from collections.abc import Mapping
from math import sqrt
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.entries import Entries, KvaOrAmperes, Name, Reads, entry
from voltaje.core.kinds.autotransformer.faults import Fault

Volts = Annotated[float, Reads(quantities.VOLTAGE, 1.0, 500_000.0)]
Kva = Annotated[float, Reads(quantities.SIZE, 1.0, 1e7)]
Impedance = Annotated[float, Reads(quantities.COUNT, 0.5, 20.0)]
FAULT_LABELS = {
    "none": "none",
    "series shorted": "series winding shorted",
    "series open": "series winding open",
    "common shorted": "common winding shorted",
    "common open": "common winding open",
    "load shorted": "load shorted",
    "load earthed": "load’s line to earth",
    "source earthed": "source’s line to earth",
}
STACKED, TAPPED = ("construction", ("stacked",)), ("construction", ("tapped",))


class AutotransformerEntries(Entries):
    """The windings, the volts there and wanted, the load, a fault to be tried."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "how": "construction",
        "one": "winding",
        "other": "other_winding",
        "points": "taps",
        "fed": "source_voltage",
        "wanted": "required_voltage",
    }
    construction: Literal["stacked", "tapped"] = entry(
        "stacked",
        "It is",
        group="windings",
        choices={
            "stacked": "a unit of two windings, put in series",
            "tapped": "one winding with taps",
        },
    )
    winding: Volts | None = entry(
        None,
        "One winding",
        group="windings",
        help="rated volts",
        when=STACKED,
        example="2400 V",
        needed=True,
    )
    other_winding: Volts | None = entry(
        None,
        "The other winding",
        group="windings",
        help="rated volts",
        when=STACKED,
        example="240 V",
        needed=True,
    )
    kva: Kva | None = entry(
        None,
        "Size",
        group="windings",
        help="as two windings",
        when=STACKED,
        example="50 kVA",
        needed=True,
    )
    phases: Literal["1", "wye", "open delta"] = entry(
        "1",
        "Units",
        group="windings",
        choices={
            "1": "one, single-phase",
            "wye": "three in wye",
            "open delta": "two in open delta",
        },
    )
    taps: Name = entry(
        "0, 50, 100",
        "Its ends and taps",
        group="windings",
        when=TAPPED,
        help="in turns, percent or volts",
        example="0, 208, 240",
    )
    source_on: Name = entry(
        "",
        "Source on",
        group="windings",
        when=TAPPED,
        help="two of them",
        example="0, 240",
        needed=True,
    )
    load_on: Name = entry(
        "", "Load on", group="windings", when=TAPPED, help="two; empty: found", example="0, 208"
    )
    source_voltage: Volts | None = entry(
        None,
        "Volts of the source",
        group="lines",
        help="line to line",
        example="2640 V",
        needed=True,
    )
    required_voltage: Volts | None = entry(
        None, "Volts wanted", group="lines", help="line to line", example="2400 V"
    )
    load: KvaOrAmperes | None = entry(
        None, "Load", group="lines", help="kVA, or amperes in each line", example="500 kVA"
    )
    impedance: Impedance | None = entry(
        None,
        "Impedance, %",
        group="faults",
        help="as two windings; empty: the usual",
        when=STACKED,
        example="4",
    )
    fault: Fault = entry("none", "Fault", group="faults", when=STACKED, choices=FAULT_LABELS)

    @property
    def root(self) -> float:
        """√3 for the three lines of two or three units."""
        return 1.0 if self.phases == "1" else sqrt(3)

    def load_va(self, volts: float) -> float | None:
        """VA of the load, amperes at the ``volts`` of the output; ``None``: not given."""
        return self.load.va(volts, self.root) if self.load else None


GROUPS = {"windings": "The windings", "lines": "The lines", "faults": "What a fault would do"}
