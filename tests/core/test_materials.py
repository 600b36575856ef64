"""Quantities of a job, by hand; more load orders no less; what is not counted is named."""

from __future__ import annotations

import pytest
from core.test_every_kind import GOOD
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.job.calculate import PartInput, calculate_job
from voltaje.core.kinds import Context, evaluate, kind, kinds
from voltaje.core.materials import Allowances, MaterialLine, by_size, take_off
from voltaje.core.quantities import METRES_PER_FOOT as FOOT
from voltaje.core.report import say
from voltaje.core.rules.interface import code_of

EXACT = Allowances(end=6 * FOOT, waste=0.10, piece=10 * FOOT, strap=10 * FOOT)


def order(*parts, code="nec-2020", allowances=EXACT, system="3ph-208Y/120"):
    """The take-off of items below a supply and a board of 225 A."""
    top = [
        PartInput("s", "supply", None, {"system": system}, "Supply"),
        PartInput("b", "board", "s", {"rating": "225 A", "spaces": "42"}, "Panel"),
    ]
    found = calculate_job([*top, *parts], edition(code))
    return take_off(found, edition(code).family, allowances)


def circuit(key="c", of="circuit", under="b", **entries):
    return PartInput(key, of, under, entries, key)


def lines(found, group):
    return {str(line.label): line.quantity for line in found.lines if line.group == group}


def test_a_circuit_in_pipe_by_hand():
    """50 ft of 14 AWG for 1 kW on a line: (50 + 2 × 6) × 1.1 = 68.2 ft of each conductor; five
    pieces of 10 ft have four couplings, two connectors and six straps (common practice)."""
    found = order(circuit(load="1 kW", length="50 ft"))
    feet = {words: metres / FOOT for words, metres in lines(found, "conductors").items()}
    assert feet == {
        f"14 AWG copper, THHN, 90 °C, {color}": pytest.approx(68.2)
        for color in ("black", "white", "green")
    }
    assert lines(found, "raceways") == {"1/2 in EMT": pytest.approx(55 * FOOT)}
    assert lines(found, "fittings") == {
        "coupling, 1/2 in EMT": 4, "connector, 1/2 in EMT": 2, "strap, 1/2 in EMT": 6,
    }  # fmt: skip
    assert lines(found, "devices") == {"15 A, 1 pole": 1}
    assert list(lines(found, "equipment")) == [
        "Board, 208Y/120 V, three-phase, four-wire, bus 225 A, 42 pole spaces, surface"
    ]
    assert not found.left_out


def test_alike_is_added_up_and_its_items_are_named():
    one = circuit("c", load="1 kW", length="50 ft")
    two = circuit("d", load="900 W", length="30 ft")
    found = order(one, two)
    both = {line.key: line for line in found.lines}
    green = both["conductor|14 AWG|copper|THHN|green"]
    assert green.quantity / FOOT == pytest.approx((62 + 42) * 1.1)
    assert set(green.items) == {"c", "d"}
    assert lines(found, "devices") == {"15 A, 1 pole": 2}


def test_sets_in_parallel_each_have_a_pipe():
    single = order(circuit(load="60 A", connection="three-phase", length="50 ft"))
    double = order(
        circuit(load="60 A", connection="three-phase", length="50 ft", sets="2", size="1/0")
    )
    (pipe,) = lines(double, "raceways").values()
    assert pipe == pytest.approx(2 * 55 * FOOT)
    assert sum(lines(double, "fittings").values()) == 2 * sum(lines(single, "fittings").values())
    blacks = [q for words, q in lines(double, "conductors").items() if "black" in words]
    assert blacks == [pytest.approx(2 * 62 * 1.1 * FOOT)]
    assert lines(double, "devices") == {"60 A, 3 poles": 1}


def test_sets_in_one_pipe_have_one():
    found = order(circuit(load="60 A", connection="three-phase", length="50 ft", sets="2", size="1/0",
                          raceways="one"))  # fmt: skip
    assert sum(lines(found, "fittings").values()) == 12
    (pipe,) = lines(found, "raceways").values()
    assert pipe == pytest.approx(55 * FOOT)


def test_a_cable_is_ordered_as_one():
    found = order(circuit(load="1.5 kW", length="40 ft", wiring_method="NM-B"))
    assert not lines(found, "conductors") and not lines(found, "raceways")
    ((words, metres),) = lines(found, "cables").items()
    assert words == "NM-B cable, 2 × 14 AWG copper and 14 AWG"
    assert metres / FOOT == pytest.approx((40 + 12) * 1.1)


def test_a_metric_circuit_is_a_cable_with_its_device():
    found = order(
        circuit(load="2 kW", length="20 m", device_type="C", rcd="30", cable="multi", reference_method="C"),
        code="bs7671-2018", system="3ph-400Y/230", allowances=Allowances(end=2, waste=0),
    )  # fmt: skip
    ((words, metres),) = lines(found, "cables").items()
    assert metres == pytest.approx(24) and "2 × " in words and "mm²" in words
    (device,) = lines(found, "devices")
    assert device.startswith("10 A, 1 pole, ") and "30 mA" in device


@pytest.mark.parametrize(("entries", "why"), [
    ({"load": "1 kW"}, "no length is given"), ({}, "no result"),
    ({"load": "1 kW", "length": "x"}, "no result"),
])  # fmt: skip
def test_what_is_not_counted_is_named(entries, why):
    found = order(circuit(**entries))
    assert [(one.item, why in str(one.why)) for one in found.left_out if one.item == "c"] == [
        ("c", True)
    ]
    assert not lines(found, "conductors")


def test_what_is_sized_for_a_part_of_its_load_is_not_ordered():
    """A feeder above a circuit without a result has no size yet."""
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "Supply"),
        PartInput("f", "feeder", "s", {"length": "80 ft"}, "Feeder"),
        PartInput("b", "board", "f", {"rating": "225 A"}, "Panel"),
        PartInput("c", "circuit", "b", {"load": "1 kW", "length": "50 ft"}, "c"),
        PartInput("o", "circuit", "b", {}, "open"),
    ]
    found = take_off(calculate_job(parts, edition("nec-2020")), "nec", EXACT)
    assert {"f", "b", "o"} <= {one.item for one in found.left_out}
    assert lines(found, "devices") == {"15 A, 1 pole": 1}


def test_a_transformer_and_its_other_side():
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-480Y/277"}, "Supply"),
        PartInput("t", "transformer", "s", {"kva": "45", "secondary": "3ph-208Y/120", "length": "10 ft"}, "T"),
        PartInput("b", "board", "t", {}, "B"),
        PartInput("c", "circuit", "b", {"load": "20 kW", "connection": "three-phase", "length": "20 ft"}, "C"),
    ]  # fmt: skip
    found = take_off(calculate_job(parts, edition("nec-2020")), "nec", EXACT)
    units = list(lines(found, "equipment"))
    assert units[-1].startswith("Transformer, 45 kVA, 480Y/277 V")
    assert "208Y/120 V" in units[-1].split(" to ")[1]
    assert {one.item for one in found.left_out} == {"t"}
    assert len(lines(found, "devices")) == 3  # both sides and the circuit's
    # of its secondary conductors and their raceway nothing is missing
    assert sum("raceway" in str(one.why) for one in found.left_out) == 0


@pytest.mark.parametrize(("kva", "sets"), [("45", 1), ("112.5", None), ("300", None)])
def test_sets_in_parallel_behind_a_transformer_are_all_ordered(kva, sets):
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-480Y/277"}, "Supply"),
        PartInput("t", "transformer", "s", {"kva": kva, "secondary": "3ph-208Y/120", "length": "10 ft"}, "T"),
        PartInput("b", "board", "t", {}, "B"),
        PartInput("c", "circuit", "b", {"load": "20 kW", "connection": "three-phase", "length": "20 ft"}, "C"),
    ]  # fmt: skip
    worked = calculate_job(parts, edition("nec-2020"))
    results = worked["t"].report.results
    pulled = int(results["secondary_conductor_sets"].value)
    assert sets is None or pulled == sets
    found = take_off({"t": worked["t"]}, "nec", EXACT)
    black = [q for words, q in lines(found, "conductors").items() if words.endswith("black")]
    assert black == [pytest.approx(22 * 1.1 * FOOT * pulled)]


def test_every_booster_bank_and_run_is_counted_or_named():
    """Nothing that stands in a job is left out in silence."""
    for of in kinds():
        good = GOOD.get(of.name)
        if of.quick_only or of.root or not of.covers(code_of("nec")) or good is None:
            continue
        document = good[0] if isinstance(good, tuple) else good
        for system in ("1ph-120/240", "3ph-208Y/120", "3ph-480Y/277"):
            context = Context(edition("nec-2020"), supply=SupplyPoint(SYSTEMS[system]))
            one = evaluate(of, document, context)
            found = take_off({"x": one}, "nec", EXACT)
            assert found.lines or found.left_out, (of.name, system)
            if one.report is not None and "conductor" in one.report.results and not found.left_out:
                assert lines(found, "conductors") or lines(found, "cables"), of.name


def test_units_of_a_bank_by_their_kva():
    of = kind("bank")
    context = Context(edition("nec-2020"), supply=SupplyPoint(SYSTEMS["3ph-480Y/277"]))
    good = GOOD["bank"]
    one = evaluate(of, good[0] if isinstance(good, tuple) else good, context)
    (words,) = lines(take_off({"x": one}, "nec", EXACT), "equipment")
    assert f"{one.entries.kva / 1000:g} kVA" in words


loads = st.floats(0.2, 12).map(lambda kw: f"{kw:.2f} kW")
feet = st.integers(5, 200)


@settings(max_examples=examples(25))
@given(st.lists(st.tuples(loads, feet), min_size=1, max_size=5), feet)
def test_longer_and_more_of_it_order_no_less(rows, further):
    parts = [
        circuit(f"c{n}", load=load, length=f"{length} ft") for n, (load, length) in enumerate(rows)
    ]
    before = order(*parts)
    more = order(*parts, circuit("more", load="1 kW", length=f"{further} ft"))
    sums = {
        line.group: sum(one.quantity for one in before.lines if one.group == line.group)
        for line in before.lines
    }
    for group, total in sums.items():
        assert sum(one.quantity for one in more.lines if one.group == group) >= total - 1e-9
    # nothing is lost: the metres are those of the runs with slack and waste
    drawn = sum((length + 12) * FOOT * 1.1 for _, length in rows)
    green = sum(q for words, q in lines(before, "conductors").items() if words.endswith("green"))
    assert green == pytest.approx(drawn)


def test_lines_stand_by_size():
    keys = ["conductor|1/0 AWG|copper", "conductor|14 AWG|copper", "conductor|4/0 AWG|copper", "conductor|250 kcmil|copper",
            "conductor|2 AWG|copper", "conductor|600 kcmil|copper", "conductor|12 AWG|copper"]  # fmt: skip
    found = sorted(
        (MaterialLine("conductors", key, say("x"), 1, "m", ()) for key in keys), key=by_size
    )
    sizes = [line.key.split("|")[1] for line in found]
    assert sizes == ["14 AWG", "12 AWG", "2 AWG", "1/0 AWG", "4/0 AWG", "250 kcmil", "600 kcmil"]
    pipes = [
        "raceway|2 in EMT",
        "raceway|1/2 in EMT",
        "raceway|1-1/4 in EMT",
        "raceway|3/4 in EMT",
        "raceway|25 mm conduit",
    ]
    found = sorted(
        (MaterialLine("raceways", key, say("x"), 1, "m", ()) for key in pipes), key=by_size
    )
    assert [line.key.split("|")[1].split()[0] for line in found] == [
        "1/2",
        "3/4",
        "1-1/4",
        "2",
        "25",
    ]
