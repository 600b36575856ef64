"""A job belongs to its owner: every address of it answers 404 to anyone else."""

import uuid

import pytest
from django.urls import reverse

from voltaje.web.jobs import urls
from voltaje.web.jobs.models import Job, Revision

OF_A_JOB = [p for p in urls.urlpatterns if "job_id" in str(p.pattern)]


def address(pattern, job, part):
    wanted = {"job_id": job, "part_id": part, "number": 1}
    return reverse(
        f"jobs:{pattern.name}",
        kwargs={name: wanted[name] for name in pattern.pattern.converters},
    )


def test_the_list_of_routes_is_not_empty():
    assert len(OF_A_JOB) >= 13


@pytest.mark.parametrize("pattern", OF_A_JOB, ids=lambda p: p.name)
@pytest.mark.parametrize("method", ["get", "post"])
def test_nobody_else_gets_in(pattern, method, stranger, owner, client, job, cottage):
    url = address(pattern, job.pk, cottage.pk)
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
        answer = method(address(pattern, job.pk, cottage.pk))
        assert answer.status_code == 302 and "/account/sign-in/" in answer.url


@pytest.mark.parametrize("pattern", OF_A_JOB, ids=lambda p: p.name)
def test_forged_ids_answer_404(pattern, owner, job, cottage):
    for ids in ((uuid.uuid4(), cottage.pk), (job.pk, uuid.uuid4())):
        if ids[0] == job.pk and "part_id" not in pattern.pattern.converters:
            continue
        url = address(pattern, *ids)
        assert {owner.get(url).status_code, owner.post(url).status_code} <= {404, 405}


def test_a_part_of_another_job_is_not_reached_through_ones_own(stranger, people, job, cottage):
    from voltaje.web.jobs.actions import create_job

    own = create_job(people[1], "Own", "nec-2020", "us")
    url = reverse("jobs:save", args=[own.pk, cottage.pk])
    assert stranger.post(url, {"set:area": "1"}).status_code == 404
    assert Revision.objects.filter(job=job).count() == 1


def test_lists_show_only_ones_own(owner, stranger, job):
    assert b"Mill" in owner.get(reverse("jobs:list")).content
    assert "No job has" in stranger.get(reverse("jobs:list"), {"q": "Mill"}).content.decode()
