"""The ladder of alternatives: device and conductor pairs, each with its verdict, by cost."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Metal, Size
from voltaje.core.report import Alternative, figure, fits, say
from voltaje.core.rules.north_america.choose import SizingRequest, Verdict, judge
from voltaje.core.rules.north_america.conductors import LARGEST_SINGLE, MOST_SETS, label
from voltaje.core.rules.north_america.grounding import equipment_ground
from voltaje.core.rules.north_america.overcurrent import previous_standard_device
from voltaje.core.rules.north_america.wiring import (
    METALS,
    Installation,
    SizeAmpacity,
    options,
    size_ranks,
)
from voltaje.core.rules.settings import Shop

# kg for each metre and circular mil: 0.0005067 mm² at 8.89 and 2.70 g/cm³
# physics, no code figure
KG_PER_MIL = {"copper": 5.067e-4 * 8.89e-3, "aluminum": 5.067e-4 * 2.70e-3}
# Common practice: beyond this many sets more than needed no shop goes to save metal.
FURTHER_SETS = 1


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
    """A device and a conductor with their verdict and cost."""

    device: float
    option: SizeAmpacity
    sets: int
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
class Ladder:
    """The pairs, cheapest first, and what was chosen of them."""

    rungs: tuple[Alternative, ...]
    choice: Chosen

    @property
    def chosen(self) -> Candidate:
        return self.choice.pair


class Builder:
    """Builds one ladder. ``order`` ranks sizes; everything else is looked up once."""

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
        self.rank = size_ranks(edition)
        self.mils = circular_mils(edition)
        self._judged: dict[tuple[float, str, str, int], Candidate] = {}

    def pair(self, device: float, option: SizeAmpacity, sets: int) -> Candidate:
        """One pair, judged and priced."""
        key = (device, option.size, option.material, sets)
        if key not in self._judged:
            self._judged[key] = self._pair(device, option, sets)
        return self._judged[key]

    def _pair(self, device: float, option: SizeAmpacity, sets: int) -> Candidate:
        verdict = self._judge(device, option, sets)
        mass, price = self._cost(device, option, sets)
        return Candidate(device, option, sets, verdict, mass, price)

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

    def smallest(self, device: float, material: Metal, sets: int) -> Candidate | None:
        """The smallest conductor that passes behind ``device``, or ``None``."""
        for option in self._sizes(material, sets):
            if self._judge(device, option, sets).passes:
                return self.pair(device, option, sets)
        return None

    def _judge(self, device: float, option: SizeAmpacity, sets: int) -> Verdict:
        lies = self.installation.of_sets(sets)
        return judge(device, option, sets, self.need, lies, self.edition, self.rank)

    def options(self, material: Metal, sets: int) -> tuple[SizeAmpacity, ...]:
        """Every size as that many sets carry it."""
        return options(material, self.installation.of_sets(sets), self.edition)

    def _sizes(self, material: Metal, sets: int) -> tuple[SizeAmpacity, ...]:
        found = self.options(material, sets)
        # of cables there is one: where a larger one is made, it is no worse than none
        most = float("inf") if self.installation.is_cable else self.rank[LARGEST_SINGLE]
        # nothing that the terminals limit below the need can pass: the search starts there
        needed = max(self.need.conductor, self.need.corrected) / sets * (1 - 1e-6)
        return tuple(o for o in found if o.at_75 >= needed and self.rank[o.size] <= most)

    def passing(self, device: float, material: Metal) -> list[Candidate]:
        """The smallest passing conductor for each sensible number of sets; dominated ones, which
        take more metal with more sets, are left out."""
        found: list[Candidate] = []
        most = 1 if self.installation.is_cable else MOST_SETS
        for sets in range(1, most + 1):
            pair = self.smallest(device, material, sets)
            if pair and (not found or pair.mass < min(p.mass for p in found)):
                found.append(pair)
            if found and sets >= found[0].sets + FURTHER_SETS:
                break
        return found


@lru_cache(maxsize=4096)
def _ground_size(device: float, material: str, line: str, edition: Edition) -> str:
    return equipment_ground(device, material, edition, line).size


@lru_cache(maxsize=64)
def circular_mils(edition: Edition) -> Mapping[str, float]:
    """Circular mils by size."""
    return edition.table("conductor_properties").column("circular mils")


@lru_cache(maxsize=8192)
def choose(
    need: SizingRequest,
    installation: Installation,
    edition: Edition,
    material: Metal,
    wires: Wires,
    shop: Shop,
    pin: Pin,
) -> Chosen:
    """What :func:`build` chooses, without what stands beside it. Raises
    :class:`NotCoveredError` when no pair passes."""
    builder = Builder(need, installation, wires, edition, shop)
    if shop.preference == "smallest" and not pin:
        # the smallest device that any conductor stands behind: larger ones need not be tried
        tried = (builder.passing(device, material) for device in sorted(need.devices))
        passing = next((pairs for pairs in tried if pairs), [])
    else:
        passing = _passing(builder, material)
    return _choice(builder, passing, material, pin, edition)


def _passing(builder: Builder, material: Metal) -> list[Candidate]:
    return [p for device in builder.need.devices for p in builder.passing(device, material)]


def _choice(
    builder: Builder, passing: list[Candidate], material: Metal, pin: Pin, edition: Edition
) -> Chosen:
    free = _choose(passing, builder.shop)
    pair, holds = _pinned(builder, free, passing, material, pin, edition)
    alike = (p for p in passing if p.device == pair.device and p.sets == pair.sets)
    least = next(alike, None) or builder.smallest(pair.device, material, pair.sets)
    return Chosen(pair, least, free, holds)


@lru_cache(maxsize=1024)
def build(
    need: SizingRequest,
    installation: Installation,
    edition: Edition,
    material: Metal = "copper",
    wires: Wires | None = None,
    shop: Shop | None = None,
    pin: Pin | None = None,
) -> Ladder:
    """The ladder for a need. Raises :class:`NotCoveredError` when no pair passes."""
    shop, pin = shop or Shop(), pin or Pin()
    builder = Builder(need, installation, wires or Wires(), edition, shop)
    passing = _passing(builder, material)
    other: Metal = METALS[1] if material == METALS[0] else METALS[0]
    choice = _choice(builder, passing, material, pin, edition)
    chosen = choice.pair
    pairs = [*passing, *_passing(builder, other), *_rejected(builder, passing, material, edition)]
    if not any(_same(pair, chosen) for pair in pairs):
        pairs.append(chosen)
    ordered = sorted(pairs, key=lambda p: _rank(p, material, shop))
    return Ladder(tuple(_rung(pair, _same(pair, chosen)) for pair in ordered), choice)


def _rung(pair: Candidate, chosen: bool) -> Alternative:
    return Alternative(
        pair.device,
        pair.conductor,
        pair.option.size,
        pair.sets,
        pair.option.material,
        pair.verdict.ampacity,
        pair.verdict.passes,
        chosen,
        pair.verdict.why,
        (pair.verdict.rule,),
        pair.mass,
        pair.price,
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


def _choose(passing: list[Candidate], shop: Shop) -> Candidate | None:
    """The shop's pair. The smallest device comes with the fewest sets and the cheapest conductor
    for it; the other habits take the cheapest conductor first and then its largest device."""
    if not passing:
        return None
    if shop.preference == "smallest":
        return min(passing, key=lambda p: (p.device, p.sets, _cost(p, shop)))
    pairs = passing
    if shop.preference == "ampacity":
        pairs = [p for p in passing if fits(p.device, p.verdict.ampacity)] or passing
    cheapest = min(pairs, key=lambda p: (p.sets, _cost(p, shop), p.device))
    alike = [p for p in pairs if p.option == cheapest.option and p.sets == cheapest.sets]
    return max(alike, key=lambda p: p.device)


def _cost(pair: Candidate, shop: Shop) -> float:
    # the equipment ground grows with the device; the line conductor is what the choice is about
    price = shop.price(pair.option.material, pair.option.size)
    line = price if price is not None else pair.option.mils
    return line * pair.sets


def _pinned(
    builder: Builder,
    free: Candidate | None,
    passing: list[Candidate],
    material: Metal,
    pin: Pin,
    edition: Edition,
) -> tuple[Candidate, bool]:
    """The chosen pair, and whether it holds: the shop's, or the user's by hand even where it does
    not."""
    if not pin:
        if free is None:
            raise NotCoveredError(
                edition.title,
                say(
                    "a {material} conductor for {conductor} A run like this",
                    material=say(material),
                    conductor=figure(builder.need.conductor, 1),
                ),
            )
        return free, True
    devices = (pin.device,) if pin.device is not None else builder.need.devices
    tried: list[Candidate] = []
    for device in devices:
        if pin.size is None:
            if pin.sets is None:
                tried += builder.passing(device, material)
            elif found := builder.smallest(device, material, pin.sets):
                tried.append(found)
        else:
            every = builder.options(material, pin.sets or 1)
            option = next((o for o in every if o.size == pin.size), None)
            if option is None:
                raise NotCoveredError(
                    edition.title,
                    say(
                        "{size} in {method}",
                        size=label(pin.size, material),
                        method=builder.installation.method,
                    ),
                )
            tried.append(builder.pair(device, option, pin.sets or 1))
    good = [pair for pair in tried if pair.verdict.passes]
    if good:
        best = _choose(good, builder.shop)
        return (best or good[0]), True
    if tried:
        return tried[0], False
    # a device by hand that no conductor may stand behind
    device = devices[0] if devices else 0.0
    return _behind(builder, device, free, material, pin, edition), False


def _behind(
    builder: Builder,
    device: float,
    free: Candidate | None,
    material: Metal,
    pin: Pin,
    edition: Edition,
) -> Candidate:
    """A device that does not hold, with the conductor that it would have by its own rating: what
    is wrong is the device, and the conductor of another would only add to it."""
    need = builder.need
    own = replace(
        need,
        design=min(need.design, device),
        load=min(need.load, device),
        conductor=need.conductor if need.elsewhere else min(need.conductor, device),
        ceiling=float("inf"),
    )
    other = Builder(own, builder.installation, builder.wires, edition, builder.shop)
    found = _choose(other.passing(device, material), builder.shop)
    if pin.sets is not None:
        found = other.smallest(device, material, pin.sets) or found
    if found is None:
        found = free
    if found is None:  # the last of the list would be no answer
        raise NotCoveredError(
            edition.title,
            say(
                "a {material} conductor for {conductor} A run like this",
                material=say(material),
                conductor=figure(need.conductor, 1),
            ),
        )
    return builder.pair(device, found.option, found.sets)


def _rejected(
    builder: Builder, passing: list[Candidate], material: Metal, edition: Edition
) -> list[Candidate]:
    """What one would try next and may not: the next smaller conductor behind each device, and
    the next smaller device with the smallest conductor."""
    found: list[Candidate] = []
    every = builder.options(material, 1)
    for pair in passing:
        if pair.sets > 1:
            continue
        index = every.index(pair.option)
        if index:
            below = builder.pair(pair.device, every[index - 1], 1)
            # once is enough for a conductor that fails for the same reason behind a larger device
            known = any(
                p.option == below.option and p.verdict.address == below.verdict.address
                for p in found
            )
            if not below.verdict.passes and not known:
                found.append(below)
    if passing:
        first = min(passing, key=lambda p: p.device)
        device = previous_standard_device(first.device, edition)
        if device:
            small = builder.pair(device, first.option, first.sets)
            if not small.verdict.passes:
                found.append(small)
    return found
