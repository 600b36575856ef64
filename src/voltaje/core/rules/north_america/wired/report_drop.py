"""The drop of a run on the worksheet: what it loses, both conductors side by side, what mends
it."""

from __future__ import annotations

from typing import Any

from voltaje.core.quantities import LENGTH, POUNDS_PER_KG, feet, show
from voltaje.core.report import (
    Change,
    Findings,
    LineKind,
    Section,
    Text,
    Worksheet,
    figure,
    figure_beside,
    fits,
    say,
)
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.alternatives import Alternatives, Candidate
from voltaje.core.rules.north_america.drop import Drop
from voltaje.core.rules.north_america.wired import drop as drops
from voltaje.core.rules.north_america.wired.sizing import Sizing
from voltaje.core.rules.settings import DropMethod


def report_drop(
    sizing: Sizing,
    found: Alternatives,
    plain: Alternatives,
    entries: Any,
    context: Context,
    beside: Worksheet,
    findings: Findings,
) -> Section | None:
    """Puts the drop among what goes along; a section of its own where it governs or is beyond its
    limit. ``plain`` are the alternatives by ampacity."""
    need, feed, lost = sizing.need, sizing.feed, sizing.lost
    assert lost is not None  # noqa: S101 - called where a length is known
    pair, by_ampacity = found.chosen, plain.chosen
    limit = drops.allowed(feed, entries, context)
    most = limit.limit.value
    amperes = (feed.drop_amperes or need.load) / pair.sets
    root = "1.732" if feed.connection == "three-phase" else "2"
    beside.step(
        "drop",
        say("Voltage drop over {length}", length=show(entries.length, LENGTH, context.units)),
        lost.percent,
        "%",
        say(
            "{root} × {amperes} A × {ohms} × {feet} ft ÷ 1,000 = {lost} V of {volts} V",
            root=root,
            amperes=amperes,
            ohms=lost.ohms_shown,
            feet=feet(entries.length),
            lost=lost.volts_lost,
            volts=feed.volts,
        ),
        (*lost.rules, limit.limit.rule),
        entries="length",
        flow="drop",
        note=_warm(lost),
    )
    _others(pair, sizing, entries, context, beside)
    over = not fits(lost.percent, most)
    grown = by_ampacity.option.size != pair.option.size or by_ampacity.sets != pair.sets
    if not over and not grown:
        return None
    larger: Candidate | None = pair
    if over or not grown:
        larger = drops.that_holds(sizing, entries, context, most)
    if over:
        mend = say("No conductor holds it: shorter, at higher volts, or with a booster.")
        change = None
        if larger:
            words = say("Use {conductor}", conductor=larger.conductor)
            change = Change(words, (("drop_sizing", "part"),))
            mend = say(
                "Size it for the drop: {conductor} holds; its equipment ground grows with it.",
                conductor=larger.conductor,
            )
        given = {"percent": figure_beside(lost.percent, most, 1), "limit": figure(most, 2)}
        words = say("The drop is {percent} %, above the {limit} % that is advised.", **given)
        tells = findings.check
        if context.limits.binds(context.edition):
            words = say("The drop is {percent} %, above the {limit} % that it may be.", **given)
            tells = findings.fail
        tells(
            "drop",
            words,
            f"{figure_beside(lost.percent - most, 0.0, 1)} %",
            mend=mend,
            rules=limit.limit.rule,
            entries=("length", "drop_sizing"),
            offer=change if entries.size == "auto" and limit.lost is None else None,
        )
    worksheet = Worksheet("drop")
    _side(worksheet, "by_ampacity", say("By ampacity"), by_ampacity, sizing, entries, context)
    if larger is not None:
        _side(worksheet, "by_drop", say("By the drop"), larger, sizing, entries, context)
    _limit(worksheet, limit, grown, over)
    _mends(worksheet, by_ampacity, larger, most, sizing, entries, context)
    return worksheet.section("drop", say("For the drop"))


LABELS: dict[DropMethod, Text] = {
    "impedance": say("By impedance at 75 °C"),
    "resistance": say("By resistance alone, direct current at 75 °C"),
    "temperature": say("For the conductor’s own temperature"),
}


def _warm(lost: Drop) -> Text | None:
    if lost.degrees is None:
        return None
    return say("the conductor comes to {degrees} °C", degrees=figure(lost.degrees, 0))


def _others(
    pair: Candidate, sizing: Sizing, entries: Any, context: Context, beside: Worksheet
) -> None:
    """The drop by the methods that are not the one in force: practice differs."""
    chosen, every = drops.by_each(pair, sizing.need, sizing.feed, entries, context)
    for method, lost in every.items():
        if method != chosen:
            beside.note(
                f"drop_{method}",
                LABELS[method],
                lost.percent,
                "%",
                lost.ohms_shown,
                lost.rules,
                note=_warm(lost),
                entries="drop_method",
            )


def _limit(worksheet: Worksheet, limit: drops.Allowed, grown: bool, over: bool) -> None:
    words = say("The limit of this part")
    if limit.lost is not None:
        words = say("What the total leaves here, {lost} % lost ahead", lost=figure(limit.lost, 2))
    note = say("the ampacity governs")
    if grown:
        note = say("the drop governs: the conductor grows, and its equipment ground with it")
    elif over:
        note = say("only told: the conductor stays as the ampacity has it")
    worksheet.sum(
        "drop_limit",
        words,
        limit.limit.value,
        "%",
        rules=limit.limit.rule,
        note=note,
        entries="drop_sizing",
    )


def _side(
    worksheet: Worksheet,
    name: str,
    what: Text,
    pair: Candidate,
    sizing: Sizing,
    entries: Any,
    context: Context,
    kind: LineKind = "step",
) -> None:
    """One of the two conductors: amperes, volts there, metal, price, and its percent."""
    feed = sizing.feed
    lost = drops.lost_by(pair, sizing.need, feed, entries, context)
    left = feed.volts - lost.volts_lost
    there = (
        say("{volts} V there", volts=figure(left, 1)) if left > 0 else say("no volts left there")
    )
    given = {
        "amperes": pair.ampacity,
        "there": there,
        "metal": _metal(pair.mass * entries.length, context),
    }
    given["ohms"] = lost.ohms_shown
    shown = say("{amperes} A, {ohms} per 1,000 ft, {there}, {metal} of metal", **given)
    if pair.price is not None:
        price = figure(pair.price * entries.length, 2)
        shown = say(
            "{amperes} A, {ohms} per 1,000 ft, {there}, {metal} of metal, at a price of {price}",
            price=price,
            **given,
        )
    words = say("{what}: {conductor}", what=what, conductor=pair.conductor)
    worksheet.step(name, words, lost.percent, "%", shown, lost.rules, kind=kind)


def _metal(kilograms: float, context: Context) -> str:
    """A mass in the units of the job, as the alternatives have it."""
    if context.units == "us":
        return f"{figure(kilograms * POUNDS_PER_KG, 1)} lb"
    return f"{figure(kilograms, 1)} kg"


def _mends(
    worksheet: Worksheet,
    pair: Candidate,
    larger: Candidate | None,
    most: float,
    sizing: Sizing,
    entries: Any,
    context: Context,
) -> None:
    """What else would mend it, with the conductor that the ampacity asks for: each with its
    figure."""
    found = drops.mends(sizing, larger, most, entries, context)
    if found is None:
        return
    feed = sizing.feed
    lost = drops.lost_by(pair, sizing.need, feed, entries, context)
    worksheet.note(
        "shorter",
        say(
            "Shorter: {conductor} holds it up to {length}",
            conductor=pair.conductor,
            length=show(found.metres, LENGTH, context.units),
        ),
        most,
        "%",
        f"{figure(feet(entries.length))} ft × {figure(most, 1)} ÷ {figure(lost.percent)}",
    )
    if found.volts is not None:
        worksheet.note(
            "higher_volts",
            say("Higher volts: at {volts} V", volts=found.volts),
            found.percent_there,
            "%",
            f"{figure(lost.percent)} × ({figure(feed.volts)} ÷ {figure(found.volts)})²",
            note=say("where the equipment is made for it: it draws less and loses a smaller share"),
        )
    if found.sets is not None:
        words = say("Sets in parallel")
        _side(worksheet, "in_parallel", words, found.sets, sizing, entries, context, "note")
    if found.boost is not None:
        amperes = feed.drop_amperes or sizing.need.load
        worksheet.note(
            "booster",
            say("A booster of {volts} V at the load", volts=figure(found.boost, 1)),
            found.boost_kva,
            "kVA",
            f"{figure(found.boost)} V × {figure(amperes)} A",
            note=say("brings back the {volts} V; the conductors stay", volts=figure(feed.volts)),
        )
