"""The state of a job at a glance: for each supply what it carries, how far its voltage drops, its
highest and lowest fault current and how evenly its lines are loaded; how many items have which
status. Plain figures, so that they can be kept with the digest and worded when they are shown."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from voltaje.core.capabilities import InterruptsFaults, can
from voltaje.core.kinds import Evaluated, kind
from voltaje.web.jobs.models import Part

STATUSES = ("fail", "incomplete", "check", "pass")


def make(parts: Sequence[Part], found: Mapping[str, Evaluated]) -> dict[str, Any]:
    """``supplies``: a mapping for each; ``counts``: items by status."""
    root_of: dict[Any, Any] = {}
    groups: dict[Any, list[Part]] = {}
    by_id = {part.pk: part for part in parts}
    for part in parts:
        at = part
        while at.parent_id is not None and at.pk not in root_of:
            at = by_id[at.parent_id]
        root_of[part.pk] = root_of.get(at.pk, at.pk)
        groups.setdefault(root_of[part.pk], []).append(part)
    supplies = [
        _supply(by_id[root], below, found)
        for root, below in groups.items()
        if kind(by_id[root].kind).root
    ]
    statuses = (
        one.brief.status if (one := found[str(part.pk)]).brief else "incomplete" for part in parts
    )
    return {"supplies": supplies, "counts": dict(Counter(statuses))}


def _supply(root: Part, parts: Sequence[Part], found: Mapping[str, Evaluated]) -> dict[str, Any]:
    mine = found[str(root.pk)]
    results = mine.report.results if mine.report else {}
    figures = {
        name: result.value
        for name in ("calculated_load", "amperes")
        if (result := results.get(name)) and not isinstance(result.value, str)
    }
    drops, faults, margins = [], [], []
    bounded = False  # behind an item without a result a fault current is only the most it can be
    for part in parts:
        key, one = str(part.pk), found[str(part.pk)]
        if one.volts is not None and one.volts.drop_total is not None:
            drops.append((one.volts.drop_total, key))
        if one.outcome is not None and one.outcome.fault:
            faults.append((one.outcome.fault, key))
            bounded |= one.context is not None and bool(one.context.supply.bounded)
            rating = one.entries.interrupting if can(one.entries, InterruptsFaults) else None
            if rating:
                margins.append((rating - one.outcome.fault, rating, key))
    lines = [
        result.value
        for line in ("l1", "l2", "l3")
        if (result := results.get(f"flow_{line}")) and not isinstance(result.value, str)
    ]
    mean = sum(lines) / len(lines) if lines else 0.0
    return {
        "part": str(root.pk),
        **figures,
        "missing": bool(mine.missing) or mine.outcome is None,
        "drop": max(drops, default=None),
        "highest": max(faults, default=None),
        "lowest": None if bounded else min(faults, default=None),
        "margin": min(margins, default=None),
        "apart": max(abs(one - mean) for one in lines) / mean * 100 if mean else None,
    }


@dataclass(frozen=True, slots=True)
class Place:
    """A figure and the item where it is."""

    value: float
    part: Part | None


@dataclass(frozen=True, slots=True)
class SupplyState:
    """A supply as the job's page shows it; ``None`` where a figure is not known."""

    part: Part
    load: float | None
    amperes: float | None
    drop: Place | None
    highest: Place | None
    lowest: Place | None
    margin: Place | None
    rating: float | None
    apart: float | None


@dataclass(frozen=True, slots=True)
class Overview:
    """What the job's page says first; ``counts`` are (status, how many), the worst first."""

    supplies: tuple[SupplyState, ...]
    counts: tuple[tuple[str, int], ...]


def read(kept: Mapping[str, Any], parts: Sequence[Part]) -> Overview:
    """What was kept, with its items."""
    by_id = {str(part.pk): part for part in parts}

    def place(at: Sequence[Any] | None) -> Place | None:
        return Place(at[0], by_id.get(at[-1])) if at else None

    supplies = tuple(
        SupplyState(
            by_id[one["part"]],
            None if one["missing"] else one.get("calculated_load"),
            None if one["missing"] else one.get("amperes"),
            place(one["drop"]),
            place(one["highest"]),
            place(one["lowest"]),
            place(one["margin"]),
            one["margin"][1] if one["margin"] else None,
            one["apart"],
        )
        for one in kept["supplies"]
        if one["part"] in by_id
    )
    counts = kept["counts"]
    return Overview(supplies, tuple((name, counts[name]) for name in STATUSES if name in counts))
