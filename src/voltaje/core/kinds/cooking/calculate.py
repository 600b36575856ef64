"""A cooking circuit in numbers: demand, device, conductors, neutral, taps."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.loads import CountedLoad
from voltaje.core.electrical.systems import Demand, Piece
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.cooking.entries import CookingEntries
from voltaje.core.kinds.interface import SizedOutcome
from voltaje.core.kinds.placing import check_line, load_voltage
from voltaje.core.quantities import Nameplate as Plate
from voltaje.core.report import figure, fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.cooking import CookingDemand, in_table, ways
from voltaje.core.rules.north_america.overcurrent import (
    devices_between,
    largest_rating,
    next_standard_device,
)
from voltaje.core.rules.north_america.wired import Feed, Sizing, size, smallest_neutral
from voltaje.core.rules.north_america.wiring import size_ranks, smallest_option, terminal_column

# how the demand was found: the nameplate of one unit, of a small one, because the table would give
# more, or the table
By = Literal["unit", "small", "less", "table"]


@dataclass(frozen=True, slots=True)
class TapConductor:
    """A tap conductor to one unit: its nameplate amperes, what it must carry, its size."""

    name: str
    amperes: float
    needed: float
    size: Size
    ampacity: float


@dataclass(frozen=True, slots=True)
class CookingCircuit:
    """What the device is asked to be: the ``least`` A of a large range, the circuit that ``taps``
    are taken from where the edition fixes it, the ``most`` they may leave where the load is more
    than that."""

    need: SizingRequest
    least: Cell | None = None
    taps: Cell | None = None
    over: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class CookingOutcome(SizedOutcome[Sizing]):
    """``units`` with their nameplates in VA, ``total`` of them; the ``demand`` in VA, how it was
    found, and the table's way; the taps."""

    units: tuple[tuple[str, float], ...]
    total: float
    demand: float
    by: By
    way: CookingDemand | None
    rated: CookingCircuit
    taps: tuple[TapConductor, ...]


def units_of(entries: CookingEntries, volts: float) -> tuple[tuple[str, float], ...]:
    """Each unit with its nameplate in VA. Raises :class:`WrongEntryError`."""
    names = ("nameplate",) if entries.layout != "together" else ("cooktop", "oven_1", "oven_2")
    found = []
    for name in names:
        plate: Plate | None = getattr(entries, name)
        if plate is None:
            if name != "oven_2":
                raise WrongEntryError(name, say("Needed: the nameplate, like 7.2 kW."))
            continue
        if plate.horsepower is not None:
            raise WrongEntryError(
                name, say("Cooking units are given in kW or A, not in horsepower.")
            )
        va = plate.watts
        if va is None:
            va = (plate.amperes or 0) * (plate.volts or volts)
        if not va:
            raise WrongEntryError(name, say("Needed: the nameplate, like 7.2 kW."))
        found.append((name, va))
    return tuple(found)


def calculate(entries: CookingEntries, context: Context) -> CookingOutcome:
    """The circuit under the context's edition."""
    edition, wye = context.edition, context.supply.system.is_wye
    volts = load_voltage(context.supply.system, "two-line", "layout")
    check_line(entries.line, "two-line", context.supply.system)
    units = units_of(entries, volts)
    total = sum(va for _, va in units)
    demand, by, way = _demand(entries, total, edition)
    amperes = demand / volts
    rated = _rated(entries, amperes, total, edition)
    feed = Feed("two-line", volts, 2, entries.neutral == "yes", wye_pair=wye)
    if entries.neutral == "yes" and fits(edition.value("range_kw") * 1000, total):
        feed = _with_neutral(feed, rated.need, entries, context)
    sizing = size(rated.need, feed, entries, context)
    taps = _taps(entries, units, volts, edition) if entries.layout == "together" else ()
    return CookingOutcome(
        amperes=amperes,
        wires=feed.wires(context.supply.system, entries.line),
        drop=sizing.lost.percent if sizing.lost else None,
        sizing=sizing,
        units=units,
        total=total,
        demand=demand,
        by=by,
        way=way,
        rated=rated,
        taps=taps,
    )


def _demand(
    entries: CookingEntries, total: float, edition: Edition
) -> tuple[float, By, CookingDemand | None]:
    if entries.layout in ("oven", "cooktop"):
        return total, "unit", None
    load = CountedLoad("nameplate", "range", total, 0.0)
    if not in_table(load, edition):
        return total, "small", None
    way = ways([load], edition)[0]
    if way.demand > total:  # a demand is never more than what is connected
        return total, "less", None
    return way.demand, "table", way


def _rated(
    entries: CookingEntries, amperes: float, total: float, edition: Edition
) -> CookingCircuit:
    least = taps = over = None
    floor, topic = 0.0, "standard_devices"
    most = any_rating = largest_rating(edition)
    large = fits(edition.value("range_kw") * 1000, total)
    if entries.layout in ("range", "together") and large:
        least = edition.limit("range_circuit")
        floor = least.value
    if entries.layout == "together":
        limit = edition.limit("tap_circuit_most")
        topic, most = "cooking_tap", limit.value
        if edition.says("taps_from_most"):
            taps, floor = limit, limit.value
        if not fits(amperes, most):
            over, most = most, any_rating
    wanted = max(amperes, floor)
    need = SizingRequest(
        amperes,
        wanted,
        amperes,
        devices_between(wanted, most, edition, 3),
        device_topic="range_circuit" if floor > amperes else "branch_device",
        ceiling_topic=topic,
        ceiling=most,
    )
    return CookingCircuit(need, least, taps, over)


def _with_neutral(
    feed: Feed, need: SizingRequest, entries: CookingEntries, context: Context
) -> Feed:
    """The feed with the neutral of a large range: 70 % of the device, 10 AWG at least, never larger
    than the lines."""
    edition = context.edition
    free = size(need, feed, entries, context)  # with a neutral as large as its lines
    pair, feed = free.pair, free.feed
    rank = size_ranks(edition)
    share = edition.limit("range_neutral")
    least = edition.limit_size("range_neutral_least")
    needed = pair.device * share.value / 100
    one_set = replace(pair, sets=1)
    found = smallest_neutral(needed, least, 3, one_set, entries, edition)
    if found is None:
        raise NotCoveredError(
            edition.title, say("a neutral for {device} A", device=figure(pair.device, 0))
        )
    line = pair.option.size
    size_ = min(found, line, key=lambda name: rank[name])
    return replace(feed, neutral_size=Size(size_), neutral_rules=(share.rule,))


def _taps(
    entries: CookingEntries, units: tuple[tuple[str, float], ...], volts: float, edition: Edition
) -> tuple[TapConductor, ...]:
    """Each tap: 20 A at least and the unit's whole nameplate, no demand factor."""
    least, listed = edition.value("tap_least"), entries.terminals == "75"
    found = []
    for name, va in units:
        amperes = va / volts
        needed = max(amperes, least)
        device = next_standard_device(needed, edition).value
        column = terminal_column(device, listed, edition)
        installation = entries.installation(2)
        option = smallest_option(needed, entries.material, installation, column, edition)
        if option is None:
            raise NotCoveredError(
                edition.title, say("a tap for {amperes} A", amperes=figure(amperes, 0))
            )
        found.append(TapConductor(name, amperes, needed, option.size, option.final(column)))
    return tuple(found)


def hand_up(entries: CookingEntries, outcome: CookingOutcome, context: Context) -> Demand:
    """The circuit as one piece."""
    piece = Piece(
        "",
        "cooking",
        outcome.total,
        outcome.demand,
        outcome.sizing.need.load,
        "two-line",
        entries.line,
        device=outcome.sizing.pair.device,
    )
    return Demand.of([piece])
