"""An item on site: the page behind the code on its label, readings typed there, what is wrong with
them."""

from __future__ import annotations

import re
import uuid

import pytest
from django.urls import reverse

from voltaje.web.jobs.models import Job, Reading
from voltaje.web.jobs.worked import work_job
from voltaje.web.site.fields import fields_of


def at(job, name):
    part = next(one for one in job.loaded() if one.name == name)
    return part, reverse("jobs:on_site", args=[job.pk, part.pk])


def test_the_page_says_what_the_label_says_and_asks_for_what_can_be_read(owner, mill):
    part, url = at(mill, "Workshop")
    text = owner.get(url).content.decode()
    assert "Fed from Workshop feeder" in text and "Live tests" in text
    fields = fields_of(mill, part, work_job(mill))
    assert [one.unit for one in fields].count("V") == 6 and f'name="{fields[0].name}"' in text
    assert "Next: " not in text or "jobs" in text


def test_readings_go_into_the_logbook_once(owner, mill):
    part, url = at(mill, "Workshop")
    form = {
        "v:V|L1-N": "116.4",
        "v:A|L1": "98 A",
        "who": "Ada",
        "place": "north wall",
        "made": str(uuid.uuid4()),
    }
    for _ in range(2):  # pressed twice, or the answer lost
        assert owner.post(url, form).status_code == 302
    kept = {(one.point, one.unit): one.value for one in mill.readings.filter(part=part)}
    assert kept == {("L1-N", "V"): 116.4, ("L1", "A"): 98.0}
    text = " ".join(owner.get(url).content.decode().split())
    assert re.search(r"116.4 V, \d{4}-\d\d-\d\d, Ada", text)
    assert mill.readings.first().place == "north wall"


@pytest.mark.parametrize(("more", "words"), [
    ({"v:V|L1-N": "about 116"}, "problem"),
    ({"v:V|L1-N": "12 A"}, "problem"),
    ({"v:V|L1-N": "-5"}, "Out of range"),
    ({"v:V|L1-N": "1e9"}, "Out of range"),
    ({"v:V|L1-N": "116", "who": " "}, "Say who measured."),
    ({"v:V|L1-N": "116", "who": "x" * 81}, "At most 80 characters."),
    ({"v:V|L1-N": "116", "note": "a\x00b"}, "problem"),
    ({}, "Give at least one reading."),
    ({"v:V|nowhere": "116"}, "Give at least one reading."),
])  # fmt: skip
def test_what_is_wrong_is_said_and_nothing_typed_is_lost(owner, mill, more, words):
    _, url = at(mill, "Workshop")
    form = (
        {"who": "Ada", "v:A|L2": "91.5", "place": "roof"}
        if "v:V|L1-N" in more and len(more) == 1
        else {"who": "Ada"}
    )
    answer = owner.post(url, {**form, **more})
    text = answer.content.decode()
    assert answer.status_code == 422 and words in text and not Reading.objects.exists()
    assert all(f'value="{value}"' in text for name, value in form.items() if name not in more)


def test_a_test_within_its_limit_agrees_and_one_beyond_does_not(owner, people):
    from voltaje.web.jobs.actions import add_part, create_job

    job = create_job(people[0], "Flat", "bs7671-2018", "metric", system="1ph-230", begins="board")
    board = next(one for one in job.loaded() if one.kind == "board")
    add_part(
        job,
        people[0],
        "circuit",
        str(board.pk),
        "Ring",
        {"load": "3 kW", "length": "20 m", "rcd": "30"},
    )
    job = Job.objects.get(pk=job.pk)
    part, url = at(job, "Ring")
    fields = fields_of(job, part, work_job(job))
    dead = [one for one in fields if one.dead]
    assert dead and fields[: len(dead)] == dead and {one.unit for one in dead} <= {"Ω", "MΩ"}
    insulation = next(one for one in dead if one.unit == "MΩ")
    # BS 7671 table 64: 1 MΩ at 500 V
    assert insulation.limit == 1.0 and not insulation.most
    owner.post(url, {insulation.name: "0.4", "who": "Ada"})
    after = {one.key: one for one in fields_of(job, part, work_job(job))}
    assert after[insulation.key].status == "fail"
    owner.post(url, {insulation.name: ">999", "who": "Ada"})
    after = {one.key: one for one in fields_of(job, part, work_job(job))}
    assert after[insulation.key].status == "pass"


def test_nobody_elses_item(stranger, mill):
    _, url = at(mill, "Workshop")
    assert stranger.get(url).status_code == 404
    assert stranger.post(url, {"v:V|L1-N": "116", "who": "x"}).status_code == 404


def test_a_label_leads_there(owner, mill, monkeypatch):
    from voltaje.web.documents import labels

    seen = {}
    monkeypatch.setattr(
        labels,
        "to_pdf",
        lambda made, sheet, start, addresses, title: seen.update(addresses) or b"%PDF-",
    )
    owner.get(
        reverse("jobs:labels", args=[mill.pk]),
        {"make": "yes", "of": "board", "sheet": "letter-30", "start": "1", "code": "on"},
    )
    part, url = at(mill, "Workshop")
    assert seen[str(part.pk)].endswith(url)
