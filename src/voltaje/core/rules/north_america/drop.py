"""Voltage drop of one run: by the impedance of its conductors, by their resistance alone, or for
the temperature that they come to at their load."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from math import sqrt

from voltaje.core.codes import Cell, Edition
from voltaje.core.codes.vocabulary import Size
from voltaje.core.quantities import feet
from voltaje.core.report import Rule, figure
from voltaje.core.rules.north_america.wiring import STEEL, SizeAmpacity, circular_mils
from voltaje.core.rules.settings import DropMethod

FEET = 1000.0


@dataclass(frozen=True, slots=True)
class Drop:
    """Volts lost and their share of ``volts``; ``ohms`` effective for each 1,000 ft, one way;
    ``resistance`` as the table has it, times ``growth`` where it was taken for ``degrees`` °C, by
    the coefficient of ``growth_rule``."""

    volts_lost: float
    percent: float
    ohms: float
    resistance: float
    reactance: float
    factor: float
    rule: Rule
    power_factor: float = 1.0
    growth: float = 1.0
    degrees: float | None = None
    growth_rule: Rule | None = None

    @property
    def rules(self) -> tuple[Rule, ...]:
        """The cells that its ohms were read from."""
        return (self.rule,) if self.growth_rule is None else (self.rule, self.growth_rule)

    @property
    def ohms_shown(self) -> str:
        """Ω for each 1,000 ft as it comes of the cells: R, or R cos φ + X sin φ, R times its growth
        where it is that of another temperature."""
        r, x = figure(self.resistance, 4), figure(self.reactance, 4)
        if self.degrees is not None:
            r = f"{r} × {figure(self.growth, 3)}"
        if self.power_factor >= 1:
            return f"{r} Ω"
        sine = sqrt(1 - self.power_factor**2)
        shares = figure(self.power_factor, 3), figure(sine, 3)
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


@lru_cache(maxsize=512)
def direct_current(size: Size, material: str, edition: Edition) -> Cell | None:
    """Ω for each 1,000 ft by direct current, stranded where both are made (chapter 9, Table 8);
    ``None`` where the edition has none for that size."""
    topic = "conductor_properties"
    found = edition.cell_or_none(topic, size, f"{material} stranded")
    return found or edition.cell_or_none(topic, size, material)


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
    ``limit`` percent, calculated ``by`` that method; air of ``ambient`` °C, insulation made for
    ``hottest``."""

    amperes: float
    volts: float
    metres: float
    method: str
    three_phase: bool
    power_factor: float
    limit: float
    by: DropMethod
    ambient: float
    hottest: float

    def percent(self, option: SizeAmpacity, sets: int, edition: Edition) -> float:
        """The drop of that conductor, percent."""
        return self.lost(option, sets, edition).percent

    def lost(
        self, option: SizeAmpacity, sets: int, edition: Edition, by: DropMethod | None = None
    ) -> Drop:
        """The drop of that conductor, by its own method or another."""
        plain = drop(
            self.amperes,
            self.volts,
            self.metres,
            option.size,
            option.material,
            self.method,
            edition,
            self.three_phase,
            self.power_factor,
            sets,
        )
        by = by or self.by
        if by == "resistance":
            ohms = direct_current(option.size, option.material, edition)
            if ohms is None:
                return plain
            r, x, cos, growth = ohms.value, 0.0, 1.0, 1.0
            found = replace(plain, rule=ohms.rule)
        elif by == "temperature":
            degrees = self.degrees(option, sets)
            alpha = edition.limit(f"alpha_{option.material}")
            r, x, cos = plain.resistance, plain.reactance, plain.power_factor
            growth = 1 + alpha.value * (degrees - table_degrees(edition))
            found = replace(plain, degrees=degrees, growth_rule=alpha.rule)
        else:
            return plain
        effective = r * growth * cos + x * sqrt(max(0.0, 1 - cos**2))
        lost = plain.factor * self.amperes / sets * effective * feet(self.metres) / FEET
        return replace(
            found,
            volts_lost=lost,
            percent=100 * lost / self.volts,
            ohms=effective,
            resistance=r,
            reactance=x,
            power_factor=cos,
            growth=growth,
        )

    def degrees(self, option: SizeAmpacity, sets: int) -> float:
        """°C that the conductor comes to: the heat grows with the square of its amperes, up to what
        its insulation is made for at its corrected ampacity."""
        share = self.amperes / (option.corrected * sets) if option.corrected else 1.0
        return self.ambient + (self.hottest - self.ambient) * share**2


def run_ohms(
    metres: float, size: Size, material: str, method: str, edition: Edition, sets: int = 1
) -> float:
    """Impedance of a run of ``metres`` one way, Ω: √(R² + X²) of Table 9, sets in parallel."""
    resistance, reactance, _ = impedance(size, material, method, edition)
    return sqrt(resistance**2 + reactance**2) * feet(metres) / FEET / sets


def table_degrees(edition: Edition) -> float:
    """°C of the conductors that the impedances are tabulated for, by the table's own header."""
    return float(edition.header("impedance", "degrees"))
