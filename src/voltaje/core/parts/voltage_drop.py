"""Voltage drop on a sheet: told, or made the second thing that the conductors are sized for.

The ladder then goes on upward: the smallest conductor by ampacity and the smallest that holds the
limit stand side by side, with what else would mend it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import floor, sqrt
from typing import TYPE_CHECKING, Any

from voltaje.core.codes import Cell, NotCoveredError
from voltaje.core.parts.kind import Context
from voltaje.core.rules import ladder
from voltaje.core.rules.choose import Need
from voltaje.core.rules.drop import Drop, Holds, drop
from voltaje.core.rules.ladder import Ladder, Pair, Pin, Wires
from voltaje.core.rules.runs import STEPS_UP, volts_for
from voltaje.core.rules.wiring import Installation
from voltaje.core.units import LENGTH, METRES_PER_FOOT, POUNDS_PER_KG, show
from voltaje.core.worksheet import Finding, Line, Section, figure, fits, say

if TYPE_CHECKING:
    from voltaje.core.parts.wired import Feed

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
    limit can be held, and the run is only told.
    """
    chosen = entries.drop_sizing
    sizing = context.limits.sizing if chosen == "job" else chosen
    own = context.limits.of(feed.drop_topic, context.edition)
    if sizing != "total":
        return Allowed(own, sizing == "part")
    total = context.limits.total(context.edition)
    reserve = context.limits.branch(context.edition).value if feed.passes_on else 0.0
    lost = context.supply.lost
    left = total.value - lost - reserve
    return (
        Allowed(Cell(left, total.rule), left > 0, lost) if left > 0 else Allowed(own, False, lost)
    )


def with_drop(need: Need, feed: Feed, entries: Any, context: Context) -> Need:
    """The need with the drop that its conductors must hold; as it is where nothing is sized for
    it: no length, a size by hand, or only told."""
    if not entries.length or entries.size != "auto":
        return need
    limit = allowed(feed, entries, context)
    if not limit.sized:
        return need
    return replace(need, drop=holds(need, feed, entries, limit.limit.value))


def holds(need: Need, feed: Feed, entries: Any, percent: float) -> Holds:
    """What a run must hold: its amperes, volts, length and limit."""
    return Holds(
        feed.drop_amperes or need.load,
        feed.volts,
        entries.length,
        entries.method,
        feed.connection == "three-phase",
        feed.power_factor,
        percent,
    )


def lost_by(pair: Pair, need: Need, feed: Feed, entries: Any, context: Context) -> Drop:
    """The drop of one pair on this run."""
    return drop(
        feed.drop_amperes or need.load,
        feed.volts,
        entries.length,
        pair.option.size,
        pair.option.material,
        entries.method,
        context.edition,
        feed.connection == "three-phase",
        feed.power_factor,
        pair.sets,
    )


@dataclass(frozen=True, slots=True)
class VoltageDrop:
    """What a run's drop comes to: its percent, its line among what goes along, a section where the
    drop governs or is beyond the limit, findings."""

    percent: float
    line: Line
    section: Section | None
    findings: tuple[Finding, ...]


def told(
    need: Need,
    feed: Feed,
    entries: Any,
    context: Context,
    found: Ladder,
    plain: Ladder,
    installation: Installation,
    wires: Wires,
) -> VoltageDrop:
    """The drop of the chosen conductors, and what mends it. ``plain`` is the ladder by ampacity."""
    pair, by_ampacity = found.chosen, plain.chosen
    lost = lost_by(pair, need, feed, entries, context)
    limit = allowed(feed, entries, context)
    most = limit.limit.value
    amperes = (feed.drop_amperes or need.load) / pair.sets
    line = Line(
        "drop",
        say("Voltage drop over {length}", length=show(entries.length, LENGTH, context.units)),
        lost.percent,
        "%",
        f"{'1.732' if feed.connection == 'three-phase' else '2'} × {figure(amperes)} A ×"
        f" {figure(lost.ohms, 4)} Ω × {figure(entries.length)} ft ÷ 1,000 ="
        f" {figure(lost.volts_lost)} V of {figure(feed.volts)} V",
        (lost.rule, limit.limit.rule),
        entries=("length",),
        flow="drop",
    )
    over = not fits(lost.percent, most)
    grown = by_ampacity.option.size != pair.option.size or by_ampacity.sets != pair.sets
    if not over and not grown:
        return VoltageDrop(lost.percent, line, None, ())
    larger = (
        pair
        if grown and not over
        else _that_holds(need, feed, entries, context, most, installation, wires, pair)
    )
    findings: tuple[Finding, ...] = ()
    if over:
        mend = (
            say(
                "Size it for the drop: {conductor} holds; its equipment ground grows with it.",
                conductor=larger.conductor,
            )
            if larger
            else say("No conductor holds it: shorter, at higher volts, or with a booster.")
        )
        findings = (
            Finding(
                "look",
                "drop",
                say(
                    "The drop is {percent} %, above the {limit} % that is advised.",
                    percent=figure(lost.percent, 1),
                    limit=figure(most, 1),
                ),
                f"{figure(lost.percent - most, 1)} %",
                mend,
                (limit.limit.rule,),
                ("length", "drop_sizing"),
            ),
        )
    lines = [_side("by_ampacity", "By ampacity", by_ampacity, need, feed, entries, context)]
    if larger is not None:
        lines.append(_side("by_drop", "By the drop", larger, need, feed, entries, context))
    left = limit.lost is not None
    lines.append(
        Line(
            "drop_limit",
            say("What the total leaves here, {lost} % lost ahead", lost=figure(limit.lost or 0, 2))
            if left
            else say("The limit of this part"),
            most,
            "%",
            rules=(limit.limit.rule,),
            note=say("the drop governs: the conductor grows, and its equipment ground with it")
            if grown
            else say("the ampacity governs")
            if not over
            else say("only told: the conductor stays as the ampacity has it"),
            entries=("drop_sizing",),
            kind="sum",
            flow="drop",
        )
    )
    lines += _mends(by_ampacity, larger, most, need, feed, entries, context, installation, wires)
    return VoltageDrop(
        lost.percent, line, Section("drop", say("For the drop"), tuple(lines)), findings
    )


def _that_holds(
    need: Need,
    feed: Feed,
    entries: Any,
    context: Context,
    most: float,
    installation: Installation,
    wires: Wires,
    pair: Pair,
) -> Pair | None:
    """The pair that the ladder would take behind this device if the run were sized for its drop."""
    if most <= 0:
        return None
    try:
        return ladder.chosen(
            replace(need, drop=holds(need, feed, entries, most), devices=(pair.device,)),
            installation,
            context.edition,
            entries.material,
            wires,
            context.shop,
            Pin(device=entries.device),
        )
    except NotCoveredError:
        return None


def _side(
    name: str, words: str, pair: Pair, need: Need, feed: Feed, entries: Any, context: Context
) -> Line:
    """One of the two conductors: amperes, volts there, metal, price, and its percent."""
    lost = lost_by(pair, need, feed, entries, context)
    metres = entries.length * METRES_PER_FOOT
    parts = [
        f"{figure(pair.verdict.ampacity)} A",
        f"{figure(feed.volts - lost.volts_lost, 1)} V there"
        if lost.volts_lost < feed.volts
        else "no volts left there",
        f"{_metal(pair.mass * metres, context)} of metal",
    ]
    if pair.price is not None:
        parts.append(f"at a price of {figure(pair.price * metres, 2)}")
    return Line(
        name,
        say("{what}: {conductor}", what=words, conductor=pair.conductor),
        lost.percent,
        "%",
        ", ".join(parts),
        (lost.rule,),
        flow="drop",
    )


def _metal(kilograms: float, context: Context) -> str:
    """A mass in the units of the job, as the ladder has it."""
    if context.units == "us":
        return f"{figure(kilograms * POUNDS_PER_KG, 1)} lb"
    return f"{figure(kilograms, 1)} kg"


def _mends(
    pair: Pair,
    larger: Pair | None,
    most: float,
    need: Need,
    feed: Feed,
    entries: Any,
    context: Context,
    installation: Installation,
    wires: Wires,
) -> list[Line]:
    """What else would mend it, with the conductor that the ampacity asks for: each with its
    figure."""
    if most <= 0:
        return []
    lost = lost_by(pair, need, feed, entries, context)
    if fits(lost.percent, most):
        return []
    # whole feet or metres, rounded down: what is shown must hold
    step_ = 1.0 if context.units == "us" else 1 / METRES_PER_FOOT
    feet = floor(entries.length * most / lost.percent / step_) * step_
    lines = [
        Line(
            "shorter",
            say(
                "Shorter: {conductor} holds it up to {length}",
                conductor=pair.conductor,
                length=show(feet, LENGTH, context.units),
            ),
            most,
            "%",
            f"{figure(entries.length)} ft × {figure(most, 1)} ÷ {figure(lost.percent)}",
            kind="note",
            flow="drop",
        )
    ]
    needed = volts_for(feed.volts, lost.percent, most)
    step = next((v for v in STEPS_UP if fits(needed, v)), None)
    if step is not None:
        there = lost.percent * (feed.volts / step) ** 2
        lines.append(
            Line(
                "higher_volts",
                say("Higher volts: at {volts} V", volts=step),
                there,
                "%",
                f"{figure(lost.percent)} × ({figure(feed.volts)} ÷ {figure(step)})²",
                note=say(
                    "where the equipment is made for it: it draws less and loses a smaller share"
                ),
                kind="note",
                flow="drop",
            )
        )
    mils = ladder.circular_mils(context.edition)
    thick = larger is None or larger.option.mils >= mils[context.edition.limit_size("parallel")]
    if not installation.is_cable and pair.sets == 1 and thick:
        builder = ladder.Builder(
            replace(need, drop=holds(need, feed, entries, most)),
            installation,
            wires,
            context.edition,
            context.shop,
        )
        two = builder.smallest(pair.device, pair.option.material, 2)
        if two is not None and (larger is None or two.mass < larger.mass * METAL_MORE):
            side = _side("in_parallel", "Sets in parallel", two, need, feed, entries, context)
            lines.append(replace(side, kind="note"))
    lift = lost.volts_lost
    if not fits(lift, feed.volts * BOOSTED):
        return lines
    size = (
        lift
        * (feed.drop_amperes or need.load)
        * (sqrt(3) if feed.connection == "three-phase" else 1.0)
        / 1000
    )
    lines.append(
        Line(
            "booster",
            say("A booster of {volts} V at the load", volts=figure(lift, 1)),
            size,
            "kVA",
            f"{figure(lift)} V × {figure(feed.drop_amperes or need.load)} A",
            note=say("brings back the {volts} V; the conductors stay", volts=figure(feed.volts)),
            kind="note",
            flow="drop",
        )
    )
    return lines
