"""A result that is missing is never zero: whatever part of a job is broken, all above it is
incomplete, gives bounds that hold, and chooses nothing."""

from __future__ import annotations

import json

import pytest
from core.test_any_tree import trees
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core import faults
from voltaje.core.cli import job as jobfile
from voltaje.core.codes import edition
from voltaje.core.job import conductor_plan as least_metal
from voltaje.core.job.calculate import calculate_job
from voltaje.core.job.spread import gather
from voltaje.core.kinds import Context, PartInput, kind

# what a sheet may still say without all of its loads
BOUNDS = {"connected_load", "calculated_load", "amperes", "amperes_exact", "design_amperes",
          "circuits", "poles", "load", "load_amperes"}  # fmt: skip
BROKEN = {"length": "abc", "load": "thirty kW", "nameplate": "?", "spaces": "many", "volts": "x",
          "system": "none such", "area": "wide", "power": "??", "secondary": "?"}  # fmt: skip


def broken(part: PartInput, code: str = "nec-2020") -> PartInput:
    """The same with an entry that cannot be read, one that it has under the code."""
    names = kind(part.kind).entries_in(Context(edition(code)).code).model_fields
    wrong = {name: text for name, text in BROKEN.items() if name in names}
    wrong = dict([next(iter(wrong.items()))]) if wrong else {"no such entry": "1"}
    return PartInput(part.id, part.kind, part.parent, {**part.document, **wrong}, part.name)


def ancestors(parts, key):
    by_id = {part.id: part for part in parts}
    at = by_id[key].parent
    while at is not None:
        yield at
        at = by_id[at].parent


def chooses_nothing(worked, name) -> None:
    assert worked.status == "incomplete"
    assert worked.missing and name in worked.missing
    first = worked.findings[0]
    assert first.severity == "incomplete" and (
        name in str(first.words) or "more" in str(first.words)
    )
    assert set(worked.results) <= BOUNDS and all(r.at_least for r in worked.results.values())
    assert not (
        worked.alternatives or worked.wires or worked.marks or worked.points or worked.tests
    )
    assert name in worked.headline or "more" in worked.headline
    assert not any(finding.severity in ("pass", "check") for finding in worked.findings)


@given(trees(), st.data(), st.sampled_from(["nec-2020", "cec-2021", "bs7671-2018"]))
@settings(max_examples=examples(150))
def test_all_above_a_broken_part_is_incomplete(parts, data, code) -> None:
    """Also where its kind is not covered, and where the whole was worked before it broke."""
    hit = data.draw(st.sampled_from(parts))
    book = edition(code)
    whole = calculate_job(parts, book)
    found = calculate_job([broken(p, code) if p is hit else p for p in parts], book)
    assert found[hit.id].report is None
    if not kind(hit.kind).has_load:
        return
    for key in ancestors(parts, hit.id):
        above, before = found[key], whole[key]
        if above.report is None:
            continue
        chooses_nothing(above.report, hit.name)
        if before.report is None or before.report.missing:
            continue
        for name in set(above.report.results) & set(before.report.results) & {"connected_load"}:
            assert above.report.value(name) <= before.report.value(name) * (1 + 1e-9) + 1e-9
    for part in parts:  # volts and drop of a network that lacks a load are no answer
        worked = found[part.id].report
        if worked is not None:
            assert "drop_total" not in worked.results or not _shares_root(parts, part.id, hit.id)


def _root(parts, key):
    return [key, *ancestors(parts, key)][-1]


def _shares_root(parts, one, other):
    return _root(parts, one) == _root(parts, other)


@pytest.mark.parametrize("name", ["transformer", "supply", "buck_boost"])
def test_what_hangs_behind_windings_that_are_not_known_says_nothing(name) -> None:
    """Its system is not known then: a circuit there is not judged on the volts ahead of it."""
    parts = [PartInput("s", "supply", None, {"system": "3ph-480Y/277"}, "S"),
             PartInput("b", name if name != "supply" else "board", "s", {}, "Between"),
             PartInput("c", "circuit", "b", {"load": "4 kW", "length": "9 ft"}, "C")]  # fmt: skip
    hit = "s" if name == "supply" else "b"
    found = calculate_job([broken(p) if p.id == hit else p for p in parts], edition("nec-2020"))
    worked = found["c"].report
    assert worked.status == "incomplete" and not worked.results and not worked.alternatives


def test_a_loop_that_is_not_known_is_no_loop() -> None:
    """Behind a distribution circuit that cannot be worked no disconnection is judged."""
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-400Y/230", "earthing": "TN-C-S",
                                        "external_loop": "0.2"}, "S"),
        PartInput("d", "distribution", "s", {"length": "40 m"}, "D"),
        PartInput("b", "board", "d", {}, "B"),
        PartInput("c", "circuit", "b", {"load": "5 A", "length": "20 m"}, "C"),
    ]  # fmt: skip
    book = edition("bs7671-2018")
    assert calculate_job(parts, book)["c"].report.value("loop_impedance") > 0.2
    found = calculate_job([broken(p) if p.id == "d" else p for p in parts], book)
    assert found["c"].report.status == "incomplete"
    # one more circuit that is missing leaves the others judged by the most that the loop can be
    more = [*parts, PartInput("x", "circuit", "b", {"load": "thirty kW"}, "X")]
    assert (
        calculate_job(more, book)["c"].report.status == "incomplete"
    )  # its drop counts from the origin
    more[3] = PartInput("c", "circuit", "b", {"load": "5 A"}, "C")  # nothing is judged along it
    worked = calculate_job(more, book)["c"].report
    assert worked.status != "incomplete" and any(f.name == "bounded" for f in worked.findings)


def test_a_fault_current_comes_undiminished_through_what_is_not_chosen() -> None:
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-208Y/120", "fault": "22 kA"}, "S"),
        PartInput("f", "feeder", "s", {"length": "200 ft"}, "F"),
        PartInput("b", "board", "f", {"interrupting": "22 kA"}, "B"),
        PartInput("c", "circuit", "b", {"load": "4 kW"}, "C"),
        PartInput("x", "circuit", "b", {"load": "4 kW"}, "X"),
    ]
    book = edition("nec-2020")
    whole = calculate_job(parts, book)["b"].outcome.fault
    found = calculate_job([broken(p) if p.id == "x" else p for p in parts], book)
    assert whole < 22_000 == found["b"].outcome.fault


def test_plans_over_what_is_missing_say_so() -> None:
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "S"),
        PartInput("f", "feeder", "s", {"length": "200 ft"}, "F"),
        PartInput("b", "board", "f", {}, "B"),
        PartInput("c", "circuit", "b", {"load": "4 kW", "length": "30 ft"}, "C"),
        PartInput("x", "circuit", "b", {"load": "none"}, "X"),
    ]
    found = calculate_job(parts, edition("nec-2020"))
    spread = gather(parts, found, "b")
    assert spread.missing == ("X",) and spread.device == 0.0
    tree = least_metal.gather(parts, found, "s")
    assert tree.missing == ("X",) and not tree.members


def _file(load):
    circuits = [{"kind": "circuit", "name": "Kiln 1", "entries": {"load": "30 kW"}},
                {"kind": "circuit", "name": "Kiln 2", "entries": {"load": load}}]  # fmt: skip
    feeder = {"kind": "feeder", "name": "Kilns", "entries": {}, "parts": circuits}
    service = {"kind": "service", "name": "Service", "entries": {"rod": True}, "parts": [feeder]}
    supply = {"kind": "supply", "name": "Supply", "entries": {"system": "1ph-120/240"},
              "parts": [service]}  # fmt: skip
    return {"code": "nec-2020", "parts": [supply]}


def test_the_command_has_an_exit_code_of_its_own(tmp_path, capsys) -> None:
    for load, code in (("30 kW", 0), ("thirty kW", 3)):
        path = tmp_path / "job.json"
        path.write_text(json.dumps(_file(load)))
        assert jobfile.main([str(path)]) == code
        found = json.loads(capsys.readouterr().out)
        assert found["ok"] is (code == 0)
    feeder = next(part for part in found["parts"] if part["kind"] == "feeder")
    assert feeder["status"] == "incomplete" and feeder["missing"] == ["Kiln 2"]
    assert "device" not in feeder["results"] and "conductor" not in feeder["results"]
    assert feeder["results"]["amperes"]["at_least"] and feeder["headline"].startswith(
        "at least 250 A"
    )


def test_a_fault_of_the_program_is_a_missing_result(monkeypatch) -> None:
    monkeypatch.setattr(faults, "raising", False)
    of, right = kind("circuit"), kind("circuit").hand_up
    try:
        object.__setattr__(of, "hand_up", lambda *_: 1 / 0)
        document = _file("30 kW")
        document["parts"][0]["parts"][0]["parts"][0]["entries"] = {
            "loads": [{"id": "a", "nameplate": "5 kW"}]
        }
        found = jobfile.work(document)
    finally:
        object.__setattr__(of, "hand_up", right)
    by_kind = {part["kind"]: part for part in found["parts"]}
    assert by_kind["service"]["status"] == by_kind["supply"]["status"] == "incomplete"
