"""A job's tree, worked in two passes: supply points down, demands up.

The supply point of a part needs only its own entries and what stands above, so it is handed
down first; the work of a part that holds others needs the demand from below, so parts are
worked from the leaves up. The available fault current, and the percent of the volts that is
lost on the way, go down once more, through the conductors that were found. Last, the whole job
is solved as one network for the volts at every part.

Each document is read once. What a job was worked from and to is kept in its :class:`Memory`, by
value: with one entry changed only that part and those above it are worked again.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from voltaje.core.capabilities import HasLength, SizedForDrop, can
from voltaje.core.codes import Edition
from voltaje.core.electrical.fault import FaultCurrent
from voltaje.core.electrical.systems import SYSTEMS, Demand, Missing, SupplyPoint, each_once
from voltaje.core.entries import Parsed
from voltaje.core.faults import note
from voltaje.core.job.usual_values import with_usual_values
from voltaje.core.job.voltages import SolvedItems, put_volts
from voltaje.core.kinds import Context, Evaluated, Kind, PartInput, faulty, kind
from voltaje.core.kinds.interface import calculate
from voltaje.core.kinds.placing import device_of
from voltaje.core.quantities import UnitSystem
from voltaje.core.rules.settings import Limits, Shop


@dataclass(slots=True)
class ItemState:
    """A part with its document read, and what it was worked to under its last context; ``ahead``
    are fault current, percent lost and loop where it stands: a guess, so that it is seldom worked
    twice. What it ``handed_up`` by that work is kept as well."""

    part: PartInput
    of: Kind
    parsed: Parsed
    context: Context | None = None
    evaluated: Evaluated | None = None
    ahead: tuple[FaultCurrent, float, float] | None = None
    handed_up: Demand | None = None

    def of_part(self, part: PartInput) -> ItemState:
        """The same as read before, of the part as it is now: another reader may hold this one."""
        up = self.handed_up if part.name == self.part.name else None
        own = (self.context, self.evaluated, self.ahead)
        return ItemState(part, self.of, self.parsed, *own, up)

    def calculate(self, context: Context) -> Evaluated:
        """The part under that context; what it was worked to, where that was the last one."""
        if self.evaluated is None or self.context != context:
            self.evaluated = calculate(self.of, self.parsed, context)
            self.context, self.handed_up = context, None
        return self.evaluated

    @property
    def is_long(self) -> bool:
        """Whether conductors of its own have a length: only then drop and loop are judged."""
        entries = self.parsed.entries
        return self.of.own_network or (can(entries, HasLength) and bool(entries.length))

    def wants_lost(self, limits: Limits, edition: Edition) -> bool:
        """Whether it may be sized within what the total leaves: then it asks what is lost ahead."""
        entries = self.parsed.entries
        own = entries.drop_sizing if can(entries, SizedForDrop) else ""
        if own == "job":
            return limits.sizing == "total" or limits.binds(edition)
        return bool(own == "total")


@dataclass
class Memory:
    """What a job was last worked to: by part, and the solved networks of its supplies. Its content
    is replaced as a whole, so that two readers never see half of it."""

    read_by: tuple[str, str] = ("us", "nec")
    parts: Mapping[str, ItemState] = field(default_factory=dict)
    solved: Mapping[str, SolvedItems] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class StandIn:
    """What a part that cannot be read hands on in its place: the supply point to what is below it,
    and its demand to what is above."""

    below: SupplyPoint
    up: Demand


def calculate_job(
    parts: Sequence[PartInput],
    edition: Edition,
    units: UnitSystem = "us",
    shop: Shop | None = None,
    limits: Limits | None = None,
    memory: Memory | None = None,
    instead: Mapping[str, StandIn] | None = None,
    volts: bool = True,
    only: str = "",
) -> dict[str, Evaluated]:
    """Works every part. A part with problems hands up that its load is missing, or what stands
    ``instead`` of it; the rest is still worked, and what needs the missing result is incomplete.
    Without ``volts`` the job is not solved as one network. With ``only``, an item's id, no more is
    worked, and comes back, than that item's result needs (without the volts, which need all).

    Raises ``KeyError`` for an unknown kind, ``ValueError`` for a tree that loops or two parts of
    one id.
    """
    base = Context(edition, units, shop=shop or Shop(), limits=limits or Limits(), in_job=True)
    order = _top_down(with_usual_values(parts, base.code))
    read = _read(order, base, memory)
    instead = instead or {}
    points, below_points = _hand_down(order, read, base, instead)
    worked = _needed(order, read, points, base, only) if only else order
    from_below: dict[str, list[Demand]] = {}
    demands: dict[str, Demand] = {}
    found: dict[str, Evaluated] = {}
    at = _PointsAhead()
    for part in reversed(worked):
        mine = read[part.id]
        point = points[part.id]
        if part.id in from_below:
            demands[part.id] = Demand.total(from_below[part.id])
        if mine.ahead is not None:
            # most often it is what it was the last time; where it is not, it is worked again
            fault, lost, loop = mine.ahead
            fault = fault if mine.of.uses_fault else point.fault_current
            lost = lost if mine.wants_lost(base.limits, base.edition) else 0.0
            loop = loop if mine.of.uses_loop else point.loop_impedance
            point = at.ahead(point, fault, lost, loop)
        context = base.at(point, demands.get(part.id, Demand()))
        found[part.id] = result = mine.calculate(context)
        if not part.parent:
            continue
        up: Demand | None = None
        if result.outcome is not None:
            try:
                up = mine.handed_up = mine.handed_up or _up(part, mine.of, result, context)
            except Exception as error:
                found[part.id] = faulty(result.entries, error, f"handing up a {part.kind}'s load")
        elif part.id in instead:
            up = instead[part.id].up.named(part.id, part.name)
            below = context.below.missing
            up = replace(up, devices=instead[part.id].up.devices, missing=up.missing + below)
        if up is None:
            up = _missing(part, mine.of, found[part.id], context.below)
        from_below.setdefault(part.parent, []).append(up)
    kept: Mapping[str, SolvedItems] = memory.solved if memory else {}
    try:
        if len(worked) == len(order):
            _ahead(order, read, points, demands, found, base, instead, at)
        if volts and not only:
            kept = put_volts(order, points, below_points, demands, found, base, kept)
    except Exception as error:  # the parts stand as they were worked, without the job's volts
        note(error, "solving the job's network")
    if memory is not None:
        memory.parts, memory.solved = read, kept
    return found


def _needed(
    order: Sequence[PartInput],
    read: Mapping[str, ItemState],
    points: Mapping[str, SupplyPoint],
    base: Context,
    item: str,
) -> Sequence[PartInput]:
    """The items that ``item``'s result needs, from the top down: those below it, whose load it
    carries. Where one of these judges what comes down to it through conductors (a fault current, a
    voltage drop, a loop), all of them: those sizes need every load beside it as well."""
    parents = {part.id: part.parent for part in order}
    above, at = {item}, parents[item]
    while at is not None:
        above.add(at)
        at = parents[at]
    # a supply hands its own loop down with its point
    changes = (key for key in above if parents[key] is not None and read[key].of.loop_impedance)
    loops = any(points[key].loop_impedance for key in above) or any(changes)
    below = {item}
    for part in order:
        if part.parent in below:
            below.add(part.id)
    for key in below:
        mine = read[key]
        if mine.of.uses_fault or mine.wants_lost(base.limits, base.edition):
            return order
        if mine.of.uses_loop and (loops or mine.of.loop_impedance):
            return order
    return [part for part in order if part.id in below]


class _PointsAhead:
    """Supply points with what comes down to them, each made once: neighbours share theirs."""

    def __init__(self) -> None:
        self._made: dict[tuple[int, FaultCurrent, float, float], SupplyPoint] = {}
        self._held: list[SupplyPoint] = []  # so that no other takes the number of one that is gone

    def ahead(self, of: SupplyPoint, fault: FaultCurrent, lost: float, loop: float) -> SupplyPoint:
        """:meth:`SupplyPoint.ahead`, the same object for the same figures at one point."""
        key = (id(of), fault, lost, loop)
        found = self._made.get(key)
        if found is None:
            found = self._made[key] = of.ahead(fault, lost, loop)
            self._held.append(of)
        return found


def _up(part: PartInput, of: Kind, result: Evaluated, context: Context) -> Demand:
    """What a part hands up: its own, what feeds in from below, its device, what is missing."""
    below = context.below
    up = of.hand_up(result.entries, result.outcome, context).named(part.id, part.name)
    system = context.supply.system
    device = device_of(part.id, part.name, result.entries, result.outcome, up, system)
    return Demand(
        up.connected,
        up.calculated,
        up.neutral,
        up.lines,
        up.pieces,
        up.infeed + below.infeed,
        (device,) if device is not None else (),
        below.missing,
    )


def _missing(part: PartInput, of: Kind, result: Evaluated, below: Demand) -> Demand:
    """What a part hands up whose result is missing: what hangs below it, where that has the same
    supply, and its name, so that nothing above takes the sum for the whole."""
    if not of.has_load:
        return Demand()
    # what has no result only for want of those below is not missing besides
    derived = result.missing and not result.wrong
    own = () if derived else (Missing(part.id, part.name),)
    known = replace(below, devices=()) if of.keeps_supply else Demand()
    return replace(known, missing=below.missing + own)


def _read(order: Sequence[PartInput], base: Context, memory: Memory | None) -> dict[str, ItemState]:
    """Every document read; one that is as it was is not read again."""
    before: Mapping[str, ItemState] = {}
    by = (base.units, base.code.family)
    if memory is not None and memory.read_by == by:
        before = memory.parts
    read = {}
    for part in order:
        was = before.get(part.id)
        if was and was.part.kind == part.kind and was.part.document == part.document:
            read[part.id] = was.of_part(part)
        else:
            of = kind(part.kind)
            ahead = was.ahead if was and was.part.kind == part.kind else None
            read[part.id] = ItemState(part, of, of.read(part.document, base), ahead=ahead)
    if memory is not None:
        memory.read_by = by
    return read


def _hand_down(
    order: Sequence[PartInput],
    read: Mapping[str, ItemState],
    base: Context,
    instead: Mapping[str, StandIn],
) -> tuple[dict[str, SupplyPoint], dict[str, SupplyPoint]]:
    """The supply point of each part, and what each hands to those below it."""
    default = SupplyPoint(SYSTEMS["1ph-120/240"], marking=base.code.marking)
    points: dict[str, SupplyPoint] = {}
    below_points: dict[str, SupplyPoint] = {}
    for part in order:
        above = below_points[part.parent] if part.parent else default
        points[part.id] = above
        mine = read[part.id]
        # only a part that can hold others hands anything down
        entries = mine.parsed.entries if mine.of.holds_parts else None
        if entries is not None:
            below_points[part.id] = mine.of.hand_down(entries, above)
        elif part.id in instead:
            below_points[part.id] = replace(instead[part.id].below, marking=base.code.marking)
        elif mine.of.keeps_supply or not mine.of.holds_parts:
            below_points[part.id] = above
        else:  # neither its system nor its volts are known
            unknown = each_once(above.unknown, (Missing(part.id, part.name),))
            below_points[part.id] = replace(above, unknown=unknown)
    return points, below_points


def _ahead(
    order: Sequence[PartInput],
    read: Mapping[str, ItemState],
    points: Mapping[str, SupplyPoint],
    demands: Mapping[str, Demand],
    found: dict[str, Evaluated],
    base: Context,
    instead: Mapping[str, StandIn],
    at: _PointsAhead,
) -> None:
    """Follows fault current, percent lost and earth-fault loop down: they need the sizes of the
    conductors on their way, so they come last. Parts that judge them are worked again where they
    differ from what they were worked with."""
    out: dict[str, tuple[FaultCurrent, float, float]] = {}
    parents = {part.parent for part in order}
    # parts on the way whose conductors are not known
    open_way: dict[str, tuple[Missing, ...]] = {}
    loop_gone: set[str | None] = set()
    for part in order:
        mine = read[part.id]
        of = mine.of
        here = points[part.id]
        fault, lost, loop = (
            out[part.parent] if part.parent else (here.fault_current, 0.0, here.loop_impedance)
        )
        way = open_way[part.parent] if part.parent else ()
        own_gap: tuple[Missing, ...] = ()
        if part.id not in instead:
            own_gap = _own_gap(part, of, found[part.id], demands.get(part.id))
        open_way[part.id] = each_once(way, own_gap)
        wants = mine.wants_lost(base.limits, base.edition)
        # what was never told another loop than the one handed down need not be looked at again
        loops = of.uses_loop and (loop != here.loop_impedance or mine.ahead is not None)
        judges = of.uses_fault or wants or loops
        if not (judges or way or of.fault_current or of.voltage_drop or of.loop_impedance):
            out[part.id] = (fault, lost, loop)
            continue
        if way:
            # without the loop or the loss ahead nothing is decided; a fault current is a bound
            needs = mine.is_long and (wants or (of.uses_loop and part.parent in loop_gone))
            unknown = each_once(here.unknown, way) if needs else here.unknown
            here = replace(here, unknown=unknown, bounded=way)
        loop_here = round(loop, 9) if of.uses_loop else here.loop_impedance
        lost_here, below = round(lost, 9) if wants else 0.0, demands.get(part.id, Demand())
        if judges:
            # what does not judge the fault was worked without it
            fault_here = fault if of.uses_fault else here.fault_current
            own = at.ahead(here, fault_here, lost_here, loop_here)
            before = mine.context.supply if mine.context else None
            if before is not None and own != before:
                found[part.id] = mine.calculate(base.at(own, below))
            mine.ahead = (fault, own.upstream_drop, own.loop_impedance)
        if part.id not in parents:  # nothing goes on from here
            continue
        point = at.ahead(here, fault, lost_here, loop_here)
        context = base.at(point, below)
        result = found[part.id]
        if part.parent in loop_gone:
            loop_gone.add(part.id)
        if own_gap:
            before_gap = loop
            fault, lost, loop = _through_unknown(of, result, context, (fault, lost, loop))
            if before_gap and not loop:
                loop_gone.add(part.id)
        elif result.outcome is not None:
            if of.fault_current is not None:
                fault = of.fault_current(result.entries, result.outcome, context)
            if of.voltage_drop is not None:
                lost += of.voltage_drop(result.entries, result.outcome, context)
            if of.loop_impedance is not None:
                loop = of.loop_impedance(result.entries, result.outcome, context)
        out[part.id] = (fault, lost, loop)


def _own_gap(
    part: PartInput, of: Kind, result: Evaluated, below: Demand | None
) -> tuple[Missing, ...]:
    """What is missing to choose the conductors or windings that this part brings; nothing where it
    brings none, or they are known."""
    if of.network_contribution is None and of.fault_current is None and of.loop_impedance is None:
        return ()
    if result.outcome is None:
        return (Missing(part.id, part.name),)
    # what a root hands down does not hang on its load
    return below.missing if below is not None and not of.root else ()


def _through_unknown(
    of: Kind,
    result: Evaluated,
    context: Context,
    ahead: tuple[FaultCurrent, float, float],
) -> tuple[FaultCurrent, float, float]:
    """Fault current, percent lost and loop behind a part whose conductors are not known. The
    current comes undiminished through conductors, which is the most that it can be; behind
    windings it is not known. The loop through the least conductor is the most that it can be;
    through none it is not known."""
    fault, lost, loop = ahead
    fault = fault if of.keeps_supply else FaultCurrent()
    if of.loop_impedance is not None:
        loop = of.loop_impedance(result.entries, result.outcome, context) if result.outcome else 0.0
    return fault, lost, loop


def supply_point(parts: Sequence[PartInput], part_id: str, base: Context) -> SupplyPoint:
    """What one part is handed from above, without working the others."""
    by_id = {part.id: part for part in with_usual_values(parts, base.code)}
    chain: list[PartInput] = []
    at = by_id[part_id].parent
    while at is not None and len(chain) <= len(parts):
        chain.append(by_id[at])
        at = by_id[at].parent
    point = SupplyPoint(SYSTEMS["1ph-120/240"], marking=base.code.marking)
    for part in reversed(chain):
        of = kind(part.kind)
        entries: Any = of.read(part.document, base).entries
        point = point if entries is None else of.hand_down(entries, point)
    return point


def _top_down(parts: Sequence[PartInput]) -> list[PartInput]:
    children: dict[str | None, list[PartInput]] = {}
    known = {part.id for part in parts}
    if len(known) < len(parts):
        raise ValueError("two parts have one id")
    for part in parts:
        if part.parent is not None and part.parent not in known:
            raise ValueError(f"part {part.id} stands under {part.parent}, which is not there")
        children.setdefault(part.parent, []).append(part)
    order = list(children.get(None, []))
    for part in order:  # grows while it is walked
        order += children.get(part.id, [])
    if len(order) != len(parts):
        raise ValueError("the parts stand in a loop")
    return order
