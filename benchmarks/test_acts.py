"""What one act of a hand costs on a whole job with a second code on: recalculation, save, pages; on
the demo's mill (54 items) and on a job of 561, as it is served. Run by ``./voltaje bench``;
``--benchmark-timer=time.process_time`` asks for processor time. The figures are in
docs/benchmarks.md.
"""

import gc
import random

import pytest
from benchmarks.test_circuits import circuits
from django.template.base import Template
from django.test.utils import _TestState
from django.urls import reverse

from voltaje.web import wsgi
from voltaje.web.jobs import worked
from voltaje.web.jobs.actions import create_job, plant
from voltaje.web.jobs.demo import MILL
from voltaje.web.jobs.models import Job

BOARDS = 11
OF_ONE_BOARD = 49


def large():
    """A service with eleven feeders, a board of 49 circuits behind each: 561 items."""
    rng = random.Random(28)
    boards = []
    for number in range(BOARDS):
        under = [
            (of, f"Circuit {number}.{index}", {**entries, "length": length}, [])
            for index, (of, entries), length in circuits(OF_ONE_BOARD, rng)
        ]
        board = ("board", f"Board {number}", {"rating": "400"}, under)
        boards.append(("feeder", f"Feeder {number}", {"length": "80 ft"}, [board]))
    return ("supply", "Works", {"system": "3ph-208Y/120", "fault": "22 kA"}, boards)


JOBS = {"mill": MILL, "561 items": large()}


@pytest.fixture(autouse=True)
def as_served(monkeypatch):
    """Templates without the hooks of tests, which copy the context of each; the collector of
    garbage as ``web/wsgi.py`` sets it."""
    monkeypatch.setattr(Template, "_render", _TestState.saved_data.template_render)
    before = gc.get_threshold()
    gc.freeze()
    gc.set_threshold(*wsgi.THRESHOLDS)
    yield
    gc.set_threshold(*before)
    gc.unfreeze()


@pytest.fixture(params=JOBS)
def job(request, transactional_db, client, django_user_model, settings):
    settings.STORAGES = {
        **settings.STORAGES,
        "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
    }
    user = django_user_model.objects.create_user("bench@trade.example", "a long enough word")
    client.force_login(user)
    made = create_job(user, "Bench", "nec-2020", "us")
    plant(made, user, JOBS[request.param])
    Job.objects.filter(pk=made.pk).update(second="nec-2023")
    return Job.objects.get(pk=made.pk)


@pytest.fixture
def circuit(job):
    """A circuit deep in the job, and the addresses of its sheet."""
    part = job.parts.filter(kind="circuit").order_by("pk").first()
    return part, lambda name: reverse(f"jobs:{name}", args=[job.pk, part.pk])


def test_recalculation(benchmark, client, circuit):
    part, address = circuit
    url, watts = address("work"), iter(range(500, 10_000_000))
    form = {k: v for k, v in part.entries.items() if isinstance(v, str)}
    client.get(address("part"))

    def act():
        assert client.post(url, {**form, "load": f"{next(watts) / 10} W"}).status_code == 200

    benchmark(act)


def test_save(benchmark, client, circuit):
    _, address = circuit
    url, watts = address("save"), iter(range(500, 10_000_000))
    client.get(address("part"))

    def act():
        assert client.post(url, {"set:load": f"{next(watts) / 10} W"}).status_code == 200

    benchmark(act)


def test_page_of_an_item(benchmark, client, circuit):
    _, address = circuit
    url = address("part")
    benchmark(lambda: client.get(url))


def test_page_of_the_job(benchmark, client, job):
    url = reverse("jobs:job", args=[job.pk])
    benchmark(lambda: client.get(url))


def test_first_page_of_an_item(benchmark, client, circuit):
    """In a process that has never worked the job."""
    _, address = circuit
    url = address("part")

    def act():
        worked._kept.clear()
        assert client.get(url).status_code == 200

    benchmark.pedantic(act, rounds=3)


def test_conductors_chosen_together(benchmark, client, job):
    """The page, with the job worked before."""
    top = job.parts.get(name__in=[tree[1] for tree in JOBS.values()])
    url = reverse("jobs:metal", args=[job.pk, top.pk])
    client.get(reverse("jobs:job", args=[job.pk]))

    def act():
        assert client.get(url).status_code == 200

    benchmark.pedantic(act, rounds=2)


@pytest.mark.parametrize("page", ["riser", "codes"])
def test_first_look_at_the_whole(benchmark, client, job, page):
    url = reverse(f"jobs:{page}", args=[job.pk])

    def act():
        worked._kept.clear()
        assert client.get(url).status_code == 200

    benchmark.pedantic(act, rounds=3)
