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

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import SYSTEMS, Demand, SupplyPoint
from voltaje.core.entries import Parsed
from voltaje.core.faults import note
from voltaje.core.parts import Context, Evaluated, Kind, PartInput, faulty, kind
from voltaje.core.parts.kind import work
from voltaje.core.parts.placing import device_of
from voltaje.core.rules.settings import Limits, Shop
from voltaje.core.units import UnitSystem
from voltaje.core.voltages import Solved, put_volts


@dataclass(slots=True)
class Read:
    """A part with its document read, and what it was worked to under its last context; ``ahead``
    are fault current, percent lost and loop where it stands: a guess, so that it is seldom worked
    twice."""

    part: PartInput
    of: Kind
    parsed: Parsed
    context: Context | None = None
    evaluated: Evaluated | None = None
    ahead: tuple[float, float, float] | None = None

    def work(self, context: Context) -> Evaluated:
        """The part under that context; what it was worked to, where that was the last one."""
        if self.evaluated is None or self.context != context:
            self.evaluated = work(self.of, self.parsed, context)
            self.context = context
        return self.evaluated

    def wants_lost(self, limits: Limits) -> bool:
        """Whether it may be sized within what the total leaves: then it asks what is lost ahead."""
        own = getattr(self.parsed.entries, "drop_sizing", "")
        return own == "total" or (bool(own) and own == "job" and limits.sizing == "total")


@dataclass
class Memory:
    """What a job was last worked to: by part, and the solved networks of its supplies. Its content
    is replaced as a whole, so that two readers never see half of it."""

    read_by: tuple[str, str] = ("us", "nec")
    parts: Mapping[str, Read] = field(default_factory=dict)
    solved: Mapping[str, Solved] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class StandIn:
    """What a part that cannot be read hands on in its place: the supply point to what is below it,
    and its demand to what is above."""

    below: SupplyPoint
    up: Demand


def study(
    parts: Sequence[PartInput],
    edition: Edition,
    units: UnitSystem = "us",
    shop: Shop | None = None,
    limits: Limits | None = None,
    memory: Memory | None = None,
    instead: Mapping[str, StandIn] | None = None,
    volts: bool = True,
) -> dict[str, Evaluated]:
    """Works every part. A part with problems hands up nothing, or what stands ``instead`` of it;
    the rest is still worked. Without ``volts`` the job is not solved as one network.

    Raises ``KeyError`` for an unknown kind, ``ValueError`` for a tree that loops or two parts of
    one id.
    """
    order = _top_down(parts)
    base = Context(edition, units, shop=shop or Shop(), limits=limits or Limits(), in_job=True)
    read = _read(order, base, memory)
    instead = instead or {}
    points, below_points = _hand_down(order, read, base, instead)
    demands: dict[str, Demand] = {}
    found: dict[str, Evaluated] = {}
    for part in reversed(order):
        mine = read[part.id]
        point = points[part.id]
        if mine.ahead is not None:
            # most often it is what it was the last time; where it is not, it is worked again
            fault, lost, loop = mine.ahead
            fault = fault if mine.of.uses_fault else point.fault
            lost = lost if mine.wants_lost(base.limits) else 0.0
            loop = loop if mine.of.uses_loop else point.loop
            point = point.ahead(fault, lost, loop)
        context = base.at(point, demands.get(part.id, Demand()))
        found[part.id] = result = mine.work(context)
        if result.outcome is not None and part.parent:
            try:
                up = mine.of.hand_up(result.entries, result.outcome, context)
                # what feeds in from below goes on upward through every part
                up = up.named(part.id, part.name)
                device = device_of(
                    part.id, part.name, result.entries, result.outcome, up, point.system
                )
                fed = up.fed + context.below.fed
                up = replace(up, fed=fed, devices=(device,) if device is not None else ())
            except Exception as error:
                found[part.id] = faulty(result.entries, error, f"handing up a {part.kind}'s load")
            else:
                demands[part.parent] = demands.get(part.parent, Demand()) + up
        elif part.parent and part.id in instead:
            up = instead[part.id].up.named(part.id, part.name)
            up = replace(up, devices=instead[part.id].up.devices)
            demands[part.parent] = demands.get(part.parent, Demand()) + up
    kept: Mapping[str, Solved] = memory.solved if memory else {}
    try:
        _ahead(order, read, points, demands, found, base)
        if volts:
            kept = put_volts(order, points, below_points, demands, found, base, kept)
    except Exception as error:  # the parts stand as they were worked, without the job's volts
        note(error, "solving the job's network")
    if memory is not None:
        memory.parts, memory.solved = read, kept
    return found


def _read(order: Sequence[PartInput], base: Context, memory: Memory | None) -> dict[str, Read]:
    """Every document read; one that is as it was is not read again."""
    before: Mapping[str, Read] = {}
    by = (base.units, base.code.family)
    if memory is not None and memory.read_by == by:
        before = memory.parts
    read = {}
    for part in order:
        was = before.get(part.id)
        if was and was.part.kind == part.kind and was.part.document == part.document:
            # a new one beside it: another reader may hold the old one
            read[part.id] = replace(was, part=part)
        else:
            of = kind(part.kind)
            ahead = was.ahead if was and was.part.kind == part.kind else None
            read[part.id] = Read(part, of, of.read(part.document, base), ahead=ahead)
    if memory is not None:
        memory.read_by = by
    return read


def _hand_down(
    order: Sequence[PartInput],
    read: Mapping[str, Read],
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
        else:
            below_points[part.id] = above
    return points, below_points


def _ahead(
    order: Sequence[PartInput],
    read: Mapping[str, Read],
    points: Mapping[str, SupplyPoint],
    demands: Mapping[str, Demand],
    found: dict[str, Evaluated],
    base: Context,
) -> None:
    """Follows fault current, percent lost and earth-fault loop down: they need the sizes of the
    conductors on their way, so they come last. Parts that judge them are worked again where they
    differ from what they were worked with."""
    out: dict[str, tuple[float, float, float]] = {}
    for part in order:
        mine = read[part.id]
        of = mine.of
        here = points[part.id]
        fault, lost, loop = out[part.parent] if part.parent else (here.fault, 0.0, here.loop)
        wants = mine.wants_lost(base.limits)
        # what was never told another loop than the one handed down need not be looked at again
        loops = of.uses_loop and (loop != here.loop or mine.ahead is not None)
        judges = of.uses_fault or wants or loops
        if not (judges or of.fault_out or of.lost_out or of.loop_out):
            out[part.id] = (fault, lost, loop)
            continue
        loop_here = round(loop, 9) if of.uses_loop else here.loop
        point = here.ahead(fault, round(lost, 9) if wants else 0.0, loop_here)
        context = base.at(point, demands.get(part.id, Demand()))
        if judges:
            # what does not judge the fault was worked without it
            own = point if of.uses_fault else point.ahead(here.fault, point.lost, point.loop)
            before = mine.context.supply if mine.context else None
            if before is not None and own != before:
                found[part.id] = mine.work(base.at(own, context.below))
            mine.ahead = (fault, own.lost, own.loop)
        result = found[part.id]
        if result.outcome is not None:
            if of.fault_out is not None:
                fault = of.fault_out(result.entries, result.outcome, context)
            if of.lost_out is not None:
                lost += of.lost_out(result.entries, result.outcome, context)
            if of.loop_out is not None:
                loop = of.loop_out(result.entries, result.outcome, context)
        out[part.id] = (fault, lost, loop)


def supply_point(parts: Sequence[PartInput], part_id: str, base: Context) -> SupplyPoint:
    """What one part is handed from above, without working the others."""
    by_id = {part.id: part for part in parts}
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
