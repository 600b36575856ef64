"""A small board with a hidden fault, solved as a network: an instrument can be put anywhere on it,
every device opens and closes, and what is worked on is live or dead as the network says.

Common practice, no source: loads, faults and how they are found.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from random import Random

from voltaje.core.electrical.network import EARTH, Conductor, Network, NetworkLoad, sources
from voltaje.core.electrical.systems import SYSTEMS, System
from voltaje.core.practice.faulty import (
    MAIN_SWITCH,
    REMAKE,
    SERVICE,
    FaultyNetwork,
    NetworkFault,
    Spot,
)
from voltaje.core.report import Text, say

# no code figures: resistances of the little network, Ω; of a load's own, what a poor joint
# adds
SUPPLY, MAIN, EACH_METRE, GROUND, LINK = 0.01, 0.005, 0.0074, 0.05, 0.001 + 0j
POOR = 0.08
# no code figures: how many circuits, which of them is the second of two that share a neutral
CIRCUITS, PAIRED = 5, 2
# loads by name: W, and whether between two lines where there are two
LOADS: tuple[tuple[Text, float, bool], ...] = (
    (say("Kettle"), 1500.0, False),
    (say("Bench lights"), 400.0, False),
    (say("Chargers"), 120.0, False),
    (say("Toaster"), 1100.0, False),
    (say("Pump"), 900.0, True),
    (say("Heater"), 2000.0, True),
    (say("Freezer"), 300.0, False),
    (say("Shop vacuum"), 1300.0, False),
)


@dataclass(frozen=True, slots=True)
class BoardCircuit:
    """A circuit: its number, what hangs on it, the lines it stands on by the schedule, W, metres;
    ``shares`` is the number of the circuit whose neutral it uses (0: its own)."""

    number: int
    name: Text
    lines: tuple[str, ...]
    watts: float
    metres: float
    shares: int = 0

    @property
    def neutral(self) -> int:
        """The circuit whose neutral conductor leads back to the board."""
        return self.shares or self.number

    @property
    def contacts(self) -> tuple[str, str]:
        """The nodes at its load: line, and neutral or the other line."""
        return f"p{self.number}", f"q{self.number}"

    def volts(self, system: System) -> float:
        """What its load is made for, V."""
        return system.line_to_line if len(self.lines) > 1 else system.to_neutral


@dataclass(frozen=True)
class FaultyBoard(FaultyNetwork):
    """The board of a seed: its system and circuits. ``us``: in words of the United States."""

    system: System
    circuits: tuple[BoardCircuit, ...]
    us: bool

    @property
    def earth(self) -> str:
        """The letters of the earth bar: G where it is called ground, PE elsewhere."""
        return "G" if self.us else "PE"

    @property
    def switches(self) -> tuple[str, ...]:
        """What opens: the disconnect ahead of the board, its main switch, the device of each
        circuit."""
        return (SERVICE, MAIN_SWITCH, *(f"c{one.number}" for one in self.circuits))

    def switch_words(self, id: str) -> Text:
        """What a switch is called: a circuit's device by its circuit."""
        own = (one.name for one in self.circuits if f"c{one.number}" == id)
        return next(own, super().switch_words(id))

    @cached_property
    def spots(self) -> tuple[Spot, ...]:
        """Where an instrument can be put."""
        return tuple(_spots(self.system, self.circuits, self.us))

    def as_wired(self, spot: Spot) -> Spot:
        """With line and neutral exchanged at an outlet its contacts are exchanged."""
        fault = self.hidden[0]
        if fault.what != "exchanged" or spot.unit == "A":
            return spot
        one, other = f"p{fault.number}", f"q{fault.number}"
        swap = {one: other, other: one}
        return replace(spot, at=tuple(swap.get(node, node) for node in spot.at))

    def network(self, fault: NetworkFault, opened: frozenset[str]) -> Network:
        """Supply, feeder, bars and circuits with their loads."""
        found, bond = sources(self.system, SUPPLY + 0j)
        conductors = []
        for one in _conductors(self.system, self.circuits):
            built = fault.changed.get(one.name, one)
            group, _, rest = one.name.partition(" ")
            switch = {"service": SERVICE, "switch": MAIN_SWITCH}.get(group, "")
            if group == "device":
                switch = f"c{rest.partition(' ')[0]}"
            conductors.append(replace(built, open=True) if switch in opened else built)
        loads = []
        for own in self.circuits:
            volts, name = own.volts(self.system), f"load {own.number}"
            va = complex(own.watts)
            loads.append(NetworkLoad(name, *own.contacts, va, volts, 0.0, 0.0, 1.0))
        return Network(found, (*bond, *conductors, *fault.added), tuple(loads))


def faulty_board(system: str, metric: bool, seed: str) -> FaultyBoard:
    """The board of a seed on a system with a neutral."""
    rng = Random(f"board {system} {seed}")  # noqa: S311 - a puzzle, no secret
    own = SYSTEMS[system]
    circuits = _circuits(own, metric, rng)
    board = FaultyBoard((), (), own, circuits, not metric)
    board = board.with_faults(_Faults(own, circuits, not metric).every())
    return replace(board, hidden=rng.choice(board.faults))


def _circuits(system: System, metric: bool, rng: Random) -> tuple[BoardCircuit, ...]:
    """Five circuits in turn on the lines; the first two share a neutral where there are two lines
    and the country does so."""
    pairs = len(system.lines) > 1
    # between two lines of 400 V nothing of a dwelling stands
    across = pairs and not metric
    chosen = rng.sample([one for one in LOADS if across or not one[2]], CIRCUITS)
    chosen.sort(key=lambda one: one[2])  # those between two lines last
    found: list[BoardCircuit] = []
    at = 0
    for number, (name, watts, two) in enumerate(chosen, 1):
        count = 2 if two and across else 1
        lines = tuple(system.lines[(at + n) % len(system.lines)] for n in range(count))
        at += count
        shares = 1 if number == PAIRED and across and len({*lines, *found[0].lines}) > 1 else 0
        metres = float(rng.choice((8, 12, 18, 25)))
        found.append(BoardCircuit(number, name, lines, watts, metres, shares))
    return tuple(found)


@dataclass(frozen=True)
class _Faults:
    """Every fault that a board could have."""

    system: System
    circuits: tuple[BoardCircuit, ...]
    us: bool

    @cached_property
    def built(self) -> Mapping[str, Conductor]:
        return {one.name: one for one in _conductors(self.system, self.circuits)}

    def every(self) -> Iterator[NetworkFault]:
        """Those ahead of the board, then circuit by circuit."""
        lines = self.system.lines
        if len(lines) > 1:
            ahead = tuple(f"feed {line}" for line in lines)
            words = say("Neutral open ahead of the board")
            yield self._open("main N", words, (*ahead, "bus N"))
            for line in lines:
                words = say("{line} open ahead of the board", line=line)
                yield self._open(f"main {line}", words, (f"feed {line}", f"head {line}"))
        for one in self.circuits:
            yield from self._conductors_of(one)
            if len(one.lines) == 1:
                yield from self._neutral_of(one)
                yield from self._joined(one)

    def _open(self, name: str, words: Text, touched: tuple[str, ...]) -> NetworkFault:
        opened = replace(self.built[name], open=True)
        return NetworkFault(name, words, REMAKE, touched, {name: opened})

    def _alone(self, one: BoardCircuit) -> bool:
        """Whether its neutral is its own."""
        return not one.shares and all(other.shares != one.number for other in self.circuits)

    def _conductors_of(self, one: BoardCircuit) -> Iterator[NetworkFault]:
        name = f"run {one.number} {one.lines[-1]}"
        if len(one.lines) > 1:
            words = say("{circuit}: a line conductor open", circuit=one.name)
            yield self._open(name, words, one.contacts)
        built = self.built[name]
        poor = replace(
            built, impedance=built.impedance + POOR * one.volts(self.system) ** 2 / one.watts
        )
        words = say("{circuit}: poor joint in a line conductor", circuit=one.name)
        yield NetworkFault(f"poor {one.number}", words, REMAKE, one.contacts, {name: poor})

    def _neutral_of(self, one: BoardCircuit) -> Iterator[NetworkFault]:
        name = f"neutral {one.neutral}"
        if self._alone(one):
            words = say("{circuit}: neutral open", circuit=one.name)
            yield self._open(name, words, one.contacts)
        if one.shares:
            first = next(other for other in self.circuits if other.number == one.shares)
            words = say("Shared neutral of {one} and {other} open", one=first.name, other=one.name)
            yield self._open(name, words, (*first.contacts, *one.contacts))
            words = say(
                "{one} and {other} on one line: the shared neutral carries their sum",
                one=first.name,
                other=one.name,
            )
            remedy = say("Move one of the two to another line, with a common disconnect.")
            device = f"device {one.number} {one.lines[0]}"
            taken = replace(self.built[device], start=f"bus {first.lines[0]}")
            bars = (f"bus {first.lines[0]}", f"bus {one.lines[0]}")
            yield NetworkFault("one line", words, remedy, bars, {device: taken})

    def _joined(self, one: BoardCircuit) -> Iterator[NetworkFault]:
        words = say(
            "{circuit}: neutral joined to the protective conductor at the load", circuit=one.name
        )
        remedy = say("Take the joint out: neutral and earth meet at the origin alone.")
        if self.us:
            words = say(
                "{circuit}: neutral joined to the equipment grounding conductor at the load",
                circuit=one.name,
            )
            remedy = say("Take the joint out: neutral and ground meet at the service alone.")
        joint = Conductor(f"joint {one.number}", one.contacts[1], f"g{one.number}", LINK)
        yield NetworkFault(f"joined {one.number}", words, remedy, one.contacts, {}, (joint,))
        if not self._alone(one):
            return
        words = say("{circuit}: line and neutral exchanged at the outlet", circuit=one.name)
        remedy = say("Exchange the two conductors at the outlet.")
        exchanged = f"exchanged {one.number}"
        yield NetworkFault(
            exchanged, words, remedy, one.contacts, what="exchanged", number=one.number
        )
        others = (c for c in self.circuits if c.number > one.number and len(c.lines) == 1)
        other = next((c for c in others if self._alone(c)), None)
        if other is not None:
            words = say(
                "{circuit}: its neutral is taken from {other}", circuit=one.name, other=other.name
            )
            remedy = say("Put it back on its own neutral.")
            name = f"neutral {one.number}"
            borrowed = replace(self.built[name], end=other.contacts[1])
            touched = (*one.contacts, *other.contacts)
            yield NetworkFault(f"borrowed {one.number}", words, remedy, touched, {name: borrowed})


def _conductors(system: System, circuits: tuple[BoardCircuit, ...]) -> Iterator[Conductor]:
    """All conductors of the sound board, all devices closed."""
    for line in system.lines:
        yield Conductor(f"service {line}", line, f"feed {line}", LINK)
        yield Conductor(f"main {line}", f"feed {line}", f"head {line}", MAIN + 0j)
        yield Conductor(f"switch {line}", f"head {line}", f"bus {line}", LINK)
    yield Conductor("main N", "N", "bus N", MAIN + 0j)
    yield Conductor("main PE", EARTH, "bus PE", GROUND + 0j)
    for one in circuits:
        ohms = EACH_METRE * one.metres + 0j
        for line, end in zip(one.lines, one.contacts, strict=False):
            terminal = f"out {one.number} {line}"
            yield Conductor(f"device {one.number} {line}", f"bus {line}", terminal, LINK)
            yield Conductor(f"run {one.number} {line}", terminal, end, ohms)
        if len(one.lines) == 1 and not one.shares:
            yield Conductor(f"neutral {one.number}", f"q{one.number}", "bus N", ohms)
        elif one.shares:  # one box from which a single neutral leads back
            yield Conductor(f"tie {one.number}", f"q{one.number}", f"q{one.shares}", LINK)
        yield Conductor(f"earth {one.number}", "bus PE", f"g{one.number}", ohms)


def _spots(system: System, circuits: tuple[BoardCircuit, ...], us: bool) -> Iterator[Spot]:
    earth = say("ground") if us else say("earth")
    for line in system.lines:
        words = say("Clamp on {line} of the supply", line=line)
        yield Spot(f"a-{line}", words, "A", (f"main {line}",))
    yield Spot("a-N", say("Clamp on the neutral of the supply"), "A", ("main N",))
    words = say("Clamp on the main earthing conductor")
    if us:
        words = say("Clamp on the feeder’s equipment grounding conductor")
    yield Spot("a-PE", words, "A", ("main PE",))
    for line in system.lines:
        words = say("{line} to {earth} ahead of the main switch", line=line, earth=earth)
        yield Spot(f"v-{line}-F", words, "V", (f"head {line}", "bus PE"))
    for line in system.lines:
        words = say("{line} to neutral at the busbars", line=line)
        yield Spot(f"v-{line}-N", words, "V", (f"bus {line}", "bus N"))
    for n, line in enumerate(system.lines):
        for other in system.lines[n + 1 :]:
            words = say("{line} to {other} at the busbars", line=line, other=other)
            yield Spot(f"v-{line}-{other}", words, "V", (f"bus {line}", f"bus {other}"))
    for one in circuits:
        number, name = one.number, one.name
        words = say("{circuit}: clamp on its line conductor", circuit=name)
        yield Spot(f"a-{number}", words, "A", (f"run {number} {one.lines[0]}",))
        if len(one.lines) == 1 and not one.shares:
            words = say("{circuit}: clamp on its neutral at the neutral bar", circuit=name)
            yield Spot(f"a-{number}-N", words, "A", (f"neutral {number}",))
        words = say("{circuit}: voltage across the load", circuit=name)
        yield Spot(f"v-{number}", words, "V", (f"p{number}", f"q{number}"))
        if len(one.lines) == 1:
            words = say("{circuit}: line contact to {earth} at the load", circuit=name, earth=earth)
            yield Spot(f"v-{number}-E", words, "V", (f"p{number}", f"g{number}"))
            words = say(
                "{circuit}: neutral contact to {earth} at the load", circuit=name, earth=earth
            )
            yield Spot(f"v-{number}-NE", words, "V", (f"q{number}", f"g{number}"))
