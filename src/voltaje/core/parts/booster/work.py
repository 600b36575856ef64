"""Every usual unit and every way of joining its halves, worked for the volts and the load."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf, sqrt
from typing import Literal

from voltaje.core.codes import Cell, NotCoveredError, practice
from voltaje.core.electrical.off_volts import OffVolts
from voltaje.core.electrical.windings import Joint, Stacked, Unit, ways
from voltaje.core.entries import WrongEntryError, ask_needed
from voltaje.core.parts.booster.entries import BoosterEntries
from voltaje.core.parts.kind import Outcome
from voltaje.core.rules.context import Context
from voltaje.core.rules.nec.autotransformers import InputDevice, autotransformer_device
from voltaje.core.rules.nec.motors import table_current
from voltaje.core.rules.nec.transformers import standard_kva
from voltaje.core.worksheet import fits, say

Halves = Literal["series", "parallel"]
Fault = Literal["", "volts", "flux", "size"]
# nominal volts of the supplies whose motors the tables hold, and how far a motor's rated volts may
# be from them (no code figures)
NOMINAL = (120.0, 208.0, 240.0, 480.0, 600.0)
NEAR = 0.06  # no code figure
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


@dataclass(frozen=True, slots=True, kw_only=True)
class BoosterOutcome(Outcome):
    """All ways, the nearest first; the one taken; the load in VA and A at the volts wanted; what it
    does without one; kVA of an isolating unit for it; units that make the bank."""

    choices: tuple[Choice, ...]
    chosen: Choice | None
    va: float
    load: float
    table: Cell | None
    alone: OffVolts
    isolating: float | None
    units: int
    device: InputDevice | None


def work(entries: BoosterEntries, context: Context) -> BoosterOutcome:
    """Raises :class:`WrongEntryError` at what is missing."""
    ask_needed(entries)
    assert entries.measured is not None and entries.wanted is not None  # noqa: S101 - asked above
    root = 1.0 if entries.phases == "1" else sqrt(3)
    amperes, table = _load(entries, root, context)
    va = amperes * entries.wanted * root
    if va <= 0:
        raise WrongEntryError("load", say("Needed: a load above zero, like 9.6 kVA."))
    found = sorted(
        (one for one in _every(entries, va, root) if abs(one.error) <= 100 * SHOWN),
        key=lambda one: (bool(one.fault), round(abs(one.error), 6), one.kva or inf),
    )
    chosen = next((one for one in found if not one.fault), None)
    try:
        isolating = standard_kva(va / 1000, entries.phases != "1", context.edition)
    except NotCoveredError:
        isolating = None
    return BoosterOutcome(
        amperes=chosen.source if chosen else amperes,
        choices=tuple(found),
        chosen=chosen,
        va=va,
        load=amperes,
        table=table,
        alone=OffVolts(entries.measured / entries.wanted),
        isolating=isolating,
        units={"1": 1, "wye": 3, "open delta": 2}[entries.phases],
        device=autotransformer_device(
            chosen.source * chosen.series_rated / chosen.in_series, chosen.source, context.edition
        )
        if chosen
        else None,
    )


def _load(entries: BoosterEntries, root: float, context: Context) -> tuple[float, Cell | None]:
    """Line amperes of the load at the volts wanted; a motor's by the code's table."""
    plate, wanted = entries.load, entries.wanted or 1.0
    assert plate is not None  # noqa: S101 - asked by the caller
    if plate.horsepower is not None:
        nominal = next((v for v in NOMINAL if abs(wanted / v - 1) <= NEAR), 0.0)
        kind = "single-phase" if root == 1 else "squirrel cage"
        try:
            cell = table_current(plate.horsepower, nominal, kind, root > 1, context.edition)
        except NotCoveredError:
            words = say("The motor tables have none of these volts: give amperes, like 28 A.")
            raise WrongEntryError("load", words) from None
        return cell.value, cell
    if plate.amperes is not None:
        return plate.amperes, None
    return (plate.watts or 0.0) / (wanted * root), None


def _every(entries: BoosterEntries, va: float, root: float) -> list[Choice]:
    book = practice()
    sizes = tuple(book.table("booster_sizes").column("kVA").values())
    found = []
    for windings, cells in book.table("booster_units").rows.items():
        one, other = float(cells["primary half"]), float(cells["secondary half"])
        for primary in ("series", "parallel"):
            for secondary in ("series", "parallel"):
                volts = one * (2 if primary == "series" else 1)
                added = other * (2 if secondary == "series" else 1)
                for way in ways(Unit(volts, added, 1000.0)):
                    # a winding fed on what another leaves of it is no joint of the trade
                    if way.common == volts and (way.aiding or way.way == "down"):
                        how: tuple[Halves, Halves] = (primary, secondary)
                        found.append(_choice(windings, *how, way, entries, va, root, sizes))
    return found


def _choice(
    windings: str,
    primary: Halves,
    secondary: Halves,
    way: Stacked,
    entries: BoosterEntries,
    va: float,
    root: float,
    sizes: tuple[float, ...],
) -> Choice:
    measured, wanted = entries.measured or 1.0, entries.wanted or 1.0
    out = way.out(measured)
    # three in wye stand between line and star point
    at_unit = measured / sqrt(3) if entries.phases == "wye" else measured
    source, load, in_series, _ = way.amperes(va / root, measured)
    needs = in_series * way.series  # VA of one unit: its series winding at rated volts
    kva = next((size for size in sizes if fits(needs, size * 1000)), None)
    rated = (kva or sizes[-1]) * 1000 / way.series
    flux = 100 * way.over(at_unit) * RATED_HERTZ / float(entries.hertz)
    error = 100 * (out / wanted - 1)
    fault: Fault = ""
    if not fits(flux, practice().limit("overflux").value):
        fault = "flux"
    elif not fits(abs(error), entries.tolerance):
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
