"""Distribution circuits under BS 7671: loads by line, the loop down the tree by hand, the drop by the
network, and what is said where nothing hangs."""

import pytest

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.job.calculate import Memory, calculate_job
from voltaje.core.kinds import Context, PartInput, evaluate, kind

CODE = edition("bs7671-2018")
SUPPLY = {"system": "3ph-400Y/230", "frequency": "50", "earthing": "TN-C-S", "external_loop": "0.2"}
MAIN = {"cable": "armoured 90", "reference_method": "E", "length": "40 m", "device_type": "gG"}
SHOWER = {
    "load": "7 kW",
    "length": "25 m",
    "cable": "multi",
    "reference_method": "C",
    "use": "water heater",
}


def chain(main=MAIN, circuits=(("c", "L1", SHOWER),), memory=None, supply=SUPPLY):
    parts = [PartInput("s", "supply", None, supply, "S"), PartInput("d", "distribution", "s", main, "D"),
             PartInput("b", "board", "d", {"rating": "125"}, "B")]  # fmt: skip
    parts += [
        PartInput(key, "circuit", "b", {**doc, "line": line}, key) for key, line, doc in circuits
    ]
    return calculate_job(parts, CODE, "metric", memory=memory)


THREE = [
    ("c1", "L1", SHOWER),
    ("c2", "L2", {**SHOWER, "load": "5 kW"}),
    ("c3", "L3", {**SHOWER, "load": "9 kW"}),
]


def test_the_heaviest_line_is_the_design_current():
    """9 kW on L3 is 39.1 A: gG 40 A. What counts of it is entered."""
    found = chain(circuits=THREE)["d"].report
    assert found.line("line_l3").value == pytest.approx(9000 / 230, rel=1e-3)
    assert found.value("amperes") == pytest.approx(9000 / 230, rel=1e-3)
    assert found.value("device") == 40
    half = chain({**MAIN, "diversity": "60"}, THREE)["d"].report
    assert half.value("amperes") == pytest.approx(0.6 * 9000 / 230, rel=1e-3)
    assert half.value("device") == 25


def test_the_loop_goes_down_the_tree_by_hand():
    """Ze 0.2, then R1 + R2 of each run at the temperature of its insulation."""
    found = chain(circuits=THREE)
    main, circuit = found["d"].report, found["c1"].report
    size, earth = (main.results[name].value for name in ("conductor_size", "ground_conductor_size"))
    cold = {
        s: float(CODE.table("resistance").rows[s]["R20"]) for s in (size, earth, "4", "6", "2.5")
    }
    at_board = 0.2 + (cold[size] + cold[earth]) * 1.28 * 0.04
    assert main.value("loop_impedance") == pytest.approx(at_board)
    own = circuit.results["conductor_size"].value
    assert circuit.value("loop_impedance") == pytest.approx(at_board + 2 * cold[own] * 1.2 * 0.025)
    # a distribution circuit opens within 5 s: gG 40 A, 1.30 Ω
    assert main.value("maximum_loop_impedance") == pytest.approx(1.30)


def test_a_longer_main_leaves_its_circuits_less():
    """The loop that a longer main hands down asks for more of a circuit; a guess kept from before
    changes nothing."""
    memory = Memory()
    main = {**MAIN, "area": "10"}
    short = chain(main, memory=memory)["c"].report.value("loop_impedance")
    long = chain({**main, "length": "90 m"}, memory=memory)["c"].report.value("loop_impedance")
    fresh = chain({**main, "length": "90 m"})["c"].report.value("loop_impedance")
    assert long == pytest.approx(fresh) and long > short
    back = chain(main, memory=memory)["c"].report.value("loop_impedance")
    assert back == pytest.approx(short)


def test_the_job_loses_what_each_run_loses():
    """The network's drop at the board: the main's ohms at 90 °C by its amperes, constant power."""
    found = chain({**MAIN, "length": "80 m", "area": "10"}, [("c", "L1", SHOWER)])
    main = found["d"].report
    ohms = float(CODE.table("resistance").rows["10"]["R20"]) * 1.28 / 1000
    volts = 230
    for _ in range(20):
        volts = 230 - 2 * ohms * 80 * 7000 / volts  # line and neutral
    assert main.value("volts_l1_n") == pytest.approx(volts, rel=2e-3)


def test_tt_goes_down_the_tree():
    supply = {**SUPPLY, "earthing": "TT", "external_loop": "60"}
    found = chain({**MAIN, "rcd": "300"}, [("c", "L1", {**SHOWER, "rcd": "30"})], supply=supply)
    assert found["c"].report.value("loop_impedance") > 60
    assert found["c"].report.value("maximum_loop_impedance") == pytest.approx(1666.7, abs=0.1)
    assert "tt" not in {one.name for one in found["c"].report.findings}


@pytest.mark.parametrize(("entries", "words"), [
    ({}, "Nothing hangs on it yet"), ({"load": "10 hp"}, "Give the load in kW"),
    ({"load": "900 kW"}, "is more than the 125 A"),
])  # fmt: skip
def test_what_is_missing_is_said(entries, words):
    context = Context(CODE, "metric", SupplyPoint(SYSTEMS["3ph-400Y/230"]))
    found = evaluate(kind("distribution"), entries, context)
    assert found.outcome is None and words in found.problems[0].words


def test_another_family_says_that_it_has_none():
    found = evaluate(kind("distribution"), {"load": "9 kW"}, Context(edition("nec-2020")))
    assert "not covered" in found.problems[0].words


def test_the_limit_is_from_the_origin_to_the_load():
    """5 % in all: what the main loses is gone for its circuits, which then take larger cables; a main
    leaves them the rest."""
    main = {**MAIN, "length": "150 m", "maximum_drop": "3"}
    found = chain(main, [("c", "L1", {**SHOWER, "length": "40 m"})])
    lost, own = (found[key].report.value("drop_percent") for key in ("d", "c"))
    assert 1 < lost <= 3 and own <= 5 - lost + 1e-9
    alone = chain({**main, "length": "1 m"}, [("c", "L1", {**SHOWER, "length": "40 m"})])
    sizes = [float(f["c"].report.results["conductor_size"].value) for f in (alone, found)]
    assert sizes[1] > sizes[0]
    tight = chain({**main, "maximum_drop": "0.5"})["d"].report
    assert tight.value("drop_percent") <= 0.5


def test_where_nothing_is_left_it_says_so():
    """Lighting may lose 3 %, and its main has lost more: sized by all else, and it fails."""
    main = {**MAIN, "length": "150 m", "maximum_drop": "5"}
    light = {
        "use": "lighting",
        "load": "1 kW",
        "length": "30 m",
        "cable": "multi",
        "reference_method": "C",
    }
    heavy = {**SHOWER, "load": "9 kW"}
    found = chain(main, [("c", "L1", light), ("h", "L1", heavy)])
    assert found["d"].report.value("drop_percent") > 3
    (fails,) = [one for one in found["c"].report.findings if one.name == "drop"]
    assert fails.severity == "fail" and "0 % are left here" in str(fails.words)


@pytest.mark.parametrize(("diversity", "look"), [("100", False), ("60", True)])
def test_a_device_behind_that_is_larger_is_said(diversity, look):
    """9 kW on 40 A behind a main whose share asks for 25 A only."""
    found = chain({**MAIN, "diversity": diversity}, [("c", "L1", {**SHOWER, "load": "9 kW"})])
    assert ("larger_behind" in {one.name for one in found["d"].report.findings}) is look


def test_what_never_runs_together_counts_once():
    """A heater of 6 kW and a cooler of 4 kW under one name: 6 kW and the lights."""
    parts = [PartInput("s", "supply", None, {"system": "1ph-230", "external_loop": "0.2"}),
             PartInput("d", "distribution", "s", {"length": "20 m"}, "Main"),
             PartInput("b", "board", "d", {}, "Board"),
             *(PartInput(n, "circuit", "b", {"load": load, "noncoincident_with": name, "length": "9 m"}, n)
               for n, load, name in (("Heater", "6 kW", "air"), ("Cooler", "4 kW", "air"),
                                     ("Lights", "1 kW", "")))]  # fmt: skip
    found = calculate_job(parts, CODE, "metric")
    assert found["d"].report.value("amperes") == pytest.approx(7000 / 230)
    assert found["b"].report.value("calculated_load") == 7000
    assert found["s"].report.value("calculated_load") == 7000
    words = " ".join(str(line.label) for line in found["b"].report.section("load").lines)
    assert "“air” never together: Heater counts" in words
