"""All jobs of an account as one JSON document, and back: the user's own backup. docs/api.md has
the schema.

Ids are of the document: coming back, everything gets new ones, so that a backup may be brought
back beside what is there, and into another account.
"""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.db import DatabaseError, transaction
from django.utils import timezone
from django.utils.translation import gettext
from pydantic import ValidationError

from voltaje.web.documents.presets import known
from voltaje.web.firm import defaults as firm
from voltaje.web.history import delta, revisions
from voltaje.web.history.revisions import AMENDMENT, AMENDMENT_FIELDS, JOB_FIELDS
from voltaje.web.jobs import recordings
from voltaje.web.jobs.archive_document import (
    FORMAT,
    VERSION,
    ChangeDoc,
    JobDoc,
    UnreadableArchiveError,
    read,
)
from voltaje.web.jobs.models import Amendment, Job, Reading, Revision
from voltaje.web.materials import price_list
from voltaje.web.nameplates import backup as nameplate_backup
from voltaje.web.nameplates.models import Nameplate
from voltaje.web.practice import class_backup
from voltaje.web.practice import results as practised
from voltaje.web.work_schedule import backup as schedule_backup

MOST_BYTES = 64_000_000
READING_FIELDS = ("part_name", "point", "unit", "value", "place", "who", "note")


def export(user: Any) -> dict[str, Any]:
    """Everything of an account but its password and tokens."""
    jobs = Job.objects.of(user).order_by("created_at")
    return {
        "format": FORMAT,
        "version": VERSION,
        "exported_at": timezone.now().isoformat(),
        "jobs": [_job_out(job) for job in jobs],
        "practice": practised.out(user),
        "papers": class_backup.out(user),
        "price_list": price_list.out(user),
        "nameplates": nameplate_backup.out(user),
        "firm": firm.out(user),
    }


def pieces(user: Any) -> Iterator[str]:
    """The same as JSON, a job at a time: an account of many years is not held whole."""
    head = {"format": FORMAT, "version": VERSION, "exported_at": timezone.now().isoformat()}
    yield json.dumps(head)[:-1] + ', "jobs": ['
    keys = Job.objects.of(user).order_by("created_at").values_list("pk", flat=True)
    for number, key in enumerate(list(keys)):
        out = _job_out(Job.objects.get(pk=key))
        text = json.dumps(out, ensure_ascii=False, cls=DjangoJSONEncoder)
        yield (", " if number else "") + text
    done = json.dumps(practised.out(user), ensure_ascii=False, cls=DjangoJSONEncoder)
    papers = json.dumps(class_backup.out(user), ensure_ascii=False, cls=DjangoJSONEncoder)
    prices = json.dumps(price_list.out(user), ensure_ascii=False)
    plates = json.dumps(nameplate_backup.out(user), ensure_ascii=False)
    yield f'], "practice": {done}, "papers": {papers}, "price_list": {prices}, '
    yield f'"nameplates": {plates}, "firm": {json.dumps(firm.out(user))}}}'


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
        "recordings": [
            {
                "part": str(item.part_id) if item.part_id else None,
                "part_name": item.part_name,
                "name": item.name,
                "samples": recordings.as_csv(recordings.unpacked(item)),
            }
            for item in job.recordings.filter(kept=True)
        ],
        "work_schedules": schedule_backup.out(job),
        "nameplates": nameplate_backup.uses_out(job),
        "document_presets": list(job.document_presets.values("name", "sections")),
        # thousands of them: rows are cheaper than objects
        "revisions": list(
            job.revisions.order_by("number").values(
                "number", "made_at", "action", "summary", "changes"
            )
        ),
    }


def document(raw: bytes) -> Any:
    """The JSON of a file; figures that JSON does not have are none. Raises
    :class:`UnreadableArchiveError`."""

    def no_figure(text: str) -> Any:
        raise ValueError(text)

    try:
        return json.loads(raw, parse_constant=no_figure)
    except (ValueError, RecursionError) as error:
        raise UnreadableArchiveError(gettext("it is not JSON.")) from error


def bring(user: Any, document: Any, each: Callable[[float], None] = lambda _: None) -> int:
    """Makes the jobs of a document; how many. All of it is read and checked before the first row is
    written. ``each`` is told how much is done, 0 to 1, and may raise, which leaves nothing. Raises
    :class:`UnreadableArchiveError`, and then makes none."""
    jobs = read(document)
    try:
        done = practised.read(document.get("practice", []))
        papers = class_backup.read(document.get("papers", []))
        prices = price_list.read(document.get("price_list"))
        plates = nameplate_backup.read(document.get("nameplates"))
        habits = firm.read(document.get("firm"))
    except ValidationError as error:
        words = gettext("What is beside the jobs cannot be read: {what}.")
        raise UnreadableArchiveError(words.format(what=error.errors()[0]["msg"][:80])) from error
    try:
        with transaction.atomic():
            kept = nameplate_backup.bring(user, plates)
            for number, found in enumerate(jobs):
                each(number / len(jobs))
                _job_in(user, found, kept)
            practised.bring(user, done)
            class_backup.bring(user, papers)
            price_list.bring(user, prices)
            firm.bring(user, habits)
    except DatabaseError as error:
        raise UnreadableArchiveError(gettext("Its content does not fit together.")) from error
    return len(jobs)


def _job_in(user: Any, found: JobDoc, plates: Mapping[str, Nameplate]) -> None:
    fields = {name: getattr(found, name) for name in JOB_FIELDS}
    job = Job(owner=user, **fields, revision=found.revision)
    job.undo_stack = found.undo[-revisions.KEPT_UNDO :]
    job.redo_stack = found.redo[-revisions.KEPT_UNDO :]
    job.archived_at = timezone.now() if found.archived else None
    job.save()
    space = uuid.uuid4()

    def fresh(old: str) -> uuid.UUID:
        """Old id to new one, always the same for one document."""
        return uuid.uuid5(space, old)

    wanted: dict[str, revisions.State] = {
        str(fresh(part.id)): {
            "kind": part.kind,
            "name": part.name or part.kind,
            "parent": str(fresh(part.parent)) if part.parent else None,
            "position": part.position,
            "entries": delta.given(part.entries),
        }
        for part in found.parts
    }
    try:
        revisions.put(job, wanted)
    except revisions.RefusedError as error:
        raise UnreadableArchiveError(f"“{job.name}”: {error}") from error
    Amendment.objects.bulk_create(
        Amendment(
            pk=fresh(item.id), job=job, **{name: getattr(item, name) for name in AMENDMENT_FIELDS}
        )
        for item in found.amendments
    )
    there = {part.id for part in found.parts}
    Reading.objects.bulk_create(
        Reading(
            job=job,
            part_id=fresh(item.part) if item.part in there else None,
            taken_at=item.taken_at,
            **{name: getattr(item, name) for name in READING_FIELDS},
        )
        for item in found.readings
    )
    for one in found.recordings:
        recordings.bring(job, fresh(one.part) if one.part in there else None, one)
    nameplate_backup.bring_uses(job, found.nameplates, plates, fresh)
    schedule_backup.bring(job, found.work_schedules, fresh)
    for name, sections in {one.name: one.sections for one in found.document_presets}.items():
        job.document_presets.create(name=name, sections=known(sections))
    made = [
        Revision(
            job=job,
            author=user,
            number=item.number,
            action=item.action,
            summary=item.summary,
            changes=_changes_in(item.changes, fresh),
        )
        for item in found.revisions
    ]
    Revision.objects.bulk_create(made, batch_size=500)
    for revision, item in zip(made, found.revisions, strict=True):
        revision.made_at = item.made_at
    Revision.objects.bulk_update(made, ["made_at"], batch_size=500)


def _changes_in(
    changes: Sequence[ChangeDoc], fresh: Callable[[str], uuid.UUID]
) -> list[dict[str, Any]]:
    found = []
    for change in changes:
        target = change.target
        if target.startswith(AMENDMENT):
            target = AMENDMENT + str(fresh(target.removeprefix(AMENDMENT)))
        elif target != revisions.JOB:
            target = str(fresh(target))
        item: dict[str, Any] = {"target": target}
        for side, state in (("before", change.before), ("after", change.after)):
            above = state.get("parent") if state else None
            item[side] = {**state, "parent": str(fresh(above))} if state and above else state
        if change.entries is not None:
            item["entries"] = [list(step) for step in change.entries]
        found.append(item)
    return found
