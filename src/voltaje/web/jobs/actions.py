"""What is done to a job as a whole."""

from __future__ import annotations

import uuid
from typing import Any

from django.db import transaction

from voltaje.web.jobs import revisions
from voltaje.web.jobs.models import Job, Part

FIRST_PARTS = (("supply", "Utility service"), ("dwelling", "Dwelling"))


@transaction.atomic
def create_job(
    user: Any, name: str, edition: str, units: str, entries: dict[str, Any] | None = None,
    system: str = "1ph-120/240", dwelling: str = "Dwelling", supply: str = "Utility service",
) -> Job:  # fmt: skip
    """A job with a supply and a dwelling on it, as its first revision."""
    job = Job.objects.create(owner=user, name=name, edition=edition, units=units)
    ids = [str(uuid.uuid4()), str(uuid.uuid4())]

    def act() -> None:
        top = Part.objects.create(
            id=ids[0], job=job, kind="supply", name=supply, entries={"system": system}
        )
        Part.objects.create(
            id=ids[1], job=job, kind="dwelling", name=dwelling, parent=top, entries=entries or {}
        )

    revisions.change(revisions.locked(job), user, ids, act, "create")
    job.refresh_from_db()
    return job


@transaction.atomic
def add_dwelling(job: Job, user: Any, name: str, entries: dict[str, Any]) -> Part:
    """Another dwelling on the job's supply."""
    job = revisions.locked(job)
    top = job.parts.filter(parent=None).first()
    last = job.parts.filter(parent=top).order_by("-position").first()
    part_id = str(uuid.uuid4())

    def act() -> None:
        Part.objects.create(
            id=part_id, job=job, kind="dwelling", name=name, parent=top, entries=entries,
            position=last.position + 1 if last else 0,
        )  # fmt: skip

    revisions.change(job, user, [part_id], act)
    return Part.objects.get(pk=part_id)


@transaction.atomic
def duplicate_job(job: Job, user: Any) -> Job:
    """A copy with all parts and none of the revisions."""
    name = f"{job.name[:72]} (copy)"
    copy = Job.objects.create(owner=user, name=name, edition=job.edition, units=job.units)
    new_ids = {str(part.pk): str(uuid.uuid4()) for part in job.parts.all()}

    def act() -> None:
        waiting = list(job.parts.all())
        placed: set[str | None] = {None}
        while waiting:
            for part in list(waiting):
                parent = str(part.parent_id) if part.parent_id else None
                if parent in placed:
                    Part.objects.create(
                        id=new_ids[str(part.pk)], job=copy, kind=part.kind, name=part.name,
                        position=part.position, entries=part.entries,
                        parent_id=new_ids[parent] if parent else None,
                    )  # fmt: skip
                    placed.add(str(part.pk))
                    waiting.remove(part)

    revisions.change(revisions.locked(copy), user, list(new_ids.values()), act, "create")
    copy.refresh_from_db()
    return copy
