"""The long work of this room: the materials of a large job, told item by item."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.utils.translation import gettext

from voltaje.core.materials import LeftOut, MaterialLine, Takeoff, take_off
from voltaje.core.report import say
from voltaje.web.background.work import Answered, Asked, LongWork, register
from voltaje.web.jobs.worked import work_job

MOST, EACH = 30.0, 0.004  # no code figures: s of effort at most, and of an item


def _made(asked: Asked) -> Answered:
    """The lines as JSON, in the reader's language."""
    job = asked.job
    found = work_job(job)
    asked.effort.spend(EACH * len(found))
    asked.effort.check()
    order = take_off(found, job.family.family)
    lines = [
        [one.group, one.key, str(one.label), one.quantity, one.unit, list(one.items)]
        for one in order.lines
    ]
    left = [[one.item, str(one.why)] for one in order.left_out]
    return Answered({"lines": lines, "left": left})


def order_of(result: Mapping[str, Any]) -> Takeoff:
    """The order of a result."""
    lines = tuple(
        MaterialLine(group, key, say("{text}", text=label), quantity, unit, tuple(items))
        for group, key, label, quantity, unit, items in result["lines"]
    )
    return Takeoff(
        lines, tuple(LeftOut(item, say("{text}", text=why)) for item, why in result["left"])
    )


def _words(progress: Mapping[str, Any]) -> str:
    return gettext("Adding up the materials.")


MATERIALS = register(LongWork("materials", _made, lambda _: MOST, _words))
