"""Every save is a revision; undo, redo and restore; two tabs on one job."""

import random

import pytest
from django.urls import reverse

from voltaje.core.kinds.dwelling.nec.entries import DwellingEntries
from voltaje.web.history import revisions
from voltaje.web.history.patch import BadPathError, Patch, apply, read_patch
from voltaje.web.jobs.demo import COTTAGE
from voltaje.web.jobs.models import Job, Part, Revision


@pytest.fixture
def save(owner, job, cottage):
    """``save(path=text)`` as the page does it, with what each started from in ``base``."""

    def send(texts, bases=None, drop=()):
        data = {f"set:{path}": text for path, text in texts.items()}
        data |= {f"base:{path}": text for path, text in (bases or {}).items()}
        data |= {f"drop:{row}": "1" for row in drop}
        return owner.post(reverse("jobs:save", args=[job.pk, cottage.pk]), data)

    return send


def entries(cottage):
    return Part.objects.get(pk=cottage.pk).entries


def test_a_save_is_a_revision_with_who_and_what(save, job, cottage, people):
    assert save({"area": "1600"}, {"area": "1480 sq ft"}).status_code == 200
    made = Revision.objects.filter(job=job).first()
    assert (made.number, made.author, made.action) == (2, people[0], "edit")
    assert made.summary == "Cottage: Floor area 1480 sq ft → 1600 ft²"
    assert entries(cottage)["area"] == "1600 ft²"


def test_a_save_that_changes_nothing_is_none(save, job):
    save({"area": "1480 sq ft"}, {"area": "1480 sq ft"})
    assert Revision.objects.filter(job=job).count() == 1


def test_undo_and_redo_across_reloads(save, owner, job, cottage):
    states = [entries(cottage)]
    for area in ("1500 ft²", "1600 ft²", "big"):
        save({"area": area})
        states.append(entries(cottage))
    for wanted in reversed(states[:-1]):
        owner.post(reverse("jobs:undo", args=[job.pk]))
        assert entries(cottage) == wanted
    owner.post(reverse("jobs:undo", args=[job.pk]))  # nothing left: says so
    assert entries(cottage) == states[0]
    for wanted in states[1:]:
        owner.post(reverse("jobs:redo", args=[job.pk]))
        assert entries(cottage) == wanted
    assert Job.objects.get(pk=job.pk).revision == 1 + 3 + 3 + 3


def test_an_edit_after_undo_ends_redo(save, owner, job, cottage):
    save({"area": "1500 ft²"})
    owner.post(reverse("jobs:undo", args=[job.pk]))
    save({"area": "1700 ft²"})
    answer = owner.post(reverse("jobs:redo", args=[job.pk]), follow=True)
    assert "nothing to redo" in answer.content.decode()
    assert entries(cottage)["area"] == "1700 ft²"


def test_a_deleted_row_comes_back_in_its_place(save, owner, job, cottage):
    before = entries(cottage)
    save({}, drop=["appliances.a2"])
    assert [row["id"] for row in entries(cottage)["appliances"]] == ["a1", "a3", "a4"]
    assert "row “Dishwasher” deleted" in Revision.objects.filter(job=job).first().summary
    owner.post(reverse("jobs:undo", args=[job.pk]))
    assert entries(cottage) == before


@pytest.mark.parametrize("number", [1, 3, 5])
def test_restore(save, owner, job, cottage, number):
    states = {1: entries(cottage)}
    for step in range(2, 7):
        save({"area": f"{1000 + step} ft²", "laundry_circuits": str(step)})
        states[step] = entries(cottage)
    owner.post(reverse("jobs:restore", args=[job.pk, number]))
    assert entries(cottage) == states[number]
    assert Revision.objects.filter(job=job).first().summary.startswith(f"Back to revision {number}")
    owner.post(reverse("jobs:undo", args=[job.pk]))
    assert entries(cottage) == states[6]


def test_random_walks_come_back(save, people, job, cottage):
    """Any row of edits, undone as often as it was long, is where it began."""
    chance = random.Random(7)
    start = entries(cottage)
    for _ in range(12):
        path = chance.choice(["area", "laundry_circuits", "cooking.c1.nameplate",
                              "appliances.n1.name", "appliances.a3.nameplate"])  # fmt: skip
        save({path: str(chance.randint(1, 9000))})
    made = len(Job.objects.get(pk=job.pk).undo_stack)
    for _ in range(made):
        revisions.undo(job, people[0])
    assert entries(cottage) == start
    with pytest.raises(revisions.NothingToDoError):
        revisions.undo(job, people[0])


def test_settings_of_a_job_are_revisions_too(owner, job):
    url = reverse("jobs:settings", args=[job.pk])
    owner.post(
        url, {"name": "Mill", "edition": "nec-2023", "units": "metric", "preference": "maximum"}
    )
    assert Job.objects.get(pk=job.pk).edition == "nec-2023"
    owner.post(reverse("jobs:undo", args=[job.pk]))
    assert Job.objects.get(pk=job.pk).edition == "nec-2020"


@pytest.mark.parametrize(
    ("texts", "bases", "kept", "conflict"),
    [
        # the other tab has changed another entry: both stay
        ({"laundry_circuits": "2"}, {"laundry_circuits": "1"},
         {"laundry_circuits": "2", "area": "1600 ft²"}, None),
        # the same entry to the same text: no matter
        ({"area": "1600 ft²"}, {"area": "1480 sq ft"}, {"area": "1600 ft²"}, None),
        # the same entry to another text: nothing is overwritten
        ({"area": "1700"}, {"area": "1480 sq ft"}, {"area": "1600 ft²"}, ("area", "1700")),
        # the user has chosen: it now starts from the other's text
        ({"area": "1700"}, {"area": "1600 ft²"}, {"area": "1700 ft²"}, None),
    ],
)  # fmt: skip
def test_two_tabs(save, cottage, texts, bases, kept, conflict):
    save({"area": "1600"}, {"area": "1480 sq ft"})  # the other tab
    answer = save(texts, bases)
    now = entries(cottage)
    assert {name: now[name] for name in kept} == kept
    assert ("&quot;conflicts&quot;: []" in answer.content.decode()) == (conflict is None)


def test_a_row_changed_elsewhere_is_not_deleted_unseen():
    patch = Patch(bases={"appliances.a1.nameplate": "4 kW"}, deleted={"appliances.a1": "1"})
    changed, conflicts = apply(COTTAGE, patch, DwellingEntries)
    assert changed == COTTAGE and conflicts[0].theirs == "4.5 kW"


@pytest.mark.parametrize(
    "name", ["set:colour", "set:appliances.a1.colour", "set:appliances.A!.name", "drop:area",
             "set:area.x.y", "base:appliances"],
)  # fmt: skip
def test_forged_paths_are_refused(save, owner, job, cottage, name):
    with pytest.raises(BadPathError):
        read_patch({name: "1"}, DwellingEntries)
    url = reverse("jobs:save", args=[job.pk, cottage.pk])
    assert owner.post(url, {name: "1"}).status_code == 400
    assert Revision.objects.filter(job=job).count() == 1


def test_bad_entries_are_kept_as_typed_and_the_last_good_result_stays(save, owner, job, cottage):
    save({"cooking.c1.nameplate": "a lot"})
    page = owner.get(reverse("jobs:part", args=[job.pk, cottage.pk])).content.decode()
    assert 'value="a lot"' in page and "does not read as a nameplate" in page
    assert "Last good result" in page and "150 A" in page


def test_duplicate_and_archive(owner, job, people):
    owner.post(reverse("jobs:duplicate", args=[job.pk]))
    copy = Job.objects.get(name="Mill (copy)")
    assert [p.entries for p in copy.parts.order_by("kind")] == [
        p.entries for p in job.parts.order_by("kind")
    ]
    owner.post(reverse("jobs:archive", args=[job.pk]))
    listed = owner.get(reverse("jobs:list")).content.decode()
    assert "Mill (copy)" in listed and ">Mill<" not in listed
    assert ">Mill<" in owner.get(reverse("jobs:list"), {"archived": "1"}).content.decode()
