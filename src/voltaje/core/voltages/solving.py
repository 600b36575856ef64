"""The network of each supply of a job, solved."""

from __future__ import annotations

from collections.abc import Mapping, MutableMapping, Sequence
from dataclasses import replace
from functools import lru_cache
from threading import Lock
from typing import TYPE_CHECKING, Any

from voltaje.core.electrical.network import ElementError, Network, NoSolutionError, solved, sources
from voltaje.core.electrical.systems import Demand, SupplyPoint
from voltaje.core.parts import Context, Evaluated, PartInput, kind
from voltaje.core.parts.kind import Piecewise
from voltaje.core.voltages.building import (
    Building,
    demand_factors,
    put_bank,
    put_load,
    put_own_loads,
    put_run,
)
from voltaje.core.voltages.telling import put, say_collapse, say_wrong

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


def put_volts(
    order: Sequence[PartInput],
    points: Mapping[str, SupplyPoint],
    below_points: Mapping[str, SupplyPoint],
    demands: Mapping[str, Demand],
    found: MutableMapping[str, Evaluated],
    base: Context,
) -> None:
    """Puts volts, amperes by line and the drop from the supply on every part that is worked."""
    root_of: dict[str, str] = {}
    groups: dict[str, list[PartInput]] = {}
    for part in order:
        root = root_of[part.parent] if part.parent else part.id
        root_of[part.id] = root
        groups.setdefault(root, []).append(part)
    for root, parts in groups.items():
        if len(parts) < 2 or found[root].worked is None:
            continue
        # the same parts with the same results have the same volts: what a change did not touch is
        # not solved again
        before = [found[part.id] for part in parts]
        shown = tuple((p.id, p.parent, p.name, id(e)) for p, e in zip(parts, before, strict=True))
        key = (base.edition, base.units, base.limits, base.shop, shown)
        kept = _KEPT.get(key)
        if kept is None:
            _one_supply(root, parts, points, below_points, demands, found, base)
            kept = before, [found[part.id] for part in parts]
            with _LOCK:
                _KEPT[key] = kept
                while len(_KEPT) > MOST_KEPT:
                    del _KEPT[next(iter(_KEPT))]
        for part, told in zip(parts, kept[1], strict=True):
            found[part.id] = told


# by content: what went in (held, so that its identity stays its own) and what came out
_KEPT: dict[Any, tuple[list[Evaluated], list[Evaluated]]] = {}
_LOCK = Lock()
MOST_KEPT = 256


@lru_cache(maxsize=256)
def _without_load(network: Network) -> Solution:
    """A network without its loads changes only with its conductors: it is kept."""
    return solved(network)


def _one_supply(
    root: str,
    parts: Sequence[PartInput],
    points: Mapping[str, SupplyPoint],
    below_points: Mapping[str, SupplyPoint],
    demands: Mapping[str, Demand],
    found: MutableMapping[str, Evaluated],
    base: Context,
) -> None:
    """One supply's network: what its parts bring, their loads, solved and told."""
    point = below_points[root]
    b = Building()
    emfs, bond = sources(point.system, 0j, f"{root}/", volts=point.volts)
    b.conductors += bond
    b.systems[root] = point.system
    for wire in b.wires(root):
        b.ends[root, wire] = f"{root}/{wire}"
    factors = demand_factors(demands.get(root, Demand()), base.edition)
    _bring(b, parts, points, below_points, demands, found, base, factors)
    _load(b, parts, demands, factors)
    if not b.lost and not b.transformers:
        return
    try:
        full = solved(Network(emfs, tuple(b.conductors), tuple(b.loads), tuple(b.transformers)))
        bare = _without_load(Network(emfs, tuple(b.conductors), (), tuple(b.transformers)))
    except NoSolutionError as error:
        say_collapse(root, error, found)
        return
    except ElementError as error:
        say_wrong(root, error, found)
        return
    put(b, parts, full, bare, found, base)


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
        if not of.holds_parts or mine.worked is None:
            continue
        context = replace(base, supply=points[part.id], below=demands.get(part.id, Demand()))
        joints: Sequence[Piecewise] = ()
        bank = None
        if of.brings is not None:
            brought = of.brings(mine.entries, mine.worked, context)
            joints, bank = brought.joints, brought.bank
        at = put_run(b, part, joints)
        if bank is not None:
            put_bank(b, part, bank, at, points[part.id], below_points[part.id].system)
        else:
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
    leaves = {part.id for part in parts if not kind(part.kind).holds_parts}
    for holder, system in b.systems.items():
        end = {wire: b.ends[holder, wire] for wire in b.wires(holder)}
        children = {part.id for part in parts if part.parent == holder} & leaves
        for index, piece in enumerate(b.placed(holder, demands.get(holder, Demand()))):
            if piece.part in children:
                b.pieces.setdefault(piece.part, piece)
                va = piece.calculated * factors.get(piece.part, 1.0)
                put_load(b, f"{piece.part}/{index}", piece, va, end, system)
