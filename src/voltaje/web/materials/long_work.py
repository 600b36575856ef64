"""The long work of this room: the materials of a large job, told item by item."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.utils.translation import gettext

from voltaje.core.kinds import Evaluated
from voltaje.core.materials import LeftOut, MaterialLine, Takeoff, take_off
from voltaje.core.report import figure, say
from voltaje.web.background.work import Answered, Asked, LongWork, register
from voltaje.web.history.earlier import worked_at
from voltaje.web.jobs.worked import work_job

# no code figures: s of effort at most, of an item, and of one that is worked for it alone
MOST, EACH, EACH_ANEW = 30.0, 0.004, 0.01


def _made(asked: Asked) -> Answered:
    """The lines as JSON, in the reader's language; of an earlier revision where ``at`` asks one."""
    job, at = asked.job, asked.question.get("at")
    asked.effort.spend((EACH if at is None else EACH_ANEW) * len(job.loaded()))
    asked.effort.check()
    if at is None:
        found, family = work_job(job), job.family.family
        names = {str(part.pk): part.name for part in job.loaded()}
    else:
        as_was, found, parts = worked_at(job, at)
        names = {str(part.pk): part.name for part in parts}
        family = as_was.family.family
    order = take_off(found, family)
    lines = [
        [one.group, one.key, str(one.label), one.quantity, one.unit, list(one.items)]
        for one in order.lines
    ]
    left = [[one.item, str(one.why), names[one.item]] for one in order.left_out]
    sizes = [[item, names[item], size] for item, one in found.items() if (size := _size(one))]
    return Answered({"lines": lines, "left": left, "sizes": sizes})


def _size(one: Evaluated) -> str:
    """``225 A, 4/0 AWG Cu``: the device and the conductors of an item; empty where it has none."""
    results = one.report.results if one.report is not None and not one.report.missing else {}
    device, conductor = results.get("device"), results.get("conductor")
    said = []
    if device is not None and not isinstance(device.value, str):
        said.append(f"{figure(device.value, 1)} A")
    if conductor is not None and isinstance(conductor.value, str):
        said.append(conductor.value)
    return ", ".join(said)


def order_of(result: Mapping[str, Any]) -> Takeoff:
    """The order of a result."""
    lines = tuple(
        MaterialLine(group, key, say("{text}", text=label), quantity, unit, tuple(items))
        for group, key, label, quantity, unit, items in result["lines"]
    )
    return Takeoff(
        lines, tuple(LeftOut(item, say("{text}", text=why)) for item, why, _ in result["left"])
    )


def _words(progress: Mapping[str, Any]) -> str:
    return gettext("Adding up the materials.")


MATERIALS = register(LongWork("materials", _made, lambda _: MOST, _words))
