"""The autotransformer sheet: every way solved as coils, published examples, tapped windings."""

from itertools import pairwise
from math import sqrt

import pytest

from voltaje.core.codes import edition
from voltaje.core.electrical.network import EARTH, Coil, Core, NetworkLoad, Source, solved
from voltaje.core.electrical.windings import joined
from voltaje.core.kinds import Context, evaluate, kind

CONTEXT = Context(edition("nec-2020"))
UNIT = {"winding": "240 V", "other_winding": "24 V", "kva": "1 kVA"}
TAPPED = {
    "construction": "tapped",
    "taps": "0, 104, 120, 240",
    "source_on": "0, 240",
    "source_voltage": "240 V",
}


def found(**entries):
    return evaluate(kind("autotransformer"), entries, CONTEXT)


def worked(**entries):
    result = found(**entries)
    assert result.outcome is not None, result.problems
    return result.outcome


def in_coils(way, fed: float):
    """The way as two coils on a core: B of the common winding's volts, A of the series one's."""
    core = Core("unit", (Coil("B", "B1", "B2", way.stacked.common),
                         Coil("A", "A1", "A2", way.stacked.series)))  # fmt: skip
    # aiding: the unmarked end on the common's dot; opposing: dot on dot
    joint, outer = ("A2–B1", "A1") if way.stacked.aiding else ("A1–B1", "A2")
    up = way.stacked.way == "up"
    source_end, load_end = ("B1", outer) if up == way.stacked.aiding else (outer, "B1")
    va = fed * way.source
    source = Source("line", source_end, "B2", fed)
    load = NetworkLoad("load", load_end, "B2", va, way.out, 0, 0, 1)
    return solved(joined([core], [joint.split("–"), ("B2", EARTH)], [source], [load]))


@pytest.mark.parametrize("load", [{}, {"load": "600 VA"}])
@pytest.mark.parametrize("fed", [216, 240, 264, 12, 30])
def test_every_way_gives_what_its_coils_give(fed, load):
    outcome = worked(**UNIT, fed=f"{fed} V", **load)
    # opposing is left out where the common winding has fewer volts
    assert len(outcome.ways) == 6
    for way in outcome.ways:
        ours = in_coils(way, float(fed))
        assert ours.load_volts("load") == pytest.approx(way.out, rel=1e-9)
        assert ours.amperes("line") == pytest.approx(way.source, rel=1e-9)
        assert ours.amperes("A") == pytest.approx(way.in_series, rel=1e-9)
        assert ours.amperes("B") == pytest.approx(way.in_common, rel=1e-9)


# A. E. Fitzgerald, C. Kingsley, S. D. Umans, "Electric Machinery", and S. J. Chapman, "Electric
# Machinery Fundamentals", both recalled from memory; VA × Vhigh ÷ (Vhigh − Vlow) gives the same
PUBLISHED = [
    ("2400 V", "240 V", "50 kVA", "2640 V", 2400, 550_000, 208.33, 229.17),
    ("120 V", "12 V", "100 VA", "120 V", 132, 1100, 9.1667, 8.3333),
]


@pytest.mark.parametrize(("one", "other", "kva", "fed", "out", "va", "source", "load"), PUBLISHED)
def test_published_examples(one, other, kva, fed, out, va, source, load):
    chosen = worked(one=one, other=other, kva=kva, fed=fed, wanted=f"{out} V").chosen
    assert chosen.out == pytest.approx(out)
    assert chosen.delivers == pytest.approx(va)
    assert chosen.source == pytest.approx(source, rel=1e-4)
    assert chosen.load == pytest.approx(load, rel=1e-4)
    assert chosen.stacked.aiding
    assert chosen.flux == pytest.approx(100)


def test_volts_above_the_windings_are_never_taken():
    """The way that meets the volts wanted best, its windings 10 % above theirs, stands refused."""
    outcome = worked(**UNIT, fed="264 V", wanted="290 V")
    exact = next(way for way in outcome.ways if way.out == pytest.approx(290.4))
    assert not exact.fits
    assert exact is not outcome.chosen
    sheet = found(**UNIT, fed="264 V", wanted="290 V").report
    assert any(
        "10 % above their volts" in str(line.note) for s in sheet.sections for line in s.lines
    )
    assert worked(**UNIT, fed="400 V").chosen is None


def test_three_units_in_wye_carry_three_times_one():
    """Each stands between line and star point: line volts above one unit's by the root of three."""
    one = worked(**UNIT, fed="240 V", wanted="264 V").chosen
    three = worked(
        **UNIT, fed=f"{240 * sqrt(3)} V", wanted=f"{264 * sqrt(3)} V", phases="wye"
    ).chosen
    assert three.delivers == pytest.approx(3 * one.delivers)
    assert three.source == pytest.approx(one.source)
    assert three.flux == pytest.approx(one.flux)
    two = worked(**UNIT, fed="240 V", wanted="264 V", phases="open delta").chosen
    assert two.delivers == pytest.approx(sqrt(3) * one.delivers)


@pytest.mark.parametrize(("entries", "out", "tap"), [
    ({"load_on": "0, 120"}, 120, None), ({"load_on": "104, 240"}, 136, None),
    ({"required_voltage": "208 V"}, 208, 208), ({"source_on": "0, 120", "required_voltage": "240 V"}, 240, 120),
    ({"taps": "0, 50, 100", "source_on": "0, 100", "required_voltage": "208 V"}, 208, 260 / 3),
])  # fmt: skip
def test_a_tapped_winding_both_ways(entries, out, tap):
    tapped = worked(**TAPPED | entries).tapped
    assert tapped.out == pytest.approx(out)
    assert tapped.found == (tap if tap is None else pytest.approx(tap))


@pytest.mark.parametrize("entries", [
    {"load_on": "0, 120"}, {"load_on": "104, 240"}, {"source_on": "0, 104", "load_on": "0, 240"},
    {"source_on": "104, 240", "load_on": "0, 120"}, {"load_on": "104, 120"},
])  # fmt: skip
def test_each_piece_of_it_carries_what_its_coil_does(entries):
    """Amperes of every piece, with the pieces as coils of one core joined end to end."""
    tapped = worked(**TAPPED | entries, load="2.4 kVA").tapped
    pieces = list(pairwise(tapped.points))
    core = Core("unit", tuple(Coil(f"C{i}", f"C{i}a", f"C{i}b", high - low)
                              for i, (low, high) in enumerate(pieces)))  # fmt: skip
    ends = {low: f"C{i}b" for i, (low, _) in enumerate(pieces)}
    ends[tapped.points[-1]] = f"C{len(pieces) - 1}a"
    joints = [(f"C{i}a", f"C{i + 1}b") for i in range(len(pieces) - 1)]
    source = Source("line", ends[max(tapped.source_on)], ends[min(tapped.source_on)], 240.0)
    load = NetworkLoad(
        "load", ends[max(tapped.load_on)], ends[min(tapped.load_on)], 2400, tapped.out, 0, 0, 1
    )
    ours = solved(joined([core], [*joints, (source.minus, EARTH)], [source], [load]))
    assert ours.load_volts("load") == pytest.approx(tapped.out)
    for i, amperes in enumerate(tapped.pieces):
        assert ours.amperes(f"C{i}") == pytest.approx(amperes, abs=1e-9)


WRONG = [
    ({"taps": "0"}, "taps", "2 to 12 points"),
    ({"taps": "0, x"}, "taps", "from 0 on"),
    ({"taps": "5, 5"}, "taps", "two ends"),
    ({"source_on": "0, 99"}, "source_on", "99 is none of"),
    ({"source_on": "240, 240"}, "source_on", "one point"),
    ({"source_on": "0, 104, 240"}, "source_on", "two points"),
    ({"load_on": ""}, "load_on", "the volts wanted"),
    ({"required_voltage": "900 V"}, "required_voltage", "fewer are wanted"),
    ({"source_voltage": ""}, "source_voltage", "Needed"),
    ({"construction": "stacked", "other_winding": "24 V", "kva": "1 kVA"}, "winding", "Needed"),
    ({"construction": "stacked", "winding": "24 V", "other_winding": "240 V"}, "kva", "Needed"),
]


@pytest.mark.parametrize(("entries", "path", "words"), WRONG)
def test_what_is_wrong_is_said_at_its_entry(entries, path, words):
    problems = found(**TAPPED | entries).problems
    assert [p.path for p in problems] == [path]
    assert words in str(problems[0].words)


@pytest.mark.parametrize(("fed", "size"), [("240 V", 40), ("960 V", 40), ("1000 V", None)])
def test_the_device_ahead_ends_where_its_rule_does(fed, size):
    """450.4(A): 1,000 V and less, in and out; from memory."""
    volts = float(fed.split()[0])
    unit = {"winding": fed, "other_winding": f"{volts / 10} V", "kva": f"{volts / 240} kVA"}
    wanted = f"{volts * (0.9 if size else 1.1)} V"
    outcome = worked(**unit, fed=fed, wanted=wanted)
    assert (outcome.device and outcome.device.size) == size
    said = [f.name for f in found(**unit, fed=fed, wanted=wanted).report.findings]
    assert ("no_device" in said) == (size is None)


def test_no_fuse_between_the_load_and_the_limit_is_said():
    """3.5 A × 1.67 = 5.8 A, and of the standard fuses 3 A is too small, 6 A too large."""
    entries = {
        "winding": "100 V",
        "other_winding": "50 V",
        "kva": "117.5 VA",
        "source_voltage": "100 V",
        "required_voltage": "150 V",
    }
    device = worked(**entries).device
    assert device.input == pytest.approx(3.525)
    assert device.size is None
    sheet = found(**entries).report
    assert "device" not in sheet.results
    notes = [str(line.note) for section in sheet.sections for line in section.lines]
    assert any("no standard fuse" in note for note in notes)


# faults -----------------------------------------------------------------------------------------

BUCK = {"winding": "240 V", "other_winding": "32 V", "kva": "1.5 kVA", "source_voltage": "240 V", "required_voltage": "208 V",
        "impedance": "4", "load": "8 kVA"}  # fmt: skip
BOOST = {**BUCK, "source_voltage": "208 V", "required_voltage": "235.7 V"}


def with_fault(fault: str, entries=BUCK):
    found = evaluate(kind("autotransformer"), {**entries, "fault": fault}, CONTEXT)
    assert found.outcome is not None, found.problems
    return found


@pytest.mark.parametrize(("fault", "entries", "load", "opens"), [
    # the trade's rule: a step-down whose series winding is shorted, or whose common one is open,
    # puts the source's volts on the load (common practice)
    ("series shorted", BUCK, (230, 240), "late"), ("common open", BUCK, (230, 240), "late"),
    ("series shorted", BOOST, (200, 208), "late"), ("common open", BOOST, (200, 208), "holds"),
    ("series open", BUCK, (0, 1), "holds"), ("series open", BOOST, (0, 1), "holds"),
    ("common shorted", BUCK, (0, 1), "opens"), ("load shorted", BUCK, (0, 1), "opens"),
    ("load earthed", BUCK, (0, 1), "opens"), ("source earthed", BUCK, (0, 1), "opens"),
])  # fmt: skip
def test_what_the_load_sees_and_whether_anything_opens(fault, entries, load, opens):
    found = with_fault(fault, entries)
    low, high = load
    assert low <= found.outcome.faulted.load <= high
    assert found.outcome.faulted.opens == opens
    assert found.report.results["device_response"].value == opens
    (said,) = [one for one in found.report.findings if one.name == "fault"]
    assert said.severity == "fail" and said.remedy is not None


def test_a_shorted_load_by_hand():
    """208 V stepped up by 240/32 V: the output's volts over the leakage as the series winding sees
    it, 4 % × 32² ÷ 1,500 Ω, and the supply's by the square of the ratio; an isolating unit passes
    its rated amperes ÷ 4 %."""
    sick = with_fault("load shorted", BOOST).outcome.faulted
    unit = complex(0.2, 0.98) * 0.04 * 32**2 / 1500
    ratio = 272 / 240
    supply = 1j * 208 / 10_000
    out = 208 * ratio
    assert sick.series == pytest.approx(out / abs(unit + ratio**2 * supply), rel=0.01)
    assert sick.isolating == pytest.approx(1500 / out / 0.04)
    assert sick.series > 10 * sick.isolating


def test_a_shorted_series_winding_draws_through_the_common_one():
    """The common winding sees nothing but the unit's leakage, 4 % × 240² ÷ 1,500 Ω."""
    sick = with_fault("series shorted").outcome.faulted
    assert sick.common == pytest.approx(240 / (0.04 * 240**2 / 1500), rel=0.05)
    assert sick.common_times == pytest.approx(sick.series_times, rel=1e-3)


def test_no_fault_is_told_where_none_is_tried():
    assert with_fault("none").outcome.faulted is None


def test_line_and_unit_side_by_side():
    """Three in wye stand at line ÷ √3; two in open delta carry the line's amperes."""
    boost = {**BOOST, "load": ""}
    wye = with_fault(
        "none", {**boost, "source_voltage": "416 V", "required_voltage": "471 V", "phases": "wye"}
    ).report
    assert wye.line("unit_volts").value == pytest.approx(416 / sqrt(3))
    assert wye.line("unit_va").value == pytest.approx(wye.value("output_power") / 3)
    delta = with_fault("none", {**boost, "phases": "open delta"}).report
    assert delta.line("unit_volts").value == 208
    assert delta.line("unit_va").value == pytest.approx(delta.value("output_power") / sqrt(3))


def test_three_tapped_windings_in_wye():
    """480 V lines stand on 277 V windings; a tap at half gives half of the line volts."""
    found = evaluate(
        kind("autotransformer"),
        {
            "construction": "tapped",
            "taps": "0, 50, 100",
            "phases": "wye",
            "source_on": "0, 100",
            "load_on": "0, 50",
            "source_voltage": "480 V",
            "load": "24 kVA",
        },
        CONTEXT,
    ).outcome.tapped
    assert found.out == pytest.approx(240)
    assert found.each == pytest.approx(480 / sqrt(3) / 100)
    assert found.source == pytest.approx(24_000 / (sqrt(3) * 480))
    # below the tap the difference of both, above it the source's
    assert found.pieces == pytest.approx((24_000 / sqrt(3) / 480,) * 2)
    wanted = evaluate(
        kind("autotransformer"),
        {
            "construction": "tapped",
            "taps": "0, 100",
            "phases": "wye",
            "source_on": "0, 100",
            "source_voltage": "480 V",
            "required_voltage": "240 V",
        },
        CONTEXT,
    ).outcome.tapped
    assert wanted.found == pytest.approx(50)
