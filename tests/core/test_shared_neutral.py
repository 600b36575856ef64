"""Circuits on one neutral: by hand and solved, opened, on one leg, what is handed up."""

from __future__ import annotations

from math import sqrt

import pytest
from core.spice import ngspice
from core.test_circuit import run as evaluate_in
from core.test_circuit import worked as worked_in
from hypothesis import given, settings
from hypothesis import strategies as st

from voltaje.core.codes import edition
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.meter import CLAMP, VOLTMETER
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.entries import fields
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.kinds.multiwire_circuit.circuit import lay_out, network
from voltaje.core.kinds.multiwire_circuit.entries import MultiwireEntries

SPLIT, WYE = "1ph-120/240", "3ph-208Y/120"
FOUR = [
    {"id": "a", "name": "Microwave", "nameplate": "1.3 kW", "circuit": "A", "length": "22 ft"},
    {"id": "b", "name": "Toaster", "nameplate": "900 W", "circuit": "B", "length": "8 ft"},
    {"id": "c", "name": "Kettle", "nameplate": "1.5 kW", "circuit": "B", "length": "10 ft"},
    {"id": "d", "name": "Radio", "nameplate": "60 W", "circuit": "A", "length": "6 ft"},
]


def worked(loads=FOUR, system=SPLIT, **entries):
    return worked_in("multiwire_circuit", {"loads": loads, **entries}, system)


def volts(found) -> dict[str, float]:
    return {p.name: p.value for p in found.points if p.role == "volts"}


def amperes(found) -> dict[str, float]:
    return {p.name: p.value for p in found.points if p.role == "conductor"}


def test_junction_by_junction_as_on_paper() -> None:
    """Neutral pieces from the far end: 0.5; 12.5 − 0.5; 20 − 0.5; 20 − 11.33 A."""
    found = worked()
    lines = found.section("junctions").lines
    assert [line.value for line in lines] == pytest.approx([0.5, 12, 19.5, 20 - 1360 / 120])
    assert [line.expression for line in lines] == ["0.5", "12.5 − 0.5", "20 − 0.5", "20 − 11.33"]
    signs = [p.phasor.real > 0 for p in found.points if p.name.startswith("N:")]
    assert len(set(signs)) == 2, "the neutral's direction changes on its way"


def test_loops_by_hand_stand_beside_the_solution() -> None:
    """The drops at nominal amperes are within a few hundredths of a volt of the solved ones."""
    found = worked()
    by_load = volts(found)
    for line, name in zip(found.section("loops").lines, by_load, strict=True):
        assert line.value == pytest.approx(by_load[name], abs=0.08)
    assert by_load["d"] > 120, "the lightly loaded side is lifted by the neutral's drop"


def test_the_sheet_solves_what_ngspice_solves(tmp_path) -> None:
    """Four and more loads, closed and open, against ngspice (Debian) within 0.01 %."""
    more = [*FOUR, {"id": "e", "name": "Range", "nameplate": "3 kW", "circuit": "A-B",
                    "length": "5 ft"},
            {"id": "f", "name": "Fan", "nameplate": "300 VA", "circuit": "B", "power_factor": "0.7"}]  # fmt: skip
    for opened in ("", "N:1", "N:3", "A:2"):
        found = worked(more, open=opened)
        entries = MultiwireEntries.model_validate({"loads": more, "opened_at": opened},
                                                context={"system": "us"})  # fmt: skip
        layout = lay_out(entries, Context(), Size("12"))
        other = ngspice(network(layout), tmp_path)
        for load in layout.loads:
            one, two = (f"{end}.{load.joint}" for end in load.ends)
            assert volts(found)[load.row.id] == pytest.approx(
                abs(other[one] - other[two]), rel=1e-4
            )


@given(st.floats(100, 1800))
@settings(max_examples=15)
def test_equal_loads_need_no_neutral(watts) -> None:
    pair = [{"id": c.lower(), "name": c, "nameplate": f"{watts:.1f} W", "circuit": c,
             "length": length} for c, length in (("A", "40 ft"), ("B", ""))]  # fmt: skip
    found = worked(pair)
    assert found.value("neutral_amperes") < 1e-6
    # so opening it changes nothing
    assert volts(worked(pair, open="N:1")) == pytest.approx(volts(found), rel=1e-6)


def test_an_open_neutral_says_who_burns() -> None:
    found = worked(open="N:1")
    by_name = {f.name: f for f in found.findings}
    assert found.status == "fail"
    assert "burn" in str(by_name["over"].words)
    assert volts(found)["d"] > 150 and volts(found)["c"] < 90
    series = [line.value for line in found.section("series").lines if line.value]
    # the two groups divide 240 V by their ohms; the drops make the small rest
    assert series[0] == pytest.approx(volts(found)["d"], rel=0.02)
    assert sum(series) == pytest.approx(240)
    # behind the opening only: the first joint keeps its volts when the second piece opens
    behind = worked(open="N:2")
    assert volts(behind)["a"] == pytest.approx(120, abs=1) and volts(behind)["d"] > 150
    dead = worked(open="A:1, N:1")
    assert volts(dead)["a"] < 240 and amperes(dead)["A:1"] == 0


def test_two_circuits_on_one_leg_double_the_neutral() -> None:
    found = worked(b="L1")
    apart = worked()
    total = amperes(found)["A:1"] + amperes(found)["B:1"]
    assert found.value("neutral_amperes") == pytest.approx(total, rel=1e-6)
    assert found.value("neutral_amperes") > 3 * apart.value("neutral_amperes")
    words = " ".join(str(f.words) for f in found.findings if f.severity == "fail")
    assert "no device sees it" in words and "fire hazard" in words
    assert "good for 20 A" in words


@pytest.mark.parametrize(("count", "neutral"), [(1, 3.0), (2, 3.0), (3, 0.0)])
def test_three_phase_neutral_is_no_arithmetic_sum(count, neutral) -> None:
    """3 A each: 3, then 3 and not 6, then 0 (common practice)."""
    loads = [{"id": c.lower(), "name": c, "nameplate": "360 W", "circuit": c,
              "length": "1 ft" if c == "A" else ""} for c in "ABC"[:count]]  # fmt: skip
    found = worked(loads, WYE, c="L3")
    assert found.value("neutral_amperes") == pytest.approx(neutral, abs=0.01)
    assert found.section("junctions").lines[0].value == pytest.approx(neutral, abs=1e-9)


@pytest.mark.parametrize(("system", "legs", "sum_"), [
    (SPLIT, {"phase_c": "L1"}, "8 − 2"),  # A and C on one leg against B: still a difference
    (WYE, {"phase_c": "L3"}, "√(5² + 2² + 3² − 5 × 2 − 5 × 3 − 2 × 3)"),
])  # fmt: skip
def test_the_sum_is_written_as_the_legs_ask_for(system, legs, sum_) -> None:
    loads = [{"id": c.lower(), "name": c, "nameplate": plate, "circuit": c,
              "length": "9 ft" if c == "A" else ""}
             for c, plate in (("A", "600 W"), ("B", "720 W" if "phase_b" in legs else "240 W"),
                              ("C", "360 W")) if c != "C" or "phase_c" in legs]  # fmt: skip
    line = worked(loads, system, **legs).section("junctions").lines[0]
    assert line.expression == sum_
    if "√" not in sum_ and "phasor" not in sum_:
        assert line.value == pytest.approx(6)


def test_electronic_loads_overfill_the_neutral() -> None:
    loads = [{"id": c.lower(), "name": c, "nameplate": "1.2 kW", "circuit": c, "third_harmonic": "70",
              "length": "30 ft" if c == "A" else ""} for c in "ABC"]  # fmt: skip
    found = worked(loads, WYE, c="L3")
    assert found.value("neutral_amperes") > found.value("amperes_a")
    assert any(f.name == "ampacity" and "neutral" in str(f.words) for f in found.findings)
    neutral = next(p for p in found.points if p.name == "N:1")
    assert [order for order, _ in neutral.waves] == [1, 3]


def test_separate_handles_fail() -> None:
    assert any(f.name == "disconnect" for f in worked(trip="separate").findings)
    assert not any(f.name == "disconnect" for f in worked().findings)


def test_it_hands_up_each_circuit_on_its_leg() -> None:
    of = kind("multiwire_circuit")
    found = evaluate_in("multiwire_circuit", {"loads": FOUR, "phase_b": "L3"}, WYE)
    context = Context(supply=Context().supply)
    up = of.hand_up(found.entries, found.outcome, replace_system(context, WYE))
    assert [(p.line, round(p.calculated)) for p in up.pieces] == [("L1", 1360), ("L3", 2400)]
    assert {p.multiwire for p in up.named("id", "Counter").pieces} == {"Counter"}


def replace_system(context: Context, system: str) -> Context:
    from dataclasses import replace

    from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint

    return replace(context, supply=SupplyPoint(SYSTEMS[system]))


BAD = [
    ([], {}, SPLIT, "", "No load yet"),
    (FOUR, {}, "3ph-240", "", "no neutral to share"),
    (FOUR, {"phase_a": "L3"}, SPLIT, "phase_a", "choose one of L1, L2"),
    ([{"id": "a", "name": "x", "length": "9 ft"}], {}, SPLIT, "loads.a.nameplate", "like 1.2 kW"),
    ([{"id": "a", "name": "x", "nameplate": "40 hp"}], {}, SPLIT, "loads.a.nameplate", "motor’s amperes"),
    ([{"id": "a", "name": "x", "nameplate": "1 kW", "circuit": "C"}], {}, SPLIT, "loads.a.circuit",
     "give circuit C a leg"),
    (FOUR, {"opened_at": "N:9"}, SPLIT, "opened_at", "There is no N:9"),
    (FOUR, {"opened_at": "soup"}, SPLIT, "opened_at", "There is no SOUP"),
    ([{"id": "a", "name": "x", "nameplate": "90 kW", "behaves": "power", "length": "900 ft"}], {},
     SPLIT, "loads.a.nameplate", "can be carried"),
    ([{"id": "a", "name": "x", "nameplate": "1 kW", "circuit": "A-B", "behaves": "power",
       "length": "9 ft"}], {"phase_b": "L1"}, SPLIT, "loads.a.circuit", "gets no volts"),
    (FOUR, {"size": "14", "material": "aluminum"}, SPLIT, "size", "not made of aluminum"),
]  # fmt: skip


@pytest.mark.parametrize(("loads", "entries", "system", "path", "words"), BAD)
def test_what_is_refused_says_why_at_its_field(loads, entries, system, path, words) -> None:
    found = evaluate_in("multiwire_circuit", {"loads": loads, **entries}, system)
    assert found.report is None
    assert (found.problems[0].path, words in found.problems[0].words) == (path, True)


@pytest.mark.parametrize(("meter", "value", "shown"), [
    (CLAMP, 12.34, "12.3"), (CLAMP, 12.35, "12.4"), (CLAMP, 0.04, "0.0"), (CLAMP, 0.099, "0.0"),
    (CLAMP, 0.12, "0.1"), (CLAMP, 812.3, "812"), (CLAMP, 2500, "over"), (CLAMP, -8.0, "8.0"),
    (VOLTMETER, 117.76, "117.8"), (VOLTMETER, 0.3, "0.0"), (VOLTMETER, 1200, "over"),
])  # fmt: skip
def test_the_meter_reads_like_one(meter, value, shown) -> None:
    """Resolution and quiet near zero as usual for hand-held instruments (common practice)."""
    assert meter.reads(value) == shown
    assert meter.within(100) == pytest.approx(100 * meter.percent / 100 + meter.digits * 0.1)


def plain(loads, system=SPLIT, **entries):
    rows = [
        {"id": f"x{i}", "nameplate": plate, "circuit": c, **more}
        for i, (plate, c, more) in enumerate(loads)
    ]
    context = Context(supply=SupplyPoint(SYSTEMS[system]))
    return evaluate(kind("multiwire_circuit"), {"loads": rows, **entries}, context).report


@pytest.mark.parametrize(("loads", "system", "entries", "name"), [
    # both circuits on one leg
    ([("8 A", "A", {}), ("8 A", "B", {})], SPLIT, {"phase_b": "L1"}, "same_leg"),
    # 30 A on a 15 A device
    ([("30 A", "A", {}), ("8 A", "B", {})], SPLIT, {"device": "15 A", "size": "10"}, "device"),
    # third harmonics of three circuits fill the neutral: 3 × 60 % of 16 A are 28.8 A
    ([("16 A", c, {"third_harmonic": "60", "behaves": "current"}) for c in "ABC"], WYE, {"phase_c": "L3"}, "ampacity"),
    # a 30 A device ahead of 12 AWG
    ([("8 A", "A", {}), ("8 A", "B", {})], SPLIT, {"device": "30 A", "size": "12"}, "protection"),
])  # fmt: skip
@pytest.mark.parametrize("length", ["", "40 ft"])
def test_neutral_leg_device_and_conductor_are_judged_without_a_length(
    loads, system, entries, name, length
) -> None:
    """Only the drop needs one."""
    rows = [(plate, c, {**more, "length": length if c == "A" else ""}) for plate, c, more in loads]
    found = plain(rows, system, **entries)
    assert any(f.name == name and f.severity == "fail" for f in found.findings), [
        str(f.words) for f in found.findings
    ]
    assert found.value("neutral_amperes") > 0 or name == "protection"
    assert ("drop_percent" in found.results) == bool(length)


@pytest.mark.parametrize("device", ["15 A", "20 A", "30 A", "50 A"])
def test_an_open_size_is_the_smallest_that_stands_behind_the_device(device) -> None:
    found = plain([("12 A", "A", {}), ("9 A", "B", {})], device=device, size="auto")
    assert not [f for f in found.findings if f.severity == "fail"]
    smaller = plain([("12 A", "A", {}), ("9 A", "B", {})], device=device, size="14")
    assert bool([f for f in smaller.findings if f.name == "protection"]) == (device != "15 A")


EVERYWHERE = [("nec-2020", SPLIT, 120), ("cec-2021", SPLIT, 120), ("cec-2021", WYE, 120),
              ("bs7671-2018", "3ph-400Y/230", 230), ("sans10142-2020", "3ph-400Y/230", 230),
              ("asnzs3000-2018", "3ph-400Y/230", 230)]  # fmt: skip


@pytest.mark.parametrize(("code", "system", "volts_each"), EVERYWHERE)
def test_an_open_neutral_is_the_same_under_every_code(code, system, volts_each):
    """Two resistances in series across two lines, by hand: each gets its share of the line voltage."""
    loads = [
        {"id": "a", "nameplate": "1400 W", "circuit": "A"},
        {"id": "b", "nameplate": "600 W", "circuit": "B"},
    ]
    point = SupplyPoint(SYSTEMS[system])
    found = evaluate(kind("multiwire_circuit"), {"loads": loads, "opened_at": "N:1", "size": "auto"},
                     Context(edition(code), "us", point))  # fmt: skip
    assert found.report, found.problems
    # 400 V is what 230 V between lines is called
    line = volts_each * (2 if system == SPLIT else sqrt(3))
    expected = {"a": line * 600 / 2000, "b": line * 1400 / 2000}
    assert volts(found.report) == pytest.approx(expected, rel=1e-3)
    closed = evaluate(
        kind("multiwire_circuit"),
        {"loads": loads, "size": "auto"},
        Context(edition(code), "us", point),
    )
    assert volts(closed.report) == pytest.approx(dict.fromkeys("ab", volts_each), rel=5e-3)
    assert closed.report.status in ("pass", "check") and closed.report.value("mismatch") < 1e-9


@pytest.mark.parametrize(("code", "system"), [(c, s) for c, s, _ in EVERYWHERE[1:]])
def test_conductors_of_every_family_carry_and_stand_behind_the_device(code, system):
    """The automatic size passes its own sheet; the size below it does not; a device above what the conductor
    carries, and a neutral that third harmonics overload, fail."""
    third = [{"id": n.lower(), "nameplate": "3 kW" if "400" in system else "1.9 kW", "circuit": n, "length": "15 m",
              "third_harmonic": "60"} for n in "ABC"]  # fmt: skip
    point = SupplyPoint(SYSTEMS[system])
    legs = {"phase_c": "L3"} if "Y" in system else {}
    loads = third if legs else third[:2]

    def at(**entries):
        document = {"loads": loads, "device": "20 A", **legs, **entries}
        return evaluate(kind("multiwire_circuit"), document, Context(edition(code), "us", point))

    found = at(size="auto")
    assert found.report.status in ("pass", "check"), [str(f.words) for f in found.report.findings]
    sizes = [
        s
        for s, _ in next(f.choices for f in fields(type(found.entries)) if f.name == "size")
        if s != "auto"
    ]
    below = sizes[: sizes.index(str(found.outcome.size))]
    for size in below[-2:]:
        worse = at(size=size)
        assert worse.report is None or worse.report.status == "fail"
    assert at(size=str(found.outcome.size), device="200 A").report.status == "fail"


def test_horsepower_outside_the_nec_asks_for_amperes():
    loads = [{"id": "a", "nameplate": "1 hp", "circuit": "A"}]
    found = evaluate(kind("multiwire_circuit"), {"loads": loads},
                     Context(edition("bs7671-2018"), "metric", SupplyPoint(SYSTEMS["3ph-400Y/230"])))  # fmt: skip
    assert [p.path for p in found.problems] == ["loads.a.nameplate"]
    assert "amperes" in found.problems[0].words
