"""Circuits of one load: amperes, device, conductors, and what is refused."""

import pytest

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.kinds import Context, evaluate, kind

WYE, SPLIT = "3ph-208Y/120", "1ph-120/240"


def run(of, document, system=WYE, code="nec-2020", shop=None, units="us"):
    point = SupplyPoint(SYSTEMS[system])
    context = Context(edition(code), units, point, **({"shop": shop} if shop else {}))
    return evaluate(kind(of), document, context)


def worked(*args, **more):
    found = run(*args, **more)
    assert not found.problems, found.problems
    return found.report


@pytest.mark.parametrize(
    ("document", "system", "amperes", "design", "headline"),
    [
        # single-phase VA ÷ V; three-phase VA ÷ (√3 × V); by hand
        ({"load": "1.8 kW"}, WYE, 15.0, 15.0, "15 A · 14 AWG Cu"),
        ({"load": "1800 W", "power_factor": "0.9"}, WYE, 16.667, 16.667, "20 A · 12 AWG Cu"),
        ({"load": "1800 VA", "power_factor": "0.9"}, WYE, 15.0, 15.0, "15 A · 14 AWG Cu"),
        ({"load": "10 kW", "connection": "three-phase"}, WYE, 27.757, 27.757, "30 A · 10 AWG Cu"),
        ({"load": "24 A", "connection": "two-line"}, SPLIT, 24.0, 24.0, "25 A · 10 AWG Cu"),
        ({"load": "24 A", "continuous": "yes"}, SPLIT, 24.0, 30.0, "30 A · 10 AWG Cu"),
        ({"load": "20 A", "continuous": "part", "continuous_share": "60"}, SPLIT, 20.0, 23.0,
         "25 A · 10 AWG Cu"),
        # storage water heaters and space heating are continuous (422.13, 424.4(B))
        ({"use": "water heater", "load": "4.5 kW", "connection": "two-line"}, SPLIT, 18.75, 23.4375,
         "25 A · 10 AWG Cu"),
        ({"use": "space heating", "load": "9.6 kW", "connection": "two-line"}, SPLIT, 40.0, 50.0,
         "50 A · 6 AWG Cu"),
        # a 48 A charger on 60 A (625.42: continuous)
        ({"use": "vehicle charging", "load": "48 A", "connection": "two-line", "terminals": "75"},
         SPLIT, 48.0, 60.0, "60 A · 6 AWG Cu"),
        # 8 × 180 VA (220.14(I))
        ({"use": "receptacles", "outlets": "8"}, SPLIT, 12.0, 12.0, "15 A · 14 AWG Cu"),
        ({"use": "receptacles", "outlets": "11"}, SPLIT, 16.5, 16.5, "20 A · 12 AWG Cu"),
        # a sign outlet counts 1,200 VA at least and is continuous
        ({"use": "sign", "load": "600 W"}, SPLIT, 10.0, 12.5, "15 A · 14 AWG Cu"),
        # nameplate: 23 A and at most 40 A: 10 AWG behind 40 A, 240.4(D) does not hold (440)
        ({"use": "air conditioning", "minimum_ampacity": "23 A", "maximum_device": "40 A",
          "connection": "two-line"}, SPLIT, 23.0, 23.0, "40 A · 10 AWG Cu"),
        ({"use": "air conditioning", "minimum_ampacity": "18 A", "maximum_device": "33 A",
          "connection": "two-line"}, SPLIT, 18.0, 18.0, "30 A · 12 AWG Cu"),
        ({"load": "180 kVA", "connection": "three-phase", "terminals": "75"}, "3ph-480Y/277",
         216.51, 216.51, "225 A · 4/0 AWG Cu"),
    ],
)  # fmt: skip
def test_loads_to_circuits(document, system, amperes, design, headline):
    found = worked("circuit", document, system)
    assert found.value("amperes") == pytest.approx(amperes, abs=0.005)
    assert found.value("design_amperes") == pytest.approx(design, abs=0.005)
    assert found.headline == headline and found.status == "pass"


@pytest.mark.parametrize(
    ("document", "path", "words"),
    [
        ({}, "load", "Needed"), ({"load": "5 hp"}, "load", "motor circuit"),
        ({"load": "0 W"}, "load", "Needed"), ({"load": "abc"}, "load", "does not read"),
        ({"use": "receptacles"}, "outlets", "how many"),
        ({"use": "air conditioning"}, "minimum_ampacity", "nameplate"),
        ({"use": "air conditioning", "minimum_ampacity": "20"}, "maximum_device", "nameplate"),
        ({"use": "air conditioning", "minimum_ampacity": "40", "maximum_device": "20"},
         "maximum_device", "below the minimum"),
        ({"load": "2 kW", "connection": "three-phase"}, "connection", "not three-phase"),
        ({"load": "2 kW", "continuous": "part"}, "continuous_share", "percent"),
        ({"load": "2 kW", "power_factor": "1.2"}, "power_factor", "Out of range"),
        ({"load": "2 kW", "ambient": "200 F"}, "ambient", "Out of range"),
        ({"load": "2 kW", "ambient": "warm"}, "ambient", "temperature"),
        ({"load": "2 kW", "length": "-3 ft"}, "length", "Out of range"),
        ({"load": "2 kW", "others": "2.5"}, "others", "whole number"),
        ({"load": "2 kW", "size": "250", "method": "NM-B"}, "size", "not made"),
        ({"load": "2 kW", "size": "13"}, "size", "Choose one of"),
        ({"load": "2 kW", "device": "many"}, "device", "current"),
    ],
)  # fmt: skip
def test_wrong_entries_are_named_at_their_field(document, path, words):
    (problem,) = run("circuit", document, SPLIT).problems
    assert problem.path == path and words in problem.words


@pytest.mark.parametrize(
    ("document", "finding", "words"),
    [
        ({"use": "receptacles", "outlets": "20"}, "too_much", "2 circuits"),
        ({"load": "40 A", "device": "30 A"}, "pin", "does not hold"),
        ({"load": "9.6 kW", "connection": "two-line", "rated_volts": "240"}, "rated_volts", "75 %"),
        ({"load": "12 A", "length": "200 ft"}, "drop", "above the 3 %"),
    ],
)
def test_findings(document, finding, words):
    found = worked("circuit", document)
    one = next(f for f in found.findings if f.name == finding)
    assert words in f"{one.words} {one.remedy}"


def test_the_high_leg_is_refused_to_loads_to_neutral():
    context = Context(edition("nec-2020"), supply=SupplyPoint(SYSTEMS["3ph-240/120"]))
    found = evaluate(kind("circuit"), {"load": "1 kW", "line": "L2"}, context)
    assert found.problems[0].path == "line" and "high leg" in found.problems[0].words


def test_the_drop_by_hand():
    """Chapter 9, Table 9, in EMT: 12 AWG copper R 2.0, X 0.068 Ω/1,000 ft. 16 A over 100 ft at
    120 V: 2 × 16 × 2.0 × 0.1 = 6.4 V = 5.33 %; at 0.9: 2 × 16 × (1.8 + 0.02964) × 0.1 = 5.855 V."""
    found = worked("circuit", {"load": "16 A", "length": "100 ft"})
    assert found.value("drop_percent") == pytest.approx(16 * 2 * 2.0 * 0.1 / 120 * 100)
    found = worked("circuit", {"load": "16 A", "length": "100 ft", "power_factor": "0.9"})
    assert found.value("drop_percent") == pytest.approx(5.8549 / 120 * 100, rel=1e-4)
    metric = worked("circuit", {"load": "16 A", "length": "30.48"}, units="metric")
    assert metric.value("drop_percent") == pytest.approx(5.3333, rel=1e-4)


def test_temperatures_in_both_scales_are_one():
    warm = [
        worked("circuit", {"load": "24 A", "ambient": text}) for text in ("40 °C", "104 F", "40")
    ]
    assert len({found.headline for found in warm}) == 1
    assert warm[0].line("ambient").value == pytest.approx(40 * 0.91)


def test_an_enlarged_conductor_takes_its_ground_along():
    """250.122(B): 8 AWG for 12 AWG on 20 A: 6530 × 16510 ÷ 6530 cmil → 8 AWG."""
    plain = worked("circuit", {"load": "16 A"})
    large = worked("circuit", {"load": "16 A", "size": "8"})
    assert plain.results["ground_conductor"].value == "12 AWG Cu"
    assert large.results["ground_conductor"].value == "8 AWG Cu"


@pytest.mark.parametrize(
    ("document", "raceway"),
    [
        # areas of chapter 9 by hand: 3 × 0.0133 = 0.0399 in² ≤ 40 % of 0.304
        ({"load": "16 A"}, "1/2 in EMT"),
        # 3 × 0.1562 + 0.0366 = 0.5052 in²: 1-1/4 EMT holds 0.598, 1 in 0.346
        ({"load": "34 kVA", "connection": "three-phase"}, "1-1/4 in EMT"),
        # eleven counted: 10 AWG at 50 %; 11 × 0.0211 + 0.0133 = 0.2454 in²: 1 in holds 0.275
        ({"load": "16 A", "method": "PVC 80", "others": "9"}, "1 in PVC schedule 80"),
    ],
)
def test_raceways(document, raceway):
    assert worked("circuit", document).results["raceway"].value == raceway


def test_cables_have_no_raceway_and_nm_reads_at_60():
    found = worked("circuit", {"load": "26 A", "method": "NM-B", "terminals": "75"})
    assert "raceway" not in found.results and found.headline == "30 A · 10 AWG Cu"
    assert any(r.number == "334.80" for r in found.line("ampacity_terminals").rules)


def test_no_pair_is_said_in_words():
    (problem,) = run("circuit", {"load": "250 A", "method": "NM-B"}).problems
    assert "conductor for 250 A" in problem.words


# cooking ------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("document", "demand", "device", "size", "neutral"),
    [
        # one range by column C: 8 kW; 40 A at least; neutral 70 % of 40 = 28 A → 10 AWG
        ({"nameplate": "11.4 kW"}, 8000, 40, "8", "10"),
        ({"nameplate": "12 kW"}, 8000, 40, "8", "10"),
        # 16 kW: 4 above 12, 8 × 1.20 = 9.6 kW, 40 A (annex D, range of more than 12 kW)
        ({"nameplate": "16 kW"}, 9600, 40, "8", "10"),
        # 12.5 kW: half a kilowatt is a major fraction: 8.4 kW
        ({"nameplate": "12.5 kW"}, 8400, 40, "8", "10"),
        # one wall oven, one cooktop: the nameplate (note 4)
        ({"layout": "oven", "nameplate": "4.8 kW"}, 4800, 20, "12", "12"),
        ({"layout": "cooktop", "nameplate": "7.2 kW"}, 7200, 30, "10", "10"),
        # 8 kW range: 80 % of column B is less than column C's 8 kW; below 8¾ kW no 40 A floor
        ({"nameplate": "8 kW"}, 6400, 30, "10", "10"),
    ],
)
def test_cooking_circuits(document, demand, device, size, neutral):
    found = worked("cooking", document, SPLIT)
    assert found.value("load") == pytest.approx(demand)
    assert found.value("device") == device
    assert found.results["conductor"].value == f"{size} AWG Cu"
    assert found.results["neutral_conductor"].value == f"{neutral} AWG Cu"


TOGETHER = {"layout": "together", "cooktop": "6.6 kW", "oven_1": "4.2 kW", "oven_2": "3.4 kW"}


@pytest.mark.parametrize(
    ("code", "device", "size"),
    [("nec-2017", 50, "6"), ("nec-2020", 40, "8"), ("nec-2023", 40, "8")],
)
def test_taps_by_edition(code, device, size):
    """14.2 kW as one range: 8 × 1.10 = 8.8 kW, 36.7 A. The 2017 edition taps from 50 A only."""
    found = worked("cooking", TOGETHER, SPLIT, code)
    assert found.value("load") == pytest.approx(8800)
    assert (found.value("device"), found.results["conductor"].value) == (device, f"{size} AWG Cu")
    others = [str(line.label) for line in found.section("editions").lines]
    wanted = {"nec-2017": ["NEC 2020: 40 A, 8 AWG Cu", "NEC 2023: 40 A, 8 AWG Cu"]}
    assert others == wanted.get(code, ["NEC 2017: 50 A, 6 AWG Cu"])


def test_taps_carry_the_whole_nameplate_and_20_a_at_least():
    found = worked("cooking", TOGETHER, SPLIT)
    sizes = [found.results[f"tap_{n}"].value for n in ("cooktop", "oven_1", "oven_2")]
    assert sizes == ["10 AWG Cu", "12 AWG Cu", "12 AWG Cu"]  # 27.5 A; 17.5 and 14.2 A → 20 A
    assert found.line("tap_oven_2").value >= 20


@pytest.mark.parametrize(
    ("document", "path", "words"),
    [
        ({}, "nameplate", "7.2 kW"), ({"layout": "together", "cooktop": "7 kW"}, "oven_1", "Needed"),
        ({"nameplate": "5 hp"}, "nameplate", "horsepower"),
        ({"nameplate": "40 kW"}, "", "over 27 kW"),
    ],
)  # fmt: skip
def test_wrong_cooking_entries(document, path, words):
    (problem,) = run("cooking", document, SPLIT).problems
    assert problem.path == path and words in problem.words


def test_more_than_50_a_may_not_be_tapped():
    found = worked("cooking", {**TOGETHER, "cooktop": "16 kW"}, SPLIT)
    assert found.status == "fail" and "circuits of their own" in str(found.findings[0].remedy)


def test_a_second_edition_says_nothing_where_the_answer_is_the_same():
    found = worked("cooking", {"nameplate": "11.4 kW"}, SPLIT)
    with pytest.raises(KeyError):
        found.section("editions")


# motors -------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("document", "system", "current", "conductor", "most"),
    [
        # table current × 125 %; × percent of 430.52, next size up; by hand
        ({"horsepower": "10 hp"}, "3ph-480Y/277", 14.0, 17.5, 35),
        ({"horsepower": "10 hp"}, WYE, 30.8, 38.5, 80),
        ({"horsepower": "10"}, "3ph-240", 28.0, 35.0, 70),
        ({"horsepower": "7-1/2 hp", "motor": "single-phase", "connection": "two-line"}, SPLIT, 40.0,
         50.0, 100),
        ({"horsepower": "1/2 hp", "motor": "single-phase", "connection": "line-neutral"}, SPLIT, 9.8,
         12.25, 25),
        ({"horsepower": "10", "protection": "dual-element fuse"}, WYE, 30.8, 38.5, 60),
        ({"horsepower": "10", "protection": "nontime-delay fuse"}, WYE, 30.8, 38.5, 100),
        ({"horsepower": "10", "protection": "instantaneous breaker"}, WYE, 30.8, 38.5, 246.4),
        ({"horsepower": "10", "protection": "instantaneous breaker",
          "motor": "squirrel cage design B energy-efficient"}, WYE, 30.8, 38.5, 338.8),
        # it does not start: 400 % of 30.8 = 123.2 → 110 A, no next size up
        ({"horsepower": "10", "starts_on_device": "no"}, WYE, 30.8, 38.5, 110),
        # 300 % above 100 A: 3 × 124 = 372 → 350 A
        ({"horsepower": "100", "starts_on_device": "no", "terminals": "75"}, "3ph-480Y/277", 124, 155, 350),
        ({"horsepower": "25", "motor": "wound rotor"}, "3ph-480Y/277", 34.0, 42.5, 60),
        ({"horsepower": "10", "motor": "direct current", "dc_volts": "240"}, WYE, 38, 47.5, 60),
        # between two rows of the table the larger
        ({"horsepower": "12"}, "3ph-480Y/277", 21.0, 26.25, 60),
    ],
)  # fmt: skip
def test_motors(document, system, current, conductor, most):
    found = worked("motor", {"nameplate": "20 A", **document}, system)
    assert found.value("full_load_current") == current
    assert found.value("conductor_amperes") == pytest.approx(conductor)
    assert found.value("maximum_device") == pytest.approx(most)
    chosen = next(r for r in found.alternatives if r.chosen)
    assert chosen.ampacity >= conductor and chosen.device <= most + 1e-9


@pytest.mark.parametrize(
    ("more", "overload", "most"),
    [
        ({"service_factor": "1.15"}, 25.0, 28.0), ({"service_factor": "1.0"}, 23.0, 26.0),
        ({"rise": "40"}, 25.0, 28.0), ({"rise": "more"}, 23.0, 26.0), ({}, 23.0, 26.0),
    ],
)  # fmt: skip
def test_overloads_go_by_the_nameplate(more, overload, most):
    """430.32(A)(1) and (C) on 20 A."""
    found = worked("motor", {"horsepower": "7.5", "nameplate": "20 A", **more})
    assert found.value("overload") == pytest.approx(overload)
    assert found.line("overload_most").value == pytest.approx(most)


@pytest.mark.parametrize(
    ("volts", "current", "heat", "torque"),
    # facts of the trade: −15 % volts, +17 % current, +38 % rise; torque 0.9² and 0.8²
    [("408 V", 1.1765, 38.4, 72.25), ("432 V", 1.111, 23.5, 81.0), ("384 V", 1.25, 56.25, 64.0)],
)
def test_low_volts(volts, current, heat, torque):
    found = worked("motor", {"horsepower": "10", "nameplate": "13", "actual_volts": volts},
                   "3ph-480Y/277")  # fmt: skip
    assert found.line("current_at_volts").value / 14 == pytest.approx(current, rel=1e-3)
    assert found.line("heat_at_volts").value == pytest.approx(heat, rel=1e-2)
    assert found.line("torque_at_volts").value == pytest.approx(torque, rel=1e-3)
    assert any(f.name == "actual_volts" and f.severity == "check" for f in found.findings)


def test_why_the_breaker_may_exceed_the_wire_is_said():
    found = worked("motor", {"horsepower": "7.5", "nameplate": "22 A", "terminals": "75"})
    one = next(f for f in found.findings if f.name == "device_above_ampacity")
    assert one.severity == "pass" and "overload" in str(one.words)
    assert found.value("device") == 70 and found.results["conductor"].value == "10 AWG Cu"


@pytest.mark.parametrize(
    ("terminals", "size"),
    # 25 hp at 208 V: 74.8 A, conductors 93.5 A, breaker 200 A. The terminals are the circuit's of
    # 93.5 A, not the breaker's: 60 °C, 2 AWG (95 A), unless all are listed for 75 °C, 3 AWG (100 A)
    [("rule", "2"), ("75", "3")],
)
def test_a_motors_terminals_go_by_its_conductors(terminals, size):
    found = worked("motor", {"horsepower": "25", "nameplate": "70 A", "terminals": terminals})
    assert found.value("device") == 200
    assert found.results["conductor"].value == f"{size} AWG Cu"


def test_other_duties_go_by_the_nameplate():
    """Table 430.22(E): intermittent, 30 minutes: 90 %."""
    found = worked("motor", {"horsepower": "10", "nameplate": "30 A", "duty": "intermittent"})
    assert found.value("conductor_amperes") == pytest.approx(27.0)


@pytest.mark.parametrize(
    ("document", "path", "words"),
    [
        ({}, "horsepower", "10 hp"), ({"horsepower": "0"}, "horsepower", "Out of range"),
        ({"horsepower": "5 kW"}, "horsepower", "That is a load"),
        ({"horsepower": "10", "motor": "single-phase"}, "connection", "single-phase"),
        ({"horsepower": "10", "connection": "two-line"}, "connection", "three-phase"),
        ({"horsepower": "400"}, "", "400 hp at 208 V"),
        ({"horsepower": "5", "duty": "periodic"}, "nameplate", "Needed"),
        ({"horsepower": "5", "duty": "short-time", "nameplate": "9", "rated_time": "continuous"},
         "rated_time", "no figure"),
    ],
)  # fmt: skip
def test_wrong_motor_entries(document, path, words):
    (problem,) = run("motor", document).problems
    assert problem.path == path and words in problem.words


@pytest.mark.parametrize("method", ["EMT", "NM-B", "UF-B", "MC", "SE"])
@pytest.mark.parametrize("terminals", ["rule", "75"])
@pytest.mark.parametrize("load", ["12 A", "40 A", "90 A"])
def test_the_terminals_cite_the_cell_that_they_read(method, terminals, load):
    """A cable that another rule caps at 60 °C reads the 60 °C column whatever its terminals are
    listed for (334.80 of the NEC, for NM): the cell of that column is cited."""
    book = edition("nec-2020")
    found = worked("circuit", {"load": load, "connection": "two-line", "method": method,
                               "terminals": terminals, "length": "10 ft"}, SPLIT)  # fmt: skip
    for name in ("ampacity_terminals", "ampacity_own"):
        line = found.line(name)
        cell = next(rule for rule in line.rules if rule.topic == "ampacity")
        sets = round(line.value / book.cell("ampacity", cell.row, cell.column).value)
        read = book.cell("ampacity", cell.row, cell.column).value
        assert sets and line.value == read * sets, (name, cell)


@pytest.mark.parametrize(
    ("load", "connection", "system", "va"),
    [
        ("14.4 Ω", "two-line", "1ph-120/240", 4000),
        ("14.4 Ω", "two-line", "3ph-208Y/120", 208**2 / 14.4),
        ("14.4 Ω 240 V", "two-line", "1ph-120/240", 4000),
        ("9.6 ohms", "line-neutral", "1ph-120/240", 1500),
    ],
)
def test_an_element_in_ohms_takes_what_its_volts_drive(load, connection, system, va):
    """V² ÷ R by hand."""
    found = worked(
        "circuit", {"load": load, "connection": connection, "use": "space heating"}, system
    )
    assert found.value("load") == pytest.approx(va)
    assert "² ÷ " in found.line("load").expression


def test_ohms_that_say_too_little_are_refused():
    for load, connection in (("14.4 Ω", "three-phase"), ("0 Ω", "two-line"), ("-4 Ω", "two-line")):
        entries = {"load": load, "connection": connection, "use": "space heating"}
        found = run("circuit", entries, "3ph-208Y/120")
        assert [p.path for p in found.problems] == ["load"]
