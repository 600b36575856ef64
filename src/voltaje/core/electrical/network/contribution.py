"""What an item puts between its supply point and those below it: conductors, and then windings that
change the voltage."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, slots=True)
class NetworkSegment:
    """Conductors up to a joint: Ω of each line and of the neutral; ``loads`` is how many of the
    item's own pieces, in their order, stand at the joint."""

    line: complex
    neutral: complex
    loads: int = 0


@dataclass(frozen=True, slots=True)
class Bank:
    """A transformer: its kVA, impedance in percent (0: not known), connection, secondary volts at
    no load, and the conductors behind it."""

    kva: float
    percent: float
    connection: str
    volts: float
    behind: NetworkSegment


@dataclass(frozen=True, slots=True)
class Boost:
    """Single-phase units as autotransformers: one between two ``lines`` (or a line and the
    neutral), three in wye, or two in open delta. Rated V of the ``common`` and the ``series``
    winding, ``aiding`` or opposing, fed at the common winding's end or at the series winding's far
    one; kVA of each unit, its impedance in percent (0: not known), and the conductors behind."""

    lines: tuple[str, ...]
    connection: Literal["1", "wye", "open delta"]
    common: float
    series: float
    aiding: bool
    fed_at_common: bool
    kva: float
    percent: float
    behind: NetworkSegment


@dataclass(frozen=True, slots=True)
class NetworkContribution:
    """The conductors of an item by their joints, and its windings."""

    joints: tuple[NetworkSegment, ...] = ()
    windings: Bank | Boost | None = None
