"""A board to be balanced in as few moves as possible, held against the proven optimum of the
balance itself. Common practice, no source: the loads."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from random import Random

from voltaje.core.effort import Effort
from voltaje.core.electrical.balance import (
    BalanceTask,
    Measure,
    Movable,
    Work,
    curve,
    measure,
)
from voltaje.core.electrical.balance.task import CALCULATED
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.report import Text, say

# no code figures: effort of the search, s; circuits; how an answer is scored; of the possible gain,
# what is worth its moves; within what two spreads are alike
SEARCH, CIRCUITS, POINTS, EVEN, FEW, WORTH, SAME = 0.6, 9, 10, 6, 4, 0.85, 1.001
# names with VA, and whether between two lines of a system that has such
LOADS: tuple[tuple[Text, float, bool], ...] = (
    (say("Saw"), 2200.0, True),
    (say("Dust extractor"), 1500.0, True),
    (say("Kettle"), 1500.0, False),
    (say("Bench lights"), 600.0, False),
    (say("Office sockets"), 1100.0, False),
    (say("Freezer"), 400.0, False),
    (say("Water heater"), 3000.0, True),
    (say("Yard lights"), 800.0, False),
    (say("Glue press"), 1800.0, False),
    (say("Chargers"), 900.0, False),
    (say("Heat lamp"), 1000.0, False),
    (say("Pump"), 700.0, False),
)


@dataclass(frozen=True, slots=True)
class JudgedBalance:
    """``moves`` made and the ``deviation`` reached, percent; ``points`` of ten; the ``fewest``
    moves that reach the best, and whether that is proven."""

    moves: int
    deviation: float
    points: int
    fewest: int
    best: float
    proven: bool


@dataclass(frozen=True)
class BalanceExercise:
    """The board of a seed as a task of the balance."""

    task: BalanceTask

    @cached_property
    def works(self) -> tuple[Work, ...]:
        """What each number of moves reaches, none first."""
        return tuple(curve(self.task, "deviation", Effort(SEARCH)))

    def measured(self, lines: Mapping[str, str]) -> Measure:
        """The lines' loads and the deviation with that spread."""
        return measure(self.task, lines, self.task.cases[0])

    def moves(self, lines: Mapping[str, str]) -> int:
        """How many circuits stand elsewhere than before."""
        return sum(lines[load.key] != load.line for load in self.task.loads)

    def judged(self, lines: Mapping[str, str]) -> JudgedBalance:
        """A spread held against the best: how much of the possible gain it is, and whether fewer
        moves reach as much."""
        start, best = self.works[0].answer.value, self.works[-1]
        own, moves = self.measured(lines).deviation, self.moves(lines)
        possible = start - best.answer.value
        share = max(0.0, min(1.0, (start - own) / possible)) if possible > 0 else 0.0
        points = EVEN * share
        if share >= WORTH and moves:
            reached = (one.moves for one in self.works if one.answer.value <= own * SAME)
            points += FEW * min(1.0, next(reached, best.moves) / moves)
        return JudgedBalance(
            moves, own, round(points), best.moves, best.answer.value, best.answer.proven
        )


def balance_exercise(system: str, seed: str) -> BalanceExercise:
    """The board of a seed: it is uneven by a fifth at least, and moves mend it."""
    rng = Random(f"balance {system} {seed}")  # noqa: S311 - an exercise, no secret
    own = SYSTEMS[system]
    across = own.line_to_line < HIGHEST  # between lines of 400 V nothing of these stands
    while True:
        chosen = rng.sample(LOADS, CIRCUITS)
        loads = []
        for number, (name, va, two) in enumerate(chosen, 1):
            pairs = [f"{a}-{b}" for n, a in enumerate(own.lines) for b in own.lines[n + 1 :]]
            options = tuple(pairs) if two and across else own.lines
            connection = "two-line" if two and across else "line-neutral"
            # most stand on the first two lines, as boards are that grew by and by
            line = rng.choice(options[: max(1, len(options) - 1)])
            loads.append(Movable(f"c{number}", str(name), va, connection, line, options))
        made = BalanceExercise(BalanceTask(own, tuple(loads), CALCULATED))
        if made.measured(made.task.now()).deviation > UNEVEN and len(made.works) > 2:
            return made


# no code figures: percent from which a board is worth the exercise; V between lines
UNEVEN, HIGHEST = 20.0, 300.0
