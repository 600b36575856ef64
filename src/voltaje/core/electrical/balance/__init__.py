"""Circuits spread over the lines of a board: how even they are, the best that can be had and the
proof of it, the fewest moves that get there.

``measure`` says how even it is, ``task`` what may move and what may not, ``exact`` finds the best
spread as a mixed-integer program, ``built`` the places for it, ``moves`` what each number of moves
reaches and the work in its order.
"""

from voltaje.core.electrical.balance.built import built, unbuilt
from voltaje.core.electrical.balance.exact import Answer, solve
from voltaje.core.electrical.balance.measure import Measure, measure
from voltaje.core.electrical.balance.moves import MOST_MOVES, MoveStep, Work, curve, work_of
from voltaje.core.electrical.balance.task import (
    OBJECTIVES,
    BalanceTask,
    ConflictError,
    LineLoads,
    Movable,
    Objective,
    OperatingCase,
    by_hand,
    task_of,
)

__all__ = [
    "MOST_MOVES",
    "OBJECTIVES",
    "Answer",
    "BalanceTask",
    "ConflictError",
    "LineLoads",
    "Measure",
    "Movable",
    "MoveStep",
    "Objective",
    "OperatingCase",
    "Work",
    "built",
    "by_hand",
    "curve",
    "measure",
    "solve",
    "task_of",
    "unbuilt",
    "work_of",
]
