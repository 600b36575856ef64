"""The work between two states of a job, on a small job by hand and on many by chance: each step is
possible where it stands, what is worked on is dead, nobody stays without power. The order of work
is common practice."""

from __future__ import annotations

from datetime import UTC, datetime, time, timedelta
from random import Random
from zoneinfo import ZoneInfo

import pytest
from core.random_entries import tree

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.job.calculate import PartInput, calculate_job
from voltaje.core.rules.interface import code_of
from voltaje.core.work_schedule import (
    Block,
    OutOfOrderError,
    SideItem,
    WorkingHours,
    blocks,
    check_order,
    plan,
    spans_of,
    timed,
)

SERVICE = PartInput(
    "s", "supply", None, {"system": "3ph-480Y/277", "fault": "22 kA"}, "Mill supply"
)
UNIT = {"kva": "45 kVA", "impedance": "4", "length": "20 ft", "tap": "-2.5",
        "secondary": "3ph-208Y/120", "connection": "delta-wye"}  # fmt: skip
JOB = [
    SERVICE,
    PartInput("t", "transformer", "s", UNIT, "T1"),
    PartInput("b", "board", "t", {"rating": "225 A", "spaces": "42"}, "Panel A"),
    PartInput("c", "circuit", "b", {"load": "1 kW", "length": "50 ft", "position": "5"}, "Bench"),
    PartInput("d", "circuit", "b", {"load": "1.2 kW", "length": "50 ft", "position": "7"}, "Lamps"),
    PartInput("f", "feeder", "b", {"length": "80 ft", "position": "2"}, "Shed feeder"),
    PartInput("b2", "board", "f", {"rating": "100 A", "spaces": "12"}, "Panel B"),
    PartInput("m", "motor", "b2", {"horsepower": "5", "length": "30 ft"}, "Pump"),
    PartInput("pv", "inverter", "b2", {"power": "5 kW", "length": "30 ft"}, "Roof"),
]


def side(parts, code="nec-2020"):
    found = calculate_job(list(parts), edition(code))
    return {p.id: SideItem(p.name, p.parent or "", p.document, found[p.id]) for p in parts}


def changed(job, gone=(), new=(), **entries):
    """The job with some entries others; ``above`` hangs an item elsewhere, ``name`` renames it."""
    made = []
    for part in job:
        if part.id in gone:
            continue
        more = dict(entries.get(part.id, {}))
        above, name = more.pop("above", part.parent), more.pop("name", part.name)
        made.append(PartInput(part.id, part.kind, above, {**part.document, **more}, name))
    return [*made, *new]


ANNEX = (
    PartInput("n", "feeder", "b", {"length": "80 ft", "position": "8"}, "Annex feeder"),
    PartInput("b3", "board", "n", {"rating": "100 A", "spaces": "12"}, "Panel C"),
    PartInput("x", "circuit", "b3", {"load": "1.2 kW", "length": "50 ft"}, "Annex lamps"),
)
# what changes; the steps of each block, an outage with what is locked out
CASES = {
    "nothing": ({}, []),
    "another tap": ({"t": {"tap": "0"}}, [("t", "tap|t")]),
    "two change places": (
        {"c": {"position": "7"}, "d": {"position": "5"}},
        [("t", "swap|b|c"), ("", "label|b")],
    ),
    "to a free place": ({"c": {"position": "9"}}, [("t", "move|b|c"), ("", "label|b")]),
    # larger: conductors first, from the supply down; the load at last
    "a larger motor": (
        {"m": {"horsepower": "10"}},
        [("", "run|f run|m"), ("t", "replace|f"), ("f", "replace|m"), ("m", "load|m"),
         ("", "remove|f remove|m label|b label|b2")],
    ),
    "a new name": ({"d": {"name": "Lamps, north"}}, [("", "label|b")]),
    "a larger load on the same device": (
        {"c": {"load": "1.3 kW"}},
        [("c", "load|c")],
    ),
    "fed from the other board": (
        {"d": {"above": "b2", "position": ""}},
        # both boards are dead with the unit's device; the shed's feeder is larger before
        [("", "run|d run|f"), ("t", "replace|f move|d"), ("", "remove|f label|b label|b2")],
    ),
}  # fmt: skip


def told(before, after, few=False):
    made = plan(before, after, few)
    return made, [
        (" ".join(block.locked), " ".join(step.key for step in block.steps))
        for block in blocks(made.steps, made.site, few=few)
    ]


@pytest.mark.parametrize("case", CASES)
def test_the_steps_of_a_change(case):
    entries, wanted = CASES[case]
    made, found = told(side(JOB), side(changed(JOB, **entries)))
    assert found == wanted and not made.unknown


def test_what_is_larger_grows_from_the_supply_down_and_shrinks_from_the_load_up():
    small, large = side(JOB), side(changed(JOB, m={"horsepower": "10"}))
    assert told(large, small)[1] == [
        ("", "run|f run|m"), ("m", "load|m"), ("f", "replace|m"), ("t", "replace|f"),
        ("", "remove|f remove|m label|b label|b2"),
    ]  # fmt: skip


def test_devices_that_wait_for_each_others_position_are_taken_out_for_a_while():
    wired = [*JOB, PartInput("k", "circuit", "b2", {"load": "1 kW", "position": "12"}, "Kiln fan")]
    crossed = changed(wired, c={"above": "b2", "position": "12"}, k={"above": "b", "position": "5"})
    made, _ = told(side(wired), side(crossed))
    keys = [step.key for step in made.steps if step.dead]
    assert [key for key in keys if key[:3] in ("out", "mov")] in (
        ["out|b2|k", "move|c", "move|k"],
        ["out|b|c", "move|k", "move|c"],
    )


def test_what_is_taken_out_has_no_power_until_it_is_put_back():
    wired = [*JOB, PartInput("k", "circuit", "b2", {"load": "1 kW", "position": "12"}, "Kiln fan")]
    crossed = changed(wired, c={"above": "b2", "position": "12"}, k={"above": "b", "position": "5"})
    made = plan(side(wired), side(crossed))
    out = next(step for step in made.steps if step.act == "lift")
    found = blocks([out], made.site)
    assert found[0].still_off == (out.item,)
    whole = blocks(made.steps, made.site)
    assert not whole[-1].still_off and not any(block.still_off for block in whole)


def test_what_goes_to_a_new_board_finds_it_dead_again():
    """The annex has power by then: its feeder is locked out beside that of the board that is
    left."""
    wired = [*JOB, PartInput("k", "circuit", "b2", {"load": "1 kW", "length": "20 ft"}, "Fan")]
    made, found = told(side(wired), side(changed(wired, new=ANNEX, k={"above": "b3"})))
    assert ("f n", "move|k") in found
    move = next(b for b in blocks(made.steps, made.site) if b.steps[0].key == "move|k")
    assert [str(words).partition(",")[0] for words in move.locks] == ["Shed feeder", "Annex feeder"]


def test_a_board_fed_from_elsewhere_is_locked_out_where_it_is_fed_then():
    """Moved to another feeder, then worked on: what feeds it now is opened, not what fed it
    before."""
    two = [*JOB, PartInput("g", "feeder", "b", {"length": "30 ft", "position": "14"}, "Yard feeder"),
           PartInput("q", "board", "g", {"rating": "100 A"}, "Panel Q"),
           PartInput("w", "circuit", "q", {"load": "1 kW"}, "Yard lamp")]  # fmt: skip
    moved = changed(two, b2={"above": "g"}, m={"length": "90 ft", "horsepower": "3"})
    made = plan(side(two), side(moved))
    keys = [step.key for step in made.steps]
    keys.remove("replace|m")
    at = next(n for n, key in enumerate(keys) if key.startswith(("remove", "label")))
    order = [*keys[:at], "replace|m", *keys[at:]]
    cut = blocks(check_order(made.steps, order), made.site)
    block = next(block for block in cut if any(step.key == "replace|m" for step in block.steps))
    assert block.locked == ("g",)


def test_a_device_is_locked_out_where_it_is_then():
    """Its position has changed before: the lock goes to the new one."""
    swapped = changed(JOB, f={"position": "20"}, b2={"spaces": "24"})
    made = plan(side(JOB), side(swapped))
    keys = ["move|b|f", "equipment|b2"]
    rest = [step.key for step in made.steps if step.key not in keys]
    cut = blocks(check_order(made.steps, [*keys, *rest]), made.site)
    assert "position 20" in str(cut[1].locks[0]) and cut[1].locked == ("f",)


def test_circuits_that_share_a_neutral_are_opened_together():
    pair = [
        PartInput(
            key, "circuit", "b", {"load": "1 kW", "position": place, "shared_neutral": "A"}, key
        )
        for key, place in (("l", "13"), ("r", "15"))
    ]
    wired = [*JOB, *pair]
    made, found = told(side(wired), side(changed(wired, l={"load": "1.1 kW"})))
    assert found == [("l r", "load|l")] and set(blocks(made.steps, made.site)[0].off) == {"l", "r"}


def test_few_outages_do_what_is_below_while_all_is_off():
    small, large = side(JOB), side(changed(JOB, m={"horsepower": "10"}, t={"tap": "0"}))
    _, found = told(small, large, few=True)
    assert [locked for locked, _ in found] == ["", "t", ""]
    assert found[1][1].split()[-2:] == ["replace|m", "load|m"]


def test_a_new_board_is_wired_before_it_is_energized():
    made, found = told(side(JOB), side(changed(JOB, new=ANNEX)))
    assert found[0] == ("", "run|n mount|b3 run|x connect|x connect|b3")
    assert found[1] == ("t", "connect|n")
    outage = blocks(made.steps, made.site)[1]
    assert set(outage.off) == {"t", "b", "c", "d", "f", "b2", "m", "pv"}
    assert outage.also_fed == ("pv",) and not outage.still_off
    assert outage.minutes == 30 + 20 + 20  # the step, locking out, energizing
    words = str(made.site["f"].lock)
    assert words == "Shed feeder, 25 A, in Panel A, position 2, 4, 6"
    assert str(made.site["t"].lock) == "T1, 70 A; the supply side stays live"


def test_what_goes_is_dead_for_good_once_it_is_disconnected():
    made, found = told(side(changed(JOB, new=ANNEX)), side(JOB))
    assert found == [
        ("t", "disconnect|n"), ("", "remove|n remove|b3 remove|x label|b"),
    ]  # fmt: skip
    outage, rest = blocks(made.steps, made.site)
    assert {"n", "b3", "x"} <= set(outage.off) and not outage.still_off and not rest.off


def test_readings_are_those_of_the_two_states():
    before, after = side(JOB), side(changed(JOB, m={"horsepower": "10"}))
    pump = {
        str(one.label): (one.before, one.after) for one in plan(before, after).site["m"].readings
    }
    # NEC 430.250: 5 hp 16.7 A, 10 hp 30.8 A at 208 V
    assert pump["Line L1"] == (16.7, 30.8)


def test_without_a_result_the_steps_are_said_to_be_missing():
    made = plan(side(JOB), side(changed(JOB, c={"load": "?!"}, d={"position": "9"})))
    assert "c" in made.unknown and "move|b|d" in [step.key for step in made.steps]
    gone = changed(JOB, gone=("c",))
    made = plan(side(changed(JOB, c={"load": "?!"})), side(gone))
    assert "disconnect|c" in [step.key for step in made.steps]  # what goes needs no result


def test_everything_that_is_new_needs_no_outage():
    made, found = told({}, side(JOB))
    assert [locked for locked, _ in found] == [""] and not made.unknown
    keys = [step.key for step in made.steps]
    assert keys.index("connect|m") < keys.index("connect|b2") < keys.index("connect|s")


# any job ---------------------------------------------------------------------------------------------


def by_chance(rng):
    """Two states of a job of any code: loads, lengths, positions, what feeds what are others, some
    items go and some come."""
    code = rng.choice(["nec-2020", "cec-2021", "bs7671-2018", "sans10142-2020", "asnzs3000-2018"])
    family = edition(code).family
    system = SYSTEMS[rng.choice(sorted(code_of(family).systems))]
    one = tree(family, system, rng)
    circuits = [part for part in one if part.kind == "circuit"]
    for part, place in zip(circuits, rng.sample(range(1, 30), len(circuits)), strict=True):
        if rng.random() < 0.7:
            part.document["position"] = str(place)
    boards = [part.id for part in one if part.kind == "board"]
    other = []
    for part in one:
        document, above = dict(part.document), part.parent
        if part.kind == "circuit":
            if rng.random() < 0.2:
                continue
            if rng.random() < 0.5:
                document["load"] = rng.choice(["800 W", "2 kW", "4 kW"])
            if rng.random() < 0.5:
                document["position"] = str(rng.randint(1, 30))
            if rng.random() < 0.3:
                above = rng.choice(boards)
        if part.kind in ("feeder", "distribution") and rng.random() < 0.4:
            document["length"] = rng.choice(["10 m", "90 m"])
        other.append(PartInput(part.id, part.kind, above, document, part.name))
    if rng.random() < 0.5:  # a new board, to which some are moved, others are new
        run = "feeder" if family in ("nec", "cec") else "distribution"
        other.append(PartInput("nf", run, rng.choice(boards), {"length": "15 m"}, "New feeder"))
        other.append(PartInput("nb", "board", "nf", {}, "New board"))
        for n, part in enumerate(other):
            if part.kind == "circuit" and rng.random() < 0.4:
                other[n] = PartInput(part.id, part.kind, "nb", part.document, part.name)
        boards.append("nb")
    if "g" in {part.id for part in other} and rng.random() < 0.3:  # the lower board fed from above
        for n, part in enumerate(other):
            if part.id == "h":
                other[n] = PartInput("h", "board", "f", part.document, "H")
    for n in range(rng.randint(0, 3)):
        entries = {"load": "1.5 kW", "position": str(rng.randint(1, 30))}
        other.append(PartInput(f"new{n}", "circuit", rng.choice(boards), entries, f"New {n}"))
    pair = (side(one, code), side(other, code))
    return pair if rng.random() < 0.5 else pair[::-1]


def powered(above, cut, locked):
    def has(item):
        here = item in above and item not in cut and item not in locked
        return here and (not above[item] or has(above[item]))

    return {item for item in above if has(item)}


def hands_at(step, before, after):
    """Where hands are for a step, whatever it says of itself: the boards at its supply ends, or
    what is opened."""
    if step.act in ("connect", "move", "replace", "disconnect", "other", "lift", "place"):
        items = step.devices or (step.item,)
        return {side[item].above for side in (before, after) for item in items if item in side} - {
            ""
        }
    return {step.item} if step.act in ("equipment", "adjust", "load") else set()


@pytest.mark.parametrize("seed", range(60))
def test_every_step_can_be_done_where_it_stands(seed):
    rng = Random(seed)
    before, after = by_chance(rng)
    few = rng.random() < 0.5
    made = plan(before, after, few)
    assert len({step.key for step in made.steps}) == len(made.steps)
    assert check_order(made.steps, [step.key for step in made.steps]) == made.steps
    above, cut = {item: one.above for item, one in before.items()}, set()
    taken = {}
    for step in made.steps:
        for place in step.freed:
            taken.setdefault(place, True)
    for block in blocks(made.steps, made.site, few=few):
        locked = set(block.locked)
        for step in block.steps:
            # what has to be dead is dead, by the tree as it stands now
            on = powered(above, cut, locked)
            assert not on & hands_at(step, before, after), step.key
            assert not {place for place in step.taken if taken.get(place)}, step.key
            taken |= dict.fromkeys(step.freed, False) | dict.fromkeys(step.taken, True)
            if step.act in ("connect", "move"):
                above[step.item] = after[step.item].above
            if step.act == "disconnect" or (step.act == "remove" and step.item not in after):
                cut.add(step.item)
        assert not block.is_outage or set(block.off) >= {
            item for item in before if item in after and item not in powered(above, cut, locked)
        } - {item for item in after if item not in powered(above, cut, set())}
        # a board whose feeder has no result is not connected: what goes there waits
        assert not block.still_off or made.unknown
    there = {item: place for item, place in above.items() if item not in cut}
    known = set(made.unknown)
    assert {i: p for i, p in there.items() if i not in known} == {
        item: one.above for item, one in after.items() if item not in known
    }


@pytest.mark.parametrize("seed", range(20))
def test_a_step_can_be_moved_as_far_as_it_says_and_no_further(seed):
    rng = Random(1000 + seed)
    made = plan(*by_chance(rng))
    keys, spans = [step.key for step in made.steps], spans_of(made.steps)
    for step in made.steps:
        first, last = spans[step.key]
        rest = [key for key in keys if key != step.key]
        for at in range(len(keys)):
            order = [*rest[:at], step.key, *rest[at:]]
            if first <= at <= last:
                assert [one.key for one in check_order(made.steps, order)] == order
            else:
                with pytest.raises(OutOfOrderError):
                    check_order(made.steps, order)


def test_an_order_that_was_put_takes_new_steps_in():
    small = plan(side(JOB), side(changed(JOB, m={"horsepower": "10"})))
    keys = [step.key for step in small.steps]
    more = plan(side(JOB), side(changed(JOB, new=ANNEX, m={"horsepower": "10"})))
    found = [step.key for step in check_order(more.steps, ["gone|x", *keys])]
    assert [key for key in found if key in keys] == keys and set(found) == {
        s.key for s in more.steps
    }


# when -------------------------------------------------------------------------------------------------

DENVER = ZoneInfo("America/Denver")


def at(text):
    return datetime.fromisoformat(text).replace(tzinfo=DENVER)


def hours(start, opens="08:00", closes="16:30", weekends=False):
    return WorkingHours(
        at(start), time.fromisoformat(opens), time.fromisoformat(closes), DENVER, weekends
    )


def work(minutes, outage=False):
    return Block((), ("s",) if outage else (), minutes=minutes)


# 2026-12-04 is a Friday
WHEN = {
    "in a day": (hours("2026-12-04 08:00"), [work(90)], [("2026-12-04 08:00", "2026-12-04 09:30")]),
    "before it opens": (hours("2026-12-04 05:00"), [work(30)], [("2026-12-04 08:00", "2026-12-04 08:30")]),
    "over a weekend": (hours("2026-12-04 15:30"), [work(90)], [("2026-12-04 15:30", "2026-12-07 08:30")]),
    "with weekends": (
        hours("2026-12-04 15:30", weekends=True), [work(90)], [("2026-12-04 15:30", "2026-12-05 08:30")]
    ),
    "an outage is not interrupted": (
        hours("2026-12-04 15:30"), [work(90, True)], [("2026-12-07 08:00", "2026-12-07 09:30")]
    ),
    "at night": (
        hours("2026-12-03 20:00", "22:00", "06:00"), [work(240, True), work(300)],
        [("2026-12-03 22:00", "2026-12-04 02:00"), ("2026-12-04 02:00", "2026-12-04 23:00")],
    ),
    # the clock goes back at two: an hour more fits into the night
    "the night the clock goes back": (
        hours("2026-10-31 20:00", "22:00", "06:00", True), [work(540, True)],
        [("2026-10-31 22:00", "2026-11-01 06:00")],
    ),
}  # fmt: skip


@pytest.mark.parametrize("case", WHEN)
def test_when_work_begins_and_ends(case):
    when, given, wanted = WHEN[case]
    found = timed(given, when)
    assert [
        (f"{one.begins:%Y-%m-%d %H:%M}", f"{one.ends:%Y-%m-%d %H:%M}") for one in found
    ] == wanted
    for one, block in zip(found, given, strict=True):
        spent = [ends.astimezone(UTC) - begins.astimezone(UTC) for begins, ends in one.pieces]
        assert sum(spent, timedelta()) == timedelta(minutes=block.minutes) and not one.too_long


def test_an_outage_longer_than_a_day_is_said_to_be():
    found = timed([work(600, True)], hours("2026-12-04 10:00"))
    assert found[0].too_long and f"{found[0].begins:%a %H:%M}" == "Mon 08:00"
