"""A job as it was at an earlier revision, worked without changing anything: nothing of it is kept,
here or in the memory of the job's own revisions."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from voltaje.core.codes import Amendment as CodeAmendment
from voltaje.core.codes import amended
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import Evaluated
from voltaje.web.history.revisions import AMENDMENT, JOB, JOB_FIELDS, side_of, states
from voltaje.web.jobs.contents import in_tree_order
from voltaje.web.jobs.models import Job, Part

State = Mapping[str, Any]


class NoRevisionError(LookupError):
    """The job has no such revision, or none later."""


def states_at(job: Job, number: int) -> dict[str, State]:
    """The state of everything of a job as it was at revision ``number``, by its target. Raises
    :class:`NoRevisionError`."""
    if not job.revisions.filter(number=number).exists():
        raise NoRevisionError(number)
    later = list(job.revisions.filter(number__gt=number).order_by("-number"))
    targets = {JOB: None, **{str(part.pk): None for part in job.loaded()}}
    targets |= {f"{AMENDMENT}{item.pk}": None for item in job.amendments.all()}
    targets |= {item["target"]: None for revision in later for item in revision.changes}
    found = states(job, targets)
    for revision in later:
        for item in revision.changes:
            found[item["target"]] = side_of(found[item["target"]], item, "before")
    return {target: state for target, state in found.items() if state is not None}


def worked_at(job: Job, number: int) -> tuple[Job, dict[str, Evaluated], list[Part]]:
    """The job's settings as they were, what every item was worked to by its id, and the items.
    Raises :class:`NoRevisionError`."""
    found = states_at(job, number)
    as_was = Job(**{name: found[JOB][name] for name in JOB_FIELDS if name in found[JOB]})
    parts = [
        Part(
            id=UUID(target),
            kind=state["kind"],
            name=state["name"],
            parent_id=UUID(state["parent"]) if state["parent"] else None,
            position=state["position"],
            entries=state["entries"],
        )
        for target, state in found.items()
        if target != JOB and not target.startswith(AMENDMENT)
    ]
    amendments = tuple(
        CodeAmendment(
            state["topic"],
            state["row"],
            state["column"],
            state["value"],
            state["jurisdiction"],
            state["reason"],
        )
        for target, state in sorted(found.items())
        if target.startswith(AMENDMENT)
    )
    parts = in_tree_order(parts)
    inputs = [part.as_input() for part in parts]
    code = amended(as_was.edition, amendments)
    worked = calculate_job(inputs, code, as_was.units, as_was.shop(), as_was.limits())
    return as_was, worked, parts
