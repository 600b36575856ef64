"""A transformer's entries: connection, size, protection, both runs, the hook-up list."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Annotated, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.electrical.systems import SYSTEMS, System
from voltaje.core.entries import (
    Current,
    Entries,
    Few,
    Length,
    Reads,
    Units,
    Usual,
    WrongEntryError,
    entry,
)
from voltaje.core.kinds.placing import InBoard
from voltaje.core.report import Text, say
from voltaje.core.rules.interface import Code
from voltaje.core.rules.north_america.wired import SIZE_LABELS, SizeChoice, WiringEntries

Kva = Annotated[float, Reads(quantities.SIZE, 50.0, 5e6)]
Impedance = Annotated[float, Reads(quantities.COUNT, 0.5, 15.0)]
HighVolts = Annotated[float, Reads(quantities.VOLTAGE, 1001.0, 38_000.0)]
Seconds = Annotated[float, Reads(quantities.COUNT, 0.005, 10.0)]
Times = Annotated[float, Reads(quantities.COUNT, 1.0, 40.0)]
TAPS = ("+5", "+2.5", "0", "-2.5", "-5", "-7.5", "-10")
CONNECTIONS = {
    "delta-wye": "delta–wye",
    "wye-wye": "wye–wye",
    "delta-delta": "delta–delta",
    "open delta": "open delta",
    "single-phase": "single-phase",
}
RUNS = {
    "10 ft": "indoors, up to 10 ft",
    "25 ft": "indoors, up to 25 ft",
    "outside": "outside, any length",
}
RUN_TOPICS = {"10 ft": "secondary_10", "25 ft": "secondary_25", "outside": "secondary_outside"}
HOOK_UP = {
    "done_lockout": "Locked out, tested dead, signs set",
    "done_nameplate": "Nameplate read: kVA, volts, impedance, taps",
    "done_place": "Set level, clear of walls, ventilated as marked",
    "done_primary": "Primary lines on H1, H2, H3, torqued",
    "done_secondary": "Secondary lines on X1, X2, X3, neutral on X0, torqued",
    "done_bond": "System bonding jumper set, at one point only",
    "done_electrode": "Grounding electrode conductor connected",
    "done_metal": "Core, enclosure and raceways bonded",
    "done_tap": "Taps all on the same step",
    "done_test": "Insulation tested; volts taken before the load is put on",
}


class TransformerLoad(InBoard):
    """Connection, size, protection, both runs, and the list to tick off while hooking it up."""

    FORMERLY: ClassVar[Mapping[str, str]] = {
        "high": "primary_voltage",
        "high_device": "primary_device_type",
        "aim": "primary_device",
        "holds": "device_withstand",
        "scheme": "protection",
    }
    connection: Literal["delta-wye", "wye-wye", "delta-delta", "open delta", "single-phase"] = (
        entry("delta-wye", "Connection", choices=CONNECTIONS, group="transformer")
    )
    secondary: Literal[
        "3ph-208Y/120",
        "3ph-480Y/277",
        "3ph-600Y/347",
        "3ph-400Y/230",
        "3ph-240",
        "3ph-240/120",
        "1ph-120/240",
        "1ph-120",
    ] = entry(
        "3ph-208Y/120",
        "Secondary",
        group="transformer",
        choices={
            name: SYSTEMS[name].label
            for name in (
                "3ph-208Y/120",
                "3ph-480Y/277",
                "3ph-600Y/347",
                "3ph-400Y/230",
                "3ph-240",
                "3ph-240/120",
                "1ph-120/240",
                "1ph-120",
            )
        },
    )
    kva: Kva | None = entry(
        None,
        "Size",
        help="empty: by the load below",
        group="transformer",
        example="75 kVA",
        usual=Usual(50.0, 3_000_000.0, "a transformer in a building"),
    )
    spare: Few = entry(0, "Spare, %", help="on the load below", group="transformer")
    impedance: Impedance | None = entry(
        None,
        "Impedance, %",
        help="nameplate; for the fault",
        group="transformer",
        example="3.5",
        usual=Usual(1.0, 10.0, "the impedance of a transformer, in percent"),
    )
    tap: Literal["+5", "+2.5", "0", "-2.5", "-5", "-7.5", "-10"] = entry(
        "0", "Tap", group="transformer", choices={t: f"{t} %" for t in TAPS}
    )
    protection: Literal["primary only", "primary and secondary"] = entry(
        "primary and secondary",
        "Protection",
        group="protection",
        choices={"primary only": "primary only", "primary and secondary": "both sides"},
    )
    primary_device: Literal["usual", "most"] = entry(
        "usual",
        "Primary device",
        group="protection",
        choices={"usual": "about 125 %", "most": "the most allowed"},
    )
    primary_voltage: HighVolts | None = entry(
        None, "Primary above 1,000 V", group="protection", help="if it is", example="12.47 kV"
    )
    primary_device_type: Literal["breaker", "fuse"] = entry(
        "breaker",
        "Its device",
        group="protection",
        choices={"breaker": "breaker", "fuse": "fuse"},
    )
    supervised: bool = entry(False, "Supervised location", group="protection", help="above 1,000 V")
    control: bool = entry(False, "Motor control-circuit transformer", group="protection")
    # common practice: 8 to 12 times, about a tenth of a second
    inrush: Times = entry(10.0, "Inrush, times rated", help="8 to 12", group="protection")
    inrush_time: Seconds = entry(0.1, "Inrush lasts, s", help="about 0.1", group="protection")
    device_withstand: Times = entry(
        10.0, "Device holds, times its rating", help="for 0.1 s", group="protection"
    )
    secondary_run: Literal["10 ft", "25 ft", "outside"] = entry(
        "10 ft", "Secondary conductors", choices=RUNS, group="secondary"
    )
    secondary_length: Length | None = entry(None, "Their length", group="secondary")
    secondary_device: Current | None = entry(
        None, "Secondary device", help="empty: as calculated", group="secondary", example="225 A"
    )
    secondary_size: SizeChoice = entry(
        "auto", "Secondary conductor", choices=SIZE_LABELS, group="secondary"
    )
    secondary_sets: Units | None = entry(
        None, "Secondary sets", help="empty: one", group="secondary"
    )
    done_lockout: bool = entry(False, HOOK_UP["done_lockout"], group="hookup")
    done_nameplate: bool = entry(False, HOOK_UP["done_nameplate"], group="hookup")
    done_place: bool = entry(False, HOOK_UP["done_place"], group="hookup")
    done_primary: bool = entry(False, HOOK_UP["done_primary"], group="hookup")
    done_secondary: bool = entry(False, HOOK_UP["done_secondary"], group="hookup")
    done_bond: bool = entry(False, HOOK_UP["done_bond"], group="hookup")
    done_electrode: bool = entry(False, HOOK_UP["done_electrode"], group="hookup")
    done_metal: bool = entry(False, HOOK_UP["done_metal"], group="hookup")
    done_tap: bool = entry(False, HOOK_UP["done_tap"], group="hookup")
    done_test: bool = entry(False, HOOK_UP["done_test"], group="hookup")


class TransformerEntries(TransformerLoad, WiringEntries):
    """A transformer's entries, as its work knows them under every family."""


@cache
def compose(code: Code) -> type[Entries]:
    """A transformer's entries under a family: its own way of running conductors."""
    return type(
        "TransformerEntries", (TransformerLoad, code.wiring), {"__doc__": TransformerLoad.__doc__}
    )


GROUPS = {
    "transformer": "The transformer",
    "protection": "Its protection",
    "run": "How both are run",
    "hand": "Primary by hand",
    "secondary": "Secondary conductors",
    "hookup": "Hook-up, in this order",
    "place": "In the board above",
}


def check(entries: TransformerEntries, primary: System) -> System:
    """The secondary's system. Raises :class:`WrongEntryError` for what cannot be connected so."""
    second = SYSTEMS[entries.secondary]
    kind = entries.connection

    def refuse(path: str, words: Text) -> None:
        raise WrongEntryError(path, words)

    if kind == "single-phase":
        if second.phases != 1:
            refuse(
                "secondary",
                say(
                    "A single-phase transformer has a single-phase secondary: choose 120/240 V"
                    " or 120 V."
                ),
            )
        return second
    if primary.phases != 3:
        refuse(
            "connection",
            say(
                "The supply, {supply}, is not three-phase: choose single-phase.",
                supply=say(primary.label),
            ),
        )
    if second.phases != 3:
        refuse(
            "secondary",
            say("This connection has a three-phase secondary: choose one, or single-phase."),
        )
    # above 1,000 V the supply's own volts are another's, and so is its neutral
    if kind == "wye-wye" and not primary.is_wye and entries.primary_voltage is None:
        refuse(
            "connection",
            say(
                "The supply, {supply}, has no wye neutral for H0: choose delta–wye.",
                supply=say(primary.label),
            ),
        )
    if kind in ("delta-wye", "wye-wye") and not second.is_wye:
        refuse(
            "secondary",
            say(
                "The secondary of this connection is a wye: choose one with a neutral, such as"
                " 208Y/120 V, or delta–delta."
            ),
        )
    if kind in ("delta-delta", "open delta") and second.is_wye:
        refuse(
            "secondary",
            say(
                "The secondary of this connection is a delta: choose 240 V or 240/120 V, or"
                " delta–wye."
            ),
        )
    return second
