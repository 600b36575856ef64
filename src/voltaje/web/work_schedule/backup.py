"""A job's work schedules in a backup, and back under the ids that its items have there."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Any
from uuid import UUID

from voltaje.web.jobs.archive_document import ScheduleDoc
from voltaje.web.jobs.models import Job
from voltaje.web.work_schedule.models import WorkSchedule

FIELDS = (
    "before", "after", "few", "starts_at", "zone", "opens", "closes", "weekends", "order", "taking",
    "done",
)  # fmt: skip
_ID = re.compile(r"[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}")


def out(job: Job) -> list[dict[str, Any]]:
    """The schedules as JSON takes them."""
    return list(job.work_schedules.values(*FIELDS))


def bring(job: Job, found: Sequence[ScheduleDoc], fresh: Callable[[str], UUID]) -> None:
    """Puts them in; two between the same revisions are one."""

    def key(text: str) -> str:
        return _ID.sub(lambda match: str(fresh(match[0])), text)

    for one in {(one.before, one.after): one for one in found}.values():
        fields = one.model_dump(include=set(FIELDS))
        fields["order"] = [key(text) for text in one.order]
        fields["done"] = [key(text) for text in one.done]
        fields["taking"] = {key(text): list(value) for text, value in one.taking.items()}
        WorkSchedule.objects.create(job=job, **fields)
