"""The sources of a supply system, between the nodes that carry its lines and its neutral."""

from __future__ import annotations

from cmath import rect
from math import pi, sqrt

from voltaje.core.electrical.lines import phasors
from voltaje.core.electrical.network.elements import EARTH, Conductor, Source
from voltaje.core.electrical.systems import System


def sources(
    system: System,
    impedance: complex = 0j,
    prefix: str = "",
    bonded: bool = True,
    volts: float = 0.0,
) -> tuple[tuple[Source, ...], tuple[Conductor, ...]]:
    """Sources and the bond to earth of ``system``. Nodes are ``prefix`` + L1, L2, L3, N.

    ``impedance`` in Ω stands in each winding. ``volts`` are the measured volts between lines (to
    neutral where there is one line), 0: nominal. A delta has one winding for each pair of lines;
    without impedance one of the three would only close a loop and is left out. A high-leg delta's
    winding L1 to L3 has the neutral in its middle, with half the impedance on each side.
    """
    nominal = system.line_to_line or system.to_neutral
    scale = volts / nominal if volts else 1.0

    def node(name: str) -> str:
        return prefix + name

    def source(one: str, other: str, emf: complex, part: float = 1.0) -> Source:
        return Source(
            f"{prefix}source {one}-{other}", node(one), node(other), emf * scale, impedance * part
        )

    above = phasors(system)
    if system.high_leg:
        found = [
            source("L1", "N", above["L1"], 0.5),
            source("L3", "N", above["L3"], 0.5),
            source("L1", "L2", above["L1"] - above["L2"]),
        ]
        if impedance:
            found.append(source("L2", "L3", above["L2"] - above["L3"]))
        grounded = "N"
    elif not system.has_neutral:
        found = [
            source(one, other, rect(system.line_to_line, pi / 6 - 2 * pi * step / 3))
            for step, (one, other) in enumerate((("L1", "L2"), ("L2", "L3"), ("L3", "L1")))
        ][: 3 if impedance else 2]
        grounded = ""
    else:
        found = [source(line, "N", emf) for line, emf in above.items()]
        grounded = "N"
    bond = (Conductor(f"{prefix}bond", node(grounded), EARTH),) if grounded and bonded else ()
    return tuple(found), bond


def source_impedance(system: System, fault: float, x_to_r: float = 1.0) -> complex:
    """Ω in each line for an available fault current in A: V ÷ I, split by X/R. For a three-phase
    fault the volts are those to neutral; 0 where the fault current is not known."""
    if not fault:
        return 0j
    volts = (
        system.line_to_line / sqrt(3)
        if system.phases == 3
        else (system.line_to_line or system.to_neutral)
    )
    size = volts / fault / (1.0 if system.phases == 3 else 2.0)
    angle = sqrt(1 + x_to_r**2)
    return complex(size / angle, size * x_to_r / angle)
