"""The metric job of the demo through its pages: each part has its sheet, its print and its JSON, in
the units and the words of its code."""

import pytest
from django.core.management import call_command
from django.urls import reverse

from voltaje.web.jobs.models import Job


@pytest.fixture
def quay(people):
    """The demo's metric job, given to an account of the tests."""
    call_command("load_demo")
    job = Job.objects.get(name="Heron Quay")
    job.owner = people[0]
    job.save()
    return job


def test_every_part_of_the_quay_is_worked(owner, quay):
    parts = list(quay.parts.all())
    assert {part.kind for part in parts} == {"supply", "distribution", "board", "circuit"}
    for part in parts:
        for route in ("part", "print", "json"):
            answer = owner.get(reverse(f"jobs:{route}", args=[quay.pk, part.pk]))
            assert answer.status_code == 200
        page = owner.get(reverse("jobs:part", args=[quay.pk, part.pk])).content.decode()
        assert 'class="answer"' in page and '<svg class="drawing"' in page, part.name


def test_the_job_names_cables_in_mm2_and_finds_no_fault(owner, quay):
    page = owner.get(reverse("jobs:job", args=[quay.pk])).content.decode()
    assert "mm² Cu" in page and "AWG" not in page and 'class="find fails"' not in page
    riser = owner.get(reverse("jobs:riser", args=[quay.pk])).content.decode()
    assert "Pontoon main" in riser and "Chandlery" in riser


def test_the_loop_of_a_pedestal_comes_down_the_tree(owner, quay):
    """Ze, the quayside main, the pontoon main, its own run: each longer than the one before."""

    def loop(name):
        part = quay.parts.get(name=name)
        found = owner.get(reverse("jobs:json", args=[quay.pk, part.pk])).json()
        return found["results"]["loop"]["value"]

    loops = [0.18, loop("Quayside main"), loop("Pontoon main"), loop("Pedestal 1, 16 A")]
    assert loops == sorted(loops) and len(set(loops)) == 4
