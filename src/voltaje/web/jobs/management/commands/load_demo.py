"""Loads the made-up demo: Alder Mill and its keeper. Run twice, it leaves what was changed."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from voltaje.web.accounts.models import User
from voltaje.web.history import revisions
from voltaje.web.jobs import demo_quay, logbook, recordings
from voltaje.web.jobs.actions import beginning, create_job, plant
from voltaje.web.jobs.demo import COTTAGE, MILL, READINGS, recorded_week
from voltaje.web.jobs.demo_copies import DEMO_EMAIL
from voltaje.web.jobs.models import Job, Reading
from voltaje.web.jobs.worked import work_job
from voltaje.web.materials.demo import set_prices
from voltaje.web.materials.models import PriceList
from voltaje.web.practice.demo import practise, set_papers
from voltaje.web.practice.models import ClassPaper, PracticeResult


class Command(BaseCommand):
    """``load_demo``."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Makes the demo's account and its job unless they are there."""
        user = User.objects.filter(email=DEMO_EMAIL).first()
        if user is None:
            user = User.objects.create_user(DEMO_EMAIL, None)
        if not PracticeResult.objects.filter(owner=user).exists():
            practise(user)
        if not ClassPaper.objects.filter(owner=user).exists():
            set_papers(user)
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
            _second(job, user, "cec-2021")
            _log(job, READINGS)
            _record(job)
            _quay(user)
        else:
            # an older demo that nobody has changed gets what has been added to it since
            for job in Job.objects.of(user).filter(name="Alder Mill", revision=1):
                plant(job, user, MILL)
        if not PriceList.objects.filter(owner=user).exists():
            set_prices(user, Job.objects.of(user).order_by("created_at")[0])


def _quay(user: User) -> None:
    """The metric job: its supply, and what stands under it."""
    job = create_job(
        user,
        "Heron Quay",
        "bs7671-2018",
        "metric",
        system=demo_quay.SUPPLY["system"],
        supply="Quayside supply",
        begins="supply",
    )
    with revisions.changing(job) as held:
        supply = beginning(held)
        state = {**revisions.part_state(supply), "entries": demo_quay.SUPPLY}
        revisions.write(held, user, {str(supply.pk): state})
    for tree in demo_quay.UNDER_SUPPLY:
        job.refresh_from_db()
        plant(job, user, tree, supply)
    _log(job, demo_quay.READINGS)


def _second(job: Job, user: User, code: str) -> None:
    """The code that the job stands beside."""
    with revisions.changing(job) as held:
        own = revisions.states(held, {revisions.JOB: None})[revisions.JOB] or {}
        revisions.write(held, user, {revisions.JOB: {**own, "second": code}})


def _record(job: Job) -> None:
    """The made-up week of a logger at the workshop's board."""
    part = job.parts.get(name="Workshop")
    row = recordings.keep(job, part, "A week in October", recordings.of_csv(recorded_week()))
    row.kept = True
    row.save(update_fields=["kept"])


def _log(job: Job, readings: list[dict[str, str]]) -> None:
    """The made-up site readings."""
    job.refresh_from_db()
    taken = logbook.take(job, readings, work_job(job), "")
    Reading.objects.bulk_create([item.reading for item in taken if item.reading is not None])
