"""The long work of this room: two revisions of a job worked, what differs, the steps from one to
the other."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.utils.translation import gettext

from voltaje.core.report import say
from voltaje.core.work_schedule import (
    ReadingPair,
    Side,
    SideItem,
    SiteItem,
    Step,
    WorkPlan,
    plan,
)
from voltaje.web.background.work import Answered, Asked, LongWork, register
from voltaje.web.history.earlier import worked_at
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import work_job

# no code figures: s of effort at most, and of an item on each side
MOST, EACH = 60.0, 0.012


def _made(asked: Asked) -> Answered:
    """The plan as JSON, in the reader's language."""
    job, question = asked.job, asked.question
    asked.effort.spend(EACH * len(job.loaded()))
    asked.effort.check()
    before = _side(job, question["before"])
    asked.effort.check()
    after = _side(job, question["after"])
    asked.effort.check()
    return Answered(_as_json(plan(before, after, question["few"])))


def _side(job: Job, number: int) -> Side:
    """Every item as it was at a revision; at 0 nothing is there."""
    if not number:
        return {}
    if number == job.revision:
        found = work_job(job)
        parts = job.loaded()
    else:
        _, found, parts = worked_at(job, number)
    return {
        str(part.pk): SideItem(
            part.name, str(part.parent_id or ""), part.entries, found[str(part.pk)]
        )
        for part in parts
    }


def _as_json(found: WorkPlan) -> dict[str, Any]:
    steps = [
        [
            step.key,
            step.act,
            step.item,
            str(step.words),
            sorted(step.dead),
            sorted(step.needs),
            [str(one) for one in step.tests],
            step.minutes,
            step.people,
            list(step.devices),
        ]
        for step in found.steps
    ]
    site = {
        item: [
            one.name,
            one.before,
            one.after,
            one.has_device,
            str(one.lock),
            str(one.later_lock),
            one.is_board,
            one.feeds_in,
            [[str(r.label), r.unit, r.before, r.after] for r in one.readings],
        ]
        for item, one in found.site.items()
    }
    return {"steps": steps, "site": site, "unknown": list(found.unknown)}


def plan_of(result: Mapping[str, Any]) -> WorkPlan:
    """The plan of a result."""
    steps = tuple(
        Step(
            key, act, item, _text(words), frozenset(dead), frozenset(needs),
            tuple(_text(one) for one in tests), minutes, people, devices=tuple(devices),
        )
        for key, act, item, words, dead, needs, tests, minutes, people, devices
        in result["steps"]
    )  # fmt: skip
    site = {
        item: SiteItem(
            name, before, after, has_device, _text(lock), _text(later), is_board, feeds_in,
            tuple(ReadingPair(_text(label), unit, was, now) for label, unit, was, now in readings),
        )
        for item, (name, before, after, has_device, lock, later, is_board, feeds_in, readings)
        in result["site"].items()
    }  # fmt: skip
    return WorkPlan(steps, site, tuple(result["unknown"]))


def _text(words: str) -> Any:
    return say("{text}", text=words)


def _words(progress: Mapping[str, Any]) -> str:
    return gettext("Comparing two revisions, item by item.")


WORK_SCHEDULE = register(LongWork("work_schedule", _made, lambda _: MOST, _words))
