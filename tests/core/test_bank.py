"""The bank's rows against hand calculations, its volts and corner against coils solved."""

from math import sqrt

import pytest

from voltaje.core.codes import edition
from voltaje.core.kinds import Context, evaluate, kind

CONTEXT = Context(edition("nec-2020"))
DELTA = {
    "primary": "480 V",
    "secondary": "240 V",
    "kva": "15 kVA",
    "supply": "480 V",
    "required_voltage": "240 V",
}


def worked(**entries):
    found = evaluate(kind("bank"), entries, CONTEXT)
    assert found.outcome is not None, found.problems
    return found.outcome


# the connection and the volts out, by hand: star is √3 of the coil, delta the coil
HAND = [
    ("480", "120", "480", "208", ("delta", "star"), 120 * sqrt(3)),
    ("480", "240", "480", "240", ("delta", "delta"), 240.0),
    ("277", "120", "480", "208", ("star", "star"), 480 / 277 * 120),
    ("2400", "240", "4160", "240", ("star", "delta"), 4160 / sqrt(3) / 10),
    ("7200", "120", "12470", "208", ("star", "star"), 12470 / 60),
]


@pytest.mark.parametrize(("primary", "secondary", "supply", "wanted", "how", "out"), HAND)
def test_the_connection_that_gives_the_volts(primary, secondary, supply, wanted, how, out):
    outcome = worked(primary=primary, secondary=secondary, kva="25", supply=supply, wanted=wanted)
    assert (outcome.chosen.high, outcome.chosen.low) == how
    assert outcome.chosen.out == pytest.approx(out)


def test_star_star_and_delta_delta_are_one_ratio_and_not_one_stress():
    outcome = worked(**{**DELTA, "required_voltage": "240 V"})
    rows = {(r.high, r.low): r for r in outcome.rows}
    one, other = rows["star", "star"], rows["delta", "delta"]
    assert one.out == pytest.approx(other.out)
    assert one.flux == pytest.approx(other.flux / sqrt(3))
    assert outcome.chosen is other


def test_a_supply_above_the_coil_burns_it_in_delta():
    outcome = worked(primary="277", secondary="120", kva="10", supply="480", wanted="208")
    burnt = [r for r in outcome.rows if r.high == "delta"]
    assert burnt and all(r.fault == "flux" for r in burnt)
    assert burnt[0].flux == pytest.approx(100 * 480 / 277)


@pytest.mark.parametrize(("side", "tap", "factor"), [
    ("primary", "+5", 1 / 1.05), ("primary", "-5", 1 / 0.95), ("secondary", "+5", 1.05),
])  # fmt: skip
def test_taps_go_the_way_of_their_side(side, tap, factor):
    """More turns on the primary lower the secondary, more on the secondary raise it."""
    entries = {**DELTA, "tolerance": "10", "tap_side": side, "taps": tap}
    row = next(r for r in worked(**entries).rows if (r.high, r.low) == ("delta", "delta"))
    assert row.out == pytest.approx(240 * factor)


def test_the_tap_that_brings_a_sagging_supply_back():
    outcome = worked(**{**DELTA, "supply": "456 V", "tap_side": "primary"})
    assert outcome.chosen.tap == -5 and outcome.chosen.out == pytest.approx(240)


def test_currents_and_kva_of_a_bank():
    """Three of 25 kVA, 480 to 208Y/120 V: 75 kVA, 90.2 A in, 208.3 A out (75 kVA ÷ (√3 × V))."""
    found = worked(
        primary="480", secondary="120", kva="25", supply="480", wanted="208", load="60"
    ).currents
    assert found.kva == pytest.approx(75_000)
    assert found.line_in == pytest.approx(75_000 / (sqrt(3) * 480))
    assert found.coil_in == pytest.approx(25_000 / 480)
    assert found.line_out == pytest.approx(75_000 / (sqrt(3) * 120 * sqrt(3)))
    assert found.loading == pytest.approx(80)


def test_open_delta_carries_577_of_three():
    """57.7 % of three units and 86.6 % of the two, by 1 ÷ √3 and √3 ÷ 2."""
    three, two = worked(**DELTA).currents, worked(**DELTA, count="2").currents
    assert two.kva / three.kva == pytest.approx(1 / sqrt(3))
    assert two.kva / 30_000 == pytest.approx(sqrt(3) / 2)


# the reading across the last corner: common practice, nothing or twice the coil's volts
@pytest.mark.parametrize(("turned", "volts"), [("none", 0), ("1", 480), ("2", 480), ("3", 480)])
def test_the_reading_before_the_corner_is_closed(turned, volts):
    found = worked(**DELTA, turned=turned).corner
    assert found.open_volts == pytest.approx(volts, abs=1e-3)
    assert found.group == ("Dd0" if turned == "none" else "")


def test_the_current_of_a_wrong_corner():
    """480 V around three coils of 3 % each: z = 0.03 × 240² ÷ 15,000 Ω, so 480 ÷ (3 z)."""
    outcome = worked(**DELTA, turned="2", impedance="3")
    assert outcome.corner.closed_amperes == pytest.approx(480 / (3 * 0.03 * 240**2 / 15_000))
    found = evaluate(
        kind("bank"), {**DELTA, "reversed_secondary": "2", "impedance": "3"}, CONTEXT
    ).report
    assert found.status == "fail" and "1,389 A" in str(found.findings[0].words)


def test_a_wrong_corner_of_coils_below_their_volts():
    """The ohms are the coil's own, whatever it is fed: fed at 1 ÷ √3, 1 ÷ √3 of the current."""
    asked = DELTA | {
        "required_voltage": f"{240 / sqrt(3)} V",
        "reversed_secondary": "2",
        "impedance": "3",
    }
    outcome = worked(**asked)
    assert (outcome.chosen.high, outcome.chosen.low) == ("star", "delta")
    full = 480 / (3 * 0.03 * 240**2 / 15_000)
    assert outcome.corner.closed_amperes == pytest.approx(full / sqrt(3))


def test_a_star_with_a_coil_turned_is_uneven():
    """Two of the lines then have the coil's volts in place of √3 of it."""
    entries = {
        "primary": "480",
        "secondary": "120",
        "kva": "25",
        "supply": "480",
        "required_voltage": "208",
    }
    assert worked(**entries).corner.group == "Dy11"
    turned = worked(**entries, turned="1")
    assert turned.corner.group == ""
    assert sorted(turned.corner.lines) == pytest.approx([120, 120, 120 * sqrt(3)])
    found = evaluate(kind("bank"), {**entries, "reversed_secondary": "1"}, CONTEXT).report
    assert [f.name for f in found.findings if f.severity == "fail"] == ["turned"]


BAD = [({}, "primary"), ({**DELTA, "kva": ""}, "kva"), ({**DELTA, "required_voltage": ""}, "required_voltage"),
       ({**DELTA, "primary": "0"}, "primary"), ({**DELTA, "tap_side": "primary", "taps": "x"}, "taps"),
       ({**DELTA, "tap_side": "primary", "taps": "90"}, "taps"),
       ({**DELTA, "tap_side": "primary", "taps": " "}, "taps"),
       ({**DELTA, "count": "2", "reversed_secondary": "3"}, "reversed_secondary"), ({**DELTA, "impedance": "0"}, "impedance")]  # fmt: skip


@pytest.mark.parametrize(("entries", "path"), BAD)
def test_what_is_wrong_is_said_at_its_field(entries, path):
    found = evaluate(kind("bank"), entries, CONTEXT)
    if path == "taps" and entries["taps"] == " ":
        assert found.outcome is not None  # empty: the usual taps
        return
    assert found.outcome is None and [p.path for p in found.problems] == [path]


def test_no_connection_for_volts_that_none_gives():
    found = evaluate(kind("bank"), {**DELTA, "required_voltage": "300 V"}, CONTEXT)
    assert found.outcome.chosen is None and found.report.status == "fail"


def coil_va(three, single, closed):
    """VA in each coil of a delta by its circuit: three sources of equal small impedance, a balanced
    three-phase load in star and one between a and b, unity power factor (solved here by numpy)."""
    import numpy as np

    volts, z = 240.0, 1e-4
    angles = [0, -120, 120]
    emf = [volts * np.exp(1j * np.radians(a)) for a in angles]
    ends = [(0, 1), (1, 2), (2, 0)][: 3 if closed else 2]
    y = np.zeros((3, 3), complex)
    inject = np.zeros(3, complex)
    for (a, b), e in zip(ends, emf, strict=False):
        y[a, a] += 1 / z
        y[b, b] += 1 / z
        y[a, b] -= 1 / z
        y[b, a] -= 1 / z
        inject[a] += e / z
        inject[b] -= e / z
    for a, b in ((0, 1), (1, 2), (2, 0)):
        g = (three / 3 + (single if (a, b) == (0, 1) else 0)) / volts**2
        y[a, a] += g
        y[b, b] += g
        y[a, b] -= g
        y[b, a] -= g
    y[2, 2] += 1e6  # c is the reference
    v = np.linalg.solve(y, inject)
    return [abs((e - (v[a] - v[b])) / z) * volts for (a, b), e in zip(ends, emf, strict=False)]


@pytest.mark.parametrize(("three", "single"), [(30, 12), (30, 0.1), (0, 15), (45, 45), (10, 40)])
@pytest.mark.parametrize("count", ["3", "2"])
def test_a_single_phase_load_loads_its_own_unit_most(count, three, single):
    entries = {"count": count, "primary": "7200", "secondary": "240", "kva": "100 kVA",
               "supply": "7200", "required_voltage": "240", "lighting": f"{single} kVA"}  # fmt: skip
    if three:
        entries["load"] = f"{three} kVA"
    for book in ("nec-2020", "bs7671-2018", "cec-2021"):
        found = evaluate(kind("bank"), entries, Context(edition(book), "us")).outcome
        own = coil_va(three, single, count == "3")
        assert found.units.lighting / 1000 == pytest.approx(own[0], rel=2e-3)
        assert found.units.others / 1000 == pytest.approx(max(own[1:]), rel=2e-3, abs=1e-3)


def test_high_voltages_and_what_a_star_refuses():
    entries = {"primary": "88 kV", "secondary": "11 kV", "kva": "5 MVA", "supply": "88 kV",
               "required_voltage": "11 kV"}  # fmt: skip
    found = evaluate(kind("bank"), entries, Context(edition("sans10142-2020"), "metric"))
    assert found.report.results["output"].value == pytest.approx(11_000)
    star = {**entries, "required_voltage": "19.05 kV", "lighting": "10 kVA"}
    assert (
        evaluate(kind("bank"), star, Context(edition("nec-2020"), "us")).problems[0].path
        == "lighting"
    )
    beyond = evaluate(
        kind("bank"), {**entries, "supply": "600 kV"}, Context(edition("nec-2020"), "us")
    )
    assert beyond.problems[0].path == "supply"


# results that are physics alone
SAME = ("output", "connection", "bank_kva", "line_in", "line_out", "joints", "group", "output_power",
        "source_amperes", "load_amperes", "series_amperes", "common_amperes", "kva", "input", "load",
        "deviation", "windings", "source_ends", "load_ends")  # fmt: skip


@pytest.mark.parametrize("name", ["bank", "autotransformer", "buck_boost"])
def test_physics_has_no_code(name):
    """The same volts and amperes under every family; the device ahead only where the family has a
    rule for it."""
    entries = {"primary": "480 V", "secondary": "120 V", "kva": "25 kVA", "supply": "480 V",
               "required_voltage": "208 V", "load": "50 kVA"}  # fmt: skip
    if name == "autotransformer":
        entries = {"winding": "240 V", "other_winding": "24 V", "kva": "1 kVA",
                   "source_voltage": "208 V", "required_voltage": "230 V", "load": "5 kVA"}  # fmt: skip
    if name == "buck_boost":
        entries = {"measured_voltage": "208 V", "required_voltage": "230 V", "load": "5 kVA",
                   "frequency": "60"}  # fmt: skip
    told = []
    for book in (
        "nec-2020",
        "nec-2023",
        "cec-2021",
        "bs7671-2018",
        "sans10142-2020",
        "asnzs3000-2018",
    ):
        results = evaluate(kind(name), entries, Context(edition(book), "us")).report.results
        assert ("device" in results) == (name != "bank" and book.startswith("nec"))
        told.append({n: r.value for n, r in results.items() if n in SAME})
    assert all(one == told[0] for one in told) and len(told[0]) >= 5


@pytest.mark.parametrize(
    ("supply", "primary", "kva", "exact", "fuse"),
    [
        # three of 25 kVA at 12.47 kV: 75 kVA ÷ (√3 × 12.47 kV) = 3.47 A, 300 % of a fuse, the next size up
        ("12.47 kV", "7200 V", "25 kVA", 3 * 3.472, 15),
        ("4160 V", "2400 V", "50 kVA", 3 * 20.83, 70),
        # at 480 V by 450.3(B), primary alone: 90.2 A, 125 %, the next size up
        ("480 V", "480 V", "25 kVA", 1.25 * 90.21, 125),
    ],
)
def test_fuses_of_the_supply_by_450_3(supply, primary, kva, exact, fuse):
    entries = {
        "primary": primary,
        "secondary": "240 V",
        "kva": kva,
        "supply": supply,
        "required_voltage": "240 V",
    }
    found = evaluate(kind("bank"), entries, Context(edition("nec-2020"), "us"))
    assert found.report.value("fuse") == fuse
    line = next(x for s in found.report.sections for x in s.lines if x.name == "fuse_exact")
    assert line.value == pytest.approx(exact, rel=2e-3)
    elsewhere = evaluate(kind("bank"), entries, Context(edition("bs7671-2018"), "metric"))
    assert "fuse" not in elsewhere.report.results
    assert any(f.name == "fuse" for f in elsewhere.report.findings)
