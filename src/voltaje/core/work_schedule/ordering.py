"""What each step needs done before it, and an order in which all can be done.

Common practice, no source: what becomes larger does so from the supply down, what becomes smaller
from the loads up; a new board is wired before it is energized."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace

from voltaje.core.work_schedule.changes import ItemChange, Side, changes
from voltaje.core.work_schedule.site import Site, site_of
from voltaje.core.work_schedule.steps import (
    FITTED,
    LAST,
    PREPARED,
    Drafts,
    Step,
    all_above,
)


@dataclass(frozen=True, slots=True)
class WorkPlan:
    """The steps in an order in which they can be done, on which ``site``; items that are
    ``unknown`` are changed and have no result, so that steps are missing."""

    steps: tuple[Step, ...]
    site: Site
    unknown: tuple[str, ...]


def plan(before: Side, after: Side, few: bool = False) -> WorkPlan:
    """The steps from one state of a job to another, in their usual order: each outage as short as
    it can be, or as ``few`` outages as there can be."""
    found = changes(before, after)
    drafts = Drafts(before, after, found.items)
    steps, by_position = _with_needs(drafts, list(drafts.steps()))
    ordered = tuple(_ordered(steps, by_position, _Outages(drafts, few)))
    return WorkPlan(ordered, site_of(before, after, ordered), found.unknown)


def _with_needs(drafts: Drafts, steps: list[Step]) -> tuple[list[Step], frozenset[tuple[str, str]]]:
    """The steps with what they need, and the pairs of which the one needs the other for the sake of
    a position alone."""
    keys = {step.key for step in steps}
    needs: dict[str, set[str]] = {step.key: set() for step in steps}

    def after(key: str, *others: str) -> None:
        """``key`` is done after the others, as far as they are to be done."""
        if key in keys:
            needs[key] |= {other for other in others if other in keys and other != key}

    for step in steps:
        item = step.item
        if step.act in ("connect", "move", "replace"):
            after(step.key, f"run|{item}", f"mount|{item}")
        if step.act == "remove":
            above = drafts.before[item].above if item in drafts.before else ""
            after(step.key, f"replace|{item}", f"move|{item}", f"disconnect|{item}")
            after(step.key, f"disconnect|{above}", f"remove|{above}")
        if step.act == "load":
            is_more = _is_more(drafts.found[item])
            fitted = (f"replace|{item}", f"equipment|{item}", f"move|{item}")
            for other in fitted:
                after(*((step.key, other) if is_more else (other, step.key)))
        if step.act in ("connect", "move"):
            above = drafts.after[item].above
            after(step.key, f"mount|{above}", f"equipment|{above}")
            if step.act == "connect" and above:
                # a new board is wired before it is energized
                after(f"connect|{above}", step.key)
        if step.act == "move":
            # what it goes to has power, what it leaves keeps it until then, up to the supply
            after(step.key, *(f"connect|{one}" for one in all_above(drafts.after, item)))
            for one in all_above(drafts.before, item):
                after(f"disconnect|{one}", step.key)
        if step.act == "label":
            on = [one.key for one in steps if one.act != "label" and _is_at(drafts, one, item)]
            after(step.key, *on)
    _by_load(drafts, steps, after)
    plain = {key: frozenset(found) for key, found in needs.items()}
    _by_position(steps, needs)
    pairs = frozenset((key, one) for key, found in needs.items() for one in found - plain[key])
    return [replace(step, needs=frozenset(needs[step.key])) for step in steps], pairs


def _is_at(drafts: Drafts, step: Step, item: str) -> bool:
    sides = (drafts.before, drafts.after)
    return step.item == item or any(
        step.item in side and side[step.item].above == item for side in sides
    )


def _is_more(change: ItemChange) -> bool:
    was, now = change.before, change.after
    return (now.amperes or 0.0) >= (was.amperes or 0.0) if was and now else now is not None


def _by_load(drafts: Drafts, steps: list[Step], after: Callable[..., None]) -> None:
    """What becomes larger does so before load is added below it, what becomes smaller after load is
    taken away."""
    for step in steps:
        change = drafts.found.get(step.item)
        if change is None or step.act not in ("connect", "move", "load", "disconnect", "replace"):
            continue
        more = step.act in ("connect", "move") or (step.act != "disconnect" and _is_more(change))
        less = step.act in ("disconnect", "move") or (
            step.act != "connect" and not _is_more(change)
        )
        for side, on in ((drafts.after, more), (drafts.before, less)):
            if not on or step.item not in side:
                continue
            for above in all_above(side, step.item):
                grows = _grows(drafts, above)
                if grows is None or grows is not (side is drafts.after):
                    continue
                for act in ("replace", "equipment"):
                    if grows:
                        after(step.key, f"{act}|{above}")
                    else:
                        after(f"{act}|{above}", step.key)


def _grows(drafts: Drafts, item: str) -> bool | None:
    """Whether what carries load becomes larger (or another of the same size) or smaller; ``None``
    where it is not changed in that."""
    change = drafts.found.get(item)
    if change is None or change.before is None or change.after is None:
        return None
    if not change.aspects & FITTED:
        return None
    return change.after.rating >= change.before.rating


def _by_position(steps: list[Step], needs: dict[str, set[str]]) -> None:
    """Where a device is to stand, the other has gone before. Moves within a board come in the order
    in which they were found."""
    moves = [step for step in steps if step.devices]
    for n, step in enumerate(moves):
        for other in moves[:n]:
            touched = (step.taken | step.freed) & (other.taken | other.freed)
            if touched or set(step.devices) & set(other.devices):
                needs[step.key].add(other.key)
    for step in steps:
        for one in steps:
            both_move = step.devices and one.devices
            if one.key != step.key and one.freed & step.taken and not both_move:
                needs[step.key].add(one.key)
        if step.act == "replace":  # a device is replaced where it is to stand
            needs[step.key] |= {one.key for one in moves if step.item in one.devices}


# an order -----------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class _Outages:
    """How steps are brought together in outages."""

    drafts: Drafts
    few: bool
    known: dict[str, frozenset[str]] = field(default_factory=dict)

    def locked_for(self, step: Step) -> frozenset[str]:
        """What is locked out for a step, as far as is known beforehand."""
        if step.key not in self.known:
            self.known[step.key] = self.drafts.usual_lock_out(step)
        return self.known[step.key]

    def depth(self, step: Step) -> int:
        """How far from the supply the first of what is locked out stands."""
        return min((len(list(self._above(one))) for one in self.locked_for(step)), default=0)

    def _above(self, item: str) -> Iterator[str]:
        drafts = self.drafts
        return all_above(drafts.before if item in drafts.before else drafts.after, item)

    def goes_on(self, step: Step, locked: frozenset[str]) -> bool:
        """Whether a step is done with what is locked out now."""
        mine = self.locked_for(step)
        if mine == locked:
            return True
        return self.few and all(
            one in locked or any(above in locked for above in self._above(one)) for one in mine
        )


def _ordered(
    steps: list[Step],
    by_position: frozenset[tuple[str, str]],
    outages: _Outages,
) -> Iterator[Step]:
    """All steps, each after what it needs: what can be prepared first, then outage by outage, at
    last what is taken away and labelled. Where devices wait for each other's positions, one is
    taken out for a while; where steps wait in another circle, the first of them is done without
    waiting: what it waited for is without power meanwhile."""
    at = {step.key: n for n, step in enumerate(steps)}
    pending = {step.key: step for step in steps}
    left = {step.key: set(step.needs) for step in steps}
    followers: dict[str, list[str]] = {}
    for step in steps:
        for key in step.needs:
            followers.setdefault(key, []).append(step.key)
    ready = {step.key for step in steps if not step.needs}
    locked: frozenset[str] = frozenset()
    while pending:
        found = [pending[key] for key in ready]
        if found:
            waits = set[frozenset[str]]()
            if not outages.few and all(outages.locked_for(step) for step in found):
                waits = _waiting(pending, left, outages)
            step = min(found, key=lambda s: (_rank(s, locked, waits, outages), at[s.key]))
        else:
            blocked = _blocked(pending, left, by_position)
            if blocked is not None:
                key, other = blocked
                step = outages.drafts.lifted(pending[other])
                # what waited for the position waits no more; what was taken out follows
                pending[key] = replace(
                    pending[key], needs=pending[key].needs - {other} | {step.key}
                )
                pending[other] = replace(pending[other], needs=pending[other].needs | {step.key})
                left[key].discard(other)
                if not left[key]:
                    ready.add(key)
                yield step
                continue
            stuck = next((s for s in pending.values() if s.act == "disconnect"), None)
            stuck = stuck or next(iter(pending.values()))
            step = replace(stuck, needs=stuck.needs - left[stuck.key])
        yield step
        if (mine := outages.locked_for(step)) and not outages.goes_on(step, locked):
            locked = mine
        del pending[step.key]
        ready.discard(step.key)
        for key in followers.get(step.key, ()):
            left[key].discard(step.key)
            if key in pending and not left[key]:
                ready.add(key)


def _blocked(
    pending: Mapping[str, Step],
    left: Mapping[str, set[str]],
    by_position: frozenset[tuple[str, str]],
) -> tuple[str, str] | None:
    """A step that waits for positions alone, and one of those that it waits for."""
    for key in pending:
        waits = left[key]
        if waits and all((key, other) in by_position for other in waits):
            for other in waits:
                if pending[other].act in ("replace", "move", "place"):
                    return key, other
    return None


def _waiting(
    pending: Mapping[str, Step], left: Mapping[str, set[str]], outages: _Outages
) -> set[frozenset[str]]:
    """What would have to be locked out a second time, because a step that needs it locked out waits
    for one that needs something else."""
    lock = {key: outages.locked_for(step) for key, step in pending.items()}
    return {
        lock[key]
        for key in pending
        if any(lock[other] and lock[other] != lock[key] for other in left[key])
    }


def _rank(
    step: Step, locked: frozenset[str], waits: set[frozenset[str]], outages: _Outages
) -> tuple[int, int, int]:
    if step.act in PREPARED:
        return (0, 0, 0)
    if step.act in LAST:
        return (2, int(step.act == "label"), 0)
    mine = outages.locked_for(step)
    if not mine:
        return (1, 0, 0)  # it costs nobody power
    if locked and outages.goes_on(step, locked):
        return (1, 1, 0)
    if outages.few:
        return (1, 2, outages.depth(step))
    return (1, 2 + int(mine in waits), 0)
