"""Runs of several segments: what each loses by the table, by its impedance and by the K factor,
and what would mend a drop that is too large.

A segment carries what hangs on all joints behind it. Lengths in m, currents in A as phasors against
the supply's volts, impedances in Ω for each km of one conductor.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import sqrt

from voltaje.core.codes import Edition, practice
from voltaje.core.codes.vocabulary import Size
from voltaje.core.rules.nec.drop import impedance
from voltaje.core.units import METRES_PER_FOOT as METRES
from voltaje.core.worksheet import Rule

# no code figures: the temperatures, °C, that the ohms of a table are given at
AT_NEC, AT_IEC, AT_CABLE_TABLE = 75.0, 20.0, 70.0
# common practice: nominal volts that a supply may be raised to
STEPS_UP = (120.0, 208.0, 230.0, 240.0, 277.0, 400.0, 480.0, 600.0)
METRIC = tuple(practice().table("metric_cables").rows)


def is_metric(size: Size) -> bool:
    """Whether a size is given in mm²: ``"2.5 mm²"``."""
    return size.endswith("mm²")


def bare(size: Size) -> str:
    """A metric size as its table names it."""
    return size.removesuffix("mm²").strip()


@dataclass(frozen=True, slots=True)
class Ohms:
    """R and X of one conductor, Ω for each km, and where R comes from."""

    r: float
    x: float
    rule: Rule

    @property
    def z(self) -> complex:
        return complex(self.r, self.x)


@lru_cache(maxsize=1024)
def conductor_ohms(
    size: Size, material: str, method: str, celsius: float, edition: Edition
) -> Ohms | None:
    """R at ``celsius`` and X of a size, AWG, kcmil or mm². ``None`` where the size is not made of
    that metal."""
    if is_metric(size):
        book = practice()
        cells = book.table("metric_cables").rows[bare(size)]
        column = f"{material} R20"
        if not cells[column]:
            return None
        r = float(cells[column]) * (1 + book.value(f"alpha_{material}") * (celsius - AT_IEC))
        return Ohms(r, float(cells["X"]), book.rule("metric_cables", bare(size), column))
    if not edition.table("impedance").rows.get(size, {}).get(f"{material} R PVC", "x"):
        return None
    r, x, rule = impedance(size, material, method, edition)
    per_km = 1 / METRES
    hotter = edition.value(f"alpha_{material}") * (celsius - AT_NEC)
    return Ohms(r * (1 + hotter) * per_km, x * per_km, rule)


@lru_cache(maxsize=1024)
def table_mv(
    size: Size, material: str, three_phase: bool, edition: Edition
) -> tuple[float, Rule] | None:
    """mV for each ampere and metre: the cable table's for mm² of copper; for other metric cables
    2 × R or √3 × R at 70 °C, for AWG and kcmil of the direct-current ohms of Table 8 at 75 °C."""
    factor = sqrt(3) if three_phase else 2.0
    if is_metric(size):
        book, row = practice(), bare(size)
        cells = book.table("metric_cables").rows[row]
        if material == "copper":
            column = "mV three-phase" if three_phase else "mV two-wire"
            return float(cells[column]), book.rule("metric_cables", row, column)
        if not cells[f"{material} R20"]:
            return None
        hotter = book.value(f"alpha_{material}") * (AT_CABLE_TABLE - AT_IEC)
        r = float(cells[f"{material} R20"]) * (1 + hotter)
        return factor * r, book.rule("metric_cables", row, f"{material} R20")
    cells = edition.table("conductor_properties").rows.get(size, {})
    column = f"{material} stranded" if cells.get(f"{material} stranded") else material
    if not cells.get(column):
        return None
    ohms = float(cells[column])
    return factor * ohms / METRES, edition.rule("conductor_properties", size, column)


def k_volts(
    amperes: float, metres: float, mils: float, material: str, three_phase: bool
) -> tuple[float, Rule]:
    """The electricians' quick check: 2 (or √3) × K × A × ft ÷ circular mils."""
    k = practice().limit(f"k_{material}")
    factor = sqrt(3) if three_phase else 2.0
    return factor * k.value * amperes * metres / METRES / mils, k.rule


@dataclass(frozen=True, slots=True)
class Segment:
    """A piece of the run: its length, its conductor, what it carries, its own mV/A/m (0: of the
    table), conductors in parallel."""

    name: str
    metres: float
    size: Size
    amperes: complex
    mv: float = 0.0
    sets: int = 1


@dataclass(frozen=True, slots=True)
class Lost:
    """What a segment loses in V. ``by_table`` takes amperes as they are, whatever their phase;
    ``by_impedance`` R cos φ + X sin φ of the segment's own current; ``by_k`` is 0 for mm²."""

    by_table: float
    by_impedance: float
    by_k: float
    mv: float
    ohms: Ohms
    table_rule: Rule | None


def lost(
    segment: Segment,
    material: str,
    method: str,
    celsius: float,
    three_phase: bool,
    edition: Edition,
) -> Lost:
    """The three ways side by side. Raises ``KeyError`` for a size not made of that metal."""
    ohms = conductor_ohms(segment.size, material, method, celsius, edition)
    if ohms is None:
        raise KeyError(segment.size)
    factor = sqrt(3) if three_phase else 2.0
    amperes = abs(segment.amperes)
    current = segment.amperes / segment.sets
    # the part of the drop that lies along the supply's volts
    along = factor * (ohms.z / 1000 * segment.metres * current).real
    table = table_mv(segment.size, material, three_phase, edition)
    mv, rule = (segment.mv, None) if segment.mv else (table or (factor * ohms.r, ohms.rule))
    towards = -1.0 if segment.amperes.real < 0 else 1.0
    by_table = towards * mv * amperes / segment.sets * segment.metres / 1000
    by_k = 0.0
    if not is_metric(segment.size):
        mils = edition.table("conductor_properties").column("circular mils")[segment.size]
        by_k = (
            towards
            * k_volts(amperes / segment.sets, segment.metres, mils, material, three_phase)[0]
        )
    return Lost(by_table, along, by_k, mv, ohms, rule)


def smallest(
    sizes: Sequence[Size], percent: Callable[[Size], float | None], limit: float
) -> tuple[Size, float] | None:
    """The first size whose drop, in percent, is within ``limit``; sizes come smallest first and
    ``percent`` gives ``None`` where a size will not do."""
    for size in sizes:
        found = percent(size)
        if found is not None and found <= limit * (1 + 1e-9):
            return size, found
    return None


def volts_for(volts: float, percent: float, limit: float) -> float:
    """Volts at which the same VA lose ``limit`` percent: the share falls with the square."""
    return volts * sqrt(percent / limit)
