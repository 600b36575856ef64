"""The search among a code's candidates: the smallest that pass, what is taken of them, and what
one would try next."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from math import isclose
from typing import Generic, Literal, Protocol, TypeVar, cast

from voltaje.core.codes import NotCoveredError
from voltaje.core.codes.vocabulary import Metal
from voltaje.core.report import fits
from voltaje.core.sizing.verdict import Verdict

# which of the pairs that pass a shop takes
Preference = Literal["smallest", "maximum", "ampacity"]
# Common practice: beyond this many sets more than needed no shop goes to save metal.
FURTHER_SETS = 1


class Pair(Protocol):
    """A device in A and a conductor (the ``option``, as ``made`` gives it), judged: ``ampacity`` in
    A and ``mass`` in kg for each metre, both of all sets."""

    @property
    def device(self) -> float: ...

    @property
    def option(self) -> object: ...

    @property
    def sets(self) -> int: ...

    @property
    def ampacity(self) -> float: ...

    @property
    def mass(self) -> float: ...

    @property
    def verdict(self) -> Verdict: ...


Conductor = TypeVar("Conductor")
Judged = TypeVar("Judged", bound=Pair)
JudgedPair = TypeVar("JudgedPair", bound=Pair, covariant=True)


class Candidates(Protocol[Conductor, JudgedPair]):
    """What a family brings to the search. ``most_sets`` go in parallel at most."""

    @property
    def most_sets(self) -> int: ...

    def made(self, metal: Metal, sets: int) -> Sequence[Conductor]:
        """Every conductor that is made, smallest first."""

    def large(self, device: float, metal: Metal, sets: int) -> Iterable[Conductor]:
        """Those of them that are worth a look behind that device, smallest first: what is left
        out passes no check of ampacity."""

    def judge(self, device: float, conductor: Conductor, sets: int) -> Verdict:
        """The verdict of all checks on one pair."""

    def pair(self, device: float, conductor: Conductor, sets: int) -> JudgedPair:
        """One pair, judged and priced."""

    def device_below(self, device: float) -> float:
        """The next smaller device; 0 where there is none."""

    def spares(self, device: float, conductor: Conductor, sets: int, reserve: float) -> bool:
        """Whether device and conductor carry the load with a share of them to spare."""


@dataclass(frozen=True, slots=True)
class Reserved(Generic[Conductor, JudgedPair]):
    """Candidates of which only those are taken that spare a ``reserve``, a share. A pair is judged
    by the rules alone."""

    of: Candidates[Conductor, JudgedPair]
    reserve: float

    @property
    def most_sets(self) -> int:
        return self.of.most_sets

    def made(self, metal: Metal, sets: int) -> Sequence[Conductor]:
        """As without a reserve."""
        return self.of.made(metal, sets)

    def large(self, device: float, metal: Metal, sets: int) -> Iterable[Conductor]:
        """As without a reserve."""
        return self.of.large(device, metal, sets)

    def judge(self, device: float, conductor: Conductor, sets: int) -> Verdict:
        """The verdict, not passed without the reserve."""
        found = self.of.judge(device, conductor, sets)
        if found.passes and not self.of.spares(device, conductor, sets, self.reserve):
            return replace(found, passes=False)
        return found

    def pair(self, device: float, conductor: Conductor, sets: int) -> JudgedPair:
        """As without a reserve."""
        return self.of.pair(device, conductor, sets)

    def device_below(self, device: float) -> float:
        """As without a reserve."""
        return self.of.device_below(device)

    def spares(self, device: float, conductor: Conductor, sets: int, reserve: float) -> bool:
        """As without a reserve."""
        return self.of.spares(device, conductor, sets, reserve)


def by_habit(
    of: Candidates[Conductor, Judged],
    devices: Sequence[float],
    stock: Sequence[float],
    reserve: float,
    found: Callable[[Candidates[Conductor, Judged], Sequence[float]], list[Judged]],
) -> list[Judged]:
    """What is ``found`` behind devices in ``stock`` (empty: any) with a ``reserve``. Where nothing
    is, behind any device with the reserve, and only then without it: a larger load makes nothing
    smaller."""
    kept = [device for device in devices if any(isclose(device, one) for one in stock)]
    spared: Candidates[Conductor, Judged] = Reserved(of, reserve) if reserve else of
    tries: list[tuple[Candidates[Conductor, Judged], Sequence[float]]] = []
    if stock:
        tries.append((spared, kept))
    tries += [(spared, devices)]
    if reserve:
        tries += [(of, kept), (of, devices)] if stock else [(of, devices)]
    for candidates, ones in tries:
        if ones and (pairs := found(candidates, ones)):
            return pairs
    return []


def smallest(
    of: Candidates[Conductor, Judged], device: float, metal: Metal, sets: int = 1
) -> Judged | None:
    """The smallest conductor that passes behind ``device``; ``None`` where none does."""
    for conductor in of.large(device, metal, sets):
        if of.judge(device, conductor, sets).passes:
            return of.pair(device, conductor, sets)
    return None


def passing(of: Candidates[Conductor, Judged], device: float, metal: Metal) -> list[Judged]:
    """The smallest passing conductor for each sensible number of sets; dominated ones, which take
    more metal with more sets, are left out."""
    found: list[Judged] = []
    for sets in range(1, of.most_sets + 1):
        pair = smallest(of, device, metal, sets)
        if pair and (not found or pair.mass < min(p.mass for p in found)):
            found.append(pair)
        if found and sets >= found[0].sets + FURTHER_SETS:
            break
    return found


def first_passing(
    of: Candidates[Conductor, Judged], devices: Iterable[float], metal: Metal
) -> list[Judged]:
    """The pairs behind the first of the ``devices`` that any conductor stands behind."""
    tried = (passing(of, device, metal) for device in devices)
    return next((pairs for pairs in tried if pairs), [])


def choose(
    pairs: Sequence[Judged], preference: Preference, cost: Callable[[Judged], float]
) -> Judged | None:
    """The pair that a shop takes of those that pass. The smallest device comes with the fewest sets
    and the cheapest conductor for it; the other habits take the cheapest conductor first and then
    its largest device, ``ampacity`` none above what the conductor carries."""
    if not pairs:
        return None
    if preference == "smallest":
        return min(pairs, key=lambda p: (p.device, p.sets, cost(p)))
    if preference == "ampacity":
        pairs = [p for p in pairs if fits(p.device, p.ampacity)] or pairs
    cheapest = min(pairs, key=lambda p: (p.sets, cost(p), p.device))
    alike = [p for p in pairs if p.option == cheapest.option and p.sets == cheapest.sets]
    return max(alike, key=lambda p: p.device)


def rejected(
    of: Candidates[Conductor, Judged], pairs: Sequence[Judged], metal: Metal
) -> Iterator[Judged]:
    """What one would try next and may not: the next smaller conductor behind each device, and the
    next smaller device with the smallest conductor."""
    told: set[tuple[object, ...]] = set()
    for pair in pairs:
        if pair.sets > 1:
            continue
        made = of.made(metal, 1)
        index = [*made].index(cast(Conductor, pair.option))
        if not index:
            continue
        below = of.pair(pair.device, made[index - 1], 1)
        # once is enough for a conductor that fails for the same reason behind a larger device
        same = (index, below.verdict.address)
        if not below.verdict.passes and same not in told:
            told.add(same)
            yield below
    if not pairs:
        return
    first = min(pairs, key=lambda p: p.device)
    if device := of.device_below(first.device):
        try:
            smaller = of.pair(device, cast(Conductor, first.option), first.sets)
        except NotCoveredError:  # of what the edition does not answer nothing is said
            return
        if not smaller.verdict.passes:
            yield smaller
