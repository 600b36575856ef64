"""A hand-held instrument: what it shows of a true value, and how far that may be off.

Resolution and class are those usual for a clamp meter and a multimeter (common practice; no
particular instrument).
"""

from __future__ import annotations

from dataclasses import dataclass
from math import floor, log10
from typing import Literal


@dataclass(frozen=True, slots=True)
class Meter:
    """``ranges`` are (up to, resolution), ``percent`` of the reading and ``digits`` of the last
    place are its accuracy; below ``quiet`` it shows nothing."""

    name: str
    unit: Literal["A", "V"]
    ranges: tuple[tuple[float, float], ...]
    percent: float
    digits: int
    quiet: float

    def resolution(self, value: float) -> float:
        """The last place in the range that holds ``value``."""
        for most, step in self.ranges:
            if abs(value) < most:
                return step
        return self.ranges[-1][1]

    def reads(self, value: float) -> str:
        """What it shows: ``"12.4"``; ``"0.0"`` where it is quiet, ``"over"`` beyond its range."""
        size = abs(value)
        if size >= self.ranges[-1][0]:
            return "over"
        step = self.resolution(size)
        places = max(0, -floor(log10(step) + 1e-9))
        shown = 0.0 if size < self.quiet else floor(size / step + 0.5 + 1e-9) * step
        return f"{shown:.{places}f}"

    def within(self, value: float) -> float:
        """How far a reading of ``value`` may lie from the truth, in its unit."""
        return abs(value) * self.percent / 100 + self.digits * self.resolution(value)


CLAMP = Meter("clamp meter", "A", ((60.0, 0.1), (600.0, 0.1), (2000.0, 1.0)), 2.0, 5, 0.1)
VOLTMETER = Meter("voltmeter", "V", ((600.0, 0.1), (1000.0, 1.0)), 1.0, 3, 0.5)


def meter_for(unit: str) -> Meter:
    """The instrument for A or V."""
    return CLAMP if unit == "A" else VOLTMETER
