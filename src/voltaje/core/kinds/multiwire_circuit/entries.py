"""What is told of circuits that share a neutral."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Annotated, ClassVar, Literal

from voltaje.core.entries import (
    Current,
    Entries,
    Length,
    LoadAtItsVolts,
    Name,
    Percent,
    PowerFactor,
    Row,
    Temperature,
    Usual,
    entry,
)
from voltaje.core.kinds.placing import LoadInBoard
from voltaje.core.rules.interface import Code
from voltaje.core.rules.north_america.runs import SIZE_NAMES, NecAlong, RunSize
from voltaje.core.rules.north_america.wired import (
    Insulation,
    Metal,
    Method,
    insulation_entry,
    metal_entry,
    method_entry,
)

Leg = Literal["L1", "L2", "L3"]
LEGS = {"L1": "L1", "L2": "L2", "L3": "L3"}
CIRCUITS = {
    "A": "circuit A",
    "B": "circuit B",
    "C": "circuit C",
    "A-B": "across A and B",
    "B-C": "across B and C",
    "A-C": "across A and C",
}
BEHAVIOURS = {"resistance": "resistance", "power": "constant power", "current": "constant current"}


class SharedLoad(Row):
    """A load along the run, at the joint before or at one of its own."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"third": "third_harmonic"}
    name: Annotated[str, Name] = entry("", "Load", example="Microwave oven")
    nameplate: LoadAtItsVolts | None = entry(
        None, "Nameplate", usual=Usual(1.0, 15_000.0, "a load on a shared neutral")
    )
    circuit: Literal["A", "B", "C", "A-B", "B-C", "A-C"] = entry("A", "Circuit", choices=CIRCUITS)
    length: Length | None = entry(None, "From the joint before", example="12 ft")
    behaves: Literal["resistance", "power", "current"] = entry(
        "resistance", "Behaves as", choices=BEHAVIOURS
    )
    power_factor: PowerFactor | None = entry(None, "Power factor", example="PF 1")
    third_harmonic: Percent | None = entry(None, "Third harmonic, %", example="3rd %")


class SharedNeutral(LoadInBoard):
    """Loads in their order from the board, the lines that their circuits stand on, what is open:
    whatever the family."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "a": "phase_a",
        "b": "phase_b",
        "c": "phase_c",
        "open": "opened_at",
    }
    loads: tuple[SharedLoad, ...] = entry((), "Loads", group="loads", add="Add a load")
    phase_a: Leg = entry("L1", "Circuit A stands on", choices=LEGS, group="legs")
    phase_b: Leg = entry("L2", "Circuit B stands on", choices=LEGS, group="legs")
    phase_c: Literal["none", "L1", "L2", "L3"] = entry(
        "none", "Circuit C stands on", choices={"none": "not there", **LEGS}, group="legs"
    )
    device: Current = entry(20.0, "Device of each", group="legs")
    trip: Literal["common", "separate"] = entry(
        "common",
        "Disconnected",
        group="legs",
        choices={"common": "all together", "separate": "each by itself"},
    )
    size: str = entry("auto", "Conductors", group="run")
    neutral_size: str = entry("auto", "Neutral", group="run")
    opened_at: Name = entry("", "Opened at", help="or in the drawing", group="fault", example="N:2")


class MultiwireEntries(SharedNeutral):
    """With conductors in AWG as the NEC sizes them behind the device."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        **SharedNeutral.FORMERLY,
        "celsius": "conductor_temperature",
        "method": "wiring_method",
    }
    size: RunSize = entry(
        "12",
        "Conductors",
        group="run",
        choices={"auto": "the smallest that holds", **SIZE_NAMES},
        seldom=False,
    )
    neutral_size: RunSize = entry(
        "auto",
        "Neutral",
        group="run",
        choices={"auto": "as the others", **SIZE_NAMES},
        at_rest="neutral as the others",
    )
    material: Metal = metal_entry("Metal")
    wiring_method: Method = method_entry("EMT")
    insulation: Insulation = insulation_entry("THHN")
    conductor_temperature: Temperature = entry(
        60.0, "Conductors at", help="°C, when loaded", group="run"
    )


@cache
def compose(code: Code) -> type[Entries]:
    """The entries under a family: its sizes, and how the conductors of a run lie there."""
    along: type[Entries] = code.along
    if issubclass(along, NecAlong):
        return MultiwireEntries
    sizes: Mapping[str, str] = along.SIZES  # type: ignore[attr-defined]
    names = Literal[("auto", *sizes)]  # type: ignore[valid-type]
    own = {
        "__doc__": SharedNeutral.__doc__,
        "__annotations__": {"size": names, "neutral_size": names},
        "size": entry(
            "auto",
            "Conductors",
            group="run",
            choices={"auto": "the smallest that holds", **sizes},
            seldom=False,
        ),
        "neutral_size": entry(
            "auto",
            "Neutral",
            group="run",
            choices={"auto": "as the others", **sizes},
            at_rest="neutral as the others",
        ),
    }
    return type("SharedNeutralEntries", (along, SharedNeutral), own)


GROUPS = {
    "loads": "Loads along the run",
    "legs": "In the board",
    "run": "Conductors",
    "fault": "Opened",
    "place": "In the board above",
}
