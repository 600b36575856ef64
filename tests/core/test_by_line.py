"""Continuous load and motors belong to their own lines: feeders, services, boards, transformers and
boosters are sized by the heaviest line, each with its own quarters (215.2(A)(1), 215.3, 230.42,
430.24; CEC 8-104). The sums are made here once more with complex numbers."""

from __future__ import annotations

import cmath
from math import pi, sqrt

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition
from voltaje.core.electrical.lines import heaviest_va
from voltaje.core.electrical.systems import SYSTEMS, Demand, Piece, SupplyPoint
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import Context, PartInput, evaluate, kind

WYE = SYSTEMS["3ph-208Y/120"]
TURN = {"L1": 1 + 0j, "L2": cmath.rect(1, -2 * pi / 3), "L3": cmath.rect(1, 2 * pi / 3)}


def by_hand(loads, more: bool) -> dict[str, float]:
    """Amperes of each line of 208Y/120 V: (connection, line, A, continuous)."""
    total = dict.fromkeys(TURN, 0j)
    for connection, line, amperes, continuous in loads:
        each = amperes * (1.25 if continuous and more else 1.0)
        if connection == "three-phase":
            for name in total:
                total[name] += each * TURN[name]
        elif connection == "line-neutral":
            total[line] += each * TURN[line]
        else:
            one, other = line.split("-")
            across = TURN[one] - TURN[other]
            total[one] += each * across / abs(across)
            total[other] -= each * across / abs(across)
    return {name: abs(value) for name, value in total.items()}


def tree(loads, top="feeder", **entries):
    parts = [PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "S"),
             PartInput("f", top, "s", entries, "F"), PartInput("b", "board", "f", {}, "B")]  # fmt: skip
    for index, (connection, line, amperes, continuous) in enumerate(loads):
        document = {"use": "general", "load": f"{amperes} A", "connection": connection,
                    "continuous": "yes" if continuous else "no"}  # fmt: skip
        if connection != "three-phase":
            document["line"] = line
        parts.append(PartInput(f"c{index}", "circuit", "b", document, f"C{index}"))
    return parts


def test_a_continuous_load_to_neutral_beside_a_three_phase_one() -> None:
    """60 A three-phase and 40 A continuous on L1: L1 = 60 + 50 A, a 110 A device, not 105."""
    loads = [("three-phase", "all", 60, False), ("line-neutral", "L1", 40, True)]
    for code in ("nec-2017", "nec-2020", "nec-2023"):
        found = calculate_job(tree(loads), edition(code))
        assert found["f"].report.value("design_amperes") == pytest.approx(110)
        assert found["f"].report.value("device") == 110
        assert found["b"].report.value("amperes") == 110
    service = calculate_job(tree(loads, "service", rod="yes"), edition("nec-2020"))["f"].report
    assert service.value("design_amperes") == pytest.approx(110)
    assert service.line("design_amperes").expression.startswith("L1 110")


loads_ = st.lists(
    st.one_of(
        st.tuples(st.just("three-phase"), st.just("all"), st.integers(5, 60), st.booleans()),
        st.tuples(st.just("line-neutral"), st.sampled_from(list(TURN)), st.integers(5, 60), st.booleans()),
        st.tuples(st.just("two-line"), st.sampled_from(["L1-L2", "L2-L3", "L1-L3"]), st.integers(5, 60), st.booleans()),
    ), min_size=1, max_size=6)  # fmt: skip


@given(loads_, st.sampled_from(["nec-2020", "cec-2021"]))
@settings(max_examples=examples(80))
def test_every_line_carries_its_own_quarter(loads, code) -> None:
    found = calculate_job(tree(loads), edition(code))
    worked = found["f"].report
    lines, design = by_hand(loads, False), by_hand(loads, code != "cec-2021")
    assert worked.value("amperes") >= max(lines.values()) * (1 - 1e-6)
    if code == "nec-2020":
        assert worked.value("design_amperes") >= max(design.values()) * (1 - 1e-6)
        # and no more than the heaviest line or the balanced sum ask for
        va = sum(a * (1.25 if c else 1) * (208 * sqrt(3) if k == "three-phase" else 120 if k == "line-neutral" else 208)
                 for k, _, a, c in loads)  # fmt: skip
        most = max(*design.values(), va / 208 / sqrt(3))
        assert worked.value("design_amperes") == pytest.approx(most, rel=1e-6)


def motor(name, amperes, line, connection="two-line"):
    volts = 208 if connection != "three-phase" else 208 * sqrt(3)
    return Piece(name, "motor", amperes * volts, amperes * volts, amperes, connection, line, motor=amperes,
                 device=2.5 * amperes, part=name)  # fmt: skip


def test_the_largest_motor_of_each_line_has_its_quarter_there() -> None:
    """20 A on L1-L2, 16 A and 14 A on L1-L3: L1 = 1.25 × 20 + 30; L3 = 1.25 × 16 + 14."""
    pieces = (motor("a", 20, "L1-L2"), motor("b", 16, "L1-L3"), motor("c", 14, "L1-L3"))
    context = Context(edition("nec-2020"), supply=SupplyPoint(WYE), below=Demand.of(pieces))
    worked = evaluate(kind("feeder"), {}, context).report
    assert worked.value("line_l1") == pytest.approx(1.25 * 20 + 16 + 14)
    assert worked.value("line_l3") == pytest.approx(1.25 * 16 + 14)
    whole = evaluate(kind("feeder"), {"demand": "whole"}, context).report
    assert whole.value("amperes") >= worked.value("amperes")


def test_of_loads_that_never_run_together_each_counts_on_its_own_line() -> None:
    """6 kW on three phases or 5 kW on L1: by VA the first is larger, on L1 the second."""
    three = Piece("t", "other", 6000, 6000, 6000 / 360, "three-phase", "all", group="g", part="t")
    one = Piece("o", "other", 5000, 5000, 5000 / 120, "line-neutral", "L1", group="g", part="o")
    context = Context(edition("nec-2020"), supply=SupplyPoint(WYE), below=Demand.of((three, one)))
    worked = evaluate(kind("feeder"), {}, context).report
    assert worked.value("amperes") == pytest.approx(5000 / 120)


def test_a_transformer_is_chosen_by_its_heaviest_winding() -> None:
    """15 kW to neutral on one line of a wye ask for a winding of 15 kVA: 45 kVA, not 15."""
    parts = [PartInput("s", "supply", None, {"system": "3ph-480Y/277"}, "S"),
             PartInput("t", "transformer", "s", {"impedance": "4"}, "T"),
             PartInput("c", "circuit", "t", {"use": "general", "load": "15 kW", "line": "L1"}, "C")]  # fmt: skip
    worked = calculate_job(parts, edition("nec-2020"))["t"].report
    assert worked.value("kva") == 45 and worked.value("calculated_load") == pytest.approx(15_000)
    by_hand = [PartInput(p.id, p.kind, p.parent, {**p.document, "kva": "30 kVA"} if p.id == "t" else p.document, p.name)
               for p in parts]  # fmt: skip
    worked = calculate_job(by_hand, edition("nec-2020"))["t"].report
    assert any(f.name == "overloaded" and f.severity == "fail" for f in worked.findings)


def test_a_single_load_in_a_closed_delta_asks_two_thirds_of_its_own_winding() -> None:
    """9 kVA between two lines: its winding carries two thirds of it, so 3 × 6 kVA."""
    load = Piece("x", "other", 9000, 9000, 37.5, "two-line", "L1-L2")
    assert heaviest_va([(load, 9000.0)], SYSTEMS["3ph-240"]) == pytest.approx(18_000)
    even = [
        (Piece("x", "other", 3e3, 3e3, 1, "two-line", pair), 3000.0)
        for pair in ("L1-L2", "L2-L3", "L1-L3")
    ]
    assert heaviest_va(even, SYSTEMS["3ph-240"]) == pytest.approx(9000)
    three = Piece("t", "other", 9e3, 9e3, 1, "three-phase", "all")
    for name in ("3ph-240", "3ph-208Y/120"):
        assert heaviest_va([(three, 9000.0)], SYSTEMS[name]) == pytest.approx(9000, rel=1e-3)


@pytest.mark.parametrize(
    ("load", "phases"), [("5 hp", "1"), ("28 A", "1"), ("10 hp", "open delta"), ("10 hp", "wye")]
)
def test_a_booster_lets_a_motor_start_and_carries_its_quarter(load, phases) -> None:
    wanted = "230" if phases == "1" else "460" if phases == "wye" else "230"
    measured = "208" if wanted == "230" else "440"
    document = {
        "phases": phases,
        "measured": measured,
        "required_voltage": wanted,
        "load": load,
        "what": "motor",
    }
    worked = evaluate(kind("buck_boost"), document, Context(edition("nec-2020"))).report
    amperes = worked.value("load_amperes")
    assert (
        worked.value(
            "output_ampacity"
            if "output_ampacity" in worked.results
            else "output_conductor_ampacity"
        )
        >= 1.25 * amperes - 1e-6
    )
    assert worked.value("output_device") >= 2 * amperes
    units = [
        line.name
        for section in worked.sections
        for line in section.lines
        if line.name.startswith("unit_")
    ]
    assert len(units) == {"1": 0, "wye": 3, "open delta": 2}[phases]
    if phases == "wye":
        assert any(wire.role == "N" for wire in worked.wires) or "N" in str(worked.results)
