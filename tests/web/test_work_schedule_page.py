"""Work schedules on their pages and as files: made between two revisions, put in order, timed,
brought up to now, in the backup and back."""

from __future__ import annotations

import csv
import io
import json
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import pytest
from django.urls import reverse
from icalendar import Calendar
from openpyxl import load_workbook

from voltaje.core.work_schedule import check_order
from voltaje.web.background import asking
from voltaje.web.history import revisions
from voltaje.web.jobs import archive
from voltaje.web.jobs.models import Job
from voltaje.web.work_schedule import long_work
from voltaje.web.work_schedule.arranged import arranged
from voltaje.web.work_schedule.models import WorkSchedule


def change(job, name, **entries):
    """Other entries of an item, as a revision; the job as it is then."""
    part = next(part for part in job.loaded() if part.name == name)
    with revisions.changing(job) as held:
        state = revisions.part_state(held.parts.get(pk=part.pk))
        new = {**state, "entries": {**state["entries"], **entries}}
        revisions.write(held, job.owner, {str(part.pk): new})
    return Job.objects.get(pk=job.pk)


@pytest.fixture
def made(owner, mill):
    """A schedule of two changes on the demo's mill."""
    first = mill.revision
    job = change(mill, "Glaze room lights", load="2.6 kVA")
    job = change(job, "Mill transformer", tap="-2.5")
    answer = owner.post(
        reverse("jobs:work_schedules", args=[job.pk]), {"before": first, "zone": "America/Denver"}
    )
    kept = job.work_schedules.get()
    assert answer.status_code == 302 and answer.url == page(kept)
    return kept


def page(kept):
    return reverse("jobs:work_schedule", args=[kept.job_id, kept.pk])


def shown(kept):
    kept.refresh_from_db()
    question = {"language": "en", "before": kept.before, "after": kept.after, "few": kept.few}
    task = asking.ask(long_work.WORK_SCHEDULE, kept.job, question)
    return arranged(long_work.plan_of(task.result), kept)


def keys(kept):
    return [one.step.key for one in shown(kept).steps]


def names(kept):
    of = {str(part.pk): part.name for part in kept.job.loaded()}
    return [f"{key.partition('|')[0]} {of[key.rpartition('|')[2]]}" for key in keys(kept)]


def test_a_schedule_is_made_and_told(owner, made):
    text = owner.get(page(made)).content.decode()
    assert "tap Mill transformer" in names(made) and "load Glaze room lights" in names(made)
    assert (
        "Mill transformer, 150 A; the supply side stays live" in text or "Mill transformer" in text
    )
    assert shown(made).outages >= 2 and "Without power" in text
    again = owner.post(reverse("jobs:work_schedules", args=[made.job_id]), {"before": made.before})
    assert again.url == page(made)  # the same one


@pytest.mark.parametrize("before", ["", "x", "-1", "99", "1" * 40, "²"])
def test_only_an_earlier_revision_is_a_begin(owner, made, before):
    answer = owner.post(reverse("jobs:work_schedules", args=[made.job_id]), {"before": before})
    assert answer.status_code == 422 and "Choose an earlier revision" in answer.content.decode()


def test_from_nothing_everything_is_a_step(owner, made):
    answer = owner.post(reverse("jobs:work_schedules", args=[made.job_id]), {"before": "0"})
    assert answer.status_code == 302
    kept = made.job.work_schedules.get(before=0)
    assert len(keys(kept)) > len(kept.job.loaded()) and not shown(kept).outages
    assert "Work up to revision" in owner.get(page(kept)).content.decode()


def test_a_step_is_moved_within_what_is_possible(owner, made):
    before = shown(made).steps
    one = next(one for one in before if one.last > one.at)
    answer = owner.post(page(made), {"do": "move", "key": one.step.key, "at": one.last})
    assert answer.status_code == 302
    assert keys(made).index(one.step.key) == one.last
    tied = next(one for one in shown(made).steps if one.step.needs)
    order = keys(made)
    answer = owner.post(
        page(made), {"do": "move", "key": tied.step.key, "at": "0"}, headers={"X-Part": "steps"}
    )
    assert answer.status_code == 422 and "comes after" in answer.content.decode()
    assert keys(made) == order


@pytest.mark.parametrize(("sent", "words"), [
    ({"do": "taking", "minutes": "90", "people": "3"}, ""),
    ({"do": "taking", "minutes": "0", "people": "1"}, ""),
    ({"do": "taking", "minutes": "-5", "people": "1"}, "Minutes are a whole number"),
    ({"do": "taking", "minutes": "an hour", "people": "1"}, "Minutes are a whole number"),
    ({"do": "taking", "minutes": "9" * 30, "people": "1"}, "Minutes are a whole number"),
    ({"do": "taking", "minutes": "60", "people": "0"}, "People are a whole number"),
    ({"do": "taking", "minutes": "60", "people": "100"}, "People are a whole number"),
    ({"do": "move", "at": "999999"}, "no longer exists"),
    ({"do": "move", "at": "x"}, "no longer exists"),
    ({"do": "done", "done": "yes"}, ""),
])  # fmt: skip
def test_what_is_typed_at_a_step_is_kept_or_refused(owner, made, sent, words):
    key = keys(made)[0]
    answer = owner.post(page(made), {**sent, "key": key}, headers={"X-Part": "steps"})
    assert answer.status_code == (422 if words else 200) and words in answer.content.decode()
    one = shown(made).steps[0]
    if sent["do"] == "taking" and not words:
        assert (str(one.minutes), str(one.people)) == (sent["minutes"], sent["people"])
    assert one.done == (sent["do"] == "done")
    gone = owner.post(page(made), {**sent, "key": "replace|gone"}, headers={"X-Part": "steps"})
    assert gone.status_code == 422


def test_hours_are_of_the_zone_that_stands_beside(owner, made):
    form = {"do": "hours", "starts_at": "2027-01-04T22:00", "zone": "Europe/London", "opens": "22:00",
            "closes": "06:00", "few": "on"}  # fmt: skip
    assert owner.post(page(made), form).status_code == 302
    made.refresh_from_db()
    assert made.starts_at == datetime(2027, 1, 4, 22, tzinfo=UTC) and made.few
    first = shown(made).blocks[0].timed
    assert first.begins == datetime(2027, 1, 4, 22, tzinfo=ZoneInfo("Europe/London"))
    assert 'value="2027-01-04T22:00"' in owner.get(page(made)).content.decode()
    bad = owner.post(
        page(made), {**form, "zone": "Mars/Olympus", "closes": "22:00", "starts_at": "soon"}
    )
    text = bad.content.decode()
    assert bad.status_code == 422 and "A time zone such as" in text and "Mars/Olympus" in text
    assert "lasts some time" in text and "A date and a time" in text


def test_hours_that_never_hold_the_work_are_said(owner, made):
    form = {
        "do": "hours",
        "starts_at": "2027-01-04T08:00",
        "zone": "UTC",
        "opens": "08:00",
        "closes": "08:01",
    }
    assert owner.post(page(made), form).status_code == 302
    for key in keys(made):
        owner.post(page(made), {"do": "taking", "key": key, "minutes": "60000", "people": "1"})
    assert shown(made).endless
    assert "around the clock" in owner.get(page(made)).content.decode()
    for year in ("1999", "9999"):
        bad = owner.post(page(made), {**form, "starts_at": f"{year}-01-04T08:00"})
        assert bad.status_code == 422 and "A date and a time" in bad.content.decode()


def test_two_hands_at_one_schedule_keep_both(owner, made):
    """The hours are sent from a page that knew nothing of what was ticked off meanwhile."""
    stale = WorkSchedule.objects.get(pk=made.pk)
    owner.post(page(made), {"do": "done", "key": keys(made)[0], "done": "yes"})
    stale.few = True
    stale.keep("few")
    made.refresh_from_db()
    assert made.few and len(made.done) == 1


def test_it_is_brought_up_to_now(owner, made):
    job = change(made.job, "Glaze room lights", load="3 kVA")
    assert "Update to the current revision" in owner.get(page(made)).content.decode()
    owner.post(page(made), {"do": "now"})
    made.refresh_from_db()
    assert made.after == job.revision and "load Glaze room lights" in names(made)
    # a chosen order that cannot be any more is the usual one, and said so
    made.order = keys(made)[::-1]
    made.save()
    found = shown(made)
    assert found.reordered and check_order([s.step for s in found.steps], [])
    assert "no longer possible" in owner.get(page(made)).content.decode()
    assert owner.post(page(made), {"do": "delete"}).status_code == 302
    assert not job.work_schedules.exists()


def test_the_calendar_holds_each_block_in_its_zone(owner, made):
    def events():
        raw = owner.get(file(made, "ics")).content
        return [one for one in Calendar.from_ical(raw).walk() if one.name == "VEVENT"]

    one = events()
    blocks = shown(made).blocks
    pieces = [piece for block in blocks for piece in block.timed.pieces]
    assert [(e["dtstart"].dt, e["dtend"].dt) for e in one] == pieces
    assert {str(e["dtstart"].params["TZID"]) for e in one} == {"America/Denver"}
    assert "VTIMEZONE" in owner.get(file(made, "ics")).content.decode()
    outage = next(e for e in one if "Outage" in e["summary"])
    assert "Without power: " in outage["description"]
    owner.post(page(made), {"do": "taking", "key": keys(made)[0], "minutes": "5", "people": "1"})
    other = events()
    assert {str(e["uid"]) for e in other} & {str(e["uid"]) for e in one}
    assert other[0]["sequence"] > one[0]["sequence"]


def file(kept, ending):
    return reverse("jobs:work_schedule_file", args=[kept.job_id, kept.pk, ending])


def test_the_files_hold_every_step(owner, made):
    rows = list(csv.reader(io.StringIO(owner.get(file(made, "csv")).content.decode())))
    steps = shown(made).steps
    assert len(rows) == 1 + len(steps) and [row[5] for row in rows[1:]] == [
        str(s.step.words) for s in steps
    ]
    sheet = load_workbook(io.BytesIO(owner.get(file(made, "xlsx")).content)).active
    assert [row[8].value for row in list(sheet.rows)[1:-1]] == [one.minutes for one in steps]
    assert sheet.cell(len(steps) + 2, 9).value == f"=SUM(I2:I{len(steps) + 1})"
    pdf = owner.get(file(made, "pdf"))
    assert pdf.content.startswith(b"%PDF-") and "work-r" in pdf["Content-Disposition"]
    assert owner.get(file(made, "exe")).status_code == 404


def test_it_is_in_the_backup_and_comes_back_with_its_order(owner, made, people):
    steps = shown(made).steps
    one = next(step for step in steps if step.last > step.at)
    owner.post(page(made), {"do": "move", "key": one.step.key, "at": one.last})
    owner.post(page(made), {"do": "taking", "key": one.step.key, "minutes": "7", "people": "4"})
    owner.post(page(made), {"do": "done", "key": one.step.key, "done": "yes"})
    document = json.loads("".join(archive.pieces(people[0])))
    archive.bring(people[1], document)
    kept = Job.objects.of(people[1]).get(name=made.job.name).work_schedules.get()
    assert names(kept) == names(made) and kept.starts_at == made.starts_at
    back = shown(kept).steps[one.last]
    assert (back.minutes, back.people, back.done) == (7, 4, True)


def test_nobody_elses_schedule(stranger, owner, made, people):
    assert stranger.get(page(made)).status_code == 404
    assert stranger.get(file(made, "ics")).status_code == 404
    other = made.job.__class__.objects.exclude(pk=made.job_id).first()
    if other is not None:
        wrong = reverse("jobs:work_schedule", args=[other.pk, made.pk])
        assert owner.get(wrong).status_code == 404
