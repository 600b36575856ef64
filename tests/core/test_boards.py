"""Feeders, boards, lines: what hangs together in a job's tree; annex D3 and D8."""

from itertools import pairwise
from math import sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from voltaje.core.codes import edition
from voltaje.core.electrical.lines import currents, phasors, place
from voltaje.core.electrical.systems import SYSTEMS, Piece
from voltaje.core.job.calculate import PartInput, calculate_job
from voltaje.core.rules.north_america.feeder_demand import feeder_load

WYE = SYSTEMS["3ph-208Y/120"]


def job(system, *parts, code="nec-2020"):
    """A job of (id, kind, parent, entries) under a supply; each part worked, none with problems."""
    inputs = [PartInput("s", "supply", None, {"system": system}, "Supply")]
    inputs += [
        PartInput(key, of, parent or "s", doc, key.capitalize()) for key, of, parent, doc in parts
    ]
    found = calculate_job(inputs, edition(code))
    assert all(item.report for item in found.values()), [i.problems for i in found.values()]
    return {key: item.report for key, item in found.items()}


def test_annex_d8_motors_and_their_feeder():
    """Annex D8: 25 hp squirrel cage (nameplate 31.6 A, service factor 1.15) on nontime-delay fuses,
    two 30 hp wound rotor (36.4 A, secondary 65 A, 40 °C), 460 V. From memory: branch conductors
    42.5 and 50 A, secondary 81.25 A, overloads 39.5 and 45.5 A, fuses 110 and 60 A, feeder
    conductors 124 A, its device 110 + 40 + 40 = 190 → 175 A."""
    cage = {"horsepower": "25 hp", "nameplate": "31.6 A", "service_factor": "1.15",
            "protection": "nontime-delay fuse", "terminals": "75"}  # fmt: skip
    wound = {"horsepower": "30 hp", "motor": "wound rotor", "nameplate": "36.4 A", "rise": "40",
             "secondary": "65 A", "protection": "nontime-delay fuse", "terminals": "75"}  # fmt: skip
    found = job("3ph-480Y/277", ("f", "feeder", None, {"terminals": "75"}),
                ("m1", "motor", "f", cage), ("m2", "motor", "f", wound), ("m3", "motor", "f", wound))  # fmt: skip
    assert found["m1"].value("conductor_amperes") == 42.5
    assert found["m2"].value("conductor_amperes") == 50.0
    assert found["m2"].line("secondary").value == 81.25
    assert found["m1"].value("overload") == pytest.approx(39.5)
    assert found["m2"].value("overload") == pytest.approx(45.5)
    assert (found["m1"].value("maximum_device"), found["m2"].value("maximum_device")) == (110, 60)
    assert found["f"].value("amperes") == pytest.approx(124.0)
    assert found["f"].value("maximum_motor_device") == 175


STORE = {"receptacles": "80", "show_window": "30 ft", "signs": "1"}


@pytest.mark.parametrize(
    ("code", "floor", "calculated", "design", "device"),
    [
        # annex D3, 2017: 9,000 + 6,000 + 1,200 continuous, 12,200 receptacles; 32,450 VA, 135 A,
        # 150 A. From memory.
        ("nec-2017", "Store", 28_400, 32_450, 150),
        # 2020: 3,000 ft² × 1.9 VA hold the quarter: 5,700 + 12,200 + 7,200 × 1.25; by hand
        ("nec-2020", "Retail, barber shop, beauty parlor", 25_100, 26_900, 125),
        ("nec-2023", "Retail, barber shop, beauty parlor", 25_100, 26_900, 125),
    ],
)
def test_annex_d3_store(code, floor, calculated, design, device):
    entries = {**STORE, "floors": [{"name": floor, "area": "3000 sq ft"}]}
    found = job("1ph-120/240", ("f", "feeder", None, entries), code=code)["f"]
    assert found.value("calculated_load") == pytest.approx(calculated)
    assert found.value("design_amperes") == pytest.approx(design / 240)
    assert found.value("device") == device
    assert found.line("receptacles").value == 12_200


def pieces(*items):
    return [
        Piece(f"p{i}", category, va, va, 0.0, continuous=continuous, group=group, motor=motor)
        for i, (category, va, continuous, group, motor) in enumerate(items)
    ]


@pytest.mark.parametrize(
    ("items", "load", "design"),
    [
        ([("receptacles", 25_000, 0, "", 0)], 17_500, 17_500),  # 10,000 + 15,000 × 0.5
        ([("other", 10_000, 1, "", 0)], 10_000, 12_500),
        # kitchen, six units at 65 %: 60,000 × 0.65; but never below the two largest
        ([("kitchen", 10_000, 0, "", 0)] * 6, 39_000, 39_000),
        ([("kitchen", 20_000, 0, "", 0)] * 2 + [("kitchen", 500, 0, "", 0)] * 4, 40_000, 40_000),
        # the largest of what never runs together
        ([("heating", 8_000, 1, "clima", 0), ("cooling", 9_000, 0, "clima", 0)], 9_000, 9_000),
        # motors: all, and a quarter of the largest
        ([("motor", 4_000, 0, "", 10), ("motor", 6_000, 0, "", 15)], 11_500, 11_500),
        ([("lighting", 16_000, 1, "", 0)], 16_000, 20_000),
    ],
)  # fmt: skip
def test_demand_rules(items, load, design):
    """220.44, 220.56, 220.60, 430.24, 215.3 by hand."""
    found = feeder_load(pieces(*items), edition("nec-2017"))
    assert (found.load, found.design) == (pytest.approx(load), pytest.approx(design))
    assert sum(found.shares) + found.largest_motor == pytest.approx(found.load)


@pytest.mark.parametrize(
    ("code", "occupancy", "load"),
    # 220.42: hospital 50,000 at 40 %, rest at 20 % (2017); hotel 20,000/80,000/rest
    [("nec-2017", "Hospital", 24_000), ("nec-2020", "Hospital", 70_000),
     ("nec-2017", "Hotel, motel, apartments without cooking", 30_000),
     ("nec-2020", "Hotel, motel, apartments without cooking", 37_000)],
)  # fmt: skip
def test_lighting_demand_by_occupancy(code, occupancy, load):
    found = feeder_load(pieces(("lighting", 70_000, 0, "", 0)), edition(code), [occupancy])
    assert found.load == pytest.approx(load)


def test_lighting_counts_once_by_area_or_by_circuits():
    entries = {"floors": [{"name": "Store", "area": "1000 sq ft"}]}
    light = {"use": "lighting", "load": "1.5 kW"}
    parts = [("f", "feeder", None, entries), ("b", "board", "f", {})]
    one = job("3ph-208Y/120", *parts, ("c1", "circuit", "b", light), code="nec-2017")["f"]
    assert one.value("calculated_load") == pytest.approx(3000)
    three = [(f"c{i}", "circuit", "b", light) for i in range(3)]
    found = job("3ph-208Y/120", *parts, *three, code="nec-2017")["f"]
    assert found.value("calculated_load") == pytest.approx(4500)


def test_a_board_puts_its_circuits_on_lines_and_checks_itself():
    light = {"use": "lighting", "load": "1.2 kW"}
    parts = [("b", "board", None, {"rating": "60 A", "spaces": "6", "main": "100 A"})]
    parts += [(f"c{i}", "circuit", "b", light) for i in range(7)]
    found = job("3ph-208Y/120", *parts)["b"]
    lines = [found.results[f"line_of_c{i}"].value for i in range(7)]
    assert sorted(lines) == ["L1", "L1", "L1", "L2", "L2", "L3", "L3"]
    assert found.value("va_l1") == 3600 and found.value("poles") == 7
    failing = {f.name for f in found.findings if f.severity == "fail"}
    assert failing == {"spaces", "main"}
    assert any(f.name == "imbalance" for f in found.findings)


def test_a_shared_neutral_on_one_line_carries_the_sum_and_says_so():
    first = {"load": "10 A", "shared_neutral": "K1", "line": "L1"}
    parts = [("b", "board", None, {}), ("c1", "circuit", "b", first)]
    wrong = job("1ph-120/240", *parts, ("c2", "circuit", "b", first))["b"]
    one = next(f for f in wrong.findings if f.severity == "fail")
    assert one.name == "multiwire_line" and one.amount == "20 A"
    right = job("1ph-120/240", *parts,
                ("c2", "circuit", "b", {**first, "line": "L2", "load": "7 A"}))["b"]  # fmt: skip
    one = next(f for f in right.findings if f.name == "multiwire")
    assert one.amount == "3 A"
    free = job("1ph-120/240", *parts, ("c2", "circuit", "b", {**first, "line": "auto"}))["b"]
    assert free.results["line_of_c2"].value == "L2"
    alone = job("1ph-120/240", *parts)["b"]
    assert alone.status == "check"


@pytest.mark.parametrize(
    ("lines", "wanted"),
    # √(a² + b² + c² − ab − bc − ca); two lines of a wye carry as much back as each
    [((10, 10, 10), 0.0), ((10, 0, 0), 10.0), ((10, 10, 0), 10.0), ((30, 20, 10), sqrt(300))],
)
def test_neutral_of_a_wye(lines, wanted):
    assert WYE.neutral_current(lines) == pytest.approx(wanted)
    loads = [
        (Piece("", "other", a * 120, a * 120, a, "line-neutral", name), a * 120.0)
        for a, name in zip(lines, ("L1", "L2", "L3"), strict=True)
    ]
    by_line, neutral = currents(loads, WYE)
    assert neutral == pytest.approx(wanted)
    assert [by_line[name] for name in ("L1", "L2", "L3")] == pytest.approx(list(lines))


@pytest.mark.parametrize(
    ("system", "line", "va", "wanted"),
    [
        ("3ph-208Y/120", "L1-L2", 2080, {"L1": 10, "L2": 10, "L3": 0}),
        ("1ph-120/240", "L1-L2", 2400, {"L1": 10, "L2": 10}),
        ("3ph-240/120", "L2", 2078.46, {"L1": 0, "L2": 10, "L3": 0}),
        ("3ph-480Y/277", "all", 83_138.4, {"L1": 100, "L2": 100, "L3": 100}),
    ],
)
def test_line_currents(system, line, va, wanted):
    connection = {"all": "three-phase"}.get(line, "two-line" if "-" in line else "line-neutral")
    found, _ = currents([(Piece("", "other", va, va, 0, connection, line), va)], SYSTEMS[system])
    assert found == pytest.approx(wanted, abs=0.01)


@pytest.mark.parametrize("name", SYSTEMS)
def test_phasors_give_the_systems_own_volts(name):
    system = SYSTEMS[name]
    found = phasors(system)
    assert set(found) == set(system.lines)
    for line, volts in found.items():
        if system.to_neutral and line != system.high_leg:
            assert abs(volts) == pytest.approx(system.to_neutral, rel=0.003)
    names = list(found)
    for one, other in pairwise(names):
        assert abs(found[one] - found[other]) == pytest.approx(system.line_to_line, rel=0.005)


@given(st.lists(st.floats(10, 5000), min_size=1, max_size=30), st.sampled_from(list(SYSTEMS)))
def test_placing_keeps_all_load_and_never_uses_the_high_leg(loads, name):
    system = SYSTEMS[name]
    if not system.to_neutral:
        return
    found = place([Piece(str(i), "other", va, va, 0, "line-neutral") for i, va in enumerate(loads)],
                  system)  # fmt: skip
    assert all(p.line in system.lines and p.line != system.high_leg for p in found)
    assert [p.name for p in found] == [str(i) for i in range(len(loads))]
    lines = [line for line in system.lines if line != system.high_leg]
    sums = [sum(p.calculated for p in found if p.line == line) for line in lines]
    # largest first: no line exceeds the lightest by more than the largest load
    assert max(sums) - min(sums) <= max(loads) + 1e-6


def test_a_part_with_problems_hands_up_nothing_and_the_rest_is_worked():
    inputs = [PartInput("s", "supply", None, {"system": "3ph-208Y/120"}),
              PartInput("b", "board", "s", {}), PartInput("c", "circuit", "b", {"load": "1 kW"}),
              PartInput("d", "circuit", "b", {"load": "nonsense"})]  # fmt: skip
    found = calculate_job(inputs, edition("nec-2020"))
    assert found["d"].report is None and found["b"].report.value("circuits") == 1
    assert found["s"].report.value("connected_load") == 1000


def test_own_marking_reaches_the_wires():
    supply = {"system": "3ph-208Y/120", "marking": "own", "mark_l1": "brown", "mark_l2": "orange"}
    inputs = [PartInput("s", "supply", None, supply),
              PartInput("c", "circuit", "s", {"load": "3 kW", "connection": "three-phase"})]  # fmt: skip
    wires = calculate_job(inputs, edition("nec-2020"))["c"].report.wires
    assert [w.color for w in wires] == ["brown", "orange", "blue", "green"]


@pytest.mark.parametrize(
    ("entries", "path", "words"),
    [
        ({}, "", "Nothing hangs"), ({"floors": [{"name": "Moon base", "area": "9 m2"}]},
                                    "floors.r0.name", "no such occupancy"),
        ({"floors": [{"name": "Office or bank"}]}, "floors.r0.area", "3000 sq ft"),
        ({"loads": [{"name": "Fan", "nameplate": "5 hp"}]}, "loads.r0.nameplate", "motor circuits"),
        ({"loads": [{"name": "Fan"}]}, "loads.r0.nameplate", "Needed"),
    ],
)  # fmt: skip
def test_wrong_feeder_entries(entries, path, words):
    inputs = [PartInput("s", "supply", None, {}), PartInput("f", "feeder", "s", entries)]
    (problem,) = calculate_job(inputs, edition("nec-2020"))["f"].problems
    assert problem.path == path and words in problem.words


@pytest.mark.parametrize(
    ("system", "colors"),
    [
        # the usual colors: common practice; orange for a high leg by 110.15
        ("3ph-208Y/120", ["black", "red", "blue", "white"]),
        ("3ph-480Y/277", ["brown", "orange", "yellow", "gray"]),
        ("3ph-240/120", ["black", "orange", "blue", "white"]),
        ("1ph-120/240", ["black", "red", "white"]),
    ],
)
def test_usual_identification(system, colors):
    found = job(system, ("c", "circuit", None, {"load": "1 kW"}))["s"]
    lines = [str(line.label).split(": ")[1] for line in found.section("marking").lines]
    assert lines == colors


@pytest.mark.parametrize(
    ("supply", "finding", "severity"),
    [
        ({"system": "3ph-208Y/120", "rating": "5 A"}, "rating", "fail"),
        ({"system": "3ph-208Y/120", "rating": "100 A"}, "rating", "pass"),
        ({"system": "3ph-208Y/120", "volts": "190"}, "volts", "check"),
        ({"system": "3ph-240/120"}, "high_leg", "remark"),
    ],
)
def test_findings_of_a_supply(supply, finding, severity):
    inputs = [PartInput("s", "supply", None, supply),
              PartInput("c", "circuit", "s", {"load": "3 kW", "connection": "two-line"})]  # fmt: skip
    found = calculate_job(inputs, edition("nec-2020"))["s"].report
    assert next(f.severity for f in found.findings if f.name == finding) == severity


@pytest.mark.parametrize(
    ("entries", "wanted"),
    [
        # 90 kW on 208Y/120 V: 249.8 A → 250 A; the neutral of 60 kVA of lighting, 166.5 A → 2/0
        # at 75 °C; never below the 250 A device's equipment ground, 4 AWG
        ({"loads": [{"name": "Ovens", "nameplate": "90 kW"}]}, "4 AWG Cu"),
        ({"loads": [{"name": "Ovens", "nameplate": "30 kW"},
                    {"name": "Lights", "nameplate": "60 kW", "category": "lighting"}]}, "2/0 AWG Cu"),
    ],
)  # fmt: skip
def test_a_feeders_neutral(entries, wanted):
    """215.2(A)(2) and 220.61."""
    found = job("3ph-208Y/120", ("f", "feeder", None, {**entries, "terminals": "75"}))["f"]
    assert found.results["neutral_conductor"].value == wanted


def test_nothing_is_reduced_twice_on_its_way_up():
    """Receptacles of two boards are one sum of more than 10 kVA, whichever part adds them up."""
    outlets = {"use": "receptacles", "outlets": "13"}
    parts = [("f", "feeder", None, {}), ("b1", "board", "f", {}), ("b2", "board", "f", {})]
    parts += [(f"c{i}", "circuit", f"b{i % 2 + 1}", outlets) for i in range(8)]
    found = job("3ph-208Y/120", *parts)
    total = 8 * 13 * 180  # 18,720 VA
    assert found["b1"].value("calculated_load") == total / 2  # 9,360 VA: below 10 kVA
    assert found["f"].value("calculated_load") == pytest.approx(14_360)
    assert found["s"].value("calculated_load") == pytest.approx(14_360)


def test_the_drop_adds_up_from_the_supply():
    feeder = {"length": "200 ft", "terminals": "75", "size": "6"}
    parts = [("f", "feeder", None, feeder), ("b", "board", "f", {}),
             ("c", "circuit", "b", {"load": "14 A", "length": "90 ft"}),
             ("d", "circuit", "b", {"load": "14 A", "length": "20 ft"}),
             ("e", "circuit", "b", {"load": "14 A"})]  # fmt: skip
    found = job("3ph-208Y/120", *parts)
    whole = found["f"].value("drop_percent") + found["c"].value("drop_percent")
    # constant power draws a little more on lower volts than its sheet says
    assert found["c"].value("drop_total") == pytest.approx(whole, rel=5e-3)
    assert "drop_total" in found["c"].answer
    looks = {key: [f for f in w.findings if f.name == "drop_total"] for key, w in found.items()}
    assert whole > 5 and looks["c"] and "above the 5 %" in str(looks["c"][0].words)
    assert found["d"].value("drop_total") < 5 and not looks["d"]
    # without a run of its own a circuit has what is lost ahead of it, and is not judged
    assert found["e"].value("drop_total") == pytest.approx(
        found["f"].value("drop_percent"), rel=0.02
    )
    assert not looks["e"]


def test_the_drop_goes_on_behind_a_transformer():
    parts = [("t", "transformer", None, {"kva": "45", "length": "60 ft", "secondary_length": "9 ft"}),
             ("c", "circuit", "t", {"load": "20 A", "length": "50 ft"})]  # fmt: skip
    found = job("3ph-480Y/277", *parts)
    both = found["t"].value("primary_drop_percent") + found["t"].value("secondary_drop_percent")
    # its sheet loads the runs with the transformer's own amperes, the job with what hangs on it
    own = found["c"].value("drop_percent")
    assert own < found["c"].value("drop_total") < own + both


@pytest.mark.parametrize("line", ["auto", "L2", "L3"])
def test_one_circuit_on_a_board_of_its_own_keeps_its_line_in_the_board_above(line):
    """The feeder's device has a pole for every line; its one load stands where its board has it."""
    circuit = {"load": "55 A", "connection": "line-neutral", "line": line}
    more = {"load": "41 A", "connection": "line-neutral", "line": "L1"}
    parts = [PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "S"),
             PartInput("b", "board", "s", {"spaces": "42"}, "B"),
             PartInput("g", "feeder", "b", {}, "G"), PartInput("h", "board", "g", {}, "H"),
             PartInput("c", "circuit", "h", circuit, "C"),
             PartInput("n", "circuit", "b", more, "N")]  # fmt: skip
    found = calculate_job(parts, edition("nec-2020"))
    above, own = found["b"].report, found["h"].report
    kept = line if line != "auto" else "L1"
    assert str(above.results["line_of_c"].value) == str(own.results["line_of_c"].value) == kept
    assert str(above.results["place_of_g"].value).count(",") == 2
