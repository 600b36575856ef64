"""Supply systems and the point at which a part is supplied."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt


@dataclass(frozen=True, slots=True)
class System:
    """A supply system. Volts are nominal; ``to_neutral`` is 0 where there is no neutral."""

    id: str
    label: str
    phases: int
    wires: int
    line_to_line: float
    to_neutral: float

    @property
    def has_neutral(self) -> bool:
        return self.to_neutral > 0

    def line_current(self, va: float) -> float:
        """Amperes in each line for a balanced load in VA: VA ÷ V, or VA ÷ (√3 × V)."""
        volts = self.line_to_line or self.to_neutral
        return va / (sqrt(3) * volts if self.phases == 3 else volts)


SYSTEMS: dict[str, System] = {
    system.id: system
    for system in (
        System("1ph-120", "120 V, single-phase, two-wire", 1, 2, 0.0, 120.0),
        System("1ph-120/240", "120/240 V, single-phase, three-wire", 1, 3, 240.0, 120.0),
        System("1ph-120/208", "120/208 V, two lines and neutral of a wye", 1, 3, 208.0, 120.0),
        System("3ph-208Y/120", "208Y/120 V, three-phase, four-wire", 3, 4, 208.0, 120.0),
        System("3ph-480Y/277", "480Y/277 V, three-phase, four-wire", 3, 4, 480.0, 277.0),
        System("3ph-600Y/347", "600Y/347 V, three-phase, four-wire", 3, 4, 600.0, 347.0),
        System("3ph-400Y/230", "400Y/230 V, three-phase, four-wire", 3, 4, 400.0, 230.0),
        System("3ph-240", "240 V delta, three-phase, three-wire", 3, 3, 240.0, 0.0),
        System("3ph-240/120", "240/120 V high-leg delta, four-wire", 3, 4, 240.0, 120.0),
    )
}  # fmt: skip

DWELLING_SYSTEMS = ("1ph-120/240", "1ph-120/208")


@dataclass(frozen=True, slots=True)
class SupplyPoint:
    """What a part is handed from above: the system it stands on."""

    system: System


@dataclass(frozen=True, slots=True)
class Demand:
    """What a part hands up: connected and calculated load, VA; neutral and line currents, A."""

    connected: float = 0.0
    calculated: float = 0.0
    neutral: float = 0.0
    lines: tuple[float, ...] = ()

    def __add__(self, other: Demand) -> Demand:
        width = max(len(self.lines), len(other.lines))
        mine = self.lines + (0.0,) * (width - len(self.lines))
        theirs = other.lines + (0.0,) * (width - len(other.lines))
        return Demand(
            self.connected + other.connected,
            self.calculated + other.calculated,
            self.neutral + other.neutral,
            tuple(a + b for a, b in zip(mine, theirs, strict=True)),
        )
