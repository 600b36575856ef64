"""Loads over lines in the places of boards: the optimum against all assignments that can be built,
tried one by one; work that can be done step by step; boards together; operating cases."""

from dataclasses import replace
from itertools import pairwise, product
from random import Random

import pytest
from profiles import sample

from voltaje.core.codes import edition
from voltaje.core.effort import Effort
from voltaje.core.electrical.balance import (
    OBJECTIVES,
    OperatingCase,
    built,
    curve,
    solve,
    task_of,
    unbuilt,
    work_of,
)
from voltaje.core.electrical.balance.exact import CLOSED, EVEN_PERCENT, EVEN_SHARE, least
from voltaje.core.electrical.balance.measure import value
from voltaje.core.electrical.panel_layout import Device, fill, lay_out, order, stand
from voltaje.core.electrical.systems import SYSTEMS, Piece
from voltaje.core.job.calculate import PartInput, calculate_job
from voltaje.core.job.spread import consequence, gather, spreadable
from voltaje.core.rules.settings import Limits

WYE = SYSTEMS["3ph-208Y/120"]
LINES = WYE.lines
ON_LINES = ("deviation", "neutral", "heaviest")


def board(rng, places, room, key="b", sets=True, numbering="odd-even"):
    """Devices in places of a board, all given; the loads behind them."""
    devices, pieces = [], []
    used = 0
    while True:
        what = rng.choice(("one", "one", "two", "set" if sets else "one"))
        poles = {"one": 1, "two": 2, "set": 2}[what]
        if used + poles > room:
            break
        used += poles
        names = [f"{key}{len(devices) + i}" for i in range(2 if what == "set" else 1)]
        for name in names:
            devices.append(
                Device(
                    name,
                    name,
                    2 if what == "two" else 1,
                    pinned=rng.random() < 0.12,
                    to_neutral=what != "two",
                    multiwire=f"{key}K{used}" if what == "set" else "",
                    pieces=1,
                    alone=True,
                )
            )
            va = 100 * rng.randint(2, 40)
            pieces.append((name, va, what == "two", f"{key}K{used}" if what == "set" else ""))
    schedule = fill(stand(lay_out(numbering, LINES, places), devices), {}, frozenset())
    at = {seat.device.key: seat for seat in schedule.seats}
    given = tuple(
        replace(s, device=replace(s.device, place=s.span[0].name), given=True) if s.span else s
        for s in schedule.seats
    )
    found = [
        Piece(
            name,
            "other",
            va,
            va,
            0.0,
            "two-line" if two else "line-neutral",
            at[name].line,
            multiwire=shared,
            part=name,
        )
        for name, va, two, shared in pieces
    ]
    return replace(schedule, seats=given), found


def can_be_built(schedule, lines):
    """Whether these lines have places, by trying all ways in depth: a checker of its own."""
    count = schedule.layout.count
    behind = {n: LINES[(n - 1) // 2 % 3] for n in range(1, count + 1)}
    units, seen = [], set()
    for seat in schedule.seats:
        device = seat.device
        mates = [s for s in schedule.seats if s.device.multiwire == device.multiwire]
        if device.key in seen:
            continue
        if device.multiwire and len(mates) > 1:
            if len({lines[m.device.key] for m in mates}) < len(mates):
                return False
            seen |= {m.device.key for m in mates}
            units.append([[(m.device, m) for m in mates]])
        else:
            seen.add(device.key)
            units.append([[(device, seat)]])

    def ways(members):
        poles = sum(device.poles for device, _ in members)
        for first in range(1, count + 1):
            numbers = [first + 2 * i for i in range(poles)]
            if numbers[-1] > count:
                continue
            if len(members) == 1:
                device, seat = members[0]
                wanted = sorted(lines[device.key].split("-"))
                if sorted(behind[n] for n in numbers) != wanted:
                    continue
                if device.pinned and str(first) != seat.span[0].name:
                    continue
            else:
                at = {behind[n]: n for n in numbers}
                if set(at) != {lines[device.key] for device, _ in members}:
                    continue
                if any(
                    device.pinned and str(at[lines[device.key]]) != seat.span[0].name
                    for device, seat in members
                ):
                    continue
            yield set(numbers)

    def go(index, free):
        if index == len(units):
            return True
        return any(
            numbers <= free and go(index + 1, free - numbers) for numbers in ways(units[index][0])
        )

    units.sort(key=lambda unit: -sum(device.poles for device, _ in unit[0]))
    return go(0, set(range(1, count + 1)))


def brute(task, objective, schedule):
    free = [load for load in task.loads if load.free]
    best = float("inf")
    for choice in product(*(load.options for load in free)):
        lines = {**task.now(), **{load.key: line for load, line in zip(free, choice, strict=True)}}
        found = value(task, lines, objective)
        if found < best and can_be_built(schedule, lines):
            best = found
    return best


def even(task, objective):
    if objective == "deviation":
        return EVEN_PERCENT
    total = sum(load.va for load in task.loads)
    return EVEN_SHARE * WYE.line_current(total) if objective == "neutral" else 0.0


@pytest.mark.parametrize("seed", sample([*range(90)], 3))
def test_the_best_that_can_be_built(seed):
    """Tight boards of 6 to 9 places: no assignment that can be built is better."""
    rng = Random(seed)
    places = rng.choice((6, 7, 8, 9))
    schedule, pieces = board(rng, places, rng.randint(places - 2, places))
    if any(seat.span is None for seat in schedule.seats) or not pieces:
        return
    task = task_of(pieces, WYE, boards={"b": schedule})
    for objective in ON_LINES:
        found = solve(task, objective)
        best = brute(task, objective, schedule)
        assert can_be_built(schedule, found.lines) and not unbuilt(task, found.lines)
        assert found.value <= max(best, even(task, objective)) * (1 + 2 * CLOSED) + 1e-6
        assert found.bound <= best * (1 + 1e-6) + 1e-6 or found.value <= even(task, objective)
        assert least(task, objective) <= best * (1 + 1e-9)


def can_be_built_in_ways(schedule, lines):
    """The same for ways of L1, L2 and L3 by counting: each pair takes its way's L2, so it is enough
    that no line is asked for more often than there are ways (nothing being pinned)."""
    asked = [line for line in lines.values() for line in line.split("-")]
    if "L1-L3" in lines.values():
        return False
    for seat in schedule.seats:
        mates = [s for s in schedule.seats if s.device.multiwire == seat.device.multiwire]
        if seat.device.multiwire and {lines[m.device.key] for m in mates} == {"L1", "L3"}:
            return False
    return all(asked.count(line) <= schedule.layout.count // 3 for line in LINES)


@pytest.mark.parametrize("seed", range(40))
def test_the_best_in_ways(seed):
    """Boards of 3 or 4 ways, full or nearly so: the best of all assignments that the ways hold is
    found, and no pair is offered that no way has."""
    rng = Random(3000 + seed)
    places = rng.choice((9, 12))
    schedule, pieces = board(rng, places, rng.randint(places - 2, places), numbering="ways")
    loose = tuple(replace(s, device=replace(s.device, pinned=False)) for s in schedule.seats)
    schedule = replace(schedule, seats=loose)
    if any(seat.span is None for seat in schedule.seats):
        return
    task = task_of(pieces, WYE, boards={"b": schedule})
    assert all("L1-L3" not in load.options for load in task.loads)
    free = [load for load in task.loads if load.free]
    if 3 ** len(free) > 20_000:
        return
    wholes = [
        {load.key: line for load, line in zip(free, choice, strict=True)}
        for choice in product(*(load.options for load in free))
    ]
    can = [lines for lines in wholes if can_be_built_in_ways(schedule, task.now() | lines)]
    best = min(
        value(task, lines, "deviation")
        for lines in can
        if len({(load.multiwire or load.key, lines[load.key]) for load in free}) == len(free)
    )
    found = solve(task, "deviation")
    assert found.proven and not unbuilt(task, found.lines)
    assert found.value <= max(best, EVEN_PERCENT) * (1 + 2 * CLOSED) + 1e-6
    assert found.bound <= best * (1 + 1e-6) + 1e-6 or found.value <= EVEN_PERCENT


@pytest.mark.parametrize("seed", range(12))
def test_full_boards_of_ways_are_proven(seed):
    """24 to 42 positions in ways, with pins and shared neutrals, all but full."""
    rng = Random(seed)
    places = rng.choice((24, 36, 42))
    schedule, pieces = board(rng, places, places - rng.randint(0, 4), numbering="ways")
    if any(seat.span is None for seat in schedule.seats):
        return
    task = task_of(pieces, WYE, boards={"b": schedule})
    found = solve(task, "deviation")
    assert found.proven and not unbuilt(task, found.lines)


def test_loads_between_two_lines_stand_where_ways_have_a_pair():
    """Three alike on a board of ways: none is put onto L1 and L3, which no way has side by side."""
    load = {"load": "4 kW", "connection": "two-line"}
    rows = [
        ("s", "supply", None, {"system": "3ph-208Y/120", "fault": "10 kA"}),
        ("b", "board", "s", {"numbering": "ways", "spaces": "12"}),
        *((f"c{i}", "circuit", "b", load) for i in range(3)),
    ]
    parts = [PartInput(key, kind, up, entries, key) for key, kind, up, entries in rows]
    found = calculate_job(parts, edition("nec-2023"))["b"].outcome
    assert {line for key, line in found.line_of.items() if key != "b"} == {"L1-L2", "L2-L3"}
    assert not found.schedule.troubles


def test_who_makes_room_is_in_the_order_of_work():
    """Singles on a full board with a pair: the pair needs two neighbours, so that others that keep
    their line are handled too."""
    devices = [
        Device("p", "p", 2, "1", pieces=1, alone=True),
        *(Device(f"s{n}", f"s{n}", 1, str(n), to_neutral=True, pieces=1) for n in (2, 4, 5, 6)),
    ]
    schedule = stand(lay_out("odd-even", LINES, 6), devices)
    lines = {seat.device.key: seat.line for seat in schedule.seats}
    pieces = [
        Piece(
            key,
            "other",
            900,
            900,
            0.0,
            "two-line" if key == "p" else "line-neutral",
            line,
            part=key,
        )
        for key, line in lines.items()
    ]
    task = task_of(pieces, WYE, boards={"b": schedule})
    wanted = {**lines, "p": "L2-L3", "s5": "L1"}
    steps = work_of(task, wanted)
    handled = {key for step in steps for key in step.devices}
    after = built(task, wanted)["b"]
    spans = {s.device.key: s.span for s in schedule.seats}
    assert handled == {s.device.key for s in after.seats if s.span != spans[s.device.key]}
    assert {"p", "s5"} <= handled


@pytest.mark.parametrize("chunk", sample([*range(16)], 3))
def test_many_small_boards(chunk):
    """Fifty boards of two to four loads each against all assignments tried."""
    rng = Random(7000 + chunk)
    for _ in range(50):
        loads = [
            Piece(
                f"c{i}",
                "other",
                va,
                va,
                0.0,
                connection,
                "L1" if connection == "line-neutral" else "L1-L2",
                part=f"c{i}",
            )
            for i in range(rng.randint(2, 4))
            for va in (100 * rng.randint(1, 60),)
            for connection in (rng.choice(("line-neutral", "line-neutral", "two-line")),)
        ]
        # phasors take ten times as long: every eighth fifty is of them
        task, objective = task_of(loads, WYE), "deviation" if chunk % 8 else rng.choice(ON_LINES)
        found = solve(task, objective)
        best = min(
            value(task, dict(zip((x.key for x in task.loads), choice, strict=True)), objective)
            for choice in product(*(load.options for load in task.loads))
        )
        assert found.proven
        assert found.value <= max(best, even(task, objective)) * (1 + 2 * CLOSED) + 1e-6
        assert found.bound <= best * (1 + 1e-6) + 1e-6 or found.value <= even(task, objective)
        assert least(task, objective) <= best * (1 + 1e-9)


def done(before, steps):
    """A live schedule after each step, refused where a step cannot be done; the places at last."""
    at = {s.device.key: [p.name for p in s.span] for s in before.seats if s.span}
    for step in steps:
        for key in (*step.devices, *step.others):
            at.pop(key, None)
        moved = [*zip(step.devices, step.places, strict=step.act != "lift")]
        moved += [*zip(step.others, step.back, strict=True)]
        for key, span in moved:
            names = [p.name for p in span]
            taken = {name for other in at.values() for name in other}
            assert not taken & set(names), (step, taken)
            at[key] = names
    return at


@pytest.mark.parametrize("seed", range(60))
def test_every_order_of_work_can_be_done(seed):
    """From one schedule to another, each step done on the schedule as it then is."""
    rng = Random(500 + seed)
    count = rng.choice((12, 18, 24))
    schedule, _ = board(rng, count, count - rng.randint(0, 6))
    if any(seat.span is None for seat in schedule.seats):
        return
    shuffled = list(schedule.seats)
    rng.shuffle(shuffled)
    loose = [replace(s.device, place="", pinned=False) for s in shuffled]
    other = fill(stand(schedule.layout, loose), {}, frozenset())
    if any(seat.span is None for seat in other.seats):
        return
    spans = {s.device.key: s for s in other.seats}
    after = replace(
        schedule,
        seats=tuple(replace(s, span=spans[s.device.key].span) for s in schedule.seats),
    )
    steps = order(schedule, after)
    at = done(schedule, steps)
    assert at == {s.device.key: [p.name for p in s.span] for s in after.seats}
    lifted = [key for step in steps if step.act == "lift" for key in step.devices]
    put = [key for step in steps if step.act == "set" for key in step.devices]
    assert sorted(lifted) == sorted(put)


@pytest.mark.parametrize("seed", range(8))
def test_the_curve_in_places_never_rises_and_each_point_stands(seed):
    rng = Random(900 + seed)
    one, first = board(rng, 24, 18, "a")
    two, second = board(rng, 24, 20, "b")
    task = task_of([*first, *second], WYE, boards={"a": one, "b": two})
    points = list(curve(task, "deviation", Effort(6)))
    values = [work.answer.value for work in points]
    assert all(b <= a + 1e-9 for a, b in pairwise(values))
    for work in points:
        moved = sum(work.answer.lines[load.key] != load.line for load in task.loads)
        assert moved <= work.moves
        after = built(task, work.answer.lines)
        assert after is not None
        for key, schedule in after.items():
            done(task.boards[key], order(task.boards[key], schedule))
        assert bool(work.steps) == bool(moved)


def test_a_device_that_keeps_its_line_keeps_its_place():
    """Six singles, two change lines: four stay where they are."""
    devices = [Device(f"d{i}", f"d{i}", 1, str(i), to_neutral=True, pieces=1) for i in range(1, 7)]
    schedule = stand(lay_out("odd-even", LINES, 12), devices)
    pieces = [
        Piece(f"d{i}", "other", va, va, 0.0, "line-neutral", LINES[(i - 1) // 2], part=f"d{i}")
        for i, va in enumerate((3000, 2000, 500, 500, 400, 400), 1)
    ]
    task = task_of(pieces, WYE, boards={"b": schedule})
    lines = {**task.now(), "d2": "L2", "d3": "L1"}
    after = built(task, lines)["b"]
    assert {s.device.key: s.name for s in after.seats if s.device.key not in ("d2", "d3")} == {
        "d1": "1",
        "d4": "4",
        "d5": "5",
        "d6": "6",
    }
    steps = work_of(task, lines)
    assert {(s.act, s.one.name) for s in steps} <= {
        ("swap", "d2"),
        ("swap", "d3"),
        ("move", "d2"),
        ("move", "d3"),
    }


def test_cases_count_by_the_worst_or_by_their_sum():
    """Two heaters that never run together may share a line, once only their cases count."""
    pieces = [
        Piece(f"c{i}", "other", va, va, 0.0, "line-neutral", "L1", part=f"c{i}")
        for i, va in enumerate((3000, 3000, 1000, 1000))
    ]
    cases = (OperatingCase("winter", {"c1": 0.0}), OperatingCase("summer", {"c0": 0.0}, 2.0))
    for weighted in (False, True):
        task = task_of(pieces, WYE, cases=cases, weighted=weighted)
        found = solve(task, "heaviest")
        best = min(
            value(task, dict(zip(["c0", "c1", "c2", "c3"], choice, strict=True)), "heaviest")
            for choice in product(LINES, repeat=4)
        )
        assert found.proven and found.value == pytest.approx(best, rel=2 * CLOSED)


def test_a_search_tells_each_better_one_and_stops_when_it_is_asked_to():
    rng = Random(4)
    schedule, pieces = board(rng, 42, 34)
    task = task_of(pieces, WYE, boards={"b": schedule})
    told = []
    last = solve(task, "heaviest", Effort(4), most_moves=3, better=told.append)
    values = [answer.value for answer in (*told, last)]
    assert told and all(b <= a + 1e-9 for a, b in pairwise(values))
    assert all(answer.bound <= answer.value + 1e-9 for answer in (*told, last))
    stopped = solve(task, "heaviest", Effort(4, lambda: len(told) > 0), most_moves=3)
    assert stopped.value >= last.value and stopped.bound <= last.value
    assert set(OBJECTIVES) - {"lost"} == set(task.objectives)


@pytest.mark.parametrize("seed", range(3))
@pytest.mark.parametrize("objective", ON_LINES)
def test_many_boards_of_ways_are_spread_board_by_board(seed, objective):
    """What is best for all together fits none of them: each is put right in turn."""
    rng, boards, pieces = Random(70 + seed), {}, []
    for name in "abcde":
        boards[name], more = board(rng, 24, 17, name, sets=False, numbering="ways")
        pieces += more
    task = task_of(pieces, WYE, boards=boards)
    found = solve(task, objective, Effort(3.0))
    assert built(task, found.lines) is not None
    now = value(task, task.now(), objective)
    assert found.bound - 1e-9 <= found.value <= now + 1e-9
    assert found.proven or found.value < 0.5 * now or found.gap < 0.02 * found.value


def test_little_effort_gives_the_same_answer_each_time_and_more_never_a_worse_one():
    """Steps are counted, not time: a busy machine changes nothing."""
    schedule, pieces = board(Random(7), 42, 36)
    task = task_of(pieces, WYE, boards={"b": schedule})
    before = None
    for seconds in (0.0, 0.02, 0.1, 0.5, 4.0):
        one, again = (list(curve(task, "heaviest", Effort(seconds))) for _ in range(2))
        assert one == again
        best = solve(task, "heaviest", Effort(seconds))
        assert best == solve(task, "heaviest", Effort(seconds))
        assert before is None or best.value <= before + 1e-9
        before = best.value


# in a job ------------------------------------------------------------------------------------------


def jobs():
    load = {"load": "1.2 kW"}
    rows = [
        ("s", "supply", None, {"system": "3ph-480Y/277", "fault": "10 kA"}),
        ("t", "transformer", "s", {"kva": "45 kVA", "impedance": "4"}),
        ("f", "feeder", "t", {}),
        ("a", "board", "f", {"spaces": "30"}),
        ("b", "board", "t", {"spaces": "18", "main": "60 A"}),
        ("a1", "circuit", "a", {**load, "position": "1"}),
        (
            "a2",
            "circuit",
            "a",
            {**load, "position": "2", "cases": [{"id": "x", "name": "Night", "share": "25"}]},
        ),
        ("b1", "circuit", "b", {**load, "position": "1"}),
        ("b2", "motor", "b", {"horsepower": "5 hp"}),
        ("high", "circuit", "s", {"load": "9 kW", "connection": "two-line", "line": "L1-L2"}),
    ]
    inputs = [PartInput(key, kind, parent, doc, key) for key, kind, parent, doc in rows]
    return inputs, calculate_job(inputs, edition("nec-2020"))


def test_all_boards_below_a_part_are_one_task():
    inputs, found = jobs()
    assert all(item.outcome for item in found.values()), [i.problems for i in found.values()]
    spread = gather(inputs, found, "t")
    assert set(spread.boards) == {"a", "b"} and spread.system.id == "3ph-208Y/120"
    assert [case.name for case in spread.cases] == ["calculated load", "Night"]
    assert spread.cases[1].share("a2") == 0.25 and spread.cases[1].share("a1") == 1.0
    task = spread.task(weights={"Night": 0.0})
    assert [case.name for case in task.cases] == ["calculated load"]
    assert {load.key: load.free for load in task.loads} == {
        "a1": True,
        "a2": True,
        "b1": True,
        "b2": False,
    }
    # behind the windings its boards stand on lines of their own
    assert gather(inputs, found, "s") is None
    assert gather(inputs, found, "f").boards.keys() == {"a"}
    assert gather(inputs, found, "b").device == 60
    assert gather(inputs, found, "a1") is None


def test_what_can_be_spread_below_each_part():
    inputs, found = jobs()
    kinds = {key: spreadable(inputs, found, key) for key in ("s", "t", "f", "a", "b", "a1", "high")}
    assert kinds == {"s": "", "t": "boards", "f": "boards", "a": "boards", "b": "boards",
                     "a1": "", "high": ""}  # fmt: skip
    lane = [PartInput("s", "supply", None, {"system": "3ph-400Y/230"}, "s")]
    rows = [{"id": "a", "name": "A", "length": "20 m", "nameplate": "3 kW"}]
    lane.append(PartInput("l", "street", "s", {"consumers": rows}, "l"))
    assert spreadable(lane, calculate_job(lane, edition("bs7671-2018")), "l") == "rows"


def test_a_board_counts_what_hangs_on_it_through_another():
    """A main board whose only own circuit stands on L1, and a sub-board with two on L2 and L3."""
    rows = [
        ("s", "supply", None, {"system": "3ph-208Y/120"}),
        ("main", "board", "s", {"spaces": "30"}),
        ("own", "circuit", "main", {"load": "1 kW", "position": "1"}),
        ("f", "feeder", "main", {"position": "2"}),
        ("sub", "board", "f", {"spaces": "18"}),
        ("x", "circuit", "sub", {"load": "1 kW", "position": "3"}),
        ("y", "circuit", "sub", {"load": "1 kW", "position": "5"}),
    ]
    inputs = [PartInput(key, kind, parent, doc, key) for key, kind, parent, doc in rows]
    found = calculate_job(inputs, edition("nec-2020"))
    spread = gather(inputs, found, "main")
    task = spread.task()
    assert spread.deviation(task, task.now(), "main") == pytest.approx(0, abs=1e-9)
    assert spread.deviation(task, task.now(), "sub") == pytest.approx(100)


def test_consequences_are_those_that_the_parts_say():
    """A feeder and a circuit with lengths: the board's volts, the circuit's, the loss by I²R."""
    rows = [
        ("s", "supply", None, {"system": "3ph-208Y/120"}),
        ("f", "feeder", "s", {"length": "150 ft", "terminals": "75"}),
        ("b", "board", "f", {"spaces": "18"}),
        ("c", "circuit", "b", {"load": "1.5 kW", "length": "60 ft", "position": "1"}),
    ]
    inputs = [PartInput(key, kind, parent, doc, key) for key, kind, parent, doc in rows]
    found = calculate_job(inputs, edition("nec-2020"))
    seen = consequence(inputs, found, "b", gather(inputs, found, "b"))
    board = dict(seen.boards[0].volts)
    assert board["L1"] == pytest.approx(found["b"].report.value("volts_l1_n"), abs=0.01)
    assert board["L1"] < 120 <= board["L2"]
    ((name, volts, percent),) = seen.loads
    assert name == "c" and volts < board["L1"] and percent == pytest.approx(100 * volts / 120)
    # line and neutral of the feeder carry the same amperes; what they lose is V × A short of it
    amperes = seen.boards[0].neutral
    assert seen.losses == pytest.approx((120 - board["L1"]) * amperes, rel=0.03)


@pytest.mark.parametrize(
    ("limits", "code", "band"),
    [
        # ANSI C84.1 range A where the limit from the supply is the wider
        (Limits(), "nec-2020", (95, 105)),
        (Limits(scheme="own", own_total=8.0), "nec-2020", (95, 105)),
        (Limits(scheme="own", own_total=3.0), "nec-2020", (97, 105)),
        (Limits(scheme="tolerance"), "bs7671-2018", (94, 110)),
        (Limits(scheme="tolerance"), "sans10142-2020", (90, 110)),
    ],
)
def test_the_narrower_of_limit_and_tolerance_holds(limits, code, band):
    assert limits.band(edition(code)) == band
