"""The loads of a part and of all boards below it, as they are to be spread over the lines.

A board's loads stand in its places. What hangs behind windings stands on lines of its own and is
left where it is.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

from voltaje.core.capabilities import Fused, InCases, MainDevice, can
from voltaje.core.electrical.balance import BalanceTask, OperatingCase, task_of
from voltaje.core.electrical.balance.measure import value
from voltaje.core.electrical.lines import place
from voltaje.core.electrical.panel_layout import Schedule
from voltaje.core.electrical.systems import Piece, System
from voltaje.core.job.voltages.report import Across, HolderVolts, LeafVolts
from voltaje.core.kinds import Evaluated, Outcome, PartInput
from voltaje.core.report import say


@dataclass(frozen=True, slots=True)
class Spread:
    """Loads on their lines, the schedules of the boards that they stand in by the board's id with
    their names, the operating cases (the calculated load first), and the A of the device ahead of
    all of it (0: not known). Of a street ``rows`` are its consumers, by their paths in its
    entries. ``holds`` are the parts whose loads hang on a board, through other boards too;
    ``missing`` those whose load is not among the pieces, since their result is missing."""

    system: System
    pieces: tuple[Piece, ...]
    boards: Mapping[str, Schedule]
    names: Mapping[str, str]
    cases: tuple[OperatingCase, ...]
    device: float
    rows: BalanceTask | None = None
    holds: Mapping[str, frozenset[str]] = field(default_factory=dict)
    missing: tuple[str, ...] = ()

    def task(
        self,
        pinned: Sequence[str] = (),
        weights: Mapping[str, float] | None = None,
        weighted: bool = False,
    ) -> BalanceTask:
        """As a task to be solved; cases may have weights by their names, and one of weight 0 is
        left out. Raises :class:`ConflictError`."""
        if self.rows is not None:
            held = (replace(one, pinned=one.pinned or one.key in pinned) for one in self.rows.loads)
            return replace(self.rows, loads=tuple(held))
        given = weights or {}
        cases = [OperatingCase(c.name, c.shares, given.get(c.name, 1.0)) for c in self.cases]
        counted = [case for case in cases if case.weight > 0] or cases[:1]
        here = {seat.device.key for one in self.boards.values() for seat in one.seats}
        stay = [piece.part for piece in self.pieces if piece.part not in here]
        return task_of(self.pieces, self.system, (*stay, *pinned), counted, weighted, self.boards)

    def deviation(self, task: BalanceTask, lines: Mapping[str, str], board: str) -> float:
        """How far the lines of one board differ from their mean, percent, with all that hangs on
        it."""
        mine = tuple(load for load in task.loads if load.part in self.holds[board])
        return value(replace(task, loads=mine, boards={}), lines, "deviation")


def spreadable(
    parts: Sequence[PartInput], found: Mapping[str, Evaluated], top: str
) -> Literal["rows", "boards", ""]:
    """What below a part can be spread: its own rows, or boards; nothing."""
    mine = found[top]
    if mine.outcome is None or mine.context is None or mine.of is None:
        return ""
    if mine.outcome.rows_to_spread() is not None:
        return "rows"
    system = _system(mine)
    return "boards" if system and any(True for _ in _boards(parts, found, top, system)) else ""


def _system(mine: Evaluated) -> System | None:
    """The lines that are spread over: a board's own, else those that a part hands down."""
    if mine.outcome is None or mine.context is None or mine.of is None:
        return None
    if mine.outcome.schedule is not None:
        return mine.context.supply.system
    if not mine.of.holds_parts:
        return None
    return mine.of.hand_down(mine.entries, mine.context.supply).system


def gather(parts: Sequence[PartInput], found: Mapping[str, Evaluated], top: str) -> Spread | None:
    """What hangs on a part; ``None`` where it cannot be worked, or nothing hangs on it."""
    mine = found[top]
    if mine.outcome is None or mine.context is None or mine.of is None:
        return None
    by_id = {part.id: part for part in parts}
    rows = mine.outcome.rows_to_spread()
    if rows is not None:
        fuse = (mine.entries.fuse or 0.0) if can(mine.entries, Fused) else 0.0
        return Spread(rows.system, (), {}, {}, (), fuse, rows)
    system = _system(mine)
    if system is None:
        return None
    pieces = mine.outcome.placed
    if mine.outcome.schedule is None:
        pieces = place(mine.context.below.pieces, system)
    boards = {key: found[key].outcome.schedule for key in _boards(parts, found, top, system)}
    if not pieces or not boards:
        return None
    return Spread(
        system,
        tuple(pieces),
        boards,
        {key: by_id[key].name for key in boards},
        _cases(found, pieces),
        _device(found, by_id, top),
        holds={key: frozenset(piece.part for piece in found[key].outcome.placed) for key in boards},
        missing=tuple(one.name for one in mine.missing),
    )


def _boards(
    parts: Sequence[PartInput], found: Mapping[str, Evaluated], top: str, system: System
) -> Iterator[str]:
    """The boards from a part down that stand on the same lines."""
    children: dict[str | None, list[str]] = {}
    for part in parts:
        children.setdefault(part.parent, []).append(part.id)
    waiting = [top]
    while waiting:
        key = waiting.pop(0)
        item = found[key]
        if item.outcome is None or item.context is None or item.of is None:
            continue
        if key != top and (item.context.supply.system != system or _winds(item)):
            continue
        if item.outcome.schedule is not None:
            yield key
        waiting += children.get(key, [])


def _winds(item: Evaluated) -> bool:
    """Whether windings stand between its supply and what hangs on it."""
    if item.of is None or item.of.network_contribution is None or item.outcome is None:
        return False
    network_contribution = item.of.network_contribution(item.entries, item.outcome, item.context)  # type: ignore[arg-type]
    return network_contribution.windings is not None


def _cases(found: Mapping[str, Evaluated], pieces: Sequence[Piece]) -> tuple[OperatingCase, ...]:
    """The calculated load, and each case that a part is told a share in; what says nothing of a
    case runs in it with all of its load."""
    shares: dict[str, dict[str, float]] = {}
    for key in dict.fromkeys(piece.part for piece in pieces if piece.part in found):
        entries: Any = found[key].entries
        for row in entries.cases if can(entries, InCases) else ():
            if row.name:
                shares.setdefault(row.name, {})[key] = row.share / 100
    return (
        OperatingCase(str(say("calculated load"))),
        *(OperatingCase(name, of) for name, of in shares.items()),
    )


def _device(found: Mapping[str, Evaluated], by_id: Mapping[str, PartInput], top: str) -> float:
    """What protects the lines: a board's main, else the device that feeds the part."""
    entries: Any = found[top].entries
    if can(entries, MainDevice) and entries.main:
        return float(entries.main)
    if _winds(found[top]):
        return float(found[top].outcome.device_behind or 0.0)
    at: str | None = top
    if found[top].missing:  # no device is chosen there
        return 0.0
    while at is not None and not (at != top and _winds(found[at])):
        outcome: Outcome | None = found[at].outcome
        if outcome is not None and outcome.device_rating:
            return outcome.device_rating
        at = by_id[at].parent
    return 0.0


@dataclass(frozen=True, slots=True)
class AtBoard:
    """What a spread does at a board: V of each line to the neutral (between lines where there is
    none), and A of the neutral that feeds it."""

    name: str
    volts: tuple[tuple[str, float], ...]
    neutral: float


@dataclass(frozen=True, slots=True)
class Consequence:
    """What a spread does, by the solved network: at each board; at every circuit or consumer its
    name, V, and percent of nominal; W lost in the whole supply."""

    boards: tuple[AtBoard, ...]
    loads: tuple[tuple[str, float, float], ...]
    losses: float

    @property
    def lowest(self) -> tuple[str, float, float] | None:
        """The load with the lowest volts, in percent of its nominal ones."""
        return min(self.loads, key=lambda one: one[2], default=None)


def consequence(
    parts: Sequence[PartInput], found: Mapping[str, Evaluated], top: str, spread: Spread
) -> Consequence:
    """The volts of a job that is worked, below a part."""
    by_id = {part.id: part for part in parts}
    outcome = found[top].outcome
    if spread.rows is not None and outcome is not None:
        nominal = outcome.volts
        loads = [(at.house.name, at.lowest, 100 * at.lowest / nominal) for at in outcome.there]
        return Consequence((), tuple(loads), outcome.losses)
    boards = []
    for key, name in spread.names.items():
        volts = found[key].volts
        shown: tuple[tuple[str, float], ...] = ()
        flows: dict[str, complex] = {}
        if isinstance(volts, HolderVolts):
            neutral = [pair for pair in volts.across if pair.other == "N"] or list(volts.across)
            shown = tuple((_pair(one), one.volts) for one in neutral)
            flows = dict(volts.amperes)
        boards.append(AtBoard(name, shown, abs(flows.get("N", 0j))))
    leaves = []
    for part in parts:
        if part.parent in spread.boards and found[part.id].outcome is not None:
            leaf = found[part.id].volts
            if isinstance(leaf, LeafVolts) and leaf.nominal:
                leaves.append((part.name, leaf.volts, 100 * leaf.volts / leaf.nominal))
    root = top
    while by_id[root].parent is not None:
        root = str(by_id[root].parent)
    whole = found[root].volts
    losses = whole.losses if isinstance(whole, HolderVolts) else 0.0
    return Consequence(tuple(boards), tuple(leaves), losses)


def _pair(across: Across) -> str:
    return across.one if across.other == "N" else f"{across.one}-{across.other}"
