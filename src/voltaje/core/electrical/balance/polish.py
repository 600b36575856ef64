"""A spread made better by changing two circuits at a time, until no such change helps: a good start
for the proof, not one itself."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from voltaje.core.electrical.balance.measure import value
from voltaje.core.electrical.balance.task import BalanceTask, Movable, Objective

MOST_ROUNDS = 40  # no code figure: how many changes are made at most


def polished(
    task: BalanceTask, lines: Mapping[str, str], objective: Objective, goal: float
) -> dict[str, str]:
    """The spread after changes of two circuits that are alike in poles and board, so that places
    stay enough; those that share a neutral are left. Stops at ``goal``."""
    found = dict(lines)
    groups: dict[Any, list[Movable]] = {}
    for load in task.loads:
        if load.free and not load.multiwire:
            groups.setdefault((load.board, load.options), []).append(load)
    best = value(task, found, objective)
    for _ in range(MOST_ROUNDS):
        if best <= goal:
            break
        change = None
        for (_, options), members in groups.items():
            change = _best_pair(task, found, members, options, objective, best) or change
            if change is not None:
                best = change[2]
        if change is None:
            break
        one, other, best = change
        found[one], found[other] = found[other], found[one]
        best = value(task, found, objective)
    return found


def _best_pair(
    task: BalanceTask,
    lines: Mapping[str, str],
    members: list[Movable],
    options: tuple[str, ...],
    objective: Objective,
    best: float,
) -> tuple[str, str, float] | None:
    """The two of a group whose change is worth the most, and what it comes to."""
    import numpy as np

    many = len(members)
    if many < 2:
        return None
    wires = ("N",) if objective == "neutral" else task.system.lines
    at = np.array([options.index(lines[load.key]) for load in members])
    # A by load, option and wire, all of it running
    flows = np.array(
        [[[task.amperes(load, o).get(w, 0j) for w in wires] for o in options] for load in members]
    )
    figures = []
    for case in task.cases:
        share = np.array([case.share(load.key) for load in members])
        own = flows * share[:, None, None]
        total = np.array(
            [
                sum(
                    task.amperes(load, lines[load.key]).get(w, 0j) * case.share(load.key)
                    for load in task.loads
                )
                for w in wires
            ]
        )
        here = own[np.arange(many), at]  # load, wire
        there = own[:, at]  # load i where load j stands: i, j, wire
        after = total + (there - here[:, None, :]) + (there.transpose(1, 0, 2) - here[None, :, :])
        figures.append(np.abs(after).max(axis=2))
    if task.weighted:
        score = sum(case.weight * figure for case, figure in zip(task.cases, figures, strict=True))
    else:
        score = np.max(figures, axis=0)
    index = int(np.argmin(score))
    one, other = divmod(index, many)
    if score[one, other] >= best - 1e-9:
        return None
    return members[one].key, members[other].key, float(score[one, other])
