"""A sizing as a picture: amperes on an axis, the load, the device, the conductor's ampacity
before and after each correction. What stands left of the device limits."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, floor, log10

from voltaje.core.report import AxisMark, Report

WIDTH, LEFT, RIGHT = 388, 128, 380
TOP, ROW = 44, 27
ROLES = {"load": 0, "device": 1, "limit": 2, "conductor": 2}


@dataclass(frozen=True, slots=True)
class ScaleBar:
    """One mark as a bar from zero: its end, row, where its figure stands."""

    mark: AxisMark
    x: float
    y: float

    @property
    def role(self) -> str:
        return self.mark.role

    @property
    def width(self) -> float:
        return round(max(self.x - LEFT, 1.0), 1)

    @property
    def inside(self) -> bool:
        """Whether the figure stands left of the bar's end, where there is no room right of it."""
        return self.x > RIGHT - 52

    @property
    def text_x(self) -> float:
        return self.x - 6 if self.inside else self.x + 6


@dataclass(frozen=True, slots=True)
class ScaleDrawing:
    """What the template writes."""

    width: int
    height: float
    bars: tuple[ScaleBar, ...]
    ticks: tuple[tuple[float, float], ...]
    device_x: float
    bottom: float
    says: str


def draw(worked: Report) -> ScaleDrawing:
    """Lays the marks out on one axis that starts at zero."""
    most = max(mark.amperes for mark in worked.marks) or 1.0
    step = step_of(most)
    end = step * ceil(most / step - 1e-9)

    def at(amperes: float) -> float:
        return round(LEFT + (RIGHT - LEFT) * amperes / end, 1)

    ordered = sorted(worked.marks, key=lambda m: ROLES[m.role])
    bars = tuple(
        ScaleBar(mark, at(mark.amperes), TOP + ROW * index) for index, mark in enumerate(ordered)
    )
    ticks = tuple((at(step * i), step * i) for i in range(floor(end / step + 1e-9) + 1))
    device = next((m.amperes for m in worked.marks if m.role == "device"), 0.0)
    bottom = TOP + ROW * len(bars)
    says = "; ".join(f"{mark.label} {mark.amperes:,.1f} A" for mark in ordered)
    return ScaleDrawing(WIDTH, bottom + 10, bars, ticks, at(device), bottom, says)


def step_of(most: float) -> float:
    """A round distance that gives four to eight ticks."""
    unit: float = 10.0 ** floor(log10(most / 4))
    for factor in (1, 2, 5, 10):
        if most / (unit * factor) <= 7:
            return unit * factor
    return unit * 10
