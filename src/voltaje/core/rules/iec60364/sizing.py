"""A final circuit in numbers: Ib ≤ In ≤ Iz, drop by mV/A/m, earth-fault loop."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from copy import copy
from dataclasses import dataclass, field, replace
from functools import lru_cache
from itertools import islice
from math import hypot, inf, sqrt
from typing import Literal

from voltaje.core.capabilities import LimitsDrop, can
from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.entries import WrongEntryError
from voltaje.core.report import Alternative, Rule, figure, fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364 import protective_conductors as earth
from voltaje.core.rules.iec60364.checks import (
    LEAST_WRONG,
    CableCandidate,
    CableRequest,
    Dropped,
    named,
)
from voltaje.core.rules.iec60364.disconnection import Disconnection, opening, ratings, seconds_of
from voltaje.core.rules.iec60364.entries import BREAKERS, SIZES, CableEntries, RingEntries
from voltaje.core.rules.iec60364.rating_factors import RatedCable, rated_cable
from voltaje.core.rules.iec60364.short_circuit import ShortCircuit, short_of
from voltaje.core.rules.interface import CircuitLoadRequest, CircuitRequest, Feed
from voltaje.core.sizing import Candidates, Verdict, by_habit, first_passing, rejected, smallest

SHOWN_DEVICES = 3  # no code figure: how many alternatives are shown
KG_PER_MM2 = {"copper": 8.89e-3, "aluminum": 2.70e-3}  # physics: kg for each metre and mm²


@dataclass(frozen=True, slots=True)
class RunLengths:
    """A run's way in metres: ``one`` to its far point; of a ring the ``other`` way round (0: it is
    no ring) and the ``spur`` at its far point."""

    one: float
    other: float = 0.0
    spur: float = 0.0

    @property
    def beside(self) -> float:
        """What of the length counts: both legs of a ring stand beside each other."""
        return self.one * self.other / (self.one + self.other) if self.other else self.one

    @property
    def heavier(self) -> float:
        """What of the load the shorter leg of a ring carries."""
        return max(self.one, self.other) / (self.one + self.other) if self.other else 1.0

    @property
    def all(self) -> float:
        return self.one + self.other + self.spur


@dataclass(frozen=True, slots=True)
class CableSizing:
    """The pair that is taken, how the cable lies, what it was sized for. ``limit`` the drop from
    the origin on and ``allowed`` what is left of it here, percent; ``way`` its length (``None``:
    not told), ``earth_volts`` U0, ``external`` Ze in Ω (``None``: not known), ``earthing`` TN or
    TT. The ``others`` beside it are judged when somebody looks."""

    pair: CableCandidate
    rated: RatedCable
    need: CableRequest
    feed: Feed
    limit: Cell
    allowed: float
    way: RunLengths | None
    earth_volts: float
    external: float | None
    earthing: Literal["TN", "TT"]
    sizer: Sizer = field(repr=False, compare=False)
    devices: tuple[float, ...]

    @property
    def others(self) -> tuple[CableCandidate, ...]:
        """The pairs behind the next devices, and what one would try and may not."""
        devices = (device for device in self.devices if device != self.pair.device)
        found = [pair for device in devices if (pair := _beside(self.sizer, device))]
        return (*found, *rejected(self.sizer, (self.pair,), self.pair.metal))

    @property
    def free(self) -> CableCandidate | None:
        """What would be taken without anything by hand."""
        usual = devices_for(self.need, self.sizer.entries, self.sizer.edition)
        sizer = self.sizer.of_any_size()
        return next((pair for device in usual if (pair := _beside(sizer, device))), None)

    @property
    def metres(self) -> float | None:
        return self.way.one if self.way else None

    @property
    def device(self) -> float:
        return self.pair.device

    @property
    def chosen(self) -> Alternative:
        return alternative_of(self.pair, chosen=True)

    @property
    def lost_percent(self) -> float | None:
        return self.pair.lost

    @property
    def total_limit(self) -> Cell | None:
        return self.limit


def _beside(sizer: Sizer, device: float) -> CableCandidate | None:
    """The smallest cable behind another device: one that the edition does not answer is none."""
    try:
        return smallest(sizer, device, sizer.metal)
    except NotCoveredError:
        return None


def ask(wants: CircuitLoadRequest, edition: Edition) -> CircuitRequest:
    """The design current is the load's: no quarter more of what is continuous."""
    if wants.largest_device is not None:
        raise NotCoveredError(edition.title, say("a nameplate’s minimum circuit ampacity"))
    topic = "drop_lighting" if wants.use in ("lighting", "sign") else "drop_other"
    design = cooker(wants.amperes, wants.diversity, edition) if wants.diversity else wants.amperes
    return CircuitRequest(design, CableRequest(design, topic, wants.use, least=wants.least_device))


def cooker(amperes: float, diversity: str, edition: Edition) -> float:
    """A of a dwelling's cooker by usual guidance: the first 10 A, 30 % of the rest, and 5 A for a
    socket on its unit."""
    first = min(amperes, edition.value("cooker_first"))
    share = edition.value("cooker_share") / 100 * (amperes - first)
    socket = edition.value("cooker_socket") if diversity.endswith("socket") else 0.0
    return first + share + socket


def is_ring(entries: CableEntries) -> bool:
    """Whether it is a ring final circuit."""
    return isinstance(entries, RingEntries) and entries.layout == "ring"


def devices_for(need: CableRequest, entries: CableEntries, edition: Edition) -> tuple[float, ...]:
    """The smallest ratings of a kind that carry it; of a ring the one that rings have. Raises
    :class:`WrongEntryError`."""
    made = ratings(edition, entries.device_type)
    if is_ring(entries):
        # 30 A where 32 A is not made
        made = tuple(r for r in made if fits(r, edition.value("ring_device")))[-1:]
    if entries.device_type == "MCCB" and entries.thermal_setting is not None:
        # its rating is one that can be set so
        least = edition.value("moulded_least")
        low, high = least * made[0], made[-1]
        made = tuple(
            r
            for r in made
            if fits(entries.thermal_setting, r) and fits(least * r, entries.thermal_setting)
        )
        if not made:
            words = say(
                "Such breakers are set from {low} to {high} A: give one between.",
                low=figure(low, 1),
                high=figure(high),
            )
            raise WrongEntryError("thermal_setting", words)
        if not fits(need.design, entries.thermal_setting):
            words = say(
                "Set to {setting} A it opens on the {design} A of its load: set it to that at"
                " least.",
                setting=figure(entries.thermal_setting, 1),
                design=figure(need.design, 1),
            )
            raise WrongEntryError("thermal_setting", words)
    found = tuple(islice((r for r in made if fits(need.least_device, r)), SHOWN_DEVICES))
    if found:
        return found
    words = say(
        "{design} A is more than the {most} A that such a device is made for: split the load.",
        design=figure(need.least_device, 1),
        most=made[-1],
    )
    raise WrongEntryError("load", words)


def size(need: CableRequest, feed: Feed, entries: CableEntries, context: Context) -> CableSizing:
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
    _settable(entries, edition)
    usual = devices_for(need, entries, edition)
    devices = usual if entries.device is None else (entries.device,)
    # a protective conductor by hand is judged; the line is not enlarged for its sake
    free = sizer
    if entries.protective_conductor != "auto":
        free = Sizer(
            need, feed, entries.model_copy(update={"protective_conductor": "auto"}), context
        )
    by_hand = entries.device is not None or entries.area != "auto"
    shop = context.shop.plain if by_hand else context.shop

    def behind(of: Candidates[Size, CableCandidate], ones: Sequence[float]) -> list[CableCandidate]:
        return first_passing(of, ones, entries.material)

    passes = by_habit(free, devices, shop.stock, shop.reserve, behind)
    found = passes[0] if passes else None
    chosen = found
    if found is None and not by_hand:
        chosen = _but_for_the_drop(free, devices)
    if found is None and by_hand:
        area = entries.area if entries.area != "auto" else _least_wrong(free, devices[0])
        chosen = sizer.pair(devices[0], Size(area)) if area else None
    if chosen is None:
        raise NotCoveredError(
            edition.title,
            say("a cable for {design} A run like this", design=figure(need.design, 1)),
        )
    if free is not sizer:
        chosen = sizer.pair(chosen.device, chosen.size)
    return CableSizing(
        chosen,
        sizer.rated,
        need,
        feed,
        sizer.limit,
        sizer.allowed,
        sizer.way,
        sizer.earth_volts,
        sizer.external,
        sizer.earthing,
        sizer,
        devices,
    )


def _least_wrong(sizer: Sizer, device: float) -> str:
    """The cable for a device by hand that none holds behind: the smallest of those that are the
    least wrong; none where none carries it."""
    tried = [(sizer.judge(device, size).check, size) for size in sizer.sizes]
    ranked = [(LEAST_WRONG.index(check), size) for check, size in tried if check in LEAST_WRONG]
    return min(ranked, key=lambda one: one[0], default=(0, ""))[1]


def _settable(entries: CableEntries, edition: Edition) -> None:
    """Whether a breaker by hand can be set so. Raises :class:`WrongEntryError`."""
    if entries.device_type != "MCCB" or entries.thermal_setting is None or entries.device is None:
        return
    low = edition.value("moulded_least") * entries.device
    if not (fits(low, entries.thermal_setting) and fits(entries.thermal_setting, entries.device)):
        words = say(
            "A breaker of {device} A is set from {low} to {device} A: give one between.",
            device=figure(entries.device),
            low=figure(low),
        )
        raise WrongEntryError("thermal_setting", words)


def _but_for_the_drop(sizer: Sizer, devices: Sequence[float]) -> CableCandidate | None:
    """The smallest pair that holds all but the drop, its drop's fault told: the way ahead has used
    up what it may have."""
    found = first_passing(sizer.without_drop(), devices, sizer.metal)
    return sizer.pair(found[0].device, found[0].size) if found else None


@lru_cache(maxsize=256)
def _sizes(edition: Edition, table: str, column: str, ring: bool) -> tuple[Size, ...]:
    """The sizes that a column of ampacities gives, of a ring not below its own."""
    made = edition.cells(table, column)
    least = edition.value("ring_size") if ring else 0.0
    return tuple(Size(size) for size in SIZES if size in made and fits(least, float(size)))


class Sizer:
    """The candidates of one circuit, for the search. Cables are pulled as one set."""

    most_sets = 1

    def __init__(
        self, need: CableRequest, feed: Feed, entries: CableEntries, context: Context
    ) -> None:
        self.need, self.feed, self.entries = need, feed, entries
        self.edition, self.shop = context.edition, context.shop
        self.supply = context.supply
        own_way = entries.drop_method
        if own_way == "job":
            own_way = "finer" if context.limits.method == "temperature" else "table"
        self.finer = own_way == "finer"
        self.rated = rated_cable(entries, feed, context.edition)
        self.metal = entries.material
        self.ring = is_ring(entries)
        self._opens: dict[float, Disconnection] = {}
        self._judged: dict[tuple[float, str], CableCandidate] = {}
        self.column = context.edition.cells(self.rated.table, self.rated.column)
        self.any_size = entries.area == "auto"
        self.sizes = _sizes(self.edition, self.rated.table, self.rated.column, self.ring)
        if entries.area != "auto" and entries.area not in self.sizes:
            made = f"{self.sizes[0]} … {self.sizes[-1]}"
            words = say("This cable is tabulated from {made} mm²: choose one.", made=made)
            raise WrongEntryError("area", words)
        self.external = entries.external_loop
        if self.external is None and context.supply.loop_impedance:
            self.external = context.supply.loop_impedance
        told = entries.earthing if entries.earthing != "supply" else context.supply.earthing
        if told == "IT":
            raise NotCoveredError(self.edition.title, say("a supply whose neutral is not earthed"))
        self.earthing: Literal["TN", "TT"] = "TT" if told == "TT" else "TN"
        # the volts that drive a fault: a line's to earth, whatever the load is connected to
        self.earth_volts = context.supply.system.to_neutral
        if not self.earth_volts:
            raise NotCoveredError(self.edition.title, say("a supply whose neutral is not earthed"))
        self.way = way_of(entries)
        scheme_limit = context.limits.branch(context.edition)
        topic = "drop_lighting" if need.drop_topic == "drop_lighting" else "drop_branch"
        if context.supply.private and context.edition.has_limit(f"{topic}_private"):
            topic += "_private"
        own = context.edition.limit(topic)
        self.limit = own if context.limits.scheme == "code" else scheme_limit
        # what the way here has left of it; a distribution circuit leaves the rest to what follows
        self.allowed = self.limit.value - context.supply.upstream_drop
        if can(entries, LimitsDrop):
            self.allowed = min(self.allowed, entries.maximum_drop)

    def of_any_size(self) -> Sizer:
        """The same, free of the size by hand."""
        found = copy(self)
        found.any_size = True
        return found

    def without_drop(self) -> Sizer:
        """The same, with no limit to the drop."""
        found = copy(self)
        found.allowed, found._judged = inf, {}
        return found

    def made(self, metal: Metal, sets: int) -> tuple[Size, ...]:
        """The sizes that the table of this cable gives."""
        return self.sizes

    def large(self, device: float, metal: Metal, sets: int) -> Iterator[Size]:
        """Those that carry what is asked of them: the others need not be judged further."""
        sizes = self.sizes if self.any_size else (Size(self.entries.area),)
        asked, factor = self.asked_of(device), self.rated.factor
        return (one for one in sizes if fits(asked, self.column[one].value * factor))

    def judge(self, device: float, conductor: Size, sets: int = 1) -> Verdict:
        """The verdict of all checks on one pair."""
        return self.pair(device, conductor).verdict

    def spares(self, device: float, conductor: Size, sets: int, reserve: float) -> bool:
        """Whether the design current is not within a share of device and cable."""
        left, design = 1 - reserve, self.need.design
        carries = self.pair(device, conductor).ampacity
        return fits(design, device * left) and fits(design, carries * left)

    def device_below(self, device: float) -> float:
        """The next smaller rating; 0 where there is none."""
        made = ratings(self.edition, self.entries.device_type)
        return max((r for r in made if r < device), default=0.0)

    def pair(self, device: float, conductor: Size, sets: int = 1) -> CableCandidate:
        """One device with one cable, judged."""
        key = (device, conductor)
        if key not in self._judged:
            self._judged[key] = self._pair(device, conductor)
        return self._judged[key]

    def _pair(self, device: float, line: Size) -> CableCandidate:
        edition, entries = self.edition, self.entries
        protective, protective_rule = self.protective(line)
        tabulated = self.column[line]
        carries = tabulated.value * self.rated.factor
        dropped = self.drop(line, tabulated.value)
        lost = loop = None
        run = 0j
        if self.way is not None:
            lost = 100 * dropped.volts / self.feed.volts
            if self.external is not None:
                metres = self.way.beside + self.way.spur
                run = earth.loop_ohms(
                    line, protective, metres, edition, entries.insulation, self.metal
                )
                # Ze is known by its magnitude: in line with the run's it leaves the least current
                loop = self.external + abs(run)
        opens = self.opens(device)
        # by the table it need not be worked out
        reduced = float(protective) < float(earth.protective_size(line, edition))
        return CableCandidate(
            edition=edition,
            need=self.need,
            device=device,
            setting=self.set_to(device),
            size=line,
            protective=protective,
            protective_rule=protective_rule,
            metal=self.metal,
            tabulated=tabulated,
            ampacity=carries,
            asked=self.asked_of(device),
            dropped=dropped,
            lost=lost,
            allowed=self.allowed,
            loop=loop,
            run=run,
            earthing=self.earthing,
            opening=opens,
            heat=self.heat(device, protective, opens, loop) if reduced else None,
            # a device above what the cable carries guards it against a short alone
            short=None if fits(device, carries) else self.short(device, line, opens),
            mass=self.mass(line, protective),
            price=self.price(line, protective),
        )

    def opens(self, device: float) -> Disconnection:
        """What lets a device open."""
        if device not in self._opens:
            seconds = seconds_of(self.need.use, device, self.edition, self.earthing)
            found = opening(device, self.entries, self.earth_volts, seconds, self.edition)
            self._opens[device] = found
        return self._opens[device]

    def protective(self, line: Size) -> tuple[Size, Rule]:
        """The protective conductor and its rule: by hand, as flat cable is made, or by the
        table."""
        metal = earth.protective_metal(self.metal, self.edition)
        if self.entries.protective_conductor != "auto":
            found = Size(self.entries.protective_conductor)
            column = f"R20{earth.ENDS[metal]}"
            if self.edition.cell_or_none("resistance", found, column) is None:
                words = say("Aluminum conductors are made from 16 mm² up: choose one.")
                raise WrongEntryError("protective_conductor", words)
            return found, earth.protective_rule(line, self.edition)
        if self.entries.cable == "flat":  # as it is made
            made = self.edition.cell("flat_protective", line, "mm²")
            return Size(f"{made.value:g}"), made.rule
        size = earth.protective_size(line, self.edition)
        return size, earth.protective_rule(line, self.edition)

    def drop(self, line: Size, tabulated: float, finer: bool | None = None) -> Dropped:
        """mV/A/m of the table; where it is asked (``None``: as the item has it), for the
        conductor's own temperature and the load's power factor: (230 + its °C) ÷ (230 + the
        insulation's), R cos φ + X sin φ."""
        edition, entries, feed = self.edition, self.entries, self.feed
        hot = " 90" if entries.insulation == "90" else ""
        wires = "three-phase" if feed.connection == "three-phase" else "two-wire"
        mv = edition.cell("volt_drop", line, f"{wires}{hot}{earth.ENDS[self.metal]}")
        taken, degrees = 1.0, 0.0
        if self.finer if finer is None else finer:
            rated, top = self.rated, float(entries.insulation)
            share = self.need.design / tabulated
            degrees = top - (rated.warmth**2 - share**2) * (top - rated.base)
            degrees = min(top, max(rated.around, degrees))
            zero = edition.value("zero_resistance")
            warmth = (zero + degrees) / (zero + top)
            hot_ohms = earth.ohms_per_km(line, edition, self.metal).value
            hot_ohms *= edition.value(f"hot_factor_{entries.insulation}")
            r = min(mv.value, hot_ohms * (sqrt(3) if wires == "three-phase" else 2.0))
            x = sqrt(mv.value**2 - r**2)
            cos = feed.power_factor
            taken = (r * warmth * cos + x * sqrt(1 - cos * cos)) / hypot(r, x)
        if self.way is None:
            return Dropped(mv, taken, 0.0, degrees)
        volts = (feed.drop_amperes or self.need.design) * self.way.beside
        if self.way.spur:
            volts += min(self.need.design, edition.value("spur_load")) * self.way.spur
        return Dropped(mv, taken, mv.value * taken * volts / 1000, degrees)

    def set_to(self, device: float) -> float:
        """A that it lets through for good: its thermal setting, or its rating."""
        return (
            self.entries.thermal_setting or device if self.entries.device_type == "MCCB" else device
        )

    def asked_of(self, device: float) -> float:
        """A that the cable carries at least: what the device lets through, a fuse's by what it lets
        stand longer; of a ring what its heavier leg must."""
        edition = self.edition
        if self.ring:
            share = self.way.heavier if self.way else 0.0
            return max(edition.value("ring_leg"), share * self.need.design)
        if self.need.relay:
            return self.need.relay
        if self.entries.device_type not in (*BREAKERS, "MCCB") and edition.has_limit(
            "fuse_carries"
        ):
            return device / edition.value("fuse_carries")
        if self.rated.ground and edition.has_limit("ground_carries"):
            return self.set_to(device) / edition.value("ground_carries")
        return self.set_to(device)

    def heat(
        self, device: float, protective: Size, opens: Disconnection, loop: float | None
    ) -> ShortCircuit | None:
        """The protective conductor at a fault: at the far end within the time that the device
        takes, at the origin by what it lets through. With an electrode of its own too little
        flows."""
        edition = self.edition
        if self.earthing == "TT":
            return None
        metal = earth.protective_metal(self.metal, edition)
        k = earth.heat_constant(edition, self.entries.insulation, metal, protective)
        kind, volts = self.entries.device_type, self.earth_volts
        end = volts / loop if loop else 0.0
        origin = volts / self.external if self.external else 0.0
        found = short_of(end, origin, k, kind, device, opens.times, edition, loop is not None)
        if loop and opens.how == "rcd" and found.seconds is None:
            # only the residual-current device opens for so little
            seconds = edition.value("rcd_time") / 1000
            least = max(earth.least_by_heat(end, seconds, k), sqrt(found.energy) / k)
            return replace(found, seconds=seconds, least=least)
        return found

    def short(self, device: float, line: Size, opens: Disconnection) -> ShortCircuit:
        """The line at a short: between line and neutral, or between two lines where no neutral goes
        along, at its far end with conductors warm; at the origin by the highest current there."""
        edition, entries, supply = self.edition, self.entries, self.supply
        k = earth.heat_constant(edition, entries.insulation, self.metal, line)
        volts, end = self.earth_volts, 0.0
        source: complex | None = None
        if supply.fault:
            source = supply.fault_current.impedance(volts)
        elif self.external is not None and self.earthing == "TN":
            source = complex(self.external)
        if self.way is not None and source is not None:
            each = earth.conductor_ohms(line, edition, entries.insulation, self.metal)
            each *= (self.way.beside + self.way.spur) / 1000
            least = edition.value("loop_least") * volts
            end = least / abs(source + 2 * each)
            if not self.feed.has_neutral:
                end = least * sqrt(3) / 2 / abs(source + each)
        kind = entries.device_type
        return short_of(end, supply.fault, k, kind, device, opens.times, edition, end > 0)

    @property
    def stretch(self) -> float:
        """Metres of cable for each metre of its length: a ring goes both ways."""
        if self.way is None:
            return 2.0 if self.ring else 1.0
        return self.way.all / self.way.one

    def mass(self, line: Size, protective: Size) -> float:
        """Metal, kg for each metre of its length."""
        count = self.feed.lines + self.feed.has_neutral
        own = KG_PER_MM2[earth.protective_metal(self.metal, self.edition)]
        each = count * float(line) * KG_PER_MM2[self.metal] + float(protective) * own
        return each * self.stretch

    def price(self, line: Size, protective: Size) -> float | None:
        """In the user's own money for each metre; ``None`` where a price is not known."""
        metal = earth.protective_metal(self.metal, self.edition)
        of_line, of_earth = self.shop.price(self.metal, line), self.shop.price(metal, protective)
        if of_line is None or of_earth is None:
            return None
        count = self.feed.lines + self.feed.has_neutral
        return (count * of_line + of_earth) * self.stretch


def way_of(entries: CableEntries) -> RunLengths | None:
    """Its length in metres."""
    if not entries.length:
        return None
    one = entries.length
    if not isinstance(entries, RingEntries) or not is_ring(entries):
        return RunLengths(one)
    return RunLengths(one, entries.other_leg_length or one, entries.spur or 0.0)


def cable_of(pair: CableCandidate) -> str:
    """``"2.5 mm² Cu"``."""
    return named(pair.size, pair.metal)


def alternative_of(pair: CableCandidate, chosen: bool) -> Alternative:
    """A pair as it is told beside others."""
    return Alternative(
        pair.device,
        cable_of(pair),
        pair.size,
        1,
        pair.metal,
        pair.ampacity,
        pair.passes,
        chosen,
        pair.verdict.why,
        (pair.verdict.rule,),
        pair.mass,
        pair.price,
        check=pair.verdict.check,
    )
