"""What holds for every kind of part: any document is worked or answered, every line cites a rule
and a cell that are there, what comes out is plain JSON."""

import json

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.cli.sheet import report
from voltaje.core.codes import Amendment, amended, edition, editions
from voltaje.core.electrical.systems import SYSTEMS, Demand, Piece, SupplyPoint
from voltaje.core.entries import Entries, fields, parse, schema
from voltaje.core.job.calculate import Memory, PartInput, calculate_job
from voltaje.core.kinds import Context, evaluate, kind, kinds
from voltaje.core.report import to_json
from voltaje.core.rules.iec60364 import METRIC as FAMILIES
from voltaje.core.rules.interface import code_of
from voltaje.core.rules.settings import Shop

BELOW = Demand.of(
    [
        Piece("Lights", "lighting", 4000, 4000, 11.1, "three-phase", continuous=1.0),
        Piece("Outlets", "receptacles", 14_000, 14_000, 116.7, "line-neutral"),
        Piece("Fan", "motor", 8718, 8718, 24.2, "three-phase", motor=24.2, device=70),
        Piece("Heater", "heating", 6000, 6000, 28.8, "two-line", group="air"),
        Piece("Cooler", "cooling", 5000, 5000, 24.0, "two-line", group="air"),
    ]
)
GOOD = {
    "cable_tray": {"cables": [{"count": "4", "diameter": "1.2", "large": "yes"}]},
    "box_fill": {"conductors": [{"count": "4", "size": "12"}], "devices": [{"count": "1", "size": "12"}]},
    "raceway_fill": {"conductors": [{"count": "3", "size": "4/0"}, {"count": "1", "size": "4", "carries": "no"}]},
    "grounding": {"size": "500", "device_ahead": "400 A", "neutral": "180 A", "water_pipe": "yes", "rod": "yes"},
    "supply": {"system": "3ph-208Y/120", "rating": "400 A", "fault": "14 kA", "measured_voltage": "212 V"},
    "service": {"water_pipe": "yes", "rod": "yes", "interrupting": "22 kA", "length": "40 ft"},
    "transformer": {"connection": "delta-wye", "kva": "45 kVA", "impedance": "4", "length": "20 ft",
                    "secondary": "3ph-480Y/277"},
    "feeder": {"floors": [{"name": "Warehouse", "area": "9000"}], "receptacles": "30",
               "loads": [{"name": "Sign", "nameplate": "1.2 kW", "continuous": "yes"}],
               "length": "120 ft", "ambient": "40 °C", "others": "3"},
    "board": {"rating": "225 A", "main": "200 A", "spaces": "42", "interrupting": "10 kA"},
    "circuit": {"use": "kiln", "load": "9.6 kW", "connection": "two-line", "rated_volts": "240",
                "length": "80 ft", "ambient": "44", "others": "5", "size": "3", "shared_neutral": ""},
    "cable_run": {"connection": "two-line", "size": "6", "maximum_drop": "4", "upstream_drop": "1", "segments": [
        {"id": "a", "name": "Post", "length": "120 ft", "nameplate": "600 W", "power_factor": "0.9"},
        {"id": "b", "name": "House", "length": "90 ft", "nameplate": "14 A", "mv": "5"}]},
    "multiwire_circuit": {"size": "10", "opened_at": "N:2", "loads": [
        {"id": "a", "name": "Kettle", "nameplate": "1.4 kW", "circuit": "A", "length": "40 ft"},
        {"id": "b", "name": "Lamp", "nameplate": "60 W", "circuit": "B", "length": "9 ft",
         "third_harmonic": "30"}]},
    "cooking": {"layout": "together", "cooktop": "7 kW", "oven_1": "4 kW", "length": "40 ft"},
    "motor": {"horsepower": "10", "nameplate": "28 A", "service_factor": "1.15",
              "actual_volts": "196 V", "length": "90 ft", "duty": "continuous"},
    "dwelling": {"area": "1500", "cooking": [{"name": "Range", "nameplate": "12 kW"}]},
    "winding_connections": {"units": [{"id": u, "name": u, "first": "400 V", "second": "231 V"} for u in "xyz"],
               "joints": [{"id": "h", "ends": "A x1+ z1-; B y1+ x1-; C z1+ y1-"},
                          {"id": "l", "ends": "a x2+; b y2+; c z2+; n N x2- y2- z2-"}],
               "supply": "400 V", "meter": "x2+ y2-"},
    "distribution": {"load": "14 kW", "length": "40 m", "cable": "armoured 90", "ambient": "25",
                     "reference_method": "E", "external_loop": "0.3", "device_type": "gG"},
    "machine": {"power": "7.5 kW", "length": "35 m", "device_type": "D", "external_loop": "0.2",
                "starting_current": "6.5"},
    "trunking": {"length": "4 m", "bends": "1", "cables": [{"count": "6", "size": "2.5"}]},
    "earthing": {"line_conductor": "35", "earthing": "TN-C-S", "fault": "1.2 kA", "clearing_time": "0.4"},
    "inverter": {"power": "20 kW", "maximum_current": "26 A", "enclosure_temperature": "50", "adjacent_breakers": "1", "bus_rating": "200 A",
                 "main": "150 A", "bus_other_devices": "120 A", "connection_point": "opposite", "length": "60 ft"},
    "breaker": {"rating": "63 A", "enclosure_temperature": "50", "adjacent_breakers": "2", "load": "40 A",
                "manufacturer_table": [{"id": "a", "enclosure_temperature": "40", "factor": "0.98"},
                           {"id": "b", "enclosure_temperature": "60", "factor": "0.85"}]},
    "buck_boost": {"measured_voltage": "204 V", "required_voltage": "240 V", "load": "9.6 kVA", "load_type": "heater"},
    "bank": {"primary": "480 V", "secondary": "240 V", "kva": "15 kVA", "supply": "480 V",
             "required_voltage": "240 V", "reversed_secondary": "2", "impedance": "3", "load": "30 kVA"},
    "autotransformer": {"winding": "2400 V", "other_winding": "240 V", "kva": "50 kVA", "source_voltage": "2640 V",
                        "required_voltage": "2400 V", "load": "500 kVA"},
    "street": {"fuse": "100 A", "size": "6", "opened": "N", "opened_behind": "1", "consumers": [
        {"id": "a", "name": "No. 1", "length": "30 ft", "nameplate": "2 kW", "power_factor": "0.95"},
        {"id": "b", "name": "No. 2", "length": "60 ft", "nameplate": "9 A", "line": "L2"},
        {"id": "c", "name": "No. 3", "length": "40 ft", "nameplate": "1.1 kW", "pinned": True}]},
    "amperes": {"power": "10 hp", "voltage": "240 V", "power_factor": "0.85", "efficiency": "88"},
}  # fmt: skip
NASTY = [
    "",
    "-5",
    "1e9",
    "0",
    "abc",
    "٣",
    "12 kW\t3 kW",
    "NaN",
    "inf",
    "9" * 300,
    "½",
    "1,2,3",
    "🔥 kW",
]
NAMES = [item.name for item in kinds()]
# what a document says otherwise under a metric code; the method of laying by each family's own name
METRIC = {
    "circuit": {"use": "cooker", "load": "9.6 kW", "length": "18 m", "external_loop": "0.3",
                "rcd": "30", "reference_method": "C", "installation_method": "1",
                "installed": "touching", "drop_method": "finer"},
    "distribution": {**GOOD["distribution"], "reference_method": "D", "installation_method": "11",
                     "installed": "buried", "ambient": "40"},
    "street": {**GOOD["street"], "size": "10 mm²", "cable": "multi", "reference_method": "C"},
    "cable_run": {"connection": "three-phase", "size": "6 mm²", "cable": "multi", "reference_method": "C",
            "installation_method": "1", "installed": "touching", "segments": [
                {"id": "a", "name": "Post", "length": "30 m", "nameplate": "6 kW", "power_factor": "0.9"},
                {"id": "b", "name": "Shed", "length": "25 m", "nameplate": "14 A"}]},
    "multiwire_circuit": {**GOOD["multiwire_circuit"], "size": "4 mm²", "cable": "multi",
                          "reference_method": "C", "installation_method": "1", "installed": "touching"},
    "supply": {"system": "3ph-400Y/230", "fault": "9 kA", "earthing": "TN-C-S"},
    "dwelling": {"device_type": "gG", "length": "12 m", "external_loop": "0.2", "uses": [
        {"id": "a", "name": "Lights", "use": "lighting", "load": "900 W", "count": "2"},
        {"id": "b", "name": "Range", "use": "cooking", "load": "9 kW"},
        {"id": "c", "name": "Shower", "use": "other", "load": "12 kW",
         "connection": "three-phase"}]},
}  # fmt: skip
CANADA = {
    "dwelling": {"area": "140 m²", "basement": "60 m²", "cooking": [{"nameplate": "14 kW"}],
                 "appliances": [{"nameplate": "7.2 kW", "counts_as": "vehicle"}],
                 "climate": [{"nameplate": "14 kW"}, {"nameplate": "4 kW", "what": "cooling"}]},
    "feeder": {"receptacles": "30", "length": "120 ft", "ambient": "40 °C", "others": "3"},
}  # fmt: skip
COVERED = [(code.id, name) for code in editions() for name in NAMES
           if kind(name).covers(code_of(code.family))]  # fmt: skip


def good(name, book):
    """The document of a kind as that edition has it."""
    document = GOOD[name]
    if book.family in FAMILIES:
        return METRIC.get(name, document)
    if book.family == "cec":
        return CANADA.get(name, document)
    if name == "feeder" and book.id != "nec-2017":
        return {**document, "floors": [{"name": "Workshop", "area": "9000"}]}
    return document


def run(name, document, code="nec-2020", system="3ph-208Y/120", units="us", shop=None):
    of = kind(name)
    if name == "dwelling":
        system = "1ph-120/240"
    if not of.covers(code_of(edition(code).family)):
        code = editions(of.families[0])[-1].id
    if edition(code).family in FAMILIES:
        system = "3ph-400Y/230"
    context = Context(edition(code), units, SupplyPoint(SYSTEMS[system], fault=9000.0),
                      BELOW if of.holds_parts else Demand(), shop or Shop())  # fmt: skip
    return evaluate(of, document, context)


@pytest.mark.parametrize(("code", "name"), COVERED)
def test_every_line_cites_what_is_there(code, name):
    document = good(name, edition(code))
    found = run(name, document, code)
    assert found.report, found.problems
    book = found.context.edition
    rules = [r for s in found.report.sections for line in s.lines for r in line.rules]
    rules += [r for f in found.report.findings for r in f.rules]
    rules += [test.rule for test in found.report.tests]
    rules += [r for pair in found.report.alternatives for r in pair.rules]
    # plain amperes go by no rule of a metric code
    assert rules or (name == "amperes" and book.family != "nec")
    for rule in rules:
        other = edition(rule.edition)  # a cooking circuit cites the other editions too
        assert other.text(rule.topic).number == rule.number
        if rule.row and rule.column != "value":
            table = (book if rule.edition == book.id else other).table(rule.topic)
            assert rule.row in table.rows, rule
            assert not rule.column or rule.column in table.columns, rule


@pytest.mark.parametrize("name", NAMES)
def test_what_comes_out_is_plain_and_says_what_it_is(name):
    worked = run(name, GOOD[name] if name != "feeder" else {"receptacles": "9"}).report
    data = json.loads(json.dumps(to_json(worked)))
    assert data["kind"] == name and data["results"] and data["sections"]
    assert all(line["label"] for section in data["sections"] for line in section["lines"])
    assert set(worked.answer) <= set(worked.results) and worked.headline
    assert (
        report(run(name, {"area": "-1"} if name == "dwelling" else {"nothing": "1"}))["ok"] is False
    )


@pytest.mark.parametrize("name", NAMES)
def test_good_documents_fit_their_schema_and_labels_are_there(name):
    of = kind(name)
    document = {k: ([{**row, "id": f"r{i}"} for i, row in enumerate(v)] if isinstance(v, list) else v)
                for k, v in GOOD[name].items()}  # fmt: skip
    flags = {s.name for s in fields(of.entries) if s.kind == "check"}
    plain = {k: (v == "yes" if k in flags else v) for k, v in document.items()}
    for rows in plain.values():
        for row in rows if isinstance(rows, list) else ():
            if "continuous" in row:
                row["continuous"] = row["continuous"] == "yes"
    jsonschema.validate(plain, schema(of.entries))
    for spec in fields(of.entries):
        # what no form asks (accepted checks) is in no group
        assert spec.label and (spec.group in of.form_groups or spec.name in Entries.model_fields)
        if spec.when:
            other = next(s for s in fields(of.entries) if s.name == spec.when[0])
            known = {value for value, _ in other.choices}
            assert set(spec.when[1]) <= known, spec.name


@pytest.mark.parametrize("name", NAMES)
def test_defaults_read_back_as_they_are_shown(name):
    """A form shows each default as text; typed back, it is the same entry."""
    of = kind(name)
    shown = {s.name: s.default for s in fields(of.entries) if s.default and s.kind != "rows"}
    first, second = parse(of.entries, {}), parse(of.entries, shown)
    if first.entries is not None:
        assert second.entries == first.entries
    else:
        assert {p.path for p in second.problems} == {p.path for p in first.problems}


@pytest.mark.parametrize("name", NAMES)
def test_any_text_in_any_entry_is_worked_or_answered(name):
    of = kind(name)
    for spec in fields(of.entries):
        for text in NASTY:
            found = run(name, {**GOOD[name], spec.name: text})
            assert (found.report is None) == bool(found.problems), (spec.name, text)
            assert all(p.words for p in found.problems)


@settings(max_examples=examples(150))
@given(st.sampled_from(NAMES), st.data())
def test_any_combination_of_choices_is_worked_or_answered(name, data):
    of = kind(name)
    document = dict(GOOD[name])
    for spec in fields(of.entries):
        if spec.kind == "choice" and data.draw(st.booleans(), label=spec.name):
            document[spec.name] = data.draw(st.sampled_from([v for v, _ in spec.choices]))
        elif spec.kind == "check":
            document[spec.name] = data.draw(st.sampled_from(["yes", ""]))
    system = data.draw(st.sampled_from(list(SYSTEMS)))
    found = run(name, document, data.draw(st.sampled_from([e.id for e in editions("nec")])), system)
    assert (found.report is None) == bool(found.problems)
    if found.report:
        json.dumps(to_json(found.report))
        assert all(str(f.words) for f in found.report.findings)
        for pair in found.report.alternatives:
            assert pair.mass > 0 and str(pair.why)


@pytest.mark.parametrize("name", NAMES)
def test_metric_and_us_documents_are_one(name):
    """Entries with their units written mean the same under either preference."""
    one, other = (run(name, {k: v for k, v in GOOD[name].items() if k not in ("floors", "area")
                             } | ({"area": "1500 sq ft"} if name == "dwelling" else {}), units=units)
                  for units in ("us", "metric"))  # fmt: skip
    assert bool(one.report) == bool(other.report)
    if one.report:
        assert one.report.headline == other.report.headline


def small_job(**changes):
    parts = [PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "Supply"),
             PartInput("b", "board", "s", {}, "Board"),
             PartInput("c", "circuit", "b", {"load": "1.5 kW", **changes}, "Circuit")]  # fmt: skip
    return parts


def test_what_is_kept_of_a_job_is_never_another_jobs():
    """A job's memory keeps worked parts: the same document under another edition, amendment,
    habit, supply or demand is worked anew."""
    parts, memory = small_job(), Memory()

    def again(given, code, **more):
        return calculate_job(given, code, memory=memory, **more)

    plain = again(parts, edition("nec-2020"))["c"].report
    assert again(parts, edition("nec-2020"))["c"].report is plain
    later = again(parts, edition("nec-2023"))["c"].report
    assert plain.edition == "nec-2020" and later.edition == "nec-2023"
    county = amended("nec-2020", (Amendment("ampacity", "14", "copper 60", "10", "County", "Law"),))
    assert again(parts, county)["c"].report.headline != plain.headline
    habit = again(parts, edition("nec-2020"), shop=Shop("maximum"))["c"].report
    assert habit.value("device") >= plain.value("device")
    back = again(parts, edition("nec-2020"))
    assert to_json(back["c"].report) == to_json(plain)
    heavier = again(small_job(load="1.6 kW"), edition("nec-2020"))
    assert heavier["b"].report.value("connected_load") == 1600
    before = again(parts, edition("nec-2020"))
    assert before["b"].report.value("connected_load") == 1500
    metric = again(small_job(length="20"), edition("nec-2020"), units="metric")
    us = again(small_job(length="20"), edition("nec-2020"))
    assert metric["c"].outcome.drop > 3 * us["c"].outcome.drop


def test_names_of_parts_reach_the_findings():
    parts = small_job(shared_neutral="K1")
    board = calculate_job(parts, edition("nec-2020"))["b"].report
    assert any("only Circuit names" in str(f.words) for f in board.findings)
