"""``voltaje sheet`` and the two passes over a tree."""

import io
import json
import subprocess
import sys

import pytest

from voltaje.core import headless
from voltaje.core.codes import edition
from voltaje.core.study import PartInput, study, supply_point

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
        (["--list"], "", 0, "dwelling"),
        (["dwelling", "--schema"], "", 0, "small_appliance_circuits"),
    ],
)
def test_answers(capsys, monkeypatch, arguments, typed, status, words):
    code, out, err = run(capsys, monkeypatch, arguments, typed)
    assert code == status and words in out + err


def test_needs_neither_django_nor_scipy():
    script = "import sys, voltaje.core.headless, voltaje.core.parts as p; p.kinds();" \
             " print([m for m in ('django', 'psycopg', 'scipy.sparse') if m in sys.modules])"  # fmt: skip
    found = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True)
    assert found.stdout.strip() == "[]", found.stderr


def tree(system="1ph-120/240", dwelling=D1A):
    return [
        PartInput("s", "supply", None, {"system": system, "rating": "90 A"}),
        PartInput("d1", "dwelling", "s", dwelling),
        PartInput("d2", "dwelling", "s", {"area": 900}),
    ]


def test_loads_flow_up():
    found = study(tree(), edition("nec-2020"))
    loads = [found[key].worked.value("calculated_load") for key in ("s", "d1", "d2")]
    assert loads[0] == loads[1] + loads[2]
    assert found["s"].worked.status == "fails"  # 96 A on 90 A


def test_volts_flow_down():
    parts = tree("1ph-120/208")
    found = study(parts, edition("nec-2020"))
    assert supply_point(parts, "d1").system.line_to_line == 208
    assert found["d1"].worked.value("amperes") == round(18600 / 208)


def test_a_part_with_problems_leaves_the_rest_standing():
    found = study(tree(dwelling={}), edition("nec-2020"))
    assert found["d1"].problems and found["d2"].worked and found["s"].worked
    wrong = study(tree("3ph-480Y/277"), edition("nec-2020"))
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
        study(parts, edition("nec-2020"))
