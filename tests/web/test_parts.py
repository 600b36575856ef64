"""Every kind of part through its pages: the sheet, wrong input at each field, drawings that stay
inside their frame, the program's address, the print."""

import json
import re

import pytest
from django.urls import reverse

from voltaje.core.entries import fields
from voltaje.core.parts import kind, kinds
from voltaje.web.jobs import actions
from voltaje.web.jobs.demo import MILL
from voltaje.web.sheets.drawings import scale
from voltaje.web.sheets.part_views import below
from voltaje.web.sheets.respond import result_context

NAMES = [item.name for item in kinds()]
FRAME = 388.0


@pytest.fixture
def mill(job, people):
    actions.plant(job, people[0], MILL)
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
    from voltaje.web.jobs.worked import work_job

    found = work_job(mill)
    seen = set()
    for part in mill.parts.all():
        worked = found[str(part.pk)].worked
        drawing = result_context(worked, below(mill, part, found))["drawing"]
        if not hasattr(drawing, "words"):
            continue
        seen.add(part.kind)
        for word in drawing.words:
            wide = width_of(word.text, word.css)
            left = {"start": 0.0, "middle": wide / 2, "end": wide}[word.anchor]
            if "turn" in word.css:
                continue
            assert word.x - left > -8, (part.name, word.text)
            assert word.x - left + wide < FRAME + 14, (part.name, word.text)
            assert 0 < word.y < drawing.height + 1, (part.name, word.text)
        for box in drawing.boxes:
            assert box.x >= 0 and box.x + box.width <= FRAME, (part.name, box)
    assert seen >= {"circuit", "motor", "cooking", "feeder", "board", "transformer", "service"}


def test_the_ampere_axis_is_true_to_scale(mill):
    from voltaje.web.jobs.worked import work_job

    found = work_job(mill)
    for part in mill.parts.filter(kind__in=("circuit", "motor", "feeder")):
        worked = found[str(part.pk)].worked
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
        "circuit": {"load": "4.5 kW", "connection": "two-line"}, "motor": {"horsepower": "5"},
        "cooking": {"nameplate": "11.4 kW"}, "feeder": {"receptacles": 20},
        "transformer": {"kva": "45 kVA", "secondary": "3ph-480Y/277"}, "dwelling": {"area": "1500"},
        "supply": {}, "board": {},
        "run": {"segments": [{"length": "90 ft", "nameplate": "2 kW"}]},
        "neutral": {"loads": [{"nameplate": "2 kW", "length": "9 ft"}]},
    }  # fmt: skip
    system = "1ph-120/240" if name == "dwelling" else "3ph-208Y/120"
    url = reverse("api:sheet", args=[name]) + f"?system={system}&code=nec-2023"
    answer = owner.post(url, json.dumps(entries.get(name, {})), content_type="application/json")
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
    assert owner.get(url).json()["status"] == "holds"
    owner.post(reverse("jobs:save", args=[job.pk, part.pk]), {"set:load": "6 kW"})
    data = owner.get(url).json()
    assert data["status"] == "fails" and data["results"]["device"]["value"] == 20
    assert data["results"]["conductor"]["value"] == "12 AWG Cu"
    assert "does not hold" in data["findings"][0]["words"]
    page = owner.get(reverse("jobs:job", args=[job.pk])).content.decode()
    assert "does not hold" in page
