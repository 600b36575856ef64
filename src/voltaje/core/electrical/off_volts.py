"""What equipment does at volts that are not its own. Common practice, near its rated volts."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class OffVolts:
    """Shares of what it is at rated volts: a loaded motor draws about its power at any volts, so
    its amperes go up as the volts go down, its heat with the square of the amperes, its torque and
    a heater's output with the square of the volts."""

    ratio: float

    @property
    def amperes(self) -> float:
        return 1 / self.ratio

    @property
    def heat(self) -> float:
        return 1 / self.ratio**2

    @property
    def torque(self) -> float:
        return self.ratio**2

    @property
    def output(self) -> float:
        """Of a heater."""
        return self.ratio**2
