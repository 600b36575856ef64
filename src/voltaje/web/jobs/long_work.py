"""The long work of a job as a whole: all of its items under two codes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.utils.translation import gettext

from voltaje.web.background.work import Answered, Asked, LongWork, register
from voltaje.web.jobs.worked import compared, work_job

EACH = 0.004  # no code figure: s of effort of an item that is compared
MOST = 60.0  # no code figure: s of effort of a job


def _compare(asked: Asked) -> Answered:
    """Each item beside itself under another edition, by its id."""
    job, effort, under = asked.job, asked.effort, asked.question["under"]
    found, parts = work_job(job), job.loaded()
    sides: dict[str, dict[str, Any]] = {}
    for number, part in enumerate(parts):
        effort.spend(EACH)
        effort.check()
        asked.progress({"share": number / len(parts)}, None)
        side = compared(job, part, found[str(part.pk)], under)
        sides[str(part.pk)] = {
            "headline": str(side.headline),
            "status": side.status,
            "differs": side.differs,
            "problems": [str(words) for words in side.problems],
            "why": str(side.why),
        }
    return Answered(sides)


def _words(_: Mapping[str, Any]) -> str:
    return gettext("Comparing item by item.")


COMPARISON = register(LongWork("comparison", _compare, lambda _: MOST, _words))
