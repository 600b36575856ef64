"""Voltage drop of one run by the impedance of its conductors."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import sqrt

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import Size
from voltaje.core.quantities import feet
from voltaje.core.report import Rule, figure
from voltaje.core.rules.north_america.wiring import STEEL, circular_mils

FEET = 1000.0


@dataclass(frozen=True, slots=True)
class Drop:
    """Volts lost and their share of ``volts``; ``ohms`` effective for each 1,000 ft, one way."""

    volts_lost: float
    percent: float
    ohms: float
    resistance: float
    reactance: float
    factor: float
    rule: Rule
    power_factor: float = 1.0

    @property
    def ohms_shown(self) -> str:
        """Ω for each 1,000 ft as it comes of the cells: R, or R cos φ + X sin φ."""
        if self.power_factor >= 1:
            return f"{figure(self.resistance, 4)} Ω"
        sine = sqrt(1 - self.power_factor**2)
        shares = figure(self.power_factor, 3), figure(sine, 3)
        r, x = figure(self.resistance, 4), figure(self.reactance, 4)
        return f"({r} × {shares[0]} + {x} × {shares[1]}) Ω"


@lru_cache(maxsize=512)
def impedance(
    size: Size, material: str, method: str, edition: Edition
) -> tuple[float, float, Rule]:
    """R and X, Ω for each 1,000 ft, and the cell. A size between rows takes the smaller size's
    figures, which are never less."""
    rows = edition.rows("impedance")
    if size not in rows:
        mils = circular_mils(edition)
        size = Size(max((s for s in rows if mils[s] <= mils[size]), key=lambda s: mils[s]))
    conduit = "steel" if method in STEEL else "PVC"
    column = f"{material} R {conduit}"
    ohms = edition.cell("impedance", size, column)
    reactance = edition.cell("impedance", size, "X steel" if method in STEEL else "X nonmagnetic")
    return ohms.value, reactance.value, ohms.rule


def drop(
    amperes: float,
    volts: float,
    metres: float,
    size: Size,
    material: str,
    method: str,
    edition: Edition,
    three_phase: bool = False,
    power_factor: float = 1.0,
    sets: int = 1,
) -> Drop:
    """Drop of a run of ``metres`` one way: k × I × (R cos φ + X sin φ) × length, with k = 2 for two
    wires and √3 for three-phase (chapter 9, Table 9, note 2; annex D)."""
    resistance, reactance, rule = impedance(size, material, method, edition)
    ohms = resistance * power_factor + reactance * sqrt(max(0.0, 1 - power_factor**2))
    factor = sqrt(3) if three_phase else 2.0
    lost = factor * amperes / sets * ohms * feet(metres) / FEET
    return Drop(lost, 100 * lost / volts, ohms, resistance, reactance, factor, rule, power_factor)


@dataclass(frozen=True, slots=True)
class Holds:
    """A drop that conductors must hold: ``amperes`` over ``metres`` one way at ``volts``, at most
    ``limit`` percent."""

    amperes: float
    volts: float
    metres: float
    method: str
    three_phase: bool
    power_factor: float
    limit: float

    def percent(self, size: Size, material: str, sets: int, edition: Edition) -> float:
        """The drop of that conductor, percent."""
        return drop(
            self.amperes,
            self.volts,
            self.metres,
            size,
            material,
            self.method,
            edition,
            self.three_phase,
            self.power_factor,
            sets,
        ).percent


def run_ohms(
    metres: float, size: Size, material: str, method: str, edition: Edition, sets: int = 1
) -> float:
    """Impedance of a run of ``metres`` one way, Ω: √(R² + X²) of Table 9, sets in parallel."""
    resistance, reactance, _ = impedance(size, material, method, edition)
    return sqrt(resistance**2 + reactance**2) * feet(metres) / FEET / sets


def table_degrees(edition: Edition) -> float:
    """°C of the conductors that the impedances are tabulated for, by the table's own header."""
    return float(edition.header("impedance", "degrees"))
