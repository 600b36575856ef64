"""Circuits that share a neutral, in numbers: the circuit solved, and what its conductors carry."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

from voltaje.core.codes import NotCoveredError
from voltaje.core.codes.vocabulary import NO_SIZE, Size
from voltaje.core.electrical.systems import Demand, Piece
from voltaje.core.kinds.interface import Outcome
from voltaje.core.kinds.multiwire_circuit.circuit import (
    MultiwireRun,
    Placed,
    lay_out,
    legs_of,
    solve,
    strand_of,
)
from voltaje.core.kinds.multiwire_circuit.entries import MultiwireEntries, SharedNeutral
from voltaje.core.report import Rule, figure, fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.checks import SizingRequest, judge
from voltaje.core.rules.north_america.runs import is_metric
from voltaje.core.rules.north_america.wiring import COLUMNS, Installation, options, size_ranks
from voltaje.core.sizing import Verdict

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


@dataclass(frozen=True, slots=True)
class Over:
    """A conductor that carries more than it may: its name, its size, the ``most`` A in any of its
    pieces, and what it ``carries``; of a device, that device's rating and no size."""

    wire: str
    most: float
    carries: float
    size: Size = NO_SIZE
    rules: tuple[Rule, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class MultiwireOutcome(Outcome):
    """The circuit's ``layout``, its ``solution``, the ``volts`` at each load by its path, amperes
    of each conductor's ``first`` piece, percent lost by the worst load, the
    conductors that carry ``over`` their device or ampacity; the ``size`` and why the device may not
    stand ahead of it."""

    layout: MultiwireRun
    solution: Solution
    volts: Mapping[str, float]
    first: Mapping[str, float]
    percent: float
    over: tuple[Over, ...]
    size: Size
    unprotected: Verdict | None

    def ratio(self, load: Placed) -> float:
        """Volts at a load over its rated ones."""
        return self.volts[load.path] / load.rated


def calculate(entries: SharedNeutral, context: Context) -> MultiwireOutcome:
    """The circuit laid out and solved. Sizes that are left open are the smallest that stand behind
    the device and carry what flows."""
    if entries.size != "auto":
        return _with(entries, context, Size(entries.size))
    if not isinstance(entries, MultiwireEntries):
        return _smallest(entries, context)
    made = options(entries.material, _installation(entries), context.edition)
    for option in made:
        if is_metric(option.size) or _unprotected(entries, option.size, context):
            continue
        found = _with(entries, context, option.size)
        if not any(over.size for over in found.over):
            return found
    raise NotCoveredError(
        context.edition.title, say("conductors behind {device} A like this", device=entries.device)
    )


def _smallest(entries: SharedNeutral, context: Context) -> MultiwireOutcome:
    """The smallest of the family's conductors that stands behind the device and carries what
    flows."""
    for size in strand_of(entries, context).sizes:
        if _unprotected(entries, size, context):
            continue
        found = _with(entries, context, size)
        if not any(over.size for over in found.over):
            return found
    words = say("conductors behind {device} A like this", device=entries.device)
    raise NotCoveredError(context.edition.title, words)


def _with(entries: SharedNeutral, context: Context, size: Size) -> MultiwireOutcome:
    layout = lay_out(entries, context, size)
    answer = solve(layout)
    volts = {
        load.path: answer.volts(f"{load.ends[0]}.{load.joint}", f"{load.ends[1]}.{load.joint}")
        for load in layout.loads
    }
    first = {wire: answer.amperes(f"{wire}:1") for wire in layout.wires}
    lost = [100 * (load.rated - volts[load.path]) / load.rated for load in layout.loads]
    return MultiwireOutcome(
        wires=layout.wires,
        drop=max(lost) if layout.is_long else None,
        opened=bool(layout.opened),
        legs=tuple(layout.legs.items()),
        layout=layout,
        solution=answer,
        volts=volts,
        first=first,
        percent=max(lost, key=abs),
        over=tuple(_over(entries, layout, answer, size, context)),
        size=size,
        unprotected=_unprotected(entries, size, context),
    )


def _installation(entries: MultiwireEntries) -> Installation:
    legs = legs_of(entries)
    nonlinear = any(row.third_harmonic for row in entries.loads)
    doubled = len(set(legs)) < len(legs)
    count = len(legs) + (1 if nonlinear or doubled else 0)
    return Installation(entries.wiring_method, entries.insulation, counted=max(count, 2))


def _unprotected(entries: SharedNeutral, size: Size, context: Context) -> Verdict | None:
    """Why the device may not stand ahead of a conductor (240.4; IEC 60364-4-43: its rating is not
    above what the conductor carries); ``None`` where it may, or where the code does not rate it."""
    if not isinstance(entries, MultiwireEntries):
        return _above_conductor(entries, size, context)
    edition, installation = context.edition, _installation(entries)
    option = next(
        (o for o in options(entries.material, installation, edition) if o.size == size), None
    )
    if option is None or is_metric(size):
        return None
    need = SizingRequest(0.0, 0.0, 0.0, (entries.device,))
    found = judge(entries.device, option, 1, need, installation, edition, size_ranks(edition))
    return None if found.passes else found


def _above_conductor(entries: SharedNeutral, size: Size, context: Context) -> Verdict | None:
    carries = strand_of(entries, context).carries(size, entries.device, 1)
    if carries.amperes is None or fits(entries.device, carries.amperes):
        return None
    rule = carries.rules[0]
    words = say("It carries {amperes} A", amperes=figure(carries.amperes, 1))
    return Verdict(False, "protection", context.edition, words, (rule.topic,))


def _over(
    entries: SharedNeutral, layout: MultiwireRun, answer: Solution, size: Size, context: Context
) -> Iterator[Over]:
    """Each circuit against its device, and every conductor, the neutral too, against its
    ampacity."""
    neutral = size if entries.neutral_size == "auto" else entries.neutral_size
    if not isinstance(entries, MultiwireEntries):
        yield from _over_strand(entries, layout, answer, (size, Size(neutral)), context)
        return
    made = {o.size: o for o in options(entries.material, _installation(entries), context.edition)}
    for wire in layout.wires:
        most = max(answer.amperes(f"{wire}:{j}") for j in range(1, len(layout.joints)))
        own = neutral if wire == "N" else size
        if wire != "N" and not fits(most, entries.device):
            yield Over(wire, most, entries.device)
        # lighting and receptacle circuits of this size end in terminals of the lower column
        if not is_metric(Size(own)) and own in made:
            carries = made[Size(own)].final(COLUMNS[0])
            if not fits(most, carries):
                yield Over(wire, most, carries, Size(own))


def _over_strand(
    entries: SharedNeutral,
    layout: MultiwireRun,
    answer: Solution,
    sizes: tuple[Size, Size],
    context: Context,
) -> Iterator[Over]:
    """The same by the family's conductors: ``sizes`` of the circuits and of the neutral."""
    strand = strand_of(entries, context)
    for wire in layout.wires:
        most = max(answer.amperes(f"{wire}:{j}") for j in range(1, len(layout.joints)))
        if wire != "N" and not fits(most, entries.device):
            yield Over(wire, most, entries.device)
        own = sizes[1] if wire == "N" else sizes[0]
        carries = strand.carries(own, most, 1)
        if carries.amperes is not None and not fits(most, carries.amperes):
            yield Over(wire, most, carries.amperes, own, carries.rules)


def hand_up(entries: SharedNeutral, outcome: MultiwireOutcome, context: Context) -> Demand:
    """One piece for each circuit and each pair of them, with the leg it stands on."""
    layout = outcome.layout
    found: dict[tuple[str, str], list[Placed]] = {}
    for load in layout.loads:
        found.setdefault(load.ends, []).append(load)
    pieces = []
    for (one, other), loads in found.items():
        va, volts = sum(abs(load.va) for load in loads), loads[0].rated
        alone = other == "N"
        line = layout.legs[one]
        if not alone:
            # both on one line is a mistake that the sheet tells: the load is not left out for it
            pair = sorted((line, layout.legs[other]))
            line = "auto" if pair[0] == pair[1] else "-".join(pair)
        pieces.append(
            Piece(
                str(
                    say("circuit {one}", one=one)
                    if alone
                    else say("across {one} and {other}", one=one, other=other)
                ),
                "other",
                va,
                va,
                va / volts,
                "line-neutral" if alone else "two-line",
                line,
                device=entries.device,
                multiwire="*" if alone else "",
                nonlinear=any((load.row.third_harmonic or 0) > 0 for load in loads),
            )
        )
    return Demand.of(pieces)
