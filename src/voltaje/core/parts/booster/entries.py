"""What is told of a buck-boost transformer: the volts measured, the volts wanted, the load."""

from __future__ import annotations

from typing import Annotated, Literal

from voltaje.core import units
from voltaje.core.entries import BigNameplate, Entries, Reads, entry

LineVolts = Annotated[float, Reads(units.VOLTAGE, 20.0, 700.0)]
Tolerance = Annotated[float, Reads(units.COUNT, 0.5, 20.0)]
PHASES = {
    "1": "single-phase: one unit",
    "wye": "three-phase: three units in wye",
    "open delta": "three-phase: two units in open delta",
}


class BoosterEntries(Entries):
    """Volts there and wanted, the load and what it bears."""

    phases: Literal["1", "wye", "open delta"] = entry("1", "Phases", group="volts", choices=PHASES)
    measured: LineVolts | None = entry(
        None,
        "Volts measured",
        group="volts",
        help="line to line, never the nominal",
        example="204 V",
        needed=True,
    )
    wanted: LineVolts | None = entry(
        None, "Volts wanted", group="volts", help="on the nameplate", example="240 V", needed=True
    )
    hertz: Literal["60", "50"] = entry(
        "60", "Frequency", group="volts", choices={"60": "60 Hz", "50": "50 Hz"}
    )
    load: BigNameplate | None = entry(
        None,
        "Load",
        group="load",
        help="at the volts wanted",
        example="9.6 kVA, 40 A, 5 hp",
        needed=True,
    )
    what: Literal["motor", "heater", "other"] = entry(
        "other",
        "What it is",
        group="load",
        choices={"motor": "a motor", "heater": "heaters or kilns", "other": "other equipment"},
    )
    tolerance: Tolerance = entry(
        5.0, "Volts it bears, ± %", group="load", help="of the volts wanted, by its maker"
    )


GROUPS = {"volts": "The volts", "load": "The load"}
