"""A final circuit in numbers: Ib ≤ In ≤ Iz, drop by mV/A/m, earth-fault loop."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import inf, prod, sqrt
from typing import Any, Literal

from voltaje.core.codes import Cell, Edition, NotCoveredError, Table
from voltaje.core.codes.vocabulary import Size
from voltaje.core.entries import WrongEntryError
from voltaje.core.rules.code import Asked, Feed, Wants
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec.entries import BREAKERS, INSULATED, SIZES, CableEntries
from voltaje.core.units import METRES_PER_FOOT
from voltaje.core.worksheet import Text, figure, fits, say

SHOWN_DEVICES = 3  # no code figure: how many the ladder shows
KG_PER_MM2 = 8.89e-3  # physics: copper, kg for each metre and mm²
# why a pair is not taken; empty where it is
Fault = Literal["", "device", "carries", "drop", "loop", "heat"]


@dataclass(frozen=True, slots=True)
class Need:
    """What a circuit asks for: its design current, A, the topic of the drop that it may have, and
    its use."""

    design: float
    drop_topic: str
    use: str


@dataclass(frozen=True, slots=True)
class Factor:
    """One factor of how a cable lies: what it is for, its ``value`` and the cells that give it."""

    name: Literal[
        "ambient", "ground", "grouping", "insulation", "soil", "depth", "rewirable", "third"
    ]
    value: float
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class Laid:
    """A cable as it lies: ``table`` of its capacities with their ``column``, and the factors that
    take part, none that excludes another."""

    table: str
    column: str
    factors: tuple[Factor, ...]

    @property
    def factor(self) -> float:
        return prod(one.value for one in self.factors)


@dataclass(frozen=True, slots=True)
class Opening:
    """What lets the device open: the ``most`` that the loop may be, Ω, by ``how``; within
    ``seconds``; the cells that give it. ``own`` is the limit of the overcurrent device alone."""

    how: Literal["breaker", "fuse", "rcd"]
    most: float
    seconds: float
    cells: tuple[Cell, ...]
    own: float


@dataclass(frozen=True, slots=True)
class Pair:
    """A device and a cable: ``tabulated`` A and ``carries`` A as it lies, percent ``lost``, the
    loop in Ω (``None``: not known) and what lets it open; ``heat`` the least mm² of the protective
    conductor by the heat of a fault (``None``: not known); why it is not taken."""

    device: float
    size: Size
    protective: Size
    tabulated: Cell
    carries: float
    mv: Cell
    lost: float | None
    loop: float | None
    opening: Opening
    heat: float | None
    mass: float
    fault: Fault

    @property
    def most_loop(self) -> float:
        return self.opening.most

    @property
    def passes(self) -> bool:
        return not self.fault


@dataclass(frozen=True, slots=True)
class CableSizing:
    """The pair that is taken, the others beside it, how the cable lies, what it was sized for.
    ``free`` is what would be taken without anything by hand; ``limit`` the drop from the origin on
    and ``allowed`` what is left of it here, percent; ``metres`` its length, ``earth_volts`` U0,
    ``external`` Ze in Ω (``None``: not known), ``earthing`` TN or TT."""

    pair: Pair
    others: tuple[Pair, ...]
    free: Pair | None
    laid: Laid
    need: Need
    feed: Feed
    limit: Cell
    allowed: float
    metres: float | None
    earth_volts: float
    external: float | None
    earthing: Literal["TN", "TT"]

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
def ratings(edition: Edition, device: str = "B") -> tuple[float, ...]:
    """The ratings that a kind of device is made in, A, rising."""
    if device in BREAKERS:
        return tuple(edition.table("standard_devices").column("A").values())
    table = edition.table("fuse_loops")
    column = table.at(fuse=device, seconds="5")
    return tuple(float(row) for row, cells in table.rows.items() if cells[column])


def ask(wants: Wants, edition: Edition) -> Asked:
    """The design current is the load's: no quarter more of what is continuous."""
    if wants.largest_device is not None:
        raise NotCoveredError(edition.title, say("a nameplate’s minimum circuit ampacity"))
    topic = "drop_lighting" if wants.use in ("lighting", "sign") else "drop_other"
    return Asked(wants.amperes, Need(wants.amperes, topic, wants.use))


def is_ring(entries: CableEntries) -> bool:
    """Whether it is a ring final circuit."""
    return getattr(entries, "layout", "radial") == "ring"


def devices_for(need: Need, entries: CableEntries, edition: Edition) -> tuple[float, ...]:
    """The smallest ratings of a kind that carry it; of a ring the one that rings have. Raises
    :class:`WrongEntryError`."""
    made = ratings(edition, entries.device_type)
    if is_ring(entries):
        # 30 A where 32 A is not made
        made = tuple(r for r in made if fits(r, edition.value("ring_device")))[-1:]
    found = tuple(r for r in made if fits(need.design, r))[:SHOWN_DEVICES]
    if found:
        return found
    words = say(
        "{design} A is more than the {most} A that such a device is made for: split the load.",
        design=figure(need.design, 1),
        most=made[-1],
    )
    raise WrongEntryError("load", words)


def lay(entries: CableEntries, feed: Feed, edition: Edition) -> Laid:
    """How the cable lies. Raises :class:`WrongEntryError` at what its table does not have."""
    topic = f"ampacity_{entries.cable.replace(' ', '_')}"
    loaded = "3" if feed.connection == "three-phase" else "2"
    insulation, method = entries.insulation, entries.reference_method
    table = edition.table(topic)
    try:
        column = table.at(method=method, insulation=insulation, loaded=loaded)
    except KeyError:
        raise WrongEntryError("reference_method", _no_column(table, loaded)) from None
    found: list[Factor] = []

    def add(name: Any, cell: Cell, *others: Cell) -> None:
        if cell.value != 1:
            found.append(Factor(name, cell.value, (cell, *others)))

    if method == "D":
        at = _up_to("ambient_ground", entries.ground, "ground", insulation, edition)
        add("ground", edition.cell("ambient_ground", at, insulation))
        add(
            "soil",
            edition.cell("soil", _up_to("soil", entries.soil, "soil", "factor", edition), "factor"),
        )
        add(
            "depth",
            edition.cell(
                "depth", _up_to("depth", entries.depth, "depth", "factor", edition), "factor"
            ),
        )
    else:
        at = _up_to("ambient", entries.ambient, "ambient", insulation, edition)
        add("ambient", edition.cell("ambient", at, insulation))
    rows = edition.table("grouping")
    add(
        "grouping",
        edition.cell("grouping", rows.span(entries.grouped + 1), GROUPED.get(method, "B")),
    )
    if entries.insulated and method not in INSULATED:
        spans = list(edition.table("insulation_length").rows)
        row = next(
            (r for r in spans if not r.endswith("+") and entries.insulated <= float(r)), spans[-1]
        )
        add("insulation", edition.cell("insulation_length", row, "factor"))
    if entries.device_type == "BS 3036":
        add("rewirable", edition.limit("rewirable"))
    if feed.connection == "three-phase" and entries.third:
        found += _harmonics(entries.third, edition)
    return Laid(topic, column, tuple(found))


# the arrangement that a method's neighbours lie in
GROUPED = {"C": "C", "D": "D", "E": "E", "F": "E"}


def _no_column(table: Table, loaded: str) -> Text:
    columns = [name.split(" | ") for name in table.columns]
    names = sorted({method for method, _, count in columns if count == loaded})
    if not names:
        return say("This cable is not tabulated for three loaded conductors: choose multicore.")
    return say("This cable is tabulated for method {names}: choose one.", names=", ".join(names))


def _up_to(topic: str, value: float, path: str, column: str, edition: Edition) -> str:
    """The first row that is not below ``value``. Raises :class:`WrongEntryError` beyond all."""
    rows = [row for row, cells in edition.table(topic).rows.items() if cells[column]]
    found = next((row for row in rows if value <= float(row)), None)
    if found is None:
        words = say("The factors end at {most}: give one below.", most=rows[-1])
        if topic in ("ambient", "ambient_ground"):
            words = say("The factors end at {rows} °C: give an ambient below.", rows=rows[-1])
        raise WrongEntryError(path, words)
    return found


def _harmonics(third: float, edition: Edition) -> list[Factor]:
    """What third harmonics leave of a cable with a neutral: 0.86, and above 33 % by the neutral's
    amperes, three times the share."""
    if fits(third, edition.value("third_low")):
        return []
    factor = edition.limit("third_factor")
    neutral = max(1.0, 3 * third / 100) if third > edition.value("third_mid") else 1.0
    value = (1.0 if third > edition.value("third_high") else factor.value) / neutral
    return [Factor("third", value, (factor,))]


def protective_size(size: Size, edition: Edition) -> Size:
    """The protective conductor by the table, mm²: as the line, 16 mm², or the next size from half
    the line up."""
    area = float(size)
    same, sixteen = edition.value("cpc_same_to"), edition.value("cpc_sixteen_to")
    wanted = area if fits(area, same) else same if fits(area, sixteen) else area / 2
    return next(Size(made) for made in SIZES if fits(wanted, float(made)))


def seconds_of(use: str, device: float, edition: Edition) -> float:
    """Within how long a final circuit opens, or one for distribution, s (TN)."""
    if use == "distribution":
        return edition.value("time_distribution")
    most = edition.value("final_fixed" if use in FIXED else "final_sockets")
    return edition.value("time_final" if fits(device, most) else "time_distribution")


# uses that are fixed equipment, not sockets
FIXED = ("lighting", "sign", "water heater", "space heating", "kiln", "air conditioning")


def opening(
    device: float, entries: CableEntries, volts: float, seconds: float, edition: Edition
) -> Opening:
    """What the loop may be: of a breaker U0 × Cmin ÷ (5, 10 or 20 × In), of a fuse as tabulated by
    the volts to earth, with a residual-current device 50 V ÷ IΔn."""
    kind = entries.device_type
    cells: tuple[Cell, ...]
    if kind in BREAKERS:
        times, least = edition.limit(f"loop_times_{kind.lower()}"), edition.limit("loop_least")
        own, cells = loop_limit(device, volts, edition, kind), (least, times)
        how: Literal["breaker", "fuse", "rcd"] = "breaker"
    else:
        table = edition.table("fuse_loops")
        split = [(name, *name.split(" | ")) for name in table.columns]
        columns = {float(time): name for name, fuse, time in split if fuse == kind}
        column = columns.get(max((one for one in columns if fits(one, seconds)), default=0.0), "")
        row = f"{device:g}"
        if row not in table.rows or not table.rows[row].get(column):
            raise NotCoveredError(edition.title, say("the loop of this fuse for that time"))
        cell = edition.cell("fuse_loops", row, column)
        own, cells, how = cell.value * volts / edition.value("loop_volts"), (cell,), "fuse"
    if entries.rcd == "none":
        return Opening(how, own, seconds, cells, own)
    touch = edition.limit("touch_volts")
    return Opening("rcd", touch.value / (float(entries.rcd) / 1000), seconds, (touch,), own)


def loop_limit(device: float, volts: float, edition: Edition, kind: str = "B") -> float:
    """The most that a breaker's loop may be, Ω: U0 × Cmin ÷ (5, 10 or 20 × In), with U0 the nominal
    ``volts`` to earth."""
    times = edition.value(f"loop_times_{kind.lower()}")
    return volts * edition.value("loop_least") / (times * device)


def loop_ohms(
    size: Size, protective: Size, metres: float, edition: Edition, insulation: str = "70"
) -> float:
    """R1 + R2 of a run at the temperature of its insulation, Ω."""
    each = sum(edition.cell("resistance", s, "R20").value for s in (size, protective))
    return each * edition.value(f"hot_factor_{insulation}") * metres / 1000


def size(need: Need, feed: Feed, entries: CableEntries, context: Context) -> CableSizing:
    """The smallest device that carries the design current with the smallest cable that carries it,
    keeps within the drop and lets it open; what is fixed by hand is judged alike."""
    edition = context.edition
    made_for = ratings(edition, entries.device_type)
    if entries.device is not None and not any(abs(entries.device - r) < 1e-9 for r in made_for):
        made = ", ".join(figure(r) for r in made_for)
        raise WrongEntryError(
            "device", say("These devices are made for {made} A: choose one.", made=made)
        )
    sizer = Sizer(need, feed, entries, context)
    usual = devices_for(need, entries, edition)
    devices = usual if entries.device is None else (entries.device,)
    found = [p for p in (sizer.smallest(device) for device in devices) if p]
    free = next((p for p in (sizer.smallest(d, True) for d in usual) if p), None)
    by_hand = entries.device is not None or entries.area != "auto"
    if found:
        chosen = found[0]
    elif not by_hand and (lax := _but_for_the_drop(sizer, devices)):
        chosen = lax
    elif by_hand:
        chosen = sizer.pair(devices[0], entries.area if entries.area != "auto" else sizer.sizes[-1])
    else:
        raise NotCoveredError(
            edition.title,
            say("a cable for {design} A run like this", design=figure(need.design, 1)),
        )
    others = (*found[1:], *sizer.rejected(chosen))
    return CableSizing(
        chosen,
        others,
        free,
        sizer.laid,
        need,
        feed,
        sizer.limit,
        sizer.allowed,
        sizer.metres,
        sizer.earth_volts,
        sizer.external,
        sizer.earthing,
    )


def _but_for_the_drop(sizer: Sizer, devices: Sequence[float]) -> Pair | None:
    """The smallest pair that holds all but the drop, its drop's fault told: the way ahead has used
    up what it may have."""
    allowed, sizer.allowed = sizer.allowed, inf
    found = next((p for p in (sizer.smallest(device) for device in devices) if p), None)
    sizer.allowed = allowed
    return found and sizer.pair(found.device, found.size)


class Sizer:
    """Judges pairs of one circuit."""

    def __init__(self, need: Need, feed: Feed, entries: CableEntries, context: Context) -> None:
        self.need, self.feed, self.entries = need, feed, entries
        self.edition = context.edition
        self.laid = lay(entries, feed, context.edition)
        self.ring = is_ring(entries)
        column = context.edition.table(self.laid.table).column(self.laid.column)
        least = context.edition.value("ring_size") if self.ring else 0.0
        self.sizes = tuple(s for s in SIZES if s in column and fits(least, float(s)))
        if entries.area != "auto" and entries.area not in self.sizes:
            made = f"{self.sizes[0]} … {self.sizes[-1]}"
            words = say("This cable is tabulated from {made} mm²: choose one.", made=made)
            raise WrongEntryError("area", words)
        self.external = entries.external_loop
        if self.external is None and context.supply.loop:
            self.external = context.supply.loop
        told = entries.earthing if entries.earthing != "supply" else context.supply.earthing
        self.earthing: Literal["TN", "TT"] = "TT" if told == "TT" else "TN"
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
        # what the way here has left of it; a distribution circuit leaves the rest to what follows
        self.allowed = self.limit.value - context.supply.lost
        share = getattr(entries, "may_lose", None)
        if share is not None:
            self.allowed = min(self.allowed, share)

    def pair(self, device: float, size_: str) -> Pair:
        """One device with one cable, judged."""
        edition, entries = self.edition, self.entries
        three = self.feed.connection == "three-phase"
        protective = Size(entries.protective)
        if entries.protective == "auto":
            protective = protective_size(Size(size_), edition)
            if entries.cable == "flat":  # as it is made
                made = edition.cell("flat_protective", size_, "mm²").value
                protective = Size(f"{made:g}")
        tabulated = edition.cell(self.laid.table, size_, self.laid.column)
        carries = tabulated.value * self.laid.factor
        hot = " 90" if entries.insulation == "90" else ""
        wires = "three-phase" if three else "two-wire"
        mv = edition.cell("volt_drop", size_, f"{wires}{hot}")
        lost = loop = None
        # both legs of a ring carry to its far point, half each
        legs = 2 if self.ring else 1
        if self.metres is not None:
            volts = mv.value * self.need.design * self.metres / 1000 / legs
            lost = 100 * volts / self.feed.volts
            if self.external is not None:
                run = loop_ohms(Size(size_), protective, self.metres, edition, entries.insulation)
                loop = self.external + run / legs
        seconds = seconds_of(self.need.use, device, edition)
        opens = opening(device, entries, self.earth_volts, seconds, edition)
        by_table = protective_size(Size(size_), edition)
        reduced = float(protective) < float(by_table)  # by the table it need not be worked out
        heat = self.heat(opens, loop) if reduced else None
        cleared = self.earthing == "TN" or opens.how == "rcd"
        fault: Fault = ""
        if not fits(self.need.design, device):
            fault = "device"
        elif not fits(self.asked_of(device), carries):
            fault = "carries"
        elif lost is not None and not fits(lost, self.allowed):
            fault = "drop"
        elif loop is not None and cleared and not fits(loop, opens.most):
            fault = "loop"
        elif heat is not None and not fits(heat, float(protective)):
            fault = "heat"
        count = self.feed.lines + self.feed.has_neutral
        mass = (count * float(size_) + float(protective)) * KG_PER_MM2 * legs
        return Pair(
            device,
            Size(size_),
            protective,
            tabulated,
            carries,
            mv,
            lost,
            loop,
            opens,
            heat,
            mass,
            fault,
        )

    def asked_of(self, device: float) -> float:
        """A that the cable carries at least: the device's rating, or what a leg of a ring must."""
        return self.edition.value("ring_leg") if self.ring else device

    def heat(self, opens: Opening, loop: float | None) -> float | None:
        """The least protective conductor, mm², by the heat of a fault: √(I²t) ÷ k, with the fault
        that the loop lets flow and the time that the device takes."""
        edition = self.edition
        if not loop or self.earthing == "TT" or not fits(loop, opens.own):
            return None
        seconds = opens.seconds
        if self.entries.device_type in BREAKERS:
            seconds = edition.value("instant")
        k = edition.value(f"k_{self.entries.insulation}")
        return self.earth_volts / loop * sqrt(seconds) / k

    def smallest(self, device: float, free: bool = False) -> Pair | None:
        """The smallest cable that passes behind a device; ``free`` of the size by hand."""
        by_hand = self.entries.area
        sizes = self.sizes if free or by_hand == "auto" else (by_hand,)
        pairs = (self.pair(device, one) for one in sizes)
        return next((pair for pair in pairs if pair.passes), None)

    def rejected(self, chosen: Pair) -> Iterator[Pair]:
        """What one would try next and may not: the next smaller cable, the next smaller device."""
        place = self.sizes.index(chosen.size)
        if place:
            below = self.pair(chosen.device, self.sizes[place - 1])
            if not below.passes:
                yield below
        made = [r for r in ratings(self.edition, self.entries.device_type) if r < chosen.device]
        if made:
            smaller = self.pair(made[-1], chosen.size)
            if not smaller.passes:
                yield smaller
