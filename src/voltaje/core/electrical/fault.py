"""Fault currents by R + jX: what stands ahead as an impedance, conductors and windings added to it
as phasors. A sum of magnitudes would be too large, and the current too low for an interrupting
rating."""

from __future__ import annotations

from cmath import rect
from dataclasses import dataclass
from math import atan, inf

# physics: °C at which the resistance of these metals would be nought, on a straight line
ZERO = {"copper": 234.5, "aluminum": 228.1}
COLD = 20.0  # °C of conductors before a fault that may be the highest


@dataclass(frozen=True, slots=True)
class FaultCurrent:
    """The highest current at a fault, A (0: not known), and X/R of all that limits it."""

    amperes: float = 0.0
    xr: float = 0.0

    @property
    def known(self) -> bool:
        return self.amperes > 0

    def impedance(self, volts: float) -> complex:
        """Ω of all that stands ahead, at the volts that drive it."""
        return rect(volts / self.amperes, atan(self.xr))

    def through(self, volts: float, impedance: complex) -> FaultCurrent:
        """What is left of it behind an impedance, Ω in the way of those volts."""
        if not self.known:
            return self
        return behind(self.impedance(volts) + impedance, volts)


def behind(impedance: complex, volts: float) -> FaultCurrent:
    """The current that an impedance leaves."""
    xr = impedance.imag / impedance.real if impedance.real else inf
    return FaultCurrent(volts / abs(impedance), xr)


def cold(ohms: float, metal: str, warm: float) -> float:
    """Ω of a conductor at 20 °C, from those at ``warm`` °C."""
    zero = ZERO[metal]
    return ohms * (zero + COLD) / (zero + warm)
