"""Loads over lines: the optimum against all assignments tried, the bound against the optimum, moves
that never make it worse, work that can be done step by step, what is pinned and shared."""

from itertools import product
from math import sqrt
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.electrical.balance import (
    OBJECTIVES,
    ConflictError,
    OperatingCase,
    by_hand,
    curve,
    measure,
    solve,
    task_of,
    work_of,
)
from voltaje.core.electrical.balance.exact import CLOSED, EVEN_PERCENT, EVEN_SHARE
from voltaje.core.electrical.balance.measure import value
from voltaje.core.electrical.lines import currents
from voltaje.core.electrical.systems import SYSTEMS, Piece

WYE, METRIC, SPLIT, HIGH = (
    SYSTEMS[n] for n in ("3ph-208Y/120", "3ph-400Y/230", "1ph-120/240", "3ph-240/120")
)


def piece(key, va, connection="line-neutral", line="L1", **more):
    return Piece(key.upper(), "other", va, va, 0.0, connection, line, part=key, **more)


def loads(*watts, line="L1"):
    return [piece(f"c{i}", w, line=line) for i, w in enumerate(watts)]


# what balance means ---------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("lines", "neutral"),
    [(("L1", "L2", "L3"), 0), (("L1", "L2"), 1), (("L1", "L1", "L2"), sqrt(3))],
)
def test_the_neutral_of_equal_loads(lines, neutral):
    """Three, one on each line: nothing; one missing: one; two on one line, one on another: √3.
    Common practice, no source."""
    pieces = [piece(f"c{i}", 1200, line=line) for i, line in enumerate(lines)]
    task = task_of(pieces, WYE)
    found = measure(task, task.now(), task.cases[0])
    assert found.neutral == pytest.approx(10 * neutral, abs=1e-9)


def test_loads_within_three_percent_count_as_balanced():
    task = task_of(
        [piece("a", 3100), piece("b", 3100, line="L2"), piece("c", 3200, line="L3")], WYE
    )
    assert measure(task, task.now(), task.cases[0]).deviation < 3


@settings(max_examples=examples(60), deadline=None)
@given(st.lists(st.tuples(st.integers(1, 60), st.sampled_from(
    ["L1", "L2", "L3", "L1-L2", "L2-L3", "L1-L3", "all"])), min_size=1, max_size=8))  # fmt: skip
def test_amperes_are_those_that_boards_are_told(rows):
    """Against the sum of phasors that the board's own sheet works."""
    kinds = {"all": "three-phase"}
    pieces = [
        piece(
            f"c{i}", 100 * n, kinds.get(line, "two-line" if "-" in line else "line-neutral"), line
        )
        for i, (n, line) in enumerate(rows)
    ]
    task = task_of(pieces, WYE)
    found = measure(task, task.now(), task.cases[0])
    by_line, neutral = currents([(p, p.calculated) for p in pieces], WYE)
    assert found.amperes == pytest.approx(by_line) and found.neutral == pytest.approx(neutral)


# the optimum ----------------------------------------------------------------------------------------


def brute(task, objective):
    """Every assignment tried, those of a shared neutral on one line left out."""
    free = [load for load in task.loads if load.free]
    best = float("inf")
    for choice in product(*(load.options for load in free)):
        lines = {**task.now(), **{load.key: line for load, line in zip(free, choice, strict=True)}}
        if allowed(task, lines):
            best = min(best, value(task, lines, objective))
    return best


def allowed(task, lines):
    shared = {}
    for load in task.loads:
        if load.multiwire:
            shared.setdefault(load.multiwire, []).append(lines[load.key])
    return all(len(set(found)) == len(found) for found in shared.values())


def even(task, objective):
    if objective == "deviation":
        return EVEN_PERCENT
    if objective == "heaviest":
        return 0.0
    return EVEN_SHARE * min(
        task.system.line_current(sum(x.va * case.share(x.key) for x in task.loads))
        for case in task.cases
    )


boards = st.lists(
    st.tuples(st.integers(1, 40), st.sampled_from(["one", "one", "one", "two", "three"])),
    min_size=1,
    max_size=6,
)


@settings(max_examples=examples(250), deadline=None)
@given(boards, st.sampled_from([WYE, METRIC, SPLIT, HIGH]), st.sampled_from(list(OBJECTIVES)))
def test_the_optimum_is_the_best_of_all_assignments(rows, system, objective):
    pieces = []
    for i, (n, what) in enumerate(rows):
        if what == "three" and system.phases == 3:
            pieces.append(piece(f"c{i}", 100 * n, "three-phase", "all"))
        elif what == "two" and system.line_to_line:
            pieces.append(piece(f"c{i}", 100 * n, "two-line", "L1-L2"))
        else:
            pieces.append(piece(f"c{i}", 100 * n))
    task = task_of(pieces, system)
    found = solve(task, objective)
    best = brute(task, objective)
    assert found.proven
    assert found.value == pytest.approx(value(task, found.lines, objective))
    assert found.value <= max(best, even(task, objective)) * (1 + 2 * CLOSED) + 1e-6
    assert found.bound <= best * (1 + 1e-6) + 1e-6 or found.value <= even(task, objective)
    assert found.value <= value(task, by_hand(task), objective) + 1e-9


@settings(max_examples=examples(80), deadline=None)
@given(st.lists(st.integers(1, 40), min_size=3, max_size=6), st.data())
def test_cases_count_by_the_worst_or_by_their_weights(rows, data):
    shares = st.sampled_from([0.0, 0.4, 1.0])
    cases = tuple(
        OperatingCase(name, {f"c{i}": data.draw(shares) for i in range(len(rows))}, weight)
        for name, weight in (("winter", 1.0), ("regatta", 2.0))
    )
    weighted = data.draw(st.booleans())
    objective = data.draw(st.sampled_from(["heaviest", "neutral"]))
    task = task_of(loads(*(100 * n for n in rows)), WYE, cases=cases, weighted=weighted)
    found = solve(task, objective)
    best = brute(task, objective)
    assert found.value <= max(best, even(task, objective)) * (1 + 2 * CLOSED) + 0.02


def test_what_is_pinned_or_feeds_three_lines_stays():
    task = task_of([*loads(3000, 2000, 1000, 900), piece("t", 6000, "three-phase", "all")], WYE,
                   pinned=("c0", "c1"))  # fmt: skip
    found = solve(task, "heaviest")
    assert found.lines["c0"] == found.lines["c1"] == "L1" and found.lines["t"] == "all"
    assert {found.lines["c2"], found.lines["c3"]} == {"L2", "L3"}


def test_a_shared_neutral_stands_on_different_lines_and_none_on_the_high_leg():
    shared = [piece("a", 1000, multiwire="K"), piece("b", 1000, line="L1", multiwire="K")]
    found = solve(task_of([*shared, *loads(500, 500)], WYE), "deviation")
    assert found.lines["a"] != found.lines["b"]
    high = solve(task_of(loads(900, 800, 700), HIGH), "heaviest")
    assert set(high.lines.values()) <= {"L1", "L3"}


def test_the_pieces_of_one_part_are_told_apart_and_stay():
    """A dwelling on three lines hands up one piece for each."""
    house = [piece("h", va, line=line) for va, line in ((3000, "L1"), (2000, "L2"), (1000, "L3"))]
    task = task_of([*house, *loads(1000, 2000)], WYE)
    found = measure(task, task.now(), task.cases[0])
    assert found.va == pytest.approx({"L1": 6000, "L2": 2000, "L3": 1000})
    best = solve(task, "heaviest")
    assert {best.lines["c0"], best.lines["c1"]} == {"L2", "L3"}
    assert best.value == pytest.approx(25)


@pytest.mark.parametrize("objective", list(OBJECTIVES))
def test_a_shared_neutral_that_stands_twice_on_one_line_is_no_answer(objective):
    """Even where the present spread would be the more even one."""
    twice = [piece(k, 500, multiwire="K") for k in "ab"]
    task = task_of([*twice, piece("c", 1000, line="L2")], SPLIT)
    found = solve(task, objective)
    assert allowed(task, found.lines)
    first, *works = curve(task, objective)
    assert first.moves == 0 and not allowed(task, first.answer.lines)
    assert works and all(allowed(task, work.answer.lines) for work in works)


def test_pins_that_conflict_are_named():
    shared = [piece("a", 1000, multiwire="K"), piece("b", 900, multiwire="K")]
    with pytest.raises(ConflictError) as error:
        task_of(shared, WYE, pinned=("a", "b"))
    assert error.value.names == ("A", "B") and "share a neutral" in str(error.value)
    with pytest.raises(ConflictError) as error:
        task_of([piece("a", 900, line="L2")], HIGH, pinned=("a",))
    assert error.value.names == ("A",)


@pytest.mark.parametrize("objective", list(OBJECTIVES))
def test_boards_with_nothing_to_spread(objective):
    for pieces in ([], [piece("t", 5000, "three-phase", "all")], loads(0, 0)):
        task = task_of(pieces, WYE)
        found = solve(task, objective)
        assert found.proven and found.value >= 0
        assert [work.moves for work in curve(task, objective)] in ([0], [])


# moves ----------------------------------------------------------------------------------------------


@settings(max_examples=examples(60), deadline=None)
@given(boards, st.sampled_from([WYE, SPLIT]), st.sampled_from(list(OBJECTIVES)))
def test_the_curve_of_moves_never_rises_and_its_work_can_be_done(rows, system, objective):
    pieces = [piece(f"c{i}", 100 * n, multiwire="K" if i < 2 else "",
                    line=("L1", "L2")[i] if i < 2 else "L1")
              for i, (n, _) in enumerate(rows)]  # fmt: skip
    task = task_of(pieces, system)
    works = list(curve(task, objective))
    values = [work.answer.value for work in works]
    assert values == sorted(values, reverse=True)
    best = brute(task, objective)
    assert values[-1] <= max(best, even(task, objective)) * (1 + 3 * CLOSED) + 1e-3
    for work in works:
        standing = task.now()
        moved = {key for key, line in work.answer.lines.items() if line != standing[key]}
        assert len(moved) <= work.moves
        done = set()
        for step in work.steps:
            assert standing[step.one.key] == step.one.line != step.to
            standing[step.one.key] = step.to
            done.add(step.one.key)
            if step.other is not None:
                assert standing[step.other.key] == step.to
                standing[step.other.key] = step.one.line
                done.add(step.other.key)
            assert allowed(task, standing) or not allowed(task, work.answer.lines)
        assert standing == dict(work.answer.lines) and done >= moved


@pytest.mark.parametrize(
    ("watts", "objective", "moves", "reached"),
    [
        # 3, 2 and 1 kW on one line: one move makes 3 and 3, two leave 3, 2, 1 (half of 2 off)
        ((3000, 2000, 1000), "heaviest", 1, 25),
        ((3000, 2000, 1000), "deviation", 2, 50),
        ((600,) * 6, "heaviest", 4, 10),
        ((600,) * 6, "neutral", 4, 0),
    ],
)
def test_so_few_moves_do_it_by_hand(watts, objective, moves, reached):
    works = list(curve(task_of(loads(*watts), WYE), objective))
    assert works[-1].moves == moves
    assert works[-1].answer.value == pytest.approx(reached, abs=1e-6)


def test_two_that_change_places_are_one_step():
    task = task_of([piece("a", 3000), piece("b", 1000, line="L2"), piece("c", 10, line="L3")], WYE)
    steps = work_of(task, {"a": "L2", "b": "L1", "c": "L3"})
    assert [(step.act, step.one.key, step.other.key) for step in steps] == [("swap", "a", "b")]


def test_a_board_of_84_is_proven_quickly():
    chance = Random(5)
    pieces = [piece(f"c{i}", chance.randint(3, 40) * 100) for i in range(84)]
    for objective in OBJECTIVES:
        found = solve(task_of(pieces, WYE), objective)
        assert found.proven, objective
