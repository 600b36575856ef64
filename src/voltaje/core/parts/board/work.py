"""A board in numbers: VA and A on each line, its poles, its shared neutrals."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from voltaje.core.electrical.lines import currents, place
from voltaje.core.electrical.systems import Demand, Piece, System
from voltaje.core.parts.board.entries import BoardEntries
from voltaje.core.parts.kind import Outcome
from voltaje.core.rules.context import Context
from voltaje.core.rules.fed import with_fed

POLES = {"line-neutral": 1, "two-line": 2, "three-phase": 3}


@dataclass(frozen=True, slots=True)
class Shared:
    """Circuits that share a neutral: the name, their own names, the amperes of each line, those of
    the neutral, and the line that two of them stand on (empty: none)."""

    name: str
    circuits: tuple[str, ...]
    lines: tuple[str, ...]
    by_line: Mapping[str, float]
    neutral: float
    twice: str


@dataclass(frozen=True, slots=True, kw_only=True)
class BoardOutcome(Outcome):
    """Its loads ``placed`` on their lines and what is ``calculated`` of them (``None``: empty); VA
    and A by line, ``deviation`` of the worst from their mean in VA and ``percent``; ``exact``
    amperes with 125 % of continuous, ``poles`` used, ``line_of`` each part by its id."""

    placed: tuple[Piece, ...]
    calculated: Any
    va: Mapping[str, float]
    on_lines: Mapping[str, float]
    neutral: float
    deviation: float
    percent: float
    exact: float
    poles: int
    shared: tuple[Shared, ...]
    line_of: Mapping[str, str]


def work(entries: BoardEntries, context: Context) -> BoardOutcome:
    """The board: what stands on each line, and the load of all of it."""
    system, edition = context.supply.system, context.edition
    placed = place(context.below.pieces, system)
    found = context.code.calculate(placed, edition) if placed else None
    connected = dict.fromkeys(system.lines, 0.0)
    for piece in placed:
        lines = _lines_of(piece, system)
        for name in lines:
            connected[name] += piece.calculated / len(lines)
    amperes, neutral = currents([(p, p.calculated) for p in placed], system)
    mean = sum(connected.values()) / len(connected)
    deviation = max((abs(v - mean) for v in connected.values()), default=0.0)
    return BoardOutcome(
        fault=with_fed(context.supply.fault, context.below, system),
        placed=placed,
        calculated=found,
        va=connected,
        on_lines=amperes,
        neutral=neutral,
        deviation=deviation,
        percent=100 * deviation / mean if mean else 0.0,
        exact=system.line_current(found.design if found else 0.0),
        poles=sum(POLES[p.connection] for p in placed),
        shared=shared_neutrals(placed, system),
        line_of={p.part: p.line for p in placed if p.part},
    )


def _lines_of(piece: Piece, system: System) -> tuple[str, ...]:
    if piece.line == "all" or piece.connection == "three-phase":
        return system.lines
    found = tuple(name for name in piece.line.split("-") if name in system.lines)
    return found or system.lines


def shared_neutrals(placed: Sequence[Piece], system: System) -> tuple[Shared, ...]:
    """Circuits that share a neutral: what it carries, and whether their lines differ."""
    found = []
    for name in dict.fromkeys(p.multiwire for p in placed if p.multiwire):
        members = [p for p in placed if p.multiwire == name]
        lines = tuple(p.line for p in members)
        by_line = dict.fromkeys(system.lines, 0.0)
        for piece in members:
            by_line[piece.line] = by_line.get(piece.line, 0.0) + piece.amperes
        twice = ""
        if len(set(lines)) < len(lines):
            twice = max(by_line, key=lambda line: by_line[line])
        neutral = system.neutral_current(tuple(by_line.values()))
        names = tuple(p.name for p in members)
        found.append(Shared(name, names, lines, by_line, neutral, twice))
    return tuple(found)


def hand_up(entries: BoardEntries, outcome: BoardOutcome, context: Context) -> Demand:
    """Its circuits, each with the line it stands on."""
    return Demand.of(outcome.placed)
