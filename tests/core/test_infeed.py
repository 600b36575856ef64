"""What feeds in takes nothing off what conductors must carry: runs, feeders, services, distribution
circuits and transformers hold the loads alone, the sources alone, and both."""

from __future__ import annotations

from math import sqrt

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import Context, PartInput, evaluate, kind

WYE = SYSTEMS["3ph-208Y/120"]


def run(*rows, code="nec-2020", system="3ph-208Y/120", **entries):
    segments = [{"id": f"r{i}", **row} for i, row in enumerate(rows)]
    context = Context(edition(code), supply=SupplyPoint(SYSTEMS[system]))
    return evaluate(kind("cable_run"), {"segments": segments, **entries}, context).report


def amperes_of(size):
    """Table 310.16, copper, 75 °C, as recalled."""
    return {"4": 85, "3": 100, "2": 115, "1": 130, "1/0": 150, "2/0": 175}[size]


def test_by_night_a_run_carries_all_of_its_loads() -> None:
    """60 A, 60 A of solar, 60 A: netted 60 A (4 AWG), but 120 A flow when the sun is down."""
    found = run({"nameplate": "60 A", "length": "10 ft"}, {"nameplate": "60 A", "length": "10 ft", "feeds_in": "yes"},
                {"nameplate": "60 A", "length": "10 ft"}, connection="three-phase")  # fmt: skip
    assert found.value("amperes") == pytest.approx(120)
    assert amperes_of(str(found.results["conductor"].value).split()[0]) >= 120
    assert {"case_sources", "case_both"} <= {section.name for section in found.sections}


def test_flows_that_cancel_print_no_percent_of_nothing() -> None:
    found = run({"nameplate": "60 A", "length": "50 ft"}, {"nameplate": "60 A", "length": "50 ft", "feeds_in": "yes"},
                connection="three-phase")  # fmt: skip
    texts = [
        str(line.note or "") + line.expression
        for section in found.sections
        for line in section.lines
    ]
    assert not any("e+" in text for text in texts)
    assert all(
        abs(line.value) < 1e4
        for section in found.sections
        for line in section.lines
        if line.value is not None
    )


@given(st.lists(st.tuples(st.integers(2, 40), st.booleans()), min_size=2, max_size=5))
@settings(max_examples=examples(60))
def test_no_case_carries_or_loses_more_than_the_run_is_chosen_for(rows) -> None:
    """Currents of each segment are summed here once more, for loads alone and sources alone."""
    found = run(*({"nameplate": f"{a} A", "length": "40 ft", **({"feeds_in": "yes"} if s else {})} for a, s in rows),
                connection="three-phase")  # fmt: skip
    for sources in (False, True):
        own = [a if s == sources else 0 for a, s in rows]
        assert found.value("amperes") >= max(sum(own[i:]) for i in range(len(own))) - 1e-6
    limit = found.value("maximum_drop")
    for section in found.sections:
        if section.name.startswith("case_") or section.name == "volts":
            volts = [line.value for line in section.lines]
            start = found.value("supply_volts")
            assert min(volts) >= start * (1 - limit / 100) - 0.6


def tree(power, load, top="feeder", code="nec-2020", system="3ph-208Y/120", **entries):
    return calculate_job([
        PartInput("s", "supply", None, {"system": system}, "S"),
        PartInput("f", top, "s", entries, "F"),
        PartInput("b", "board", "f", {}, "B"),
        *([PartInput("c", "circuit", "b", {"load": load, "connection": "three-phase"}, "C")] if load else []),
        PartInput("i", "inverter", "b", {"power": power}, "I"),
    ], edition(code))  # fmt: skip


@pytest.mark.parametrize(("top", "code", "system", "more"), [
    ("feeder", "nec-2020", "3ph-208Y/120", 1.25), ("service", "nec-2020", "3ph-208Y/120", 1.25),
    ("feeder", "cec-2021", "3ph-208Y/120", 1.25), ("distribution", "bs7671-2018", "3ph-400Y/230", 1.0),
])  # fmt: skip
def test_what_feeds_in_flows_in_everything_above_it(top, code, system, more) -> None:
    """36 kW of inverter beside 2 kW of load: the way up is sized for the inverter's amperes."""
    volts = SYSTEMS[system].line_to_line
    wanted = 36_000 / sqrt(3) / volts * more
    for load in ("2 kW", ""):
        entries = {"rod": "yes"} if top == "service" else {}
        worked = tree("36 kW", load, top, code, system, **entries)["f"].report
        assert worked.value("device") >= wanted - 1e-6, load
        assert worked.line("export_design").value == pytest.approx(wanted)


def test_a_transformer_passes_what_feeds_in_behind_it() -> None:
    parts = [PartInput("s", "supply", None, {"system": "3ph-480Y/277"}, "S"),
             PartInput("t", "transformer", "s", {"impedance": "4"}, "T"),
             PartInput("b", "board", "t", {}, "B"),
             PartInput("c", "circuit", "b", {"load": "2 kW"}, "C"),
             PartInput("i", "inverter", "b", {"power": "36 kW"}, "I")]  # fmt: skip
    assert calculate_job(parts, edition("nec-2020"))["t"].report.value("kva") >= 36


def test_a_bus_fed_in_its_middle_is_asked_whether_it_is_a_dwellings() -> None:
    """705.12: 120 % of a centre-fed bus in dwellings alone; and a main that is not told is no 0 A."""
    document = {
        "power": "7.6 kW",
        "connection": "two-line",
        "bus": "200 A",
        "main": "200 A",
        "place": "center",
    }
    context = Context(edition("nec-2020"), supply=SupplyPoint(SYSTEMS["1ph-120/240"]))
    verdict = {own: next(f for f in evaluate(kind("inverter"), {**document, "dwelling": own}, context).report.findings
                         if f.name == "bus").severity for own in ("", "yes")}  # fmt: skip
    assert verdict == {"": "fail", "yes": "pass"}
    document.pop("main")
    assert evaluate(kind("inverter"), document, context).problems[0].path == "main"
