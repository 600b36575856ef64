"""A transformer in numbers: kVA, currents, devices and conductors on both sides, bonds."""

from __future__ import annotations

from cmath import rect
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from math import atan, sqrt

from voltaje.core.codes import Edition, NotCoveredError, practice
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.connection import current_divisor
from voltaje.core.electrical.fault import FaultCurrent
from voltaje.core.electrical.lines import heaviest_va
from voltaje.core.electrical.network.contribution import Bank, NetworkContribution, NetworkSegment
from voltaje.core.electrical.systems import SYSTEMS, Connection, Demand, SupplyPoint, System
from voltaje.core.entries import NothingBelowError, WrongEntryError
from voltaje.core.kinds.feeder.carried import Carried, carry, connection_of
from voltaje.core.kinds.interface import Equipment, Outcome
from voltaje.core.kinds.transformer.entries import RUN_TOPICS, TransformerEntries, check
from voltaje.core.report import figure, fits, say
from voltaje.core.rules.common.fault_contribution import export
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.alternatives import Pin
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.feeder_demand import feeder_load
from voltaje.core.rules.north_america.grounding import Jumper, bonding_size, electrode_size
from voltaje.core.rules.north_america.overcurrent import standard_ratings
from voltaje.core.rules.north_america.transformers import (
    Limit,
    Scheme,
    Side,
    fault_at_secondary,
    lets_pass,
    limit_at,
    protection,
    protection_high,
    rated_current,
    ratings_with_fuses,
    standard_kva,
)
from voltaje.core.rules.north_america.wired import Feed, SideRun, size
from voltaje.core.rules.north_america.wired.far_end import conductors

SHOWN_DEVICES = 8  # no code figure: how many alternatives are shown
USUAL_AIM = 1.25  # common practice: a primary device of about 125 %
SCHEMES: tuple[Scheme, ...] = ("primary only", "primary and secondary")
SIDES: tuple[Side, ...] = ("primary", "secondary")


@dataclass(frozen=True, slots=True)
class TransformerSide:
    """One side: its system, its volts and the amperes of the rated kVA."""

    system: System
    volts: float
    three_phase: bool
    current: float

    @property
    def connection(self) -> Connection:
        return connection_of(self.system)

    @property
    def divisor(self) -> str:
        """What kVA are divided by, as it is written."""
        return current_divisor(self.volts, "three-phase" if self.three_phase else "two-line")


@dataclass(frozen=True, slots=True)
class Run:
    """The rule of the secondary conductors (240.21(C)): at most ``feet`` long (``None``: any
    length), for ``needed`` A against the primary device (0: nothing asked); ``by_primary`` says
    that the primary device may protect them, ``protected`` that it does, so that no device is asked
    at the secondary."""

    topic: str
    feet: float | None
    needed: float
    by_primary: bool
    protected: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class TransformerOutcome(Outcome):
    """The fault current ``behind`` it; the ``load`` below, by its ``heaviest`` winding in VA, and
    what that ``needed`` with spare, kVA; the ``kva`` chosen; both windings,
    the secondary's ``volts`` on its tap; what both schemes allow each side (``None``: no device
    asked) and the ``limits`` of the chosen one; both sides sized, the primary not above 1,000 V,
    and the percent ``lost`` in the conductors of both;
    bonds and electrodes; the ``inrush`` in A and what the device lets pass of it."""

    behind: FaultCurrent
    load: float
    heaviest: float
    needed: float
    kva: float
    one: TransformerSide
    two: TransformerSide
    volts: float
    schemes: tuple[tuple[Scheme, Side, Limit | None], ...]
    limits: Mapping[str, Limit]
    primary: SideRun | None
    primary_device: float
    secondary: SideRun
    lost: float
    below_rated: bool
    run: Run
    jumper: Jumper
    steel: Jumper
    rod: Jumper
    inrush: float
    lets_pass: float

    @property
    def loading(self) -> float:
        """Percent of the kVA that the load takes, its heaviest winding taken for all."""
        return 100 * self.heaviest / (self.kva * 1000)

    @property
    def device_behind(self) -> float | None:
        return self.secondary.sizing.device


def calculate(entries: TransformerEntries, context: Context) -> TransformerOutcome:
    """The transformer: size, protection, both sides, bonds."""
    edition, primary = context.edition, context.supply.system
    second = check(entries, primary)
    three = entries.connection != "single-phase"
    demand = feeder_load(context.below.pieces, edition) if context.below.pieces else None
    carried = carry(context.below.pieces, demand, second) if demand else None
    load = demand.load if demand else 0.0
    by_winding = _heaviest(carried, second) if carried else 0.0
    heaviest = load if fits(by_winding, load) else by_winding
    back = export(context.below, second, edition)
    if back:  # what feeds in passes through it while the loads are off
        across = (second.line_to_line or second.to_neutral) * (sqrt(3) if second.phases == 3 else 1)
        heaviest = max(heaviest, back.amperes * across)
    if not heaviest and entries.kva is None:
        raise NothingBelowError(
            "kva", say("Needed: the size, like 75 kVA, or load below that it can be chosen by.")
        )
    needed = heaviest * (1 + entries.spare / 100) / 1000
    kva = entries.kva / 1000 if entries.kva is not None else standard_kva(needed, three, edition)
    one = _winding(primary, kva, three, entries.primary_voltage)
    two = _winding(second, kva, three)
    guard = _protection if entries.primary_voltage is None else _protection_high
    schemes, limits = guard(entries, one, two, edition)
    # conductors above 1,000 V are another article's: they are not sized here
    first = None if entries.primary_voltage else _primary(entries, one, limits["primary"], context)
    device = entries.device or limits["primary"].standard
    device = first.sizing.pair.device if first else device
    design = carried.design if carried else 0.0
    design = max(design, back.design) if back else design
    run = _run(entries, one, two, device, edition)
    secondary, below_rated = _secondary(entries, two, limits, design, run, context)
    pair = secondary.sizing.pair
    mils, metal = pair.option.mils * pair.sets, pair.option.material
    fault = FaultCurrent()
    if entries.impedance is not None:
        fault = _fault(entries, context.supply, kva, two)
    lost = [side.sizing.lost for side in (first, secondary) if side]
    return TransformerOutcome(
        wires=secondary.sizing.feed.wires(secondary.context(context).supply.system),
        poles=3 if three else min(2, len(primary.lines)),
        fault=fault.amperes,
        behind=fault,
        load=load,
        heaviest=heaviest,
        needed=needed,
        kva=kva,
        one=one,
        two=two,
        volts=_volts(entries, context.supply, two.volts),
        schemes=schemes,
        limits=limits,
        primary=first,
        primary_device=device,
        secondary=secondary,
        lost=sum(drop.percent for drop in lost if drop),
        below_rated=below_rated,
        run=run,
        jumper=bonding_size(mils, metal, edition, pair.device),
        steel=electrode_size(mils, metal, "structural steel", edition),
        rod=electrode_size(mils, metal, "rod", edition),
        inrush=entries.inrush * one.current,
        lets_pass=lets_pass(device, entries.device_withstand, entries.inrush_time),
    )


def _heaviest(carried: Carried, system: System) -> float:
    """VA by the heaviest winding, the largest motor's quarter included."""
    found = carried.calculated
    shares = list(zip(carried.placed, found.shares, strict=True))
    if found.largest_index >= 0:
        piece, va = shares[found.largest_index]
        shares[found.largest_index] = (piece, va + found.largest_motor)
    return heaviest_va(shares, system)


def _winding(system: System, kva: float, three: bool, high: float | None = None) -> TransformerSide:
    volts = high or system.line_to_line or system.to_neutral
    return TransformerSide(system, volts, three, rated_current(kva, volts, three))


def _volts(entries: TransformerEntries, point: SupplyPoint, nominal: float) -> float:
    """Volts of the secondary: the primary's own, by the turns that the tap leaves."""
    return nominal * point.share / (1 + float(entries.tap) / 100)


Guard = tuple[tuple[tuple[Scheme, Side, Limit | None], ...], Mapping[str, Limit]]


def _protection(
    entries: TransformerEntries, one: TransformerSide, two: TransformerSide, edition: Edition
) -> Guard:
    """The table's figures for both schemes, and the limits of the chosen one."""
    found = [
        (scheme, side, protection(winding.current, scheme, side, edition, entries.control))
        for scheme in SCHEMES
        for side, winding in zip(SIDES, (one, two), strict=True)
    ]
    chosen: dict[str, Limit] = {
        side: limit
        for scheme, side, limit in found
        if scheme == entries.protection and limit is not None
    }
    return tuple(found), chosen


def _protection_high(
    entries: TransformerEntries, one: TransformerSide, two: TransformerSide, edition: Edition
) -> Guard:
    """450.3(A), for a primary above 1,000 V; its figures depend on the impedance."""
    if entries.impedance is None:
        raise WrongEntryError(
            "impedance", say("Needed above 1,000 V: the impedance on the nameplate, like 5.75.")
        )
    both = entries.protection == "primary and secondary"
    fuse = entries.primary_device_type == "fuse"
    limit, percent, next_size = protection_high(
        one.current, entries.impedance, entries.supervised, fuse, both, edition
    )
    chosen = {"primary": limit}
    if percent is not None:
        # 450.3(A) asks 250 % only in supervised locations; the conductors still want their own
        chosen["secondary"] = limit_at(two.current, percent, next_size, edition)
    return (), chosen


def _devices(least: float, most: float, edition: Edition) -> tuple[float, ...]:
    found = [r for r in ratings_with_fuses(edition) if fits(least, r) and fits(r, most)]
    if len(found) > SHOWN_DEVICES:
        found = [*found[: SHOWN_DEVICES - 1], found[-1]]
    return tuple(found)


def _primary(
    entries: TransformerEntries, one: TransformerSide, limit: Limit, context: Context
) -> SideRun:
    devices = _devices(one.current, limit.standard, context.edition) or (limit.standard,)
    need = SizingRequest(
        one.current,
        one.current,
        _carries(one.current, one.current, context.edition),
        devices,
        device_topic="transformer_protection",
        conductor_topic="primary_conductors",
        ceiling_topic="transformer_protection",
        ceiling=limit.standard,
        corrected=_rated_share(one.current, context.edition),
    )
    aim = devices[-1]
    if entries.primary_device == "usual":
        # the smallest that is not below about 125 % and lets the inrush pass
        each = lets_pass(1.0, entries.device_withstand, entries.inrush_time)
        wanted = max(USUAL_AIM * one.current, entries.inrush * one.current / each)
        aim = next((d for d in devices if fits(wanted, d)), devices[-1])
    pin = entries.pin()
    by_hand = bool(entries.device or pin)
    return _side(need, one, entries, context, entries.device or aim, pin, by_hand)


def _carries(rated: float, design: float, edition: Edition) -> float:
    """What the conductors carry, A: their load, or where a code asks for it a share of the rated
    current whatever the load."""
    return max(design, _rated_share(rated, edition))


def _rated_share(rated: float, edition: Edition) -> float:
    """The share of the rated current that conductors are asked to carry, A; 0 where none is."""
    more = "transformer_conductors"
    return rated * edition.value(more) / 100 if edition.has_limit(more) else 0.0


def _side(
    need: SizingRequest,
    winding: TransformerSide,
    entries: TransformerEntries,
    context: Context,
    device: float,
    pin: Pin,
    by_hand: bool,
) -> SideRun:
    """One side sized, its device fixed by the user or by the transformer's own reasons. Where
    device and size are not by hand and no conductor holds behind that device, the next smaller that
    is allowed and holds is taken, or any other. Where none is there, a transformer by hand is shown
    as it fails; else :class:`NotCoveredError`."""
    system = winding.system
    count = len(system.lines) if winding.three_phase else (2 if system.line_to_line else 1)
    # the primary's neutral is run only where the connection has an H0
    own = system.has_neutral and need.conductor_topic != "primary_conductors"
    feed = Feed(
        "three-phase" if winding.three_phase else winding.connection,
        winding.volts,
        count,
        own or entries.connection == "wye-wye",
        drop_topic="drop_total",
        passes_on=True,
    )
    fixed = {"device": device, "size": pin.size or "auto", "sets": pin.sets}
    pinned = entries.model_copy(update=fixed)
    point = replace(context.supply, system=system)
    sizing = size(need, feed, pinned, replace(context, supply=point))
    if not by_hand and not sizing.choice.holds:
        nearer = [rating for rating in sorted(need.devices, reverse=True) if rating < device]
        free = sizing.choice.free
        for rating in (*nearer, *((free.device,) if free else ())):
            pinned = entries.model_copy(update={**fixed, "device": rating})
            found = size(need, feed, pinned, replace(context, supply=point))
            if found.choice.holds:
                return SideRun(found, pinned, point)
        if entries.kva is None:
            raise NotCoveredError(
                context.edition.title,
                say("a conductor for {amperes} A run like this", amperes=figure(need.conductor, 1)),
            )
        pinned = entries.model_copy(update=fixed)
    return SideRun(sizing, pinned, point)


def _secondary(
    entries: TransformerEntries,
    two: TransformerSide,
    limits: Mapping[str, Limit],
    asked: float,
    run: Run,
    context: Context,
) -> tuple[SideRun, bool]:
    """The secondary sized, and whether its device by hand is below its current with no load known:
    then it says how much may be taken."""
    edition, by_hand = context.edition, entries.secondary_device
    design = asked or two.current
    below_rated = bool(by_hand and not asked and not fits(design, by_hand))
    if by_hand and below_rated:
        design = by_hand
    limit = limits.get("secondary")
    ratings = standard_ratings(edition)
    # the load with what counts more of it may ask for more than the winding's own current
    wanted = max(two.current, design)
    usual = next((r for r in ratings if fits(wanted, r)), ratings[-1])
    most = limit.standard if limit else usual
    below = [r for r in ratings if r < two.current and fits(design, r)][-1:]
    devices = (*below, *_devices(two.current, most, edition)) or (most,)
    need = SizingRequest(
        design,
        design,
        design if below_rated else _carries(two.current, design, edition),
        devices,
        next_size=False,
        device_topic="transformer_protection",
        conductor_topic=RUN_TOPICS[entries.secondary_run],
        no_next_topic="secondary_no_next",
        ceiling_topic="transformer_protection",
        ceiling=max(most, *devices),
        # 240.21(C): by this rule they carry their part of the primary device, too
        corrected=max(run.needed, 0.0 if below_rated else _rated_share(two.current, edition)),
    )
    aim = usual if fits(usual, most) else devices[-1]
    size_ = None if entries.secondary_size == "auto" else Size(entries.secondary_size)
    pin = Pin(None, size_, entries.secondary_sets)
    told = entries.model_copy(update={"length": entries.secondary_length})
    fixed = bool(by_hand or pin)
    return _side(need, two, told, context, by_hand or aim, pin, fixed), below_rated


def _run(
    entries: TransformerEntries,
    one: TransformerSide,
    two: TransformerSide,
    device: float,
    edition: Edition,
) -> Run:
    """240.21(C): length, and the ratio to the primary device."""
    topic = RUN_TOPICS[entries.secondary_run]
    by_primary = (
        entries.connection in ("delta-delta", "open delta") and not two.system.has_neutral
    ) or (entries.connection == "single-phase" and not two.system.line_to_line)
    through = device * one.volts / two.volts  # what the primary device lets pass for good
    alone = entries.protection == "primary only" and entries.secondary_device is None
    if by_primary and alone and entries.primary_voltage is None:
        return Run(topic, None, through, True, True)
    if not edition.has_limit(f"{topic}_feet"):
        return Run(topic, None, 0.0, by_primary)
    if not edition.has_limit(f"{topic}_part"):
        return Run(topic, edition.value(f"{topic}_feet"), 0.0, by_primary)
    # the conductors carry one so-manieth part of the primary device, as the secondary sees it
    needed = through / edition.value(f"{topic}_part")
    return Run(topic, edition.value(f"{topic}_feet"), needed, by_primary)


def _fault(
    entries: TransformerEntries, point: SupplyPoint, kva: float, two: TransformerSide
) -> FaultCurrent:
    """By its impedance less its tolerance, and the source's own where that is known."""
    volts = point.system.line_to_line or point.system.to_neutral
    source = 0j
    if point.fault:
        va = point.fault * volts * (sqrt(3) if point.system.phases == 3 else 1.0)
        source = rect(kva * 1000 / va, atan(point.xr))
    book = practice()
    return fault_at_secondary(
        kva,
        two.volts,
        two.three_phase,
        entries.impedance or 0.0,
        source,
        book.value("transformer_xr"),
        book.value("transformer_tolerance"),
    )


def hand_up(entries: TransformerEntries, outcome: TransformerOutcome, context: Context) -> Demand:
    """The loads behind it, as they weigh on the lines of the primary. A delta or a single-phase
    winding takes no neutral along; a single-phase one stands on the first lines, as the network of
    the job has it; the lines of a three-phase one are taken as balanced."""
    connection: Connection = "line-neutral"
    if entries.connection != "single-phase":
        connection = "three-phase"
    elif context.supply.system.line_to_line:
        connection = "two-line"
    # one winding stands on one pair of lines with all of its loads, wherever they stand behind it
    line = {"three-phase": "all", "two-line": "L1-L2", "line-neutral": "L1"}[connection]
    turns = outcome.volts / outcome.one.volts
    # amperes behind the transformer are fewer, or more, on its primary: the motor's device too
    return Demand.of(
        replace(
            p,
            connection=connection,
            line=line,
            multiwire="",
            neutral=0.0,
            motor=p.motor * turns,
            device=p.device * turns,
            amperes=p.amperes * turns,
            isolated=entries.connection != "wye-wye",
        )
        for p in context.below.pieces
    )


def hand_down(entries: TransformerEntries, above: SupplyPoint) -> SupplyPoint:
    """The secondary: its system, its volts where the primary's or the tap change them, its fault
    current where kVA and impedance are known."""
    system = SYSTEMS[entries.secondary]
    nominal = system.line_to_line or system.to_neutral
    volts = _volts(entries, above, nominal)
    fault = FaultCurrent()
    if entries.kva is not None and entries.impedance is not None:
        two = _winding(system, entries.kva / 1000, entries.connection != "single-phase")
        fault = _fault(entries, above, entries.kva / 1000, two)
    own = volts if abs(volts - nominal) > 1e-9 else 0.0
    return SupplyPoint(
        system,
        own,
        above.hertz,
        fault.amperes,
        xr=fault.xr,
        motor_times=above.motor_times,
        unknown=above.unknown,
    )


def voltage_drop(
    entries: TransformerEntries, outcome: TransformerOutcome, context: Context
) -> float:
    """Percent of the volts that the conductors of both sides lose. What the transformer loses in
    itself is left to the volts of the job."""
    return outcome.lost


def network_contribution(
    entries: TransformerEntries, outcome: TransformerOutcome, context: Context
) -> NetworkContribution:
    """The bank with the conductors on both its sides."""
    ahead = behind = None
    if outcome.primary is not None:
        ahead = conductors(outcome.primary.sizing, "", entries.length, entries, context)
    sized, length = outcome.secondary.sizing, entries.secondary_length
    behind = conductors(sized, "", length, entries, context) or NetworkSegment(0j, 0j)
    impedance = entries.impedance or 0.0
    bank = Bank(outcome.kva, impedance, entries.connection, outcome.volts, behind)
    return NetworkContribution((ahead,) if ahead else (), bank)


def equipment(
    entries: TransformerEntries, outcome: TransformerOutcome, context: Context
) -> Iterable[Equipment]:
    """The unit: kVA, the system it stands on, its secondary."""
    kva = figure(outcome.kva, 1)
    second = SYSTEMS[entries.secondary].label
    given = {"kva": kva, "primary": context.supply.system.label, "secondary": second}
    words = say("Transformer, {kva} kVA, {primary} to {secondary}", **given)
    yield Equipment(f"transformer|{kva}|{context.supply.system.id}|{entries.secondary}", words)
