"""A job's tree, worked in two passes: supply points down, demands up.

The supply point of a part needs only its own entries and what stands above, so it is handed
down first; the work of a part that holds others needs the demand from below, so parts are
worked from the leaves up. The available fault current, and the percent of the volts that is
lost on the way, go down once more, through the conductors that were found. Last, the whole job
is solved as one network for the volts at every part.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from typing import Any

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import SYSTEMS, Demand, SupplyPoint
from voltaje.core.entries import parse
from voltaje.core.faults import note
from voltaje.core.parts import Context, Evaluated, PartInput, evaluate, faulty, kind
from voltaje.core.rules.drop import Limits
from voltaje.core.rules.ladder import Shop
from voltaje.core.units import UnitSystem
from voltaje.core.voltages import put_volts


def study(
    parts: Sequence[PartInput],
    edition: Edition,
    units: UnitSystem = "us",
    shop: Shop | None = None,
    limits: Limits | None = None,
) -> dict[str, Evaluated]:
    """Works every part. A part with problems hands up nothing; the rest is still worked.

    Raises ``KeyError`` for an unknown kind and ``ValueError`` for a tree that loops.
    """
    order = _top_down(parts)
    shop, limits = shop or Shop(), limits or Limits()
    default = SupplyPoint(SYSTEMS["1ph-120/240"])
    texts = {part.id: json.dumps(part.document) for part in order}
    points: dict[str, SupplyPoint] = {}
    below_points: dict[str, SupplyPoint] = {}
    for part in order:
        above = below_points[part.parent] if part.parent else default
        points[part.id] = above
        of = kind(part.kind)
        # only a part that can hold others hands anything down
        entries = _entries(part.kind, texts[part.id], units) if of.holds_parts else None
        below_points[part.id] = above if entries is None else of.hand_down(entries, above)
    demands: dict[str, Demand] = {}
    found: dict[str, Evaluated] = {}
    seen: dict[str, tuple[float, float]] = {}
    for part in reversed(order):
        of = kind(part.kind)
        point = points[part.id]
        if part.id in _AHEAD:
            # most often it is what it was the last time; where it is not, the part is worked again
            fault, lost = _AHEAD[part.id]
            point = replace(
                point, fault=fault if of.uses_fault else point.fault,
                lost=lost if _wants_lost(texts[part.id], limits) else 0.0,
            )  # fmt: skip
        seen[part.id] = (point.fault, point.lost)
        context = Context(edition, units, point, demands.get(part.id, Demand()), shop, limits)
        result = _evaluated(part.kind, texts[part.id], context)
        found[part.id] = result
        if result.worked is not None and part.parent:
            try:
                up = of.hand_up(result.entries, result.worked, context).named(part.id, part.name)
            except Exception as error:
                found[part.id] = faulty(result.entries, error, f"handing up a {part.kind}'s load")
            else:
                demands[part.parent] = demands.get(part.parent, Demand()) + up
    base = Context(edition, units, shop=shop, limits=limits)
    try:
        _ahead(order, texts, points, demands, found, base, seen)
        put_volts(order, points, below_points, demands, found, base)
    except Exception as error:  # the parts stand as they were worked, without the job's volts
        note(error, "solving the job's network")
    return found


def _wants_lost(text: str, limits: Limits) -> bool:
    """Whether a part may be sized within what the total leaves: then it asks what is lost ahead."""
    return limits.sizing == "total" or '"total"' in text


def _ahead(
    order: Sequence[PartInput],
    texts: Mapping[str, str],
    points: Mapping[str, SupplyPoint],
    demands: Mapping[str, Demand],
    found: dict[str, Evaluated],
    base: Context,
    seen: Mapping[str, tuple[float, float]],
) -> None:
    """Follows the fault current and the percent lost down: they need the sizes of the conductors on
    their way, so they come last. Parts that judge them are worked again where they differ from what
    they were worked with (``seen``)."""
    out: dict[str, tuple[float, float]] = {}
    for part in order:
        of = kind(part.kind)
        fault, lost = out[part.parent] if part.parent else (points[part.id].fault, 0.0)
        wants = _wants_lost(texts[part.id], base.limits)
        if not (of.uses_fault or wants or of.fault_out or of.lost_out):
            out[part.id] = (fault, lost)
            continue
        point = replace(points[part.id], fault=fault, lost=round(lost, 9) if wants else 0.0)
        context = replace(base, supply=point, below=demands.get(part.id, Demand()))
        if of.uses_fault or wants:
            # what does not judge the fault was worked without it
            own = point if of.uses_fault else replace(point, fault=points[part.id].fault)
            if (own.fault, own.lost) != seen[part.id]:
                found[part.id] = _evaluated(part.kind, texts[part.id], replace(context, supply=own))
            _remember(part.id, fault, own.lost)
        result = found[part.id]
        if result.worked is not None:
            if of.fault_out is not None:
                fault = of.fault_out(result.entries, result.worked, context)
            if of.lost_out is not None:
                lost += of.lost_out(result.entries, result.worked, context)
        out[part.id] = (fault, lost)


# fault current and percent lost ahead of each part when it was last worked: a guess that spares
# working it twice
_AHEAD: dict[str, tuple[float, float]] = {}
MOST_REMEMBERED = 20_000


def _remember(part_id: str, fault: float, lost: float) -> None:
    if len(_AHEAD) >= MOST_REMEMBERED:
        _AHEAD.clear()
    _AHEAD[part_id] = (fault, lost)


@lru_cache(maxsize=4096)
def _entries(kind_name: str, document: str, units: UnitSystem) -> Any:
    """A document as its kind's entries, ``None`` where it has problems; kept like what is worked
    of it."""
    return parse(kind(kind_name).entries, json.loads(document), units).entries


@lru_cache(maxsize=8192)
def _evaluated(kind_name: str, document: str, context: Context) -> Evaluated:
    """A part worked under a context, kept: with one entry changed, the rest of a job is as it
    was. Everything in the key and in the answer is a value."""
    return evaluate(kind(kind_name), json.loads(document), context)


def supply_point(parts: Sequence[PartInput], part_id: str, units: UnitSystem = "us") -> SupplyPoint:
    """What one part is handed from above, without working the others."""
    by_id = {part.id: part for part in parts}
    chain: list[PartInput] = []
    at = by_id[part_id].parent
    while at is not None and len(chain) <= len(parts):
        chain.append(by_id[at])
        at = by_id[at].parent
    point = SupplyPoint(SYSTEMS["1ph-120/240"])
    for part in reversed(chain):
        of = kind(part.kind)
        entries = parse(of.entries, part.document, units).entries
        point = point if entries is None else of.hand_down(entries, point)
    return point


def _top_down(parts: Sequence[PartInput]) -> list[PartInput]:
    children: dict[str | None, list[PartInput]] = {}
    known = {part.id for part in parts}
    for part in parts:
        if part.parent is not None and part.parent not in known:
            raise ValueError(f"part {part.id} stands under {part.parent}, which is not there")
        children.setdefault(part.parent, []).append(part)
    order: list[PartInput] = []
    queue = list(children.get(None, []))
    while queue:
        part = queue.pop(0)
        order.append(part)
        queue += children.get(part.id, [])
    if len(order) != len(parts):
        raise ValueError("the parts stand in a loop")
    return order
