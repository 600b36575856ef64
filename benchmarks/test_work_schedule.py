"""What a work schedule costs, in processor time: the mill's 54 items and a job of 561, everything
new and every load changed; arranging the plan, which each page does, in well under a second."""

from __future__ import annotations

import time

import pytest
from benchmarks.test_acts import JOBS

from voltaje.core.work_schedule import plan
from voltaje.web.history import revisions
from voltaje.web.jobs.actions import create_job, plant
from voltaje.web.work_schedule.arranged import arranged
from voltaje.web.work_schedule.long_work import _side
from voltaje.web.work_schedule.models import WorkSchedule


def changed(job):
    """Every circuit's load half as much again, as a revision."""
    with revisions.changing(job) as held:
        wanted = {}
        for part in held.loaded():
            state = revisions.part_state(part)
            if part.kind == "circuit":
                wanted[str(part.pk)] = {**state, "entries": {**state["entries"], "load": "2.2 kW"}}
        revisions.write(held, job.owner, wanted)
    return type(job).objects.get(pk=job.pk)


@pytest.mark.django_db
@pytest.mark.parametrize("name", JOBS)
def test_a_schedule(benchmark, name, django_user_model):
    owner = django_user_model.objects.create_user("who@trade.example", "a long enough word")
    job = create_job(owner, "Works", "nec-2020", "us")
    plant(job, owner, JOBS[name])
    job = type(job).objects.get(pk=job.pk)
    first = job.revision
    job = changed(job)
    for before in (0, first):
        began = time.process_time()
        sides = _side(job, before), _side(job, job.revision)
        worked = time.process_time()
        found = plan(*sides)
        planned = time.process_time()
        kept = WorkSchedule(job=job, before=before, after=job.revision, starts_at=job.created_at)
        shown = arranged(found, kept)
        ended = time.process_time()
        print(
            f"{name} from {before}: worked {worked - began:.2f} s,"
            f" planned {planned - worked:.2f} s,"
            f" arranged {ended - planned:.2f} s, {len(shown.steps)} steps, {shown.outages} outages"
        )
    benchmark.pedantic(arranged, (found, kept), rounds=1)
