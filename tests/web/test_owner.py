"""A job belongs to its owner: every address of it answers 404 to anyone else."""

import uuid

import pytest
from django.urls import reverse

from voltaje.web.documents.models import DocumentSet
from voltaje.web.jobs import recordings, urls
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Amendment, Job, Part, Reading, Revision
from voltaje.web.work_schedule.models import WorkSchedule

OF_A_JOB = [p for p in urls.urlpatterns if "job_id" in str(p.pattern)]


OF_A_BOARD = {"circuits", "csv", "xlsx", "import", "chart", "balance", "work_order",
              "cases", "cases_file", "door", "place", "metal", "rows_in", "rows_file", "many",
              "change_many"}  # fmt: skip
NOTHING = uuid.uuid4()


@pytest.fixture
def cottage(job, cottage, people):
    """The cottage, with a board beside it and an amendment of the job, for the routes to them."""
    board = add_part(job, people[0], "board", str(cottage.parent_id))
    cottage.board = board
    cottage.amendment = Amendment.objects.create(
        job=job, topic="ampacity", row="12", column="copper 60", value="18",
        jurisdiction="County", reason="Ordinance 7",
    )  # fmt: skip
    cottage.reading = Reading.objects.create(
        job=job, part=cottage, part_name="x", point="L1", unit="A", value=3, who="x"
    )
    samples = "Time,L1\n" + "\n".join(f"2026-11-02 10:0{n},4" for n in range(5))
    cottage.recording = recordings.keep(job, cottage, "x", recordings.of_csv(samples))
    cottage.documents = DocumentSet.objects.create(
        job=job, revision=1, mark="x", pages=1, content=b"%PDF-"
    )
    cottage.circuit = add_part(job, people[0], "circuit", str(board.pk))
    cottage.schedule = WorkSchedule.objects.create(
        job=job, before=0, after=job.revision, starts_at=job.created_at
    )
    return cottage


def address(pattern, job, part, amendment=NOTHING):
    if pattern.name in OF_A_BOARD and hasattr(part, "board"):
        part = part.board
    if pattern.name == "nameplate" and hasattr(part, "circuit"):
        part = part.circuit
    wanted = {
        "job_id": job, "part_id": getattr(part, "pk", part), "number": 1,
        "ending": "csv", "name": "reserved_positions",
        "amendment_id": (getattr(part, "amendment", None) and part.amendment.pk) or amendment,
        "reading_id": (getattr(part, "reading", None) and part.reading.pk) or amendment,
        "recording_id": (getattr(part, "recording", None) and part.recording.pk) or amendment,
        "schedule_id": (getattr(part, "schedule", None) and part.schedule.pk) or amendment,
        "set_id": (getattr(part, "documents", None) and part.documents.pk) or amendment,
    }  # fmt: skip
    return reverse(
        f"jobs:{pattern.name}",
        kwargs={name: wanted[name] for name in pattern.pattern.converters},
    )


def test_the_list_of_routes_is_not_empty():
    assert len(OF_A_JOB) >= 20


@pytest.mark.parametrize("pattern", OF_A_JOB, ids=lambda p: p.name)
@pytest.mark.parametrize("method", ["get", "post"])
def test_nobody_else_gets_in(pattern, method, stranger, owner, client, job, cottage):
    url = address(pattern, job.pk, cottage)
    before = Job.objects.values().get(pk=job.pk)
    answer = getattr(stranger, method)(url, {"name": "taken", "set:area": "1"})
    assert answer.status_code in (404, 405)
    own = owner.get(url) if method == "get" else None
    assert own is None or own.status_code in (200, 302, 405)
    # a method that the route takes is refused for the owner's sake, not the method's
    assert {stranger.get(url).status_code, stranger.post(url).status_code} & {404}
    assert Job.objects.values().get(pk=job.pk) == before


@pytest.mark.parametrize("pattern", OF_A_JOB, ids=lambda p: p.name)
def test_without_sign_in_it_asks_for_it(pattern, client, job, cottage):
    for method in (client.get, client.post):
        answer = method(address(pattern, job.pk, cottage))
        assert answer.status_code == 302 and "/account/sign-in/" in answer.url


@pytest.mark.parametrize("pattern", OF_A_JOB, ids=lambda p: p.name)
def test_forged_ids_answer_404(pattern, owner, job, cottage):
    for ids in ((uuid.uuid4(), cottage), (job.pk, uuid.uuid4())):
        known = {"part_id", "amendment_id", "reading_id", "recording_id", "set_id"} & set(
            pattern.pattern.converters
        )
        if ids[0] == job.pk and not known:
            continue
        url = address(pattern, *ids)
        # in one's own job a part that is not there is told as gone; what is out stays out
        known = {404, 405, 409} if ids[0] == job.pk else {404, 405}
        known |= {302} if pattern.name == "drop_amendment" and ids[0] == job.pk else set()
        assert {owner.get(url).status_code, owner.post(url).status_code} <= known


def test_a_part_of_another_job_is_not_reached_through_ones_own(stranger, people, job, cottage):
    from voltaje.web.jobs.actions import create_job

    own = create_job(people[1], "Own", "nec-2020", "us")
    url = reverse("jobs:save", args=[own.pk, cottage.pk])
    before = Revision.objects.filter(job=job).count()
    assert stranger.post(url, {"set:area": "1"}).status_code == 409
    assert Revision.objects.filter(job=job).count() == before


def test_lists_show_only_ones_own(owner, stranger, job):
    assert b"Mill" in owner.get(reverse("jobs:list")).content
    assert "No job has" in stranger.get(reverse("jobs:list"), {"q": "Mill"}).content.decode()


@pytest.mark.parametrize("what", ["create", "duplicate", "add", "copy", "amend"])
def test_an_id_of_somebody_elses_makes_nothing_and_says_so(what, stranger, people, job, cottage):
    own = create_job(people[1], "Own", "nec-2020", "us")
    supply = own.parts.first()
    cell = {"topic": "ampacity", "row": "12", "column": "copper 60", "value": "19",
            "jurisdiction": "Town", "reason": "x"}  # fmt: skip
    url, posted = {
        "create": (reverse("jobs:create"), {"name": "N", "edition": "nec-2020", "units": "us",
                                            "preference": "smallest", "system": "1ph-120/240",
                                            "begins": "supply", "made": job.pk}),
        "duplicate": (reverse("jobs:duplicate", args=[own.pk]), {"made": job.pk}),
        "add": (reverse("jobs:tree", args=[own.pk]),
                {"act": "add", "kind": "board", "part": supply.pk, "made": cottage.pk}),
        "copy": (reverse("jobs:tree", args=[own.pk]),
                 {"act": "duplicate", "part": supply.pk, "made": cottage.pk}),
        "amend": (reverse("jobs:amendments", args=[own.pk]), {**cell, "made": cottage.amendment.pk}),
    }[what]  # fmt: skip
    before = (Job.objects.count(), Part.objects.count(), Amendment.objects.count())
    answer = stranger.post(url, posted, follow=True)
    assert answer.status_code < 500
    assert (Job.objects.count(), Part.objects.count(), Amendment.objects.count()) == before
    assert Job.objects.get(pk=job.pk).owner == people[0]
    assert Amendment.objects.get(pk=cottage.amendment.pk).value == "18"
    words = answer.content.decode()
    assert "This form was used before" in words or "there already" in words
