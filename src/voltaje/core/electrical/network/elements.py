"""What a network is made of. Nodes are names; ``EARTH`` is the one at zero volts.

Impedances are in Ω at the fundamental frequency, volts and amperes rms phasors, powers in VA with
lagging vars positive.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite

from voltaje.core.report import Text, figure, say

EARTH = "earth"


class ElementError(ValueError):
    """An element that cannot stand in a network. Knows the element's name and the field."""

    def __init__(self, name: str, field: str, words: Text | str) -> None:
        super().__init__(f"{name}: {words}")
        self.name = name
        self.field = field
        self.words = str(words)


class ShortError(ElementError):
    """A joint that would tie two points of different volts together with nothing between that
    limits the current. ``name`` is the joint, ``volts`` what stands across it while it is open."""

    def __init__(self, name: str, volts: complex) -> None:
        words = say(
            "it would be closed on {volts} V without impedance", volts=figure(abs(volts), 1)
        )
        super().__init__(name, "end", words)
        self.volts = volts


class NoSolutionError(ValueError):
    """No volts satisfy the loads: they ask for more than the conductors can carry.

    ``share`` is the part of all loads, 0 to 1, that can just be carried; ``load`` the load whose
    volts fell furthest.
    """

    def __init__(self, load: str, share: float) -> None:
        super().__init__(
            f"The conductors cannot carry this load: at {load} the volts collapse. At most"
            f" {100 * share:.1f} % of it can be carried."
        )
        self.load = load
        self.share = share


@dataclass(frozen=True, slots=True)
class Source:
    """An EMF of ``volts`` from ``minus`` to ``plus`` behind ``impedance``."""

    name: str
    plus: str
    minus: str
    volts: complex
    impedance: complex = 0j


@dataclass(frozen=True, slots=True)
class Conductor:
    """A conductor from ``start`` to ``end``; current is positive in that direction. ``open`` is one
    that is cut. Without impedance it is a link: a switch, a meter, a bonding jumper."""

    name: str
    start: str
    end: str
    impedance: complex = 0j
    open: bool = False


@dataclass(frozen=True, slots=True)
class NetworkLoad:
    """A load between ``plus`` and ``minus`` that takes ``va`` at ``volts``.

    ``power``, ``current`` and ``constant`` are the shares of constant power, constant current and
    constant impedance; they add up to 1. ``harmonics`` are (order, share of the fundamental
    current). Negative W is a source of constant power.
    """

    name: str
    plus: str
    minus: str
    va: complex
    volts: float
    power: float = 1.0
    current: float = 0.0
    constant: float = 0.0
    harmonics: tuple[tuple[int, float], ...] = ()


@dataclass(frozen=True, slots=True)
class Coil:
    """A coil from ``start``, its dotted end, to ``end``. ``turns`` are turns, or the rated volts
    that stand for them; ``impedance`` is its own leakage and resistance (0: ideal). Its current is
    positive into the dotted end."""

    name: str
    start: str
    end: str
    turns: float
    impedance: complex = 0j


@dataclass(frozen=True, slots=True)
class Core:
    """Coils that share one flux: the volts of each are its turns times the volts per turn, and
    the ampere-turns of all add up to what magnetizes the core. ``magnetizing`` is that, in
    ampere-turns for each volt per turn (0: nothing): S across a coil of one turn."""

    name: str
    coils: tuple[Coil, ...]
    magnetizing: complex = 0j


def transformer(
    name: str,
    primary: tuple[str, str],
    *secondaries: tuple[str, str, str, float, complex],
    turns: float = 1.0,
    shunt: complex = 0j,
) -> Core:
    """A core with a primary of ``turns`` and any secondaries: name, dotted end, other end, turns,
    impedance. ``shunt`` is the admittance of iron and magnetizing current across the primary, S.
    The primary's coil is named ``name/in``."""
    coils = (Coil(f"{name}/in", *primary, turns), *(Coil(*item) for item in secondaries))
    return Core(name, coils, shunt * turns**2)


@dataclass(frozen=True, slots=True)
class Network:
    """All elements together. Any topology: trees, loops, islands.

    Raises :class:`ElementError` for names used twice, figures that are no numbers, loads without
    volts or whose shares do not add up, resistances below zero, coils without turns.
    """

    sources: tuple[Source, ...]
    conductors: tuple[Conductor, ...] = ()
    loads: tuple[NetworkLoad, ...] = ()
    cores: tuple[Core, ...] = ()

    @property
    def coils(self) -> tuple[Coil, ...]:
        """All coils, core by core."""
        return tuple(coil for core in self.cores for coil in core.coils)

    def __post_init__(self) -> None:
        seen: set[str] = set()
        carrying: list[Source | Conductor | Coil] = [
            *self.sources,
            *self.conductors,
            *self.coils,
        ]
        for element in (*carrying, *self.loads):
            if element.name in seen:
                raise ElementError(
                    element.name, "name", say("the name is used twice in the network")
                )
            seen.add(element.name)
        for item in carrying:
            z = complex(item.impedance)
            if not (isfinite(z.real) and isfinite(z.imag)):
                raise ElementError(item.name, "impedance", say("the impedance is not a number"))
            if z.real < 0:
                raise ElementError(item.name, "impedance", say("a resistance cannot be below zero"))
        for coil in self.coils:
            if not (isfinite(coil.turns) and coil.turns > 0):
                raise ElementError(coil.name, "turns", say("a coil needs turns, above zero"))
            if coil.start == coil.end:
                raise ElementError(coil.name, "end", say("both ends stand on one conductor"))
        for core in self.cores:
            if not core.coils:
                raise ElementError(core.name, "coils", say("a core needs a coil"))
        for load in self.loads:
            if not (isfinite(load.va.real) and isfinite(load.va.imag)):
                raise ElementError(load.name, "va", say("the load is not a number"))
            if not (isfinite(load.volts) and load.volts > 0):
                raise ElementError(
                    load.name, "volts", say("a load needs its rated volts, above zero")
                )
            if abs(load.power + load.current + load.constant - 1) > 1e-9:
                raise ElementError(
                    load.name,
                    "power",
                    say("the shares of constant power, current and impedance must add up to 1"),
                )
            if load.plus == load.minus:
                raise ElementError(load.name, "minus", say("both ends stand on one conductor"))
