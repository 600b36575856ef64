"""What stands on the labels of a job's boards, transformers and circuits: fed from where, voltage
and colors, available fault current with the date, the tap. What is not known is said, not left out.

Common practice, no source: what a label says; the adopted code and the owner prevail.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from voltaje.core.capabilities import BusRated, can
from voltaje.core.electrical.lines import phasors
from voltaje.core.electrical.systems import SupplyPoint
from voltaje.core.kinds import Evaluated
from voltaje.core.report import Result, Text, figure, say, told

LabelOf = Literal["board", "transformer", "circuit"]
LABELS: Mapping[LabelOf, Text] = {
    "board": say("Boards"),
    "transformer": say("Transformers"),
    "circuit": say("Circuits and equipment"),
}


@dataclass(frozen=True, slots=True)
class LabelledItem:
    """An item as a label needs it: its id, its name, the item above it."""

    id: str
    name: str
    above: str = ""


@dataclass(frozen=True, slots=True)
class ItemLabel:
    """A label: the item, of what it is, its title and what stands below it, line by line."""

    item: str
    of: LabelOf
    title: str
    lines: tuple[Text, ...]


def labels(
    items: Sequence[LabelledItem], found: Mapping[str, Evaluated], date: str
) -> tuple[ItemLabel, ...]:
    """A label for each item that has one, in the order given; ``date`` of the fault currents. Items
    without a result, or with one missing below them, have none."""
    named = {one.id: one.name for one in items}
    places = _places(found)
    return tuple(
        label
        for one in items
        if one.id in found
        for label in _label(one, found[one.id], named, places, date)
    )


def _places(found: Mapping[str, Evaluated]) -> dict[str, str]:
    """Where each item stands in its board, by its id."""
    stands: dict[str, str] = {}
    for one in found.values():
        schedule = one.outcome.schedule if one.outcome is not None else None
        for seat in schedule.seats if schedule is not None else ():
            if seat.span and seat.device.key:
                names = ", ".join(place.name for place in seat.span)
                stands[seat.device.key.partition("#")[0]] = names
    return stands


def _label(
    item: LabelledItem,
    one: Evaluated,
    named: Mapping[str, str],
    places: Mapping[str, str],
    date: str,
) -> Iterator[ItemLabel]:
    if one.report is None or one.outcome is None or one.context is None or one.of is None:
        return
    if one.of.root or one.report.missing:
        return  # what is sized for a part of its load alone is no label's to say
    results = one.report.results
    above = named.get(item.above, "")
    fed = (say("Fed from {name}", name=above),) if above else ()
    if one.outcome.schedule is not None:
        rating = one.entries.rating if can(one.entries, BusRated) else None
        supply = one.context.supply
        lines = (*fed, *_of_board(rating, supply), *_warnings(one, supply), _fault(one, date))
        yield ItemLabel(item.id, "board", item.name, lines)
    elif "kva" in results and one.of.holds_parts:
        supply = one.context.supply
        below = one.of.hand_down(one.entries, supply)
        lines = (
            *fed,
            *_of_transformer(results, supply, below),
            *_warnings(one, below),
            _fault(one, date, True),
        )
        yield ItemLabel(item.id, "transformer", item.name, lines)
    elif "device" in results or "primary_device" in results:
        lines = tuple(_of_circuit(item, results, above, places))
        yield ItemLabel(item.id, "circuit", item.name, lines)


def _of_board(rating: float | None, supply: SupplyPoint) -> Iterator[Text]:
    yield say("{system}", system=told(supply.system.label))
    if rating is not None:
        yield say("Bus {amperes} A", amperes=figure(rating, 0))
    names = (*supply.system.lines, *(("N",) if supply.system.has_neutral else ()))
    colors = ", ".join(f"{name} {told(supply.color(name))}" for name in names)
    yield say("{colors}", colors=colors)


def _warnings(one: Evaluated, supply: SupplyPoint) -> Iterator[Text]:
    """What every code here asks to be warned of at a board: another source behind it (NEC 705.10,
    BS 7671 514.15.1), a line that has other volts to the neutral (NEC 408.3(F)(1))."""
    fed = one.context.below.infeed if one.context is not None else ()
    if fed:
        names = ", ".join(dict.fromkeys(source.name for source in fed if source.name))
        yield say("Warning: second source, {names}", names=names)
    if line := supply.system.high_leg:
        volts = figure(abs(phasors(supply.system)[line]), 0)
        yield say("Warning: {line} is the high leg, {volts} V to neutral", line=line, volts=volts)


def _of_transformer(
    results: Mapping[str, Result], supply: SupplyPoint, below: SupplyPoint
) -> Iterator[Text]:
    yield say("{kva} kVA", kva=figure(float(results["kva"].value), 1))
    if below.system != supply.system:
        ahead, behind = told(supply.system.label), told(below.system.label)
        yield say("{one} to {two}", one=ahead.partition(",")[0], two=behind.partition(",")[0])
    if (tap := results.get("tap")) is not None:
        yield say("Tap {tap} %", tap=str(tap.value))


def _of_circuit(
    item: LabelledItem, results: Mapping[str, Result], above: str, places: Mapping[str, str]
) -> Iterator[Text]:
    if above and (place := places.get(item.id)):
        yield say("{board}, {place}", board=above, place=place)
    elif above:
        yield say("Fed from {name}", name=above)
    device = results.get("device") or results["primary_device"]
    if not isinstance(device.value, str):
        yield say("Device {amperes} A", amperes=figure(device.value, 1))
    if (size := results.get("conductor")) is not None and isinstance(size.value, str):
        yield say("{conductor}", conductor=size.value)


def _fault(one: Evaluated, date: str, secondary: bool = False) -> Text:
    """The fault current at a board, or at the ``secondary`` of a transformer."""
    amperes = one.outcome.fault
    if not amperes:
        return say("Available fault current: not calculated")
    given = {"ka": figure(amperes / 1000, 1), "date": date}
    most = one.context is not None and one.context.supply.bounded
    if secondary and most:
        return say("Available fault current at the secondary at most {ka} kA, {date}", **given)
    if secondary:
        return say("Available fault current at the secondary {ka} kA, {date}", **given)
    if most:
        return say("Available fault current at most {ka} kA, {date}", **given)
    return say("Available fault current {ka} kA, {date}", **given)
