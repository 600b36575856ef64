"""The job solved as one network: volts on every part, amperes by line, drop from the supply."""

from __future__ import annotations

from math import sqrt

import pytest
from core.test_boards import job
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition
from voltaje.core.job.calculate import calculate_job
from voltaje.core.job.readings import compare
from voltaje.core.kinds import PartInput
from voltaje.core.rules.north_america.drop import impedance
from voltaje.core.rules.settings import Limits

WYE, MILL = "3ph-208Y/120", "3ph-480Y/277"
FEEDER = {"length": "200 ft", "terminals": "75", "size": "6"}
HEATER = {"use": "space heating", "connection": "two-line", "load": "4 kW", "length": "20 ft"}


def test_a_single_circuit_loses_what_its_feeder_and_its_run_lose() -> None:
    """One line, one neutral: both wires of the feeder carry the 10 A, by V = I Z of Table 9; the
    neutral is only as large as its own 10 A ask for, and loses the most."""
    found = job(WYE, ("f", "feeder", None, FEEDER), ("b", "board", "f", {}),
                ("c", "circuit", "b", {"load": "10 A", "line": "L2", "length": "50 ft"}))  # fmt: skip
    assert found["f"].results["neutral_conductor"].value == "14 AWG Cu"
    loop = (complex(0.49, 0.064) + complex(3.1, 0.073)) * 0.2
    volts = 120.0
    for _ in range(30):  # constant power: I = 1,200 VA ÷ V
        volts = abs(120 - 1200 / volts * loop)
    assert found["b"].value("volts_l2_n") == pytest.approx(volts, rel=1e-4)
    assert found["b"].value("flow_l2") == found["b"].value("flow_n")
    assert found["b"].value("flow_l2") == pytest.approx(1200 / volts, rel=1e-4)
    assert found["b"].value("flow_l1") == 0
    # the neutral's drop moves the other lines too
    assert found["b"].value("volts_l1_n") != pytest.approx(120, abs=0.05)
    own = found["c"].value("drop_percent")
    assert found["c"].value("volts_at_load") == pytest.approx(volts - own / 100 * 120, rel=1e-4)
    assert found["c"].value("drop_total") == pytest.approx(
        100 * (120 - volts) / 120 + own, rel=1e-3
    )
    assert found["c"].headline.endswith(" V") and found["b"].headline.endswith(" V")


def test_balanced_loads_leave_the_neutral_alone() -> None:
    circuits = [(f"c{i}", "circuit", "b", {"load": "12 A", "line": f"L{i}"}) for i in (1, 2, 3)]
    found = job(WYE, ("f", "feeder", None, FEEDER), ("b", "board", "f", {}), *circuits)
    assert found["f"].value("flow_n") < 1e-6
    volts = [found["b"].value(f"volts_l{i}_n") for i in (1, 2, 3)]
    assert max(volts) - min(volts) < 1e-6
    assert found["b"].value("volts_l1_l2") == pytest.approx(sqrt(3) * volts[0])


@pytest.mark.parametrize(("connection", "secondary", "pair", "nominal"), [
    ("delta-wye", WYE, "volts_l1_n", 120), ("wye-wye", WYE, "volts_l2_n", 120),
    ("delta-delta", "3ph-240", "volts_l2_l3", 240), ("open delta", "3ph-240", "volts_l1_l3", 240),
    ("delta-delta", "3ph-240/120", "volts_l2_n", 207.85),
    ("single-phase", "1ph-120/240", "volts_l1_l2", 240),
])  # fmt: skip
def test_transformers_of_every_connection_give_their_volts(connection, secondary, pair, nominal):
    bank = {"kva": "45", "connection": connection, "secondary": secondary, "impedance": "4",
            "length": "20 ft"}  # fmt: skip
    found = job(MILL, ("t", "transformer", None, bank), ("b", "board", "t", {}),
                ("c", "circuit", "b", {**HEATER, "connection": "two-line"}))  # fmt: skip
    volts = found["b"].value(pair)
    assert 0.96 * nominal < volts < 1.001 * nominal
    assert found["c"].value("volts_at_load") > 0.95 * 200


def test_a_transformer_loses_its_impedance_at_full_load() -> None:
    """4 % at 45 kVA, X/R 2, unity power factor: R % = 4 ÷ √5, and X's part at right angles."""
    three = {"use": "space heating", "connection": "three-phase", "load": "45 kW"}
    bank = {"kva": "45", "impedance": "4"}
    found = job(MILL, ("t", "transformer", None, bank), ("c", "circuit", "t", three))
    r, x = 0.04 / sqrt(5), 0.08 / sqrt(5)
    volts = 1.0
    for _ in range(40):
        volts = sqrt(1 - (x / volts) ** 2) - r / volts
    lost = 100 * (1 - volts)
    assert found["t"].value("drop_in_installation") == pytest.approx(lost, rel=0.01)
    # the code's advice is for conductors: the transformer's own part is told apart
    assert found["c"].value("drop_total") == pytest.approx(0, abs=0.02)


def test_demand_factors_hold_for_the_volts_too() -> None:
    """24 circuits of 13 receptacles behind one feeder: 10 kVA whole, half of the rest (220.44), so
    the feeder's amperes are those of its sheet."""
    many = [(f"c{i}", "circuit", "b", {"use": "receptacles", "outlets": "10"}) for i in range(24)]
    found = job(WYE, ("f", "feeder", None, {"length": "60 ft", "terminals": "75"}),
                ("b", "board", "f", {}), *many)  # fmt: skip
    flows = [found["f"].value(f"flow_l{i}") for i in (1, 2, 3)]
    assert sum(flows) / 3 == pytest.approx(found["f"].value("amperes"), rel=0.03)


def test_a_run_keeps_its_loads_where_they_stand() -> None:
    rows = [{"id": "a", "name": "Lamp", "length": "100 ft", "nameplate": "2.4 kW"},
            {"id": "b", "name": "Gate", "length": "100 ft"}]  # fmt: skip
    run = {"segments": rows, "connection": "two-line", "size": "6", "limit": "9"}
    found = job("1ph-120/240", ("r", "cable_run", None, run), ("b", "board", "r", {}),
                ("c", "circuit", "b", HEATER))  # fmt: skip
    ohms = 2 * 0.49 * 0.1
    lost = ohms * (2400 + 4000) / 240 + ohms * 4000 / 240
    assert 240 - found["r"].value("volts_l1_l2") == pytest.approx(lost, rel=0.05)
    assert found["r"].value("end_volts") == pytest.approx(found["r"].value("volts_l1_l2"), rel=2e-3)
    assert found["b"].value("flow_l1") == pytest.approx(
        4000 / found["b"].value("volts_l1_l2"), rel=1e-3
    )


def test_sheets_of_their_own_tell_what_is_read_on_site() -> None:
    """Behind a feeder that loses volts a shared neutral's loads and a run's joints read less than
    their own sheets, which begin with nominal volts, say: in proportion."""
    loads = [{"id": "a", "name": "Kettle", "nameplate": "1.4 kW", "circuit": "A", "length": "30 ft"},
             {"id": "b", "name": "Range", "nameplate": "3 kW", "circuit": "A-B", "length": "9 ft"}]  # fmt: skip
    run = {"segments": [{"id": "a", "length": "60 ft", "nameplate": "1 kW"}], "size": "6"}
    found = job("1ph-120/240", ("f", "feeder", None, FEEDER),
                ("n", "multiwire_circuit", "f", {"loads": loads}), ("r", "cable_run", "f", run))  # fmt: skip
    board = found["f"]
    points = {p.name: p for p in (*found["n"].points, *found["r"].points)}
    for name, pair, nominal in (("a", "volts_l1_n", 120), ("b", "volts_l1_l2", 240),
                                ("joint:1", "volts_l1_l2", 240)):  # fmt: skip
        left = board.value(pair) / nominal
        assert left < 0.995
        assert points[name].on_site == pytest.approx(points[name].value * left)
        assert (
            compare(
                name, "V", points[name].on_site, tuple(points.values()), (94.0, 110.0)
            ).difference
            == 0
        )


@pytest.mark.parametrize(("connection", "load", "fails"), [
    ("two-line", {"load": "900 W"}, True), ("two-line", HEATER, False),
    ("line-neutral", {"load": "900 W"}, False), ("line-neutral", HEATER, True),
])  # fmt: skip
def test_a_run_without_the_wires_for_its_loads_fails(connection, load, fails) -> None:
    run = {"segments": [{"id": "a", "length": "60 ft", "nameplate": "100 W"}],
           "connection": connection, "size": "6"}  # fmt: skip
    found = job("1ph-120/240", ("r", "cable_run", None, run), ("c", "circuit", "r", load))
    assert ("wires" in [f.name for f in found["r"].findings]) is fails


def with_limits(limits: Limits):
    parts = [PartInput("s", "supply", None, {"system": WYE}, "S"),
             PartInput("f", "feeder", "s", FEEDER, "F"),
             PartInput("c", "circuit", "f", {"load": "14 A", "length": "80 ft"}, "C")]  # fmt: skip
    found = calculate_job(parts, edition("nec-2020"), limits=limits)
    return {f.name: f for f in found["c"].report.findings if f.severity == "check"}


def test_the_jobs_own_limits_judge() -> None:
    """14 A over 200 ft of 6 AWG with a neutral of 14 AWG and 80 ft of 14 AWG: about 15 %."""
    assert {"drop", "drop_total"} <= set(with_limits(Limits()))
    assert "7.2" in str(with_limits(Limits("own", 4.0, 7.2))["drop_total"].words)
    assert not with_limits(Limits("own", 9.0, 18.0))
    assert "above the 5 %" in str(with_limits(Limits("tolerance"))["drop_total"].words)


def test_a_load_that_cannot_be_carried_is_said_at_the_supply() -> None:
    thin = {"length": "9000 ft", "size": "14", "device": "15 A"}
    found = job(WYE, ("f", "feeder", None, {**thin, "loads": [
        {"id": "l", "name": "Pump", "nameplate": "9 kW"}]}))  # fmt: skip
    assert "collapse" in [f.name for f in found["s"].findings]
    words = next(str(f.words) for f in found["s"].findings if f.name == "collapse")
    assert 0 < float(words.split("At most ")[1].split(" %")[0]) < 100


def test_parts_that_cannot_be_worked_have_no_volts_and_stop_nothing() -> None:
    parts = [PartInput("s", "supply", None, {"system": WYE}, "S"),
             PartInput("f", "feeder", "s", FEEDER, "F"),
             PartInput("b", "board", "f", {"rating": "soup"}, "B"),
             PartInput("c", "circuit", "b", {"load": "14 A"}, "C"),
             PartInput("d", "circuit", "f", {"load": "9 A", "length": "9 ft"}, "D")]  # fmt: skip
    found = calculate_job(parts, edition("nec-2020"))
    assert found["b"].report is None
    assert "volts_at_load" not in found["c"].report.results
    # volts without that board's load would be too high: none are told anywhere on the supply
    assert "volts_at_load" not in found["d"].report.results
    assert any(f.name == "not_judged" for f in found["d"].report.findings)


def by_hand(circuits, feeders, rounds=60):
    """The same network a second time: phasors by wire, forward and back, in plain Python. Feeders
    hang on one 208Y/120 V supply; ``circuits`` are (feeder, line, VA, power factor)."""
    from cmath import rect
    from math import acos, pi

    emf = {f"L{i + 1}": rect(120, -2 * pi * i / 3) for i in range(3)}
    found = {}
    for feeder, (line, neutral) in feeders.items():
        volts = {**emf, "N": 0j}
        for _ in range(rounds):
            taken = dict.fromkeys(volts, 0j)
            for at, wire, va, factor in circuits:
                if at != feeder:
                    continue
                one, other = wire.split("-") if "-" in wire else (wire, "N")
                amperes = (rect(va, acos(factor)) / (volts[one] - volts[other])).conjugate()
                taken[one] += amperes
                taken[other] -= amperes
            volts = {w: emf.get(w, 0j) - taken[w] * (neutral if w == "N" else line) for w in volts}
        found[feeder] = (volts, taken)
    return found


@given(st.lists(
    st.tuples(st.sampled_from("fg"), st.sampled_from(["L1", "L2", "L3", "L1-L2", "L2-L3"]),
              st.integers(200, 1900), st.sampled_from([1.0, 0.9, 0.75])),
    min_size=1, max_size=9))  # fmt: skip
@settings(max_examples=examples(40))
def test_random_boards_are_solved_as_by_hand(circuits) -> None:
    """Two feeders with circuits on any lines, against the sums written apart above."""
    parts = [(key, "feeder", None, {"length": "140 ft", "terminals": "75", "size": "4"})
             for key in sorted({feeder for feeder, *_ in circuits})]  # fmt: skip
    for index, (feeder, line, va, factor) in enumerate(circuits):
        parts.append((f"c{index}", "circuit", feeder, {
            "load": f"{va} VA", "line": line, "power_factor": str(factor), "continuous": "no",
            "connection": "two-line" if "-" in line else "line-neutral"}))  # fmt: skip
    found = job(WYE, *parts)
    sizes = {}
    for key in {feeder for feeder, *_ in circuits}:
        neutral = found[key].results.get("neutral_conductor")
        size = str(neutral.value).split(" ")[0] if neutral else "4"
        sizes[key] = tuple(complex(*impedance(s, "copper", "EMT", edition("nec-2020"))[:2]) * 0.14
                           for s in ("4", size))  # fmt: skip
    for key, (volts, taken) in by_hand(circuits, sizes).items():
        for line in ("L1", "L2", "L3"):
            ours = found[key].value(f"volts_{line.lower()}_n")
            assert ours == pytest.approx(abs(volts[line] - volts["N"]), rel=1e-6)
            assert found[key].value(f"flow_{line.lower()}") == pytest.approx(
                abs(taken[line]), abs=1e-6
            )
        assert found[key].value("flow_n") == pytest.approx(abs(taken["N"]), abs=1e-6)


def test_the_band_of_the_supply_is_judged_where_the_job_goes_by_it() -> None:
    for measured, severity in (("208 V", "pass"), ("230 V", "fail"), ("190 V", "fail")):
        parts = [PartInput("s", "supply", None, {"system": WYE, "volts": measured}, "S"),
                 PartInput("f", "feeder", "s", {**FEEDER, "length": "20 ft"}, "F"),
                 PartInput("c", "circuit", "f", {"load": "4 A", "length": "9 ft"}, "C")]  # fmt: skip
        found = calculate_job(parts, edition("nec-2020"), limits=Limits("tolerance"))["c"].report
        band = [f for f in found.findings if f.name == "band"]
        assert [f.severity for f in band] == [severity], measured
        assert not [f for f in calculate_job(parts, edition("nec-2020"))["c"].report.findings
                    if f.name == "band"]  # fmt: skip


@pytest.mark.parametrize(
    ("code", "volts", "said"),
    [
        # ANSI C84.1 range A: 114 to 126 V of 120 V; CSA C235, normal: 110 to 125 V (recalled)
        ("nec-2023", "252", False), ("nec-2023", "253", True), ("nec-2017", "228", False),
        ("nec-2017", "227", True), ("cec-2021", "250", False), ("cec-2021", "251", True),
        ("cec-2021", "220", False), ("cec-2021", "219", True),
    ],
)  # fmt: skip
def test_the_supplys_band_by_country(code, volts, said) -> None:
    parts = [PartInput("s", "supply", None, {"system": "1ph-120/240", "volts": f"{volts} V"}, "S")]
    found = [
        one
        for one in calculate_job(parts, edition(code))["s"].report.findings
        if one.name == "volts"
    ]
    assert bool(found) == said
    assert all(one.severity == "check" and one.rules for one in found)
