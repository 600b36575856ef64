"""Every kind of part through its pages: the sheet, wrong input at each field, drawings that stay
inside their frame, the program's address, the print."""

import json
import re

import pytest
from core.test_every_kind import GOOD
from django.urls import reverse

from voltaje.core.entries import fields
from voltaje.core.kinds import Context, evaluate, job_kinds, kind
from voltaje.web.drawings import scale
from voltaje.web.jobs import actions
from voltaje.web.jobs.demo import MILL
from voltaje.web.jobs.worked import work_job
from voltaje.web.kinds import multiwire_circuit
from voltaje.web.parts.part_views import below
from voltaje.web.parts.respond import result_context

NAMES = [of.name for of in job_kinds() if of.families is None or "nec" in of.families]
FRAME = 388.0


STALLS = {"fuse": "60 A", "size": "6", "consumers": [
    {"id": "a", "name": "Stall 1", "length": "60 ft", "nameplate": "1.2 kW", "power_factor": "1"},
    {"id": "b", "name": "Stall 2", "length": "40 ft", "nameplate": "9 A", "line": "L2"}]}  # fmt: skip


@pytest.fixture
def mill(job, people):
    actions.plant(job, people[0], MILL)
    job.refresh_from_db()
    supply = next(part for part in job.loaded() if part.name == "Mill, 480Y/277 V")
    actions.add_part(job, people[0], "street", str(supply.pk), "Market stalls", STALLS)
    job.refresh_from_db()
    return job


@pytest.fixture
def parts(mill):
    """One part of each kind, the first of the demo."""
    found = {}
    for part in mill.parts.all():
        found.setdefault(part.kind, part)
    return found


def state(answer):
    text = re.search(r'id="state" data-state="([^"]*)"', answer.content.decode())[1]
    for name, sign in (
        ("&quot;", '"'),
        ("&#x27;", "'"),
        ("&lt;", "<"),
        ("&gt;", ">"),
        ("&amp;", "&"),
    ):
        text = text.replace(name, sign)
    return json.loads(text)


@pytest.mark.parametrize("name", NAMES)
def test_every_kind_has_its_sheet_its_print_and_its_json(owner, mill, parts, name):
    part = parts[name]
    for route in ("part", "print", "json"):
        answer = owner.get(reverse(f"jobs:{route}", args=[mill.pk, part.pk]))
        assert answer.status_code == 200, route
    page = owner.get(reverse("jobs:part", args=[mill.pk, part.pk])).content.decode()
    assert f'class="sheet {name}"' in page and 'class="answer"' in page
    assert '<svg class="drawing"' in page
    data = owner.get(reverse("jobs:json", args=[mill.pk, part.pk])).json()
    assert data["ok"] and data["kind"] == name


@pytest.mark.parametrize("name", NAMES)
def test_wrong_input_is_named_at_every_quantity(owner, mill, parts, name):
    part = parts[name]
    url = reverse("jobs:work", args=[mill.pk, part.pk])
    plain = {k: v for k, v in part.entries.items() if not isinstance(v, list)}
    tried = 0
    for spec in fields(kind(name).entries):
        if spec.kind != "quantity":
            continue
        found = state(owner.post(url, {**plain, spec.name: "quite wrong"}))
        words = {p["path"]: p["words"] for p in found["problems"]}
        assert "does not read" in words[spec.name], spec.name
        assert len(words) >= 1
        far = state(owner.post(url, {**plain, spec.name: "-500"}))["problems"]
        assert any(p["path"] == spec.name for p in far), spec.name
        tried += 1
    assert tried >= 1


@pytest.mark.parametrize("name", [n for n in NAMES if n != "dwelling"])
def test_wrong_choices_are_named(owner, mill, parts, name):
    part = parts[name]
    url = reverse("jobs:work", args=[mill.pk, part.pk])
    for spec in fields(kind(name).entries):
        if spec.kind == "choice":
            found = state(owner.post(url, {**part.entries, spec.name: "purple"}))
            assert any(p["path"] == spec.name and "Choose one of" in p["words"]
                       for p in found["problems"]), spec.name  # fmt: skip


def width_of(text, css):
    """About what B612 takes: six and a half units a letter at 11.5, less for the small sizes."""
    return len(text) * (5.6 if " s" in f" {css}" or css == "h" else 6.6)


def test_drawings_stay_inside_their_frame(mill):
    """Every word of every drawing of the demo lies within the drawing's width and height."""

    found = work_job(mill)
    seen = set()
    for part in mill.parts.all():
        worked = found[str(part.pk)].report
        drawing = result_context(worked, below(mill, part, found))["drawing"]
        if not hasattr(drawing, "words"):
            continue
        seen.add(part.kind)
        for view in [view for _, _, view in drawing.views] or [drawing]:
            within(view, part.name)
    assert seen >= {"circuit", "motor", "cooking", "feeder", "board", "transformer", "service",
                    "cable_run", "multiwire_circuit"}  # fmt: skip


def within(drawing, name):
    """Words and boxes of one picture lie inside it."""
    for word in drawing.words:
        wide = width_of(word.text, word.css)
        left = {"start": 0.0, "middle": wide / 2, "end": wide}[word.anchor]
        if "turn" in word.css:
            continue
        assert word.x - left > -8, (name, word.text)
        assert word.x - left + wide < FRAME + 14, (name, word.text)
        assert 0 < word.y < drawing.height + 1, (name, word.text)
    for box in drawing.boxes:
        assert box.x >= 0 and box.x + box.width <= FRAME, (name, box)


def shown(mill, name, **entries):
    """The drawing of a part with other entries."""
    part = mill.parts.get(name=name)
    found = work_job(mill, {str(part.pk): {**part.entries, **entries}})
    return found[str(part.pk)].report, result_context(found[str(part.pk)].report)["drawing"]


@pytest.mark.parametrize("count", [1, 6, 14])
@pytest.mark.parametrize("circuits", ["AB", "ABC"])
def test_the_ladder_holds_few_and_many_loads(mill, count, circuits):
    loads = [{"id": f"r{i}", "name": f"Load with a long name, number {i}", "nameplate": "700 W",
              "circuit": circuits[i % len(circuits)], "length": "9 ft"} for i in range(count)]  # fmt: skip
    _, drawing = shown(mill, "Counter, one neutral for two circuits", loads=loads,
                       c="L3" if circuits == "ABC" else "none")  # fmt: skip
    ladder = drawing.views[0][2]
    for _, label, view in drawing.views:
        within(view, label)
    assert len(ladder.clamps) == count * (len(circuits) + 1)
    assert sum(step.sets.startswith("opened_at=") for step in ladder.steps) == len(ladder.clamps)
    # the numbers of the loads stand in the order of the list under them
    numbers = [w.text for w in ladder.words if w.text.isdigit() and w.anchor == "middle"]
    assert {str(i) for i in range(1, count + 1)} <= set(numbers)


def test_arrows_are_to_scale_and_turn_with_the_neutral(mill):
    """120/240 V: the neutral's arrows point away from the board on one piece and towards it on the
    next; each is as long and as thick as its amperes ask for."""

    loads = [{"id": "a", "name": "A", "nameplate": "1.3 kW", "circuit": "A", "length": "20 ft"},
             {"id": "b", "name": "B", "nameplate": "2 kW", "circuit": "B", "length": "20 ft"},
             {"id": "c", "name": "C", "nameplate": "1.6 kW", "circuit": "A", "length": "20 ft"}]  # fmt: skip
    found = evaluate(kind("multiwire_circuit"), {"loads": loads}, Context())
    ladder = multiwire_circuit.draw(found.report).views[0][2]
    heads = {s.flow: s.d for s in ladder.strokes if s.css == "ampshead"}
    pieces = {p.name: p for p in found.report.points if p.role == "conductor"}
    ways = {name: float(d.split("l")[1].split(" ")[0]) for name, d in heads.items()}
    assert ways["N:1"] * ways["N:2"] < 0 or ways["N:2"] * ways["N:3"] < 0
    assert all(ways[f"A:{i}"] < 0 < ways[f"B:{j}"] for i in (1, 2, 3) for j in (1, 2))
    thick = {s.flow: s.width for s in ladder.strokes if s.css == "amps"}
    order = sorted(thick, key=lambda name: pieces[name].value)
    assert [thick[name] for name in order] == sorted(thick.values())


def test_waves_add_up_to_the_neutral(mill):
    """At every instant the neutral's wave is the circuits' sum, turned round."""
    _, drawing = shown(mill, "Counter, one neutral for two circuits")
    waves = drawing.views[2][2]
    curves = [s.d for s in waves.strokes if s.css.startswith("wire") and "edge" not in s.css]
    lines = [s for s in waves.strokes if s.css == "tickline"]
    middles = [float(s.d.split(" ")[1].split("H")[0]) for s in lines]
    values = [[float(xy.split(" ")[1]) - middle for xy in d[1:].split("L")]
              for d, middle in zip(curves, middles, strict=True)]  # fmt: skip
    for a, b, neutral in zip(*values, strict=True):
        assert neutral == pytest.approx(-(a + b), abs=0.3)


def test_the_profile_falls_and_its_limit_stands_where_it_says(mill):
    worked, drawing = shown(mill, "Gatehouse run")
    path = next(s.d for s in drawing.strokes if s.css == "profile")
    spots = [tuple(float(n) for n in xy.split(" ")) for xy in path[1:].split("L")]
    joints = [p for p in worked.points if p.role == "joint"]
    assert len(spots) == len(joints) == 4
    # one scale for the volts, one for the distance
    per = [(y - spots[0][1]) / (joints[0].value - p.value)
           for (_, y), p in zip(spots[1:], joints[1:], strict=True)]  # fmt: skip
    assert max(per) - min(per) < 0.2
    limit = next(s.d for s in drawing.strokes if s.css == "limitline")
    floor = float(limit.split(" ")[1].split("H")[0])
    assert floor - spots[0][1] == pytest.approx(per[-1] * 208 * 0.03, abs=0.5)
    distance = [(x - spots[0][0]) / p.at for (x, _), p in zip(spots[1:], joints[1:], strict=True)]
    assert max(distance) - min(distance) < 0.05


@pytest.mark.parametrize(("name", "wires"), [
    ("Kiln room feeder", {"L1", "L2", "L3", "N"}), ("Kiln 2, top loading", {"L1", "L2"}),
    ("Kiln room lights", {"L1", "N"}), ("Pug mill", {"L1", "L2", "L3"}),
])  # fmt: skip
def test_conductors_of_every_drawing_can_be_clamped(mill, name, wires):
    worked, drawing = shown(mill, name)
    assert wires <= {c.name for c in drawing.clamps}
    for clamp in drawing.clamps:
        value = next(p.value for p in worked.points if p.name == clamp.name)
        assert float(clamp.reads.removesuffix(" A")) == pytest.approx(value, abs=0.051)


def test_the_ampere_axis_is_true_to_scale(mill):

    found = work_job(mill)
    for part in mill.parts.filter(kind__in=("circuit", "motor", "feeder")):
        worked = found[str(part.pk)].report
        drawn = scale.draw(worked)
        per = {round(bar.width / bar.mark.amperes, 1) for bar in drawn.bars if bar.mark.amperes > 5}
        assert max(per) - min(per) <= 0.11, part.name
        assert all(bar.x <= scale.RIGHT for bar in drawn.bars)
        device = next(bar for bar in drawn.bars if bar.role == "device")
        assert drawn.device_x == device.x
        assert sum(bar.mark.governs for bar in drawn.bars) >= 1, part.name


@pytest.mark.parametrize("name", NAMES)
def test_the_programs_address_answers_for_every_kind(owner, name):
    entries = {
        "transformer": {"kva": "45 kVA", "secondary": "3ph-480Y/277"}, "dwelling": {"area": "1500"},
    }  # fmt: skip
    system = "1ph-120/240" if name == "dwelling" else "3ph-208Y/120"
    url = reverse("api:sheet", args=[name]) + f"?system={system}&code=nec-2023"
    answer = owner.post(
        url, json.dumps(entries.get(name, GOOD[name])), content_type="application/json"
    )
    # a service has nothing to size without what hangs on it
    assert answer.status_code == (422 if name == "service" else 200), answer.content
    assert owner.get(reverse("api:schema", args=[name])).json()["properties"]
    wrong = owner.post(url, json.dumps({"nothing": "1"}), content_type="application/json")
    assert wrong.status_code == 422 and wrong.json()["problems"][0]["entry"] == "nothing"


@pytest.mark.parametrize(
    ("code", "device", "shown"), [("nec-2017", 50.0, "NEC 2020"), ("nec-2023", 40.0, "NEC 2017")]
)
def test_the_jobs_edition_decides_and_the_sheet_says_what_others_would(
    owner, job, code, device, shown
):
    top = job.parts.get(kind="supply")
    part = actions.add_part(job, job.owner, "cooking", str(top.pk), "Kitchen", {
        "layout": "together", "cooktop": "6.6 kW", "oven_1": "4.2 kW", "oven_2": "3.4 kW"})  # fmt: skip
    owner.post(reverse("jobs:settings", args=[job.pk]),
               {"name": "Mill", "edition": code, "units": "us", "preference": "smallest"})  # fmt: skip
    data = owner.get(reverse("jobs:json", args=[job.pk, part.pk])).json()
    assert data["results"]["device"]["value"] == device
    page = owner.get(reverse("jobs:part", args=[job.pk, part.pk])).content.decode()
    assert f"{shown}: " in page


@pytest.mark.parametrize(
    ("preference", "device"), [("smallest", 35.0), ("maximum", 40.0), ("ampacity", 40.0)]
)
def test_the_jobs_habit_decides_the_pair(owner, job, preference, device):
    top = job.parts.get(kind="supply")
    part = actions.add_part(job, job.owner, "circuit", str(top.pk), "Oven",
                            {"load": "7.9 kW", "connection": "two-line"})  # fmt: skip
    owner.post(reverse("jobs:settings", args=[job.pk]),
               {"name": "Mill", "edition": "nec-2020", "units": "us", "preference": preference})  # fmt: skip
    data = owner.get(reverse("jobs:json", args=[job.pk, part.pk])).json()
    assert data["results"]["device"]["value"] == device
    assert data["results"]["conductor"]["value"] == "8 AWG Cu"


def test_a_pin_that_no_longer_holds_is_a_finding_and_stays(owner, job):
    top = job.parts.get(kind="supply")
    part = actions.add_part(job, job.owner, "circuit", str(top.pk), "Heater",
                            {"load": "4 kW", "connection": "two-line", "device": "20 A", "size": "12"})  # fmt: skip
    url = reverse("jobs:json", args=[job.pk, part.pk])
    assert owner.get(url).json()["status"] == "pass"
    owner.post(reverse("jobs:save", args=[job.pk, part.pk]), {"set:load": "6 kW"})
    data = owner.get(url).json()
    assert data["status"] == "fail" and data["results"]["device"]["value"] == 20
    assert data["results"]["conductor"]["value"] == "12 AWG Cu"
    assert "does not hold" in data["findings"][0]["words"]
    page = owner.get(reverse("jobs:job", args=[job.pk])).content.decode()
    assert "does not hold" in page
