"""One load as read off a nameplate, in VA and amperes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from voltaje.core.electrical.systems import Connection

LineChoice = Literal["auto", "L1", "L2"]


@dataclass(frozen=True, slots=True)
class CountedLoad:
    """A load, or ``count`` like it. ``va`` and ``amperes`` are of one; ``path`` is its entry.

    ``amperes`` is what one draws at its own rated voltage, which for a nameplate in amperes is
    the nameplate. ``line`` is the line of a load to neutral, ``horsepower`` a motor's where it
    was entered so.
    """

    path: str
    name: str
    va: float
    amperes: float
    connection: Connection = "two-line"
    count: int = 1
    motor: bool = False
    line: LineChoice = "auto"
    horsepower: float = 0.0

    @property
    def total(self) -> float:
        """VA of all of them."""
        return self.va * self.count

    @property
    def on_neutral(self) -> bool:
        return self.connection == "line-neutral"


@dataclass(frozen=True, slots=True)
class Household:
    """A dwelling's loads as a feeder or service of several counts them together, VA: ``lighting``
    with its small-appliance and laundry circuits; ``climate`` the larger of heating and cooling;
    ``motor`` the quarter of its largest. ``optional`` says that the dwelling goes by that method,
    ``electric`` that it cooks electrically and is heated or cooled so."""

    lighting: float
    fixed: tuple[CountedLoad, ...]
    own: tuple[CountedLoad, ...]
    chargers: tuple[CountedLoad, ...]
    dryers: tuple[CountedLoad, ...]
    cooking: tuple[CountedLoad, ...]
    climate: float
    motor: float
    optional: bool
    electric: bool


def total(loads: Iterable[CountedLoad]) -> float:
    """Sum of the nameplates, VA. Order does not matter."""
    return sum(sorted(load.total for load in loads))


def paths(loads: Iterable[CountedLoad]) -> tuple[str, ...]:
    """The entries the loads came from."""
    return tuple(load.path for load in loads)


@dataclass(frozen=True, slots=True)
class Split:
    """120 V loads put on two lines: indexes of the loads on each, and VA on each."""

    lines: tuple[tuple[str, float], ...]
    l1: float
    l2: float


def split_lines(weights: list[tuple[str, float, LineChoice]]) -> Split:
    """Puts loads on L1 and L2, those with a line of their own first, so that the lines differ
    least: the largest first on the lighter line, then moves and swaps while they help.

    ``weights`` are (path, VA, line); returns each path with its line number, 1.0 or 2.0.
    """
    on: dict[int, tuple[float, int]] = {}
    sums = [0.0, 0.0]
    free: list[int] = []
    for index, (_, va, line) in enumerate(weights):
        if line == "auto":
            free.append(index)
        else:
            side = 0 if line == "L1" else 1
            on[index] = (va, side)
            sums[side] += va
    free.sort(key=lambda i: (-weights[i][1], weights[i][0]))
    for index in free:
        side = 0 if sums[0] <= sums[1] else 1
        on[index] = (weights[index][1], side)
        sums[side] += weights[index][1]
    improved = True
    while improved:
        improved = False
        gap = sums[0] - sums[1]
        options: list[tuple[float, tuple[int, ...]]] = []
        for i in free:
            va, side = on[i]
            options.append((abs(gap - (2 * va if side == 0 else -2 * va)), (i,)))
            if side == 0:
                options += [(abs(gap - 2 * (va - on[j][0])), (i, j)) for j in free if on[j][1] == 1]
        if options:
            best, moved = min(options, key=lambda option: (round(option[0], 6), option[1]))
            if best < abs(gap) - 1e-6:
                improved = True
                for i in moved:
                    va, side = on[i]
                    sums[side] -= va
                    sums[1 - side] += va
                    on[i] = (va, 1 - side)
    placed = tuple((weights[i][0], float(on[i][1] + 1)) for i in range(len(weights)))
    return Split(placed, sums[0], sums[1])
