"""The rows of a part's list (a street's consumers, a run's segments) to files and from files,
looked at before they are kept."""

from __future__ import annotations

import json
import uuid
from collections.abc import Mapping, Sequence
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.text import slugify
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_http_methods

from voltaje.core.entries import MAX_ROWS, FieldSpec, fields
from voltaje.core.report import told
from voltaje.web.history import revisions
from voltaje.web.history.patch import as_text
from voltaje.web.http.table_files import (
    UnreadableFileError,
    by_column,
    posted_rows,
    texts_of,
    uploaded,
    write_csv,
    write_xlsx,
)
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import work_job

YES = ("yes", "true", "1", "x")


def _list(
    request: HttpRequest, job_id: Any, part_id: Any, name: str
) -> tuple[Job, Part, FieldSpec]:
    """The account's own job, a part of it, and a list that its entries have, or no page."""
    job = own_job(request, job_id)
    part = next((part for part in job.loaded() if part.pk == part_id), None)
    if part is None:
        raise Http404
    specs = fields(job.entries_of(part.kind))
    spec = next((one for one in specs if one.kind == "rows" and one.name == name), None)
    if spec is None:
        raise Http404
    return job, part, spec


def _rows(part: Part, spec: FieldSpec) -> list[dict[str, Any]]:
    rows = part.entries.get(spec.name, [])
    return [row for row in rows if isinstance(row, dict)] if isinstance(rows, list) else []


def _shown(column: FieldSpec, value: Any) -> str:
    """A cell as people write it: a choice in its words."""
    text = as_text(value)
    label = dict(column.choices).get(text)
    return told(label) if label else text


@login_required
@require_GET
def as_file(
    request: HttpRequest, job_id: Any, part_id: Any, name: str, ending: str
) -> HttpResponse:
    """The rows as CSV or XLSX under the titles of their columns."""
    _, part, spec = _list(request, job_id, part_id, name)
    if ending not in ("csv", "xlsx"):
        raise Http404
    table = [[told(column.label) for column in spec.columns]]
    for row in _rows(part, spec):
        table.append([_shown(c, row.get(c.name, c.default)) for c in spec.columns])
    if ending == "csv":
        response = HttpResponse(write_csv(table), "text/csv; charset=utf-8")
    else:
        kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
        response = HttpResponse(write_xlsx(table, part.name, len(spec.columns)), kind)
    file = slugify(f"{part.name} {name}") or "rows"
    response["Content-Disposition"] = f'attachment; filename="{file}.{ending}"'
    return response


@login_required
@require_http_methods(["GET", "POST"])
def take_file(request: HttpRequest, job_id: Any, part_id: Any, name: str) -> HttpResponse:
    """First the rows of a file with what is wrong in them; then, once agreed, they are kept as one
    revision, in place of those that are there or after them."""
    job, part, spec = _list(request, job_id, part_id, name)
    rows: list[dict[str, str]] = []
    error, after = "", request.POST.get("how") == "after"
    try:
        if request.POST.get("agreed"):
            rows = [
                texts_of(row, [column.name for column in spec.columns])
                for row in posted_rows(request.POST.get("rows", ""), MAX_ROWS)
            ]
            return _keep(request, job, part, spec, rows, after)
        upload = request.FILES.get("file")
        if upload is not None:
            rows = _read(upload, spec)
        elif request.method == "POST":
            raise UnreadableFileError(gettext("Choose a CSV or XLSX file first."))
    except UnreadableFileError as found:
        error = str(found)
    except revisions.RefusedError as found:
        error = str(found)
    context = {
        "job": job,
        "part": part,
        "spec": spec,
        "rows": [
            ([_shown(c, row.get(c.name, "")) for c in spec.columns], words)
            for row, words in zip(rows, _problems(job, part, spec, rows), strict=True)
        ],
        "carried": json.dumps(rows),
        "there": len(_rows(part, spec)),
        "after": after,
        "error": error,
    }
    return render(request, "sheets/rows.html", context, status=422 if error else 200)


def _read(upload: Any, spec: FieldSpec) -> list[dict[str, str]]:
    """The rows of a file by the names of their columns. Raises :class:`UnreadableFileError`."""
    columns = {column.name: column for column in spec.columns}
    titles = {told(column.label).lower(): column.name for column in spec.columns}
    titles |= {column.label.lower(): column.name for column in spec.columns}
    return [
        {name: _as_kept(columns[name], text) for name, text in row.items() if text.strip()}
        for row in by_column(uploaded(upload, MAX_ROWS), titles)
    ]


def _as_kept(column: FieldSpec, text: str) -> str:
    """A choice by its value, a tick as yes, all else as it is written."""
    if column.kind == "check":
        return "yes" if text.lower() in YES or text.lower() == gettext("yes").lower() else ""
    words = {label.lower(): value for value, label in column.choices}
    words |= {told(label).lower(): value for value, label in column.choices}
    return words.get(text.lower(), text)


def _put_in(
    part: Part, spec: FieldSpec, rows: Sequence[Mapping[str, str]], after: bool
) -> dict[str, Any]:
    """The part's entries with the rows, each under an id of its own."""
    own = _rows(part, spec) if after else []
    fresh = [{"id": f"f{index}", **row} for index, row in enumerate(rows)]
    return {**part.entries, spec.name: [*own, *fresh]}


def _problems(
    job: Job, part: Part, spec: FieldSpec, rows: Sequence[Mapping[str, str]]
) -> list[str]:
    """What is wrong in each row, in the words of its fields."""
    if not rows:
        return []
    found = work_job(job, {str(part.pk): _put_in(part, spec, rows, after=False)})[str(part.pk)]
    words: dict[str, list[str]] = {}
    for problem in found.problems:
        row = problem.path.split(".")[1] if problem.path.startswith(f"{spec.name}.") else ""
        words.setdefault(row, []).append(problem.words)
    return [" ".join(words.get(f"f{index}", ())) for index in range(len(rows))]


def _keep(
    request: HttpRequest,
    job: Job,
    part: Part,
    spec: FieldSpec,
    rows: Sequence[Mapping[str, str]],
    after: bool,
) -> HttpResponse:
    if not rows:
        raise UnreadableFileError(gettext("The preview is out of date: choose the file again."))
    with revisions.changing(job) as held:
        mine = next((one for one in held.loaded() if one.pk == part.pk), None)
        if mine is None:
            raise revisions.GoneError(gettext("The part is not there any more."))
        revisions.check_since(held, request.POST.get("revision", ""), str(mine.pk))
        own = _rows(mine, spec) if after else []
        fresh = [{"id": uuid.uuid4().hex[:12], **row} for row in rows]
        state = revisions.part_state(mine)
        entries = {**mine.entries, spec.name: [*own, *fresh]}
        wanted = {str(mine.pk): {**(state or {}), "entries": entries}}
        revisions.write(held, request.user, wanted)
    messages.success(
        request,
        gettext("{many} rows were taken from the file; undo takes it back.").format(many=len(rows)),
    )
    return redirect("jobs:part", job.pk, part.pk)
