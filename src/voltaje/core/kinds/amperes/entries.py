"""Power, amperes and volts, one of them unknown."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.entries import BigNameplate, Entries, Percent, PowerFactor, Reads, entry

Amperes = Annotated[float, Reads(quantities.CURRENT, 0.001, 100_000.0)]
Volts = Annotated[float, Reads(quantities.VOLTAGE, 1.0, 765_000.0)]


class AmperesEntries(Entries):
    """Power, amperes and volts, one of them empty; or all three, for the power factor."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"volts": "voltage"}
    phases: Literal["1", "3"] = entry(
        "1", "Phases", group="known", choices={"1": "single-phase", "3": "three-phase"}
    )
    power: BigNameplate | None = entry(
        None,
        "Power",
        group="known",
        example="15 kW, 75 kVA, 10 hp, 1500 W",
        help="empty: solved",
    )
    current: Amperes | None = entry(
        None, "Full-load current", group="known", example="24 A", help="empty: solved"
    )
    voltage: Volts | None = entry(
        None, "Volts", group="known", example="240 V", help="empty: solved"
    )
    power_factor: PowerFactor | None = entry(
        None, "Power factor", group="known", example="0.85", help="empty: 1, or solved"
    )
    efficiency: Percent | None = entry(
        None, "Efficiency, %", group="known", example="88", help="of a motor"
    )
    motor: Literal["table", "formula"] = entry(
        "table",
        "Horsepower goes by",
        group="known",
        choices={"table": "the code’s motor table", "formula": "the formula, 746 W each"},
    )


GROUPS = {"known": "What is known"}
