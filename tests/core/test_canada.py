"""Circuits, feeders and motors under the Canadian code, worked by hand from its tables as recalled:
what its rules ask otherwise than their neighbour's."""

from itertools import pairwise
from math import sqrt

import pytest

from voltaje.core.codes import NotCoveredError, edition
from voltaje.core.electrical.systems import SYSTEMS, Demand, Piece, SupplyPoint
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.rules.context import supplied
from voltaje.core.rules.north_america.motors import table_current
from voltaje.core.rules.settings import Limits

CEC = edition("cec-2021")


def sheet(name="circuit", system="1ph-120/240", below=(), limits=None, **entries):
    context = Context(CEC, "metric", supplied(SYSTEMS[system], CEC), Demand.of(below),
                      limits=limits or Limits())  # fmt: skip
    return evaluate(kind(name), entries, context)


def told(*given, **entries):
    found = sheet(*given, **entries)
    assert found.report, found.problems
    return found.report


@pytest.mark.parametrize(
    ("entries", "device", "conductor", "bond"),
    [
        # not continuous: the device carries the load (8-104); 60 °C terminals to 100 A (4-006)
        ({"load": "24 A"}, 25, "10 AWG Cu", "12 AWG Cu"),
        # continuous: 80 % of the device, 24 ÷ 0.8 = 30 A
        ({"load": "24 A", "continuous": "yes"}, 30, "10 AWG Cu", "12 AWG Cu"),
        # equipment marked for 100 %
        ({"load": "24 A", "continuous": "yes", "continuous_rating": "100"}, 25, "10 AWG Cu", "12 AWG Cu"),
        ({"load": "24.1 A", "continuous": "yes"}, 35, "8 AWG Cu", "10 AWG Cu"),
        # half of it continuous: 12 + 12 ÷ 0.8 = 27 A
        ({"load": "24 A", "continuous": "part", "continuous_share": "50"}, 30, "10 AWG Cu",
         "12 AWG Cu"),
        # table 5C and 5A: 12 AWG of 90 °C, 30 A × 0.5 = 15 A holds 15 A of load, not 16 A
        ({"load": "15 A", "others": "41"}, 15, "12 AWG Cu", "14 AWG Cu"),
        ({"load": "16 A", "others": "41"}, 20, "10 AWG Cu", "14 AWG Cu"),
        ({"load": "15 A", "ambient": "50"}, 15, "14 AWG Cu", "14 AWG Cu"),
        # NMD90 has 90 °C conductors: only its terminations hold it at 60 °C
        ({"load": "40 A", "raceway_or_cable": "NMD90"}, 40, "8 AWG Cu", "10 AWG Cu"),
        ({"load": "40 A", "raceway_or_cable": "NMD90", "terminals": "75"}, 40, "8 AWG Cu", "10 AWG Cu"),
        ({"load": "50 A", "raceway_or_cable": "NMD90", "terminals": "75"}, 50, "8 AWG Cu", "10 AWG Cu"),
        ({"load": "20 A", "material": "aluminum"}, 20, "10 AWG Al", "12 AWG Al"),
        ({"load": "130 A"}, 150, "1 AWG Cu", "6 AWG Cu"),
    ],
)  # fmt: skip
def test_circuits_by_hand(entries, device, conductor, bond):
    worked = told(connection="two-line", **entries)
    assert worked.value("device") == device
    assert worked.results["conductor"].value == conductor
    assert worked.results["ground_conductor"].value == bond


def test_the_next_rating_up_ends_at_600_amperes():
    def line(device):
        load = Piece("x", "other", 0.97 * device * 480 * sqrt(3), 0.97 * device * 480 * sqrt(3), 0,
                     "three-phase", "all")  # fmt: skip
        return told("feeder", "3ph-480Y/277", [load], device=f"{device} A")

    # 582 A behind 600 A: conductors above 500 A may have it
    assert line(600).value("conductor_ampacity") >= 582
    assert line(700).value("conductor_ampacity") >= 700


@pytest.mark.parametrize(
    ("outlets", "fails", "device"), [("8", False, 15), ("12", False, 15), ("13", True, 15)]
)
def test_twelve_outlets_of_an_ampere(outlets, fails, device):
    worked = told(use="receptacles", outlets=outlets)
    assert worked.value("amperes") == float(outlets) and worked.value("device") == device
    assert any(f.name == "outlets_most" and f.severity == "fail" for f in worked.findings) == fails
    known = told(use="receptacles", outlets=outlets, load="10 A")
    assert all(f.name != "outlets_most" for f in known.findings)


def test_the_drop_is_a_rule_and_no_advice():
    far = {"load": "12 A", "length": "60 m"}
    assert not [f for f in told(**far).findings if f.name == "drop"]  # it is sized for it
    far["size"] = "14"
    assert next(f for f in told(**far).findings if f.name == "drop").severity == "fail"
    own = told("circuit", "1ph-120/240", (), Limits("own", 3.0, 5.0), **far)
    assert next(f for f in own.findings if f.name == "drop").severity == "check"


@pytest.mark.parametrize(
    ("entries", "current", "device", "conductor"),
    [
        # 10 hp at 208 V by table 44: 30.8 A; 250 % is 77 A, the rating below it 70 A
        ({"horsepower": "10 hp"}, 30.8, 70, "8 AWG Cu"),
        # by the nameplate where it is known: 28 A, 70 A
        ({"horsepower": "10 hp", "nameplate": "28 A"}, 28, 70, "8 AWG Cu"),
        ({"horsepower": "10 hp", "nameplate": "28 A", "protection": "dual-element fuse"}, 28, 45,
         "8 AWG Cu"),
        # never below the smallest rating that is made
        ({"horsepower": "1/2 hp"}, 2.4, 15, "14 AWG Cu"),
    ],
)  # fmt: skip
def test_motors_by_hand(entries, current, device, conductor):
    worked = told("motor", "3ph-208Y/120", **entries)
    assert worked.value("full_load_current") == pytest.approx(current)
    assert worked.value("maximum_device") == device
    assert worked.results["conductor"].value == conductor


def test_motor_tables_agree_by_volts_and_by_power():
    rows = [n / 2 for n in range(2, 10)] + [10, 20, 50, 100, 200]
    for volts in (208.0, 240.0, 480.0, 600.0):
        found = [table_current(hp, volts, "squirrel cage", True, CEC).value for hp in rows]
        assert all(a < b or hp < 5 for hp, (a, b) in zip(rows, pairwise(found), strict=False))
        for hp, amperes in zip(rows, found, strict=True):
            # efficiency × power factor as small and large motors have it
            assert 0.4 < hp * 746 / (sqrt(3) * volts * 0.96 * amperes) < 0.97, (hp, volts)
    with pytest.raises(NotCoveredError):
        table_current(5, 240.0, "direct current", False, CEC)


def test_bonding_never_beats_the_line_and_grows():
    order = list(CEC.table("ampacity").rows)
    for metal in ("copper", "aluminum"):
        sizes = [row[metal] for row in CEC.table("equipment_grounding").rows.values()]
        places = [order.index(size) for size in sizes]
        assert places == sorted(places)


@pytest.mark.parametrize("name", ["cooking"])
def test_what_is_not_known_is_not_covered(name):
    problems = sheet(name, "3ph-208Y/120").problems
    assert "not covered by CEC 2021" in problems[0].words


@pytest.mark.parametrize(
    ("entries", "words"),
    [({"horsepower": "5 hp", "motor": "direct current"}, "not covered"),
     ({"horsepower": "5 hp", "protection": "instantaneous breaker"}, "not covered"),
     ({"horsepower": "5 hp", "code_letter": "G"}, "not covered")],
)  # fmt: skip
def test_motors_that_its_tables_here_do_not_know(entries, words):
    assert words in sheet("motor", "3ph-208Y/120", **entries).problems[0].words


@pytest.mark.parametrize(
    ("entries", "primary", "secondary", "first", "second"),
    [
        # 75 kVA: 72.17 A at 600 V, 208.2 A at 208 V; 125 % is 90.2 and 260.2 A
        ({}, 100, 225, "2 AWG Cu", "300 kcmil Cu"),
        ({"scheme": "primary and secondary", "aim": "most"}, 200, 225, "3/0 AWG Cu",
         "300 kcmil Cu"),
        ({"kva": "30 kVA"}, 40, 90, "8 AWG Cu", "1 AWG Cu"),
    ],
)  # fmt: skip
def test_transformers_by_hand(entries, primary, secondary, first, second):
    """125 % of the rated current on both sides (26-254, 26-256); 60 °C terminals to 100 A."""
    worked = told("transformer", "3ph-600Y/347", **{"kva": "75 kVA", **entries})
    found = {name: worked.results[name].value for name in (
        "primary_device", "secondary_device", "primary_conductor", "secondary_conductor")}  # fmt: skip
    assert found == {"primary_device": primary, "secondary_device": secondary,
                     "primary_conductor": first, "secondary_conductor": second}  # fmt: skip
    assert worked.value("primary_current") * 1.25 == pytest.approx(
        worked.line("primary_carries").value)  # fmt: skip


def test_bonds_go_by_the_device_and_the_ground_by_one_size():
    load = Piece("x", "other", 60_000, 60_000, 0, "three-phase", "all")
    worked = told("service", "3ph-208Y/120", [load], rod="yes", water_pipe="yes")
    # 166.5 A behind 175 A: bonds by table 16 to 200 A are 6 AWG
    assert worked.value("device") == 175
    assert worked.results["main_bonding_jumper"].value == "6 AWG Cu"
    assert worked.results["electrode_conductor"].value == "6 AWG Cu"


def test_a_transformer_above_a_thousand_volts_is_not_covered():
    found = sheet("transformer", "3ph-600Y/347", kva="500 kVA", high="13.8 kV", impedance="5")
    assert "not covered by CEC 2021" in found.problems[0].words


def test_lines_have_canadian_colors():
    found = told("circuit", "3ph-208Y/120", load="10 A", connection="three-phase", neutral="yes")
    assert [w.color for w in found.wires][:4] == ["red", "black", "blue", "white"]


@pytest.mark.parametrize(("starting", "amperes", "percent"), [
    ("full voltage", 24, 250), ("star-delta", 24, 200), ("autotransformer", 40, 200), ("soft", 40, 200),
])  # fmt: skip
def test_how_a_motor_starts_decides_its_row_of_table_29(starting, amperes, percent) -> None:
    """C22.1 table 29, as recalled: reduced-voltage starting has smaller devices."""
    document = {"horsepower": "20 hp", "nameplate": f"{amperes} A", "starting": starting}
    context = Context(edition("cec-2021"), supply=SupplyPoint(SYSTEMS["3ph-600Y/347"]))
    worked = evaluate(kind("motor"), document, context).report
    assert worked.value("device") <= amperes * percent / 100
    assert any(rule.row.startswith("reduced") == (starting != "full voltage")
               for section in worked.sections for line in section.lines for rule in line.rules
               if rule.topic == "motor_devices" and rule.row)  # fmt: skip


def test_a_motor_of_less_than_an_ampere_is_taken() -> None:
    document = {"horsepower": "1/2 hp", "nameplate": "0.8 A"}
    context = Context(edition("cec-2021"), supply=SupplyPoint(SYSTEMS["3ph-600Y/347"]))
    assert evaluate(kind("motor"), document, context).report.value(
        "conductor_amperes"
    ) == pytest.approx(1.0)


@pytest.mark.parametrize(("load", "va"), [("11 kW", 8000), ("12 kW", 8000), ("14.5 kW", 9000)])
def test_the_circuit_of_a_range_goes_by_its_rule(load, va) -> None:
    """CEC 8-300: 8 kW, and 40 % of what exceeds 12 kW."""
    document = {"use": "range", "load": load, "connection": "two-line"}
    context = Context(edition("cec-2021"), supply=SupplyPoint(SYSTEMS["1ph-120/240"]))
    worked = evaluate(kind("circuit"), document, context).report
    assert worked.value("amperes") == pytest.approx(va / 240)
