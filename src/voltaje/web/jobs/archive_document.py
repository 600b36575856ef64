"""A backup as it is read: everything of it checked before the first row is written, in words.

``read`` gives its jobs; where a document is none, or a revision in it does not lead back from the
state that it left, :class:`UnreadableArchiveError` says which job and where.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, time
from typing import Annotated, Any
from zoneinfo import available_timezones

from django.utils import timezone
from django.utils.translation import gettext
from pydantic import (
    AfterValidator,
    AwareDatetime,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    ValidationError,
)

from voltaje.core.codes import editions
from voltaje.core.entries import of_today
from voltaje.core.kinds import current_name, job_kinds, kind
from voltaje.core.rules.settings import BASES, DROP_METHODS, JOB_SIZING, PREFERENCES, SCHEMES
from voltaje.web.history import delta, revisions
from voltaje.web.history.revisions import AMENDMENT, AMENDMENT_FIELDS, JOB, JOB_FIELDS, PART_FIELDS
from voltaje.web.http import intake
from voltaje.web.jobs import logbook
from voltaje.web.jobs.models import MOST_RESERVE, UNIT_CHOICES
from voltaje.web.jobs.recordings import MOST_CSV, MOST_RECORDINGS, checked
from voltaje.web.jobs.stock import stock_of
from voltaje.web.nameplates.backup import NameplateUseDoc

FORMAT = "voltaje-account"
VERSION = 1
MOST_JOBS = 200
MOST_REVISIONS = 100_000
MOST_NUMBER = 2**31 - 1
DEEPEST = 8


class UnreadableArchiveError(ValueError):
    """A document that is no backup of ours. ``str()`` says where it breaks."""


def _clean(value: Any, depth: int = 0) -> Any:
    """JSON as it may be kept: texts that can be shown, finite numbers, no great depth."""
    if depth > DEEPEST:
        raise ValueError(gettext("nested too deep"))
    if isinstance(value, dict):
        return {intake.text(str(k)): _clean(v, depth + 1) for k, v in value.items()}
    if isinstance(value, list):
        return [_clean(item, depth + 1) for item in value]
    if isinstance(value, str):
        return intake.text(value)
    if isinstance(value, int | float) and not isinstance(value, bool) and not abs(value) < 1e12:
        raise ValueError(gettext("a number that is too large"))
    return value


def _entries(value: Any) -> Any:
    """Entries: a text or a number each, or rows of them."""
    if not isinstance(value, dict):
        raise ValueError(gettext("entries that are no object"))
    for item in value.values():
        rows = item if isinstance(item, list) else [item]
        if len(rows) > 200:
            raise ValueError(gettext("a list of more than 200 rows"))
        for row in rows:
            for cell in row.values() if isinstance(row, dict) else [row]:
                if cell is not None and not isinstance(cell, str | int | float | bool):
                    raise ValueError(gettext("an entry that is no text"))
    return value


def _taken(value: datetime) -> datetime:
    if not logbook.EARLIEST <= value.year <= timezone.now().year + 1:
        raise ValueError(gettext("a time that does not read"))
    return value if timezone.is_aware(value) else timezone.make_aware(value)


def _one_of(choices: Any) -> AfterValidator:
    known = tuple(choices)

    def check(value: str) -> str:
        if value not in known:
            raise ValueError(gettext("“{value}” is not known here").format(value=value[:30]))
        return value

    return AfterValidator(check)


Cleaned = BeforeValidator(_clean)
Key = Annotated[str, Field(min_length=1, max_length=64)]
Number = Annotated[int, Field(ge=0, le=MOST_NUMBER)]
Time = Annotated[datetime, AfterValidator(_taken)]
Entries = Annotated[dict[str, Any], Cleaned, AfterValidator(_entries)]
State = Annotated[dict[str, Any], Cleaned]


Path = Annotated[list[str], Field(min_length=1, max_length=3)]


def _name(text: str) -> str:
    return intake.one_line(text, 80)


Text20 = Annotated[str, AfterValidator(intake.text), Field(max_length=20)]
Text40 = Annotated[str, AfterValidator(intake.text), Field(max_length=40)]
Text60 = Annotated[str, AfterValidator(intake.text), Field(max_length=60)]
Text80 = Annotated[str, AfterValidator(intake.text), Field(max_length=80)]
Text200 = Annotated[str, AfterValidator(intake.text), Field(max_length=200)]


class Doc(BaseModel):
    """What a later version adds is passed over."""

    model_config = ConfigDict(extra="ignore", strict=False)


def _present(kind: Any) -> Any:
    """A kind's id of an earlier version as it is now."""
    return current_name(kind) if isinstance(kind, str) else kind


def _of_today(state: Any) -> Any:
    """A part's state with its kind as it is named now."""
    if isinstance(state, dict) and "kind" in state:
        return {**state, "kind": _present(state["kind"])}
    return state


class PartDoc(Doc):
    """A part: its id in this document, its kind, the part above it."""

    id: Key
    kind: Annotated[str, BeforeValidator(_present), _one_of(item.name for item in job_kinds())]
    name: Annotated[str, AfterValidator(_name)]
    parent: Key | None
    position: Number
    entries: Entries


class AmendmentDoc(Doc):
    """A local amendment."""

    id: Key
    topic: Text40
    row: Text60
    column: Text40
    value: Text20
    jurisdiction: Text80
    reason: Text200


class ReadingDoc(Doc):
    """What was measured."""

    part: Key | None
    taken_at: Time
    part_name: Text80
    point: Text80
    unit: Annotated[str, _one_of(logbook.DIMENSIONS)]
    value: Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]
    place: Text80
    who: Text80
    note: Text200


class RecordingDoc(Doc):
    """What a logger recorded, its samples as CSV."""

    part: Key | None
    part_name: Text80
    name: Annotated[str, AfterValidator(_name), Field(min_length=1)]
    samples: Annotated[str, Field(max_length=MOST_CSV), AfterValidator(checked)]


StepKey = Annotated[str, Field(min_length=1, max_length=2000)]
Count = Annotated[int, Field(ge=0, le=60_000)]


class ScheduleDoc(Doc):
    """A work schedule between two revisions; the keys of its steps name items by their ids."""

    before: Number
    after: Number
    few: bool
    starts_at: AwareDatetime
    zone: Annotated[str, _one_of(available_timezones())]
    opens: time
    closes: time
    weekends: bool
    order: Annotated[list[StepKey], Field(max_length=10_000)]
    taking: Annotated[dict[StepKey, tuple[Count, Count]], Field(max_length=10_000)]
    done: Annotated[list[StepKey], Field(max_length=10_000)]


class PresetDoc(Doc):
    """A choice of sections of a document set."""

    name: Annotated[str, AfterValidator(_name), Field(min_length=1, max_length=40)]
    sections: Annotated[list[Text40], Field(max_length=50)]


class ChangeDoc(Doc):
    """What a revision changed of one target."""

    target: Annotated[str, Field(min_length=1, max_length=80)]
    before: Annotated[State | None, BeforeValidator(_of_today)]
    after: Annotated[State | None, BeforeValidator(_of_today)]
    entries: Annotated[list[tuple[Path, Any, Any]], Cleaned] | None = None


class RevisionDoc(Doc):
    """A revision with its changes."""

    number: Annotated[int, Field(ge=1, le=MOST_NUMBER)]
    made_at: Time
    action: Annotated[str, Field(min_length=1, max_length=10)]
    summary: Annotated[str, AfterValidator(lambda text: intake.text(text)[:2000])]
    changes: list[ChangeDoc]


KNOWN = tuple(item.id for item in editions())
Edition = Annotated[str, _one_of(KNOWN)]


def _second(value: str) -> str:
    if value and value not in KNOWN:
        words = gettext("“{value}” is not known as a second code")
        raise ValueError(words.format(value=value[:30]))
    return value


def _stock(text: str) -> str:
    try:
        return stock_of(text)
    except ValueError as error:
        raise ValueError(gettext("devices in stock that cannot be read")) from error


Price = Annotated[float, Field(ge=0, le=1e9, allow_inf_nan=False)]
Drop = Annotated[float, Field(ge=0.5, le=20, allow_inf_nan=False)]


class JobDoc(Doc):
    """A job whole. What a later version has added may be missing: it stays as a new job has it."""

    name: Annotated[str, AfterValidator(_name), Field(min_length=1)]
    edition: Edition
    second: Annotated[str, AfterValidator(_second)] = ""
    units: Annotated[str, _one_of(key for key, _ in UNIT_CHOICES)]
    preference: Annotated[str, _one_of(PREFERENCES)]
    prices: dict[Text40, Price]
    drop_scheme: Annotated[str, _one_of(SCHEMES)]
    drop_branch: Drop
    drop_total: Drop
    drop_sizing: Annotated[str, _one_of(JOB_SIZING)] = "told"
    drop_method: Annotated[str, _one_of(DROP_METHODS)] = "impedance"
    basis: Annotated[str, _one_of(BASES)] = "nominal"
    stock: Annotated[str, AfterValidator(_stock)] = ""
    reserve: Annotated[float, Field(ge=0, le=MOST_RESERVE, allow_inf_nan=False)] = 0.0
    archived: bool
    undo: list[Number]
    redo: list[Number]
    revision: Number
    parts: Annotated[list[PartDoc], Field(max_length=revisions.MOST_PARTS)]
    amendments: Annotated[list[AmendmentDoc], Field(max_length=revisions.MOST_AMENDMENTS)]
    readings: Annotated[list[ReadingDoc], Field(max_length=logbook.MOST_READINGS)]
    recordings: Annotated[list[RecordingDoc], Field(max_length=MOST_RECORDINGS)] = []
    revisions: Annotated[list[RevisionDoc], Field(max_length=MOST_REVISIONS)]
    work_schedules: Annotated[list[ScheduleDoc], Field(max_length=20)] = []
    nameplates: Annotated[list[NameplateUseDoc], Field(max_length=revisions.MOST_PARTS)] = []
    document_presets: Annotated[list[PresetDoc], Field(max_length=20)] = []


def read(document: Any) -> list[JobDoc]:
    """The jobs of a document, each checked whole. Raises :class:`UnreadableArchiveError`."""
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
    found = []
    for number, item in enumerate(jobs, 1):
        try:
            job = JobDoc.model_validate(item)
            _entries_of_today(job)
            _check(job)
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(step) for step in first["loc"][:6]) or gettext("the job itself")
            what = first["msg"].removeprefix("Value error, ")
            raise _wrong(number, where, what) from error
        except (KeyError, TypeError, AttributeError, IndexError, RecursionError) as error:
            raise _wrong(number, gettext("its revisions"), type(error).__name__) from error
        except UnreadableArchiveError:
            raise
        except ValueError as error:
            raise _wrong(number, gettext("its content"), str(error)[:80]) from error
        found.append(job)
    return found


def _wrong(number: int, where: str, what: str) -> UnreadableArchiveError:
    return UnreadableArchiveError(
        gettext("Job {number} cannot be read at {where}: {what}.").format(
            number=number, where=where[:80], what=what[:120].rstrip(".")
        )
    )


def _entries_of_today(job: JobDoc) -> None:
    """Parts and revisions under the ids that entries have in this version."""
    changes = [change for revision in job.revisions for change in revision.changes]
    kinds = {part.id: part.kind for part in job.parts}
    for change in changes:
        for state in (change.before, change.after):
            if state and isinstance(state.get("kind"), str):
                kinds.setdefault(change.target, state["kind"])
    known = {item.name for item in job_kinds()}
    ids = {key: kind(name).former_entries for key, name in kinds.items() if name in known}
    for part in job.parts:
        part.entries = of_today(part.entries, ids[part.id])
    for change in changes:
        if change.target not in ids:
            continue
        for state in (change.before, change.after):
            if state and isinstance(state.get("entries"), dict):
                state["entries"] = of_today(state["entries"], ids[change.target])
        if change.entries:
            steps = delta.of_today(map(list, change.entries), ids[change.target])
            change.entries = [(path, before, after) for path, before, after in steps]


def _check(job: JobDoc) -> None:
    """What no single field shows: ids once, cells amended once, numbers that are there, and each
    revision a way back from the state that it left."""
    for what, keys in (
        (gettext("parts"), [part.id for part in job.parts]),
        (gettext("amendments"), [item.id for item in job.amendments]),
        (gettext("amended cells"), [(a.topic, a.row, a.column) for a in job.amendments]),
        (gettext("revisions"), [item.number for item in job.revisions]),
    ):
        if len(set(keys)) < len(keys):
            raise ValueError(gettext("two {what} of one name").format(what=what))
    numbers = {item.number for item in job.revisions}
    if numbers and job.revision < max(numbers):
        raise ValueError(gettext("a revision below the numbers of its own revisions"))
    if not {*job.undo, *job.redo} <= numbers:
        raise ValueError(gettext("an undo of a revision that is not there"))
    _replay(job)


def _replay(job: JobDoc) -> None:
    """Goes back through all revisions: each must leave states that can be."""
    now: dict[str, Any] = {
        JOB: {name: getattr(job, name) for name in JOB_FIELDS},
        **{part.id: {name: getattr(part, name) for name in PART_FIELDS} for part in job.parts},
        **{
            AMENDMENT + item.id: {name: getattr(item, name) for name in AMENDMENT_FIELDS}
            for item in job.amendments
        },
    }
    for revision in sorted(job.revisions, key=lambda item: -item.number):
        for change in revision.changes:
            item = change.model_dump()
            if item["before"] is None and item["after"] is None:
                raise ValueError(gettext("a change of nothing"))
            try:
                for side in ("after", "before"):
                    state = revisions.side_of(now.get(change.target), item, side)
                    _can_be(change.target, state)
            except (KeyError, TypeError, AttributeError, IndexError) as error:
                raise ValueError(
                    gettext("revision {number} does not lead back").format(number=revision.number)
                ) from error
            now[change.target] = state


def _can_be(target: str, state: Mapping[str, Any] | None) -> None:
    """Raises ``ValueError`` for a state that no target can have."""
    if state is None:
        if target == JOB:
            raise ValueError(gettext("a job that is not"))
        return
    if target == JOB:
        numbers = ("drop_branch", "drop_total", "reserve")
        state = {"stock": "", "reserve": 0.0, **state}  # of before there were any
        texts = [name for name in JOB_FIELDS if name not in ("prices", *numbers)]
        whole = set(JOB_FIELDS) >= set(state) and isinstance(state["prices"], dict)
        whole = whole and all(isinstance(state[name], int | float) for name in numbers)
    elif target.startswith(AMENDMENT):
        texts, whole = list(AMENDMENT_FIELDS), set(state) == set(AMENDMENT_FIELDS)
    else:
        texts, place = ["kind", "name"], state["position"]
        whole = set(state) == set(PART_FIELDS) and isinstance(state["entries"], dict)
        whole = whole and isinstance(place, int) and 0 <= place <= MOST_NUMBER
        whole = whole and (state["parent"] is None or isinstance(state["parent"], str))
        whole = whole and bool(state["name"]) and len(state["name"]) <= 80
    if not whole or not all(isinstance(state[name], str) for name in texts):
        raise ValueError(gettext("a state that cannot be, in its revisions"))
