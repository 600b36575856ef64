"""A bank of three single-phase units with a hidden fault, delta to star or delta to delta with the
last corner still open: closing that corner on a reversed coil burns it.

Common practice, no source: the faults and their readings.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from random import Random
from typing import ClassVar

from voltaje.core.electrical.network import (
    EARTH,
    Coil,
    Conductor,
    Core,
    Network,
    NetworkLoad,
    sources,
)
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.practice.faulty import (
    MAIN_SWITCH,
    REMAKE,
    SERVICE,
    FaultyNetwork,
    NetworkFault,
    Spot,
)
from voltaje.core.report import Text, say

LINES, LOAD_LINES = ("A", "B", "C"), ("a", "b", "c")
# no code figures: Ω of the supply and of a link, of a coil for each of its volts; S that magnetize;
# by how much a tap is wrong; W of each load and of the units that stand for their own loss
SUPPLY, LINK, OF_COIL, MAGNETIZING, TAP, LOAD = 0.02, 0.001 + 0j, 0.0004, -1e-5j, 1.05, 2000.0
CORNER = "corner"
# the systems of the supply with the volts of a unit's secondary, by the connection (no code
# figures: usual banks)
BANKS: Mapping[str, tuple[str, float, bool]] = {
    "480 V delta to 208Y/120 V": ("3ph-480Y/277", 120.0, True),
    "480 V delta to 240 V delta": ("3ph-480Y/277", 240.0, False),
    "400 V delta to 400Y/231 V": ("3ph-400Y/230", 231.0, True),
    "400 V delta to 230 V delta": ("3ph-400Y/230", 230.0, False),
}
BANK_WORDS: Mapping[str, Text] = {
    "480 V delta to 208Y/120 V": say("three units, 480 V delta to 208Y/120 V"),
    "480 V delta to 240 V delta": say("three units, 480 V delta to 240 V delta"),
    "400 V delta to 400Y/231 V": say("three units, 400 V delta to 400Y/231 V star"),
    "400 V delta to 230 V delta": say("three units, 400 V delta to 230 V delta"),
}


@dataclass(frozen=True)
class FaultyBank(FaultyNetwork):
    """The bank of a seed by its ``name`` in :data:`BANKS`. The corner of a delta stands open at
    first, with its gap to be measured."""

    name: str

    JOINTS: ClassVar[Mapping[str, str]] = {CORNER: "v-gap"}

    @property
    def star(self) -> bool:
        """Whether the secondaries are joined in star."""
        return BANKS[self.name][2]

    @property
    def at_first(self) -> frozenset[str]:
        """A delta's last corner is not closed before it was measured."""
        return frozenset() if self.star else frozenset({CORNER})

    @property
    def words(self) -> Text:
        """The bank in words."""
        return BANK_WORDS[self.name]

    @property
    def switches(self) -> tuple[str, ...]:
        """The disconnect ahead, the primary's own, a delta's last corner."""
        return (SERVICE, MAIN_SWITCH) if self.star else (SERVICE, MAIN_SWITCH, CORNER)

    def switch_words(self, id: str) -> Text:
        """What a switch is called."""
        return say("last corner of the delta") if id == CORNER else super().switch_words(id)

    @cached_property
    def spots(self) -> tuple[Spot, ...]:
        """Where an instrument can be put."""
        return tuple(self._spots())

    def _spots(self) -> Iterator[Spot]:
        for one, other in _pairs(LINES):
            words = say("{one} to {other} ahead of the primary", one=one, other=other)
            yield Spot(f"v-{one}{other}", words, "V", (f"fed {one}", f"fed {other}"))
        for line in LINES:
            words = say("Clamp on primary line {line}", line=line)
            yield Spot(f"a-{line}", words, "A", (f"main {line}",))
        for one, other in _pairs(LOAD_LINES):
            words = say("{one} to {other} at the secondary", one=one, other=other)
            yield Spot(f"v-{one}{other}", words, "V", (one, other))
        for number, line in enumerate(LOAD_LINES, 1):
            if self.star:
                words = say("{line} to neutral at the secondary", line=line)
                yield Spot(f"v-{line}n", words, "V", (line, "n"))
            words = say("Voltage across the secondary of unit {n}", n=number)
            yield Spot(f"v-x{number}", words, "V", (f"x{number}", f"y{number}"))
            words = say("Clamp on the secondary of unit {n}", n=number)
            yield Spot(f"a-x{number}", words, "A", (f"out {number}",))
        if not self.star:
            yield Spot("v-gap", say("Across the open corner"), "V", ("y3", "a"))

    def network(self, fault: NetworkFault, opened: frozenset[str]) -> Network:
        """Supply, three units, a load on each line or pair."""
        supply, volts, _ = BANKS[self.name]
        system = SYSTEMS[supply]
        found, bond = sources(system, SUPPLY + 0j)
        conductors = []
        for one in self._conductors():
            built = fault.changed.get(one.name, one)
            group = one.name.partition(" ")[0]
            switch = {"service": SERVICE, "main": MAIN_SWITCH, CORNER: CORNER}.get(group, "")
            conductors.append(replace(built, open=True) if switch in opened else built)
        cores = []
        for number in (1, 2, 3):
            ends = (f"x{number}", f"y{number}")
            if fault.what == "reversed" and fault.number == number:
                ends = ends[::-1]
            turns = system.line_to_line
            if fault.what == "tap" and fault.number == number:
                turns *= TAP
            first = Coil(f"h{number}", f"p{number}", f"q{number}", turns, OF_COIL * turns + 0j)
            second = Coil(f"s{number}", *ends, volts, OF_COIL * volts + 0j)
            cores.append(Core(f"unit {number}", (first, second), MAGNETIZING * turns**2))
        loads = tuple(self._loads(volts))
        return Network(found, (*bond, *conductors), loads, tuple(cores))

    def _conductors(self) -> Iterator[Conductor]:
        for n, line in enumerate(LINES, 1):
            yield Conductor(f"service {line}", f"L{n}", f"sent {line}", LINK)
            yield Conductor(f"feed {line}", f"sent {line}", f"fed {line}", LINK)
            yield Conductor(f"main {line}", f"fed {line}", f"bar {line}", LINK)
        for number in (1, 2, 3):
            start, end = LINES[number - 1], LINES[number % 3]
            yield Conductor(f"top {number}", f"bar {start}", f"p{number}", LINK)
            yield Conductor(f"foot {number}", f"q{number}", f"bar {end}", LINK)
            line = LOAD_LINES[number - 1]
            yield Conductor(f"out {number}", f"x{number}", line, LINK)
            if self.star:
                yield Conductor(f"star {number}", f"y{number}", "n", LINK)
            elif number < 3:
                yield Conductor(f"close {number}", f"y{number}", LOAD_LINES[number], LINK)
            else:
                yield Conductor(CORNER, "y3", "a", LINK)
        # one point of the secondary is earthed
        yield Conductor("earthed", "n" if self.star else "b", EARTH, LINK)

    def _loads(self, volts: float) -> Iterator[NetworkLoad]:
        for n, line in enumerate(LOAD_LINES):
            ends = (line, "n") if self.star else (line, LOAD_LINES[(n + 1) % 3])
            yield NetworkLoad(f"load {line}", *ends, complex(LOAD), volts, 0.0, 0.0, 1.0)

    def every(self) -> Iterator[NetworkFault]:
        """Every fault that it could have."""
        built = {one.name: one for one in self._conductors()}

        def opened(name: str, words: Text, touched: tuple[str, ...]) -> NetworkFault:
            return NetworkFault(
                name, words, REMAKE, touched, {name: replace(built[name], open=True)}
            )

        for line in LINES:
            words = say("Primary line {line} lost ahead of the bank", line=line)
            yield opened(f"feed {line}", words, (f"sent {line}", f"fed {line}"))
        for number in (1, 2, 3):
            ends, coil = (f"p{number}", f"q{number}"), (f"x{number}", f"y{number}")
            words = say("Unit {n}: secondary reversed", n=number)
            remedy = say("Exchange the two leads of that secondary.")
            yield NetworkFault(
                f"reversed {number}", words, remedy, coil, what="reversed", number=number
            )
            words = say("Unit {n}: its tap is a step lower than the others’", n=number)
            remedy = say("Put all three units on one tap.")
            yield NetworkFault(f"tap {number}", words, remedy, ends, what="tap", number=number)
            words = say("Unit {n}: primary open", n=number)
            yield opened(f"top {number}", words, (f"bar {LINES[number - 1]}", *ends))
            words = say("Unit {n}: secondary open", n=number)
            yield opened(f"out {number}", words, coil)


def _pairs(names: tuple[str, ...]) -> tuple[tuple[str, str], ...]:
    return tuple((one, names[(n + 1) % len(names)]) for n, one in enumerate(names))


def faulty_bank(metric: bool, seed: str) -> FaultyBank:
    """The bank of a seed, of a country with 400 V or with 480 V."""
    rng = Random(f"bank {metric} {seed}")  # noqa: S311 - a puzzle, no secret
    names = [name for name in BANKS if name.startswith("400") == metric]
    plain = FaultyBank((), (), rng.choice(names))
    bank = plain.with_faults(plain.every())
    return replace(bank, hidden=rng.choice(bank.faults))
