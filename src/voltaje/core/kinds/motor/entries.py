"""What is told of a motor: its horsepower, its nameplate for the overload, how it is run."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Annotated, Any, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.electrical.systems import Connection
from voltaje.core.entries import Current, Entries, Name, PowerFactor, Reads, Voltage, entry
from voltaje.core.kinds.circuit.entries import CONNECTIONS, LINE_LABELS
from voltaje.core.kinds.placing import LoadInBoard
from voltaje.core.rules.interface import Code
from voltaje.core.rules.north_america.wired import WIRING_GROUPS, WiringEntries

Horsepower = Annotated[float, Reads(quantities.HORSEPOWER, 0.1, 500.0)]
StartTimes = Annotated[float, Reads(quantities.COUNT, 1.0, 15.0)]
CodeLetter = Literal[
    "",
    "A",
    "B",
    "C",
    "D",
    "E",
    "F",
    "G",
    "H",
    "J",
    "K",
    "L",
    "M",
    "N",
    "P",
    "R",
    "S",
    "T",
    "U",
    "V",
]
LETTERS = {"": "not marked"} | {x: x for x in CodeLetter.__args__ if x}  # type: ignore[attr-defined]
ServiceFactor = Annotated[float, Reads(quantities.COUNT, 1.0, 2.0)]
RunWith = Literal[
    "nontime-delay fuse", "dual-element fuse", "instantaneous breaker", "inverse-time breaker"
]
MOTORS = {
    "single-phase": "single-phase",
    "squirrel cage": "squirrel cage",
    "squirrel cage design B energy-efficient": "squirrel cage, Design B energy-efficient",
    "synchronous": "synchronous",
    "wound rotor": "wound rotor",
    "direct current": "direct current",
}
DUTY = {
    "continuous": "continuous duty",
    "short-time": "short-time: valves, lifting rolls",
    "intermittent": "intermittent: elevators, tool heads, pumps",
    "periodic": "periodic: rolls, ore handling",
    "varying": "varying",
}
DEVICES = {
    "inverse-time breaker": "inverse-time breaker",
    "dual-element fuse": "dual-element fuse",
    "nontime-delay fuse": "nontime-delay fuse",
    "instantaneous breaker": "instantaneous breaker",
}


STARTING = {
    "full voltage": "full voltage",
    "star-delta": "star-delta",
    "autotransformer": "autotransformer",
    "soft": "soft starter",
}
# motors that may start with less than full voltage
CAGES = ("squirrel cage", "squirrel cage design B energy-efficient", "synchronous")
NameplateCurrent = Annotated[float, Reads(quantities.CURRENT, 0.05, 6000.0)]


class MotorLoad(LoadInBoard):
    """A motor by horsepower, and its nameplate."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "together": "noncoincident_with",
        "rise": "temperature_rise",
        "start_times": "starting_current",
        "starts": "starts_on_device",
    }
    horsepower: Horsepower | None = entry(
        None, "Horsepower", group="motor", example="7-1/2 hp", needed=True
    )
    motor: Literal[
        "single-phase",
        "squirrel cage",
        "squirrel cage design B energy-efficient",
        "synchronous",
        "wound rotor",
        "direct current",
    ] = entry("squirrel cage", "Motor", choices=MOTORS, group="motor")
    connection: Connection = entry(
        "three-phase",
        "Connection",
        choices=CONNECTIONS,
        group="motor",
        when=("motor", tuple(name for name in MOTORS if name != "direct current")),
    )
    dc_volts: Literal["90", "120", "180", "240", "500", "550"] = entry(
        "240",
        "Armature volts",
        group="motor",
        when=("motor", ("direct current",)),
        choices={v: f"{v} V" for v in ("90", "120", "180", "240", "500", "550")},
    )
    nameplate: NameplateCurrent | None = entry(
        None,
        "Nameplate amperes",
        help="for the overload; under some codes for all",
        group="motor",
        example="13.2 A",
    )
    service_factor: ServiceFactor | None = entry(
        None, "Service factor", group="motor", help="nameplate", example="1.15"
    )
    temperature_rise: Literal["not marked", "40", "more"] = entry(
        "not marked",
        "Temperature rise",
        group="motor",
        choices={"not marked": "not marked", "40": "40 °C or less", "more": "above 40 °C"},
    )
    secondary: Current | None = entry(
        None,
        "Secondary amperes",
        group="motor",
        when=("motor", ("wound rotor",)),
        help="nameplate",
        example="65 A",
    )
    duty: Literal["continuous", "short-time", "intermittent", "periodic", "varying"] = entry(
        "continuous", "Duty", choices=DUTY, group="motor"
    )
    rated_time: Literal["5 min", "15 min", "30-60 min", "continuous"] = entry(
        "30-60 min",
        "Rated time",
        group="motor",
        choices={
            "5 min": "5 minutes",
            "15 min": "15 minutes",
            "30-60 min": "30 or 60 minutes",
            "continuous": "continuous",
        },
        when=("duty", ("short-time", "intermittent", "periodic", "varying")),
    )
    protection: RunWith = entry(
        "inverse-time breaker", "Short-circuit device", choices=DEVICES, group="protection"
    )
    starts_on_device: Literal["yes", "no"] = entry(
        "yes",
        "Starts on that device",
        group="protection",
        choices={"yes": "yes", "no": "no: a larger one is needed"},
    )
    power_factor: PowerFactor = entry(
        0.85, "Running power factor", help="for the drop", group="protection"
    )
    code_letter: CodeLetter = entry(
        "", "Code letter", group="protection", choices=LETTERS, help="nameplate, for the start"
    )
    # common practice: 5 to 8 times
    starting_current: StartTimes = entry(
        6.0,
        "Starts with, times its current",
        group="protection",
        when=("code_letter", ("",)),
        help="5 to 8 is usual",
    )
    actual_volts: Voltage | None = entry(
        None, "Volts at the motor", help="if measured", group="protection", example="216 V"
    )
    line: Literal["auto", "L1", "L2", "L3", "L1-L2", "L2-L3", "L1-L3"] = entry(
        "auto", "Line", choices=LINE_LABELS, group="place"
    )
    noncoincident_with: Name = entry(
        "", "Never runs with", help="one name for the group", group="place", example="Dust"
    )


class MotorEntries(MotorLoad, WiringEntries):
    """A motor's entries, as its work knows them under every family."""


@cache
def compose(code: Code) -> type[Entries]:
    """A motor's entries under a family: its own way of running conductors."""
    own: dict[str, Any] = {"__doc__": MotorLoad.__doc__}
    if code.wiring.MOTOR_STARTING:
        own |= {
            "__annotations__": {"starting": Literal[tuple(STARTING)]},
            "starting": entry(
                "full voltage",
                "Starting",
                choices=STARTING,
                group="protection",
                help="decides the row of the table of devices",
                when=("motor", CAGES),
            ),
        }
    return type("MotorEntries", (MotorLoad, code.wiring), own)


GROUPS = {
    "motor": "The motor",
    "protection": "Its protection",
    **WIRING_GROUPS,
    "place": "In its board",
}
