"""Ids of earlier versions are still read: in addresses, files, backups and stored jobs."""

import csv
import json
import re
from importlib import import_module
from pathlib import Path
from urllib.parse import quote

import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from voltaje.core.cli import job as jobfile
from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.entries import names_of, row_models
from voltaje.core.kinds import Context, current_name, evaluate, kind, kinds
from voltaje.core.rules.interface import families
from voltaje.web.history import revisions
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Job, Part, Revision

LIST = Path(__file__).parents[2] / "docs" / "renamed.csv"
ROWS = list(csv.DictReader(LIST.read_text(encoding="utf-8").splitlines()))
RENAMED = [(row["old"], row["new"]) for row in ROWS if row["what"] == "item type"]
MIGRATION = "voltaje.web.jobs.migrations.0013_kinds_by_their_trade_names"
ENTRIES = "voltaje.web.jobs.migrations.0014_entries_by_their_trade_names"


def test_the_list_is_what_the_program_reads():
    known = {(old, item.name) for item in kinds() for old in item.formerly}
    assert known == set(RENAMED) == set(import_module(MIGRATION).RENAMED.items())


def test_the_list_of_entries_is_what_the_program_reads():
    """An old id is none that another family of the kind still has, and the stored jobs go by it."""
    listed: dict[str, dict[str, str]] = {}
    for row in ROWS:
        if row["what"] == "entry":
            of, old = row["old"].split(".", 1)
            listed.setdefault(of, {})[old] = row["new"].rsplit(".", 1)[-1]
    assert listed == import_module(ENTRIES).RENAMED
    everywhere = {pair for own in listed.values() for pair in own.items()}
    for of in kinds():
        read = of.former_entries.items()
        assert listed.get(of.name, {}).items() <= read, of.name
        # a kind that a family has covered only since reads what that family's entries were called
        assert read - listed.get(of.name, {}).items() <= everywhere, of.name
    for of in kinds():
        for model in {of.entries_in(code) for code in families()}:
            rows = {f"{name}.{x}" for name, row in row_models(model).items() for x in names_of(row)}
            assert not of.former_entries.keys() & (names_of(model) | rows), of.name


OLD_BREAKER = {
    "rating": "63",
    "inside": "50",
    "beside": "2",
    "makers": [{"inside": "60", "factor": "0.9"}],
}


@pytest.mark.parametrize(("of", "code", "system", "old"), [
    ("cable_run", "nec-2020", "3ph-208Y/120", {"limit": "3", "ahead": "1", "method": "PVC 40", "celsius": "50",
     "segments": [{"length": "90 m", "nameplate": "20 A"}]}),
    ("circuit", "bs7671-2018", "1ph-230", {"load": "3 kW", "length": "20 m", "grouped": "2", "third": "20",
     "external_loop": "0.3", "setting": "", "stays": "yes", "space": "3", "run_in": "EMT"}),
    ("circuit", "cec-2021", "1ph-120/240", {"load": "3 kW", "run_in": "EMT", "cover": "TW75", "marked": "100",
     "method": "NM-B", "length": "20 m"}),
    ("multiwire_circuit", "nec-2020", "1ph-120/240", {"a": "L2", "b": "L1", "open": "N:1",
     "loads": [{"id": "x", "nameplate": "1 kW", "circuit": "A", "length": "9 m", "third": "30"},
               {"id": "y", "nameplate": "500 W", "circuit": "B", "length": "9 m"}]}),
    ("breaker", "nec-2020", "1ph-120/240", OLD_BREAKER),
    ("autotransformer", "nec-2020", "1ph-120/240", {"how": "stacked", "one": "240 V", "other": "32 V",
     "kva": "1.5 kVA", "fed": "240 V", "wanted": "208 V"}),
])  # fmt: skip
def test_old_entries_give_the_same_answers(of, code, system, old):
    context = Context(edition(code), "metric", SupplyPoint(SYSTEMS[system]))
    found = evaluate(kind(of), old, context)
    now = kind(of).of_today(old)
    again = evaluate(kind(of), now, context)
    assert found.report is not None and not found.problems
    assert found.report.results == again.report.results
    assert not now.keys() & kind(of).former_entries.keys() and now != old
    # where a file has both, what is said under the id of today counts
    both = kind(of).of_today({**now, **old})
    assert {name: both[name] for name in now} == now


def test_an_old_address_of_a_quick_sheet_fills_in_its_entries(owner):
    page = owner.get("/quick/cable_run/?limit=4&segments.a.length=90+m").content.decode()
    field = re.search(r'<input[^>]*name="maximum_drop"[^>]*>', page)
    assert field and 'value="4"' in field[0]
    page = owner.get("/quick/multiwire_circuit/?loads.x.third=30").content.decode()
    field = re.search(r'<input[^>]*name="loads.x.third_harmonic"[^>]*>', page)
    assert field and 'value="30"' in field[0]


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
    file = SimpleUploadedFile("backup.json", json.dumps(backup).encode())
    owner.post(reverse("accounts:import"), {"file": file})
    back = Job.objects.exclude(pk=job.pk).get()
    assert sorted(part.kind for part in back.parts.all()) == sorted(before.values())
    for _ in range(len(RENAMED)):
        revisions.undo(Job.objects.get(pk=back.pk), people[0])
    assert [part.kind for part in Job.objects.get(pk=back.pk).parts.all()] == ["supply"]


def test_stored_entries_are_upgraded_with_their_history(owner, people):
    """Typed, changed row by row, deleted; stored under the ids of an earlier version and brought
    up to date: every revision leads back and forth over the same texts."""
    job = create_job(people[0], "Mill", "nec-2020", "us", system="1ph-120/240", begins="supply")
    supply = job.loaded()[0]

    def load(circuit):
        return {"id": "k1", "nameplate": "900 W", "circuit": circuit, "third_harmonic": "30"}

    def of():
        return Part.objects.get(job_id=job.pk, kind="multiwire_circuit")

    first = {"phase_a": "L2", "loads": [load("A")]}
    add_part(job, people[0], "multiwire_circuit", str(supply.pk), "Counter", first)
    later = (
        {"phase_a": "L2", "loads": [{**load("A"), "third_harmonic": "12"}, {**load("B"), "id": "k2"}]},
        {"phase_a": "L1", "opened_at": "N:1", "loads": [{**load("B"), "id": "k2"}]},
    )  # fmt: skip
    for document in later:
        with revisions.changing(Job.objects.get(pk=job.pk)) as held:
            state = {**revisions.part_state(of()), "entries": document}
            revisions.write(held, people[0], {str(of().pk): state})
    states = [first, *later]

    def through(number):
        """The texts before each revision, going back, and after each, going on again."""
        found = []
        for step in (revisions.undo, revisions.redo):
            for _ in range(2):
                step(Job.objects.get(pk=number), people[0])
                found.append(Part.objects.get(job_id=number, kind="multiwire_circuit").entries)
        return found

    expected = [states[1], states[0], states[1], states[2]]
    assert through(job.pk) == expected
    migration = import_module(ENTRIES)
    migration.backwards(apps, None)
    assert of().entries == {"a": "L1", "open": "N:1", "loads": [
        {"id": "k2", "nameplate": "900 W", "circuit": "B", "third": "30"}]}  # fmt: skip
    old = json.dumps([item.changes for item in Revision.objects.filter(job=job.pk)])
    assert "third_harmonic" not in old and "phase_a" not in old and '"third"' in old
    backup = b"".join(owner.get(reverse("accounts:export")).streaming_content)
    migration.forwards(apps, None)
    assert of().entries == later[-1] and through(job.pk) == expected
    owner.post(reverse("accounts:import"), {"file": SimpleUploadedFile("backup.json", backup)})
    back = Job.objects.exclude(pk=job.pk).get()
    assert Part.objects.get(job=back, kind="multiwire_circuit").entries == later[-1]
    assert through(back.pk) == expected
