"""A firm's defaults: what new jobs begin with, under any code; nothing of a job that is there
changes."""

from __future__ import annotations

import json

import pytest
from django.urls import reverse

from voltaje.core.cli.job import work
from voltaje.core.codes import editions
from voltaje.core.kinds.usual_below import PREFIX
from voltaje.web.firm import defaults
from voltaje.web.firm.models import FirmDefaults
from voltaje.web.history import revisions
from voltaje.web.jobs import archive
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.stock import stock_of
from voltaje.web.jobs.worked import work_job

PAGE = reverse("firm_defaults")
FORM = {"edition": "nec-2023", "units": "us", "preference": "maximum", "shown": "nec",
        "stock": "20, 15 A; 30 60", "reserve": "5",
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
    assert (job.stock, job.reserve) == ("15 20 30 60", 5.0)
    assert job.shop().stock == (15, 20, 30, 60) and job.shop().reserve == pytest.approx(0.05)
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
    ({"stock": "15 lots"}, "Ratings in A"), ({"stock": "0"}, "Ratings in A"),
    ({"reserve": "60"}, "Enter a reserve from 0 to 50"), ({"reserve": "much"}, "Enter a reserve from 0 to 50"),
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


@pytest.mark.parametrize(("typed", "kept"), [
    ("", ""), ("15 20 30", "15 20 30"), ("30,20;15", "15 20 30"), ("20 A, 20A 15 a", "15 20"),
    ("17.5 6", "6 17.5"), ("1200", "1200"),
])  # fmt: skip
def test_stock_as_it_is_typed(typed, kept):
    assert stock_of(typed) == kept


@pytest.mark.parametrize(
    "typed", ["x", "15 -20", "15 1e9", "15 V", " ".join(map(str, range(1, 60)))]
)
def test_stock_that_cannot_be(typed):
    with pytest.raises(ValueError):
        stock_of(typed)


def test_a_jobs_settings_have_them_and_undo_takes_them_back(owner, people):
    job = new_job(owner)
    url = reverse("jobs:settings", args=[job.pk])
    page = owner.get(url).content.decode()
    assert 'name="stock"' in page and 'name="reserve"' in page
    form = {"name": job.name, "edition": job.edition, "second": "", "units": job.units,
            "preference": "smallest", "drop_scheme": "code", "drop_branch": "3", "drop_total": "5",
            "drop_sizing": "told", "drop_method": "impedance", "basis": "nominal"}  # fmt: skip
    assert owner.post(url, {**form, "stock": "20 15", "reserve": "7.5"}).status_code == 302
    job = Job.objects.get(pk=job.pk)
    assert (job.stock, job.reserve) == ("15 20", 7.5)
    bad = owner.post(url, {**form, "stock": "plenty", "reserve": "99"})
    text = bad.content.decode()
    assert (
        "Ratings in A" in text
        and 'value="plenty"' in text
        and "Enter a reserve from 0 to 50" in text
    )
    revisions.undo(job, people[0])
    job = Job.objects.get(pk=job.pk)
    assert (job.stock, job.reserve) == ("", 0.0)


def test_a_job_file_has_them():
    supply = {"kind": "supply", "entries": {"system": "1ph-120/240"}, "parts": [
        {"kind": "circuit", "entries": {"load": "2.3 kW", "use": "general", "continuous": "no"}}]}  # fmt: skip

    def device(**more):
        found = work({"code": "nec-2020", "parts": [supply], **more})
        return found["parts"][1]["results"]["device"]["value"]

    assert device() == 20 and device(reserve=5) == 25 and device(stock=[30, 60]) == 30
