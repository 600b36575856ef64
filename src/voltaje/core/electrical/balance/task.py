"""What is to be balanced: the loads, where each may stand, the cases in which they run."""

from __future__ import annotations

from collections import Counter
from collections.abc import Container, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from voltaje.core.electrical.lines import choices, phasors, place
from voltaje.core.electrical.panel_layout import Schedule, Seat
from voltaje.core.electrical.systems import Piece, System
from voltaje.core.report import Text, say

Objective = Literal["deviation", "neutral", "heaviest", "lost"]
OBJECTIVES: Mapping[Objective, Text] = {
    "deviation": say("largest deviation from the mean"),
    "neutral": say("neutral current"),
    "heaviest": say("current of the most loaded line"),
    "lost": say("voltage drop at the lowest consumer"),
}


class ConflictError(ValueError):
    """Pins that cannot hold together. ``names`` are the circuits that conflict."""

    def __init__(self, names: Sequence[str], words: Text) -> None:
        super().__init__(str(words))
        self.names, self.words = tuple(names), words


@dataclass(frozen=True, slots=True)
class Movable:
    """A load by its key and name: VA, how it is connected, the line that it stands on, where it may
    stand; ``pinned`` ones stay. ``multiwire`` names those that share a neutral, ``board`` is the
    one in whose places it stands (empty: none is known)."""

    key: str
    name: str
    va: float
    connection: str
    line: str
    options: tuple[str, ...]
    pinned: bool = False
    multiwire: str = ""
    board: str = ""

    @property
    def part(self) -> str:
        """The part that it comes from; several loads may come from one."""
        return self.key.partition("#")[0]

    @property
    def free(self) -> bool:
        return not self.pinned and len(self.options) > 1


@dataclass(frozen=True, slots=True)
class OperatingCase:
    """An operating case: the share of each load that runs, by its key (1 where none is told), and
    its weight among the others."""

    name: str
    shares: Mapping[str, float] = field(default_factory=dict)
    weight: float = 1.0

    def share(self, key: str) -> float:
        """Of a load; the several pieces of one part run together."""
        return self.shares.get(key.partition("#")[0], 1.0)


CALCULATED = (OperatingCase("calculated"),)


@dataclass(frozen=True, slots=True)
class LineLoads:
    """Loads along one line: Ω of one conductor from its head to each, by their keys, and the volts
    to neutral. What two of them share of the way is the way to the nearer one."""

    ohms: Mapping[str, complex]
    volts: float

    def shared(self, one: str, other: str) -> complex:
        return min(self.ohms[one], self.ohms[other], key=abs)


@dataclass(frozen=True, slots=True)
class BalanceTask:
    """Loads on a system, in the cases that count: the worst of them, or their weighted sum; in the
    places of ``boards``, which are schedules by the id of the board; ``along`` says how far they
    stand on a street."""

    system: System
    loads: tuple[Movable, ...]
    cases: tuple[OperatingCase, ...] = CALCULATED
    weighted: bool = False
    boards: Mapping[str, Schedule] = field(default_factory=dict)
    along: LineLoads | None = None

    @property
    def objectives(self) -> tuple[Objective, ...]:
        """What can be made small: volts only where it is known how far the loads stand."""
        return tuple(name for name in OBJECTIVES if name != "lost" or self.along)

    def now(self) -> dict[str, str]:
        """Where each load stands."""
        return {load.key: load.line for load in self.loads}

    def amperes(self, load: Movable, line: str) -> dict[str, complex]:
        """A in each line that a load loads, and in the neutral (``"N"``), as phasors at unity
        power factor, nominal volts; all of it running."""
        volts, system = phasors(self.system), self.system
        if line == "all":
            each = system.line_current(load.va)
            return {name: each * volts[name] / abs(volts[name]) for name in system.lines}
        if "-" in line:
            one, other = line.split("-")
            across = volts[one] - volts[other]
            # nominal volts, as the boards are told: 208, not 1.732 × 120
            current = load.va / system.line_to_line * across / abs(across)
            return {one: current, other: -current}
        current = load.va / abs(volts[line]) * volts[line] / abs(volts[line])
        return {line: current, "N": current}

    def va(self, load: Movable, line: str) -> dict[str, float]:
        """VA on each line: half to either line of two, a third to each of three."""
        lines = self.system.lines if line == "all" else tuple(line.split("-"))
        return {name: load.va / len(lines) for name in lines}


def task_of(
    pieces: Sequence[Piece],
    system: System,
    pinned: Sequence[str] = (),
    cases: Sequence[OperatingCase] = CALCULATED,
    weighted: bool = False,
    boards: Mapping[str, Schedule] | None = None,
) -> BalanceTask:
    """The task of loads as they are placed, by the ids of their parts, in the places of ``boards``
    where they are known. Raises :class:`ConflictError` where pins cannot hold together."""
    loads = tuple(_movables(pieces, system, set(pinned), boards or {}))
    task = BalanceTask(system, loads, tuple(cases), weighted, boards or {})
    check(task)
    return task


def _movables(
    pieces: Sequence[Piece],
    system: System,
    pinned: Container[str],
    boards: Mapping[str, Schedule],
) -> Iterator[Movable]:
    """One for each piece. The several pieces that one part hands up go where it goes: they are
    told apart by a number, and stay. So does what is pinned to its place."""
    many = Counter(piece.part for piece in pieces if piece.part)
    home = {seat.device.key: key for key, one in boards.items() for seat in one.seats}
    seats = {seat.device.key: (one, seat) for one in boards.values() for seat in one.seats}
    fast = {
        seat.device.key
        for one in boards.values()
        for seat in one.seats
        if seat.device.pinned or seat.device.tied
    }
    for index, piece in enumerate(pieces):
        alone = many[piece.part] == 1
        yield Movable(
            piece.part if alone else f"{piece.part}#{index}",
            piece.name,
            piece.calculated,
            piece.connection,
            "all" if piece.connection == "three-phase" else piece.line,
            _options(piece, system, seats.get(piece.part)),
            not alone or piece.part in pinned or piece.part in fast,
            piece.multiwire,
            home.get(piece.part, ""),
        )


def _options(piece: Piece, system: System, stands: tuple[Schedule, Seat] | None) -> tuple[str, ...]:
    """Where a load may stand: of a device on a board only behind lines that its board has
    positions for."""
    options = tuple(choices(piece, system))
    if stands is None or not stands[1].device.alone:
        return options
    schedule, seat = stands
    behind = schedule.layout.behind(seat.device.poles)
    return tuple(o for o in options if o in behind or o == piece.line) or options


def allowed(task: BalanceTask, lines: Mapping[str, str]) -> bool:
    """Whether no two circuits of one shared neutral stand on one line, where there are lines for
    all of them, and no board is asked for more places behind a line than it has."""
    for key, room in rooms(task).items():
        for line, most in room.items():
            if asked(task, lines, key)[line] > most:
                return False
    shared: dict[str, list[Movable]] = {}
    for load in task.loads:
        if load.multiwire:
            shared.setdefault(load.multiwire, []).append(load)
    return all(
        len({lines[load.key] for load in members}) == len(members)
        for members in shared.values()
        if len(members) <= len({line for load in members for line in load.options})
    )


def rooms(task: BalanceTask) -> dict[str, dict[str, int]]:
    """Of each board, how many places behind each line are left for what can move."""
    found = {}
    free = {load.key for load in task.loads if load.free}
    for key, schedule in task.boards.items():
        room = Counter(place.line for column in schedule.layout.columns for place in column)
        for seat in schedule.seats:
            stays = seat.given or seat.device.what == "circuit"
            if seat.device.key not in free and stays:
                room.subtract(place.line for place in seat.span or ())
        found[key] = {line: max(0, room[line]) for line in task.system.lines}
    return found


def asked(task: BalanceTask, lines: Mapping[str, str], board: str) -> Counter[str]:
    """How many places behind each line of a board its free loads ask for."""
    found: Counter[str] = Counter()
    for load in task.loads:
        if load.free and load.board == board:
            line = lines[load.key]
            found.update(task.system.lines if line == "all" else line.split("-"))
    return found


def check(task: BalanceTask) -> None:
    """Raises :class:`ConflictError` for pinned circuits of one shared neutral on one line, and for
    a line that a pinned circuit may not stand on."""
    seen: dict[tuple[str, str], Movable] = {}
    for load in task.loads:
        if not load.pinned:
            continue
        if load.line not in load.options:
            words = say(
                "{name} is pinned to {line}, where it cannot stand.", name=load.name, line=load.line
            )
            raise ConflictError((load.name,), words)
        other = seen.get((load.multiwire, load.line)) if load.multiwire else None
        if other is not None:
            words = say(
                "{one} and {other} share a neutral and are both pinned to {line}: it would carry"
                " the sum of both.",
                one=other.name,
                other=load.name,
                line=load.line,
            )
            raise ConflictError((other.name, load.name), words)
        seen[load.multiwire, load.line] = load


def by_hand(task: BalanceTask) -> dict[str, str]:
    """The hand rule: the largest first onto the lightest line, what is pinned left where it is."""
    pieces = [
        Piece(
            load.name,
            "other",
            load.va,
            load.va,
            0.0,
            load.connection,  # type: ignore[arg-type]
            load.line if load.pinned or load.line == "all" else "auto",
            multiwire=load.multiwire,
        )
        for load in task.loads
    ]
    held = {index: load.options for index, load in enumerate(task.loads)}
    placed = place(pieces, task.system, held)
    return {
        load.key: "all" if load.line == "all" else piece.line
        for load, piece in zip(task.loads, placed, strict=True)
    }


def moved(task: BalanceTask, lines: Mapping[str, str]) -> BalanceTask:
    """The same with the loads where ``lines`` has them."""
    return replace(task, loads=tuple(replace(load, line=lines[load.key]) for load in task.loads))
