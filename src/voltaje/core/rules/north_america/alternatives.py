"""The alternatives of a need: device and conductor pairs, each with its verdict, by cost."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.report import Alternative, figure, fits, say
from voltaje.core.rules.north_america.checks import CHECKS, Case, SizingRequest
from voltaje.core.rules.north_america.conductors import LARGEST_SINGLE, MOST_SETS, label
from voltaje.core.rules.north_america.grounding import equipment_ground
from voltaje.core.rules.north_america.overcurrent import previous_standard_device
from voltaje.core.rules.north_america.wiring import (
    METALS,
    Installation,
    SizeAmpacity,
    circular_mils,
    options,
    size_ranks,
)
from voltaje.core.rules.settings import Shop
from voltaje.core.sizing import (
    Candidates,
    Verdict,
    by_habit,
    choose,
    decide,
    first_passing,
    passing,
    rejected,
    smallest,
)

# kg for each metre and circular mil: 0.0005067 mm² at 8.89 and 2.70 g/cm³
# physics, no code figure
KG_PER_MIL = {"copper": 5.067e-4 * 8.89e-3, "aluminum": 5.067e-4 * 2.70e-3}


@dataclass(frozen=True, slots=True)
class Pin:
    """What the user has fixed by hand: a device in A, a size, sets; ``None`` where free."""

    device: float | None = None
    size: Size | None = None
    sets: int | None = None

    def __bool__(self) -> bool:
        return any(x is not None for x in (self.device, self.size, self.sets))


@dataclass(frozen=True, slots=True)
class Candidate:
    """A device and a conductor with their verdict and cost: the ``column`` of its terminals, °C,
    and the ``ampacity`` of all sets, A."""

    device: float
    option: SizeAmpacity
    sets: int
    column: int
    ampacity: float
    verdict: Verdict
    mass: float
    price: float | None

    @property
    def conductor(self) -> str:
        return label(self.option.size, self.option.material, self.sets)


@dataclass(frozen=True, slots=True)
class Wires:
    """How many conductors of the line size, and whether an equipment ground goes along."""

    full: int = 2
    ground: bool = True


@dataclass(frozen=True, slots=True)
class Chosen:
    """The pair that is taken; the ``least`` conductor that would do behind its device with as many
    sets; the shop's own choice, ``free`` of what was fixed by hand; whether it ``holds``: what was
    fixed by hand is taken even where it does not."""

    pair: Candidate
    least: Candidate | None
    free: Candidate | None
    holds: bool = True


@dataclass(frozen=True, slots=True)
class Alternatives:
    """The pairs, cheapest first, and what was chosen of them."""

    all: tuple[Alternative, ...]
    choice: Chosen

    @property
    def chosen(self) -> Candidate:
        return self.choice.pair


class Pairs:
    """The candidates of one need, for the search. Everything is looked up once."""

    def __init__(
        self,
        need: SizingRequest,
        installation: Installation,
        wires: Wires,
        edition: Edition,
        shop: Shop,
    ) -> None:
        self.need, self.installation, self.wires = need, installation, wires
        self.edition, self.shop = edition, shop
        self.most_sets = 1 if installation.is_cable else MOST_SETS
        self.rank = size_ranks(edition)
        self.mils = circular_mils(edition)
        self._judged: dict[tuple[float, str, str, int], Candidate] = {}

    def pair(self, device: float, conductor: SizeAmpacity, sets: int) -> Candidate:
        """One pair, judged and priced."""
        key = (device, conductor.size, conductor.material, sets)
        if key not in self._judged:
            self._judged[key] = self._pair(device, conductor, sets)
        return self._judged[key]

    def _pair(self, device: float, option: SizeAmpacity, sets: int) -> Candidate:
        case = self._case(device, option, sets)
        mass, price = self._cost(device, option, sets)
        verdict = decide(CHECKS, case)
        return Candidate(device, option, sets, case.column, case.final, verdict, mass, price)

    def _cost(self, device: float, option: SizeAmpacity, sets: int) -> tuple[float, float | None]:
        mils = option.mils * self.wires.full
        line = self.shop.price(option.material, option.size)
        price = None if line is None else line * self.wires.full * sets
        if self.wires.ground:
            size = _ground_size(device, option.material, option.size, self.edition)
            mils += self.mils[size]
            ground = self.shop.price(option.material, Size(size))
            price = None if price is None or ground is None else price + ground * sets
        return mils * sets * KG_PER_MIL[option.material], price

    def line_cost(self, pair: Candidate) -> float:
        """What the choice between pairs is about: the price of the line conductors, or their metal
        where that is not known. The equipment ground grows with the device and is left out."""
        price = self.shop.price(pair.option.material, pair.option.size)
        return (price if price is not None else pair.option.mils) * pair.sets

    def taken(self, pairs: Sequence[Candidate]) -> Candidate | None:
        """The one that the shop takes; ``None`` where there is none."""
        return choose(pairs, self.shop.preference, self.line_cost)

    def judge(self, device: float, conductor: SizeAmpacity, sets: int) -> Verdict:
        """The verdict of all checks on one pair."""
        return decide(CHECKS, self._case(device, conductor, sets))

    def _case(self, device: float, option: SizeAmpacity, sets: int) -> Case:
        installation = self.installation.of_sets(sets)
        return Case(device, option, sets, self.need, installation, self.edition, self.rank)

    def made(self, metal: Metal, sets: int) -> tuple[SizeAmpacity, ...]:
        """Every size as that many sets carry it."""
        return options(metal, self.installation.of_sets(sets), self.edition)

    def large(self, device: float, metal: Metal, sets: int) -> Iterable[SizeAmpacity]:
        """Those that the terminals do not limit below the need, up to the largest that is pulled as
        one. Of cables there is one: where a larger one is made, it is no worse than none."""
        most = float("inf") if self.installation.is_cable else self.rank[LARGEST_SINGLE]
        needed = max(self.need.conductor, self.need.corrected) / sets * (1 - 1e-6)
        made = self.made(metal, sets)
        return (o for o in made if o.at_75 >= needed and self.rank[o.size] <= most)

    def spares(self, device: float, conductor: SizeAmpacity, sets: int, reserve: float) -> bool:
        """Whether the load is not within a share of device and conductors. A device that may exceed
        the conductor is as large as it is for another reason than the load."""
        case, left = self._case(device, conductor, sets), 1 - reserve
        need = self.need
        return (
            (need.elsewhere or fits(need.design, device * left))
            and fits(need.load, case.final * left)
            and fits(max(need.conductor, need.load), case.terminal * left)
        )

    def device_below(self, device: float) -> float:
        """The next smaller standard rating; 0 where there is none."""
        return previous_standard_device(device, self.edition)


@lru_cache(maxsize=4096)
def _ground_size(device: float, material: str, line: str, edition: Edition) -> str:
    return equipment_ground(device, material, edition, line).size


@lru_cache(maxsize=8192)
def chosen_pair(
    need: SizingRequest,
    installation: Installation,
    edition: Edition,
    material: Metal,
    wires: Wires,
    shop: Shop,
    pin: Pin,
) -> Chosen:
    """What :func:`alternatives` chooses, without what stands beside it. Raises
    :class:`NotCoveredError` when no pair passes."""
    pairs = Pairs(need, installation, wires, edition, shop)
    return _choice(pairs, _by_habit(pairs, material, not pin), material, pin)


def _by_habit(pairs: Pairs, material: Metal, first: bool) -> list[Candidate]:
    """The pairs that the shop takes one of, by its stock and its reserve; where only the smallest
    device counts, the ``first`` that any conductor stands behind: larger ones need not be tried."""
    shop = pairs.shop

    def found(of: Candidates[SizeAmpacity, Candidate], devices: Sequence[float]) -> list[Candidate]:
        if first and shop.preference == "smallest":
            return first_passing(of, sorted(devices), material)
        return [pair for device in devices for pair in passing(of, device, material)]

    return by_habit(pairs, pairs.need.devices, shop.stock, shop.reserve, found)


def _passing(pairs: Pairs, material: Metal) -> list[Candidate]:
    return [p for device in pairs.need.devices for p in passing(pairs, device, material)]


def _choice(pairs: Pairs, found: list[Candidate], material: Metal, pin: Pin) -> Chosen:
    free = pairs.taken(found)
    pair, holds = _by_hand(pairs, free, material, pin)
    # without the reserve: the equipment ground grows with what exceeds the least (250.122(B))
    alike = (p for p in found if p.device == pair.device and p.sets == pair.sets)
    least = next(alike, None) if not pairs.shop.reserve else None
    least = least or smallest(pairs, pair.device, material, pair.sets)
    return Chosen(pair, least, free, holds)


@lru_cache(maxsize=1024)
def alternatives(
    need: SizingRequest,
    installation: Installation,
    edition: Edition,
    material: Metal = "copper",
    wires: Wires | None = None,
    shop: Shop | None = None,
    pin: Pin | None = None,
) -> Alternatives:
    """The alternatives of a need. Raises :class:`NotCoveredError` when no pair passes."""
    shop, pin = shop or Shop(), pin or Pin()
    pairs = Pairs(need, installation, wires or Wires(), edition, shop)
    found = _passing(pairs, material)
    other: Metal = METALS[1] if material == METALS[0] else METALS[0]
    kept = found if pairs.shop.is_plain else _by_habit(pairs, material, False)
    choice = _choice(pairs, kept, material, pin)
    chosen = choice.pair
    every = [*found, *_passing(pairs, other), *rejected(pairs, found, material)]
    if not any(_same(pair, chosen) for pair in every):
        every.append(chosen)
    ordered = sorted(every, key=lambda p: _rank(p, material, shop))
    told = tuple(alternative_of(pair, _same(pair, chosen)) for pair in ordered)
    return Alternatives(told, choice)


def alternative_of(pair: Candidate, chosen: bool) -> Alternative:
    """A pair as it is told beside others."""
    return Alternative(
        pair.device,
        pair.conductor,
        pair.option.size,
        pair.sets,
        pair.option.material,
        pair.ampacity,
        pair.verdict.passes,
        chosen,
        pair.verdict.why,
        (pair.verdict.rule,),
        pair.mass,
        pair.price,
        check=pair.verdict.check,
    )


def _same(one: Candidate, other: Candidate) -> bool:
    return (one.device, one.sets, one.option.size, one.option.material) == (
        other.device,
        other.sets,
        other.option.size,
        other.option.material,
    )


def _rank(pair: Candidate, material: str, shop: Shop) -> tuple[object, ...]:
    """Cheapest first: by price where both are known, else by metal, the job's material first."""
    if shop.prices:
        unknown = pair.price is None
        return (
            unknown,
            pair.price or 0.0,
            pair.option.material != material,
            pair.mass,
            pair.device,
        )
    return (pair.option.material != material, round(pair.mass, 9), pair.device)


def _by_hand(
    pairs: Pairs, free: Candidate | None, material: Metal, pin: Pin
) -> tuple[Candidate, bool]:
    """The chosen pair, and whether it holds: the shop's, or the user's by hand even where it does
    not."""
    edition = pairs.edition

    def of_sets(
        of: Candidates[SizeAmpacity, Candidate], devices: Sequence[float]
    ) -> list[Candidate]:
        sets = pin.sets or 1
        return [one for d in devices if (one := smallest(of, d, material, sets)) is not None]

    if not pin:
        if free is None:
            raise _none_passes(pairs, material)
        return free, True
    devices = (pin.device,) if pin.device is not None else pairs.need.devices
    if pin.sets is not None and pin.device is None and pin.size is None:
        # only the sets are fixed: the rest is the shop's habit
        kept = by_habit(pairs, devices, pairs.shop.stock, pairs.shop.reserve, of_sets)
        if kept:
            return pairs.taken(kept) or kept[0], True
    tried: list[Candidate] = []
    for device in devices:
        if pin.size is None:
            if pin.sets is None:
                tried += passing(pairs, device, material)
            elif found := smallest(pairs, device, material, pin.sets):
                tried.append(found)
        else:
            every = pairs.made(material, pin.sets or 1)
            option = next((o for o in every if o.size == pin.size), None)
            if option is None:
                raise NotCoveredError(
                    edition.title,
                    say(
                        "{size} in {method}",
                        size=label(pin.size, material),
                        method=pairs.installation.method,
                    ),
                )
            tried.append(pairs.pair(device, option, pin.sets or 1))
    good = [pair for pair in tried if pair.verdict.passes]
    if good:
        return pairs.taken(good) or good[0], True
    if tried:
        return tried[0], False
    # a device by hand that no conductor may stand behind
    device = devices[0] if devices else 0.0
    return _behind(pairs, device, free, material, pin), False


def _none_passes(pairs: Pairs, material: Metal) -> NotCoveredError:
    return NotCoveredError(
        pairs.edition.title,
        say(
            "a {material} conductor for {conductor} A run like this",
            material=say(material),
            conductor=figure(pairs.need.conductor, 1),
        ),
    )


def _behind(
    pairs: Pairs, device: float, free: Candidate | None, material: Metal, pin: Pin
) -> Candidate:
    """A device that does not hold, with the conductor that it would have by its own rating: what
    is wrong is the device, and the conductor of another would only add to it."""
    need = pairs.need
    own = replace(
        need,
        design=min(need.design, device),
        load=min(need.load, device),
        conductor=need.conductor if need.elsewhere else min(need.conductor, device),
        ceiling=float("inf"),
    )
    other = Pairs(own, pairs.installation, pairs.wires, pairs.edition, pairs.shop)
    found = pairs.taken(passing(other, device, material))
    if pin.sets is not None:
        found = smallest(other, device, material, pin.sets) or found
    if found is None:
        found = free
    if found is None:  # the last of the list would be no answer
        raise _none_passes(pairs, material)
    return pairs.pair(device, found.option, found.sets)
