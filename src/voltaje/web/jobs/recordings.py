"""Recordings of loggers: packed into a row, out of it, and copied with a job."""

from __future__ import annotations

import csv
import io
import json
import uuid
import zlib
from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any

from django.utils import timezone
from django.utils.translation import gettext

from voltaje.core.electrical.recorded import Recording, UnreadableRecordingError, read_recording
from voltaje.core.electrical.systems import System
from voltaje.core.job.spread import Spread, gather
from voltaje.core.kinds import Evaluated
from voltaje.web.http import intake
from voltaje.web.http.table_files import UnreadableFileError, read_csv, read_table
from voltaje.web.jobs import models

MOST_RECORDINGS = 40
MOST_BYTES = 1_900_000
MOST_PACKED = 2_000_000
LONGEST_TITLE = 60
# one that was only looked at is forgotten
FORGOTTEN = timedelta(days=1)


def read_upload(upload: Any, day_first: bool) -> Recording:
    """A recording of a file that somebody sent, CSV or XLSX. Raises
    :class:`UnreadableRecordingError`."""
    if upload.size is not None and upload.size > MOST_BYTES:
        words = gettext("The file is larger than 1.9 MB: take fewer columns or a longer interval.")
        raise UnreadableRecordingError(words)
    name, content = upload.name or "", upload.read()
    try:
        if name.lower().endswith(".xlsx"):
            rows = read_table(name, content, 20_000)
        else:
            rows = [row for row in read_csv(content) if any(row)]
    except UnreadableFileError as error:
        raise UnreadableRecordingError(str(error)) from None
    if rows:
        rows[0] = [intake.one_line(text, LONGEST_TITLE) for text in rows[0]]
    found = read_recording(rows, day_first)
    if len(packed(found)) > MOST_PACKED:
        raise UnreadableRecordingError(gettext("It is too long: take a longer interval."))
    return found


def packed(recording: Recording) -> bytes:
    """A recording as bytes of a row."""
    document = {
        "names": [intake.one_line(name, LONGEST_TITLE) for name in recording.names],
        "unit": recording.unit,
        "began": recording.began.isoformat(),
        "seconds": recording.seconds,
        "values": recording.values,
        "left_out": recording.left_out,
        "ignored": recording.ignored,
    }
    return zlib.compress(json.dumps(document, separators=(",", ":")).encode())


def unpacked(row: models.Recording) -> Recording:
    """The recording of a row."""
    found = json.loads(zlib.decompress(bytes(row.samples)))
    return Recording(
        names=tuple(found["names"]),
        unit=found["unit"],
        began=datetime.fromisoformat(found["began"]),
        seconds=tuple(found["seconds"]),
        values=tuple(tuple(one) for one in found["values"]),
        left_out=found["left_out"],
        ignored=tuple(found["ignored"]),
    )


def keep(job: models.Job, part: models.Part, name: str, recording: Recording) -> models.Recording:
    """A row of a recording that is only looked at so far; those that nobody kept are forgotten."""
    old = timezone.now() - FORGOTTEN
    job.recordings.filter(kept=False, entered_at__lt=old).delete()
    return models.Recording.objects.create(
        job=job,
        part=part,
        part_name=part.name,
        name=intake.one_line(name, 80) or gettext("Recording"),
        began=timezone.make_aware(recording.began),
        samples=packed(recording),
    )


def as_csv(recording: Recording) -> str:
    """The samples as they can be read in again."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["Time", *(f"{name} ({recording.unit})" for name in recording.names)])
    for seconds, *values in zip(recording.seconds, *recording.values, strict=True):
        when = recording.when(seconds).isoformat(sep=" ")
        writer.writerow([when, *(f"{value:g}" for value in values)])
    return out.getvalue()


def of_csv(text: str) -> Recording:
    """Raises :class:`UnreadableRecordingError`."""
    return read_recording([row for row in csv.reader(io.StringIO(text)) if row])


def copy(job: models.Job, made: models.Job, new_ids: Mapping[str, str]) -> None:
    """The kept recordings of a job for its copy."""
    found = list(job.recordings.filter(kept=True))
    for row in found:
        row.pk, row.job = uuid.uuid4(), made
        part = new_ids.get(str(row.part_id))
        row.part_id = uuid.UUID(part) if part else None
        row._state.adding = True
    models.Recording.objects.bulk_create(found)


def spread_below(
    job: models.Job, found: Mapping[str, Evaluated], part: models.Part
) -> Spread | None:
    """The loads that hang on a part with the lines that they stand on, and the device ahead."""
    return gather(job.inputs(), found, str(part.pk))


def system_at(item: Evaluated | None) -> tuple[System | None, float]:
    """The lines that a logger at a part sees, and the rating of the device ahead, A (0: not
    known)."""
    if item is None or item.context is None or item.of is None:
        return None, 0.0
    system = item.context.supply.system
    rating = item.outcome.device_rating if item.outcome is not None else 0.0
    if item.of.root:
        system = item.of.hand_down(item.entries, item.context.supply).system
    return system, rating


MOST_CSV = 6_000_000


def checked(text: str) -> str:
    """Samples of a backup. Raises ``ValueError`` where they are no recording."""
    of_csv(text)
    return text


def bring(job: models.Job, part_id: uuid.UUID | None, found: Any) -> None:
    """A recording of a backup as a row of a job."""
    recording = of_csv(found.samples)
    models.Recording.objects.create(
        job=job,
        part_id=part_id,
        part_name=found.part_name,
        name=found.name,
        began=timezone.make_aware(recording.began),
        samples=packed(recording),
        kept=True,
    )
