"""Devices: what they are made for, within how long they open, and what the loop may be for that."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.report import fits, say
from voltaje.core.rules.iec60364.entries import BREAKERS, CableEntries


@dataclass(frozen=True, slots=True)
class Disconnection:
    """What lets the device open: the ``most`` that the loop may be, Ω, by ``how``; within
    ``seconds``; the cells that give it. ``own`` is the limit of the overcurrent device alone
    (0: it clears none), ``times`` its rating at which a breaker is sure to open at once (0: a
    fuse)."""

    how: Literal["breaker", "moulded", "fuse", "rcd"]
    most: float
    seconds: float
    cells: tuple[Cell, ...]
    own: float
    times: float = 0.0


@lru_cache(maxsize=64)
def ratings(edition: Edition, device: str = "B") -> tuple[float, ...]:
    """The ratings that a kind of device is made in, A, rising."""
    if device in (*BREAKERS, "MCCB"):
        topic = "moulded_devices" if device == "MCCB" else "standard_devices"
        return tuple(cell.value for cell in edition.cells(topic, "A").values())
    column = edition.column_at("fuse_loops", fuse=device, seconds="5")
    return tuple(float(row) for row in edition.cells("fuse_loops", column))


def made_topic(device: str) -> str:
    """The table that says which ratings it is made in."""
    if device == "MCCB":
        return "moulded_devices"
    return "standard_devices" if device in BREAKERS else "fuse_loops"


# uses that are fixed equipment, not sockets
FIXED = (
    "lighting", "sign", "water heater", "space heating", "kiln", "air conditioning", "shower",
    "cooker", "motor", "inverter",
)  # fmt: skip


def seconds_of(use: str, device: float, edition: Edition, earthing: str = "TN") -> float:
    """Within how long a final circuit opens, or one for distribution, s; with an electrode of its
    own (TT) sooner, where the edition has it so."""
    most = edition.value("final_fixed" if use in FIXED else "final_sockets")
    final = use != "distribution" and fits(device, most)
    topic = "time_final" if final else "time_distribution"
    if earthing == "TT" and edition.has_limit(f"{topic}_tt"):
        topic += "_tt"
    return edition.value(topic)


def opening(
    device: float, entries: CableEntries, volts: float, seconds: float, edition: Edition
) -> Disconnection:
    """What the loop may be: of a breaker U0 × Cmin ÷ (its multiple × In), of a moulded-case breaker
    by its magnetic setting with the tolerance, of a fuse as tabulated by the volts to earth, with a
    residual-current device 50 V ÷ IΔn. Raises :class:`NotCoveredError` for a fuse that is not
    tabulated for that time."""
    kind = entries.device_type
    cells: tuple[Cell, ...]
    least = edition.limit("loop_least")
    at_once = 0.0
    how: Literal["breaker", "moulded", "fuse", "rcd"]
    if kind == "MCCB":
        tolerance, usual = edition.limit("moulded_tolerance"), edition.limit("moulded_times")
        at_once = (entries.magnetic_setting or usual.value) * tolerance.value
        own, how = volts * least.value / (at_once * device), "moulded"
        cells = (least, tolerance) if entries.magnetic_setting else (least, tolerance, usual)
    elif kind in BREAKERS:
        times = edition.limit(f"loop_times_{kind.lower()}")
        at_once = times.value
        own, how, cells = loop_limit(device, volts, edition, kind), "breaker", (least, times)
    else:
        how, cell = "fuse", _fuse(kind, device, seconds, edition)
        if cell is None and entries.rcd == "none":
            raise NotCoveredError(edition.title, say("the loop of this fuse for that time"))
        # behind a residual-current device a fuse that is not tabulated clears nothing by itself
        own = cell.value * volts / edition.value("loop_volts") if cell else 0.0
        cells = (cell,) if cell else ()
    if entries.rcd == "none":
        return Disconnection(how, own, seconds, cells, own, at_once)
    touch = edition.limit("touch_volts")
    most = touch.value / (float(entries.rcd) / 1000)
    return Disconnection("rcd", most, seconds, (touch,), own, at_once)


def _fuse(kind: str, device: float, seconds: float, edition: Edition) -> Cell | None:
    """The loop of a fuse as tabulated; ``None`` where it is not."""
    split = [(name, *name.split(" | ")) for name in edition.columns("fuse_loops")]
    columns = {float(time): name for name, fuse, time in split if fuse == kind}
    column = columns.get(max((one for one in columns if fits(one, seconds)), default=0.0), "")
    return edition.cell_or_none("fuse_loops", f"{device:g}", column)


def loop_limit(device: float, volts: float, edition: Edition, kind: str = "B") -> float:
    """The most that a breaker's loop may be, Ω: U0 × Cmin ÷ (5, 10 or 20 × In), with U0 the nominal
    ``volts`` to earth."""
    times = edition.value(f"loop_times_{kind.lower()}")
    return volts * edition.value("loop_least") / (times * device)
