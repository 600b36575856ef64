"""A bench in numbers: the joints solved, the group told, what is wrong and what would mend it."""

from __future__ import annotations

import cmath
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import pairwise
from math import radians
from typing import TYPE_CHECKING, Literal

from voltaje.core.codes import practice
from voltaje.core.electrical.network import (
    EARTH,
    Coil,
    ElementError,
    Network,
    ShortError,
    Source,
    solution_or_none,
    solved,
)
from voltaje.core.electrical.windings import (
    VectorGroup,
    across,
    contracted,
    group_of,
    joined,
    mended_by,
    phases_of,
    small_unit,
)
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.interface import Outcome
from voltaje.core.kinds.winding_connections.bench import (
    GROUND,
    NEUTRAL,
    SUPPLY,
    BenchCoil,
    Net,
    by_token,
    is_end,
    nets,
    tokens,
    windings,
)
from voltaje.core.kinds.winding_connections.entries import WindingConnectionsEntries
from voltaje.core.report import fits, say
from voltaje.core.rules.context import Context

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution

USUAL_VA = 10_000.0  # no code figure: the size of a unit that is not told
NOTHING = 1e-3  # no code figure: a share of the rated amperes below which none is worth telling


@dataclass(frozen=True, slots=True)
class ClosedJoint:
    """A joint that would be closed on ``volts``; without a name where the windings themselves close
    it."""

    joint: str
    volts: float | None


@dataclass(frozen=True, slots=True)
class Mend:
    """A change that makes it a standard group: a coil turned round, or two lines changed over."""

    how: Literal["coil", "lines"]
    what: tuple[str, ...]
    group: VectorGroup


@dataclass(frozen=True, slots=True)
class MeterReading:
    """A meter between two points: the phasor, V; ``None`` where nothing ties them together."""

    one: str
    other: str
    volts: complex | None


@dataclass(frozen=True, slots=True, kw_only=True)
class WindingConnectionsOutcome(Outcome):
    """The ``coils`` and ``nets`` on the bench; solved: the phasor of every end and point (V,
    counted from the neutral, or from the middle of what floats), those that ``float`` and those
    that nothing feeds (``dead``), volts and amperes of each coil (rated 0: no size told), the
    lines on both sides, the group, the meter. ``short`` where it cannot be. ``network`` is what was
    solved, where there are three lines on both sides."""

    coils: tuple[BenchCoil, ...]
    nets: tuple[Net, ...]
    fed: tuple[str, ...]
    taken: tuple[str, ...]
    at: Mapping[str, complex] = field(default_factory=dict)
    floating: frozenset[str] = frozenset()
    dead: frozenset[str] = frozenset()
    across: Mapping[str, complex] = field(default_factory=dict)
    currents: Mapping[str, complex] = field(default_factory=dict)
    rated: Mapping[str, float] = field(default_factory=dict)
    group: VectorGroup | None = None
    turned: bool = False
    network: Network | None = None
    reading: MeterReading | None = None
    short: ClosedJoint | None = None

    @property
    def lines_brought(self) -> bool:
        """Whether three lines are taken, and each stands on something."""
        return len(self.taken) == 3 and all(line in self.at for line in self.taken)


def calculate(entries: WindingConnectionsEntries, context: Context) -> WindingConnectionsOutcome:
    """Raises :class:`WrongEntryError` at what is missing or cannot be read."""
    coils = windings(entries)
    found = nets(entries, coils)
    if not entries.supply and not entries.sources:
        raise WrongEntryError("supply", say("Needed: the volts of the supply, like 400 V."))
    network = _network(entries, coils)
    fed, taken = (
        _lines(entries.supplied_lines, "supplied_lines"),
        _lines(entries.load_lines, "load_lines"),
    )
    both = [*fed, *taken]
    there = _nodes(network)
    three = len(fed) == len(taken) == 3 and all(line in there for line in both)
    try:
        solution, place = _solved(network)
    except ElementError as error:
        short = ClosedJoint(error.name, abs(error.volts)) if isinstance(error, ShortError) else None
        return WindingConnectionsOutcome(
            coils=coils,
            nets=found,
            fed=fed,
            taken=taken,
            short=short or ClosedJoint("", None),
            network=network if three else None,
        )
    at, floating = _at(solution, place, both)
    high, low = [place.get(line, line) for line in fed], [place.get(line, line) for line in taken]
    group, turned = (_group(solution, high, low) if three else None), False
    if group is not None:
        turned = abs(group.low[0]) > abs(group.high[0]) * (1 + NOTHING)
        if turned:  # the letter of the high-voltage side comes first, whichever is fed
            group = _group(solution, low, high)
    rated = {}
    if entries.kva:
        rated = {coil.name: entries.kva / coil.volts for coil in coils}
    return WindingConnectionsOutcome(
        coils=coils,
        nets=found,
        fed=fed,
        taken=taken,
        at=at,
        floating=floating,
        dead=frozenset(solution.dead),
        across={c.name: solution.phasor(*(place[end] for end in c.ends)) for c in coils},
        currents={coil.name: solution.current(coil.name) for coil in coils},
        rated=rated,
        group=group,
        turned=turned,
        network=network if three else None,
        reading=_reading(entries, solution, place),
    )


def _solved(network: Network) -> tuple[Solution, Mapping[str, str]]:
    """The solution with the node of every name. What cannot be solved is solved again joint by
    joint, for the joint's name; raises ``ElementError``."""
    try:
        small, place = contracted(network)
    except ElementError:
        pass
    else:
        found = solution_or_none(small)
        if found is not None:
            return found, place
    return solved(network), {name: name for name in _nodes(network)}


def _lines(text: str, path: str) -> tuple[str, ...]:
    """The points of one side. Raises :class:`WrongEntryError` for one that is told twice."""
    found = [token for group in tokens(text) for token in group]
    if len(set(found)) < len(found):
        words = say("A point is named twice: two lines cannot stand on one point.")
        raise WrongEntryError(path, words)
    return tuple(found)


def _network(entries: WindingConnectionsEntries, coils: Sequence[BenchCoil]) -> Network:
    """Units, joints and sources as elements."""
    va = entries.kva or USUAL_VA
    percent = (entries.impedance or 0.0) if entries.kva else 0.0
    cores = []
    for unit in dict.fromkeys(coil.unit for coil in coils):
        own = [Coil(coil.name, *coil.ends, coil.volts) for coil in coils if coil.unit == unit]
        cores.append(small_unit(unit, own, va, percent))
    # in the order in which they were told: the one that closes on volts is then the last told
    told = [group for row in entries.joints for group in tokens(row.ends)]
    joints = [pair for group in told for pair in pairwise(group)]
    joints += [(NEUTRAL, EARTH), (GROUND, EARTH)]
    sources: list[Source] = []
    if entries.supply:
        order = SUPPLY if entries.sequence == "ABC" else ("A", "C", "B")
        sources += phases_of(entries.supply, order, EARTH)
    sources += _others(entries)
    return joined(cores, joints, sources)


def _others(entries: WindingConnectionsEntries) -> list[Source]:
    found = []
    for row in entries.sources:
        path = f"sources.{row.id}"
        if not row.name:
            raise WrongEntryError(f"{path}.name", say("Needed: the point it feeds, like p."))
        if row.volts is None:
            raise WrongEntryError(f"{path}.volts", say("Needed: its volts, like 120 V."))
        start = row.other or NEUTRAL
        if start == row.name:
            words = say("A source stands between two points: give another.")
            raise WrongEntryError(f"{path}.other", words)
        if entries.supply and row.name in SUPPLY and start in (*SUPPLY, NEUTRAL):
            words = say(
                "{name} is a line of the supply already: feed another point.", name=row.name
            )
            raise WrongEntryError(f"{path}.name", words)
        volts = cmath.rect(row.volts, radians(row.angle or 0.0))
        found.append(Source(f"source {row.id}", row.name, start, volts))
    return found


def _nodes(network: Network) -> set[str]:
    found = {EARTH}
    for source in network.sources:
        found |= {source.plus, source.minus}
    for item in network.conductors:
        found |= {item.start, item.end}
    for coil in network.coils:
        found |= {coil.start, coil.end}
    return found


def _at(
    solution: Solution, place: Mapping[str, str], lines: Sequence[str]
) -> tuple[dict[str, complex], frozenset[str]]:
    """Phasors of all ends and points. A piece that nothing ties to the neutral is counted from the
    middle of the lines that stand on it, or of its own points."""
    volts = solution.waves[1].volts
    at: dict[str, complex] = {}
    loose: dict[str, complex] = {}
    for name, node in place.items():
        if name not in (EARTH, GROUND):
            (at if solution.tied(node, EARTH) else loose)[name] = volts[node]
    floating = frozenset(loose)
    while loose:
        first = place[next(iter(loose))]
        piece = [name for name in loose if solution.tied(place[name], first)]
        marked = [name for name in lines if name in piece] or piece
        middle = sum(loose[name] for name in marked) / len(marked)
        for name in piece:
            at[name] = loose.pop(name) - middle
    return at, floating


def _group(solution: Solution, high: Sequence[str], low: Sequence[str]) -> VectorGroup | None:
    try:
        return group_of(solution, high, low)
    except (KeyError, ZeroDivisionError):
        return None


def mend_of(outcome: WindingConnectionsOutcome) -> Mend | None:
    """The single change that makes it a standard group: a coil turned round, else two lines changed
    over; ``None`` where none does. Asked only when somebody looks: each change is solved."""
    group = outcome.group
    if outcome.network is None or (group is not None and group.name):
        return None
    high, low = outcome.fed, outcome.taken
    if outcome.turned:
        high, low = low, high
    if not len(high) == len(low) == 3:
        return None
    return _mended(outcome.network, high, low)


@lru_cache(maxsize=64)
def _mended(network: Network, high: tuple[str, ...], low: tuple[str, ...]) -> Mend | None:
    try:
        coils = mended_by(network, high, low, most=1)
    except (KeyError, ZeroDivisionError):
        return None
    if coils is not None:
        return Mend("coil", *coils)
    try:
        solution, place = _solved(network)
    except ElementError:
        return None
    for one, other in ((1, 2), (0, 1), (0, 2)):
        lines = list(low)
        lines[one], lines[other] = lines[other], lines[one]
        found = _group(solution, [place[p] for p in high], [place[p] for p in lines])
        if found is not None and found.name:
            return Mend("lines", (low[one], low[other]), found)
    return None


def _reading(
    entries: WindingConnectionsEntries, solution: Solution, place: Mapping[str, str]
) -> MeterReading | None:
    """The meter between two points, as typed. Raises :class:`WrongEntryError`."""
    asked = [token for group in tokens(entries.meter) for token in group]
    if not asked:
        return None
    if len(asked) != 2:
        raise WrongEntryError("meter", say("Give two ends or points, like x2+ z2-."))
    for token in asked:
        if token not in place:
            words = say("There is no “{token}” on the bench.", token=token)
            raise WrongEntryError("meter", words)
    one, other = asked
    return MeterReading(one, other, across(solution, place[one], place[other]))


def over(outcome: WindingConnectionsOutcome, coil: BenchCoil) -> float:
    """Percent of its rated volts that a coil stands at."""
    return 100 * abs(outcome.across.get(coil.name, 0j)) / coil.volts


def overfluxed(outcome: WindingConnectionsOutcome) -> list[BenchCoil]:
    """The first coil of each unit that stands above its volts."""
    most = practice().limit("overflux").value
    found: dict[str, BenchCoil] = {}
    for coil in outcome.coils:
        if not fits(over(outcome, coil), most):
            found.setdefault(coil.unit, coil)
    return list(found.values())


def net_of(outcome: WindingConnectionsOutcome, token: str) -> Net | None:
    """The conductor on which an end or a point stands; ``None`` for one that is joined to
    nothing."""
    return by_token(outcome.nets).get(token)


def open_ends(outcome: WindingConnectionsOutcome) -> list[str]:
    """Ends that are joined to nothing."""
    joined_ = by_token(outcome.nets)
    return [
        end for coil in outcome.coils for end in coil.ends if end not in joined_ and is_end(end)
    ]


def fed_side(outcome: WindingConnectionsOutcome) -> frozenset[str]:
    """Coils that hang on the lines fed, directly or through others of them."""
    rail = by_token(outcome.nets)

    def key(end: str) -> tuple[str, ...]:
        return rail[end].members if end in rail else (end,)

    reached = {rail[line].members for line in outcome.fed if line in rail}
    found: set[str] = set()
    growing = True
    while growing:
        growing = False
        for coil in outcome.coils:
            ends = {key(end) for end in coil.ends}
            if coil.name not in found and ends & reached:
                found.add(coil.name)
                # the neutral ties both sides together: it leads no further
                reached |= {one for one in ends if not {NEUTRAL, GROUND, "n"} & set(one)}
                growing = True
    return frozenset(found)
