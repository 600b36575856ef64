"""What is told of a branch circuit: its load, how it is connected, and how it is run."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any, ClassVar, Literal

from voltaje.core.electrical.systems import Category, Connection
from voltaje.core.entries import (
    AS_COUNTED,
    Current,
    Document,
    Entries,
    Few,
    LoadAtItsVolts,
    Name,
    Percent,
    PowerFactor,
    Usual,
    Voltage,
    entry,
)
from voltaje.core.kinds.placing import LoadInBoard
from voltaje.core.rules.interface import Code
from voltaje.core.rules.north_america.wired import WiringEntries


@dataclass(frozen=True, slots=True)
class Usage:
    """What a use brings along: continuous or not, and its category above."""

    label: str
    continuous: bool
    category: Category


USES: dict[str, Usage] = {
    "general": Usage("general load", False, "other"),
    "lighting": Usage("lighting", True, "lighting"),
    "receptacles": Usage("receptacles", False, "receptacles"),
    "water heater": Usage("water heater", True, "other"),
    "space heating": Usage("space heating", True, "heating"),
    "air conditioning": Usage("air conditioning", False, "cooling"),
    "vehicle charging": Usage("vehicle charging", True, "other"),
    "kiln": Usage("kiln", True, "other"),
    "kitchen": Usage("kitchen equipment", False, "kitchen"),
    "sign": Usage("sign", True, "lighting"),
    "sockets": Usage("sockets", False, "receptacles"),
    "cooker": Usage("cooker", False, "cooking"),
    "range": Usage("range in a dwelling", False, "cooking"),
    "shower": Usage("shower", False, "other"),
}
CONNECTIONS = {
    "line-neutral": "line and neutral",
    "two-line": "two lines",
    "three-phase": "three-phase",
}
LINE_LABELS = {
    "auto": "to balance",
    "L1": "L1",
    "L2": "L2",
    "L3": "L3",
    "L1-L2": "L1 and L2",
    "L2-L3": "L2 and L3",
    "L1-L3": "L1 and L3",
}


# common practice: what a circuit of that use usually is, VA
USUAL = Usual(
    5.0,
    500_000.0,
    "a branch circuit",
    "use",
    (
        ("lighting", 5.0, 30_000.0, "a lighting circuit"),
        ("water heater", 1000.0, 60_000.0, "a water heater"),
        ("space heating", 250.0, 60_000.0, "a space heater"),
        ("vehicle charging", 1000.0, 200_000.0, "a vehicle charger"),
        ("kiln", 500.0, 150_000.0, "a kiln"),
        ("kitchen", 100.0, 60_000.0, "kitchen equipment"),
        ("cooker", 1000.0, 40_000.0, "a cooker"),
        ("range", 1000.0, 30_000.0, "a range"),
        ("shower", 2000.0, 20_000.0, "a shower"),
        ("sign", 20.0, 20_000.0, "a sign"),
    ),
)


# the uses of the family that a job begins with
FIRST: tuple[str, ...] = WiringEntries.USES


def use_entry(names: Sequence[str]) -> Any:
    """What a circuit is for: the uses that a family knows."""
    choices = {name: USES[name].label for name in names}
    return entry("general", "Use", choices=choices, group="load")


def load_entry(names: Sequence[str]) -> Any:
    """The load, where its use has no entry of its own for it."""
    own = tuple(name for name in names if name not in ("receptacles", "air conditioning"))
    return entry(
        None,
        "Load",
        group="load",
        example="4.5 kW, 3.2 kVA, 24 A",
        usual=USUAL,
        when=("use", own),
    )


class CircuitLoad(LoadInBoard):
    """A load, how it is connected, and its place in its board."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "multiwire": "shared_neutral",
        "together": "noncoincident_with",
    }
    use: str = use_entry(FIRST)
    load: LoadAtItsVolts | None = load_entry(FIRST)
    outlets: Few = entry(
        0,
        "Outlets",
        help=AS_COUNTED,
        group="load",
        counts=("receptacle_load", "{figure} VA each"),
        when=("use", ("receptacles",)),
    )
    required_sign: bool = entry(
        False,
        "The outlet that is required for a sign",
        group="load",
        help="of a commercial building open to people on foot",
        when=("use", ("sign",)),
    )
    minimum_ampacity: Current | None = entry(
        None,
        "Minimum circuit ampacity",
        group="load",
        when=("use", ("air conditioning",)),
        help="nameplate",
        example="23 A",
    )
    maximum_device: Current | None = entry(
        None,
        "Maximum device",
        group="load",
        when=("use", ("air conditioning",)),
        help="nameplate",
        example="40 A",
    )
    connection: Connection = entry("line-neutral", "Connection", choices=CONNECTIONS, group="load")
    rated_volts: Voltage | None = entry(
        None,
        "Rated volts",
        help="if not the supply’s",
        group="load",
        example="240 V",
        seldom=True,
        at_rest="rated for the supply’s voltage",
    )
    power_factor: PowerFactor = entry(
        1.0,
        "Power factor",
        help="turns W into VA",
        group="load",
        example="0.9",
        seldom=True,
    )
    continuous: Literal["auto", "yes", "no", "part"] = entry(
        "auto",
        "Runs three hours or more",
        group="load",
        seldom=True,
        at_rest="continuous as usual for its use",
        choices={
            "auto": "as usual for its use",
            "yes": "yes, continuous",
            "no": "no",
            "part": "part of it",
        },
    )
    continuous_share: Percent | None = entry(
        None,
        "Share that is continuous, %",
        group="load",
        when=("continuous", ("part",)),
        example="60",
    )
    neutral: bool = entry(
        False,
        "Takes a neutral along",
        group="load",
        seldom=True,
        when=("connection", ("two-line", "three-phase")),
    )
    # no code figure: the names of the lines
    line_shares: Name = entry(
        "",
        "As measured on its lines",
        help="A or % of L1, L2, L3; empty: alike",
        group="load",
        seldom=True,
        when=("connection", ("three-phase",)),
        example="42, 31, 18 A",
    )
    nonlinear: bool = entry(False, "Mostly nonlinear load", group="load", seldom=True)
    line: Literal["auto", "L1", "L2", "L3", "L1-L2", "L2-L3", "L1-L3"] = entry(
        "auto",
        "Line",
        choices=LINE_LABELS,
        group="place",
        at_rest="phase assigned automatically",
    )
    shared_neutral: Name = entry(
        "",
        "Shares its neutral",
        help="one name for those that share",
        group="place",
        example="K1",
    )
    noncoincident_with: Name = entry(
        "",
        "Never runs with",
        help="one name for the group",
        group="place",
        example="Kilns",
    )


GROUPS = {
    "load": "The load",
    "run": "How it is run",
    "protection": "Protection and earth",
    "hand": "By hand",
    "place": "In its board",
}


@cache
def compose(code: Code) -> type[Entries]:
    """A circuit's entries under a family of codes: its load, the uses that the family knows, and
    its way of running it."""
    wiring = code.wiring
    names = wiring.USES or tuple(USES)
    types: dict[str, Any] = {"use": Literal[names], "load": LoadAtItsVolts | None}
    own = {
        "__doc__": CircuitLoad.__doc__,
        "__annotations__": types,
        "use": use_entry(names),
        "load": load_entry(names),
    }
    if usual := wiring.DIVERSITY:
        types["diversity"] = Literal[("", *usual)]
        own["diversity"] = entry(
            "",
            "Usual diversity",
            group="load",
            when=("use", ("cooker",)),
            choices={"": "none", **usual},
        )
    return type("CircuitEntries", (CircuitLoad, wiring), own)


# a use that another family knows by another name, or counts among others
ALIKE = {
    "receptacles": ("sockets",),
    "sockets": ("receptacles",),
    "cooker": ("range", "kitchen"),
    "range": ("cooker", "kitchen"),
    "shower": ("water heater",),
    "sign": ("lighting",),
}


def counterpart(document: Document, mine: Code, other: Code) -> Document:
    """The use by the name that the other family has for it."""
    use = str(document.get("use") or "")
    known = other.wiring.USES or tuple(USES)
    if not use or use in known:
        return document
    named = next((name for name in ALIKE.get(use, ()) if name in known), "general")
    return {**document, "use": named}
