"""What is to be done on site to get from one state of a job to another, item by item: what is new,
what goes, and which of an item's device, conductors, position, supply, setting and load are
others."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from voltaje.core.electrical.panel_layout import Schedule, Span
from voltaje.core.kinds import Evaluated
from voltaje.core.report import Report, Result, Text, figure, say, told

Aspect = Literal[
    "equipment", "conductors", "raceway", "device", "fed", "setting", "load", "other", "name"
]
# results that say what stands on site, by the end of their names
CONDUCTORS = ("conductor", "jumper", "bonding", "earthing")
SETTINGS: Mapping[str, Text] = {
    "tap": say("tap (%)"),
    "connection": say("connection"),
    "joints": say("joints"),
    "primary_halves": say("primary halves"),
    "secondary_halves": say("secondary halves"),
    "load_ends": say("load ends"),
}
SIDES: Mapping[str, str] = {
    "primary_": "primary",
    "secondary_": "secondary",
    "input_": "input",
    "output_": "output",
}
# the device at the supply end, of an item that has several
SUPPLY_END = ("device", "primary_device", "input_device", "service_device")
# no code figure: a load that changes by less is the same load, share
SAME = 0.005


@dataclass(frozen=True, slots=True)
class SideItem:
    """An item in one of the two states: its name, the id of the item above it (empty: none), its
    document, what it was worked to."""

    name: str
    above: str
    document: Mapping[str, Any]
    one: Evaluated


Side = Mapping[str, SideItem]  # by their ids, those above first


@dataclass(frozen=True, slots=True)
class Built:
    """What an item is on site, in words, as far as its sheet chose it. ``rating`` is that of its
    device, ``amperes`` what its load takes (``None``: unknown, or it only carries others')."""

    equipment: tuple[str, ...] = ()
    conductors: tuple[str, ...] = ()
    raceway: tuple[str, ...] = ()
    device: tuple[str, ...] = ()
    setting: tuple[tuple[str, str], ...] = ()
    rating: float = 0.0
    poles: int = 0
    amperes: float | None = None
    lines: tuple[str, ...] = ()
    equipment_words: tuple[Text, ...] = field(default=(), compare=False)


@dataclass(frozen=True, slots=True)
class ItemChange:
    """An item that is new (``before`` is ``None``), goes (``after`` is), or is changed in some
    ``aspects``."""

    item: str
    before: Built | None
    after: Built | None
    aspects: frozenset[Aspect] = frozenset()


@dataclass(frozen=True, slots=True)
class Changes:
    """All changes by item, those above first; ``unknown`` are changed items without a result: what
    is to be done there is not known."""

    items: Mapping[str, ItemChange]
    unknown: tuple[str, ...]


def changes(before: Side, after: Side) -> Changes:
    """What differs between two states of a job. Reads the worksheets of what differs alone."""
    found: dict[str, ItemChange] = {}
    unknown: list[str] = []
    for item in (*after, *(one for one in before if one not in after)):
        one, other = before.get(item), after.get(item)
        if one is not None and other is not None and _same(one, other):
            continue
        was, now = _built(one), _built(other)
        open_sides = [side for side in (one, other) if side is not None and not _is_known(side)]
        if other is not None and open_sides:
            # what is incomplete by something below it, and the same by itself, is not named
            as_it_was = one is not None and one.above == other.above
            if not as_it_was or was != now or (one and one.document != other.document):
                unknown.append(item)
        else:
            aspects = _aspects(one, other, was, now) if one and other and was and now else None
            if aspects is None or aspects:
                found[item] = ItemChange(item, was, now, aspects or frozenset())
    return Changes(found, tuple(unknown))


def _same(one: SideItem, other: SideItem) -> bool:
    return (
        one.name == other.name
        and one.above == other.above
        and one.document == other.document
        and one.one.outcome == other.one.outcome
    )


def _is_known(item: SideItem) -> bool:
    report = item.one.report
    return item.one.outcome is not None and report is not None and not report.missing


def _built(item: SideItem | None) -> Built | None:
    """What stands on site; nothing where it has no result: what goes can be taken off anyway."""
    if item is None:
        return None
    one, report = item.one, item.one.report
    if one.of is None or one.outcome is None or report is None or one.context is None:
        return Built()
    made = list(one.of.equipment(one.entries, one.outcome, one.context)) if one.of.equipment else []
    devices = list(_devices(report))
    return Built(
        tuple(each.key for each in made),
        tuple(_chosen(report, CONDUCTORS)),
        tuple(_chosen(report, ("raceway",))),
        (*(f"{figure(rating, 1)} A" for rating in devices), *_marks(one)),
        tuple(_settings(report)),
        max(devices, default=0.0),
        sum(1 for wire in one.outcome.wires if wire != "N") or one.outcome.poles,
        None if one.of.holds_parts else one.outcome.amperes,
        one.outcome.wires,
        tuple(each.label for each in made),
    )


def _chosen(report: Report, ends: Sequence[str]) -> Iterator[str]:
    """Sizes that the sheet chose, with what they are for."""
    for name, result in report.results.items():
        if isinstance(result.value, str) and (
            name.endswith(tuple(ends)) or name.startswith("tap_")
        ):
            yield f"{name}: {result.value}" if "_" in name else result.value


def _devices(report: Report) -> Iterator[float]:
    for name, result in report.results.items():
        number = not isinstance(result.value, str)
        if number and name.endswith("device") and not name.startswith("maximum"):
            yield float(result.value)


def _marks(one: Evaluated) -> Iterator[str]:
    """What a device is besides its rating: its type, whether it is residual-current protected."""
    kept = one.entries.model_dump(include={"device_type", "rcd"})
    for value in kept.values():
        if isinstance(value, str) and value not in ("", "none"):
            yield value


def _settings(report: Report) -> Iterator[tuple[str, str]]:
    for name in SETTINGS:
        result = report.results.get(name)
        if result is not None:
            yield name, _words(result)


def _words(result: Result) -> str:
    return result.value if isinstance(result.value, str) else figure(result.value, 1)


def _aspects(one: SideItem, other: SideItem, was: Built, now: Built) -> frozenset[Aspect]:
    """In what an item differs; ``other`` where it does and nothing of it says in what."""
    found: set[Aspect] = set()
    if one.above != other.above:
        found.add("fed")
    if was.equipment != now.equipment:
        found.add("equipment")
    if was.conductors != now.conductors or _length(one) != _length(other):
        found.add("conductors")
    if was.raceway != now.raceway:
        found |= {"raceway", "conductors"}
    if was.device != now.device or was.poles != now.poles:
        found.add("device")
    if was.setting != now.setting:
        found.add("setting")
    if was.amperes is not None and now.amperes is not None:
        more = abs(now.amperes - was.amperes) > SAME * max(was.amperes, now.amperes)
        found |= {"load"} if more else set()
    rows = one.one.of is not None and one.one.of.own_network
    if not found and rows and one.document != other.document:
        found.add("other")  # a sheet of rows, whose results do not say all of them
    if one.name != other.name:
        found.add("name")
    return frozenset(found)


def _length(item: SideItem) -> Any:
    """The length of its run as it is read; another one is another run."""
    return item.one.entries.model_dump(include={"length"}).get("length")


def positions(side: Side, board: str) -> dict[str, Span]:
    """The positions that items were given on a board, by their ids; a proposed one binds nobody."""
    schedule = schedule_of(side, board)
    if schedule is None:
        return {}
    return {
        seat.device.key: seat.span
        for seat in schedule.seats
        if seat.given and seat.span and seat.device.key in side
    }


def schedule_of(side: Side, board: str) -> Schedule | None:
    """What stands in a board's positions; ``None`` where it has none or no result."""
    item = side.get(board)
    return item.one.outcome.schedule if item is not None and item.one.outcome is not None else None


def conductors_in_words(built: Built) -> str:
    """``3/0 AWG Cu, 2 in EMT``: conductors and raceway as a foreman reads them, side by side where
    an item has several sides."""
    found: dict[str, dict[str, None]] = {}
    for text in (*built.conductors, *built.raceway):
        name, _, size = text.rpartition(": ")
        side = next((side for side in SIDES if name.startswith(side)), "")
        found.setdefault(side, {})[size] = None
    words = {side: ", ".join(sizes) for side, sizes in found.items()}
    return "; ".join(
        f"{told(SIDES[side])}: {text}" if side else text for side, text in words.items()
    )


def device_in_words(built: Built) -> str:
    """``20 A, 2 poles``."""
    ratings = [text for text in built.device if text.endswith(" A")]
    if not ratings:
        return ""
    words = " / ".join(ratings)
    if built.poles > 1 and len(ratings) == 1:
        many = told("{number} poles").format(number=built.poles)
        return f"{words}, {many}"
    return words


def rating_of(item: SideItem) -> float:
    """The rating of an item's own device at its supply end, A; 0 where it has none or no result."""
    report = item.one.report
    for name in SUPPLY_END if report is not None else ():
        result = report.results.get(name) if report is not None else None
        if result is not None and not isinstance(result.value, str):
            return float(result.value)
    return 0.0


def feeds_in(item: SideItem) -> bool:
    """Whether it feeds power in by itself, as an inverter does: conductors ahead of it that are
    cut off from the supply may be live."""
    one = item.one
    if one.of is None or one.outcome is None or one.context is None:
        return False
    sources = one.of.hand_up(one.entries, one.outcome, one.context).infeed
    return any(source.part == "" for source in sources)


def place_in_words(span: Span | None) -> str:
    """``7, 9``."""
    return ", ".join(place.name for place in span or ())


def ampere_words(built: Built | None) -> Text:
    """What a load takes."""
    amperes = built.amperes if built else None
    return say("{amperes} A", amperes=figure(amperes, 1)) if amperes is not None else say("–")
