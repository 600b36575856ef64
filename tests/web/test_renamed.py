"""Ids of earlier versions are still read: in addresses, files, backups and stored jobs."""

import csv
import json
from importlib import import_module
from pathlib import Path
from urllib.parse import quote

import pytest
from django.apps import apps
from django.urls import reverse

from voltaje.core.cli import job as jobfile
from voltaje.core.kinds import current_name, kind, kinds
from voltaje.web.history import revisions
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Job, Part

LIST = Path(__file__).parents[2] / "docs" / "renamed.csv"
RENAMED = [
    (row["old"], row["new"])
    for row in csv.DictReader(LIST.read_text(encoding="utf-8").splitlines())
    if row["what"] == "item type"
]
MIGRATION = "voltaje.web.jobs.migrations.0013_kinds_by_their_trade_names"


def test_the_list_is_what_the_program_reads():
    known = {(old, item.name) for item in kinds() for old in item.formerly}
    assert known == set(RENAMED) == set(import_module(MIGRATION).RENAMED.items())


@pytest.mark.parametrize(("old", "new"), RENAMED)
def test_an_old_id_is_read(owner, old, new):
    assert kind(old) is kind(new) and current_name(old) == new
    answer = owner.get(f"/quick/{old}/?load={quote('5 kW')}")
    assert answer.status_code == 301 and answer["Location"] == f"/quick/{new}/?load=5+kW"
    assert owner.get(f"/api/v1/sheets/{old}/schema/").status_code == 200
    assert owner.post(f"/quick/{old}/work/", {"load": "5 kW"}).status_code == 200


def test_an_old_job_file_gives_the_same_answers():
    segments = [{"length": "90 m", "nameplate": "20 A"}]

    def job(of):
        below = [{"kind": of, "name": "R", "entries": {"segments": segments}}]
        supply = {"kind": "supply", "name": "S", "entries": {"system": "3ph-208Y/120"}}
        return {"code": "nec-2020", "parts": [{**supply, "parts": below}]}

    old, new = (jobfile.work(job(of)) for of in ("run", "cable_run"))
    assert old["ok"] and old == new


@pytest.fixture
def stored(people):
    """A job whose parts and revisions hold the ids of an earlier version."""
    job = create_job(people[0], "Mill", "nec-2020", "us", system="3ph-208Y/120", begins="supply")
    supply = job.loaded()[0]
    for _, of in RENAMED:
        if not kind(of).quick_only:
            add_part(job, people[0], of, str(supply.pk), of.title(), {})
            job = Job.objects.get(pk=job.pk)
    return job


def test_stored_jobs_are_upgraded_and_their_history_works(owner, people, stored):
    before = {part.pk: part.kind for part in stored.parts.all()}
    import_module(MIGRATION).backwards(apps, None)
    assert {part.kind for part in Part.objects.filter(job=stored)} >= {old for old, _ in RENAMED}
    backup = json.loads(b"".join(owner.get(reverse("accounts:export")).streaming_content))
    import_module(MIGRATION).forwards(apps, None)
    job = Job.objects.get(pk=stored.pk)
    assert {part.pk: part.kind for part in job.parts.all()} == before
    for _ in range(len(RENAMED)):
        revisions.undo(Job.objects.get(pk=job.pk), people[0])
    for _ in range(len(RENAMED)):
        revisions.redo(Job.objects.get(pk=job.pk), people[0])
    assert {part.pk: part.kind for part in Job.objects.get(pk=job.pk).parts.all()} == before
    # a backup of that version comes back with the ids of this one
    from django.core.files.uploadedfile import SimpleUploadedFile

    file = SimpleUploadedFile("backup.json", json.dumps(backup).encode())
    owner.post(reverse("accounts:import"), {"file": file})
    back = Job.objects.exclude(pk=job.pk).get()
    assert sorted(part.kind for part in back.parts.all()) == sorted(before.values())
    for _ in range(len(RENAMED)):
        revisions.undo(Job.objects.get(pk=back.pk), people[0])
    assert [part.kind for part in Job.objects.get(pk=back.pk).parts.all()] == ["supply"]
