"""The main earthing conductor and the main bonding in numbers."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.codes.vocabulary import Size
from voltaje.core.kinds.earthing.entries import EarthingEntries, bare
from voltaje.core.kinds.interface import Outcome
from voltaje.core.report import fits
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364 import protective_conductors as earth


@dataclass(frozen=True, slots=True, kw_only=True)
class EarthingOutcome(Outcome):
    """Both conductors, copper, mm²; whether neutral and earth are ``combined``; A of a fault (0:
    not known) and the ``least`` area by its heat (``None``: not known), with k; whether the earth
    by the table is less than that."""

    earthing: Size
    bonding: Size
    combined: bool
    system: str
    current: float
    least: float | None
    k: float

    @property
    def holds(self) -> bool:
        return self.least is None or fits(self.least, float(self.earthing))


def calculate(entries: EarthingEntries, context: Context) -> EarthingOutcome:
    """By the line as a protective conductor; by the heat of a fault where its current and its time
    are known, which then may ask for more."""
    edition, supply = context.edition, context.supply
    told = entries.earthing if entries.earthing != "supply" else supply.earthing
    system = told if told in ("TN-C-S", "TT") else "TN-S"
    line = Size(entries.line_conductor)
    neutral = line if entries.supply_neutral == "auto" else Size(entries.supply_neutral)
    current = entries.fault or 0.0
    if not current and supply.loop_impedance and supply.system.to_neutral:
        current = supply.system.to_neutral / supply.loop_impedance
    cool = context.code.wiring.COOL  # type: ignore[attr-defined]
    by_table = earth.main_earthing(line, bare(entries), edition)
    size, least = by_table, None
    k = earth.heat_constant(edition, cool, "copper", size)
    if current and entries.clearing_time:
        least = earth.least_by_heat(current, entries.clearing_time, k)
        size = earth.at_least(max(float(by_table), least))
        k = earth.heat_constant(edition, cool, "copper", size)  # a larger one may stand less
        least = earth.least_by_heat(current, entries.clearing_time, k)
        size = earth.at_least(max(float(size), least))
    combined = system == "TN-C-S"
    return EarthingOutcome(
        earthing=size,
        bonding=earth.main_bonding(size, neutral, combined, edition),
        combined=combined,
        system=system,
        current=current,
        least=least,
        k=k,
    )
