"""Nameplates of an account: typed, kept from an item, used in jobs, corrected, brought to the jobs
when told; photos; the backup. Invented equipment."""

from __future__ import annotations

import json
from io import BytesIO

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from voltaje.core.codes import editions
from voltaje.core.entries import fields
from voltaje.core.kinds import job_kinds
from voltaje.core.rules.interface import families
from voltaje.web.history import revisions
from voltaje.web.jobs import archive
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import work_job
from voltaje.web.nameplates import library
from voltaje.web.nameplates.models import Nameplate

NEW = reverse("nameplates:new") + "?code=nec-2020&kind=motor"
PUMP = {
    "name": "Booster pump 2",
    "horsepower": "10 hp",
    "connection": "three-phase",
    "service_factor": "1.15",
}


@pytest.fixture
def plate(owner, people):
    """A pump's nameplate."""
    assert owner.post(NEW, PUMP).status_code == 302
    return people[0].nameplates.get()


def job_with_a_motor(user, name="Yard"):
    job = create_job(user, name, "nec-2020", "us", system="3ph-208Y/120", begins="board")
    board = next(one for one in job.loaded() if one.kind == "board")
    part = add_part(
        job, user, "motor", str(board.pk), "Pump", {"horsepower": "3 hp", "length": "40 ft"}
    )
    return Job.objects.get(pk=job.pk), part


def motor(job):
    return next(one for one in Job.objects.get(pk=job.pk).loaded() if one.kind == "motor")


def used(owner, job, plate):
    part = motor(job)
    url = reverse("jobs:nameplate", args=[job.pk, part.pk])
    assert owner.post(url, {"nameplate": str(plate.pk)}).status_code == 302
    return url


@pytest.mark.parametrize("of", [of for of in job_kinds() if of.nameplate], ids=lambda of: of.name)
def test_what_a_nameplate_tells_are_entries_of_its_kind(of):
    models = [of.entries_in(code) for code in families() if of.covers(code)]
    known = {spec.name: spec for model in models for spec in fields(model)}
    assert set(of.nameplate) <= set(known)
    assert not [name for name in of.nameplate if known[name].kind == "rows"]


@pytest.mark.parametrize("book", [one.id for one in editions()])
def test_every_kind_has_its_form_under_every_code(owner, book):
    text = owner.get(reverse("nameplates:list") + f"?code={book}").content.decode()
    kinds = library.kinds_with_nameplates(book)
    assert kinds and all(f"kind={of.name}" in text for of in kinds)
    for of in kinds:
        page = owner.get(reverse("nameplates:new") + f"?code={book}&kind={of.name}")
        shown = page.content.decode()
        assert page.status_code == 200
        assert all(f'name="{spec.name}"' in shown for spec in library.specs_of(of, book))


def test_a_nameplate_is_used_by_name_and_fills_the_sheet(owner, people, plate):
    job, _ = job_with_a_motor(people[0])
    assert (
        "Booster pump 2"
        in owner.get(reverse("jobs:nameplate", args=[job.pk, motor(job).pk])).content.decode()
    )
    used(owner, job, plate)
    part = motor(job)
    # NEC 430.250: 10 hp at 208 V takes 30.8 A; the length stays
    # what it does not tell is left out, not emptied: a list would show its first choice
    assert set(part.entries) == {"horsepower", "service_factor", "length"}
    assert part.entries["horsepower"] == "10 hp" and part.entries["length"] == "40 ft"
    job = Job.objects.get(pk=job.pk)
    assert work_job(job)[str(part.pk)].outcome.amperes == pytest.approx(30.8)
    revisions.undo(job, people[0])
    assert motor(job).entries["horsepower"] == "3 hp"
    assert library.uses_of(plate)[0].state == "changed"


def test_a_correction_changes_no_job_until_it_is_told(owner, people, plate):
    jobs = [job_with_a_motor(people[0], name)[0] for name in ("Yard", "Mill", "Barn")]
    for job in jobs:
        used(owner, job, plate)
    url = reverse("nameplates:one", args=[plate.pk])
    assert owner.post(url, {**PUMP, "horsepower": "15 hp"}).status_code == 302
    plate.refresh_from_db()
    assert plate.version == 2 and {motor(job).entries["horsepower"] for job in jobs} == {"10 hp"}
    changed = motor(jobs[2])
    with revisions.changing(jobs[2]) as held:
        state = revisions.part_state(held.parts.get(pk=changed.pk))
        own = {**state["entries"], "horsepower": "12 hp"}
        revisions.write(held, people[0], {str(changed.pk): {**state, "entries": own}})
    uses = {one.job.name: one for one in library.uses_of(plate)}
    assert {name: one.state for name, one in uses.items()} == {
        "Yard": "corrected", "Mill": "corrected", "Barn": "changed",
    }  # fmt: skip
    assert "nameplate corrected since" in owner.get(url).content.decode()
    owner.post(url, {"do": "update", "use": [str(uses["Yard"].use.pk), "999999"]})
    assert [motor(job).entries["horsepower"] for job in jobs] == ["15 hp", "10 hp", "12 hp"]
    assert {one.job.name: one.state for one in library.uses_of(plate)}["Yard"] == "same"


def test_an_item_is_kept_as_a_nameplate(owner, people):
    job, part = job_with_a_motor(people[0])
    url = reverse("jobs:nameplate", args=[job.pk, part.pk])
    assert owner.post(url, {"do": "keep", "name": "Sump pump"}).status_code == 302
    plate = people[0].nameplates.get()
    assert plate.entries == {"horsepower": "3 hp"} and library.uses_of(plate)[0].state == "same"
    empty = add_part(job, people[0], "motor", str(part.parent_id), "None", {})
    bad = owner.post(
        reverse("jobs:nameplate", args=[job.pk, empty.pk]), {"do": "keep", "name": "x"}
    )
    assert bad.status_code == 422 and "no entry of a nameplate" in bad.content.decode()


@pytest.mark.parametrize(("more", "words"), [
    ({"name": ""}, "A name of up to 80"), ({"name": "x" * 81}, "A name of up to 80"),
    ({"name": "a\x00b"}, "cannot be printed"), ({"horsepower": "ten"}, "problem"),
    ({"horsepower": "", "service_factor": "", "connection": ""}, "at least one entry"), ({"service_factor": "-3"}, "problem"),
])  # fmt: skip
def test_what_is_wrong_is_said_at_its_field(owner, people, more, words):
    answer = owner.post(NEW, {**PUMP, **more})
    text = answer.content.decode()
    assert answer.status_code == 422 and words in text and not people[0].nameplates.exists()
    assert all(f'value="{value}"' in text for name, value in PUMP.items()
               if name not in more and name != "connection")  # fmt: skip


def test_another_code_takes_what_it_knows(owner, people, plate):
    job, _ = job_with_a_motor(people[0])
    used(owner, job, plate)
    job = Job.objects.get(pk=job.pk)
    job.edition = "cec-2021"
    job.save()
    assert library.uses_of(plate)[0].state == "same"
    assert owner.get(reverse("nameplates:new") + "?code=bs7671-2018&kind=motor").status_code == 404


def test_a_gone_item_and_a_deleted_nameplate(owner, people, plate):
    job, part = job_with_a_motor(people[0])
    used(owner, job, plate)
    with revisions.changing(job) as held:
        revisions.write(held, people[0], {str(part.pk): None})
    assert library.uses_of(plate)[0].state == "gone"
    assert library.update(plate, people[0], [str(library.uses_of(plate)[0].use.pk)]) == 0
    revisions.undo(Job.objects.get(pk=job.pk), people[0])
    assert library.uses_of(plate)[0].state == "same"
    owner.post(reverse("nameplates:one", args=[plate.pk]), {"do": "delete"})
    assert motor(job).entries["horsepower"] == "10 hp" and not Nameplate.objects.exists()


# photos ---------------------------------------------------------------------------------------------


def picture(size=(60, 40), kind="JPEG", exif=None):
    out = BytesIO()
    image = Image.new("RGB", size, (200, 120, 40))
    image.save(out, kind, **({"exif": exif} if exif else {}))
    return out.getvalue()


def test_a_photo_is_kept_small_upright_and_without_its_data(owner, plate):
    exif = Image.Exif()
    exif[0x0112] = 6  # turned by a quarter
    exif[0x010F] = "Camera maker"
    exif.get_ifd(0x8825)[2] = (51.0, 30.0, 0.0)  # where it was taken
    url = reverse("nameplates:one", args=[plate.pk])
    file = SimpleUploadedFile("plate.jpg", picture((3000, 1500), exif=exif))
    assert owner.post(url, {**PUMP, "photo": file}).status_code == 302
    shown = owner.get(reverse("nameplates:photo", args=[plate.pk]))
    with Image.open(BytesIO(shown.content)) as image:
        assert image.size == (800, 1600) and not dict(image.getexif())
    assert b"Camera maker" not in shown.content
    plate.refresh_from_db()
    assert plate.version == 1  # a photo is no correction
    owner.post(url, {**PUMP, "no_photo": "yes"})
    assert owner.get(reverse("nameplates:photo", args=[plate.pk])).status_code == 404


@pytest.mark.parametrize(
    "raw",
    [b"", b"GIF89a", b"<svg/>", picture()[:200], b"\xff\xd8\xff" + bytes(90), picture(kind="GIF")],
)
def test_what_is_no_photo_is_refused(owner, plate, raw):
    file = SimpleUploadedFile("plate.jpg", raw)
    answer = owner.post(reverse("nameplates:one", args=[plate.pk]), {**PUMP, "photo": file})
    if raw:
        assert answer.status_code == 422 and "JPEG, PNG or WebP" in answer.content.decode()
    plate.refresh_from_db()
    assert not bytes(plate.photo)


def test_a_picture_that_unpacks_to_too_much_is_refused(owner, plate):
    file = SimpleUploadedFile("plate.png", picture((9000, 9000), "PNG"))
    answer = owner.post(reverse("nameplates:one", args=[plate.pk]), {**PUMP, "photo": file})
    assert answer.status_code == 422 and "too many pixels" in answer.content.decode()


# others -----------------------------------------------------------------------------------------------


def test_nobody_elses_nameplate(stranger, owner, people, plate):
    for name in ("one", "photo"):
        assert stranger.get(reverse(f"nameplates:{name}", args=[plate.pk])).status_code == 404
    assert (
        stranger.post(reverse("nameplates:one", args=[plate.pk]), {"do": "delete"}).status_code
        == 404
    )
    job, part = job_with_a_motor(people[1])
    answer = stranger.post(
        reverse("jobs:nameplate", args=[job.pk, part.pk]), {"nameplate": str(plate.pk)}
    )
    assert answer.status_code == 422 and motor(job).entries["horsepower"] == "3 hp"


def test_nameplates_are_in_the_backup_and_back(owner, people, plate):
    job, _ = job_with_a_motor(people[0])
    used(owner, job, plate)
    owner.post(
        reverse("nameplates:one", args=[plate.pk]),
        {**PUMP, "photo": SimpleUploadedFile("p.jpg", picture())},
    )
    document = json.loads("".join(archive.pieces(people[0])))
    archive.bring(people[1], document)
    back = people[1].nameplates.get()
    assert (back.name, back.entries) == (plate.name, plate.entries) and bytes(back.photo)[
        :2
    ] == b"\xff\xd8"
    assert [one.state for one in library.uses_of(back)] == ["same"]
    document["nameplates"][0]["kind"] = "board"
    with pytest.raises(archive.UnreadableArchiveError):
        archive.bring(people[1], document)
