"""Voltage drop of a run, in numbers: what it loses, what it may lose, and what would mend it.

Told, or made the second thing that conductors are sized for: the search then goes on upward.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import floor, sqrt
from typing import TYPE_CHECKING, Any, get_args

from voltaje.core.codes import Cell, NotCoveredError
from voltaje.core.quantities import METRES_PER_FOOT
from voltaje.core.report import fits
from voltaje.core.rules.common.runs import STEPS_UP, volts_for
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import Feed
from voltaje.core.rules.north_america import alternatives
from voltaje.core.rules.north_america.alternatives import Candidate, Pin
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.drop import Drop, Holds
from voltaje.core.rules.north_america.wired.feeds import counted, full_wires
from voltaje.core.rules.north_america.wiring import circular_mils
from voltaje.core.rules.settings import DropMethod
from voltaje.core.sizing import smallest

if TYPE_CHECKING:
    from voltaje.core.rules.north_america.wired.sizing import Sizing

METHODS = {
    "job": "as the job has it",
    "impedance": "by impedance at 75 °C",
    "resistance": "by resistance alone, direct current at 75 °C",
    "temperature": "for the conductor’s own temperature at its load",
}
SIZING = {
    "job": "as the job has it",
    "told": "no, only told",
    "part": "within this part’s limit",
    "total": "within what the total leaves here",
}
# common practice: boosters raise the volts by up to this share; sets that take so much more metal
# than one larger conductor are no way out
BOOSTED, METAL_MORE = 0.2, 1.5


@dataclass(frozen=True, slots=True)
class Allowed:
    """How far a run may drop: the ``limit`` in percent with its rule, whether the conductors are
    ``sized`` for it, and the percent ``lost`` ahead where that is what the total leaves."""

    limit: Cell
    sized: bool
    lost: float | None = None


def allowed(feed: Feed, entries: Any, context: Context) -> Allowed:
    """The limit that a run is held against, and whether it is sized for it.

    Of the total a feeder leaves its circuits what a branch may lose; below nothing is left no
    limit can be held, and the run is only told. Where the drop binds, what is chosen
    automatically holds its own limit and what the total leaves.
    """
    chosen = entries.drop_sizing
    sizing = context.limits.sizing if chosen == "job" else chosen
    own = context.limits.of(feed.drop_topic, context.edition)
    binds = chosen == "job" and context.limits.binds(context.edition)
    sizing = "total" if binds else sizing
    if sizing != "total":
        return Allowed(own, sizing == "part")
    total = context.limits.total(context.edition)
    reserve = context.limits.branch(context.edition).value if feed.passes_on else 0.0
    lost = context.supply.upstream_drop
    left = total.value - lost - reserve
    if left <= 0:
        return Allowed(own, binds, lost)
    return Allowed(own if binds and own.value < left else Cell(left, total.rule), True, lost)


def with_drop(need: SizingRequest, feed: Feed, entries: Any, context: Context) -> SizingRequest:
    """The need with the drop that its conductors must hold; as it is where nothing is sized for
    it: no length, a size by hand, or only told."""
    if not entries.length or entries.size != "auto":
        return need
    limit = allowed(feed, entries, context)
    if not limit.sized:
        return need
    return replace(need, drop=holds(need, feed, entries, limit.limit.value, context))


def holds(need: SizingRequest, feed: Feed, entries: Any, percent: float, context: Context) -> Holds:
    """What a run must hold: its amperes, volts, length and limit, and how that is calculated."""
    installation = entries.installation(counted(feed))
    by = entries.drop_method
    return Holds(
        feed.drop_amperes or need.load,
        feed.volts,
        entries.length,
        entries.wiring_method,
        feed.connection == "three-phase",
        feed.power_factor,
        percent,
        context.limits.method if by == "job" else by,
        installation.ambient_c,
        float(installation.own_column(context.edition)),
    )


def lost_by(
    pair: Candidate, need: SizingRequest, feed: Feed, entries: Any, context: Context
) -> Drop:
    """The drop of one pair on this run, by the method that it is calculated by."""
    return holds(need, feed, entries, 0.0, context).lost(pair.option, pair.sets, context.edition)


def by_each(
    pair: Candidate, need: SizingRequest, feed: Feed, entries: Any, context: Context
) -> tuple[DropMethod, dict[DropMethod, Drop]]:
    """The method that the drop is calculated by, and the drop by each of them."""
    held, edition = holds(need, feed, entries, 0.0, context), context.edition
    every: tuple[DropMethod, ...] = get_args(DropMethod)
    return held.by, {by: held.lost(pair.option, pair.sets, edition, by) for by in every}


@dataclass(frozen=True, slots=True)
class DropRemedies:
    """What else would bring a run within its limit, with the conductor of its ampacity: its
    longest length in m, higher volts and the percent there, two sets, a booster's volts and kVA.
    ``None`` where that is no way out."""

    metres: float
    volts: float | None = None
    percent_there: float = 0.0
    sets: Candidate | None = None
    boost: float | None = None
    boost_kva: float = 0.0


def that_holds(sizing: Sizing, entries: Any, context: Context, most: float) -> Candidate | None:
    """The pair that would be taken behind this device if the run were sized for its drop."""
    if most <= 0:
        return None
    need, feed = sizing.need, sizing.feed
    sized = replace(
        need, drop=holds(need, feed, entries, most, context), devices=(sizing.pair.device,)
    )
    installation = entries.installation(counted(feed))
    try:
        return alternatives.chosen_pair(
            sized,
            installation,
            context.edition,
            entries.material,
            full_wires(feed),
            context.shop,
            Pin(device=entries.device, sets=feed.sets),
        ).pair
    except NotCoveredError:
        return None


def mends(
    sizing: Sizing, larger: Candidate | None, most: float, entries: Any, context: Context
) -> DropRemedies | None:
    """What else would mend a drop beyond ``most`` percent; ``None`` where it is within it."""
    pair, need, feed = sizing.plain.pair, sizing.need, sizing.feed
    if most <= 0:
        return None
    lost = lost_by(pair, need, feed, entries, context)
    if fits(lost.percent, most):
        return None
    # whole feet or metres, rounded down: what is shown must hold
    step = METRES_PER_FOOT if context.units == "us" else 1.0
    metres = floor(round(entries.length * most / lost.percent / step, 9)) * step
    needed = volts_for(feed.volts, lost.percent, most)
    volts = next((v for v in STEPS_UP if fits(needed, v)), None)
    there = lost.percent * (feed.volts / volts) ** 2 if volts else 0.0
    sets = _two_sets(sizing, larger, most, entries, context)
    boost, kva = None, 0.0
    if fits(lost.volts_lost, feed.volts * BOOSTED):
        root = sqrt(3) if feed.connection == "three-phase" else 1.0
        boost = lost.volts_lost
        kva = boost * (feed.drop_amperes or need.load) * root / 1000
    return DropRemedies(metres, volts, there, sets, boost, kva)


def _two_sets(
    sizing: Sizing, larger: Candidate | None, most: float, entries: Any, context: Context
) -> Candidate | None:
    """Two sets in parallel, where they take little more metal than one larger conductor."""
    pair, need, feed = sizing.plain.pair, sizing.need, sizing.feed
    edition = context.edition
    installation = entries.installation(counted(feed))
    mils = circular_mils(edition)
    thick = larger is None or larger.option.mils >= mils[edition.limit_size("parallel")]
    if installation.is_cable or pair.sets != 1 or not thick:
        return None
    sized = replace(need, drop=holds(need, feed, entries, most, context))
    pairs = alternatives.Pairs(sized, installation, full_wires(feed), edition, context.shop)
    two = smallest(pairs, pair.device, pair.option.material, 2)
    if two is None or (larger is not None and two.mass >= larger.mass * METAL_MORE):
        return None
    return two
