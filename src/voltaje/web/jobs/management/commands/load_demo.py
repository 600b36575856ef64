"""Loads the made-up demo: Alder Mill and its keeper. Run twice, it leaves what was changed."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from voltaje.web.accounts.models import User
from voltaje.web.jobs import logbook
from voltaje.web.jobs.actions import create_job, plant
from voltaje.web.jobs.demo import COTTAGE, MILL, READINGS
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
        else:
            # an older demo that nobody has changed gets what has been added to it since
            for job in Job.objects.of(user).filter(name="Alder Mill", revision=1):
                plant(job, user, MILL)


def _log(job: Job) -> None:
    """The made-up site readings."""
    job.refresh_from_db()
    taken = logbook.take(job, READINGS, work_job(job), "")
    Reading.objects.bulk_create([item.reading for item in taken if item.reading is not None])
