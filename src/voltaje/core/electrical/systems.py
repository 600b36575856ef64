"""Supply systems, the point at which a part is supplied, and what it hands up."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, fields, replace
from math import sqrt
from operator import attrgetter
from typing import TYPE_CHECKING, Literal

from voltaje.core.electrical.fault import FaultCurrent

if TYPE_CHECKING:
    from voltaje.core.electrical.loads import Household
    from voltaje.core.electrical.panel_layout import Device

Category = Literal[
    "lighting",
    "receptacles",
    "kitchen",
    "motor",
    "heating",
    "cooling",
    "dwelling",
    "cooking",
    "other",
]
Connection = Literal["line-neutral", "two-line", "three-phase"]
LINES = ("L1", "L2", "L3")


@dataclass(frozen=True, slots=True)
class System:
    """A supply system. Volts are nominal; ``to_neutral`` is 0 where there is no neutral. ``metric``
    systems are those of 50 Hz countries, whose cores have the harmonised colors."""

    id: str
    label: str
    phases: int
    wires: int
    line_to_line: float
    to_neutral: float
    metric: bool = False

    @property
    def has_neutral(self) -> bool:
        return self.to_neutral > 0

    @property
    def lines(self) -> tuple[str, ...]:
        """Names of the ungrounded conductors."""
        if self.phases == 3:
            return LINES
        return LINES[:2] if self.line_to_line else LINES[:1]

    @property
    def high_leg(self) -> str:
        """The line that stands higher above neutral than the others, or ``""``."""
        return "L2" if self.id == "3ph-240/120" else ""

    @property
    def is_wye(self) -> bool:
        """Whether the neutral is a wye's: two lines and neutral make it carry as much as they."""
        return (
            self.has_neutral
            and self.line_to_line > 0
            and not (self.line_to_line > 1.9 * self.to_neutral)
        )

    @property
    def colors(self) -> dict[str, str]:
        """The usual identification colors. Common practice; only white or gray for the neutral,
        green for ground and orange for a high leg are the code's. Metric systems come in the
        harmonised colors, where blue is the neutral."""
        if self.id in ("3ph-480Y/277", "3ph-600Y/347"):
            return {"L1": "brown", "L2": "orange", "L3": "yellow", "N": "gray"}
        if self.metric:  # harmonised cores, IEC 60445 and HD 308
            return {"L1": "brown", "L2": "black", "L3": "gray", "N": "blue"}
        if self.high_leg:
            return {"L1": "black", "L2": "orange", "L3": "blue", "N": "white"}
        return {"L1": "black", "L2": "red", "L3": "blue", "N": "white"}

    def line_current(self, va: float) -> float:
        """Amperes in each line for a balanced load in VA: VA ÷ V, or VA ÷ (√3 × V)."""
        volts = self.line_to_line or self.to_neutral
        return va / (sqrt(3) * volts if self.phases == 3 else volts)

    def volts(self, connection: Connection) -> float:
        """Volts that a load of that connection stands on; 0 where the system has none."""
        if connection == "line-neutral":
            return self.to_neutral
        return 0.0 if connection == "three-phase" and self.phases != 3 else self.line_to_line

    def neutral_current(self, lines: tuple[float, ...]) -> float:
        """Neutral amperes of line-to-neutral loads of one power factor, from those on each line:
        the difference of two, √(a² + b² + c² − ab − bc − ca) of three phases."""
        if self.phases == 3:
            a, b, c = (*lines, 0.0, 0.0, 0.0)[:3]
            return sqrt(max(0.0, a * a + b * b + c * c - a * b - b * c - c * a))
        if self.is_wye and len(lines) == 2:
            a, b = lines
            return sqrt(max(0.0, a * a + b * b - a * b))
        return abs(lines[0] - lines[1]) if len(lines) > 1 else sum(lines)


SYSTEMS: dict[str, System] = {
    system.id: system
    for system in (
        System("1ph-120", "120 V, single-phase, two-wire", 1, 2, 0.0, 120.0),
        System("1ph-120/240", "120/240 V, single-phase, three-wire", 1, 3, 240.0, 120.0),
        System("1ph-120/208", "120/208 V, two lines and neutral of a wye", 1, 3, 208.0, 120.0),
        System("3ph-208Y/120", "208Y/120 V, three-phase, four-wire", 3, 4, 208.0, 120.0),
        System("3ph-480Y/277", "480Y/277 V, three-phase, four-wire", 3, 4, 480.0, 277.0),
        System("3ph-600Y/347", "600Y/347 V, three-phase, four-wire", 3, 4, 600.0, 347.0),
        System("3ph-400Y/230", "400Y/230 V, three-phase, four-wire", 3, 4, 400.0, 230.0, True),
        System("1ph-230", "230 V, single-phase, two-wire", 1, 2, 0.0, 230.0, True),
        System("3ph-415Y/240", "415Y/240 V, three-phase, four-wire", 3, 4, 415.0, 240.0, True),
        System("1ph-240", "240 V to neutral, single-phase, two-wire", 1, 2, 0.0, 240.0, True),
        System("3ph-380Y/220", "380Y/220 V, three-phase, four-wire", 3, 4, 380.0, 220.0, True),
        System("1ph-220", "220 V to neutral, single-phase, two-wire", 1, 2, 0.0, 220.0, True),
        System("3ph-240", "240 V delta, three-phase, three-wire", 3, 3, 240.0, 0.0),
        System("3ph-240/120", "240/120 V high-leg delta, four-wire", 3, 4, 240.0, 120.0),
    )
}

# the usual ones first, then older nominal volts
METRIC_SYSTEMS = ("1ph-230", "3ph-400Y/230", "1ph-240", "3ph-415Y/240", "1ph-220", "3ph-380Y/220")
DWELLING_SYSTEMS = ("1ph-120/240", "1ph-120/208")


@dataclass(frozen=True, slots=True)
class Missing:
    """A part whose result is missing (a wrong entry, not covered, a fault of the program): its id
    and its name. What depends on it is a bound at best, and never an answer."""

    part: str
    name: str


def each_once(*groups: Iterable[Missing]) -> tuple[Missing, ...]:
    """What is missing, each part once, in its order."""
    return tuple({one.part: one for group in groups for one in group}.values())


@dataclass(frozen=True, slots=True)
class SupplyPoint:
    """What a part is handed from above: the system, its measured line-to-line volts (0: as
    nominal), Hz, available fault current in A (0: not known), the owner's marking by line, and the
    ``upstream_drop`` in percent of the volts (0 where nobody asks); where it is told, how it is
    earthed (TN-S, TN-C-S, TT) and the earth-fault ``loop_impedance`` up to it, Ω (0: not known).
    ``private`` is a source of the installation's own.
    ``unknown`` are the parts above without whose result nothing can be said here (of the system,
    the loop or the loss ahead), ``bounded`` those without which fault current and loop are at most
    what is handed down. ``xr`` is X/R of what limits the fault current, ``motor_times`` how many
    times their current motors add to a fault (0: as usual)."""

    system: System
    volts: float = 0.0
    hertz: float = 60.0
    fault: float = 0.0
    marking: tuple[str, ...] = ()
    upstream_drop: float = 0.0
    earthing: str = ""
    loop_impedance: float = 0.0
    private: bool = False
    unknown: tuple[Missing, ...] = ()
    bounded: tuple[Missing, ...] = ()
    xr: float = 0.0
    motor_times: float = 0.0

    @property
    def fault_current(self) -> FaultCurrent:
        """The fault current that is available here with the X/R of what limits it."""
        return FaultCurrent(self.fault, self.xr)

    @property
    def share(self) -> float:
        """Its measured volts over the nominal ones; 1 where none are measured."""
        nominal = self.system.line_to_line or self.system.to_neutral
        return self.volts / nominal if self.volts else 1.0

    def at(self, connection: Connection) -> float:
        """V that a load of that connection stands on: the measured ones where they are known; 0
        where the system has none."""
        return self.system.volts(connection) * self.share

    def ahead(self, fault: FaultCurrent, lost: float, loop: float) -> SupplyPoint:
        """The same with that fault current, that percent lost ahead, and that loop, Ω."""
        if (fault, lost, loop) == (self.fault_current, self.upstream_drop, self.loop_impedance):
            return self
        return replace(
            self, fault=fault.amperes, xr=fault.xr, upstream_drop=lost, loop_impedance=loop
        )

    def color(self, line: str) -> str:
        """The identification color of a line or ``"N"``."""
        names = (*LINES, "N")
        if self.marking and line in names and names.index(line) < len(self.marking):
            return self.marking[names.index(line)] or self.system.colors.get(line, "")
        return self.system.colors.get(line, "")


@dataclass(frozen=True, slots=True)
class Piece:
    """One load as it is handed up.

    ``connected`` is its nameplate in VA and ``calculated`` what its own rules leave of it;
    ``amperes`` flow in each of its lines. ``line`` is where it stands ("L1", "L1-L2", "auto").
    ``motor`` is a motor's full-load current in A, ``device`` the rating ahead of it.
    ``group`` names loads that never run together, ``choice`` what of them is one alternative
    (empty: each piece by itself), ``multiwire`` circuits that share a neutral.
    ``instantaneous`` says that ``device`` is what a feeder counts of a motor on an instantaneous
    breaker, not that breaker's setting.
    ``part`` is the id of the part it comes from, ``by_area`` lighting taken by floor area,
    ``isolated`` what a transformer keeps off the neutral of its primary; ``power_factor`` serves
    the volts alone, amperes being added at unity; ``household`` is a dwelling's loads, for what
    serves several.
    """

    name: str
    category: Category
    connected: float
    calculated: float
    amperes: float
    connection: Connection = "two-line"
    line: str = "auto"
    continuous: float = 0.0
    motor: float = 0.0
    device: float = 0.0
    group: str = ""
    multiwire: str = ""
    nonlinear: bool = False
    neutral: float = 0.0
    by_area: bool = False
    isolated: bool = False
    part: str = ""
    power_factor: float = 1.0
    instantaneous: bool = False
    choice: str = ""
    household: Household | None = None

    def on(self, line: str) -> Piece:
        """The same on that line."""
        if line == self.line:
            return self
        values = dict(zip(_NAMES, _VALUES(self), strict=True))
        return Piece(**{**values, "line": line})

    def of(self, part: str, name: str) -> Piece:
        """The same as of that part, named after it where it has no name; a neutral that is shared
        within the part, ``"*"``, gets the part's name. What has a part already is left as it is."""
        if self.part:
            return self
        values = dict(zip(_NAMES, _VALUES(self), strict=True))
        values |= {"part": part, "name": self.name or name}
        if self.multiwire == "*":
            values["multiwire"] = name
        return Piece(**values)


# dataclasses.replace takes several times as long, and a job of many circuits asks at every one
_NAMES = tuple(field.name for field in fields(Piece))
_VALUES = attrgetter(*_NAMES)


@dataclass(frozen=True, slots=True)
class Infeed:
    """A source that feeds in from below: its output in VA, how it is connected, on which line, and
    the part that it is. It lowers no demand, for it may stand still when the load is highest."""

    va: float
    connection: Connection = "three-phase"
    line: str = "auto"
    power_factor: float = 1.0
    part: str = ""
    name: str = ""

    def amperes(self, system: System) -> float:
        """A in each of its lines on a system."""
        volts = system.volts(self.connection) or system.line_to_line or system.to_neutral
        return self.va / (sqrt(3) * volts if self.connection == "three-phase" else volts)


@dataclass(frozen=True, slots=True)
class Demand:
    """What a part hands up: connected and calculated load, VA; neutral and line currents, A;
    the pieces that the demand rules of a feeder are applied to, and what is ``infeed`` in;
    ``devices`` are those that stand directly on the part above, in the order of their pieces;
    ``missing`` are the parts whose load is not in it, because their result is missing."""

    connected: float = 0.0
    calculated: float = 0.0
    neutral: float = 0.0
    lines: tuple[float, ...] = ()
    pieces: tuple[Piece, ...] = ()
    infeed: tuple[Infeed, ...] = ()
    devices: tuple[Device, ...] = ()
    missing: tuple[Missing, ...] = ()

    def __add__(self, other: Demand) -> Demand:
        width = max(len(self.lines), len(other.lines))
        mine = self.lines + (0.0,) * (width - len(self.lines))
        theirs = other.lines + (0.0,) * (width - len(other.lines))
        return Demand(
            self.connected + other.connected,
            self.calculated + other.calculated,
            self.neutral + other.neutral,
            tuple(a + b for a, b in zip(mine, theirs, strict=True)),
            self.pieces + other.pieces,
            self.infeed + other.infeed,
            self.devices + other.devices,
            self.missing + other.missing,
        )

    @classmethod
    def total(cls, demands: Sequence[Demand]) -> Demand:
        """All of them together, in their order."""
        if not demands:
            return cls()
        width = max(len(one.lines) for one in demands)
        lines = [one.lines + (0.0,) * (width - len(one.lines)) for one in demands]
        return cls(
            sum(one.connected for one in demands),
            sum(one.calculated for one in demands),
            sum(one.neutral for one in demands),
            tuple(map(sum, zip(*lines, strict=True))),
            tuple(piece for one in demands for piece in one.pieces),
            tuple(source for one in demands for source in one.infeed),
            tuple(device for one in demands for device in one.devices),
            tuple(gap for one in demands for gap in one.missing),
        )

    @classmethod
    def of(cls, pieces: Iterable[Piece]) -> Demand:
        """The demand of pieces, before any rule of a feeder."""
        found = tuple(pieces)
        return cls(sum(p.connected for p in found), sum(p.calculated for p in found), pieces=found)

    def named(self, part: str, name: str) -> Demand:
        """The same with the part's id and name on the pieces that have none yet; a neutral that is
        shared within the part, ``"*"``, gets the part's name."""
        pieces = tuple(piece.of(part, name) for piece in self.pieces)
        fed = tuple(f if f.part else replace(f, part=part, name=name) for f in self.infeed)
        own = (self.connected, self.calculated, self.neutral, self.lines)
        return Demand(*own, pieces, fed, (), self.missing)
