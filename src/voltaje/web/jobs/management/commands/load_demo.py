"""Loads the made-up demo: Alder Mill and its keeper. Run twice, it leaves what was changed."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from voltaje.web.accounts.models import User
from voltaje.web.jobs import logbook, revisions
from voltaje.web.jobs.actions import beginning, create_job, plant
from voltaje.web.jobs.demo import COTTAGE, HERON, HERON_SUPPLY, MILL, READINGS
from voltaje.web.jobs.demo_copies import DEMO_EMAIL
from voltaje.web.jobs.models import Job, Reading
from voltaje.web.jobs.worked import work_job


class Command(BaseCommand):
    """``load_demo``."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Makes the demo's account and its job unless they are there."""
        user = User.objects.filter(email=DEMO_EMAIL).first()
        if user is None:
            user = User.objects.create_user(DEMO_EMAIL, None)
        if not Job.objects.of(user).exists():
            job = create_job(
                user,
                "Alder Mill",
                "nec-2020",
                "us",
                COTTAGE,
                supply="Cottage service drop",
                part="Keeper’s cottage",
            )
            plant(job, user, MILL)
            _log(job)
            _quay(user)
        else:
            # an older demo that nobody has changed gets what has been added to it since
            for job in Job.objects.of(user).filter(name="Alder Mill", revision=1):
                plant(job, user, MILL)


def _quay(user: User) -> None:
    """The metric job: its supply, and what stands under it."""
    job = create_job(
        user,
        "Heron Quay",
        "bs7671-2018",
        "metric",
        system=HERON_SUPPLY["system"],
        supply="Quayside supply",
        begins="supply",
    )
    with revisions.changing(job) as held:
        supply = beginning(held)
        state = {**revisions.part_state(supply), "entries": HERON_SUPPLY}
        revisions.write(held, user, {str(supply.pk): state})
    for tree in HERON:
        job.refresh_from_db()
        plant(job, user, tree, supply)


def _log(job: Job) -> None:
    """The made-up site readings."""
    job.refresh_from_db()
    taken = logbook.take(job, READINGS, work_job(job), "")
    Reading.objects.bulk_create([item.reading for item in taken if item.reading is not None])
