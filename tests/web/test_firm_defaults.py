"""A firm's defaults: what new jobs begin with, under any code; nothing of a job that is there
changes."""

from __future__ import annotations

import json

import pytest
from django.urls import reverse

from voltaje.core.codes import editions
from voltaje.core.kinds.usual_below import PREFIX
from voltaje.web.firm import defaults
from voltaje.web.firm.models import FirmDefaults
from voltaje.web.jobs import archive
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import work_job

PAGE = reverse("firm_defaults")
FORM = {"edition": "nec-2023", "units": "us", "preference": "maximum", "shown": "nec",
        "usual_material": "aluminum", "usual_ambient": "40 °C"}  # fmt: skip


def new_job(owner, **more):
    form = {"name": "New", "edition": "nec-2023", "units": "us", "preference": "smallest",
            "system": "3ph-208Y/120", "begins": "board", **more}  # fmt: skip
    assert owner.post(reverse("jobs:create"), form).status_code == 302
    return Job.objects.order_by("-created_at").first()


def test_a_new_job_begins_with_them(owner, people):
    old = new_job(owner, name="Old")
    assert owner.post(PAGE, FORM).status_code == 302
    page = owner.get(reverse("jobs:create")).content.decode()
    assert (
        '<option value="nec-2023" selected>' in page and '<option value="maximum" selected>' in page
    )
    job = new_job(owner)
    supply = next(one for one in job.loaded() if one.parent_id is None)
    assert (
        supply.entries["usual_material"] == "aluminum"
        and supply.entries["usual_ambient"] == "40 °C"
    )
    # they reach what hangs below: the feeder's conductors are of aluminum
    feeder = next(one for one in job.loaded() if one.kind == "feeder")
    assert work_job(job)[str(feeder.pk)].entries.material == "aluminum"
    assert "usual_material" not in next(one for one in Job.objects.get(pk=old.pk).loaded()).entries


@pytest.mark.parametrize("habit", ["smallest", "maximum", "ampacity"])
def test_a_new_job_has_the_habit_that_its_form_said(owner, habit):
    assert new_job(owner, preference=habit).preference == habit


@pytest.mark.parametrize("book", [one.id for one in editions()])
def test_every_code_has_its_own_usual_values(owner, book):
    text = owner.get(PAGE, {"code": book}).content.decode()
    specs = defaults.specs(book)
    assert specs and all(f'name="{spec.name}"' in text for spec in specs)
    assert all(spec.name.startswith(PREFIX) for spec in specs)


def test_values_of_one_family_do_not_reach_another(owner, people):
    owner.post(PAGE, FORM)
    assert defaults.usual_of(people[0], "bs7671-2018") == {}
    assert defaults.usual_of(people[0], "nec-2017") == {
        "usual_material": "aluminum",
        "usual_ambient": "40 °C",
    }
    # another code was chosen on the page: its own values are shown before anything is kept
    answer = owner.post(PAGE, {**FORM, "edition": "bs7671-2018"})
    text = answer.content.decode()
    assert answer.status_code == 200 and 'name="usual_reference_method"' in text
    assert FirmDefaults.objects.get().edition == "nec-2023"


@pytest.mark.parametrize(("more", "words"), [
    ({"usual_ambient": "warm"}, "problem"), ({"edition": "nec-1899"}, "Select a valid choice"),
    ({"units": "cubits"}, "Select a valid choice"), ({"usual_material": "gold"}, "problem"),
])  # fmt: skip
def test_what_is_wrong_is_said_and_nothing_is_kept(owner, more, words):
    answer = owner.post(PAGE, {**FORM, **more})
    assert answer.status_code == 422 and words in answer.content.decode()
    assert not FirmDefaults.objects.exists()


def test_they_are_in_the_backup_and_nobody_elses(owner, people, stranger):
    owner.post(PAGE, FORM)
    assert '<option value="maximum" selected>' not in stranger.get(PAGE).content.decode()
    document = json.loads("".join(archive.pieces(people[0])))
    archive.bring(people[1], document)
    assert defaults.usual_of(people[1], "nec-2020")["usual_material"] == "aluminum"
    document["firm"]["edition"] = "no such"
    with pytest.raises(archive.UnreadableArchiveError):
        archive.bring(people[1], document)
