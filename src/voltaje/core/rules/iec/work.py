"""A final circuit in numbers: Ib ≤ In ≤ Iz, drop by mV/A/m, earth-fault loop."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.entries import WrongEntryError
from voltaje.core.rules.code import Asked, Feed, TooMuch, Wants
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec.entries import SIZES, CableEntries
from voltaje.core.units import METRES_PER_FOOT
from voltaje.core.worksheet import figure, fits, say

SHOWN_DEVICES = 3  # no code figure: how many the ladder shows
KG_PER_MM2 = 8.89e-3  # physics: copper, kg for each metre and mm²
# why a pair is not taken; empty where it is
Fault = Literal["", "device", "carries", "drop", "loop"]


@dataclass(frozen=True, slots=True)
class Need:
    """What a circuit asks for: its design current, A, the ratings that carry it, and the topic of
    the drop that it may have."""

    design: float
    devices: tuple[float, ...]
    drop_topic: str


@dataclass(frozen=True, slots=True)
class Laid:
    """A cable as it lies: ``table`` of its capacities with their ``column``, the factor of the
    ambient and that of its neighbours with their cells."""

    table: str
    column: str
    ambient: Cell
    grouping: Cell

    @property
    def factor(self) -> float:
        return self.ambient.value * self.grouping.value


@dataclass(frozen=True, slots=True)
class Pair:
    """A device and a cable: ``tabulated`` A and ``carries`` A as it lies, percent ``lost``, the
    loop in Ω and the most it may be (``None``: not known), why it is not taken."""

    device: float
    size: Size
    protective: Size
    tabulated: Cell
    carries: float
    mv: Cell
    lost: float | None
    loop: float | None
    most_loop: float
    mass: float
    fault: Fault

    @property
    def passes(self) -> bool:
        return not self.fault


@dataclass(frozen=True, slots=True)
class CableSizing:
    """The pair that is taken, the others beside it, how the cable lies, what it was sized for.
    ``free`` is what would be taken without anything by hand; ``limit`` the drop that is allowed,
    percent; ``metres`` its length, ``earth_volts`` U0."""

    pair: Pair
    others: tuple[Pair, ...]
    free: Pair | None
    laid: Laid
    need: Need
    feed: Feed
    limit: Cell
    metres: float | None
    earth_volts: float

    @property
    def device(self) -> float:
        return self.pair.device

    @property
    def lost_percent(self) -> float | None:
        return self.pair.lost

    @property
    def total_limit(self) -> Cell | None:
        return self.limit


@lru_cache(maxsize=64)
def ratings(edition: Edition) -> tuple[float, ...]:
    """The ratings that are made, A, rising."""
    return tuple(edition.table("standard_devices").column("A").values())


def ask(wants: Wants, edition: Edition) -> Asked:
    """The design current is the load's: no quarter more of what is continuous."""
    if wants.largest_device is not None:
        raise NotCoveredError(edition.title, say("a nameplate’s minimum circuit ampacity"))
    made, design = ratings(edition), wants.amperes
    topic = "drop_lighting" if wants.use in ("lighting", "sign") else "drop_other"
    found = tuple(r for r in made if fits(design, r))[:SHOWN_DEVICES]
    if found:
        return Asked(design, Need(design, found, topic))
    over = TooMuch(design, made[-1], "standard_devices")
    raise WrongEntryError(
        "load",
        say(
            "{design} A is more than the {most} A that a miniature breaker is made for: split"
            " the load.",
            design=figure(design, 1),
            most=over.most,
        ),
    )


def lay(entries: CableEntries, feed: Feed, edition: Edition) -> Laid:
    """How the cable lies. Raises :class:`NotCoveredError` above the ambient of the table."""
    topic = f"ampacity_{entries.cable}"
    loaded = "3" if feed.connection == "three-phase" else "2"
    method = entries.reference_method
    column = edition.table(topic).at(method=method, insulation="70", loaded=loaded)
    table = edition.table("ambient")
    row = next((r for r in table.rows if entries.ambient <= float(r)), None)
    if row is None:
        raise WrongEntryError(
            "ambient",
            say("The factors end at {rows} °C: give an ambient below.", rows=list(table.rows)[-1]),
        )
    spans = edition.table("grouping").span(entries.grouped + 1)
    return Laid(
        topic, column, edition.cell("ambient", row, "70"), edition.cell("grouping", spans, method)
    )


def protective_size(size: Size, edition: Edition) -> Size:
    """The protective conductor by the table, mm²: as the line, 16 mm², or the next size from half
    the line up."""
    area = float(size)
    same, sixteen = edition.value("cpc_same_to"), edition.value("cpc_sixteen_to")
    wanted = area if fits(area, same) else same if fits(area, sixteen) else area / 2
    return next(Size(made) for made in SIZES if fits(wanted, float(made)))


def loop_limit(device: float, volts: float, edition: Edition) -> float:
    """The most that the loop of a type B breaker may be, Ω: U0 × Cmin ÷ (5 × In), with U0 the
    nominal ``volts`` to earth."""
    return volts * edition.value("loop_least") / (edition.value("loop_times_b") * device)


def loop_ohms(size: Size, protective: Size, metres: float, edition: Edition) -> float:
    """R1 + R2 of a run at 70 °C, Ω."""
    each = sum(edition.cell("resistance", s, "R20").value for s in (size, protective))
    return each * edition.value("hot_factor") * metres / 1000


def size(need: Need, feed: Feed, entries: CableEntries, context: Context) -> CableSizing:
    """The smallest device that carries the design current with the smallest cable that carries it,
    keeps within the drop and lets it open; what is fixed by hand is judged alike."""
    edition = context.edition
    if entries.device is not None and not any(
        abs(entries.device - r) < 1e-9 for r in ratings(edition)
    ):
        made = ", ".join(figure(r) for r in ratings(edition))
        raise WrongEntryError(
            "device", say("These breakers are made for {made} A: choose one.", made=made)
        )
    sizer = Sizer(need, feed, entries, context)
    devices = need.devices if entries.device is None else (entries.device,)
    found = [p for p in (sizer.smallest(device) for device in devices) if p]
    free = next((p for p in (sizer.smallest(d, True) for d in need.devices) if p), None)
    by_hand = entries.device is not None or entries.area != "auto"
    if found:
        chosen = found[0]
    elif by_hand:
        chosen = sizer.pair(devices[0], entries.area if entries.area != "auto" else SIZES[-1])
    else:
        raise NotCoveredError(
            edition.title,
            say("a cable for {design} A run like this", design=figure(need.design, 1)),
        )
    others = (*found[1:], *sizer.rejected(chosen))
    return CableSizing(
        chosen, others, free, sizer.laid, need, feed, sizer.limit, sizer.metres, sizer.earth_volts
    )


class Sizer:
    """Judges pairs of one circuit."""

    def __init__(self, need: Need, feed: Feed, entries: CableEntries, context: Context) -> None:
        self.need, self.feed, self.entries = need, feed, entries
        self.edition = context.edition
        self.laid = lay(entries, feed, context.edition)
        # the volts that drive a fault: a line's to earth, whatever the load is connected to
        self.earth_volts = context.supply.system.to_neutral
        if not self.earth_volts:
            raise NotCoveredError(self.edition.title, say("a supply whose neutral is not earthed"))
        # a length is kept in feet, as every entry is
        self.metres = None if not entries.length else entries.length * METRES_PER_FOOT
        scheme_limit = context.limits.branch(context.edition)
        own = context.edition.limit(
            "drop_lighting" if need.drop_topic == "drop_lighting" else "drop_branch"
        )
        self.limit = own if context.limits.scheme == "code" else scheme_limit

    def pair(self, device: float, size_: str) -> Pair:
        """One device with one cable, judged."""
        edition, entries = self.edition, self.entries
        three = self.feed.connection == "three-phase"
        protective = Size(entries.protective)
        if entries.protective == "auto":
            protective = protective_size(Size(size_), edition)
        tabulated = edition.cell(self.laid.table, size_, self.laid.column)
        carries = tabulated.value * self.laid.factor
        mv = edition.cell("volt_drop", size_, "three-phase" if three else "two-wire")
        lost = loop = None
        if self.metres is not None:
            volts = mv.value * self.need.design * self.metres / 1000
            lost = 100 * volts / self.feed.volts
            if entries.external_loop is not None:
                run = loop_ohms(Size(size_), protective, self.metres, edition)
                loop = entries.external_loop + run
        most = loop_limit(device, self.earth_volts, edition)
        fault: Fault = ""
        if not fits(self.need.design, device):
            fault = "device"
        elif not fits(device, carries):
            fault = "carries"
        elif lost is not None and not fits(lost, self.limit.value):
            fault = "drop"
        elif loop is not None and not fits(loop, most):
            fault = "loop"
        wires = self.feed.lines + self.feed.has_neutral
        mass = (wires * float(size_) + float(protective)) * KG_PER_MM2
        return Pair(
            device, Size(size_), protective, tabulated, carries, mv, lost, loop, most, mass, fault
        )

    def smallest(self, device: float, free: bool = False) -> Pair | None:
        """The smallest cable that passes behind a device; ``free`` of the size by hand."""
        by_hand = self.entries.area
        sizes = SIZES if free or by_hand == "auto" else (by_hand,)
        pairs = (self.pair(device, one) for one in sizes)
        return next((pair for pair in pairs if pair.passes), None)

    def rejected(self, chosen: Pair) -> Iterator[Pair]:
        """What one would try next and may not: the next smaller cable, the next smaller device."""
        place = SIZES.index(chosen.size)
        if place:
            below = self.pair(chosen.device, SIZES[place - 1])
            if not below.passes:
                yield below
        made = [r for r in ratings(self.edition) if r < chosen.device]
        if made:
            smaller = self.pair(made[-1], chosen.size)
            if not smaller.passes:
                yield smaller
