"""A line, a connection and a place that contradict one another are refused, whoever asks; nothing
that chooses by itself puts a load of line and neutral on a high leg."""

from __future__ import annotations

import pytest
from core.test_every_kind import GOOD
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition
from voltaje.core.effort import Effort
from voltaje.core.electrical.advice import Wanted, advise_list
from voltaje.core.electrical.balance import solve, task_of
from voltaje.core.electrical.lines import contradiction, place
from voltaje.core.electrical.systems import SYSTEMS, Piece, SupplyPoint
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import Context, PartInput, evaluate, kind

LINES = ("auto", "L1", "L2", "L3", "L1-L2", "L2-L3", "L1-L3")
HIGH = SYSTEMS["3ph-240/120"]
LOADS = {
    "circuit": {"load": "2 kW"},
    "machine": {"power": "2.2 kW"},
}
BOOK = {"circuit": "nec-2020", "machine": "bs7671-2018"}


@pytest.mark.parametrize("name", LOADS)
@pytest.mark.parametrize("system", SYSTEMS.values(), ids=lambda s: s.id)
@pytest.mark.parametrize("connection", ["line-neutral", "two-line", "three-phase"])
def test_a_line_that_its_connection_cannot_have_is_refused(name, system, connection) -> None:
    if not system.volts(connection):
        return
    for line in LINES:
        document = {**LOADS[name], "connection": connection, "line": line}
        context = Context(edition(BOOK[name]), supply=SupplyPoint(system))
        found = evaluate(kind(name), document, context)
        expected = {"line-neutral": [x for x in system.lines if x != system.high_leg],
                    "two-line": [x for x in LINES if x.count("-") and all(p in system.lines for p in x.split("-"))],
                    "three-phase": []}[connection]  # fmt: skip
        if line == "auto" or line in expected:
            assert not [p for p in found.problems if p.path == "line"], (line, found.problems)
        else:
            assert [p.path for p in found.problems] == ["line"], line


@pytest.mark.parametrize(("name", "more"), [
    ("motor", {"line": "L1"}), ("cooking", {"line": "L2-L3"}), ("multiwire_circuit", {"phase_b": "L2"}),
])  # fmt: skip
def test_every_kind_that_can_be_put_on_a_line_is_asked(name, more) -> None:
    """A three-phase motor on L1; a range on lines that are not there; a leg on the high leg."""
    system = {
        "motor": "3ph-208Y/120",
        "cooking": "1ph-120/240",
        "multiwire_circuit": "3ph-240/120",
    }[name]
    context = Context(edition("nec-2020"), supply=SupplyPoint(SYSTEMS[system]))
    document = {**GOOD[name], **more}
    found = evaluate(kind(name), document, context)
    assert [p.path for p in found.problems] == [next(iter(more))], found.problems


def test_a_street_keeps_off_the_high_leg() -> None:
    rows = [
        {"id": f"c{i}", "length": "30 ft", "nameplate": "4 kW", "line": "auto"} for i in range(6)
    ]
    context = Context(edition("nec-2020"), supply=SupplyPoint(HIGH))
    outcome = evaluate(kind("street"), {"consumers": rows}, context).outcome
    assert {house.line for house in outcome.street.houses} == {"L1", "L3"}
    assert all("L2" not in load.options for load in outcome.rows_to_spread().loads)
    for wrong in ({"line": "L2"}, {"connection": "three-phase"}):
        bad = [{**rows[0], **wrong}, *rows[1:]]
        found = evaluate(kind("street"), {"consumers": bad}, context)
        assert found.problems[0].path == f"consumers.c0.{next(iter(wrong))}"


@given(
    st.lists(
        st.tuples(st.floats(100, 9000), st.sampled_from(["line-neutral", "two-line"])),
        min_size=1,
        max_size=8,
    )
)
@settings(max_examples=examples(60))
def test_nothing_automatic_stands_on_the_high_leg(loads) -> None:
    """The largest-first rule, the optimiser and the load list."""
    pieces = [
        Piece(f"p{i}", "other", va, va, va / 120, c, part=f"p{i}")
        for i, (va, c) in enumerate(loads)
    ]
    placed = place(pieces, HIGH)
    task = task_of(placed, HIGH)
    lines = solve(task, "deviation", Effort(1.0)).lines
    wanted = [Wanted(p.name, p.calculated, p.connection) for p in pieces] + [
        Wanted("m", 3e3, "three-phase")
    ]
    advice = advise_list(wanted, 1.0, SYSTEMS["1ph-120/240"], HIGH)
    for index, piece in enumerate(placed):
        for line in (piece.line, lines[piece.part], advice.lines[index]):
            assert contradiction(line, piece.connection, HIGH) is None


def test_a_place_and_a_line_by_hand_that_differ_fail() -> None:
    parts = [PartInput("s", "supply", None, {"system": "1ph-120/240"}, "S"),
             PartInput("b", "board", "s", {"spaces": "12"}, "B"),
             PartInput("c", "circuit", "b", {"load": "1 kW", "position": "1", "line": "L2"}, "C")]  # fmt: skip
    worked = calculate_job(parts, edition("nec-2020"))["b"].report
    assert any(f.name == "place_line" and f.severity == "fail" for f in worked.findings)


def test_a_load_list_takes_the_heaviest_line_of_whole_loads() -> None:
    """Three loads of 10 kW at 120 V cannot be halved: 167 A, not 125 A, on 120/240 V."""
    single, three = SYSTEMS["1ph-120/240"], SYSTEMS["3ph-208Y/120"]
    loads = [Wanted(str(i), 10_000, "line-neutral") for i in range(3)]
    found = advise_list(loads, 150.0, single, three)
    assert found.single_amperes == pytest.approx(20_000 / 120) and found.system == three
    large = advise_list([Wanted("Kiln", 60_000, "two-line")], 150.0, single, three)
    assert any("Kiln" in str(words) for words in large.why)
