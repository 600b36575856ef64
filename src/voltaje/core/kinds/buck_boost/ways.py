"""Every usual unit and every way of joining its halves, for volts that are there and wanted."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import inf, sqrt
from typing import Literal

from voltaje.core.codes import practice
from voltaje.core.electrical.windings import Joint, Stacked, TwoWindingUnit, ways
from voltaje.core.kinds.buck_boost.entries import BuckBoostLoad
from voltaje.core.report import fits

Halves = Literal["series", "parallel"]
Fault = Literal["", "volts", "flux", "size"]
RATED_HERTZ = 60.0  # what the units of the table are wound for (common practice)
# how far from the wanted volts a way is still shown (common practice)
SHOWN = 0.2


@dataclass(frozen=True, slots=True)
class Choice:
    """A unit, joined in one way: ``stacked`` with one unit of 1 kVA; ``kva`` the smallest usual
    size of each unit (``None``: none is large enough), ``needs`` its VA for this load. V ``out``
    and its ``error`` in percent of the volts wanted, ``flux`` in percent of the rated; A from the
    ``source``, to the load, in the series and the common winding, and A that the ``series`` one may
    carry; VA that all units ``deliver`` at these volts."""

    windings: str
    primary: Halves
    secondary: Halves
    stacked: Stacked
    kva: float | None
    needs: float
    out: float
    error: float
    flux: float
    source: float
    load: float
    in_series: float
    in_common: float
    series_rated: float
    delivers: float
    fault: Fault

    @property
    def joints(self) -> tuple[Joint, ...]:
        """The jumpers: H1 to H4 the ends of the primary's halves, X1 to X4 of the secondary's; odd
        ends are of one polarity."""
        halves = {"series": (("{0}2", "{0}3"),), "parallel": (("{0}1", "{0}3"), ("{0}2", "{0}4"))}
        found = [
            (one.format(letter), other.format(letter))
            for letter, how in (("H", self.primary), ("X", self.secondary))
            for one, other in halves[how]
        ]
        return (*found, ("H1", "X4" if self.stacked.aiding else "X1"))

    @property
    def source_ends(self) -> tuple[str, str]:
        """The terminals that the source is brought to."""
        return ("H1" if self.fed_at_common else self.far_end, "H4")

    @property
    def load_ends(self) -> tuple[str, str]:
        """The terminals that the load is taken from."""
        return (self.far_end if self.fed_at_common else "H1", "H4")

    @property
    def fed_at_common(self) -> bool:
        return (self.stacked.way == "up") == self.stacked.aiding

    @property
    def far_end(self) -> str:
        """The free end of the series winding."""
        return "X1" if self.stacked.aiding else "X4"


@dataclass(frozen=True, slots=True)
class BoostRequest:
    """What a booster is asked for: V there and wanted, ± % that the load bears, Hz, how its units
    stand, and whether the load takes more at more volts, as a heater does."""

    measured: float
    wanted: float
    tolerance: float
    hertz: float
    phases: Literal["1", "wye", "open delta"]
    resistive: bool = False

    @classmethod
    def of(cls, entries: BuckBoostLoad, measured: float) -> BoostRequest:
        """By the entries, at the volts that are there."""
        return cls(
            measured,
            entries.required_voltage or 1.0,
            entries.tolerance,
            float(entries.frequency),
            entries.phases,
            entries.load_type == "heater",
        )

    @property
    def root(self) -> float:
        """√3 of a three-phase bank, else 1."""
        return 1.0 if self.phases == "1" else sqrt(3)

    @property
    def units(self) -> int:
        """How many units make the bank."""
        return {"1": 1, "wye": 3, "open delta": 2}[self.phases]


def every_way(asked: BoostRequest, va: float) -> tuple[Choice, ...]:
    """All ways whose volts are not far off for a load of ``va`` at the volts wanted: those that
    hold first, the nearest first. Which is the nearest does not hang on the load."""
    book = practice()
    sizes = tuple(cell.value for cell in book.cells("booster_sizes", "kVA").values())
    found = []
    for windings, half in book.cells("booster_units", "primary half").items():
        one, other = half.value, book.cell("booster_units", windings, "secondary half").value
        for primary in ("series", "parallel"):
            for secondary in ("series", "parallel"):
                volts = one * (2 if primary == "series" else 1)
                added = other * (2 if secondary == "series" else 1)
                for way in ways(TwoWindingUnit(volts, added, 1000.0)):
                    # a winding fed on what another leaves of it is no joint of the trade
                    if way.common == volts and (way.aiding or way.way == "down"):
                        how: tuple[Halves, Halves] = (primary, secondary)
                        found.append(_choice(windings, *how, way, asked, va, sizes))
    shown = (one for one in found if abs(one.error) <= 100 * SHOWN)
    return tuple(
        sorted(
            shown,
            key=lambda one: (
                one.fault in ("volts", "flux"),
                round(abs(one.error), 6),
                one.kva or inf,
                one.needs,
            ),
        )
    )


@lru_cache(maxsize=512)
def nearest(asked: BoostRequest) -> Choice | None:
    """The way whose volts are nearest to those wanted, whatever the load; ``None`` where none is
    near enough."""
    found = every_way(asked, 1.0)
    return found[0] if found and found[0].fault not in ("volts", "flux") else None


def _choice(
    windings: str,
    primary: Halves,
    secondary: Halves,
    way: Stacked,
    asked: BoostRequest,
    va: float,
    sizes: tuple[float, ...],
) -> Choice:
    measured, wanted, root = asked.measured, asked.wanted, asked.root
    out = way.out(measured)
    if asked.resistive and out > wanted:
        va *= (out / wanted) ** 2
    # three in wye stand between line and star point
    at_unit = measured / sqrt(3) if asked.phases == "wye" else measured
    source, load, in_series, _ = way.amperes(va / root, measured)
    needs = in_series * way.series  # VA of one unit: its series winding at rated volts
    kva = next((size for size in sizes if fits(needs, size * 1000)), None)
    rated = (kva or sizes[-1]) * 1000 / way.series
    flux = 100 * way.over(at_unit) * RATED_HERTZ / asked.hertz
    error = 100 * (out / wanted - 1)
    fault: Fault = ""
    if not fits(flux, practice().limit("overflux").value):
        fault = "flux"
    elif not fits(abs(error), asked.tolerance):
        fault = "volts"
    elif kva is None:
        fault = "size"
    return Choice(
        windings,
        primary,
        secondary,
        way,
        kva,
        needs,
        out,
        error,
        flux,
        source,
        load,
        in_series,
        abs(source - load),
        rated,
        rated * root * (out if way.in_load_side else measured),
        fault,
    )
