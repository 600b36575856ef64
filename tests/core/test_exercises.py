"""Windings without labels, and a board to be balanced: what instruments show by hand, answers judged. Ways of
finding out are common practice, no source; the physics is that of ideal windings."""

from __future__ import annotations

from itertools import product

import pytest

from voltaje.core.electrical.balance import measure
from voltaje.core.practice.balancing import CIRCUITS, balance_exercise
from voltaje.core.practice.unlabelled import (
    DANGER,
    LeadSetup,
    Unlabelled,
    UnmarkedCoil,
    unlabelled,
)
from voltaje.core.report import say

ONE = Unlabelled(say("x"), (UnmarkedCoil(0, 240, 3, 7), UnmarkedCoil(0, 120, 1, 5),
                            UnmarkedCoil(1, 240, 2, 4), UnmarkedCoil(1, 120, 8, 6)))  # fmt: skip
KEY = [(3, 7), (1, 5), (2, 4), (8, 6)]


@pytest.mark.parametrize(("across", "joints", "between", "shows"), [
    ((3, 7), (), (3, 7), 12.0), ((3, 7), (), (1, 5), 6.0), ((3, 7), (), (2, 4), 0.0),
    ((3, 7), (), (3, 1), None),  # nothing ties them: no steady reading
    ((3, 7), ((5, 7),), (3, 1), 6.0),  # ends of one polarity joined: the difference
    ((3, 7), ((1, 7),), (3, 5), 18.0),  # ends of two polarities joined: the sum
    ((7, 3), ((1, 7),), (3, 5), 18.0), ((2, 4), ((8, 2),), (4, 6), 6.0),
    ((3, 2), (), (3, 7), 0.0),  # not across a coil: no current, no voltage
])  # fmt: skip
def test_a_voltmeter_by_the_ratio_of_turns(across, joints, between, shows):
    found = ONE.volts(LeadSetup(12.0, across, joints), *between)
    assert found == "–" if shows is None else float(found) == pytest.approx(shows, abs=0.15)


@pytest.mark.parametrize(
    ("one", "other", "ohms"), [(3, 7, 0.96), (7, 3, 0.96), (1, 5, 0.48), (3, 1, None), (3, 2, None)]
)
def test_an_ohmmeter_shows_coils_alone(one, other, ohms):
    assert ONE.ohms(one, other) == ohms


@pytest.mark.parametrize(("setup", "blown", "danger"), [
    (LeadSetup(24.0, (3, 7)), False, False), (LeadSetup(6.0, (1, 5)), False, False),
    (LeadSetup(24.0, (1, 5)), False, False), (LeadSetup(24.0, (3, 7), ((1, 5),)), True, False),
    (LeadSetup(24.0, (3, 7), ((3, 7),)), True, False), (LeadSetup(), False, False),
])  # fmt: skip
def test_what_a_set_up_does(setup, blown, danger):
    state = ONE.state(setup)
    assert (state.blown, state.highest > DANGER) == (blown, danger)


def test_a_test_voltage_on_the_coil_of_few_turns_is_a_danger():
    step_up = Unlabelled(say("x"), (UnmarkedCoil(0, 120, 1, 2), UnmarkedCoil(0, 16, 3, 4)))
    assert step_up.state(LeadSetup(12.0, (3, 4))).highest == pytest.approx(90, rel=0.02)
    assert step_up.state(LeadSetup(24.0, (1, 2))).highest == pytest.approx(24.0, rel=0.001)


JUDGED = [
    # answer, tests, dangers: ends, which, polarity, points
    (KEY, 9, 0, True, True, True, 10), (KEY, 25, 0, True, True, True, 9), (KEY, 9, 2, True, True, True, 6),
    ([(7, 3), (5, 1), (2, 4), (8, 6)], 9, 0, True, True, True, 10),  # all of one unit the other way: the same
    ([(7, 3), (1, 5), (2, 4), (8, 6)], 9, 0, True, True, False, 6),
    ([(2, 4), (8, 6), (3, 7), (1, 5)], 9, 0, True, True, True, 10),  # the units the other way round
    ([(2, 4), (1, 5), (3, 7), (8, 6)], 9, 0, True, False, False, 4),  # coils of two units mixed
    ([(1, 5), (3, 7), (2, 4), (8, 6)], 9, 0, True, False, False, 4),
    ([(3, 5), (1, 7), (2, 4), (8, 6)], 9, 0, False, False, False, 0),
    ([(3, 7), (3, 7), (2, 4), (8, 6)], 9, 0, False, False, False, 0),
]  # fmt: skip


@pytest.mark.parametrize(
    ("answer", "tests", "dangers", "coils", "sides", "polarity", "points"), JUDGED
)
def test_leads_are_judged(answer, tests, dangers, coils, sides, polarity, points):
    found = ONE.judged(answer, tests, dangers)
    assert (found.coils, found.sides, found.polarity, found.points) == (
        coils,
        sides,
        polarity,
        points,
    )


@pytest.mark.parametrize("seed", range(12))
def test_windings_of_a_seed_can_be_found_by_their_readings(seed):
    """As one does it: ohms for the coils, 12 V on each for ratios and units, a joint for polarity."""
    units = unlabelled(str(seed))
    pairs = [
        (a, b) for a in units.leads for b in units.leads if a < b and units.ohms(a, b) is not None
    ]
    assert len(pairs) == len(units.coils)
    longest = sorted(pairs, key=lambda p: -units.ohms(*p))
    answer, left, core = [], list(pairs), -1
    for coil in units.coils:
        if coil.core != core:
            core, first = coil.core, next(p for p in longest if p in left)
            answer.append(first)
            left.remove(first)
            continue
        fed = LeadSetup(12.0, first)
        expected = 12.0 * coil.volts / next(c.volts for c in units.coils if c.core == core)
        own = next(
            p for p in left if float(units.volts(fed, *p)) == pytest.approx(expected, abs=0.2)
        )
        left.remove(own)
        joined = LeadSetup(12.0, first, ((first[1], own[1]),))
        across = float(units.volts(joined, first[0], own[0]))
        answer.append(own if across < 12.0 else own[::-1])
    assert units.judged(answer, 10, 0).points >= 9


BOARDS = [("3ph-208Y/120", 5), ("1ph-120/240", 6), ("3ph-400Y/230", 4)]


@pytest.mark.parametrize(("system", "seeds"), BOARDS)
def test_an_exercise_of_balance_has_its_optimum(system, seeds):
    for seed in range(seeds):
        board = balance_exercise(system, str(seed))
        assert len(board.task.loads) == CIRCUITS
        assert board.measured(board.task.now()).deviation > 20
        for work in board.works:
            found = board.judged(work.answer.lines)
            assert found.moves == work.moves and found.deviation == pytest.approx(work.answer.value)
        best = board.judged(board.works[-1].answer.lines)
        assert best.points == 10 and best.proven and board.judged(board.task.now()).points == 0


def test_the_optimum_of_one_and_two_moves_by_trying_all():
    """Every spread within two moves tried by hand: none is better than what the exercise calls the best."""
    board = balance_exercise("3ph-208Y/120", "1")
    task, now = board.task, board.task.now()
    known = {work.moves: work.answer.value for work in board.works}
    best = {1: 1e9, 2: 1e9}
    for one, other in product(task.loads, task.loads):
        for line, another in product(one.options, other.options):
            lines = {**now, one.key: line, other.key: another}
            moves = board.moves(lines)
            if moves in best:
                best[moves] = min(best[moves], measure(task, lines, task.cases[0]).deviation)
    assert known[1] == pytest.approx(best[1]) and known[2] == pytest.approx(best[2])


def test_more_moves_than_needed_cost_points():
    board = balance_exercise("3ph-208Y/120", "1")
    best = dict(board.works[-1].answer.lines)
    spare = next(
        one for one in board.task.loads if best[one.key] == one.line and len(one.options) > 1
    )
    worse = {**best, spare.key: next(line for line in spare.options if line != spare.line)}
    assert board.judged(worse).points < board.judged(best).points
