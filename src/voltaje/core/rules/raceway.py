"""The smallest raceway that the conductors fill no more than allowed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.worksheet import Rule, fits


@dataclass(frozen=True, slots=True)
class Fill:
    """A trade size, its use: ``area`` of the conductors and ``inside`` of the raceway, in²."""

    trade_size: str
    area: float
    inside: float
    allowed: float
    rules: tuple[Rule, ...]

    @property
    def percent(self) -> float:
        return 100 * self.area / self.inside


@lru_cache(maxsize=2048)
def conductor_area(size: str, insulation: str, compact: bool, edition: Edition) -> float:
    """Area of one insulated conductor, in². Raises :class:`NotCoveredError`."""
    column = f"{edition.table('insulations').rows[insulation]['dimensions']} in²"
    if compact:
        text = edition.table("compact_areas").rows.get(size, {}).get(column, "")
        if text:
            return float(text)
    return edition.cell("conductor_areas", size, column).value


def raceway(
    sizes: Sequence[tuple[str, int]],
    method: str,
    insulation: str,
    edition: Edition,
    compact: bool = False,
) -> Fill:
    """``sizes`` are (size, how many) in one raceway. Raises :class:`NotCoveredError` when the
    largest trade size does not do."""
    return _raceway(tuple(sizes), method, insulation, edition, compact)


@lru_cache(maxsize=2048)
def _raceway(
    sizes: tuple[tuple[str, int], ...], method: str, insulation: str, edition: Edition,
    compact: bool,
) -> Fill:  # fmt: skip
    count = sum(number for _, number in sizes)
    area = sum(conductor_area(s, insulation, compact, edition) * n for s, n in sizes)
    row = edition.table("raceway_fill").span(count)
    allowed = edition.cell("raceway_fill", row, "percent")
    for trade_size, cells in edition.table("raceways").rows.items():
        text = cells[f"{method} in²"]
        if text and fits(area, float(text) * allowed.value / 100):
            dimension = "compact_areas" if compact else "conductor_areas"
            rules = (
                allowed.rule,
                edition.rule("raceways", trade_size, f"{method} in²"),
                edition.rule(dimension),
            )
            return Fill(trade_size, area, float(text), allowed.value, rules)
    raise NotCoveredError(edition.title, f"a {method} raceway for {count} conductors")
