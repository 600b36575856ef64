"""What a program reads of a job: each answer by its schema of the description, the same as on the
pages; nobody else's."""

from __future__ import annotations

import uuid

import pytest
from django.urls import reverse
from jsonschema import Draft202012Validator

from voltaje.core.materials import take_off
from voltaje.core.quantities import feet
from voltaje.web.api.reference import written
from voltaje.web.documents.presets import SECTIONS
from voltaje.web.jobs.worked import work_job
from voltaje.web.materials.demo import set_prices
from voltaje.web.work_schedule.models import WorkSchedule

NAMES = ("materials", "labels", "documents", "work_schedules")


def valid(path, answer):
    """The answer, by the schema that the description gives for it."""
    given = written()["paths"][path]["get"]["responses"][str(answer.status_code)]
    schema = given["content"]["application/json"]["schema"]
    whole = {**schema, "components": written()["components"]}
    Draft202012Validator(whole).validate(answer.json())
    return answer.json()


@pytest.fixture
def kept(mill):
    return WorkSchedule.objects.create(
        job=mill, before=0, after=mill.revision, starts_at=mill.created_at
    )


def test_the_jobs_of_the_account(owner, mill):
    found = valid("/api/v1/jobs/", owner.get(reverse("api:jobs")))["jobs"]
    assert [one["id"] for one in found] == [str(mill.pk)] and found[0]["revision"] == mill.revision


def test_materials_are_those_of_the_page(owner, mill, people):
    address = reverse("api:materials", args=[mill.pk])
    found = valid("/api/v1/jobs/{job_id}/materials/", owner.get(address))
    order = take_off(work_job(mill), "nec")
    assert [one["key"] for one in found["lines"]] == [line.key for line in order.lines]
    wire = next(one for one in found["lines"] if one["group"] == "conductors")
    line = next(line for line in order.lines if line.key == wire["key"])
    assert wire["unit"] == "ft" and wire["quantity"] == pytest.approx(feet(line.quantity))
    assert found["at_least"] and found["total"] == 0 and wire["price"] is None
    set_prices(people[0], mill)
    found = valid("/api/v1/jobs/{job_id}/materials/", owner.get(address))
    amounts = sum(one["amount"] or 0 for one in found["lines"])
    assert found["materials"] == pytest.approx(amounts) and found["total"] > amounts > 0
    assert len(found["left_out"]) == len(order.left_out)


def test_labels_and_documents(owner, mill):
    found = valid("/api/v1/jobs/{job_id}/labels/", owner.get(reverse("api:labels", args=[mill.pk])))
    assert {one["of"] for one in found["labels"]} == {"board", "transformer", "circuit"}
    address = reverse("api:documents", args=[mill.pk])
    names = ["cover", "open", "levels", "nothing"]
    found = valid("/api/v1/jobs/{job_id}/documents/", owner.get(address, {"section": names}))
    assert found["sections"] == names[:3] and {one["block"] for one in found["blocks"]} >= {
        "heading",
        "grid",
    }
    assert set(valid("/api/v1/jobs/{job_id}/documents/", owner.get(address))["sections"]) < set(
        SECTIONS
    )


def test_a_work_schedule(owner, mill, kept):
    ids = owner.get(reverse("api:work_schedules", args=[mill.pk])).json()
    assert ids == [str(kept.pk)]
    address = reverse("api:work_schedule", args=[mill.pk, kept.pk])
    found = valid("/api/v1/jobs/{job_id}/work/{schedule_id}/", owner.get(address))
    steps = [step for block in found["blocks"] for step in block["steps"]]
    assert [step["number"] for step in steps] == list(range(1, len(steps) + 1))
    assert all(step["first"] <= step["number"] <= step["last"] for step in steps)


@pytest.mark.parametrize("name", NAMES)
def test_nobody_elses_job(name, stranger, client, mill):
    address = reverse(f"api:{name}", args=[mill.pk])
    assert stranger.get(address).status_code == 404
    assert client.__class__().get(address).status_code == 401
    assert stranger.get(reverse(f"api:{name}", args=[uuid.uuid4()])).status_code == 404


def test_nobody_elses_schedule(stranger, owner, kept, mill):
    assert stranger.get(reverse("api:work_schedule", args=[mill.pk, kept.pk])).status_code == 404
    assert stranger.get(reverse("api:jobs")).json() == {"jobs": []}
