"""The smallest raceway that the conductors fill no more than allowed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.report import Rule, fits, say


@dataclass(frozen=True, slots=True)
class Fill:
    """A trade size, its use: ``area`` of the conductors and ``inside`` of the raceway, in²;
    ``each`` has how many conductors there are of one area."""

    trade_size: str
    area: float
    inside: float
    allowed: float
    rules: tuple[Rule, ...]
    each: tuple[tuple[int, float], ...] = ()

    @property
    def shown(self) -> str:
        """The area as it adds up: ``3 × 0.0097``, ``(3 × 0.0211 + 0.0133)``."""
        counts: dict[float, int] = {}
        for count, area in self.each:
            counts[area] = counts.get(area, 0) + count
        terms = [f"{n} × {area:.4f}" if n > 1 else f"{area:.4f}" for area, n in counts.items()]
        return terms[0] if len(terms) == 1 else f"({' + '.join(terms)})"

    @property
    def percent(self) -> float:
        return 100 * self.area / self.inside


@lru_cache(maxsize=2048)
def conductor_area(size: Size, insulation: str, compact: bool, edition: Edition) -> float:
    """Area of one insulated conductor, in². Raises :class:`NotCoveredError`."""
    return _dimension(size, insulation, compact, edition).value


@lru_cache(maxsize=2048)
def _dimension(size: Size, insulation: str, compact: bool, edition: Edition) -> Cell:
    """The area of one insulated conductor, in²; of a compact one where it is made so."""
    column = f"{edition.word('insulations', insulation, 'dimensions')} in²"
    made = edition.cell_or_none("compact_areas", size, column) if compact else None
    return made or edition.cell("conductor_areas", size, column)


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
    sizes: tuple[tuple[str, int], ...],
    method: str,
    insulation: str,
    edition: Edition,
    compact: bool,
) -> Fill:
    count = sum(number for _, number in sizes)
    each = tuple((n, conductor_area(s, insulation, compact, edition)) for s, n in sizes if n)
    area = sum(one * n for n, one in each)
    allowed = edition.cell("raceway_fill", edition.row_for("raceway_fill", count), "percent")
    for trade_size, inside in edition.cells("raceways", f"{method} in²").items():
        if fits(area, inside.value * allowed.value / 100):
            rules = (
                allowed.rule,
                inside.rule,
                *(
                    _dimension(Size(size), insulation, compact, edition).rule
                    for size in dict.fromkeys(size for size, number in sizes if number)
                ),
            )
            return Fill(trade_size, area, inside.value, allowed.value, rules, each)
    raise NotCoveredError(
        edition.title, say("a {method} raceway for {count} conductors", method=method, count=count)
    )
