"""Bad input is answered at its field, in words of the trade; the schema says what is taken."""

import json

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.entries import Entries, fields, name_units, parse, row_models, schema, walk
from voltaje.core.kinds import Context, evaluate, kind, kinds
from voltaje.core.kinds.dwelling.nec.entries import DwellingEntries
from voltaje.core.report import figure
from voltaje.core.rules.interface import code_of, families

GOOD = {"area": 1500}


@pytest.mark.parametrize(
    ("document", "path", "words"),
    [
        ({}, "area", "Needed"),
        ({"area": ""}, "area", "Needed"),
        ({"area": "big"}, "area", "1480 sq ft"),
        ({"area": "-5"}, "area", "1 ft² to 100,000 ft²"),
        ({"area": 0}, "area", "Out of range"),
        ({"area": 1e9}, "area", "Out of range"),
        ({"area": True}, "area", "one figure"),
        ({"area": [1]}, "area", "one figure"),
        ({"area": "1500 kW"}, "area", "That is a load"),
        ({**GOOD, "small_appliance_circuits": 1}, "small_appliance_circuits", "2 to 100"),
        ({**GOOD, "small_appliance_circuits": 2.5}, "small_appliance_circuits", "whole number"),
        ({**GOOD, "method": "best"}, "method", "'standard' or 'optional'"),
        ({**GOOD, "colour": "red"}, "colour", "not known"),
        ({**GOOD, "appliances": "many"}, "appliances", "list of rows"),
        ({**GOOD, "appliances": [{"name": "X" * 61, "nameplate": 1}]}, "appliances.r0.name",
         "at most 60"),
        ({**GOOD, "appliances": [{"name": "Heater"}]}, "appliances.r0.nameplate", "Needed"),
        ({**GOOD, "appliances": [{"nameplate": 1e9}]}, "appliances.r0.nameplate", "1,000,000 VA"),
        ({**GOOD, "appliances": [{"nameplate": "5 A 0 V"}]}, "appliances.r0.nameplate",
         "above zero"),
        ({**GOOD, "appliances": [{"nameplate": "12 hp"}]}, "appliances.r0.nameplate", "10 hp"),
        ({**GOOD, "appliances": [{"nameplate": "6 A 230 V"}]}, "appliances.r0.connection",
         "choose 240 V"),
        ({**GOOD, "appliances": [{"nameplate": 9, "connection": "240", "line": "L1"}]},
         "appliances.r0.line", "both lines"),
        ({**GOOD, "appliances": [{"nameplate": 9, "count": 0}]}, "appliances.r0.count", "1 to 100"),
        ({**GOOD, "cooking": [{"nameplate": "30 kW"}]}, "cooking.r0.nameplate", "27,000 VA"),
        ({**GOOD, "appliances": [{"nameplate": 1}] * 10_000}, "appliances", "10,000 rows"),
        ({**GOOD, "appliances": [{"id": "a b", "nameplate": 1}]}, "appliances.a b.id", "letters"),
        ({"calculation": "measured"}, "measured_demand", "Needed"),
        ({"calculation": "added", "area": 1500}, "existing_service", "Needed"),
        ({**GOOD, **{f"k{i}": 1 for i in range(70_000)}}, "", "70,000 entries are not known here, such as k0"),
        ({**GOOD, "appliances": [{f"k{i}": 1 for i in range(70_000)}]}, "", "appliances.0.k0"),
        ({**GOOD, "version": 99}, "version", "version 99"),
    ],
)  # fmt: skip
def test_problems(document, path, words):
    problems = {p.path: p.words for p in parse(DwellingEntries, document).problems}
    assert words in problems[path], problems


def test_rows_with_nothing_typed_are_passed_over():
    parsed = parse(DwellingEntries, {**GOOD, "appliances": [{"name": " ", "nameplate": ""}]})
    assert parsed.problems == () and parsed.entries.appliances == ()


plain = st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=20)
columns = st.sampled_from(["id", "name", "nameplate", "count", "x"])


def inside(inner):
    """Lists and rows of these."""
    return st.lists(inner, max_size=3) | st.dictionaries(columns, inner, max_size=3)


json_values = plain | inside(plain) | inside(inside(plain))
names = st.sampled_from([*DwellingEntries.model_fields, "version", "other"])


@settings(max_examples=examples(300))
@given(st.dictionaries(names, json_values, max_size=6))
def test_any_document_is_worked_or_answered(found, document):
    result = found(document)
    assert (result.report is None) == bool(result.problems)
    assert all(problem.words for problem in result.problems)


@pytest.mark.parametrize("document", [[], "text", None, 5])
def test_what_is_no_object_is_answered(document):
    assert parse(DwellingEntries, document).problems[0].words.startswith("The entries must be")


def test_every_kind_has_labels_groups_and_a_schema():
    for item in kinds():
        specs = fields(item.entries)
        asked = [spec for spec in specs if spec.name not in Entries.model_fields]  # by a form
        assert all(spec.label and spec.group in item.form_groups for spec in asked)
        jsonschema.Draft202012Validator.check_schema(schema(item.entries))


def test_the_schema_takes_what_is_worked_and_refuses_what_is_not():
    validator = jsonschema.Draft202012Validator(schema(DwellingEntries))
    good = {"area": "1500 sq ft", "cooking": [{"nameplate": "12 kW"}], "version": 1}
    assert validator.is_valid(good)
    for bad in ({"colour": 1}, {"method": "best"}, {"area": -1}, {"appliances": [{}]}):
        assert not validator.is_valid(bad), json.dumps(bad)


def test_bare_figures_are_given_their_unit():
    typed = {"area": "1,480", "laundry_circuits": "1", "cooking": [{"id": "c", "nameplate": "12"}]}
    named = name_units(DwellingEntries, typed, "us")
    assert named == {"area": "1,480 ft²", "laundry_circuits": "1",
                     "cooking": [{"id": "c", "nameplate": "12 VA"}]}  # fmt: skip
    assert name_units(DwellingEntries, named, "metric") == named
    assert name_units(DwellingEntries, {"area": "big"}, "us") == {"area": "big"}
    assert dict(walk(named))["cooking.c.nameplate"] == "12 VA"


@pytest.mark.parametrize(
    ("kind_name", "document", "path", "odd", "meant"),
    [
        # a kilowatt was meant
        ("cooking", {"layout": "range", "nameplate": "14.2"}, "nameplate", "14.2 VA is little for a range", "14,200 VA"),
        ("dwelling", {"area": "1500", "cooking": [{"id": "r1", "nameplate": "14.2 VA"}]},
         "cooking.r1.nameplate", "little for a range", "14,200 VA"),
        ("dwelling", {"area": "99000"}, "area", "much for a dwelling", "Usual is"),
        ("circuit", {"use": "water heater", "load": "4.5 W", "connection": "two-line"}, "load",
         "little for a water heater", "4,500 VA"),
        ("circuit", {"load": "10 A", "length": "9000 ft"}, "length", "much for a run", "Usual is"),
        ("transformer", {"kva": "5 kVA", "impedance": "12", "connection": "single-phase", "secondary": "1ph-120"}, "impedance", "much", "Usual is"),
    ],
)  # fmt: skip
def test_a_figure_that_is_absurd_for_its_use_is_asked_about(kind_name, document, path, odd, meant):
    found = evaluate(kind(kind_name), document, Context(supply=SupplyPoint(SYSTEMS["1ph-120/240"])))
    assert found.report is not None, found.problems
    asked = next(f for f in found.report.findings if f.name == "unusual")
    assert (asked.severity, asked.entries) == ("check", (path,))
    assert odd in str(asked.words) and meant in str(asked.remedy)


@pytest.mark.parametrize(
    ("kind_name", "row", "kept"),
    [
        # every column counts, not only a name, a nameplate or a length
        ("feeder", {"floors": [{"area": "900 sq ft"}]}, "floors.r0.name"),
        ("feeder", {"floors": [{"name": "Store"}]}, "floors.r0.area"),
        ("feeder", {"loads": [{"category": "kitchen"}]}, "loads.r0.nameplate"),
        ("dwelling", {"area": 900, "appliances": [{"place": "own"}]}, "appliances.r0.nameplate"),
        ("dwelling", {"area": 900, "appliances": [{"motor": "yes"}]}, "appliances.r0.nameplate"),
        ("dwelling", {"area": 900, "cooking": [{"count": "2"}]}, "cooking.r0.nameplate"),
        ("cable_run", {"segments": [{"mv": "5"}]}, "segments.r0.length"),
        # what it begins with counts too, once it is told
        ("dwelling", {"area": 900, "appliances": [{"place": "fixed", "connection": "120", "count": "1",
                                                  "motor": "", "line": "auto", "name": "", "nameplate": " "}]}, "appliances.r0.nameplate"),
        # a row in which nothing is told is passed over
        ("dwelling", {"area": 900, "cooking": [{"id": "r9"}, {}]}, None),
    ],
)  # fmt: skip
def test_a_row_keeps_whatever_was_typed_in_it(kind_name, row, kept):
    found = evaluate(kind(kind_name), row, Context(supply=SupplyPoint(SYSTEMS["3ph-208Y/120"]) if kind_name != "dwelling"
                                                   else SupplyPoint(SYSTEMS["1ph-120/240"])))  # fmt: skip
    assert [p.path for p in found.problems][:1] == ([kept] if kept else [])


@pytest.mark.parametrize(("value", "shown"), [
    (-0.02, "0"), (-0.0, "0"), (-0.06, "-0.1"), (12_345.65, "12,345.7"), (1e26, "1e+26"),
    (-1e300, "-1e+300"), (float("inf"), "inf"), (1e14, "100,000,000,000,000"),
])  # fmt: skip
def test_a_figure_of_any_size_is_shown(value, shown):
    assert figure(value, 1) == shown


def test_a_row_of_usual_values_counts_in_every_kind():
    """Under every family: told as it stands on the form it counts, or asks for what it needs."""
    seen = 0
    for of in kinds():
        for code in families():
            model = of.entries_in(code)
            for name, row in row_models(model).items():
                told = {spec.name: spec.default or spec.choices[0][0] if spec.choices else spec.default
                        for spec in fields(row) if spec.default or spec.choices}  # fmt: skip
                if not told:
                    continue
                seen += 1
                found = parse(model, {name: [told]}, "us", of.elsewhere(code))
                at_row = [p for p in found.problems if p.path.startswith(f"{name}.r0")]
                assert at_row or found.entries is None or len(getattr(found.entries, name)) == 1
                assert found.problems or len(getattr(found.entries, name)) == 1
    assert seen > 12


def test_one_point_of_light_in_a_block_of_homes():
    """AS/NZS 3000 table C1: the lighting of a block is not left out for being the usual row."""
    light = {"id": "a", "use": "lighting", "count": "1"}
    power = {"id": "b", "use": "other", "load": "4 kW"}
    supply = SupplyPoint(SYSTEMS["3ph-400Y/230"])
    context = Context(edition("asnzs3000-2018"), "metric", supply)
    both, one = (evaluate(kind("dwelling"), {"living_units": "12", "uses": rows}, context).report
                 for rows in ([light, power], [power]))  # fmt: skip
    assert both.value("amperes") > one.value("amperes") + 1


@pytest.mark.parametrize(
    ("said", "means"),
    [("yes", True), ("Yes", True), (" on ", True), (True, True), ("y", True), (1, True),
     ("no", False), ("", False), ("off", False), (False, False), ("n", False)],
)  # fmt: skip
def test_a_box_says_yes_or_no(said, means):
    entries = parse(
        kind("circuit").entries_in(code_of("nec")), {"load": "2 kW", "nonlinear": said}
    ).entries
    assert entries.nonlinear is means


@pytest.mark.parametrize("said", ["maybe", "oui", "yes please", "2", [], {}])
def test_another_word_in_a_box_is_never_taken_for_no(said):
    """It might have been meant as yes: a load taken for one that is not continuous is the unsafe
    side."""
    found = parse(kind("circuit").entries_in(code_of("nec")), {"load": "2 kW", "nonlinear": said})
    assert [(p.path, p.words) for p in found.problems] == [("nonlinear", "Give yes or no.")]
