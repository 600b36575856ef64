"""Sizing, in numbers: device, conductors, neutral, equipment ground, raceway, drop."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.entries import WrongEntryError
from voltaje.core.report import Alternative, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import Feed
from voltaje.core.rules.north_america import alternatives
from voltaje.core.rules.north_america.alternatives import Candidate, Chosen, Pin
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.conductors import MOST_SETS, label
from voltaje.core.rules.north_america.drop import Drop
from voltaje.core.rules.north_america.grounding import EquipmentGround, equipment_ground
from voltaje.core.rules.north_america.overcurrent import largest_rating
from voltaje.core.rules.north_america.raceway import Fill, raceway
from voltaje.core.rules.north_america.wired import drop as drops
from voltaje.core.rules.north_america.wired.feeds import counted, full_wires
from voltaje.core.rules.north_america.wiring import (
    Installation,
    options,
    smallest_option,
    terminal_column,
)


@dataclass(frozen=True, slots=True)
class Sizing:
    """What is chosen: ``choice`` by all that is asked, ``plain`` by ampacity alone, both the same
    where nothing is sized for its drop. ``fill`` is the raceway, ``unfilled`` the edition's words
    where none is large enough; ``lost`` the drop, where a length is known."""

    need: SizingRequest
    feed: Feed
    choice: Chosen
    plain: Chosen
    ground: EquipmentGround
    fill: Fill | None = None
    unfilled: str = ""
    lost: Drop | None = None

    @property
    def pair(self) -> Candidate:
        return self.choice.pair

    @property
    def device(self) -> float:
        return self.pair.device

    @property
    def total_limit(self) -> Cell | None:
        return None

    @property
    def chosen(self) -> Alternative:
        return alternatives.alternative_of(self.pair, chosen=True)

    @property
    def lost_percent(self) -> float | None:
        return self.lost.percent if self.lost else None

    def choice_need(self, entries: Any, context: Context) -> SizingRequest:
        """The need that the choice was made for: with its drop where that could be held."""
        if self.choice is self.plain:
            return self.need
        return drops.with_drop(self.need, self.feed, entries, context)

    @property
    def neutral_size(self) -> str:
        """The neutral's size; empty without one."""
        if not self.feed.has_neutral:
            return ""
        return self.feed.neutral_size or self.pair.option.size


def _choose(
    need: SizingRequest, feed: Feed, entries: Any, context: Context
) -> tuple[Chosen, Chosen]:
    """What is chosen by all that is asked, and by ampacity alone."""
    _check_pin(entries, entries.installation(counted(feed)), context)
    plain = alternatives.chosen_pair(need, *rest_of(feed, entries, context))
    sized = drops.with_drop(need, feed, entries, context)
    if sized is need:
        return plain, plain
    try:
        return alternatives.chosen_pair(sized, *rest_of(feed, entries, context)), plain
    except NotCoveredError:  # no conductor holds it: sized by ampacity, and told
        return plain, plain


def rest_of(feed: Feed, entries: Any, context: Context) -> tuple[Any, ...]:
    """What the search takes besides the need."""
    installation, pin = entries.installation(counted(feed)), entries.pin()
    if feed.sets is not None and pin.sets is None and pin.size is None:
        pin = replace(pin, sets=feed.sets)
    return (installation, context.edition, entries.material, full_wires(feed), context.shop, pin)


def size(need: SizingRequest, feed: Feed, entries: Any, context: Context) -> Sizing:
    """Sizes device, conductors, neutral, ground, raceway and drop. Where no raceway takes what the
    ampacity asks for, and neither sets nor size are fixed by hand, the least sets in parallel that
    do fit are taken (``Feed.sets`` of what comes back). Raises :class:`NotCoveredError` when
    nothing passes, :class:`WrongEntryError` at an entry."""
    found, pin = _size(need, feed, entries, context), entries.pin()
    if not found.unfilled or feed.sets or pin.sets or pin.size:
        return found
    for sets in range(found.pair.sets + 1, MOST_SETS + 1):
        try:
            tried = _size(need, replace(feed, sets=sets), entries, context)
        except NotCoveredError:
            continue
        if tried.choice.holds and not tried.unfilled:
            return tried
    return found


def _size(need: SizingRequest, feed: Feed, entries: Any, context: Context) -> Sizing:
    choice, plain = _choose(need, feed, entries, context)
    pair = choice.pair
    # what the ampacity alone would ask for: the equipment ground grows in proportion to it
    by_ampacity = plain.least if plain.pair.sets == pair.sets else plain.pair
    least = by_ampacity.option.size if by_ampacity else pair.option.size
    device = feed.ground_device or pair.device
    line = pair.option.size
    ground = equipment_ground(device, entries.material, context.edition, line, least)
    fill, unfilled = None, ""
    if entries.is_raceway:
        try:
            fill = _fill(feed, pair, ground, entries, context.edition)
        except NotCoveredError as error:
            unfilled = str(error)
    lost = drops.lost_by(pair, need, feed, entries, context) if entries.length else None
    return Sizing(need, feed, choice, plain, ground, fill, unfilled, lost)


def _fill(
    feed: Feed, pair: Candidate, ground: EquipmentGround, entries: Any, edition: Edition
) -> Fill:
    line = pair.option.size
    together = pair.sets if entries.raceways == "one" else 1
    sizes = [(line, feed.lines * together + entries.others)]
    if feed.has_neutral:
        sizes.append((feed.neutral_size or line, together))
    sizes.append((ground.size, 1))
    compact = entries.compact and entries.material == "aluminum"
    return raceway(sizes, entries.wiring_method, entries.insulation, edition, compact)


def _check_pin(entries: Any, installation: Installation, context: Context) -> None:
    pin: Pin = entries.pin()
    most = largest_rating(context.edition)
    if pin.device is not None and pin.device > most:
        raise WrongEntryError("device", say("Give a device up to {most} A.", most=most))
    if pin.size is None:
        return
    found = options(entries.material, installation, context.edition)
    if not any(option.size == pin.size for option in found):
        made = say("{low} to {high}", low=label(found[0].size), high=label(found[-1].size))
        raise WrongEntryError(
            "size",
            say(
                "{size} {material} is not made as {method} here: choose {made}.",
                size=label(pin.size),
                material=say(entries.material),
                method=say(entries.method_label),
                made=made,
            ),
        )


def smallest_neutral(
    amperes: float,
    least: Size | None,
    counted: int,
    pair: Candidate,
    entries: Any,
    edition: Edition,
) -> Size | None:
    """The smallest neutral for ``amperes`` beside those lines, not below ``least``; ``None`` where
    none carries it."""
    installation = entries.installation(counted).of_sets(pair.sets)
    column = terminal_column(pair.device, entries.terminals == "75", edition)
    found = smallest_option(
        amperes / pair.sets, entries.material, installation, column, edition, least
    )
    return found.size if found else None
