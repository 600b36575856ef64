"""A small board and a transformer bank with a hidden fault: their readings by hand, every fault told apart by them, dead or live by the
devices that stand open. Faults and how they are found are common practice, no source; Ohm and Kirchhoff by hand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from voltaje.core.practice.bank_fault import BANKS, CORNER, FaultyBank, faulty_bank
from voltaje.core.practice.board_fault import faulty_board
from voltaje.core.practice.faulty import DEAD, MAIN_SWITCH, SERVICE, SOUND
from voltaje.core.practice.hidden import tells_apart

SYSTEMS = [("1ph-120/240", False), ("3ph-208Y/120", False), ("1ph-120/208", False), ("1ph-120", False),
           ("3ph-400Y/230", True), ("1ph-230", True)]  # fmt: skip
CLOSED = frozenset()


def boards():
    return [
        faulty_board(system, metric, str(seed)) for system, metric in SYSTEMS for seed in range(4)
    ]


def with_fault(board, id):
    fault = next(one for alike in board.faults for one in alike if one.id == id)
    return replace(board, hidden=(fault,))


def shows(board, id, opened=CLOSED):
    return board.reading(next(one for one in board.spots if one.id == id), frozenset(opened))


def alone(board, *numbers):
    """Only those circuits closed."""
    return {f"c{one.number}" for one in board.circuits if one.number not in numbers}


def board_with(system, metric, *needed):
    """A board of that system that can have those faults."""
    for seed in range(60):
        found = faulty_board(system, metric, str(seed))
        if all(
            any(one.id.startswith(id) for alike in found.faults for one in alike) for id in needed
        ):
            return found
    raise AssertionError(needed)


@pytest.mark.parametrize("board", boards(), ids=lambda b: f"{b.system.id}")
def test_every_fault_is_found_from_its_readings_and_no_two_are_alike(board):
    assert len(board.faults) > 8
    shown = [board.signature(alike[0]) for alike in board.faults]
    sound = board.signature(SOUND)
    for alike, own in zip(board.faults, shown, strict=True):
        assert any(tells_apart(a, b) for a, b in zip(own, sound, strict=True)), alike[0].id
        fits = [other for other, theirs in zip(board.faults, shown, strict=True)
                if not any(tells_apart(a, b) for a, b in zip(own, theirs, strict=True))]  # fmt: skip
        assert fits == [alike]
    assert board.hidden in board.faults and (board.fewest() or 9) >= 1


@pytest.mark.parametrize("board", boards(), ids=lambda b: f"{b.system.id}")
def test_what_is_touched_is_live_until_the_right_devices_are_open(board):
    for alike in board.faults:
        for fault in alike:
            own = replace(board, hidden=(fault,))
            assert own.live(fault, CLOSED) > DEAD, fault.id
            assert own.live(fault, frozenset({SERVICE})) < DEAD, fault.id
            if fault.id.startswith("main"):  # ahead of the main switch: that alone does not help
                assert own.live(fault, frozenset({MAIN_SWITCH})) > DEAD


@pytest.mark.parametrize(("system", "metric"), SYSTEMS)
def test_a_sound_board_by_hand(system, metric):
    """Each load draws W ÷ V within the conductors' loss; what comes back on the neutral and the earth is
    the sum of the lines; nothing flows to earth."""
    board = replace(faulty_board(system, metric, "7"), hidden=(SOUND,))
    for one in board.circuits:
        volts = one.volts(board.system)
        assert shows(board, f"a-{one.number}", alone(board, one.number)) == pytest.approx(
            one.watts / volts, rel=0.05, abs=0.1
        )
        assert shows(board, f"v-{one.number}") == pytest.approx(volts, rel=0.06)
    assert shows(board, "a-PE") == 0
    assert all(shows(board, spot.id, {SERVICE}) == 0 for spot in board.spots)


def test_an_open_neutral_divides_the_voltage_by_the_resistances():
    """Two loads on the two lines of 120/240 V in series: V1 = 240 × R1 ÷ (R1 + R2), R = V² ÷ W."""
    board = with_fault(board_with("1ph-120/240", False, "main N"), "main N")
    one = next(c for c in board.circuits if c.lines == ("L1",))
    other = next(c for c in board.circuits if c.lines == ("L2",))
    first, second = 120**2 / one.watts, 120**2 / other.watts
    expected = 240 * first / (first + second)
    assert shows(board, f"v-{one.number}", alone(board, one.number, other.number)) == pytest.approx(
        expected, rel=0.03
    )
    assert shows(board, "a-N") == 0


def test_a_lost_line_is_fed_back_through_a_load_between_lines():
    board = with_fault(board_with("1ph-120/240", False, "main L2", "run 5"), "main L2")
    two = next(one for one in board.circuits if len(one.lines) == 2)
    assert shows(board, "v-L2-F", alone(board, two.number)) == pytest.approx(
        120, abs=4
    )  # nothing else pulls it down
    assert shows(board, "v-L2-F", {f"c{one.number}" for one in board.circuits}) == 0


def test_both_circuits_on_one_line_add_in_the_shared_neutral():
    board = with_fault(board_with("1ph-120/240", False, "one line"), "one line")
    first, second = (one for one in board.circuits if 1 in (one.number, one.shares))
    sound = replace(board, hidden=(SOUND,))
    both = alone(board, first.number, second.number)
    lines = [shows(board, f"a-{one.number}", both) for one in (first, second)]
    assert shows(board, "a-1-N", both) == pytest.approx(sum(lines), abs=0.2)
    assert shows(sound, "a-1-N", both) == pytest.approx(abs(lines[0] - lines[1]), abs=0.4)


@pytest.mark.parametrize(("system", "metric"), [("1ph-230", True), ("1ph-120", False)])
def test_one_circuit_s_faults_by_hand(system, metric):
    board = board_with(
        system, metric, "neutral 2", "joined 2", "exchanged 2", "borrowed 2", "poor 2"
    )
    volts = board.system.to_neutral
    opened = with_fault(board, "neutral 2")
    assert shows(opened, "a-2") == 0 and shows(opened, "v-2") == 0
    # through the load the open neutral stands at the line's voltage: the trap of this fault
    assert shows(opened, "v-2-NE") == pytest.approx(volts, rel=0.02)
    joined = with_fault(board, "joined 2")
    only = alone(board, 2)
    assert shows(joined, "a-PE", only) + shows(joined, "a-2-N", only) == pytest.approx(
        shows(joined, "a-2", only), abs=0.2
    )
    assert shows(joined, "a-PE", only) > 0.1
    turned = with_fault(board, "exchanged 2")
    assert shows(turned, "v-2-E") < 6 and shows(turned, "v-2-NE") == pytest.approx(volts, rel=0.05)
    assert shows(turned, "v-2") == shows(replace(board, hidden=(SOUND,)), "v-2")
    borrowed = with_fault(board, "borrowed 2")
    assert shows(borrowed, "a-2-N") == pytest.approx(
        shows(borrowed, "a-2"), abs=0.1
    )  # clamped where it leaves the load
    poor = with_fault(board, "poor 2")
    lost = 1 - shows(poor, "v-2", only) / volts
    assert 0.05 < lost < 0.13


JUDGED = [
    # named rightly, readings, open for the work, locked, proven by a reading: points, safe
    (True, 1, {SERVICE}, True, True, 10, True), (True, 1, {SERVICE}, True, False, 9, True),
    (True, 1, {SERVICE}, False, False, 8, True), (True, 1, set(), True, False, 0, False),
    (False, 1, {SERVICE}, True, True, 0, True), (True, 3, {SERVICE}, True, True, 8, True),
    (True, 12, {SERVICE}, True, True, 7, True),
]  # fmt: skip


@pytest.mark.parametrize(("right", "count", "opened", "locked", "proven", "points", "safe"), JUDGED)
def test_answers_are_judged_by_cause_readings_and_safety(
    right, count, opened, locked, proven, points, safe
):
    board = with_fault(board_with("1ph-230", True, "neutral 2"), "neutral 2")
    assert board.fewest() == 1
    opened = frozenset(opened)
    log = [(spot, CLOSED) for spot in board.spots[:count]]
    if proven:
        log.append((next(one for one in board.spots if one.id == "v-2-E"), opened))
    named = "neutral 2" if right else "neutral 1"
    found = board.judged(named, log, opened, locked)
    assert (found.points, found.safe, found.proven, found.right) == (points, safe, proven, right)
    assert found.searched == count


def test_a_seed_is_one_board():
    one, other = (faulty_board("1ph-120/240", False, "same") for _ in range(2))
    assert one == other and faulty_board("1ph-120/240", False, "else") != one
    assert len({faulty_board("1ph-120/240", False, str(n)).hidden[0].id for n in range(20)}) > 8


def bank(name, fault=None):
    """A bank of that name, sound or with that fault."""
    plain = FaultyBank((), (SOUND,), name)
    found = next((one for one in plain.every() if one.id == fault), SOUND)
    return replace(plain.with_faults(plain.every()), hidden=(found,))


@pytest.mark.parametrize("name", list(BANKS))
def test_every_fault_of_a_bank_is_found_and_made_safe(name):
    plain = bank(name)
    shown = [plain.signature(alike[0]) for alike in plain.faults]
    assert len(plain.faults) > 10
    for alike, own in zip(plain.faults, shown, strict=True):
        fits = [other for other, theirs in zip(plain.faults, shown, strict=True)
                if not any(tells_apart(a, b) for a, b in zip(own, theirs, strict=True))]  # fmt: skip
        assert fits == [alike]
        for fault in alike:
            hidden = replace(plain, hidden=(fault,))
            assert hidden.live(fault, plain.at_first) > DEAD
            assert hidden.live(fault, plain.at_first | {SERVICE}) < DEAD
            if fault.id.startswith("feed"):
                assert hidden.live(fault, plain.at_first | {MAIN_SWITCH}) > DEAD


STAR, DELTA = "480 V delta to 208Y/120 V", "480 V delta to 240 V delta"
BY_HAND = [
    # bank, fault, place, V: sides of the voltage triangle, within the loss of the coils
    (STAR, None, "v-ab", 208), (STAR, None, "v-an", 120),
    (STAR, "reversed 2", "v-ab", 120), (STAR, "reversed 2", "v-bc", 120), (STAR, "reversed 2", "v-ca", 208),
    (STAR, "feed A", "v-an", 60), (STAR, "feed A", "v-bn", 120), (STAR, "feed A", "v-cn", 60), (STAR, "feed A", "v-ca", 0),
    (STAR, "top 1", "v-an", 0), (STAR, "out 1", "v-an", 0), (STAR, "out 1", "v-x1", 120),
    (STAR, "tap 3", "v-cn", 120 / 1.05), ("400 V delta to 400Y/231 V", "reversed 1", "v-ab", 231),
    (DELTA, None, "v-gap", 0), (DELTA, "reversed 1", "v-gap", 480), (DELTA, "reversed 3", "v-gap", 480),
    (DELTA, "top 1", "v-gap", 208), (DELTA, "feed B", "v-ab", 120), (DELTA, "tap 2", "v-bc", 240 / 1.05),
]  # fmt: skip


@pytest.mark.parametrize(("name", "fault", "place", "volts"), BY_HAND)
def test_a_bank_s_voltages_by_hand(name, fault, place, volts):
    found = bank(name, fault)
    assert found.reading(found.spot(place), found.at_first) == pytest.approx(volts, rel=0.02, abs=4)


def test_a_corner_is_closed_on_no_voltage_alone():
    assert bank(DELTA).closes_on(CORNER, frozenset({CORNER})) == 0
    burning = bank(DELTA, "reversed 2")
    assert burning.closes_on(CORNER, burning.at_first) == pytest.approx(480, rel=0.02)
    assert burning.closes_on(CORNER, burning.at_first | {MAIN_SWITCH}) == 0
    assert (
        burning.closes_on(MAIN_SWITCH, burning.at_first | {MAIN_SWITCH}) == 0
    )  # a switch is no joint
    log = [(burning.spot("v-x2"), burning.at_first | {SERVICE})]
    found = burning.judged("reversed 2", log, burning.at_first | {SERVICE}, True, burnt=True)
    assert found.right and found.burnt and found.points == 0
    assert burning.judged("reversed 2", log, burning.at_first | {SERVICE}, True).points == 10


def test_a_bank_of_a_seed():
    assert faulty_bank(False, "1") == faulty_bank(False, "1")
    assert {faulty_bank(False, str(n)).name for n in range(12)} == {STAR, DELTA}
    assert {faulty_bank(True, str(n)).name[:3] for n in range(6)} == {"400"}
