"""Windings without labels: an ohmmeter finds the ends of each coil, a low test voltage on one and a
voltmeter its ratio, one joint and a reading across the last gap its polarity.

Common practice, no source: the units are usual ones, the way of finding out is everybody's.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from random import Random

from voltaje.core.electrical.meter import VOLTMETER
from voltaje.core.electrical.network import (
    Coil,
    Conductor,
    Core,
    ElementError,
    Network,
    Source,
    solved,
)
from voltaje.core.report import Text, say

# no code figures: test voltages, V; the source behind them, Ω; above which volts open leads are a
# danger; a fuse of the test supply, A; of a coil's volts per ampere, its resistance
TESTS = (6.0, 12.0, 24.0)
BEHIND, DANGER, FUSE, OHMS = 0.5, 50.0, 5.0, 0.004
LEAKAGE = 0.02 + 0.02j  # no code figure: Ω of a coil of one volt ampere-turn; keeps loops finite
# no code figure: S of the coil of most turns; what magnetizes, so that an open coil has no voltage
MAGNETIZING = -0.001j
# no code figures: how an answer is scored
POINTS, COILS, SIDES, POLARITY, FEW = 10, 4, 2, 3, 1
MOST_JOINTS = 6
# units as they are made: words, volts of the coils of each core
MADE: tuple[tuple[Text, tuple[tuple[float, ...], ...]], ...] = (
    (say("one unit, two coils of 240 V and two of 120 V"), ((240.0, 240.0, 120.0, 120.0),)),
    (say("one unit, two coils of 120 V and two of 16 V"), ((120.0, 120.0, 16.0, 16.0),)),
    (say("two units, each a coil of 480 V and one of 120 V"), ((480.0, 120.0), (480.0, 120.0))),
    (
        say("three units, each a coil of 400 V and one of 231 V"),
        ((400.0, 231.0), (400.0, 231.0), (400.0, 231.0)),
    ),
)


@dataclass(frozen=True, slots=True)
class UnmarkedCoil:
    """A coil: the core that it is on, its volts, the leads at its dotted and its other end."""

    core: int
    volts: float
    dot: int
    other: int


@dataclass(frozen=True, slots=True)
class LeadSetup:
    """What is connected: ``volts`` (0: nothing) across two leads, and joints between leads."""

    volts: float = 0.0
    across: tuple[int, int] = (0, 0)
    joints: tuple[tuple[int, int], ...] = ()


@dataclass(frozen=True, slots=True)
class SetupState:
    """What a set-up does: highest volts between the ends of a coil, A from the test supply, and
    whether its fuse opens."""

    highest: float
    amperes: float
    blown: bool


@dataclass(frozen=True)
class Unlabelled:
    """The units of a seed; leads are numbered from 1."""

    words: Text
    coils: tuple[UnmarkedCoil, ...]

    @property
    def leads(self) -> tuple[int, ...]:
        return tuple(range(1, 2 * len(self.coils) + 1))

    def ohms(self, one: int, other: int) -> float | None:
        """What an ohmmeter shows between two leads, nothing else connected; ``None``: open."""
        for coil in self.coils:
            if {one, other} == {coil.dot, coil.other}:
                return round(OHMS * coil.volts, 2)
        return 0.0 if one == other else None

    def state(self, setup: LeadSetup) -> SetupState:
        """What is on the coils with that set-up."""
        try:
            found = solved(self._network(setup)) if setup.volts else None
        except ElementError:
            return SetupState(0.0, 0.0, True)
        if found is None:
            return SetupState(0.0, 0.0, False)
        amperes = found.amperes("test")
        volts = [found.volts(f"n{c.dot}", f"n{c.other}") for c in self.coils]
        blown = amperes > FUSE
        return SetupState(0.0 if blown else max(volts), amperes, blown)

    def volts(self, setup: LeadSetup, one: int, other: int) -> str:
        """What a voltmeter shows between two leads; nothing steady (``"–"``) where nothing ties
        them together."""
        if not setup.volts or self.state(setup).blown:
            return VOLTMETER.reads(0.0)
        found = solved(self._network(setup))
        ends = f"n{one}", f"n{other}"
        if not found.tied(*ends):
            return "–"
        return VOLTMETER.reads(found.volts(*ends))

    def _network(self, setup: LeadSetup) -> Network:
        cores: dict[int, list[Coil]] = {}
        for n, coil in enumerate(self.coils):
            own = LEAKAGE * coil.volts / max(one.volts for one in self.coils)
            wound = Coil(f"coil {n}", f"n{coil.dot}", f"n{coil.other}", coil.volts, own)
            cores.setdefault(coil.core, []).append(wound)
        plus, minus = setup.across
        source = Source("test", f"n{plus}", f"n{minus}", complex(setup.volts), BEHIND + 0j)
        joints = tuple(
            Conductor(f"joint {n}", f"n{a}", f"n{b}", 0.01 + 0j)
            for n, (a, b) in enumerate(setup.joints)
        )
        made = tuple(
            Core(f"core {n}", tuple(coils), MAGNETIZING * max(one.turns for one in coils) ** 2)
            for n, coils in cores.items()
        )
        return Network((source,), joints, (), made)

    def judged(self, answer: Sequence[tuple[int, int]], tests: int, dangers: int) -> JudgedLeads:
        """The answer, the leads of each coil in the order of ``coils`` by volts, dotted end first;
        ``tests`` are the readings taken, ``dangers`` set-ups above 50 V or with a blown fuse."""
        given = [tuple(pair) for pair in answer]
        true = {frozenset((c.dot, c.other)): c for c in self.coils}
        found = [true.get(frozenset(pair)) for pair in given]
        coils = all(one is not None for one in found) and len(set(map(frozenset, given))) == len(
            self.coils
        )
        sides = coils and all(
            one is not None and one.volts == asked.volts
            for one, asked in zip(found, self.coils, strict=True)
        )
        same = sides and self._cores_kept(found)
        alike = same and self._polarity(given, found)
        few = alike and tests <= FEWEST[len(self.coils)]
        points = COILS * coils + SIDES * bool(same) + POLARITY * bool(alike) + FEW * bool(few)
        return JudgedLeads(coils, bool(same), bool(alike), max(0, points - 2 * dangers), dangers)

    def _cores_kept(self, found: Sequence[UnmarkedCoil | None]) -> bool:
        """Whether the coils of each unit are given as those of one unit, in whatever order."""
        pairs = zip(self.coils, found, strict=True)
        cores = {(asked.core, one.core) for asked, one in pairs if one is not None}
        return len(cores) == len({asked.core for asked in self.coils})

    def _polarity(
        self, given: Sequence[tuple[int, ...]], found: Sequence[UnmarkedCoil | None]
    ) -> bool:
        """Whether the first ends of each unit's coils have one polarity."""
        turned: dict[int, set[bool]] = {}
        for pair, coil in zip(given, found, strict=True):
            if coil is not None:
                turned.setdefault(coil.core, set()).add(pair[0] == coil.dot)
        return all(len(ways) == 1 for ways in turned.values())


# no code figure: readings with which all is found, by the number of coils
FEWEST: Mapping[int, int] = {4: 24, 6: 40}


@dataclass(frozen=True, slots=True)
class JudgedLeads:
    """Whether the ends of every coil are right, their volts and units, their polarity; ``points``
    of ten; how often more than 50 V or a short stood on the leads."""

    coils: bool
    sides: bool
    polarity: bool
    points: int
    dangers: int


def unlabelled(seed: str) -> Unlabelled:
    """The units of a seed."""
    rng = Random(f"unlabelled {seed}")  # noqa: S311 - a puzzle, no secret
    words, cores = rng.choice(MADE)
    count = sum(map(len, cores))
    leads = list(range(1, 2 * count + 1))
    rng.shuffle(leads)
    ends = [pair for n, pair in enumerate(pairwise(leads)) if not n % 2]
    coils = [
        UnmarkedCoil(core, volts, *ends.pop()) for core, own in enumerate(cores) for volts in own
    ]
    return Unlabelled(words, tuple(coils))
