"""Places of a board: their numbers, the lines behind them, devices seated and moved. Numberings and
the order of the lines are common practice."""

import random
from itertools import pairwise

import pytest

from voltaje.core.codes import edition
from voltaje.core.electrical.panel_layout import (
    Device,
    MisplacedError,
    fill,
    lay_out,
    line_of,
    move,
    stand,
)
from voltaje.core.job.calculate import PartInput, calculate_job

THREE, TWO, ONE = ("L1", "L2", "L3"), ("L1", "L2"), ("L1",)


@pytest.mark.parametrize(
    ("numbering", "lines", "count", "behind"),
    [
        ("odd-even", THREE, 12, {"1": "L1", "2": "L1", "3": "L2", "6": "L3", "7": "L1", "12": "L3"}),
        ("odd-even", TWO, 8, {"1": "L1", "2": "L1", "3": "L2", "4": "L2", "5": "L1", "8": "L2"}),
        ("down", THREE, 12, {"1": "L1", "2": "L2", "6": "L3", "7": "L1", "12": "L3"}),
        ("column", THREE, 7, {"1": "L1", "3": "L3", "4": "L1", "7": "L1"}),
        ("ways", THREE, 12, {"1 L1": "L1", "2 L3": "L3", "4 L2": "L2"}),
        ("ways", ONE, 6, {"1": "L1", "6": "L1"}),
    ],
)  # fmt: skip
def test_the_line_behind_each_place(numbering, lines, count, behind):
    layout = lay_out(numbering, lines, count)
    assert layout.count == count
    assert {name: layout.find(name).line for name in behind} == behind
    assert layout.find("99") is None and layout.find("x") is None


@pytest.mark.parametrize(
    ("typed", "name"), [("3L2", "3 L2"), ("3 l2", "3 L2"), ("3-L2", "3 L2"), ("3", "3 L1")]
)
def test_a_way_may_be_typed_in_any_form(typed, name):
    assert lay_out("ways", THREE, 18).find(typed).name == name


def test_neighbours_are_of_one_column_and_of_one_way():
    board = lay_out("odd-even", THREE, 12)
    assert [p.name for p in board.span(board.find("2"), 3)] == ["2", "4", "6"]
    assert line_of(board.span(board.find("5"), 2)) == "L1-L3"
    assert board.span(board.find("11"), 2) is None
    ways = lay_out("ways", THREE, 12)
    assert ways.span(ways.find("1 L2"), 2) and ways.span(ways.find("1 L3"), 2) is None


def device(key, poles=1, place="", line="auto", **more):
    return Device(key, key, poles, place, line, to_neutral=poles == 1, pieces=1, **more)


@pytest.mark.parametrize(
    ("devices", "high", "codes"),
    [
        ([device("a", 1, "1"), device("b", 1, "1")], "", ["taken"]),
        ([device("a", 3, "9")], "", ["over_end"]),
        ([device("a", 1, "13")], "", ["no_place"]),
        ([device("a", 1, "3")], "L2", ["high_leg"]),
        ([device("a", 2, "3")], "L2", []),
        ([device("a", 1, "3", "L1")], "", ["line"]),
        ([device("a", 2, "1", "L2-L3", tied=True)], "", ["tied"]),
        (
            [device("a", 1, "1", multiwire="K"), device("b", 1, "5", multiwire="K")],
            "",
            ["apart"],
        ),
        (
            [device("a", 1, "1", multiwire="K"), device("b", 1, "3", multiwire="K")],
            "",
            [],
        ),
        ([device("a", 1, "1", multiwire="K"), device("b", 1, "", multiwire="K")], "", []),
    ],
)
def test_who_cannot_stand_is_told_why(devices, high, codes):
    board = fill(stand(lay_out("odd-even", THREE, 12), devices, high), {}, frozenset())
    assert [trouble.code for trouble in board.troubles] == codes


def valid(schedule):
    """Judged anew from the places' names alone, odd left and even right: every device in as many
    neighbouring places as it has poles, none in another's, each behind its line."""
    taken = []
    for seat in schedule.seats:
        numbers = [int(place.name) for place in seat.span]
        assert len(numbers) == seat.device.poles
        assert all(b - a == 2 for a, b in pairwise(numbers))
        assert all(1 <= n <= schedule.layout.count for n in numbers)
        lines = sorted({"L" + str((n - 1) // 2 % 3 + 1) for n in numbers})
        assert ("all" if len(lines) == 3 else "-".join(lines)) == seat.line
        if seat.device.to_neutral and schedule.high_leg:
            assert schedule.high_leg not in lines
        taken += numbers
    assert len(set(taken)) == len(taken)
    sets = {}
    for seat in schedule.seats:
        if seat.device.multiwire:
            sets.setdefault(seat.device.multiwire, []).append(int(seat.span[0].name))
    for numbers in sets.values():
        assert all(b - a == 2 for a, b in pairwise(sorted(numbers)))
    return True


def some_devices(rng, room):
    made, used = [], 0
    while True:
        kind = rng.choice(["one", "one", "one", "two", "three", "set"])
        poles = {"one": 1, "two": 2, "three": 3, "set": rng.choice((2, 3))}[kind]
        if used + poles > room:
            return made
        key = f"d{len(made)}"
        if kind == "set":
            made += [device(f"{key}.{i}", multiwire=key) for i in range(poles)]
        else:
            made.append(device(key, poles))
        used += poles


@pytest.mark.parametrize("seed", range(60))
def test_what_fits_is_seated_as_it_can_be_built(seed):
    """Boards filled to five sixths: each device gets places, judged by a checker of its own."""
    rng = random.Random(seed)
    count = rng.choice((12, 24, 30, 42, 84))
    high = rng.choice(("", "", "L2"))
    devices = some_devices(rng, count * (3 if high else 5) // 6)
    if high:
        devices = [d for d in devices if not d.multiwire]
    board = fill(stand(lay_out("odd-even", THREE, count), devices, high), {}, frozenset())
    if not board.troubles:
        assert valid(board)
    else:  # only singles on a board whose high leg they may not take
        assert high and {t.code for t in board.troubles} == {"no_room"}


@pytest.mark.parametrize("seed", range(40))
def test_every_move_that_is_allowed_leaves_a_board_that_can_be_built(seed):
    rng = random.Random(1000 + seed)
    board = fill(stand(lay_out("odd-even", THREE, 30), some_devices(rng, 22), ""), {}, frozenset())
    assert valid(board)
    allowed = refused = 0
    for _ in range(40):
        seat = rng.choice(board.seats)
        try:
            spans = move(board, seat.device.key, str(rng.randint(1, 32)))
        except MisplacedError as error:
            assert error.words.params["name"] or True
            refused += 1
            continue
        allowed += 1
        moved = [
            Device(
                **{
                    **{f: getattr(s.device, f) for f in s.device.__slots__},
                    "place": spans[s.device.key][0].name,
                }
            )
            for s in board.seats
        ]
        after = fill(stand(board.layout, moved), {}, frozenset())
        assert not after.troubles and valid(after)
        assert {s.device.key: s.span for s in after.seats} == spans
        board = after
    assert allowed and refused


def test_a_pinned_device_neither_moves_nor_is_moved():
    devices = [device("a", 1, "1", pinned=True), device("b", 1, "2")]
    board = fill(stand(lay_out("odd-even", THREE, 12), devices), {}, frozenset())
    for key, to in (("a", "5"), ("b", "1")):
        with pytest.raises(MisplacedError, match="pinned"):
            move(board, key, to)
    assert move(board, "b", "4")["b"][0].name == "4"


def test_two_devices_of_one_size_change_places():
    devices = [device("a", 2, "1"), device("b", 2, "2"), device("c", 1, "5"), device("d", 1, "6")]
    board = fill(stand(lay_out("odd-even", THREE, 12), devices), {}, frozenset())
    spans = move(board, "a", "2")
    assert [spans[key][0].name for key in "abcd"] == ["2", "1", "5", "6"]
    with pytest.raises(MisplacedError, match="does not fit"):
        move(board, "c", "3")


# in a job ----------------------------------------------------------------------------------------


def worked(system, board, parts, code="nec-2020"):
    inputs = [
        PartInput("s", "supply", None, {"system": system}, "Supply"),
        PartInput("board", "board", "s", board, "Board"),
        *(PartInput(key, kind, "board", doc, key) for key, kind, doc in parts),
    ]
    found = calculate_job(inputs, edition(code))
    assert all(item.report for item in found.values()), [i.problems for i in found.values()]
    return found


def test_a_place_settles_the_line_of_a_circuit():
    load = {"load": "1.2 kW"}
    parts = [
        ("a", "circuit", {**load, "position": "3"}),
        ("b", "circuit", {**load, "position": "9"}),
    ]
    found = worked("3ph-208Y/120", {"spaces": "30"}, parts)["board"]
    assert found.outcome.line_of["a"] == "L2"
    assert found.outcome.line_of["b"] == "L2"
    found = worked("3ph-208Y/120", {"spaces": "30"}, [*parts, ("c", "circuit", load)])["board"]
    assert found.outcome.va["L2"] == 2400 and sum(found.outcome.va.values()) == 3600


def test_devices_take_their_poles_and_a_feeder_takes_its_own():
    """A feeder to another board takes three places, whatever hangs on it."""
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "Supply"),
        PartInput(
            "b", "board", "s", {"spaces": "30", "main": "100 A", "main_position": "1"}, "Board"
        ),
        PartInput("f", "feeder", "b", {"position": "2"}, "Feeder"),
        PartInput("b2", "board", "f", {"spaces": "30"}, "Board 2"),
        *(PartInput(f"c{i}", "circuit", "b2", {"load": "1 kW"}, f"c{i}") for i in range(9)),
        PartInput("m", "motor", "b", {"horsepower": "5 hp"}, "Motor"),
    ]
    found = calculate_job(parts, edition("nec-2020"))
    main = found["b"].outcome.schedule
    assert {s.device.name: s.name for s in main.seats if s.given} == {
        "Main": "1, 3, 5",
        "Feeder": "2, 4, 6",
    }
    assert main.poles == 9 and found["b2"].outcome.schedule.poles == 9


@pytest.mark.parametrize(
    ("doc", "path"), [({"position": "first"}, "position"), ({"position": "7 L4"}, "position")]
)
def test_a_place_that_is_none_is_told_at_its_field(doc, path):
    inputs = [
        PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "Supply"),
        PartInput("b", "board", "s", {}, "Board"),
        PartInput("a", "circuit", "b", {"load": "1 kW", **doc}, "a"),
    ]
    (problem,) = calculate_job(inputs, edition("nec-2020"))["a"].problems
    assert problem.path == path and "7" in problem.words


def test_a_metric_board_counts_in_ways():
    parts = [
        ("a", "circuit", {"load": "3 kW", "position": "2 L3"}),
        ("w", "machine", {"power": "5.5 kW", "position": "3"}),
    ]
    found = worked("3ph-400Y/230", {"spaces": "18"}, parts, "bs7671-2018")["board"]
    assert found.outcome.line_of["a"] == "L3"
    assert {s.device.key: s.name for s in found.outcome.schedule.seats} == {
        "a": "2 L3",
        "w": "3 L1–L3",
    }


def test_spares_and_spaces_take_room_and_a_full_board_settles_lines():
    """Six places, two of them kept: four circuits that may stand anywhere take what is left."""
    kept = [
        {"id": "k1", "what": "spare", "position": "1"},
        {"id": "k2", "what": "space", "position": "2"},
    ]
    parts = [(f"c{i}", "circuit", {"load": "1 kW"}) for i in range(4)]
    found = worked("3ph-208Y/120", {"spaces": "6", "reserved_positions": kept}, parts)["board"]
    assert sorted(found.outcome.line_of.values()) == ["L2", "L2", "L3", "L3"]
    assert not found.outcome.schedule.troubles
    assert found.report.value("poles") == 6


def test_a_line_beyond_the_main_says_when_and_who_goes_dark():
    """Three heaters on L1 and none on the others: the mean is well below the main, L1 is not."""
    parts = [
        *((f"h{i}", "circuit", {"load": "30 A", "position": str(1 + 6 * i)}) for i in range(3)),
        ("far", "circuit", {"load": "5 A", "position": "3"}),
    ]
    found = worked("3ph-208Y/120", {"spaces": "30", "main": "60 A"}, parts)["board"].report
    (over,) = (f for f in found.findings if f.name.startswith("line_over"))
    assert over.severity == "check" and over.name == "line_over_l1"
    words = str(over.words)
    assert "90 A on the 60 A main" in words and "h0, h1, h2" in words and "far" not in words
    assert "20 min" in words or " h" in words or "min" in words


@pytest.mark.parametrize(
    ("system", "code", "space", "stands"),
    [
        ("3ph-400Y/230", "bs7671-2018", "9 L2", "9 L2"),
        ("3ph-400Y/230", "bs7671-2018", "9L2", "9 L2"),
        ("1ph-230", "bs7671-2018", "14", "14"),
        ("3ph-208Y/120", "nec-2020", "57", "57"),
        ("1ph-120/240", "nec-2020", "31", "31"),
    ],
)
def test_a_board_whose_size_is_not_told_has_the_places_that_are_named(system, code, space, stands):
    found = worked(system, {}, [("a", "circuit", {"load": "1 kW", "position": space})], code)[
        "board"
    ]
    assert not found.outcome.schedule.troubles
    assert found.outcome.schedule.of("a").name == stands


def test_what_finds_no_place_is_told_once():
    """A board with its lines short: what fills it twice tells of it once."""
    parts = [("m", "motor", {"horsepower": "5 hp"})]
    parts += [(f"c{i}", "circuit", {"load": "1 kW", "position": str(2 + 3 * i)}) for i in range(3)]
    found = worked("3ph-208Y/120", {"spaces": "9"}, parts)["board"]
    assert [t.code for t in found.outcome.schedule.troubles] == ["no_room"]
    assert sum(f.name == "place_no_room" for f in found.report.findings) == 1


def test_a_spare_and_a_main_are_moved_like_any_other():
    kept = [{"id": "k1", "what": "spare", "position": "2", "poles": "1", "device": "20 A"}]
    board = {"spaces": "30", "main": "100 A", "main_position": "1", "reserved_positions": kept}
    schedule = worked("3ph-208Y/120", board, [("c", "circuit", {"load": "1 kW", "position": "8"})])[
        "board"
    ].outcome.schedule
    spans = move(schedule, "reserved_positions.k1", "8")
    assert [spans[key][0].name for key in ("reserved_positions.k1", "c", "main")] == ["8", "2", "1"]
    spans = move(schedule, "main", "13")
    assert [place.name for place in spans["main"]] == ["13", "15", "17"]
    with pytest.raises(MisplacedError, match="3 poles"):
        move(schedule, "main", "29")
