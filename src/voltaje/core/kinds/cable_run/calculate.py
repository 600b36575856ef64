"""A run in numbers: what each segment carries and loses, the solved volts at each joint."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.connection import load_current
from voltaje.core.electrical.network.contribution import NetworkContribution, NetworkSegment
from voltaje.core.electrical.systems import Demand, Infeed, Piece
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.cable_run.along import (
    RunCase,
    RunSolution,
    across,
    cases_of,
    joints_of,
    strand_of,
)
from voltaje.core.kinds.cable_run.entries import CableRunEntries
from voltaje.core.kinds.cable_run.unknowns import MeasuredDrop, measured_drop
from voltaje.core.kinds.interface import Outcome
from voltaje.core.kinds.placing import load_voltage
from voltaje.core.report import Rule, say
from voltaje.core.rules.common.runs import Lost, Segment
from voltaje.core.rules.context import Context

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


@dataclass(frozen=True, slots=True)
class Other:
    """Another case of a run that something feeds into: A of each segment, V at its ends."""

    case: RunCase
    amperes: tuple[float, ...]
    ends: tuple[float, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class CableRunOutcome(Outcome):
    """The run ``along`` its joints with what each segment carries and has ``lost``; volts at its
    ``ends``, the beginning first; the ``limit`` in percent with its rule where the job gives it;
    the run's ``size`` and whether it was ``found`` here; percent lost to the lowest joint and the
    ``rise`` to the highest, in whichever case they are the most; the ``others`` beside the one that
    is worked, where something feeds in; what was ``measured``. The ``percent`` to the joint that
    is the ``worst`` are solved, or by the cable's table where the drop is judged by that."""

    along: RunSolution
    segments: tuple[Segment, ...]
    lost: tuple[Lost, ...]
    size: Size
    found: bool
    limit: float
    limit_rule: Rule | None
    ends: tuple[float, ...]
    solution: Solution
    percent: float
    worst: int
    rise: float
    others: tuple[Other, ...]
    measured: MeasuredDrop | None

    @property
    def by_impedance(self) -> float:
        """Volts lost in all by impedance."""
        return sum(one.by_impedance for one in self.lost)

    @property
    def by_table(self) -> float:
        """Volts lost in all by the cable's table."""
        return sum(one.by_table for one in self.lost)


def calculate(entries: CableRunEntries, context: Context) -> CableRunOutcome:
    """The run: its size, what each segment carries and loses, the solved volts at each joint."""
    volts = load_voltage(context.supply.system, entries.connection, "connection")
    strand = strand_of(entries, context)
    joints = joints_of(entries, context, volts, strand)
    advised = context.limits.branch(context.edition)
    limit = advised.value if entries.maximum_drop is None else entries.maximum_drop
    if limit <= 0:
        raise WrongEntryError("maximum_drop", say("Give the drop allowed in percent, like 3."))
    three = entries.connection == "three-phase"
    below = sum(piece.calculated for piece in context.below.pieces)
    cases = cases_of(joints, below, volts, entries.connection)
    along = RunSolution(entries, context, volts, three, cases, strand)
    size, found = along.choose(limit)
    along.check_sizes(Size(size))
    segments = tuple(along.segments(Size(size)))
    lost = tuple(along.lost(segments))
    answer = along.solve(segments)
    ends = tuple(across(answer, index, three) for index in range(len(joints) + 1))
    others = tuple(_other(along, case, Size(size)) for case in cases[1:])
    every = (ends, *(other.ends for other in others))
    falls = [100 * (at[0] - one) / volts for at in every for one in at[1:]]
    if along.by_table:
        falls = along.sums(Size(size))
    percent = max(falls)
    return CableRunOutcome(
        amperes=max(along.amperes(index) for index in range(len(joints))),
        drop=percent,
        along=along,
        segments=segments,
        lost=lost,
        size=Size(size),
        found=found,
        limit=limit,
        limit_rule=advised.rule if entries.maximum_drop is None else None,
        ends=ends,
        solution=answer,
        percent=percent,
        worst=falls.index(percent) % len(joints),
        rise=max(100 * (max(at[1:]) - at[0]) / volts for at in every),
        others=others,
        measured=measured_drop(along, segments, entries.measured_start, entries.measured_end),
    )


def _other(along: RunSolution, case: RunCase, size: Size) -> Other:
    segments = along.segments(size, case)
    answer = along.solve(segments, case)
    ends = tuple(across(answer, index, along.three) for index in range(len(case.joints) + 1))
    return Other(case, tuple(abs(s.amperes) for s in segments), ends)


def hand_up(entries: CableRunEntries, outcome: CableRunOutcome, context: Context) -> Demand:
    """What hangs on the run: its own loads and the parts at its end."""
    volts, connection = outcome.along.volts, entries.connection
    pieces = [
        Piece(
            joint.name,
            "other",
            joint.own,
            joint.own,
            load_current(joint.own, volts, connection),
            connection,
        )
        for joint in outcome.along.joints
        if joint.own > 0
    ]
    # a source lowers no load: it goes up beside them
    fed = tuple(
        Infeed(-joint.own, connection, power_factor=joint.power_factor, name=joint.name)
        for joint in outcome.along.cases[-1].joints
        if joint.own < 0
    )
    return replace(Demand.of([*pieces, *context.below.pieces]), infeed=fed)


def network_contribution(
    entries: CableRunEntries, outcome: CableRunOutcome, context: Context
) -> NetworkContribution:
    """Segment by segment, with the loads where they stand."""
    ohms = outcome.along.ohms(outcome.segments)
    return NetworkContribution(
        tuple(
            NetworkSegment(z, z, int(joint.own > 0))
            for z, joint in zip(ohms, outcome.along.joints, strict=True)
        )
    )
