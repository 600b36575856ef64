"""A breaker in its surroundings and an inverter behind it: generic factors, the maker's rows, a table of
cases written apart, the bus under both families."""

from math import sqrt

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition, practice
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.job.calculate import PartInput, calculate_job
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.rules.context import supplied

BS, NEC = edition("bs7671-2018"), edition("nec-2020")


def told(book, system, name="inverter", **entries):
    context = Context(book, "metric", supplied(SYSTEMS[system], book))
    found = evaluate(kind(name), entries, context)
    assert found.report, found.problems
    return found.report


def test_the_generic_factors_are_a_bimetals():
    """A bimetal that opens at some 121 °C: the root of what is left of its rise, rounded down; 1 at
    the reference of IEC 60898, 30 °C, and of IEC 60947-2, 40 °C. Common practice."""
    table = practice().table("breaker_heat")
    for column in ("30", "40"):
        for at, factor in table.column(column).items():
            root = min(1.0, sqrt((121 - float(at)) / (121 - float(column))))
            assert root - 0.011 < factor <= root
    neighbours = [
        float(row["factor"]) for row in practice().table("breaker_neighbours").rows.values()
    ]
    assert neighbours == sorted(neighbours, reverse=True) and neighbours[0] == 1


@pytest.mark.parametrize(("entries", "carries"), [
    ({"enclosure_temperature": "50"}, 63 * 0.88), ({"enclosure_temperature": "50", "reference_temperature": "40"}, 63 * 0.93),
    ({"enclosure_temperature": "50", "adjacent_breakers": "3"}, 63 * 0.88 * 0.8), ({"enclosure_temperature": "25"}, 63),
    ({"enclosure_temperature": "122 °F", "adjacent_breakers": "1"}, 63 * 0.88 * 0.9),
    # the maker's rows, by a straight line between them; below the first no more than it says
    ({"enclosure_temperature": "55", "manufacturer_table": [("50", "0.95"), ("60", "0.87")]}, 63 * 0.91),
    ({"enclosure_temperature": "30", "manufacturer_table": [("60", "0.87"), ("50", "0.95")]}, 63 * 0.95),
])  # fmt: skip
def test_what_a_63_carries(entries, carries):
    if "manufacturer_table" in entries:
        rows = [
            {"id": f"m{i}", "enclosure_temperature": t, "factor": f}
            for i, (t, f) in enumerate(entries["manufacturer_table"])
        ]
        entries = {**entries, "manufacturer_table": rows}
    found = told(BS, "1ph-230", "breaker", rating="63 A", **entries)
    assert found.value("derated_current") == pytest.approx(carries)


@pytest.mark.parametrize(("entries", "path", "words"), [
    ({}, "rating", "63 A"), ({"rating": "63", "enclosure_temperature": "80"}, "enclosure_temperature", "end at 70 °C"),
    ({"rating": "63", "enclosure_temperature": "70", "manufacturer_table": [{"id": "a", "enclosure_temperature": "60", "factor": "0.9"}]},
     "enclosure_temperature", "ends at 60 °C"),
    ({"rating": "63", "manufacturer_table": [{"id": "a", "enclosure_temperature": "60"}]}, "manufacturer_table.a.factor", "Needed: both"),
])  # fmt: skip
def test_what_cannot_be_told_of_a_breaker(entries, path, words):
    (problem,) = evaluate(kind("breaker"), entries, Context(BS, "metric")).problems
    assert problem.path == path and words in problem.words


MADE = (6, 10, 13, 16, 20, 25, 32, 40, 50, 63, 80, 100, 125)

# kW, enclosure °C, neighbours, the device: the next standard one above kW ÷ (√3 × 0.4) ÷ factors
CASES = [
    (3, 30, 0, 6), (5, 40, 0, 10), (10, 40, 1, 20), (15, 45, 0, 25), (20, 50, 1, 40), (25, 50, 0, 50),
    (30, 50, 1, 63), (30, 60, 3, 80), (36, 40, 0, 63), (50, 35, 0, 80), (60, 30, 0, 100),
]  # fmt: skip


@pytest.mark.parametrize(("kilowatts", "inside", "beside", "device"), CASES)
def test_the_device_of_an_inverter(kilowatts, inside, beside, device):
    found = told(BS, "3ph-400Y/230", power=f"{kilowatts} kW", inside=str(inside), beside=str(beside),
                 length="12 m", external_loop="0.05")  # fmt: skip
    heat = {30: 1, 35: 0.97, 40: 0.94, 45: 0.91, 50: 0.88, 60: 0.81}[inside]
    near = {0: 1, 1: 0.9, 3: 0.8}[beside]
    amperes = kilowatts / (sqrt(3) * 0.4)
    wanted = next(rating for rating in MADE if rating > amperes / heat / near)
    assert found.value("device") == wanted == device
    assert found.value("amperes") == pytest.approx(amperes)
    assert found.value("derated_current") == pytest.approx(device * heat * near)


def test_a_device_by_hand_that_is_too_small_is_said():
    found = told(
        BS, "3ph-400Y/230", power="30 kW", enclosure_temperature="50", beside="1", device="50 A"
    )
    (pin,) = [f for f in found.findings if f.name == "pin"]
    assert "carries less than its load where it stands" in str(pin.words) and "63 A" in str(
        pin.remedy
    )
    assert [f.severity for f in found.findings if f.name == "derated_current"] == ["fail"]


def test_what_is_lost_ahead_is_nothing_to_its_rise():
    """Behind a main that has lost 4.8 % the cable is what 2 % of rise asks."""
    parts = [PartInput("s", "supply", None, {"system": "3ph-400Y/230"}),
             PartInput("d", "distribution", "s", {"load": "40 kW", "length": "150 m", "maximum_drop": "4.8",
                                                  "device_type": "gG", "area": "16", "cable": "multi 90",
                                                  "reference_method": "E"}),
             PartInput("i", "inverter", "d", {"power": "10 kW", "length": "50 m", "enclosure_temperature": "30"})]  # fmt: skip
    found = calculate_job(parts, BS, "metric")
    assert found["d"].outcome.drop > 3.5
    assert found["i"].outcome.sizing.allowed == 2 and found["i"].report.value("rise") < 2


def test_large_inverters_stand_behind_moulded_breakers():
    for kilowatts, device in ((100, 160), (150, 250), (250, 400)):
        found = told(BS, "3ph-400Y/230", power=f"{kilowatts} kW", device_type="MCCB", reference="40",
                     enclosure_temperature="40", cable="armoured 90", reference_method="E", magnetic_setting="5",
                     length="20 m", external_loop="0.01")  # fmt: skip
        assert found.value("device") == device


def test_the_data_sheet_prevails_where_it_says_more():
    found = told(BS, "3ph-400Y/230", power="10 kW", most="16.5 A", enclosure_temperature="30")
    assert found.value("amperes") == 16.5 and found.value("device") == 20
    exact = told(BS, "1ph-230", connection="line-neutral", most="16 A", enclosure_temperature="30")
    assert exact.value("device") == 20  # equal to the current is not enough


def test_the_rise_sizes_the_cable():
    """14.4 A over 60 m: 2.5 mm² (15 mV) raises 3.2 %, 4 mm² (9.5) 2.05 %, 6 mm² 1.4 %."""
    given = {"power": "10 kW", "length": "60 m", "enclosure_temperature": "30"}
    found = told(BS, "3ph-400Y/230", **given)
    assert found.results["conductor_size"].value == "6"
    assert found.value("rise") == pytest.approx(100 * 6.4 * 14.434 * 60 / 1000 / 400, rel=1e-3)
    lax = told(BS, "3ph-400Y/230", **given, may_rise="4")
    assert lax.results["conductor_size"].value == "2.5"


@pytest.mark.parametrize(("entries", "severity"), [
    # NEC 705.12: 24.1 A × 1.25 = 30.1 A beside a 200 A main on a 200 A bus, at 120 % 240 A
    ({"bus": "200 A", "main": "200 A", "place": "opposite"}, "pass"),
    ({"bus": "200 A", "main": "200 A", "place": "anywhere"}, "fail"),
    ({"bus": "200 A", "main": "150 A", "place": "anywhere"}, "pass"),
    ({"bus": "200 A", "main": "225 A", "place": "opposite"}, "fail"),
    ({"bus": "200 A", "main": "200 A", "place": "anywhere", "bus_other_devices": "150 A"}, "pass"),
    ({"bus": "200 A", "main": "200 A", "place": "line"}, None),
])  # fmt: skip
def test_the_bus_that_an_inverter_feeds(entries, severity):
    found = told(
        NEC, "3ph-480Y/277", power="20 kW", enclosure_temperature="40", reference="40", **entries
    )
    assert found.value("design_amperes") == pytest.approx(1.25 * 24.056, abs=0.01)
    assert found.value("device") == 35
    judged = [f.severity for f in found.findings if f.name == "bus"]
    assert judged == ([severity] if severity else [])


def test_a_metric_board_is_rated_for_both_devices():
    """BS 7671, 551.7.2, recalled: 100 A and 40 A on 125 A do not hold, on 160 A they do."""
    for bus, severity in (("125 A", "fail"), ("160 A", "pass")):
        found = told(
            BS, "3ph-400Y/230", power="20 kW", enclosure_temperature="40", bus=bus, main="100 A"
        )
        assert found.value("device") == 32
        assert [f.severity for f in found.findings if f.name == "bus"] == [severity]


@settings(max_examples=examples(80), deadline=None)
@given(st.floats(2, 60), st.sampled_from([30, 40, 50, 60]), st.integers(0, 5))
def test_a_worse_place_never_asks_a_smaller_device(kilowatts, inside, beside):
    given_ = {"power": f"{kilowatts:.2f} kW", "device_type": "MCCB", "cable": "multi 90"}
    one, other = (
        told(BS, "3ph-400Y/230", **given_, inside=str(i), beside=str(n))
        for i, n in ((30, 0), (inside, beside))
    )
    assert other.value("device") >= one.value("device")
    assert other.value("derated_current") > other.value("amperes")


def yard(*inverters, load="20 kW"):
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-400Y/230", "fault": "9 kA"}),
        PartInput("m", "distribution", "s", {
            "length": "80 m", "cable": "armoured 90", "reference_method": "D", "device": "125 A",
            "device_type": "gG"}),
        PartInput("b", "board", "m", {"rating": "250 A", "interrupting": "10 kA"}),
        PartInput("c", "circuit", "b", {"load": load, "connection": "three-phase",
                                        "length": "20 m"}),
    ]  # fmt: skip
    for index, entries in enumerate(inverters):
        more = {"device_type": "C", "length": "28 m", **entries}
        parts.append(PartInput(f"i{index}", "inverter", "b", more))
    return calculate_job(parts, BS, "metric")


@pytest.mark.parametrize("kilowatts", [5, 12, 24, 40])
def test_export_raises_the_lines_ahead_as_one_phase_reckons_it(kilowatts):
    """Each phase by itself: I = P ÷ 3V, V = 230 + I × Z, with the ohms that the main brings."""
    found = yard({"power": f"{kilowatts} kW"})
    of = kind("distribution")
    main = found["m"]
    ohms = of.network_contribution(main.entries, main.outcome, main.context).joints[0].line
    volts = complex(230)
    for _ in range(60):
        volts = 230 + (kilowatts * 1000 / 3 / volts).conjugate() * ohms
    sheet = found["i0"].report
    ahead = 100 * (abs(volts) / 230 - 1)
    assert found["b"].report.value("export_rise") == pytest.approx(ahead, rel=2e-3)
    assert sheet.value("rise_total") == pytest.approx(ahead + sheet.value("rise"), rel=2e-3)
    assert found["b"].report.value("export_amperes") == pytest.approx(
        kilowatts * 1000 / 3 / abs(volts), rel=2e-3)  # fmt: skip
    assert sheet.value("export_volts") > 230 > sheet.value("import_volts")


def test_import_is_the_job_without_it():
    """It takes nothing off the demand, and the volts under load are as if it were not there."""
    with_it, without = yard({"power": "24 kW"}), yard()
    for part in ("s", "m", "b"):
        for name in ("amperes", "calculated_load", "volts_l1_n"):
            if name in without[part].report.results:
                assert with_it[part].report.value(name) == pytest.approx(
                    without[part].report.value(name))  # fmt: skip


def test_several_add_up_and_ask_for_a_look_beyond_the_usual_rise():
    # the main in the ground carries its 125 A by 0.9 of what it may: 70 mm²
    found = yard({"power": "30 kW"}, {"power": "30 kW"})
    alone = yard({"power": "30 kW"})
    assert found["b"].report.value("export_rise") > 1.9 * alone["b"].report.value("export_rise")
    judged = next(f for f in found["i0"].report.findings if f.name == "rise_total")
    assert judged.severity == "check" and "Enlarge" in str(judged.remedy)


def test_a_source_below_adds_to_the_fault_that_a_board_breaks():
    """Half as much again as its rated amperes, common practice: 24 kW are 34.64 A."""
    more = yard({"power": "24 kW"})["b"].report.value("fault") - yard()["b"].report.value("fault")
    assert more == pytest.approx(1.5 * 24_000 / (sqrt(3) * 400), rel=1e-6)


def test_one_phase_feeds_its_own_line_alone():
    found = yard({"power": "5 kW", "connection": "line-neutral"})
    assert found["i0"].report.value("export_volts") > 231
    # out and back: twice what the same amperes do on three lines
    three = yard({"power": "15 kW"})
    assert found["b"].report.value("export_rise") == pytest.approx(
        2 * three["b"].report.value("export_rise"), rel=0.03)  # fmt: skip
