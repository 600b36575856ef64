"""A network with a hidden fault: an instrument can be put anywhere on it, its devices open and
close, and what is worked on is live or dead as the network says. A board and a transformer bank
say what they are made of.

Common practice, no source: how faults are found and made safe.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, ClassVar, Self

from voltaje.core.electrical.meter import meter_for
from voltaje.core.electrical.network import Conductor, Network, solution_or_none
from voltaje.core.practice.hidden import covers, tells_apart
from voltaje.core.report import Text, say

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution

# no code figures: volts below which a part is dead, and up to which a joint may be closed
DEAD, CLOSES = 2.0, 5.0
# no code figures: points for the cause, for few readings, and how many are few where no three do
POINTS, CAUSE, FEW, MANY = 10, 5, 3, 4
SERVICE, MAIN_SWITCH = "service", "main"
REMAKE = say("Remake the connection, torque it, and measure again.")


@dataclass(frozen=True, slots=True)
class Spot:
    """A place for an instrument: its id, in words, A or V, and the conductor or the two nodes."""

    id: str
    words: Text
    unit: str
    at: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class NetworkFault:
    """A fault: its id, in words, how it is mended, the nodes that are touched in mending; the
    conductors that it changes or adds, or ``what`` else of which ``number``."""

    id: str
    words: Text
    remedy: Text
    touched: tuple[str, ...] = ()
    changed: Mapping[str, Conductor] = field(default_factory=dict)
    added: tuple[Conductor, ...] = ()
    what: str = ""
    number: int = 0


@dataclass(frozen=True, slots=True)
class JudgedWork:
    """Whether the cause is right, the ``points`` of ten, the highest voltage at what is touched,
    V, whether the devices are locked and it was proven dead, the readings of the search; ``burnt``
    that a joint was closed on volts."""

    right: bool
    points: int
    live: float
    locked: bool
    proven: bool
    searched: int
    burnt: bool = False

    @property
    def safe(self) -> bool:
        """Whether nothing live is touched."""
        return self.live < DEAD


SOUND = NetworkFault("sound", say("Nothing is wrong"), say("Nothing is to be mended."))


@dataclass(frozen=True)
class FaultyNetwork(ABC):
    """Every fault that it could have, those that no reading tells apart as one, and the one that is
    ``hidden``. A kind of network gives its ``spots``, ``switches`` and the ``network`` itself."""

    faults: tuple[tuple[NetworkFault, ...], ...]
    hidden: tuple[NetworkFault, ...]

    # switches that are joints, each with the place of its two ends
    JOINTS: ClassVar[Mapping[str, str]] = {}

    @property
    def at_first(self) -> frozenset[str]:
        """What stands open at first."""
        return frozenset()

    @property
    @abstractmethod
    def switches(self) -> tuple[str, ...]:
        """What opens and closes."""

    def switch_words(self, id: str) -> Text:
        """What a switch is called."""
        if id == SERVICE:
            return say("disconnect ahead")
        return say("main switch")

    @property
    @abstractmethod
    def spots(self) -> tuple[Spot, ...]:
        """Where an instrument can be put."""

    @abstractmethod
    def network(self, fault: NetworkFault, opened: frozenset[str]) -> Network:
        """The network with a fault, with those devices open."""

    def as_wired(self, spot: Spot) -> Spot:
        """The place where the instrument really is, with what the fault exchanges."""
        return spot

    def spot(self, id: str) -> Spot | None:
        """The place of that id."""
        return next((one for one in self.spots if one.id == id), None)

    def reading(self, spot: Spot, opened: frozenset[str]) -> float:
        """What the instrument would show there, A or V, with those devices open."""
        return _reading(self._solved(self.hidden[0], opened), self.as_wired(spot))

    def readings(self, opened: frozenset[str]) -> tuple[float, ...]:
        """What it would show at every spot."""
        found = self._solved(self.hidden[0], opened)
        return tuple(_reading(found, self.as_wired(spot)) for spot in self.spots)

    def healthy(self, spot: Spot, opened: frozenset[str]) -> float:
        """What it would show without the fault."""
        return _reading(self._solved(SOUND, opened), spot)

    def live(self, fault: NetworkFault, opened: frozenset[str]) -> float:
        """The highest voltage to earth, V, at what is touched in mending a fault."""
        found = self._solved(self.hidden[0], opened)
        return max((_to_earth(found, node) for node in fault.touched), default=0.0)

    def closes_on(self, switch: str, opened: frozenset[str]) -> float:
        """The voltage across a joint that is about to be closed, V; 0 for what is no joint, or
        where it may be closed."""
        spot = self.spot(self.JOINTS.get(switch, ""))
        volts = self.reading(spot, opened) if spot is not None else 0.0
        return volts if volts > CLOSES else 0.0

    def judged(
        self,
        named: str,
        readings: Sequence[tuple[Spot, frozenset[str]]],
        opened: frozenset[str],
        locked: bool,
        burnt: bool = False,
    ) -> JudgedWork:
        """The answer with how it was found and what would be worked on: ``named`` is the fault's
        id, ``opened`` the devices that stand open for the work, ``burnt`` that a joint was closed
        on volts."""
        fault = self.hidden[0]
        right = any(one.id == named for one in self.hidden)
        live = self.live(fault, opened)
        proven = any(
            spot.unit == "V" and at == opened and set(spot.at) & set(fault.touched)
            for spot, at in readings
        )
        # a reading to prove a part dead is no search
        searched = len({(spot.id, at) for spot, at in readings if at != opened or not proven})
        few = max(0, FEW - max(0, searched - (self.fewest() or MANY)))
        points = CAUSE + few + (1 if locked else 0) + (1 if proven else 0)
        if not right or burnt or live >= DEAD:
            points = 0
        return JudgedWork(right, points, live, locked, proven, searched, burnt)

    def fewest(self) -> int | None:
        """How many readings, all devices as at first, tell the hidden fault from all others at the
        least, up to three; ``None``: more, or devices have to be opened."""
        shown = [self.signature(one[0]) for one in self.faults]
        own = self.signature(self.hidden[0])
        apart = [
            {n for n, (a, b) in enumerate(zip(one, own, strict=True)) if tells_apart(a, b)}
            for one, faults in zip(shown, self.faults, strict=True)
            if self.hidden[0] not in faults
        ]
        return next((n for n in (1, 2, 3) if covers(apart, n)), None)

    def signature(self, fault: NetworkFault) -> tuple[float, ...]:
        """Every reading with a fault, all devices as at first."""
        return replace(self, hidden=(fault,)).readings(self.at_first)

    def with_faults(self, every: Iterable[NetworkFault]) -> Self:
        """The same with the faults that it could have: those that no reading tells apart together,
        without those that show nowhere."""
        sound = self.signature(SOUND)
        found: list[tuple[tuple[float, ...], list[NetworkFault]]] = []
        for fault in every:
            own = self.signature(fault)
            if _alike(own, sound):
                continue
            same = next((faults for shown, faults in found if _alike(own, shown)), None)
            if same is None:
                found.append((own, [fault]))
            else:
                same.append(fault)
        return replace(self, faults=tuple(tuple(faults) for _, faults in found))

    def _solved(self, fault: NetworkFault, opened: frozenset[str]) -> Solution | None:
        return solution_or_none(self.network(fault, opened))


def _alike(one: Sequence[float], other: Sequence[float]) -> bool:
    return not any(tells_apart(a, b) for a, b in zip(one, other, strict=True))


def _reading(found: Solution | None, spot: Spot) -> float:
    if found is None:
        return 0.0
    if spot.unit == "A":
        return _shown(abs(found.current(spot.at[0])), "A")
    one, other = spot.at
    if one in found.dead or other in found.dead:
        return 0.0
    return _shown(found.volts(one, other), "V")


def _shown(value: float, unit: str) -> float:
    """As the instrument shows it."""
    return float(meter_for(unit).reads(value))


def _to_earth(found: Solution | None, node: str) -> float:
    if found is None or node in found.dead:
        return 0.0
    return found.volts(node)
