"""A two-winding unit as an autotransformer: every way to put its windings in series.

Each winding keeps its rated volts and amperes. With the volts of the supply per turn fixed, the
series winding carries the amperes of its side of the line, the common one the difference of both
sides.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Way = Literal["up", "down"]


@dataclass(frozen=True, slots=True)
class TwoWindingUnit:
    """A unit of two windings: rated volts of both and its VA."""

    one: float
    other: float
    va: float

    def amperes(self, volts: float) -> float:
        """Rated amperes of the winding of those volts."""
        return self.va / volts


@dataclass(frozen=True, slots=True)
class Stacked:
    """One way: V of the ``common`` winding and of the one in ``series``; ``aiding`` or opposing;
    ``up`` or ``down``. ``rated_in`` and ``rated_out`` are the volts at which both windings stand at
    their ratings; ``ratio`` is out over in. ``delivers`` VA is what may pass at those volts,
    ``series_amperes`` and ``common_amperes`` what the windings may carry."""

    unit: TwoWindingUnit
    common: float
    series: float
    aiding: bool
    way: Way
    rated_in: float
    rated_out: float
    series_amperes: float
    common_amperes: float

    @property
    def ratio(self) -> float:
        return self.rated_out / self.rated_in

    @property
    def delivers(self) -> float:
        """VA at rated volts. The series winding's amperes flow in the side that it stands in: that
        of the sum where it aids, that of the difference where it opposes."""
        stacked = self.rated_out if self.way == "up" else self.rated_in
        if not self.aiding:
            stacked = self.rated_out if self.way == "down" else self.rated_in
        return stacked * self.series_amperes

    def out(self, volts: float) -> float:
        """Volts out at ``volts`` in: a ratio, whatever is fed."""
        return volts * self.ratio

    def amperes(self, load: float, volts: float) -> tuple[float, float, float, float]:
        """For a ``load`` in VA fed at ``volts``: A from the source, to the load, in the series and
        in the common winding."""
        source, taken = load / volts, load / self.out(volts)
        in_series = taken if self.in_load_side else source
        return source, taken, in_series, abs(source - taken)

    @property
    def in_load_side(self) -> bool:
        """Whether the series winding carries the load's amperes; else it carries the source's."""
        return (self.way == "up") == self.aiding

    def over(self, volts: float) -> float:
        """Volts on the windings over their rating, 1 at rated volts: flux by that share."""
        return volts / self.rated_in


def ways(unit: TwoWindingUnit) -> list[Stacked]:
    """All ways, by the ratio: each winding as the common one, aiding and opposing, up and down.
    Opposing is only possible where the common winding has the more volts."""
    found = []
    for common, series in ((unit.one, unit.other), (unit.other, unit.one)):
        for aiding in (True, False):
            high = common + series if aiding else common - series
            if high <= 0:
                continue
            amperes = unit.amperes(series), unit.amperes(common)
            # aiding steps up from the common winding to the sum; opposing steps down from it
            first: Way = "up" if aiding else "down"
            back: Way = "down" if aiding else "up"
            found += [
                Stacked(unit, common, series, aiding, first, common, high, *amperes),
                Stacked(unit, common, series, aiding, back, high, common, *amperes),
            ]
    return sorted(found, key=lambda way: way.ratio)
