"""``voltaje sheet`` and the two passes over a tree."""

import io
import json
import subprocess
import sys

import pytest

from voltaje.core.cli import job as jobfile
from voltaje.core.cli import sheet as headless
from voltaje.core.codes import edition
from voltaje.core.job.calculate import PartInput, calculate_job, supply_point
from voltaje.core.rules.context import Context

D1A = {"area": "1500 sq ft", "cooking": [{"nameplate": "12 kW"}], "dryers": [{"nameplate": 5500}]}


def run(capsys, monkeypatch, arguments, typed=""):
    monkeypatch.setattr(sys, "stdin", io.StringIO(typed))
    code = headless.main(arguments)
    out, err = capsys.readouterr()
    return code, out, err


@pytest.mark.parametrize("code", ["nec-2017", "nec-2020", "nec-2023"])
def test_prints_the_worksheet(capsys, monkeypatch, code):
    status, out, _ = run(capsys, monkeypatch, ["dwelling", "--code", code, "-"], json.dumps(D1A))
    found = json.loads(out)
    assert (status, found["ok"], found["code"]) == (0, True, code)
    assert found["results"]["calculated_load"] == {
        "value": 18600.0, "unit": "VA", "label": "Calculated load"}  # fmt: skip
    assert found["sections"][0]["lines"][0]["rules"][0]["cite"].startswith("220.")


@pytest.mark.parametrize(
    ("arguments", "typed", "status", "words"),
    [
        (["dwelling", "-"], "{}", 1, '"entry": "area"'),
        (["dwelling", "-"], "[1]", 1, "must be one JSON object"),
        (["dwelling", "-"], "{nonsense", 2, "is not JSON"),
        (["dwelling", "/nowhere.json"], "", 2, "cannot read /nowhere.json"),
        (["dwelling"], "", 2, "which entries?"),
        (["castle", "-"], "{}", 2, "no such kind: castle"),
        (["dwelling", "--code", "nec-1897", "-"], "{}", 2, "no such code: nec-1897"),
        (["dwelling", "-"], '{"area": 900, "area": 1500}', 2, "“area” is given twice"),
        (["dwelling", "-"], '{"area": NaN}', 2, "NaN is no figure"),
        (["dwelling", "-"], '{"area": -Infinity}', 2, "-Infinity is no figure"),
        (["--list"], "", 0, "dwelling"),
        (["--list", "--json"], "", 0, '"codes"'),
        (["dwelling", "--schema"], "", 0, "small_appliance_circuits"),
    ],
)
def test_answers(capsys, monkeypatch, arguments, typed, status, words):
    code, out, err = run(capsys, monkeypatch, arguments, typed)
    assert code == status and words in out + err


def test_needs_neither_django_nor_scipy():
    script = "import sys, voltaje.core.cli.sheet, voltaje.core.kinds as p; p.kinds();" \
             " print([m for m in ('django', 'psycopg', 'scipy.sparse') if m in sys.modules])"  # fmt: skip
    found = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert found.stdout.strip() == "[]", found.stderr


def tree(system="1ph-120/240", dwelling=D1A):
    return [
        PartInput("s", "supply", None, {"system": system, "rating": "80 A"}),
        PartInput("d1", "dwelling", "s", dwelling),
        PartInput("d2", "dwelling", "s", {"area": 900}),
    ]


def test_loads_flow_up():
    found = calculate_job(tree(), edition("nec-2020"))
    loads = [found[key].report.value("calculated_load") for key in ("s", "d1", "d2")]
    # counted together: 3,000 + 13,200 at 35 %, a range 8,000 by column C, a dryer 5,500
    assert loads == [3000 + 0.35 * 13_200 + 8000 + 5500, 18_600, 4470]
    assert found["s"].report.status == "fail"  # 88 A on 80 A


def test_volts_flow_down():
    parts = tree("1ph-120/208")
    found = calculate_job(parts, edition("nec-2020"))
    assert supply_point(parts, "d1", Context()).system.line_to_line == 208
    assert found["d1"].report.value("amperes") == round(18600 / 208)


def test_a_part_with_problems_leaves_the_rest_standing():
    found = calculate_job(tree(dwelling={}), edition("nec-2020"))
    assert found["d1"].problems and found["d2"].report and found["s"].report
    wrong = calculate_job(tree("3ph-480Y/277"), edition("nec-2020"))
    assert "not covered" in wrong["d1"].problems[0].words


@pytest.mark.parametrize(
    "parts",
    [
        [PartInput("a", "supply", "b", {}), PartInput("b", "supply", "a", {})],
        [PartInput("a", "supply", "x", {})],
    ],
)
def test_a_tree_that_is_none_is_refused(parts):
    with pytest.raises(ValueError, match="loop|not there"):
        calculate_job(parts, edition("nec-2020"))


@pytest.mark.parametrize(
    ("kind", "entry", "units", "bare", "text"),
    [("transformer", "kva", "us", 75, "75 kVA"), ("dwelling", "area", "us", 1500, "1500 sq ft"),
     ("dwelling", "area", "metric", 140, "140 m²"), ("circuit", "length", "metric", 20, "20 m")],
)  # fmt: skip
def test_a_bare_figure_means_what_the_schema_says(
    capsys, monkeypatch, kind, entry, units, bare, text
):
    """The same answer from the bare figure and from the figure with the unit that is named."""
    _, out, _ = run(capsys, monkeypatch, [kind, "--units", units, "--schema"])
    said = json.loads(out)["properties"][entry]
    assert f"in {text.split(' ', 1)[1].replace('sq ft', 'ft²')};" in json.dumps(
        said, ensure_ascii=False
    )
    rest = {"dwelling": {}, "transformer": {}, "circuit": {"load": "10 A"}}[kind]
    system = "3ph-480Y/277" if kind == "transformer" else "1ph-120/240"
    answers = [
        run(capsys, monkeypatch, [kind, "--units", units, "--system", system, "-"],
            json.dumps({**rest, entry: value}))[1]
        for value in (bare, str(bare), text)
    ]  # fmt: skip
    assert answers[0] == answers[1] == answers[2] and '"ok": true' in answers[0]


def test_what_only_wants_the_head_ends_quietly():
    script = f"{sys.executable} -m voltaje.core.cli.sheet dwelling --schema | head -n 2"
    found = subprocess.run(script, shell=True, capture_output=True, text=True)
    assert found.stderr == "" and found.stdout.count("\n") == 2


JOB = {
    "name": "Mill", "code": "nec-2020", "drop": {"sizing": "total"},
    "amendments": [{"topic": "limits", "row": "receptacle_load", "value": "360", "jurisdiction": "County"}],
    "parts": [{
        "kind": "supply", "name": "Service point",
        "entries": {"system": "3ph-208Y/120", "fault": "22 kA", "volts": "206 V"},
        "parts": [{
            "kind": "service", "name": "Service", "entries": {"water_pipe": "yes", "rod": "yes", "length": "30 ft"},
            "parts": [{
                "kind": "board", "name": "LP1", "entries": {"rating": "225 A"},
                "readings": [{"point": "L1", "value": 119}],
                "parts": [
                    {"kind": "circuit", "name": "Desks", "entries": {"use": "receptacles", "outlets": 5}},
                    {"kind": "motor", "name": "Saw", "entries": {"horsepower": "5 hp", "length": "120 ft"}},
                ],
            }],
        }],
    }],
}  # fmt: skip


def work_job(capsys, monkeypatch, document):
    monkeypatch.setattr(sys, "stdin", io.StringIO(json.dumps(document)))
    code = jobfile.main(["-"])
    out, _ = capsys.readouterr()
    return code, json.loads(out)


def test_a_whole_job_from_a_file(capsys, monkeypatch):
    code, found = work_job(capsys, monkeypatch, JOB)
    parts = {part["name"]: part for part in found["parts"]}
    assert (code, found["ok"]) == (0, True)
    assert parts["Saw"]["place"] == "1.1.1.2" and parts["Saw"]["headline"]
    # amended: 360 VA an outlet
    assert parts["Desks"]["results"]["load"]["value"] == 5 * 360
    load = parts["LP1"]["results"]["calculated_load"]["value"]
    assert parts["Service"]["results"]["calculated_load"]["value"] == pytest.approx(load)
    assert parts["Service"]["results"]["grounded_conductor_sets"]["value"] == 1
    assert parts["Service point"]["results"]["amperes_exact"]["value"] > 0
    assert parts["LP1"]["readings"][0]["verdict"] in ("agrees", "check", "differs", "unknown")
    # the parts of a file are worked as the tree of a job is
    flat = [part for part, _ in jobfile.flat(jobfile.JobIn.model_validate(JOB).parts)]
    assert [part.id for part in flat] == [part["place"] for part in found["parts"]]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"code": "nec-1897"}, "no such code"), ({"parts": []}, "at least 1"), ({"colour": 1}, "xtra"),
        ({"parts": [{"kind": "castle"}]}, "no such kind: castle"),
        ({"parts": [{"kind": "circuit"}]}, "begins with its supplies"),
        ({"parts": [{"kind": "supply", "parts": [{"kind": "supply"}]}]}, "stands under nothing"),
        ({"parts": [{"kind": "supply", "parts": [{"kind": "circuit", "parts": [{"kind": "motor"}]}]}]},
         "a circuit holds no other parts"),
        ({"amendments": [{"topic": "limits", "row": "continuous", "value": "9999"}]}, "Give a figure from"),
        ({"amendments": [{"topic": "limits", "row": "nothing", "value": "1"}]}, "not covered"),
    ],
)  # fmt: skip
def test_what_a_job_file_may_not_hold(capsys, monkeypatch, change, words):
    code, found = work_job(capsys, monkeypatch, {**JOB, **change})
    assert code == 2 and words in json.dumps(found["problems"])


def test_a_job_file_is_as_deep_as_a_job_may_be(capsys, monkeypatch):
    part = {"kind": "feeder"}
    for _ in range(30):
        part = {"kind": "feeder", "parts": [part]}
    code, found = work_job(capsys, monkeypatch, {"parts": [{"kind": "supply", "parts": [part]}]})
    assert code == 2 and "24 parts deep" in found["problems"][0]["words"]


def test_a_part_with_a_problem_leaves_the_rest_worked(capsys, monkeypatch):
    document = {"parts": [{"kind": "supply", "parts": [
        {"kind": "circuit", "entries": {"load": "much"}}, {"kind": "circuit", "entries": {"load": "9 A"}}]}]}  # fmt: skip
    code, found = work_job(capsys, monkeypatch, document)
    assert code == 3 and [part["ok"] for part in found["parts"]] == [False, False, True]


def test_the_schema_of_a_job_file_names_the_entries_of_every_kind(capsys):
    assert jobfile.main(["--schema"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert {"circuit", "board", "service"} <= set(found["x-entries"]) and "amperes" not in found[
        "x-entries"
    ]


@pytest.mark.parametrize(
    ("code", "units", "system"),
    [("nec-2020", "us", "1ph-120/240"), ("cec-2021", "metric", "1ph-120/240"),
     ("bs7671-2018", "metric", "1ph-230"), ("asnzs3000-2018", "metric", "1ph-230")],
)  # fmt: skip
def test_bare_lengths_are_in_the_codes_own_unit_and_it_is_said(
    capsys, monkeypatch, code, units, system
):
    """20 of a metric code are 20 m, not 20 ft: a third of the drop would be an unsafe answer."""
    own = {"us": "20 ft", "metric": "20 m"}[units]
    entries = {"load": "10 A", "connection": "line-neutral"}
    answers = [
        json.loads(run(capsys, monkeypatch, ["circuit", "--code", code, "-"],
                       json.dumps({**entries, "length": length}))[1])
        for length in ("20", own)
    ]  # fmt: skip
    assert answers[0] == answers[1]
    assert (answers[0]["units"], answers[0]["system"]) == (units, system)
    job = {"code": code, "parts": [{"kind": "supply", "entries": {"system": system}, "parts": [
        {"kind": "circuit", "entries": {**entries, "length": "20"}}]}]}  # fmt: skip
    assert jobfile.work(job)["units"] == units
