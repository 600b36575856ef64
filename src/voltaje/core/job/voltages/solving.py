"""The network of each supply of a job, solved."""

from __future__ import annotations

from collections.abc import Mapping, MutableMapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING, Any

from voltaje.core.electrical.network import ElementError, Network, NoSolutionError, solved, sources
from voltaje.core.electrical.network.contribution import Bank, Boost, NetworkSegment
from voltaje.core.electrical.systems import Demand, Missing, SupplyPoint, each_once
from voltaje.core.job.voltages.building import (
    Building,
    demand_factors,
    put_bank,
    put_boost,
    put_fed,
    put_load,
    put_own_loads,
    put_run,
)
from voltaje.core.job.voltages.report import ByBand, Collapse, NotSolved, Unsolved
from voltaje.core.job.voltages.volts import volts_of
from voltaje.core.kinds import Context, Evaluated, PartInput, kind
from voltaje.core.kinds.interface import Volts

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


@dataclass(frozen=True, slots=True)
class SolvedItems:
    """One supply's parts as they were worked (held, so that their identity stays their own), and
    the same with the job's volts."""

    key: Any
    before: tuple[Evaluated, ...]
    after: tuple[Evaluated, ...]


def put_volts(
    order: Sequence[PartInput],
    points: Mapping[str, SupplyPoint],
    below_points: Mapping[str, SupplyPoint],
    demands: Mapping[str, Demand],
    found: MutableMapping[str, Evaluated],
    base: Context,
    kept: Mapping[str, SolvedItems],
) -> dict[str, SolvedItems]:
    """Puts volts, amperes by line and the drop from the supply on every part that is worked. What
    a change did not touch is not solved again: ``kept`` are the supplies as they were solved
    before, and come back as they are now."""
    root_of: dict[str, str] = {}
    groups: dict[str, list[PartInput]] = {}
    for part in order:
        root = root_of[part.parent] if part.parent else part.id
        root_of[part.id] = root
        groups.setdefault(root, []).append(part)
    now: dict[str, SolvedItems] = {}
    for root, parts in groups.items():
        missing = _without_result(root, parts, demands, found)
        if missing:
            for part in parts:
                if found[part.id].outcome is not None:
                    found[part.id] = found[part.id].with_volts(NotSolved(missing))
            continue
        if len(parts) < 2 or found[root].outcome is None:
            continue
        before = tuple(found[part.id] for part in parts)
        shown = tuple((p.id, p.parent, p.name, id(e)) for p, e in zip(parts, before, strict=True))
        key = (base.edition, base.limits, shown)
        was = kept.get(root)
        if was is None or was.key != key:
            volts = _one_supply(root, parts, points, below_points, demands, found, base)
            after = tuple(
                e.with_volts(volts[p.id]) if p.id in volts else e
                for p, e in zip(parts, before, strict=True)
            )
            was = SolvedItems(key, before, after)
        now[root] = was
        for part, evaluated in zip(parts, was.after, strict=True):
            found[part.id] = evaluated
    return now


def _without_result(
    root: str,
    parts: Sequence[PartInput],
    demands: Mapping[str, Demand],
    found: Mapping[str, Evaluated],
) -> tuple[Missing, ...]:
    """The parts of a supply without whose result its volts cannot be solved."""
    below = demands.get(root, Demand()).missing
    own = tuple(
        Missing(part.id, part.name)
        for part in parts
        if found[part.id].outcome is None and kind(part.kind).has_load
    )
    return each_once(below, own)


@lru_cache(maxsize=64)
def _without_load(network: Network) -> Solution:
    """A network without its loads changes only with its conductors: it is kept."""
    return solved(network)


def _one_supply(
    root: str,
    parts: Sequence[PartInput],
    points: Mapping[str, SupplyPoint],
    below_points: Mapping[str, SupplyPoint],
    demands: Mapping[str, Demand],
    found: Mapping[str, Evaluated],
    base: Context,
) -> Mapping[str, Volts]:
    """One supply's network: what its parts bring, their loads, solved; what it says by part."""
    point = below_points[root]
    b = Building()
    emfs, bond = sources(point.system, 0j, f"{root}/", volts=point.volts)
    b.conductors += bond
    b.systems[root] = point.system
    for wire in b.wires(root):
        b.ends[root, wire] = f"{root}/{wire}"
    factors = demand_factors(demands.get(root, Demand()), base)
    _bring(b, parts, points, below_points, demands, found, base, factors)
    _load(b, parts, demands, factors)
    export: Solution | None = None
    try:
        full = solved(Network(emfs, tuple(b.conductors), tuple(b.loads), tuple(b.cores)))
        bare = _without_load(Network(emfs, tuple(b.conductors), (), tuple(b.cores)))
        if b.sources:  # all that feeds in, and no load beside it
            export = solved(Network(emfs, tuple(b.conductors), tuple(b.sources), tuple(b.cores)))
    except NoSolutionError as error:
        return {root: Collapse(error.share)}
    except ElementError as error:
        return {root: Unsolved(error.words)}
    told = volts_of(b, parts, full, bare, found, base, export)
    if not b.lost and not b.cores:  # no length is known: nothing is said of any drop
        return {key: ByBand(volts) for key, volts in told.items()}
    return told


def _bring(
    b: Building,
    parts: Sequence[PartInput],
    points: Mapping[str, SupplyPoint],
    below_points: Mapping[str, SupplyPoint],
    demands: Mapping[str, Demand],
    found: Mapping[str, Evaluated],
    base: Context,
    factors: Mapping[str, float],
) -> None:
    """Conductors and transformers of the parts that hold others, and the loads entered on them."""
    for part in parts:
        if part.parent is None or part.parent not in b.systems:
            continue  # what hangs on a part that cannot be worked has no volts
        of, mine = kind(part.kind), found[part.id]
        if not of.holds_parts or mine.outcome is None:
            continue
        context = base.at(points[part.id], demands.get(part.id, Demand()))
        joints: Sequence[NetworkSegment] = ()
        windings: Bank | Boost | None = None
        if of.network_contribution is not None:
            brought = of.network_contribution(mine.entries, mine.outcome, context)
            joints, windings = brought.joints, brought.windings
        at = put_run(b, part, joints)
        if isinstance(windings, Bank):
            put_bank(b, part, windings, at, points[part.id], below_points[part.id].system)
        elif windings is not None:
            put_boost(b, part, windings, at, below_points[part.id].system)
        else:
            if mine.outcome.placed is not None:
                b.put_placed(part.id, mine.outcome.placed)
            b.systems[part.id] = b.systems[part.parent]
            for wire, node in at[-1].items():
                b.ends[part.id, wire] = node
        places = [n for n, joint in zip(at, joints, strict=False) for _ in range(joint.loads)]
        above = b.placed(part.parent, demands.get(part.parent, Demand()))
        put_own_loads(b, part, above, factors.get(part.id, 1.0), places)


def _load(
    b: Building,
    parts: Sequence[PartInput],
    demands: Mapping[str, Demand],
    factors: Mapping[str, float],
) -> None:
    """The circuits and other loads on the parts that hold them, each on its line."""
    under: dict[str, set[str]] = {}
    for part in parts:
        if part.parent and not kind(part.kind).holds_parts:
            under.setdefault(part.parent, set()).add(part.id)
    for holder, system in b.systems.items():
        end = {wire: b.ends[holder, wire] for wire in b.wires(holder)}
        children = under.get(holder, set())
        for index, piece in enumerate(b.placed(holder, demands.get(holder, Demand()))):
            if piece.part in children:
                b.pieces.setdefault(piece.part, []).append(piece)
                va = piece.calculated * factors.get(piece.part, 1.0)
                put_load(b, f"{piece.part}/{index}", piece, va, end, system)
        for index, fed in enumerate(demands.get(holder, Demand()).infeed):
            if fed.part in children:
                put_fed(b, f"{fed.part}/fed{index}", fed, end, system)
