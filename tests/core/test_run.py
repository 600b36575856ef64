"""Runs of several segments: published methods, sums of their own, what is refused."""

from __future__ import annotations

from math import acos, cos, sin, sqrt

import pytest
from core.test_circuit import run as evaluate_in
from core.test_circuit import worked as worked_in
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition, practice
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.quantities import METRES_PER_FOOT as METRES
from voltaje.core.rules.common.runs import Segment, lost
from voltaje.core.rules.north_america import runs
from voltaje.core.rules.north_america.runs import METRIC
from voltaje.core.rules.settings import Limits

CODE = edition("nec-2020")
CONDUCTORS = ("14", "12", "10", "8", "6", "4", "3", "2", "1", "1/0", "2/0", "3/0", "4/0")
SPLIT, WYE, METRIC_SUPPLY = "1ph-120/240", "3ph-208Y/120", "3ph-400Y/230"


def segments(*rows: dict[str, str]) -> list[dict[str, str]]:
    return [{"id": f"s{i}", "name": f"joint {i}", **row} for i, row in enumerate(rows, 1)]


def worked(*rows, system=SPLIT, units="us", **entries):
    return worked_in("cable_run", {"segments": segments(*rows), **entries}, system, units=units)


@pytest.mark.parametrize(("amperes", "feet", "mils", "material", "three", "volts"), [
    # 12 AWG copper, 16 A, 100 ft: 2 × 12.9 × 16 × 100 ÷ 6,530 (exam example of the trade)
    (16, 100, 6530, "copper", False, 6.32),
    # 1/0 AWG aluminum, 100 A, 250 ft, three-phase: √3 × 21.2 × 100 × 250 ÷ 105,600
    (100, 250, 105_600, "aluminum", True, 8.693),
])  # fmt: skip
def test_the_k_factor_as_the_trade_writes_it(amperes, feet, mils, material, three, volts) -> None:
    """Common practice, no single source."""
    found, rule = runs.k_volts(amperes, feet * METRES, mils, material, three)
    assert found == pytest.approx(volts, abs=0.01)
    assert rule.topic == "k_factor"


@pytest.mark.parametrize("size", METRIC)
def test_metric_tables_follow_from_resistance(size: str) -> None:
    """mV/A/m is 2 × R and √3 × R at 70 °C (IEC 60228 R at 20 °C, α 0.00393), within 3.5 %; R itself
    is resistivity over area within 14 % (50 mm² is nearer to 47)."""
    cells = {name: float(text) for name, text in practice().table("metric_cables").rows[size].items()
             if text}  # fmt: skip
    hot = cells["copper R20"] * (1 + 0.00393 * 50)
    assert cells["mV two-wire"] == pytest.approx(2 * hot, rel=0.035)
    assert cells["mV three-phase"] == pytest.approx(sqrt(3) * hot, rel=0.035)
    assert cells["copper R20"] == pytest.approx(17.241 / float(size), rel=0.14)
    if "aluminum R20" in cells:
        assert cells["aluminum R20"] == pytest.approx(28.264 / float(size), rel=0.14)


def test_metric_tables_fall_with_size() -> None:
    rows = list(practice().table("metric_cables").rows.values())
    for column in ("copper R20", "mV two-wire", "mV three-phase"):
        values = [float(row[column]) for row in rows]
        assert values == sorted(values, reverse=True)


def test_the_table_method_of_the_metric_codes() -> None:
    """BS 7671, appendix 4: mV/A/m × Ib × L ÷ 1,000. 10 mm² at 41.3 A over 12 m: 4.4 × 41.3 × 12 ÷
    1,000 = 2.18 V (its method; the figures of a shower circuit from memory)."""
    found = worked({"length": "12 m", "nameplate": "41.3 A"}, system=METRIC_SUPPLY, units="metric",
                   connection="line-neutral", size="10 mm²")  # fmt: skip
    line = found.line("segment_table")
    assert line.value == pytest.approx(2.18, abs=0.005)
    assert found.value("drop_by_table") == pytest.approx(100 * 2.18 / 230, abs=0.005)
    by_hand = 2 * 1.83 * (1 + 0.00393 * 55) / 1000 * 12 * 41.3
    assert found.line("segment_drop").value == pytest.approx(by_hand, rel=1e-6)


@pytest.mark.parametrize("power_factor", [1.0, 0.9, 0.8])
@pytest.mark.parametrize(("amperes", "feet"), [(30, 150), (60, 80), (12, 600)])
def test_solved_drop_beside_the_exact_formula(power_factor, amperes, feet) -> None:
    """IEEE Std 141-1993, 3.11: Vd = Es + I R cos + I X sin − √(Es² − (I X cos − I R sin)²), with
    the amperes that the solution itself gives (a load of constant power draws more on less)."""
    found = worked({"length": f"{feet} ft", "nameplate": f"{amperes} A",
                    "power_factor": str(power_factor)}, size="6", limit="30")  # fmt: skip
    ohms = runs.conductor_ohms("6", "copper", "PVC 40", 75.0, CODE)
    r, x = (2 * feet * METRES / 1000 * part for part in (ohms.r, ohms.x))
    current = next(p.value for p in found.points if p.name == "line:1")
    end = next(p.value for p in found.points if p.name == "joint:1")
    phi = acos(power_factor)
    # the formula's φ is the load's, so it starts from the load's volts
    sent = sqrt((end * cos(phi) + current * r) ** 2 + (end * sin(phi) + current * x) ** 2)
    assert sent == pytest.approx(240, rel=1e-9)
    assert found.value("drop_volts") == pytest.approx(240 - end, rel=1e-6)


def test_each_segment_carries_what_is_behind_it() -> None:
    """Three segments: the first carries all loads, and the length of a later one does not count
    before it (the trade note's common errors)."""
    found = worked({"length": "100 ft", "nameplate": "10 A"}, {"length": "50 ft", "nameplate": "6 A"},
                   {"length": "80 ft", "nameplate": "4 A"}, size="8", limit="9")  # fmt: skip
    lines = found.section("load").lines
    assert [line.value for line in lines] == pytest.approx([20, 10, 4])
    per_foot = 2 * 0.78 / 1000
    shares = [line.value for line in found.section("drop").lines if line.name == "segment_drop"]
    assert shares == pytest.approx([20 * 100 * per_foot, 10 * 50 * per_foot, 4 * 80 * per_foot])
    assert found.line("drop_sum").value == pytest.approx(sum(shares))
    assert found.value("length") == pytest.approx(230 * METRES)


def test_what_mends_a_drop() -> None:
    """The smallest conductor, the longest run and the volts are each just enough."""
    rows = {"length": "400 ft", "nameplate": "20 A"}
    found = worked(rows, size="10", limit="3")
    assert found.status == "check"
    lines = {line.name: line for line in found.section("mend").lines}
    wider = str(lines["mend_size"].label).split(": ")[1].removesuffix(" AWG")
    assert worked(rows, size=wider, limit="3.2").value("drop_by_impedance") <= 3
    narrower = {"4": "6", "3": "4", "2": "3"}[wider]
    assert worked(rows, size=narrower, limit="3.2").value("drop_by_impedance") > 3
    longest = str(lines["mend_length"].label).split(": ")[1]
    shorter = worked({"length": longest, "nameplate": "20 A"}, size="10", limit="3")
    assert shorter.value("drop_by_impedance") == pytest.approx(3, abs=0.005)
    # the same VA on those volts lose just the limit
    volts = lines["mend_volts"].value
    assert 2 * 4800 / volts * 1.2 * 400 / 1000 / volts * 100 == pytest.approx(3, rel=1e-3)


def test_auto_takes_the_smallest_that_holds_drop_and_ampacity() -> None:
    short = worked({"length": "5 ft", "nameplate": "56 A"})
    assert short.results["conductor"].value == "4 AWG"  # 60 °C terminals: 70 A; 6 AWG carries 55 A
    assert worked({"length": "5 ft", "nameplate": "55 A"}).results["conductor"].value == "6 AWG"
    metric = worked({"length": "90 m", "nameplate": "20 A"}, system=METRIC_SUPPLY, units="metric",
                    connection="line-neutral", limit="5")  # fmt: skip
    assert metric.results["conductor"].value == "10 mm²"
    assert any("does not rate metric" in str(f.words) for f in metric.findings)


def test_three_phase_and_sets() -> None:
    """√3 instead of 2; two sets halve it."""
    rows = {"length": "300 ft", "nameplate": "80 A"}
    one = worked(rows, system=WYE, connection="three-phase", size="1/0", limit="9")
    assert one.line("drop_sum").value == pytest.approx(sqrt(3) * 80 * 0.12 * 0.3, rel=1e-6)
    two = worked(rows, system=WYE, connection="three-phase", size="1/0", sets="2", limit="9")
    assert two.line("drop_sum").value == pytest.approx(one.line("drop_sum").value / 2)
    assert one.value("end_volts") == pytest.approx(208 - one.line("drop_sum").value, rel=2e-3)


def test_what_feeds_in_raises_the_volts() -> None:
    found = worked(
        {"length": "200 ft", "nameplate": "7.6 kW", "feeds_in": "yes"}, size="8", limit="3"
    )
    assert found.value("end_volts") > 240
    assert found.value("rise") == pytest.approx(2 * (7600 / 240) * 0.78 * 0.2 / 2.4, rel=0.05)
    assert any(f.name == "rise" for f in found.findings)


@given(st.floats(1, 60), st.floats(5, 300), st.sampled_from(["12", "8", "2", "2/0", "500"]))
@settings(max_examples=examples(40))
def test_methods_stand_within_a_tenth_at_unity(amperes, feet, size) -> None:
    """Table 8's direct-current ohms, Table 9's and the K factor are three ways to one quantity; up
    to 2/0 they differ by rounding, above by skin effect and reactance."""
    strand = runs.NecStrand(runs.NecAlong(), 2, False, Context(CODE, "us"))
    one = lost(Segment("a", feet * METRES, size, complex(amperes)), strand, False)  # fmt: skip
    near = 0.1 if size != "500" else 0.2
    assert one.by_table == pytest.approx(one.by_impedance, rel=near)
    assert one.by_k == pytest.approx(one.by_impedance, rel=near)


BAD = [
    ({}, [], "", "No segment yet"),
    ({}, [{"nameplate": "3 kW"}], "segments.s1.length", "like 80 ft"),
    ({}, [{"length": "0 ft", "nameplate": "3 kW"}], "segments.s1.length", "without length"),
    ({}, [{"length": "80 ft"}], "segments.s1.nameplate", "No load on the run"),
    ({}, [{"length": "80 ft", "nameplate": "40 hp"}], "segments.s1.nameplate", "motor’s amperes"),
    ({"maximum_drop": "0"}, [{"length": "80 ft", "nameplate": "3 kW"}], "maximum_drop", "percent"),
    ({"material": "aluminum", "size": "14"}, [{"length": "8 ft", "nameplate": "1 kW"}], "size",
     "not made of aluminum"),
    ({"size": "14"}, [{"length": "9000 ft", "nameplate": "9 kW"}], "segments.s1.nameplate",
     "At most"),
    ({}, [{"length": "29000 ft", "nameplate": "90 kW"}], "size", "sets in parallel"),
    ({"connection": "three-phase"}, [{"length": "8 ft", "nameplate": "1 kW"}], "connection",
     "not three-phase"),
]  # fmt: skip


@pytest.mark.parametrize(("entries", "rows", "path", "words"), BAD)
def test_what_is_refused_says_why_at_its_field(entries, rows, path, words) -> None:
    found = evaluate_in("cable_run", {"segments": segments(*rows), **entries}, SPLIT)
    assert found.report is None
    assert found.problems[0].path == path
    assert words in found.problems[0].words


def test_the_most_that_can_be_carried_is_right() -> None:
    """The refusal names the largest load; just below it there is a solution, just above none."""
    rows = {"length": "9000 ft", "nameplate": "9 kW"}
    words = (
        evaluate_in("cable_run", {"segments": segments(rows), "size": "14"}, SPLIT)
        .problems[0]
        .words
    )
    most = float(words.split("At most ")[1].split(" VA")[0].replace(",", ""))
    loop = 2 * 3.1 * 9
    assert most == pytest.approx(240**2 / (4 * loop), rel=5e-3)  # V² ÷ 4R, reactance nearly nothing
    for share, there in ((0.99, True), (1.01, False)):
        again = {"length": "9000 ft", "nameplate": f"{most * share:.1f} VA"}
        found = evaluate_in("cable_run", {"segments": segments(again), "size": "14"}, SPLIT)
        assert (found.report is not None) is there


def test_limits_come_from_the_job_with_their_source() -> None:
    code = Limits()
    assert (code.branch(CODE).value, code.total(CODE).value) == (3, 5)
    assert Limits("supply").branch(CODE).value == 5
    assert Limits("tolerance").total(CODE).value == 5
    own = Limits("own", 2.0, 4.0)
    assert (own.branch(CODE).value, own.total(CODE).value) == (2, 4)
    assert all(limit.total(CODE).rule.cite for limit in (code, own, Limits("supply")))


@pytest.mark.parametrize(
    ("connection", "system", "hp", "amperes"),
    [
        # full-load currents of Tables 430.248 and 430.250 as recalled
        ("two-line", "1ph-120/240", "1-1/2 hp", 10.0), ("line-neutral", "1ph-120/240", "1/2 hp", 9.8),
        ("three-phase", "3ph-480Y/277", "25 hp", 34.0), ("three-phase", "3ph-208Y/120", "10 hp", 30.8),
    ],
)  # fmt: skip
def test_a_motor_on_a_run_is_taken_by_the_codes_table(connection, system, hp, amperes) -> None:
    segments = [{"id": "s1", "name": "Pump", "length": "80 ft", "nameplate": hp}]
    found = worked_in(
        "cable_run", {"segments": segments, "connection": connection, "size": "6"}, system
    )
    line = found.section("load").lines[0]
    assert line.value == pytest.approx(amperes)
    assert line.rules[0].topic in ("motor_current", "motor_current_3ph")


@pytest.mark.parametrize(
    ("sizes", "words"), [(("10", "12"), "10 AWG, 12 AWG"), (("12", "12"), "12 AWG")]
)
@pytest.mark.parametrize("size", ["auto", "4"])
def test_a_run_whose_segments_have_sizes_of_their_own_is_worked_beyond_its_limit(
    sizes, words, size
):
    segments = [
        {"id": f"s{i}", "name": "Post", "length": "400 ft", "nameplate": "12 A", "size": own}
        for i, own in enumerate(sizes)
    ]
    found = worked_in("cable_run", {"segments": segments, "size": size}, "1ph-120/240")
    assert found.results["conductor"].value == words and found.headline.startswith(words)
    assert found.value("drop_percent") > 3
    assert any(f.name.startswith("drop") and f.severity != "pass" for f in found.findings)


@pytest.mark.parametrize(("system", "connection", "factor", "volts"), [
    (SPLIT, "two-line", 2, 240), (SPLIT, "line-neutral", 2, 120), (WYE, "three-phase", sqrt(3), 208),
])  # fmt: skip
@pytest.mark.parametrize(
    ("text", "ohms"), [("84 mΩ", 0.084), ("0.084 Ω", 0.084), ("2.5 mohm", 0.0025)]
)
def test_a_segment_in_ohms_in_place_of_its_length(system, connection, factor, volts, text, ohms):
    """Ohm's law by hand: 20 A by its device over one conductor there and one back."""
    found = worked({"impedance": text, "device": "20 A"}, system=system, connection=connection)
    lost = factor * 20 * ohms
    assert found.value("drop_by_impedance") == pytest.approx(100 * lost / volts)
    assert found.value("drop_by_table") == pytest.approx(100 * lost / volts)
    assert found.value("amperes") == pytest.approx(20)
    assert f"{ohms:g} Ω" in found.line("segment_drop").expression


def test_ohms_beside_a_length_and_a_load_beside_its_device():
    """What a row's load says comes before its device; a length says then where it stands alone."""
    by_length = worked({"length": "100 ft", "nameplate": "16 A"}, size="12", material="copper")
    ohms = by_length.results["drop_by_impedance"].value / 100 * 240 / (2 * 16)
    row = {"length": "100 ft", "nameplate": "16 A", "device": "20 A", "impedance": f"{ohms} Ω"}
    given = worked(row, size="12", material="copper")
    assert given.value("amperes") == pytest.approx(16)
    assert given.value("drop_by_impedance") == pytest.approx(by_length.value("drop_by_impedance"))
    both = worked(
        {"impedance": "50 mΩ", "nameplate": "10 A"},
        {"length": "40 ft", "nameplate": "6 A"},
        size="12",
    )
    assert both.line("segment_drop").value == pytest.approx(2 * 16 * 0.05)


def test_loads_in_ohms_along_a_run():
    by_watts = worked({"length": "100 ft", "nameplate": "2400 W"})
    by_ohms = worked({"length": "100 ft", "nameplate": "24 Ω"})
    assert by_ohms.value("drop_percent") == pytest.approx(by_watts.value("drop_percent"))


@pytest.mark.parametrize(("own", "job", "by_table"), [
    ("job", "impedance", False), ("job", "resistance", True), ("job", "temperature", False),
    ("table", "impedance", True), ("impedance", "resistance", False),
])  # fmt: skip
@pytest.mark.parametrize("rows", [
    ({"length": "300 ft", "nameplate": "40 A", "power_factor": "0.8"},
     {"length": "200 ft", "nameplate": "30 A"}),
    ({"length": "100 ft", "nameplate": "10 A"},
     {"length": "250 ft", "nameplate": "9 kW", "feeds_in": "yes"}),
])  # fmt: skip
def test_the_drop_is_judged_by_the_method_of_the_run_or_else_of_the_job(own, job, by_table, rows):
    """Headline, judgement and automatic size follow one method; both stay on the sheet. By the
    table mV × A × m adds up, whatever the power factor (BS 7671, appendix 4; practice)."""
    place = Context(CODE, supply=SupplyPoint(SYSTEMS[SPLIT]), limits=Limits("code", method=job))

    def at(size):
        document = {"segments": segments(*rows), "drop_method": own, "size": size}
        found = evaluate(kind("cable_run"), document, place)
        assert not found.problems, found.problems
        return found.report

    chosen = at("auto")
    ways = {way.name: way.chosen for way in chosen.methods}
    assert (ways["method_table"], ways["method_impedance"]) == (by_table, not by_table)
    assert chosen.value("drop_percent") <= 3 * (1 + 1e-3)
    assert "drop" not in {f.name for f in chosen.findings if f.severity in ("check", "fail")}
    if by_table and "feeds_in" not in rows[1]:
        section = next(part for part in chosen.sections if part.name == "table")
        lost = sum(line.value for line in section.lines if line.name == "segment_table")
        assert chosen.value("drop_percent") == pytest.approx(lost / 2.4)
        assert chosen.value("drop_percent") == pytest.approx(chosen.value("drop_by_table"))
        smaller = at(CONDUCTORS[CONDUCTORS.index(chosen.results["conductor"].value.split()[0]) - 1])
        assert smaller.value("drop_percent") > 3


@pytest.mark.parametrize("times", [0.4, 1.0, 1.7, 3.0])
@pytest.mark.parametrize("connection", ["two-line", "three-phase", "line-neutral"])
def test_the_impedance_behind_a_measured_drop(times, connection):
    """Readings made of a run whose segments are given in so many times their ohms find just these."""
    rows = [
        {"id": "a", "name": "Post", "nameplate": "20 A"},
        {"id": "b", "name": "Barn", "nameplate": "9 A"},
    ]
    system = "3ph-208Y/120" if connection == "three-phase" else "1ph-120/240"
    context = Context(supply=SupplyPoint(SYSTEMS[system]))

    def run(ohms, **more):
        segments = [row | {"impedance": f"{x:.12g} Ω"} for row, x in zip(rows, ohms, strict=True)]
        found = evaluate(kind("cable_run"), {"segments": segments, "connection": connection, "size": "6"} | more,
                         context)  # fmt: skip
        assert found.report, found.problems
        return found.report

    told = run((0.05 * times, 0.08 * times))
    readings = {
        "measured_start": f"{told.value('supply_volts'):.9g} V",
        "measured_end": f"{told.value('end_volts'):.9g} V",
    }
    found = run((0.05, 0.08), **readings)
    assert found.value("measured_ohms") == pytest.approx(0.13 * times, rel=1e-3)
    said = {one.name: one.severity for one in found.findings}["measured"]
    assert said == ("pass" if times == 1.0 else "check")


def test_volts_at_the_beginning_for_nominal_ones_at_the_end():
    entries = {
        "size": "6",
        "segments": [{"id": "a", "name": "Barn", "length": "300 ft", "nameplate": "30 A"}],
    }
    needed = evaluate(kind("cable_run"), entries, Context()).report.value("needed_source")
    point = SupplyPoint(SYSTEMS["1ph-120/240"], volts=needed)
    at_the_end = evaluate(kind("cable_run"), entries, Context(supply=point)).report
    assert at_the_end.value("end_volts") == pytest.approx(240, rel=1e-6)


@pytest.mark.parametrize(("readings", "at"), [
    ({"measured_end": "245"}, "measured_end"), ({"measured_start": "220", "measured_end": "220"}, "measured_end"),
    ({"measured_end": "abc"}, "measured_end"),
])  # fmt: skip
def test_readings_that_say_nothing(readings, at):
    entries = {
        "size": "6",
        "segments": [{"id": "a", "name": "Barn", "length": "300 ft", "nameplate": "30 A"}],
    }
    found = evaluate(kind("cable_run"), entries | readings, Context())
    assert at in [problem.path for problem in found.problems]
