"""Mixed-integer programs against another build of the solver (HiGHS in scipy) and against all
choices tried; effort that is counted, handed down and ended from outside."""

from itertools import product
from math import inf

import numpy as np
import pytest
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array

from voltaje.core.effort import Effort, StoppedError
from voltaje.core.mixed_integer import minimize


def program(seed, columns, rows):
    """Costs and rows of a program that 0 in every column satisfies or nothing does."""
    rng = np.random.default_rng(seed)
    cost = rng.integers(-20, 20, columns).astype(float)
    found = []
    for _ in range(rows):
        at = rng.choice(columns, rng.integers(2, columns), replace=False)
        row = {int(i): float(v) for i, v in zip(at, rng.integers(1, 12, len(at)), strict=True)}
        low, high = (-inf, float(rng.integers(1, 30)))
        if rng.random() < 0.3:
            low, high = float(rng.integers(1, 8)), inf
        found.append((row, low, high))
    return cost, found


def by_scipy(cost, rows, whole):
    data = [(v, n, i) for n, (row, _, _) in enumerate(rows) for i, v in row.items()]
    values, at_row, at_column = zip(*data, strict=True)
    matrix = csr_array((values, (at_row, at_column)), shape=(len(rows), len(cost)))
    return milp(
        cost,
        constraints=LinearConstraint(matrix, [r[1] for r in rows], [r[2] for r in rows]),
        integrality=np.array([int(whole(i)) for i in range(len(cost))]),
        bounds=Bounds(0, 1),
        options={"mip_rel_gap": 0.0},
    )


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("every", [1, 2])
def test_the_least_cost_is_scipys(seed, every):
    """Source of the comparison: scipy.optimize.milp, an independent call of the same method."""
    cost, rows = program(seed, 14, 9)

    def whole(i):
        return i % every == 0

    found, other = minimize(cost, rows, Effort(), whole=whole), by_scipy(cost, rows, whole)
    assert (found.values is None) == (other.x is None)
    if found.values is None:
        assert found.ended == "infeasible" and found.bound == inf
        return
    assert cost @ found.values == pytest.approx(other.fun, abs=1e-6)
    assert found.ended == "optimal" and found.bound == pytest.approx(other.fun, abs=1e-6)
    for row, low, high in rows:
        total = sum(v * found.values[i] for i, v in row.items())
        assert low - 1e-6 <= total <= high + 1e-6


@pytest.mark.parametrize("seed", range(8))
def test_the_least_cost_is_that_of_all_choices(seed):
    cost, rows = program(100 + seed, 9, 5)
    best = min(
        (
            float(cost @ np.array(choice))
            for choice in product((0.0, 1.0), repeat=9)
            if all(lo <= sum(v * choice[i] for i, v in row.items()) <= hi for row, lo, hi in rows)
        ),
        default=None,
    )
    found = minimize(cost, rows, Effort())
    assert (found.values is None) == (best is None)
    assert best is None or cost @ found.values == pytest.approx(best, abs=1e-6)


def hard():
    """A program that takes some hundred steps: equal knapsacks of odd weights."""
    rng = np.random.default_rng(3)
    weights = rng.integers(1000, 3000, 40).astype(float)
    rows = [
        ({i * 3 + k: w for i, w in enumerate(weights)} | {120: -1.0}, -inf, 0.0) for k in range(3)
    ]
    rows += [({i * 3 + k: 1.0 for k in range(3)}, 1.0, 1.0) for i in range(40)]
    cost = [0.0] * 120 + [1.0]
    more = {"whole": lambda i: i < 120, "upper": lambda i: 1.0 if i < 120 else inf}
    return cost, rows, more, weights.sum() / 3


def test_effort_that_is_spent_ends_it_the_same_way_each_time():
    cost, rows, more, least = hard()
    ends = []
    for seconds in (0.0, 0.02, 0.1, 0.3):
        one, again = (minimize(cost, rows, Effort(seconds), **more) for _ in range(2))
        assert one.ended == again.ended and one.bound == again.bound
        assert (one.values is None) == (again.values is None)
        assert one.values is None or np.array_equal(one.values, again.values)
        ends.append(one.ended)
        if one.values is not None:
            assert cost @ one.values >= least - 1e-6 and one.bound <= cost @ one.values + 1e-6
    assert ends[0] == "cut short"


def test_better_solutions_are_told_on_the_way_and_it_stops_when_it_is_asked_to():
    cost, rows, more, _least = hard()
    told = []

    def better(values, bound):
        told.append((cost @ values, bound))

    minimize(cost, rows, Effort(0.5), better=better, **more)
    costs = [one for one, _ in told]
    assert costs and costs == sorted(costs, reverse=True)
    assert all(bound <= one + 1e-6 for one, bound in told)
    told.clear()
    found = minimize(cost, rows, Effort(60.0, lambda: bool(told)), better=better, **more)
    assert found.ended == "cut short" and found.values is not None


def test_a_part_of_an_effort_takes_from_the_whole():
    asked = []
    whole = Effort(10.0, lambda: bool(asked))
    part = whole.at_most(4.0)
    part.spend(3.0)
    assert (whole.left, part.left, whole.share, part.share) == (7.0, 1.0, 0.3, 0.75)
    part.spend(9.0)
    assert (whole.left, part.left, part.share) == (0.0, 0.0, 1.0)
    assert Effort(0.0).share == 1.0 and Effort().left == inf
    Effort(1.0).check()
    with pytest.raises(StoppedError):
        part.check()
    other = Effort(5.0, lambda: bool(asked)).at_most(inf)
    assert other.left == 5.0
    asked.append(True)
    assert other.left == 0.0
