"""What is to be balanced: the loads, where each may stand, the cases in which they run."""

from __future__ import annotations

from collections import Counter
from collections.abc import Container, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from voltaje.core.electrical.lines import choices, phasors, place
from voltaje.core.electrical.systems import Piece, System
from voltaje.core.worksheet import Text, say

Objective = Literal["deviation", "neutral", "heaviest"]
OBJECTIVES: Mapping[Objective, Text] = {
    "deviation": say("the worst deviation from the mean"),
    "neutral": say("the neutral’s amperes"),
    "heaviest": say("the most loaded line’s amperes"),
}


class ConflictError(ValueError):
    """Pins that cannot hold together. ``names`` are the circuits that conflict."""

    def __init__(self, names: Sequence[str], words: Text) -> None:
        super().__init__(str(words))
        self.names, self.words = tuple(names), words


@dataclass(frozen=True, slots=True)
class Movable:
    """A load by its key and name: VA, how it is connected, the line that it stands on, where it may
    stand; ``pinned`` ones stay. ``multiwire`` names those that share a neutral."""

    key: str
    name: str
    va: float
    connection: str
    line: str
    options: tuple[str, ...]
    pinned: bool = False
    multiwire: str = ""

    @property
    def free(self) -> bool:
        return not self.pinned and len(self.options) > 1


@dataclass(frozen=True, slots=True)
class Case:
    """An operating case: the share of each load that runs, by its key (1 where none is told), and
    its weight among the others."""

    name: str
    shares: Mapping[str, float] = field(default_factory=dict)
    weight: float = 1.0

    def share(self, key: str) -> float:
        return self.shares.get(key, 1.0)


CALCULATED = (Case("calculated"),)


@dataclass(frozen=True, slots=True)
class Task:
    """Loads on a system, in the cases that count: the worst of them, or their weighted sum."""

    system: System
    loads: tuple[Movable, ...]
    cases: tuple[Case, ...] = CALCULATED
    weighted: bool = False

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
            current = load.va / abs(across) * across / abs(across)
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
    cases: Sequence[Case] = CALCULATED,
    weighted: bool = False,
) -> Task:
    """The task of a board's loads as they are placed, by the ids of their parts. Raises
    :class:`ConflictError` where pins cannot hold together."""
    loads = tuple(_movables(pieces, system, set(pinned)))
    task = Task(system, loads, tuple(cases), weighted)
    check(task)
    return task


def _movables(pieces: Sequence[Piece], system: System, pinned: Container[str]) -> Iterator[Movable]:
    """One for each piece. The several pieces that one part hands up go where it goes: they are
    told apart by a number, and stay."""
    many = Counter(piece.part for piece in pieces if piece.part)
    for index, piece in enumerate(pieces):
        alone = many[piece.part] == 1
        yield Movable(
            piece.part if alone else f"{piece.part}#{index}",
            piece.name,
            piece.calculated,
            piece.connection,
            "all" if piece.connection == "three-phase" else piece.line,
            tuple(choices(piece, system)),
            not alone or piece.part in pinned,
            piece.multiwire,
        )


def allowed(task: Task, lines: Mapping[str, str]) -> bool:
    """Whether no two circuits of one shared neutral stand on one line, where there are lines for
    all of them."""
    shared: dict[str, list[Movable]] = {}
    for load in task.loads:
        if load.multiwire:
            shared.setdefault(load.multiwire, []).append(load)
    return all(
        len({lines[load.key] for load in members}) == len(members)
        for members in shared.values()
        if len(members) <= len({line for load in members for line in load.options})
    )


def check(task: Task) -> None:
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


def by_hand(task: Task) -> dict[str, str]:
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
    placed = place(pieces, task.system)
    return {
        load.key: "all" if load.line == "all" else piece.line
        for load, piece in zip(task.loads, placed, strict=True)
    }


def moved(task: Task, lines: Mapping[str, str]) -> Task:
    """The same with the loads where ``lines`` has them."""
    return replace(task, loads=tuple(replace(load, line=lines[load.key]) for load in task.loads))
