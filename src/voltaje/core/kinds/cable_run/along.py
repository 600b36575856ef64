"""The run between its joints: what each segment carries and loses, its size, its solution."""

from __future__ import annotations

from cmath import rect
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import accumulate
from math import acos, pi, sqrt
from typing import TYPE_CHECKING

from voltaje.core.capabilities import OfMetal, can
from voltaje.core.codes import Cell, NotCoveredError
from voltaje.core.codes.vocabulary import NO_SIZE, Size
from voltaje.core.electrical.connection import line_count, load_current
from voltaje.core.electrical.network import (
    Conductor,
    ElementError,
    Network,
    NetworkLoad,
    NoSolutionError,
    Source,
    solved,
)
from voltaje.core.electrical.systems import Connection
from voltaje.core.entries import (
    NothingBelowError,
    WrongEntryError,
)
from voltaje.core.kinds.cable_run.entries import CableRunEntries
from voltaje.core.kinds.elements import at_its_volts
from voltaje.core.report import Rule, Text, figure, fits, say
from voltaje.core.rules.common import runs
from voltaje.core.rules.common.runs import Carries, Lost, Segment, Strand
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.motors import MOTOR_POWER_FACTOR

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


@dataclass(frozen=True, slots=True)
class Joint:
    """The far end of a segment: its name, the load there in VA (``own`` what its row gives),
    power factor, the current as a phasor against the supply's volts; ``given`` Ω of one conductor
    in place of its length (0: not given)."""

    name: str
    path: str
    va: float
    own: float
    power_factor: float
    current: complex
    metres: float
    size: Size
    mv: float
    rules: tuple[Rule, ...] = ()
    given: float = 0.0


def strand_of(entries: CableRunEntries, context: Context) -> Strand:
    """The conductors of the job's family, as they lie."""
    wires = line_count(entries.connection) + (entries.connection == "line-neutral")
    three = entries.connection == "three-phase"
    return context.code.strand(entries, wires, three, context)


def joints_of(
    entries: CableRunEntries, context: Context, volts: float, strand: Strand
) -> list[Joint]:
    found: list[Joint] = []
    if not entries.segments:
        raise WrongEntryError(
            "", say("No segment yet: add one with its length and the load at its end.")
        )
    last = len(entries.segments) - 1
    for index, row in enumerate(entries.segments):
        path = f"segments.{row.id}"
        given = row.impedance or 0.0
        if row.length is None and not given:
            words = say("Needed: its length, like 80 ft or 25 m, or the ohms of one conductor.")
            raise WrongEntryError(f"{path}.length", words)
        if row.length is not None and row.length <= 0 and not given:
            raise WrongEntryError(
                f"{path}.length",
                say(
                    "A segment without length loses nothing: give"
                    " its length, like 80 ft, or leave the row out."
                ),
            )
        plate, factor = row.nameplate, row.power_factor or 1.0
        va = 0.0
        rules: tuple[Rule, ...] = ()
        if plate is not None:
            plate = at_its_volts(plate, volts, entries.connection, f"{path}.nameplate")
            if plate.horsepower is not None:
                cell = _motor(plate.horsepower, volts, f"{path}.nameplate", strand)
                factor, rules = row.power_factor or MOTOR_POWER_FACTOR, (cell.rule,)
                va = cell.value / load_current(1.0, volts, entries.connection)
            elif plate.watts is not None:
                va = plate.watts / factor if plate.active else plate.watts
            else:
                va = (plate.amperes or 0.0) / load_current(
                    1.0, plate.volts or volts, entries.connection
                )
        elif row.device is not None:
            va = row.device / load_current(1.0, volts, entries.connection)
        va = own = -va if row.feeds_in else va
        if index == last:
            va += sum(piece.calculated for piece in context.below.pieces)
        current = rect(abs(load_current(va, volts, entries.connection)), -acos(factor))
        found.append(
            Joint(
                row.name or str(say("joint {n}", n=index + 1)),
                path,
                va,
                own,
                factor,
                -current.conjugate() if va < 0 else current,
                row.length or 0.0,
                Size(row.size),
                row.mv or 0.0,
                rules,
                given,
            )
        )
    if not any(joint.va for joint in found):
        raise NothingBelowError(
            f"segments.{entries.segments[-1].id}.nameplate",
            say("No load on the run yet: give one, like 2.4 kW or 10 A, or hang a board on it."),
        )
    return found


def _motor(horsepower: float, volts: float, path: str, strand: Strand) -> Cell:
    """A motor's amperes from the code's table."""
    try:
        return strand.motor(horsepower, volts)
    except NotCoveredError as error:
        raise WrongEntryError(
            path, say("{error} Give the motor’s amperes, like 24 A.", error=error)
        ) from None


@dataclass(frozen=True, slots=True)
class RunCase:
    """What runs: the loads alone, the sources alone, or both; its joints with what flows then."""

    name: str
    label: Text
    joints: tuple[Joint, ...]


def cases_of(
    joints: Sequence[Joint], below: float, volts: float, connection: Connection
) -> list[RunCase]:
    """The cases of a run: where sources stand on it, with the loads alone and with the sources
    alone as well as with both, for what cancels now does not cancel then. ``below`` is
    the VA of the parts at its end. The first is the one that is worked."""
    loads, sources = [], []
    for index, joint in enumerate(joints):
        taken = max(joint.own, 0.0) + (below if index == len(joints) - 1 else 0.0)
        loads.append(_with(joint, taken, volts, connection))
        sources.append(_with(joint, min(joint.own, 0.0), volts, connection))
    some = any(j.va for j in sources), any(j.va for j in loads)
    both = RunCase("both", say("with all loads and all that feeds in"), tuple(joints))
    if not all(some):
        return [both]
    return [
        RunCase("loads", say("with the loads alone"), tuple(loads)),
        RunCase("sources", say("with what feeds in alone"), tuple(sources)),
        both,
    ]


def _with(joint: Joint, va: float, volts: float, connection: Connection) -> Joint:
    current = rect(abs(load_current(va, volts, connection)), -acos(joint.power_factor))
    return replace(joint, va=va, current=-current.conjugate() if va < 0 else current)


@dataclass(frozen=True, slots=True)
class RunSolution:
    """The run with what its sums need: the ``joints`` of the first case, and all ``cases``."""

    entries: CableRunEntries
    context: Context
    volts: float
    three: bool
    cases: Sequence[RunCase]
    strand: Strand

    @property
    def joints(self) -> tuple[Joint, ...]:
        """What is worked: the loads, or the sources where there is nothing else."""
        return self.cases[0].joints

    def amperes(self, index: int) -> float:
        """The most that a segment carries in any case, A."""
        return max(abs(sum(j.current for j in case.joints[index:])) for case in self.cases)

    @property
    def sets(self) -> int:
        return self.entries.sets or 1

    @property
    def by_table(self) -> bool:
        """Whether the drop is judged by the cable's table, by the run's own entry or the job's."""
        own = self.entries.drop_method
        return own == "table" or (own == "job" and self.context.limits.method == "resistance")

    def segments(self, size: Size, case: RunCase | None = None) -> list[Segment]:
        """With one size throughout, but where a row has its own."""
        found = []
        joints = (case or self.cases[0]).joints
        for index, joint in enumerate(joints):
            carried = sum(j.current for j in joints[index:])
            own = size if joint.size == "auto" else joint.size
            found.append(
                Segment(joint.name, joint.metres, own, carried, joint.mv, self.sets, joint.given)
            )
        return found

    def lost(self, segments: Sequence[Segment]) -> list[Lost]:
        return [runs.lost(s, self.strand, self.three) for s in segments]

    def percent(self, size: Size) -> float | None:
        """Drop or rise in percent to the worst joint, in whichever case it is the most; ``None``
        where the size is not made or carries too little."""
        carries = self.carries(size).amperes
        if carries is not None and not fits(
            max(self.amperes(i) for i in range(len(self.joints))), carries
        ):
            return None
        try:
            return max(abs(one) for one in self.sums(size))
        except KeyError:
            return None

    def sums(self, size: Size) -> list[float]:
        """Percent lost up to each joint in each case, a rise below zero, by the way that the drop
        is judged; the first case first. Raises ``KeyError`` for a size that is not made."""
        found: list[float] = []
        for case in self.cases:
            lost = self.lost(self.segments(size, case))
            each = (one.by_table if self.by_table else one.by_impedance for one in lost)
            found += (100 * volts / self.volts for volts in accumulate(each))
        return found

    def carries(self, size: Size) -> Carries:
        """What a size carries as it lies."""
        heaviest = max(self.amperes(i) for i in range(len(self.joints))) / self.sets
        return self.strand.carries(size, heaviest, self.sets)

    def sizes(self) -> tuple[Size, ...]:
        return self.strand.sizes

    def choose(self, limit: float) -> tuple[Size, bool]:
        """The run's size, and whether it was found here. Where every segment has a size of its own
        there is nothing to find: the run is worked as it is, within the limit or not."""
        own = [joint.size for joint in self.joints]
        if "auto" not in own:
            return own[0], False
        if self.entries.size != "auto":
            return Size(self.entries.size), False
        found = runs.smallest(self.sizes(), self.percent, limit)
        if found is None:
            made = [s for s in self.sizes() if self.percent(s) is not None]
            best = made[-1] if made else NO_SIZE
            words = (
                "No size keeps within the limit."
                if not best
                else (
                    f"Even {self.strand.name(best)} loses {figure(self.percent(best), 1)} %: use"
                    f" sets in"
                    " parallel, higher volts, or shorten the run."
                )
            )
            raise WrongEntryError("size", words)
        return found[0], True

    def check_sizes(self, size: Size) -> None:
        e = self.entries
        for path, own in (("size", size), *((f"{j.path}.size", j.size) for j in self.joints)):
            if own != "auto" and self.strand.ohms(Size(own)) is None:
                raise WrongEntryError(
                    path,
                    say(
                        "{size_names} is not made of {material}: choose a larger size, or copper.",
                        size_names=self.strand.name(Size(own)),
                        material=e.material if can(e, OfMetal) else "copper",
                    ),
                )

    def ohms(self, segments: Sequence[Segment]) -> list[complex]:
        """R + jX of one conductor of each segment, all sets."""
        found = []
        for s in segments:
            if s.given:
                found.append(complex(s.given))
                continue
            one = self.strand.ohms(s.size)
            found.append(0j if one is None else one.z / 1000 * s.metres / s.sets)
        return found

    @property
    def start(self) -> float:
        """V between the lines of the run at its beginning: as at the supply, or nominal."""
        system = self.context.supply.system
        supply = self.context.supply.volts
        nominal = system.line_to_line or system.to_neutral
        return self.volts * (supply / nominal if supply else 1.0)

    def solve(
        self,
        segments: Sequence[Segment],
        case: RunCase | None = None,
        start: float | None = None,
        times: float = 1.0,
    ) -> Solution:
        """Constant power at every joint, every conductor explicit; ``start`` V at the beginning
        where they are not the supply's, impedances ``times`` those that the conductors have."""
        joints = (case or self.cases[0]).joints
        volts = self.start if start is None else start
        phases = 3 if self.three else 1
        emf = volts / sqrt(3) if self.three else volts
        sources = tuple(
            Source(f"source {p}", f"{p}.0", "r.0", rect(emf, -2 * pi * p / 3))
            for p in range(phases)
        )
        conductors = [Conductor("bond", "r.0", "earth")]
        loads = []
        ohms = self.ohms(segments)
        for index, joint in enumerate(joints, 1):
            z = ohms[index - 1] * times
            for wire in (*(str(p) for p in range(phases)), "r"):
                conductors.append(
                    Conductor(f"{wire}:{index}", f"{wire}.{index - 1}", f"{wire}.{index}", z)
                )
            if joint.va:
                va = rect(abs(joint.va), acos(joint.power_factor)) / phases
                va = -va.conjugate() if joint.va < 0 else va
                rated = self.volts / sqrt(3) if self.three else self.volts
                loads += [
                    NetworkLoad(f"load {index}.{p}", f"{p}.{index}", f"r.{index}", va, rated)
                    for p in range(phases)
                ]
        try:
            return solved(Network(sources, tuple(conductors), tuple(loads)))
        except NoSolutionError as error:
            most = sum(j.va for j in joints) * error.share
            at = max(joints, key=lambda joint: abs(joint.va))
            raise WrongEntryError(
                f"{at.path}.nameplate",
                say(
                    "More than this run can carry: the volts collapse. At most {most} VA in"
                    " all; enlarge the conductors, shorten the run or raise the volts.",
                    most=figure(most, 0),
                ),
            ) from error
        except ElementError as error:
            raise WrongEntryError("", str(error)) from error

    def mends(self, size: Size, percent: float, limit: float) -> RunRemedies:
        """A larger conductor, a shorter run, higher volts; the longest run with this conductor."""
        larger = runs.smallest(self.strand.beside(size), self.percent, limit)
        if abs(percent) <= 1e-9:
            return RunRemedies(larger)
        if any(joint.given for joint in self.joints):  # no length to be in proportion to
            needed = runs.volts_for(self.volts, abs(percent), limit)
            step = next((v for v in runs.STEPS_UP if v >= needed * (1 - 1e-9)), None)
            return RunRemedies(larger, volts=needed, next_volts=step)
        length = sum(j.metres for j in self.joints)
        needed = runs.volts_for(self.volts, abs(percent), limit)
        step = next((v for v in runs.STEPS_UP if v >= needed * (1 - 1e-9)), None)
        return RunRemedies(larger, length, length * limit / abs(percent), needed, step)


@dataclass(frozen=True, slots=True)
class RunRemedies:
    """What would keep a run within its limit: the smallest conductor with its percent; of this one
    the ``longest`` run in m beside its ``length``; the ``volts`` at which the same load loses no
    more, and the next usual ones. ``None`` where nothing is lost."""

    larger: tuple[Size, float] | None
    length: float = 0.0
    longest: float | None = None
    volts: float | None = None
    next_volts: float | None = None


def across(answer: Solution, index: int, three: bool) -> float:
    return answer.volts(f"0.{index}", f"1.{index}" if three else f"r.{index}")
