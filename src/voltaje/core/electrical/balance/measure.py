"""How even a spread is: VA and A by line, the worst deviation, the neutral, the heaviest line."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from voltaje.core.electrical.balance.task import BalanceTask, Movable, Objective, OperatingCase
from voltaje.core.electrical.lines import phasors


@dataclass(frozen=True, slots=True)
class Measure:
    """One case: VA and A by line, the largest ``deviation`` from the mean in percent of it (0: no
    load), A of the ``neutral`` and of the ``heaviest`` line; along a street the percent of the
    volts ``lost`` at the lowest consumer, every load taken at nominal volts."""

    case: str
    va: Mapping[str, float]
    amperes: Mapping[str, float]
    deviation: float
    neutral: float
    heaviest: float
    lost: float = 0.0

    def of(self, objective: Objective) -> float:
        """The figure that an objective looks at."""
        return float(getattr(self, objective))


def measure(task: BalanceTask, lines: Mapping[str, str], case: OperatingCase) -> Measure:
    """A spread in one case."""
    va = dict.fromkeys(task.system.lines, 0.0)
    total: dict[str, complex] = dict.fromkeys((*task.system.lines, "N"), 0j)
    for load in task.loads:
        share, line = case.share(load.key), lines[load.key]
        for name, value in task.va(load, line).items():
            va[name] += share * value
        for name, current in task.amperes(load, line).items():
            total[name] += share * current
    mean = sum(va.values()) / len(va)
    worst = max((abs(value - mean) for value in va.values()), default=0.0)
    amperes = {name: abs(total[name]) for name in task.system.lines}
    return Measure(
        case.name,
        va,
        amperes,
        100 * worst / mean if mean else 0.0,
        abs(total["N"]) if task.system.has_neutral else 0.0,
        max(amperes.values()),
        _lost(task, lines, case),
    )


def _lost(task: BalanceTask, lines: Mapping[str, str], case: OperatingCase) -> float:
    """Percent of the volts that the lowest consumer loses along the street."""
    if task.along is None:
        return 0.0
    return max(
        (
            sum(
                drop(task, load.key, line, other, lines[other.key]) * case.share(other.key)
                for other in task.loads
            )
            for load in task.loads
            for line in (task.system.lines if lines[load.key] == "all" else [lines[load.key]])
        ),
        default=0.0,
    )


def drop(task: BalanceTask, at: str, line: str, load: Movable, on: str) -> float:
    """Percent of the volts to neutral that a load, standing ``on`` a line, takes from ``line``
    where another one stands: in the line by its own current, in the neutral by what flows back."""
    if task.along is None:
        return 0.0
    flows = task.amperes(load, on)
    unit = phasors(task.system)[line]
    way = task.along.shared(at, load.key) * (flows.get(line, 0j) + flows.get("N", 0j))
    return 100 * (way * unit.conjugate() / abs(unit)).real / task.along.volts


def value(task: BalanceTask, lines: Mapping[str, str], objective: Objective) -> float:
    """What a spread comes to: the worst case, or the weighted sum of the cases."""
    found = [(case.weight, measure(task, lines, case).of(objective)) for case in task.cases]
    if task.weighted:
        return sum(weight * figure for weight, figure in found)
    return max(figure for _, figure in found)
