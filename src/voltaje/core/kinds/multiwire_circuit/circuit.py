"""The entries as a circuit: joints, conductors, loads; solved, and by hand at nominal volts."""

from __future__ import annotations

from cmath import rect
from collections.abc import Mapping
from dataclasses import dataclass
from math import acos
from typing import TYPE_CHECKING

from voltaje.core.capabilities import OfMetal, can
from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.lines import phasors
from voltaje.core.electrical.network import (
    Conductor,
    ElementError,
    Network,
    NetworkLoad,
    NoSolutionError,
    Source,
    solved,
)
from voltaje.core.entries import (
    WrongEntryError,
)
from voltaje.core.kinds.multiwire_circuit.entries import MultiwireEntries, SharedLoad, SharedNeutral
from voltaje.core.kinds.placing import check_line
from voltaje.core.report import figure, say
from voltaje.core.rules.common.runs import Strand
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.motors import MOTOR_POWER_FACTOR, single_phase_current

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


THIRD = 3


@dataclass(frozen=True, slots=True)
class Placed:
    """A load at its joint. ``ends`` are the conductors it stands between, ``rated`` its nominal
    volts, ``va`` with lagging vars positive."""

    row: SharedLoad
    path: str
    name: str
    joint: int
    ends: tuple[str, str]
    rated: float
    va: complex

    def amperes(self, across: complex) -> complex:
        """Its current at nominal volts, against the phasor across it."""
        return (self.va / across).conjugate()


LEAST_LENGTH = 1e-3  # no code figure: m of a piece whose length is not told


@dataclass(frozen=True, slots=True)
class MultiwireRun:
    """The run: legs by circuit, EMFs by conductor, joints with their distance in m, Ω for each m
    of the circuits and of the neutral, what is open."""

    legs: Mapping[str, str]
    emf: Mapping[str, complex]
    joints: tuple[float, ...]
    z: complex
    zn: complex
    opened: frozenset[str]
    loads: tuple[Placed, ...]

    @property
    def wires(self) -> tuple[str, ...]:
        return (*self.legs, "N")

    def length(self, joint: int) -> float:
        return self.joints[joint] - self.joints[joint - 1]

    @property
    def is_long(self) -> bool:
        """Whether any length is told: without one nothing can be said of the drop."""
        return self.joints[-1] > 0

    def ohms(self, wire: str, joint: int) -> complex:
        return (self.zn if wire == "N" else self.z) * max(self.length(joint), LEAST_LENGTH)

    def across(self, load: Placed) -> complex:
        """Phasor across a load without any loss."""
        one, other = load.ends
        return self.emf[one] - (0j if other == "N" else self.emf[other])


def lay_out(entries: SharedNeutral, context: Context, size: Size) -> MultiwireRun:
    """Reads the entries as a layout, with conductors of that size. Raises
    :class:`WrongEntryError`."""
    system = context.supply.system
    if not system.has_neutral:
        raise WrongEntryError(
            "", say("The supply, {label}, has no neutral to share.", label=say(system.label))
        )
    legs = {"A": entries.phase_a, "B": entries.phase_b}
    if entries.phase_c != "none":
        legs["C"] = entries.phase_c
    for circuit, leg in legs.items():
        if leg not in system.lines:
            raise WrongEntryError(
                f"phase_{circuit.lower()}",
                say(
                    "The supply, {label}, has no {leg}: choose one of {known}.",
                    label=say(system.label),
                    leg=leg,
                    known=", ".join(system.lines),
                ),
            )
        check_line(leg, "line-neutral", system, f"phase_{circuit.lower()}")
    supply = context.supply.volts
    scale = supply / (system.line_to_line or system.to_neutral) if supply else 1.0
    above = phasors(system)
    z = _ohms(size, "size", entries, context)
    zn = (
        z
        if entries.neutral_size == "auto"
        else _ohms(Size(entries.neutral_size), "neutral_size", entries, context)
    )
    joints = [0.0]
    loads: list[Placed] = []
    if not entries.loads:
        raise WrongEntryError("", say("No load yet: add one with its nameplate and its circuit."))
    for row in entries.loads:
        path = f"loads.{row.id}"
        if row.length or len(joints) == 1:  # at the board's own terminals it flows all the same
            joints.append(joints[-1] + (row.length or 0.0))
        ends = (row.circuit, "N") if len(row.circuit) == 1 else tuple(row.circuit.split("-"))
        for wire in ends:
            if wire != "N" and wire not in legs:
                raise WrongEntryError(
                    f"{path}.circuit",
                    say("Circuit C is not there: choose A or B, or give circuit C a leg."),
                )
        one, other = ends
        across = above[legs[one]] - (0j if other == "N" else above[legs[other]])
        rated = abs(across) if other == "N" else system.line_to_line
        loads.append(
            Placed(
                row,
                path,
                row.name or f"load {len(loads) + 1}",
                len(joints) - 1,
                (one, other),
                rated,
                _va(row, path, rated, entries, context.edition),
            )
        )
    known = {f"{wire}:{joint}" for wire in (*legs, "N") for joint in range(1, len(joints))}
    opened = frozenset(
        part.strip().upper() for part in entries.opened_at.split(",") if part.strip()
    )
    wrong = sorted(opened - known)
    if wrong:
        raise WrongEntryError(
            "opened_at",
            say(
                "There is no {wrong} here: give a conductor and the joint it leads to, like"
                " {value}.",
                wrong=wrong[0],
                value=min(known) if known else "N:1",
            ),
        )
    return MultiwireRun(
        legs,
        {w: above[leg] * scale for w, leg in legs.items()},
        tuple(joints),
        z,
        zn,
        opened,
        tuple(loads),
    )


def legs_of(entries: SharedNeutral) -> tuple[str, ...]:
    """The lines that its circuits stand on, one for each circuit."""
    every = (entries.phase_a, entries.phase_b, entries.phase_c)
    return tuple(leg for leg in every if leg != "none")


def strand_of(entries: SharedNeutral, context: Context) -> Strand:
    """Its conductors as the family has them: the lines, and the neutral where it counts."""
    legs = legs_of(entries)
    doubled = len(set(legs)) < len(legs)
    nonlinear = any(row.third_harmonic for row in entries.loads)
    wires = max(2, len(legs) + (1 if nonlinear or doubled else 0))
    return context.code.strand(entries, wires, len(set(legs)) == 3, context)


def _ohms(size: Size, path: str, entries: SharedNeutral, context: Context) -> complex:
    found = strand_of(entries, context).ohms(size)
    if found is None:
        raise WrongEntryError(
            path,
            say(
                "{size_names} is not made of {material}: choose a larger size, or copper.",
                size_names=strand_of(entries, context).name(size),
                material=entries.material if can(entries, OfMetal) else "copper",
            ),
        )
    return found.z / 1000


def _va(
    row: SharedLoad, path: str, rated: float, entries: SharedNeutral, edition: Edition
) -> complex:
    plate, factor = row.nameplate, row.power_factor or 1.0
    if plate is not None:
        plate = plate.at(rated)
    if plate is None or not (plate.watts or plate.amperes or plate.horsepower):
        raise WrongEntryError(f"{path}.nameplate", say("Needed: the load, like 1.2 kW or 8 A."))
    if plate.horsepower is not None:
        try:
            if not isinstance(entries, MultiwireEntries):
                raise NotCoveredError(edition.title, say("a motor’s amperes by its horsepower"))
            cell = single_phase_current(plate.horsepower, rated, edition)
        except NotCoveredError as error:
            words = f"{error} Give the motor’s amperes, like 9.8 A."
            raise WrongEntryError(f"{path}.nameplate", words) from None
        factor = row.power_factor or MOTOR_POWER_FACTOR
        size = cell.value * rated
    elif plate.watts is not None:
        size = plate.watts / factor if plate.active else plate.watts
    else:
        size = (plate.amperes or 0.0) * (plate.volts or rated)
    return rect(size, acos(factor))


def replace_open(layout: MultiwireRun) -> MultiwireRun:
    """The same with everything closed."""
    return MultiwireRun(
        layout.legs, layout.emf, layout.joints, layout.z, layout.zn, frozenset(), layout.loads
    )


def network(layout: MultiwireRun) -> Network:
    """The circuit with every conductor, piece by piece; nodes are conductor.joint."""
    sources = tuple(Source(f"source {w}", f"{w}.0", "N.0", emf) for w, emf in layout.emf.items())
    conductors = [Conductor("bond", "N.0", "earth")]
    for joint in range(1, len(layout.joints)):
        for wire in layout.wires:
            name = f"{wire}:{joint}"
            nodes = f"{wire}.{joint - 1}", f"{wire}.{joint}"
            conductors.append(
                Conductor(name, *nodes, layout.ohms(wire, joint), name in layout.opened)
            )
    loads = []
    for load in layout.loads:
        third = (load.row.third_harmonic or 0.0) / 100
        shares = {"resistance": (0, 0, 1), "power": (1, 0, 0), "current": (0, 1, 0)}
        power, current, constant = shares[load.row.behaves]
        loads.append(
            NetworkLoad(
                load.path,
                f"{load.ends[0]}.{load.joint}",
                f"{load.ends[1]}.{load.joint}",
                load.va,
                load.rated,
                power,
                current,
                constant,
                ((THIRD, third),) if third else (),
            )
        )
    return Network(sources, tuple(conductors), tuple(loads))


def solve(layout: MultiwireRun) -> Solution:
    """Solves it; what has no solution is told at the load."""
    by_path = {load.path: load for load in layout.loads}
    try:
        return solved(network(layout))
    except NoSolutionError as error:
        load = by_path[error.load]
        raise WrongEntryError(
            f"{load.path}.nameplate",
            say(
                "More than these conductors can carry: the volts collapse. At most {value} % of"
                " all these loads can be carried, here {va} VA.",
                value=figure(100 * error.share, 0),
                va=figure(abs(load.va) * error.share, 0),
            ),
        ) from error
    except ElementError as error:
        raise WrongEntryError(
            f"{error.name}.circuit",
            say("It stands between two circuits of one leg and gets no volts: move one of them."),
        ) from error


def nominal_currents(layout: MultiwireRun) -> dict[tuple[str, int], complex]:
    """The first step by hand: every load takes its current at nominal volts; each piece carries
    what the joints behind it take. Keys are (conductor, joint); the neutral's flows back."""
    found = {(wire, joint): 0j for wire in layout.wires for joint in range(1, len(layout.joints))}
    for load in layout.loads:
        across = layout.across(load)
        if not abs(across):
            continue
        current = load.amperes(across / abs(across) * load.rated)
        for joint in range(1, load.joint + 1):
            found[load.ends[0], joint] += current
            found[load.ends[1], joint] -= current
    return found
