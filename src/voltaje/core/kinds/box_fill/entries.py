"""What is told of a box: what is in it, its own volume, the raceways of a pull box."""

from __future__ import annotations

from typing import Annotated, Literal

from voltaje.core import quantities
from voltaje.core.entries import Entries, Few, Reads, Row, entry
from voltaje.core.rules.interface import Code

SmallSize = Literal["18", "16", "14", "12", "10", "8", "6"]
LABELS = {size: f"{size} AWG" for size in SmallSize.__args__}  # type: ignore[attr-defined]
NONE = {"": "none", **LABELS}
Volume = Annotated[float, Reads(quantities.COUNT, 1.0, 500.0)]
Count = Annotated[int, Reads(quantities.COUNT, 1, 200, whole=True)]
TradeInches = Annotated[float, Reads(quantities.COUNT, 0.5, 6.0)]


class InBox(Row):
    """Conductors of one size that end, are joined or are looped in the box."""

    count: Count = entry(1, "How many", example="4")
    size: SmallSize = entry("12", "Size", choices=LABELS)


class DeviceInBox(Row):
    """Devices on a yoke: switches, receptacles."""

    count: Count = entry(1, "How many", example="1")
    size: SmallSize = entry("12", "Largest conductor on it", choices=LABELS)


class RacewayOnWall(Row):
    """A raceway that enters a pull box, with the wall that it enters."""

    trade: TradeInches | None = entry(None, "Trade size, in", example="3")
    wall: Literal["left", "right", "top", "bottom"] = entry(
        "left",
        "Wall",
        choices={"left": "left", "right": "right", "top": "top", "bottom": "bottom"},
    )
    pull: Literal["straight", "angle"] = entry(
        "straight", "Pull", choices={"straight": "straight through", "angle": "angle, U or splice"}
    )


class BoxEntries(Entries):
    """A box, a conduit body, or a pull box for 4 AWG and larger, as every family has it."""

    purpose: Literal["box", "pull"] = entry(
        "box",
        "What it is",
        group="box",
        choices={
            "box": "box or conduit body, up to 6 AWG",
            "pull": "pull box, 4 AWG and larger",
        },
    )
    form: Literal["", "device", "round", "square"] = entry(
        "",
        "Form",
        group="box",
        choices={"": "any", "device": "device", "round": "round or octagonal", "square": "square"},
        when=("purpose", ("box",)),
    )
    volume: Volume | None = entry(
        None,
        "Its volume, in³",
        group="box",
        help="marked in it; empty: the smallest standard box",
        when=("purpose", ("box",)),
        example="18",
    )
    conductors: tuple[InBox, ...] = entry(
        (), "Conductors", group="inside", add="Add conductors", when=("purpose", ("box",))
    )
    devices: tuple[DeviceInBox, ...] = entry(
        (), "Devices", group="inside", add="Add a device", when=("purpose", ("box",))
    )
    supports: Few = entry(
        0,
        "Support fittings",
        group="inside",
        help="fixture studs, hickeys: kinds of them",
        when=("purpose", ("box",)),
    )
    raceways: tuple[RacewayOnWall, ...] = entry(
        (), "Raceways", group="pull", add="Add a raceway", when=("purpose", ("pull",))
    )


class BoxFillEntries(BoxEntries):
    """What the NEC counts besides: clamps and equipment grounds."""

    clamps: bool = entry(False, "Internal cable clamps", group="inside", when=("purpose", ("box",)))
    grounds: Few = entry(
        0, "Equipment grounds", group="inside", when=("purpose", ("box",)), help="how many enter"
    )
    ground_size: Literal["", "18", "16", "14", "12", "10", "8", "6"] = entry(
        "", "Largest ground", group="inside", choices=NONE, when=("purpose", ("box",))
    )


class CecBoxEntries(BoxEntries):
    """What the Canadian code counts besides: wire connectors with insulating caps."""

    connectors: Few = entry(
        0,
        "Wire connectors with caps",
        group="inside",
        help="each pair counts as one conductor",
        when=("purpose", ("box",)),
    )


def compose(code: Code) -> type[Entries]:
    """A box's entries under a family."""
    return CecBoxEntries if code.family == "cec" else BoxFillEntries


GROUPS = {"box": "The box", "inside": "In it", "pull": "Its raceways"}
