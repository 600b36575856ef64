"""All jobs of an account as one JSON document, and back: the user's own backup. docs/api.md has
the schema.

Ids are of the document: coming back, everything gets new ones, so that a backup may be brought
back beside what is there, and into another account.
"""

from __future__ import annotations

import uuid
from collections.abc import Callable, Mapping
from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone
from django.utils.dateparse import parse_datetime
from django.utils.translation import gettext

from voltaje.core.codes import editions
from voltaje.core.parts import job_kinds
from voltaje.web import intake
from voltaje.web.jobs import delta, logbook, revisions
from voltaje.web.jobs.models import UNIT_CHOICES, Amendment, Job, Reading, Revision
from voltaje.web.jobs.revisions import AMENDMENT, AMENDMENT_FIELDS, JOB_FIELDS

FORMAT = "voltaje-account"
VERSION = 1
MOST_JOBS = 200
ADDED = ("drop_sizing", "second")
MOST_REVISIONS = 5000
MOST_BYTES = 8_000_000
READING_FIELDS = ("part_name", "point", "unit", "value", "place", "who", "note")


class UnreadableArchiveError(ValueError):
    """A document that is no backup of ours. ``str()`` says where it breaks."""


def export(user: Any) -> dict[str, Any]:
    """Everything of an account but its password and tokens."""
    jobs = Job.objects.of(user).order_by("created_at")
    return {
        "format": FORMAT,
        "version": VERSION,
        "exported_at": timezone.now().isoformat(),
        "jobs": [_job_out(job) for job in jobs],
    }


def _job_out(job: Job) -> dict[str, Any]:
    return {
        **{name: getattr(job, name) for name in JOB_FIELDS},
        "archived": job.archived_at is not None,
        "undo": job.undo_stack,
        "redo": job.redo_stack,
        "revision": job.revision,
        "parts": [{"id": str(part.pk), **revisions.part_state(part)} for part in job.loaded()],
        "amendments": [
            {"id": str(item.pk), **{name: getattr(item, name) for name in AMENDMENT_FIELDS}}
            for item in job.amendments.all()
        ],
        "readings": [
            {
                "part": str(item.part_id) if item.part_id else None,
                "taken_at": item.taken_at.isoformat(),
                **{name: getattr(item, name) for name in READING_FIELDS},
            }
            for item in job.readings.all()
        ],
        # thousands of them: rows are cheaper than objects
        "revisions": list(
            job.revisions.order_by("number").values(
                "number", "made_at", "action", "summary", "changes"
            )
        ),
    }


@transaction.atomic
def bring(user: Any, document: Any) -> int:
    """Makes the jobs of a document; how many. Raises :class:`UnreadableArchiveError`, and then
    makes none."""
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise UnreadableArchiveError(gettext("This is no backup of an account here."))
    if document.get("version") != VERSION:
        raise UnreadableArchiveError(
            gettext("Its version is not {version}: it was made by another one.").format(
                version=VERSION
            )
        )
    jobs = document.get("jobs")
    if not isinstance(jobs, list) or len(jobs) > MOST_JOBS:
        raise UnreadableArchiveError(
            gettext("A backup holds a list of at most {most_jobs} jobs.").format(
                most_jobs=MOST_JOBS
            )
        )
    for number, found in enumerate(jobs, 1):
        try:
            _job_in(user, found)
        except UnreadableArchiveError:
            raise
        except (KeyError, TypeError, ValueError, AttributeError, RecursionError) as error:
            raise UnreadableArchiveError(
                gettext("Job {number} cannot be read: {what} at {error}.").format(
                    number=number, what=type(error).__name__, error=str(error)[:60]
                )
            ) from error
    return len(jobs)


def _job_in(user: Any, found: Mapping[str, Any]) -> None:
    # what a later version has added may be missing: it stays as a new job has it
    fields = {name: found[name] for name in JOB_FIELDS if name in found or name not in ADDED}
    fields["name"] = intake.one_line(str(fields["name"]), 80)
    _known(gettext("code edition"), fields["edition"], [item.id for item in editions()])
    if fields.get("second"):
        _known(gettext("second code"), fields["second"], [item.id for item in editions()])
    _known("unit", fields["units"], [key for key, _ in UNIT_CHOICES])
    job = Job(owner=user, **fields, revision=int(found["revision"]))
    job.undo_stack = [int(n) for n in found["undo"]][-revisions.KEPT_UNDO :]
    job.redo_stack = [int(n) for n in found["redo"]][-revisions.KEPT_UNDO :]
    job.archived_at = timezone.now() if found["archived"] else None
    job.full_clean(exclude=["owner", "undo_stack", "redo_stack", "prices"])
    job.save()
    fresh = _fresh_ids(found)
    _parts_in(job, found["parts"], fresh)
    Amendment.objects.bulk_create(
        Amendment(
            pk=fresh(item["id"]),
            job=job,
            **{name: intake.text(str(item[name])) for name in AMENDMENT_FIELDS},
        )
        for item in found["amendments"][: revisions.MOST_AMENDMENTS]
    )
    known = {str(fresh(item["id"])) for item in found["parts"]}
    Reading.objects.bulk_create(
        _reading_in(job, item, fresh, known) for item in found["readings"][: logbook.MOST_READINGS]
    )
    _revisions_in(job, user, found["revisions"], fresh)


def _fresh_ids(found: Mapping[str, Any]) -> Callable[[str], uuid.UUID]:
    """Old id to new one, always the same for one document."""
    space = uuid.uuid4()
    return lambda old: uuid.uuid5(space, str(old))


def _parts_in(job: Job, found: list[Any], fresh: Callable[[str], uuid.UUID]) -> None:
    wanted: dict[str, revisions.State] = {}
    names = [item.name for item in job_kinds()]
    for item in found:
        _known(gettext("kind of part"), item["kind"], names)
        wanted[str(fresh(item["id"]))] = {
            "kind": item["kind"],
            "name": intake.one_line(str(item["name"]), 80) or item["kind"],
            "parent": str(fresh(item["parent"])) if item["parent"] else None,
            "position": int(item["position"]),
            "entries": _plain(item["entries"]),
        }
    try:
        revisions.put(job, wanted)
    except revisions.RefusedError as error:
        raise UnreadableArchiveError(f"“{job.name}”: {error}") from error


def _plain(value: Any, depth: int = 0) -> Any:
    """Entries as they may be kept: texts and numbers, in lists and objects of no great depth."""
    if depth > 4:
        raise ValueError(gettext("entries nested too deep"))
    if isinstance(value, dict):
        return {intake.text(str(k)): _plain(v, depth + 1) for k, v in delta.given(value).items()}
    if isinstance(value, list):
        if len(value) > 200:
            raise ValueError(gettext("a list of more than 200 rows"))
        return [_plain(item, depth + 1) for item in value]
    if isinstance(value, str):
        return intake.text(value)[:200]
    if isinstance(value, bool | int | float) and abs(value) < 1e12:
        return value
    raise ValueError(gettext("an entry that is no text"))


def _reading_in(
    job: Job, item: Mapping[str, Any], fresh: Callable[[str], uuid.UUID], known: set[str]
) -> Reading:
    part = str(fresh(item["part"])) if item["part"] else ""
    texts = {
        name: intake.text(str(item[name]))[:200]
        for name in READING_FIELDS
        if name not in ("value", "unit")
    }
    value = float(item["value"])
    if not 0 <= value <= 100_000 or item["unit"] not in logbook.DIMENSIONS:
        raise ValueError(gettext("a reading out of range"))
    return Reading(
        job=job,
        part_id=part if part in known else None,
        unit=item["unit"],
        value=value,
        taken_at=_time(item["taken_at"]),
        **texts,
    )


def _revisions_in(job: Job, user: Any, found: list[Any], fresh: Callable[[str], uuid.UUID]) -> None:
    if len(found) > MOST_REVISIONS:
        raise ValueError(
            gettext("more than {most_revisions} revisions").format(most_revisions=MOST_REVISIONS)
        )
    made = [
        Revision(
            job=job,
            author=user,
            number=int(item["number"]),
            action=str(item["action"])[:10],
            summary=intake.text(str(item["summary"]))[:2000],
            changes=[_change_in(change, fresh) for change in item["changes"]],
        )
        for item in found
    ]
    Revision.objects.bulk_create(made)
    for revision, item in zip(made, found, strict=True):
        revision.made_at = _time(item["made_at"])
    Revision.objects.bulk_update(made, ["made_at"], batch_size=500)


def _change_in(change: Mapping[str, Any], fresh: Callable[[str], uuid.UUID]) -> dict[str, Any]:
    target = change["target"]
    if target.startswith(AMENDMENT):
        target = AMENDMENT + str(fresh(target.removeprefix(AMENDMENT)))
    elif target != revisions.JOB:
        target = str(fresh(target))
    found = {"target": target}
    for side in ("before", "after"):
        state = change[side]
        if state and state.get("parent"):
            state = {**state, "parent": str(fresh(state["parent"]))}
        found[side] = state
    if "entries" in change:
        found["entries"] = change["entries"]
    return found


def _known(what: str, value: Any, choices: list[str]) -> None:
    if value not in choices:
        raise UnreadableArchiveError(
            gettext("“{value}” is no {what} that is known here.").format(
                value=str(value)[:30], what=what
            )
        )


def _time(text: Any) -> datetime:
    found = parse_datetime(text)
    if found is None or not logbook.EARLIEST <= found.year <= timezone.now().year + 1:
        raise ValueError(gettext("a time that does not read"))
    return found if timezone.is_aware(found) else timezone.make_aware(found)
