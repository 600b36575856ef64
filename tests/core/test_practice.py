"""Practice: keys get full marks, declared slips are named, random figures are not, an earlier slip costs one
line alone; the arithmetic of a worksheet is read as it stands."""

from __future__ import annotations

from random import Random

import pytest
from core.test_usual_slips import base, made

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.kinds import kind, kinds
from voltaje.core.practice import Marker, points, problem
from voltaje.core.practice.arithmetic import figures, put_in, worked
from voltaje.core.practice.lines import AskedLine, asked_lines, hints
from voltaje.core.practice.problems import HORSEPOWER, as_given, holding
from voltaje.core.practice.slips import step_slips
from voltaje.core.report import Text, WorksheetLine

BASES = {
    "circuit": (
        "1ph-120/240",
        {"load": "1920 VA", "length": "90 ft", "terminals": "75", "use": "lighting"},
    ),
    "transformer": ("3ph-480Y/277", {"kva": "45", "length": "20 ft", "impedance": "4"}),
    "motor": ("3ph-208Y/120", {"horsepower": "10 hp", "length": "90 ft", "ambient": "40 °C"}),
    "amperes": (
        "3ph-208Y/120",
        {"power": "10 hp", "voltage": "240 V", "power_factor": "0.85", "efficiency": "88"},
    ),
}
CODE = "nec-2020"


def marker(name, document, code=CODE, level="guided"):
    """The problem of just these entries."""
    found = as_given(kind(name), edition(code), SYSTEMS[BASES[name][0]], document, level, "x")
    assert found is not None
    return Marker(found)


def line(found, name):
    return next(one for one in found.lines if one.line is not None and one.line.name == name)


def marks_of(found, given):
    return {one.asked.id: one for one in found.mark(given)}


@pytest.mark.parametrize(("text", "value"), [
    ("30,000 ÷ (1.732 × 480)", 30000 / (1.732 * 480)), ("13.33 × 1.25", 16.6625), ("√(3² + 4²)", 5.0),
    ("208.18 × 1.25 = 260.22 → 300 A", 260.225), ("2 × 16 A × 0.49 Ω × 150 ft ÷ 1,000 = 2.35 V of 120 V", 2.352),
    ("(3 × 0.1158 + 0.0507) ÷ 1.496 in², at most 40 %", 0.266110), ("16.67 ≤ 20", 16.67), ("", None),
    ("as tabulated", None), ("1 ÷ 0", None), ("4.7 + 1.96", 6.66), ("90.21 ≤ 115", 90.21),
])  # fmt: skip
def test_the_arithmetic_of_a_line(text, value):
    assert worked(text) == (value if value is None else pytest.approx(value, rel=1e-4))


def test_another_figure_put_in():
    text = "13.33 × 1.25"
    start, end, value = figures(text)[0]
    assert value == 13.33
    assert put_in(text, [(start, end, 20.0)]) == pytest.approx(25.0)


@pytest.mark.parametrize("name", list(BASES))
@pytest.mark.parametrize("level", ["guided", "answer"])
@pytest.mark.parametrize("seed", range(6))
def test_the_key_gets_full_marks(name, level, seed):
    found = problem(kind(name), edition(CODE), [BASES[name]], str(seed), level)
    sheet = Marker(found)
    given = {one.id: one.shown for one in sheet.lines}
    marked = sheet.mark(given)
    assert [one.mark for one in marked] == ["right"] * len(sheet.lines)
    assert points(marked, {}) == len(sheet.lines) > 0
    # what is printed, and with all its digits, is right alike
    exact = {one.id: repr(one.value) if one.value is not None else one.words for one in sheet.lines}
    assert {one.mark for one in sheet.mark(exact)} == {"right"}


def test_the_same_seed_is_the_same_problem_and_others_differ():
    made = [
        problem(kind("motor"), edition(CODE), [BASES["motor"]], seed)
        for seed in ("a", "a", "b", "c", "d")
    ]
    assert made[0].document == made[1].document
    assert len({str(sorted(one.document.items())) for one in made}) > 2
    hard = [
        problem(kind("motor"), edition(CODE), [BASES["motor"]], str(n), hard=True).rules
        for n in range(8)
    ]
    easy = [problem(kind("motor"), edition(CODE), [BASES["motor"]], str(n)).rules for n in range(8)]
    assert sum(hard) > sum(easy)


SLIPS = [
    # what is asked, the figure with the slip (by hand), how it is told
    ("transformer", "primary_current", 45_000 / 480, "√3 left out"),
    ("transformer", "primary_current", 45_000 / (1.732 * 277), "voltage to neutral taken"),
    ("circuit", "device", 25.0, "the next standard size up"),
    ("circuit", "device", 15.0, "the next standard size down"),
    ("circuit", "amperes", 8.0, "line-to-line voltage used for a load to neutral"),
    ("circuit", "design_amperes", 16.0, "125 %"),
    ("circuit", "design_amperes", 25.0, "1.25 taken twice"),
    ("motor", "conductor_amperes", 30.8, "125 %"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "asked", "figure", "words"), SLIPS)
def test_a_usual_slip_is_named(name, asked, figure, words):
    found = marker(name, BASES[name][1])
    one = marks_of(found, {line(found, asked).id: f"{figure:.4g}"})[line(found, asked).id]
    assert one.mark == "wrong"
    assert any(words in str(slip) for slip in one.slips), [str(slip) for slip in one.slips]


@pytest.mark.parametrize(("entry", "as_is", "taken", "words"), [
    ("length", "90 ft", "45 ft", "half the length"), ("terminals", "75", "", "75 °C read as 60"),
    ("ambient", "45 °C", "", "overlooked"), ("others", "6", "", "overlooked"),
    ("material", "aluminum", "copper", "copper read for aluminum"),
])  # fmt: skip
def test_every_line_that_a_misread_entry_changes_names_it(entry, as_is, taken, words):
    """The sheet worked with the entry misread, typed in line by line: each that differs from the key
    tells that entry."""
    plain = {
        **BASES["circuit"][1],
        "load": "40 A",
        "connection": "two-line",
        "use": "general",
        entry: as_is,
    }
    found = marker("circuit", plain)
    read = {**plain, entry: taken}
    if not taken:
        del read[entry]
    other = {one.id: one for one in marker("circuit", read).lines}
    differ = [one for one in found.lines if one.id in other and one.shown != other[one.id].shown]
    assert differ
    for one in differ:
        said = marks_of(found, {one.id: other[one.id].shown})[one.id]
        if said.mark == "wrong":
            assert any(words in str(slip) for slip in said.slips), (
                one.id,
                [str(s) for s in said.slips],
            )


def test_two_slips_at_once_are_told_together():
    plain = {"load": "40 A", "connection": "two-line", "length": "90 ft"}
    found = marker("circuit", plain)
    both = {
        one.id: one
        for one in marker("circuit", plain | {"length": "45 ft", "material": "aluminum"}).lines
    }
    drop = line(found, "drop")
    said = marks_of(found, {drop.id: both[drop.id].shown})[drop.id]
    assert any("aluminum" in str(slip) and "half the length" in str(slip) for slip in said.slips)


def test_a_neighbouring_cell_is_told_with_its_place():
    found = marker("circuit", BASES["circuit"][1])
    own = line(found, "ampacity_own")
    alone = marks_of(found, {own.id: "40"})[own.id]  # 10 AWG in the row below 12 AWG, 90 °C
    # alone, 40 A may come from 125 % taken twice as well; with the amperes right it cannot
    assert any("row 10" in str(slip) for slip in alone.slips), [str(slip) for slip in alone.slips]
    before = {one.id: one.shown for one in found.lines[: found.lines.index(own)]}
    said = marks_of(found, before | {own.id: "40"})[own.id]
    assert [str(slip) for slip in said.slips] == [
        "read in row 10, column copper 90 of Table 310.16"
    ]
    assert said.rules and said.rules[0].row == "10"


@pytest.mark.parametrize("seed", range(12))
def test_random_figures_are_given_no_slip(seed):
    rng = Random(seed)
    found, told = marker("motor", BASES["motor"][1]), 0
    for one in found.lines:
        if one.value is not None:
            value = one.value * rng.uniform(3.1, 3.9)
            told += bool(marks_of(found, {one.id: f"{value:.5g}"})[one.id].slips)
    assert told <= 1  # by chance alone


def test_an_earlier_slip_costs_one_line():
    """16 A taken as 20 A: 125 % of 20 A follows rightly and keeps its mark."""
    found = marker("circuit", BASES["circuit"][1])
    key = {one.id: one.shown for one in found.lines}
    wrong = key | {line(found, "amperes").id: "20", line(found, "design_amperes").id: "25"}
    marked = {one.asked.id: one.mark for one in found.mark(wrong)}
    assert marked[line(found, "amperes").id] == "wrong"
    assert marked[line(found, "design_amperes").id] == "carried"
    assert points(found.mark(wrong), {}) == len(found.lines) - 1


def test_own_working_is_matched_in_any_order():
    found = marker("circuit", BASES["circuit"][1], level="own")
    typed = [one.shown for one in found.lines][::-1]
    assert {one.mark for one in found.own_working(typed)} == {"right"}
    some = found.own_working(["16", "999", "", "nonsense"])
    assert [one.mark for one in some].count("right") == 1


def test_hints_come_one_by_one_and_cost():
    found = marker("motor", BASES["motor"][1])
    one = next(asked for asked in found.lines if asked.rules and asked.rules[0].is_table)
    told = [str(text) for text in hints(one, lambda rule: "title")]
    assert told[0] == f"Look at {one.rules[0].cite}." and told[-1] == f"It is {one.shown}."
    given = {asked.id: asked.shown for asked in found.lines}
    assert points(found.mark(given), {one.id: 2}) == len(found.lines) - 0.5
    assert points(found.mark(given), {one.id: 9}) == len(found.lines) - 1


def test_what_holds_nowhere_is_no_base():
    of = kind("motor")
    assert (
        holding(of, edition(CODE), [(["3ph-208Y/120"], {"horsepower": "abc"})])[0][1]["horsepower"]
        != "abc"
    )
    assert asked_lines(problem(of, edition(CODE), [BASES["motor"]], "1").report, answer_only=True)


HOUSE = {"area": "1500", "cooking": [{"id": "a", "name": "Range", "nameplate": "12 kW"}],
         "dryers": [{"id": "b", "name": "Dryer", "nameplate": "5 kW"}]}  # fmt: skip


def house():
    found = as_given(kind("dwelling"), edition(CODE), SYSTEMS["1ph-120/240"], HOUSE, "guided", "x")
    return Marker(found)


@pytest.mark.parametrize(("figure", "words"), [
    (4500 + 3000, "“Laundry circuits” left out"), (4500 + 1500, "“Small-appliance circuits” left out"),
    (4500 + 3000 + 3000, "“Laundry circuits” counted twice"),
])  # fmt: skip
def test_a_line_left_out_of_a_sum_is_named(figure, words):
    """1,500 ft² × 3 VA + 2 × 1,500 + 1 × 1,500 VA: the sum of every dwelling worked by the standard method."""
    found = house()
    asked = line(found, "general_lighting_connected")
    assert asked.value == 9000
    said = marks_of(found, {asked.id: str(figure)})[asked.id]
    assert words in [str(slip) for slip in said.slips]


def test_a_sum_of_an_earlier_slip_keeps_its_mark():
    found = house()
    total = line(found, "general_lighting_connected")
    first = next(
        one
        for one in found.lines
        if one.id.startswith("standard.") and "1,500 ft" in one.expression
    )
    marks = marks_of(found, {first.id: "4000", total.id: "8500"})
    assert (marks[first.id].mark, marks[total.id].mark) == ("wrong", "carried")


@pytest.mark.parametrize(("sum_", "value", "slipped", "words"), [
    ("11 + 7", 18.0, 11.0, "7 left out"), ("25 − 7", 18.0, 32.0, "7 added for subtracted"),
    ("25 − 7", 18.0, 25.0, "7 left out"), ("10,000 + 18,800 × 0.4", 17_520.0, 28_800.0, "0.4 left out"),
])  # fmt: skip
def test_steps_of_a_printed_sum(sum_, value, slipped, words):
    said = [
        str(one.words)
        for one in step_slips(shown(sum_, value))
        if one.value == pytest.approx(slipped)
    ]
    assert any(words in one for one in said), said


def shown(expression, value):
    return AskedLine(
        "x", "", Text("x"), value, "A", line=WorksheetLine("x", Text("x"), value, "A", expression)
    )


@pytest.mark.parametrize("code", ["nec-2023", "cec-2021", "bs7671-2018", "asnzs3000-2018"])
@pytest.mark.parametrize(
    "name", [one.name for one in kinds() if not one.root and one.name not in ("board", "service")]
)
def test_every_kind_tells_its_task_in_a_sentence(name, code):
    """With all that it names filled in, from the entries as typed."""
    found = made(name, code, "1")
    if found is None:
        assert not base(name, code)
        return
    said = str(found.task)
    assert said.endswith(".") and "{" not in said and ": :" not in said, said
    assert len(said) > 40, said


@pytest.mark.parametrize(("name", "document", "said"), [
    ("motor", {"horsepower": "10", "length": "90 ft"},
     "A 10 hp motor (squirrel cage, three-phase) on 208Y/120 V, 90 ft from its board: size its conductors, its "
     "short-circuit device and its overload."),
    ("motor", {"horsepower": "7-1/2 hp"},
     "A 7-1/2 hp motor (squirrel cage, three-phase) on 208Y/120 V: size its conductors, its short-circuit device "
     "and its overload."),
    ("transformer", {"kva": "45", "secondary": "3ph-208Y/120"},
     "A 45 kVA transformer (delta–wye), 480Y/277 V to 208Y/120 V: size its devices and conductors on both sides."),
])  # fmt: skip
def test_a_task_in_words(name, document, said):
    found = as_given(kind(name), edition(CODE), SYSTEMS[BASES[name][0]], document, "guided", "")
    assert str(found.task) == said


@pytest.mark.parametrize("seed", range(20))
def test_motors_and_devices_are_of_sizes_that_are_made(seed):
    motor = problem(kind("motor"), edition(CODE), [BASES["motor"]], str(seed)).document
    assert motor["horsepower"].endswith(" hp") and float(motor["horsepower"][:-3]) in HORSEPOWER
    plain = ("3ph-208Y/120", {"horsepower": "10", "length": "90 ft"})
    assert (
        problem(kind("motor"), edition(CODE), [plain], str(seed))
        .document["horsepower"]
        .endswith("hp")
    )
    breaker = ("3ph-208Y/120", {"rating": "40 A", "load": "28 A"})
    rated = problem(kind("breaker"), edition(CODE), [breaker], str(seed)).document["rating"]
    assert float(rated[:-2]) in [
        cell.value for cell in edition(CODE).cells("standard_devices", "A").values()
    ]


def test_what_lies_outdoors_is_no_cable_for_indoors():
    document = {"segments": [{"id": "a", "name": "Gate", "nameplate": "600 W", "length": "120 ft"}]}
    found = [
        problem(kind("cable_run"), edition(CODE), [("1ph-120/240", document)], str(n))
        for n in range(30)
    ]
    assert not {one.document.get("wiring_method") for one in found if one} & {"NM-B", "UF-B", "SE"}
