"""What is told of a buck-boost transformer: the volts measured, the volts wanted, the load."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.entries import BigNameplate, Entries, Length, Reads, entry
from voltaje.core.kinds.circuit.entries import LINE_LABELS
from voltaje.core.kinds.placing import InBoard
from voltaje.core.rules.interface import Code
from voltaje.core.rules.north_america.wired import SIZE_LABELS, SizeChoice, WiringEntries

LineVolts = Annotated[float, Reads(quantities.VOLTAGE, 20.0, 700.0)]
Impedance = Annotated[float, Reads(quantities.COUNT, 0.5, 15.0)]
Tolerance = Annotated[float, Reads(quantities.COUNT, 0.5, 20.0)]
PHASES = {
    "1": "single-phase: one unit",
    "wye": "three-phase: three units in wye",
    "open delta": "three-phase: two units in open delta",
}


class BuckBoostLoad(InBoard):
    """Volts there and wanted, the load and what it bears: physics, the same under every code."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "measured": "measured_voltage",
        "wanted": "required_voltage",
        "hertz": "frequency",
        "what": "load_type",
    }
    phases: Literal["1", "wye", "open delta"] = entry("1", "Phases", group="volts", choices=PHASES)
    line: Literal["auto", "L1", "L2", "L3", "L1-L2", "L2-L3", "L1-L3"] = entry(
        "auto",
        "Fed from",
        group="volts",
        when=("phases", ("1",)),
        choices={**LINE_LABELS, "auto": "L1 and L2, or the one line"},
    )
    measured_voltage: LineVolts | None = entry(
        None,
        "Volts measured",
        group="volts",
        help="where it is fed, never the nominal; in a job, empty: the supply’s",
        example="204 V",
        needed=True,
    )
    required_voltage: LineVolts | None = entry(
        None, "Volts wanted", group="volts", help="on the nameplate", example="240 V", needed=True
    )
    frequency: Literal["60", "50"] = entry(
        "60", "Frequency", group="volts", choices={"60": "60 Hz", "50": "50 Hz"}
    )
    load: BigNameplate | None = entry(
        None,
        "Load",
        group="load",
        help="at the volts wanted; in a job, empty: what hangs on it",
        example="9.6 kVA, 40 A, 5 hp",
        needed=True,
    )
    load_type: Literal["motor", "heater", "other"] = entry(
        "other",
        "What it is",
        group="load",
        choices={"motor": "a motor", "heater": "heaters or kilns", "other": "other equipment"},
    )
    tolerance: Tolerance = entry(
        5.0, "Volts it bears, ± %", group="load", help="of the volts wanted, by its maker"
    )

    continuous: Literal["auto", "yes", "no"] = entry(
        "auto",
        "Runs three hours or more",
        group="load",
        choices={
            "auto": "as usual: heaters and kilns do",
            "yes": "yes, continuous",
            "no": "no",
        },
    )
    impedance: Impedance | None = entry(
        None, "Impedance of a unit, %", group="load", help="nameplate; for the drop", example="4"
    )

    @property
    def runs_long(self) -> bool:
        """Whether the load entered is continuous."""
        return self.continuous == "yes" or (
            self.continuous == "auto" and self.load_type == "heater"
        )


class BuckBoostEntries(BuckBoostLoad, WiringEntries):
    """Under a family that has a rule for the device ahead, also the runs on both sides."""

    output_length: Length | None = entry(None, "Output’s length, one way", group="output")
    output_size: SizeChoice = entry(
        "auto", "Output’s conductor", choices=SIZE_LABELS, group="output"
    )


class MetricBuckBoost(BuckBoostLoad):
    """Where the supply has 50 Hz."""

    frequency: Literal["60", "50"] = entry(
        "50", "Frequency", group="volts", choices={"60": "60 Hz", "50": "50 Hz"}
    )


def compose(code: Code) -> type[Entries]:
    """The entries under a family: with the conductors where it has the rules for them."""
    if code.family == "nec":
        return BuckBoostEntries
    return BuckBoostLoad if code.units == "us" or code.family == "cec" else MetricBuckBoost


GROUPS = {
    "volts": "The volts",
    "load": "The load",
    "run": "How both sides are run",
    "output": "Output’s conductors",
    "hand": "Input by hand",
    "place": "In the board above",
}
