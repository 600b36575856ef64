"""What a network is made of. Nodes are names; ``EARTH`` is the one at zero volts.

Impedances are in Ω at the fundamental frequency, volts and amperes rms phasors, powers in VA with
lagging vars positive.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite

EARTH = "earth"


class ElementError(ValueError):
    """An element that cannot stand in a network. Knows the element's name and the field."""

    def __init__(self, name: str, field: str, words: str) -> None:
        super().__init__(f"{name}: {words}")
        self.name = name
        self.field = field
        self.words = words


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
class Load:
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
class Transformer:
    """Two windings on one core. ``ratio`` is the primary's volts over the secondary's at no load;
    ``impedance`` stands in the secondary (0: ideal), ``shunt`` is the admittance of iron and
    magnetizing current across the primary, S."""

    name: str
    primary: tuple[str, str]
    secondary: tuple[str, str]
    ratio: float
    impedance: complex = 0j
    shunt: complex = 0j


@dataclass(frozen=True, slots=True)
class Network:
    """All elements together. Any topology: trees, loops, islands.

    Raises :class:`ElementError` for names used twice, figures that are no numbers, loads without
    volts or whose shares do not add up, resistances below zero.
    """

    sources: tuple[Source, ...]
    conductors: tuple[Conductor, ...] = ()
    loads: tuple[Load, ...] = ()
    transformers: tuple[Transformer, ...] = ()

    def __post_init__(self) -> None:
        seen: set[str] = set()
        carrying: list[Source | Conductor | Transformer] = [
            *self.sources,
            *self.conductors,
            *self.transformers,
        ]
        for element in (*carrying, *self.loads):
            if element.name in seen:
                raise ElementError(element.name, "name", "the name is used twice in the network")
            seen.add(element.name)
        for item in carrying:
            z = complex(item.impedance)
            if not (isfinite(z.real) and isfinite(z.imag)):
                raise ElementError(item.name, "impedance", "the impedance is not a number")
            if z.real < 0:
                raise ElementError(item.name, "impedance", "a resistance cannot be below zero")
        for winding in self.transformers:
            if not (isfinite(winding.ratio) and winding.ratio > 0):
                raise ElementError(winding.name, "ratio", "the ratio must be above zero")
        for load in self.loads:
            if not (isfinite(load.va.real) and isfinite(load.va.imag)):
                raise ElementError(load.name, "va", "the load is not a number")
            if not (isfinite(load.volts) and load.volts > 0):
                raise ElementError(load.name, "volts", "a load needs its rated volts, above zero")
            if abs(load.power + load.current + load.constant - 1) > 1e-9:
                raise ElementError(
                    load.name,
                    "power",
                    "the shares of constant power, current and impedance must add up to 1",
                )
            if load.plus == load.minus:
                raise ElementError(load.name, "minus", "both ends stand on one conductor")
