"""The conductors of a whole tree chosen together: the least metal, or money, with which every load
stays within its limits of drop.

Each part with conductors of its own is tried with every size that its code lets stand there; what
each loses adds up on the way from the supply to the load, in percent, as the code's limits do. The
choice is a mixed-integer program over those sizes, exact within what HiGHS calls optimal; the job's
network is asked afterwards.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from math import inf
from typing import Literal

from voltaje.core.capabilities import HasLength, can
from voltaje.core.effort import Effort
from voltaje.core.electrical.systems import Missing, each_once
from voltaje.core.entries import Parsed, fields
from voltaje.core.kinds import Evaluated, PartInput
from voltaje.core.kinds.interface import SizedOutcome, calculate
from voltaje.core.mixed_integer import Row, minimize
from voltaje.core.report import Alternative, fits
from voltaje.core.rules.interface import Sized, Wiring

Aim = Literal["metal", "money"]
ROUNDS = 6  # no code figure: how often the network is asked
SMALL = 0.02  # no code figure: percent that a way is given less at least, once it was too long
TRIED = 0.005  # no code figure: s of effort of an item tried with each size
SECONDS = 20.0  # no code figure: s of effort of one program


@dataclass(frozen=True, slots=True)
class PlanOption:
    """A size that may stand in a part: the text of its entry, the conductor in words, its kg and
    its money over the whole length (``None``: no price), the percent that it loses."""

    value: str
    conductor: str
    kg: float
    money: float | None
    lost: float

    def costs(self, aim: Aim) -> float:
        return self.kg if aim == "metal" else (self.money or 0.0)


@dataclass(frozen=True, slots=True)
class Member:
    """A part whose conductor is chosen: its options with the smallest first, which stands there now
    (``None``: one that is none of them), the percent that it may lose itself, and the entry that
    fixes its conductor."""

    key: str
    name: str
    entry: str
    options: tuple[PlanOption, ...]
    now: PlanOption | None
    limit: float


@dataclass(frozen=True, slots=True)
class PlanPath:
    """From the supply to a load: the members on it in their order, the percent lost in what is
    fixed, and the limit of all of it."""

    load: str
    members: tuple[str, ...]
    fixed: float
    limit: float


@dataclass(frozen=True, slots=True)
class PlanTree:
    """What is to be chosen below a part; ``without`` are wired parts that no length is known of.
    Where results are ``missing`` nothing can be chosen."""

    members: tuple[Member, ...]
    ways: tuple[PlanPath, ...]
    without: tuple[str, ...]
    missing: tuple[str, ...] = ()

    @property
    def priced(self) -> bool:
        """Whether every option has a price."""
        return all(o.money is not None for m in self.members for o in m.options)


@dataclass(frozen=True, slots=True)
class Plan:
    """An option for each member by its key; loads that no choice brings within their limits are
    ``unmet``; whether it is proven that nothing cheaper does."""

    chosen: Mapping[str, PlanOption]
    unmet: tuple[str, ...]
    proven: bool

    def costs(self, aim: Aim) -> float:
        return sum(option.costs(aim) for option in self.chosen.values())


def gather(
    parts: Sequence[PartInput],
    found: Mapping[str, Evaluated],
    top: str,
    effort: Effort | None = None,
    tried: Callable[[float], None] = lambda _: None,
) -> PlanTree:
    """The tree below a part (itself included), every conductor of it tried with each size;
    ``tried`` is told how much of it is done, 0 to 1. Raises
    :class:`~voltaje.core.effort.StoppedError`."""
    effort = effort or Effort()
    by_id = {part.id: part for part in parts}
    walk = list(_below(parts, top))
    below = set(walk)
    members: dict[str, Member] = {}
    without = []
    gaps = [m for key in walk for m in found[key].missing]
    gaps += [Missing(key, by_id[key].name) for key in walk if found[key].outcome is None]
    if gaps:
        return PlanTree((), (), (), tuple(one.name for one in each_once(gaps)))
    for number, part in enumerate(by_id[key] for key in walk):
        effort.spend(TRIED)
        effort.check()
        tried(number / len(walk))
        item = found[part.id]
        if item.outcome is None or not _is_wired(item):
            continue
        if not can(item.entries, HasLength) or not item.entries.length:
            without.append(part.name)
            continue
        member = _member(part, item)
        if member is not None:
            members[part.id] = member
    ways = tuple(_ways(parts, by_id, found, below, members))
    used = {key for way in ways for key in way.members}
    order = tuple(members[key] for key in members if key in used)
    return PlanTree(order, ways, tuple(without))


def _below(parts: Sequence[PartInput], top: str) -> Iterator[str]:
    children: dict[str | None, list[str]] = {}
    for part in parts:
        children.setdefault(part.parent, []).append(part.id)
    waiting = [top]
    while waiting:
        key = waiting.pop()
        yield key
        waiting += reversed(children.get(key, []))


def _is_wired(item: Evaluated) -> bool:
    wiring = item.entries
    return isinstance(wiring, Wiring) and bool(wiring.CONDUCTOR and item.outcome.device_rating)


def _member(part: PartInput, item: Evaluated) -> Member | None:
    """A part tried with every size: those that its code lets pass. ``None`` where none does, or
    where its sheet has no entry for one."""
    assert item.of is not None and item.context is not None  # noqa: S101 - it was worked
    entry: str = type(item.entries).CONDUCTOR
    model = item.of.entries_in(item.context.code)
    spec = next((spec for spec in fields(model) if spec.name == entry), None)
    if spec is None:  # its conductors are not fixed by hand, such as a dwelling's own
        return None
    sizes = [value for value, _ in spec.choices if value != "auto"]
    tried = ((value, _option(value, _tried(item, entry, value), item)) for value in sizes)
    options = [option for _, option in tried if option is not None]
    if not options:
        return None
    options.sort(key=lambda one: (one.kg, one.lost))
    standing = _option(str(part.document.get(entry, "auto")), item, item)
    now = next((o for o in options if standing and o.conductor == standing.conductor), None)
    limits, edition = item.context.limits, item.context.edition
    whole = limits.total(edition).value
    limit = whole if item.of.holds_parts else min(limits.branch(edition).value, whole)
    return Member(part.id, part.name, entry, tuple(options), now, limit)


def _tried(item: Evaluated, entry: str, value: str) -> Evaluated:
    """The part with its conductor fixed: worked, not read anew and not told."""
    assert item.of is not None and item.context is not None  # noqa: S101 - it was worked
    entries = item.entries.model_copy(update={entry: value})
    return calculate(item.of, Parsed(entries, tuple(entries.problems())), item.context)


def _chosen(item: Evaluated) -> Alternative | None:
    """Device and conductor of a part; of what has several, the first that its worksheet tells."""
    if item.outcome is None:
        return None
    if isinstance(item.outcome, SizedOutcome):
        sizing: Sized = item.outcome.sizing
        return sizing.chosen
    worked = item.report
    return next((one for one in worked.alternatives if one.chosen), None) if worked else None


def _option(value: str, tried: Evaluated, item: Evaluated) -> PlanOption | None:
    """What a size is, where it is judged good and its drop is known."""
    one = _chosen(tried)
    lost = tried.outcome.drop if tried.outcome is not None else None
    if one is None or not one.passes or lost is None:
        return None
    metres = float(item.entries.length)
    money = None if one.price is None else one.price * metres
    return PlanOption(value, one.conductor, one.mass * metres, money, lost)


def _ways(
    parts: Sequence[PartInput],
    by_id: Mapping[str, PartInput],
    found: Mapping[str, Evaluated],
    below: set[str],
    members: Mapping[str, Member],
) -> Iterator[PlanPath]:
    """One for each load that stands at the end of something."""
    holders = {part.parent for part in parts}
    for part in parts:
        item = found[part.id]
        if part.id not in below or part.id in holders or item.context is None:
            continue
        if item.outcome is None or item.of is None or item.of.holds_parts:
            continue
        if part.id not in members and not _is_wired(item):
            continue
        chain: list[str] = []
        fixed, at = 0.0, part.id
        while True:
            if at in members:
                chain.append(at)
            else:
                fixed += _own_loss(found[at])
            above = by_id[at].parent
            if above is None:
                break
            at = above
        limits, edition = item.context.limits, item.context.edition
        most = item.outcome.drop_limit or limits.total(edition)
        limit = most.value
        if limits.scheme == "tolerance":  # measured above or below nominal, less or more is left
            limit += 100 * (item.context.supply.share - 1)
        if chain:
            yield PlanPath(part.id, tuple(reversed(chain)), fixed, limit)


def _own_loss(item: Evaluated) -> float:
    """Percent that a part which is not chosen here loses in its own conductors."""
    if item.of is None or item.outcome is None or item.context is None:
        return 0.0
    if item.of.voltage_drop is None:
        return max(item.outcome.drop or 0.0, 0.0) if item.of.holds_parts else 0.0
    return float(item.of.voltage_drop(item.entries, item.outcome, item.context))


def part_by_part(tree: PlanTree, aim: Aim) -> Plan:
    """As it is done by hand: each part by itself the least that keeps its own share, circuits the
    branch limit, what feeds them what that leaves of the whole."""
    ends = {way.load for way in tree.ways}
    chosen: dict[str, PlanOption] = {}
    for member in tree.members:
        limit = member.limit
        if member.key not in ends:
            behind = [w for w in tree.ways if member.key in w.members]
            rest = min(w.limit - _limit(tree, w.load) for w in behind)
            many = max(len([k for k in w.members if k != w.load]) for w in behind)
            limit = rest / many
        good = [o for o in member.options if fits(o.lost, limit)]
        # where its share is nothing, or no size keeps it, the one that its amperes ask for
        offered = good or member.options
        chosen[member.key] = min(offered, key=lambda o: (o.costs(aim), o.lost))
    return Plan(chosen, unmet(tree, chosen), False)


def _limit(tree: PlanTree, key: str) -> float:
    return next((m.limit for m in tree.members if m.key == key), 0.0)


def unmet(tree: PlanTree, chosen: Mapping[str, PlanOption]) -> tuple[str, ...]:
    """Loads beyond a limit: on their whole way, or in a part by itself."""
    over = {m.key for m in tree.members if not fits(chosen[m.key].lost, m.limit)}
    return tuple(
        way.load
        for way in tree.ways
        if not fits(lost(way, chosen), way.limit) or over & set(way.members)
    )


def lost(way: PlanPath, chosen: Mapping[str, PlanOption]) -> float:
    """Percent lost from the supply to a load."""
    return way.fixed + sum(chosen[key].lost for key in way.members)


def together(tree: PlanTree, aim: Aim, effort: Effort | None = None) -> Plan:
    """The least that keeps every load within its limits. Loads that no size at all would keep are
    left as good as they can be, and told. Raises :class:`~voltaje.core.effort.StoppedError`."""
    best = {m.key: min(m.options, key=lambda o: (o.lost, o.costs(aim))) for m in tree.members}
    hopeless = set(unmet(tree, best))
    if not tree.members:
        return Plan({}, (), True)
    found, proven = _solve(tree, aim, best, hopeless, effort or Effort())
    return Plan(found, unmet(tree, found), proven)


def settled(
    tree: PlanTree,
    aim: Aim,
    judge: Callable[[Plan], Mapping[str, float]],
    effort: Effort | None = None,
    rounds: int = ROUNDS,
) -> Plan:
    """The same, held against the job's network: ``judge`` gives the percent that it finds lost to
    each load. Where that is beyond a limit that the sum kept (lines that differ, a neutral that
    carries), the way is given that much less, and all is chosen anew."""
    tried = tree
    plan = together(tried, aim, effort)
    seen = judge(plan)
    for _ in range(rounds):
        late = {
            way.load: seen[way.load] - lost(way, plan.chosen)
            for way in tree.ways
            if way.load in seen and not fits(seen[way.load], way.limit)
        }
        late = {load: more for load, more in late.items() if more > 0}
        if not late or set(late) <= set(plan.unmet):
            break
        tried = _tighter(tree, tried, late)
        plan = together(tried, aim, effort)
        seen = judge(plan)
    over = (w.load for w in tree.ways if not fits(seen.get(w.load, 0.0), w.limit))
    proven = plan.proven and tried is tree
    return replace(plan, unmet=tuple(dict.fromkeys((*plan.unmet, *over))), proven=proven)


def _tighter(tree: PlanTree, tried: PlanTree, late: Mapping[str, float]) -> PlanTree:
    """The tree with the ways that were too long given so much less; what a way was given less once
    it is not given back."""
    before = {way.load: way.fixed for way in tried.ways}
    ways = []
    for way in tree.ways:
        fixed = before[way.load]
        if way.load in late:
            fixed = max(way.fixed + late[way.load], fixed + SMALL)
        ways.append(replace(way, fixed=fixed))
    return replace(tree, ways=tuple(ways))


def _solve(
    tree: PlanTree,
    aim: Aim,
    best: Mapping[str, PlanOption],
    hopeless: set[str],
    effort: Effort,
) -> tuple[dict[str, PlanOption], bool]:
    forced = {key for way in tree.ways if way.load in hopeless for key in way.members}
    columns: list[tuple[str, PlanOption]] = []
    for member in tree.members:
        offered: Sequence[PlanOption] = member.options
        if member.key in forced:
            offered = (best[member.key],)
        else:
            offered = [o for o in _useful(offered, aim) if fits(o.lost, member.limit)]
        columns += [(member.key, option) for option in offered]
    at: dict[str, list[int]] = {}
    for index, (key, _) in enumerate(columns):
        at.setdefault(key, []).append(index)
    rows: list[Row] = [(dict.fromkeys(indices, 1.0), 1.0, 1.0) for indices in at.values()]
    for way in tree.ways:
        if way.load in hopeless:
            continue
        each = {i: columns[i][1].lost for key in way.members for i in at[key]}
        rows.append((each, -inf, way.limit - way.fixed))
    found = minimize([option.costs(aim) for _, option in columns], rows, effort.at_most(SECONDS))
    if found.values is None:
        effort.check()
        return dict(best), False
    chosen = {
        key: option
        for (key, option), taken in zip(columns, found.values, strict=True)
        if taken > 0.5  # no code figure: a choice that is made
    }
    return chosen, found.ended == "optimal"


def _useful(options: Sequence[PlanOption], aim: Aim) -> list[PlanOption]:
    """Those that no other one beats in both cost and drop."""
    kept: list[PlanOption] = []
    for option in sorted(options, key=lambda o: (o.costs(aim), o.lost)):
        if not kept or option.lost < kept[-1].lost:
            kept.append(option)
    return kept
