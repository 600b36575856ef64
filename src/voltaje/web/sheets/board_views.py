"""A board's circuits: saved from the table, written to files, taken from files."""

from __future__ import annotations

import json
import uuid
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse, HttpResponseBadRequest
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.core.entries import Document, name_units
from voltaje.core.parts import kind
from voltaje.core.study import supply_point
from voltaje.web.csv_files import MOST_BYTES, UnreadableFileError, posted_rows
from voltaje.web.jobs import patch, revisions
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import tree, work_job
from voltaje.web.sheets import board_files, board_table
from voltaje.web.sheets.respond import Below, result_context

NEW_LIMIT = 200


def _board(request: HttpRequest, job_id: Any, part_id: Any) -> tuple[Job, Part]:
    job = own_job(request, job_id)
    return job, get_object_or_404(job.parts, pk=part_id, kind="board")


@login_required
@require_POST
def save_table(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """Keeps the cells that changed, as one revision; answers with every row's result."""
    job, board = _board(request, job_id, part_id)
    cells = _cells(request.POST.dict())
    if cells is None:
        return HttpResponseBadRequest("There is no such cell.")
    conflicts: list[dict[str, str]] = []
    made: dict[str, str] = {}
    with revisions.changing(job) as held:
        targets, acts = _plan(held, board, cells, request.POST.getlist("drop"), conflicts, made)

        def act() -> None:
            for one in acts:
                one()

        revisions.change(held, request.user, targets, act)
    found = work_job(held)
    rows = board_table.rows(held, board, found)
    state = {
        "seq": request.POST.get("seq", ""),
        "kept": timezone.localtime().strftime("%H:%M"),
        "revision": held.revision,
        "made": made,
        "conflicts": conflicts,
        "answers": board_table.answers(rows),
        "values": {
            f"{row.part.pk}:{cell.column}": cell.text
            for row in rows
            for cell in row.cells
            if cell.spec or cell.column == "name"
        },
        "problems": {
            f"{row.part.pk}:{cell.column}": cell.problem
            for row in rows
            for cell in row.cells
            if cell.problem
        },
        "rows": {
            key: str(board_table.written(row, held))
            for row in rows
            for key in [str(row.part.pk)]
            if key in made.values() or request.POST.get(f"cell:{key}:use") is not None
        },
    }
    below = [Below(row.part.name, "", "", "") for row in rows]
    context = {
        "state": json.dumps(state),
        "job": held,
        "part": board,
        "tree": tree(held, found),
        **result_context(found[str(board.pk)].worked, below, held.units),
        "row_count": len(rows),
    }
    return HttpResponse(render_to_string("sheets/_board_answer.html", context, request))


def _cells(posted: dict[str, str]) -> dict[tuple[str, str], tuple[str, str | None]] | None:
    """Texts by (part, column) with the text they started from; ``None`` for unknown columns."""
    found: dict[tuple[str, str], tuple[str, str | None]] = {}
    for name, text in posted.items():
        head, _, rest = name.partition(":")
        if head != "cell":
            continue
        key, _, column = rest.partition(":")
        if column not in board_table.EDITED:
            return None
        clean = text.replace("\0", "")[: patch.TEXT_LIMIT]
        found[key, column] = (clean, posted.get(f"base:{key}:{column}"))
    return found


def _plan(
    job: Job, board: Part, cells: dict[tuple[str, str], tuple[str, str | None]],
    dropped: list[str], conflicts: list[dict[str, str]], made: dict[str, str],
) -> tuple[list[str], list[Any]]:  # fmt: skip
    """What is to be written: the targets of the revision and the acts."""
    by_id = {str(p.pk): p for p in job.under(board)}
    targets: list[str] = []
    acts: list[Any] = []
    keys = dict.fromkeys(key for key, _ in cells)
    at = max((p.position for p in by_id.values()), default=-1) + 1
    for key in list(keys)[:NEW_LIMIT]:
        texts = {column: value for (k, column), value in cells.items() if k == key}
        part = by_id.get(key)
        if part is not None:
            name, document = _patched(part, texts, conflicts, job)
            if (name, document) != (part.name, part.entries):
                targets.append(key)
                acts.append(_updates(part, name, document))
            continue
        if not key.startswith("new") or not any(
            texts.get(c, ("", None))[0].strip() for c in ("name", "load", "length")
        ):
            continue
        plain = {column: value[0] for column, value in texts.items()}
        of, document = board_table.document_of(plain.get("use", ""), plain)
        document = name_units(kind(of).entries, document, job.units)
        made[key] = str(uuid.uuid4())
        targets.append(made[key])
        name = plain.get("name", "").strip()[:80] or f"Circuit {len(by_id) + len(made)}"
        acts.append(_creates(job, board, made[key], of, name, document, at))
        at += 1
    for key in dropped:
        if key in by_id:
            targets.append(key)
            acts.append(by_id[key].delete)
    return targets, acts


def _updates(part: Part, name: str, document: Document) -> Any:
    return lambda: Part.objects.filter(pk=part.pk).update(name=name, entries=document)


def _creates(
    job: Job, board: Part, key: str, of: str, name: str, document: Document, at: int
) -> Any:
    return lambda: Part.objects.create(
        id=key, job=job, parent=board, kind=of, name=name, entries=document, position=at
    )


def _patched(
    part: Part, texts: dict[str, tuple[str, str | None]], conflicts: list[dict[str, str]], job: Job
) -> tuple[str, Document]:
    """Name and entries of a part with its changed cells put in."""
    name, document = part.name, dict(part.entries)
    wanted = patch.Patch()
    for column, (text, base) in texts.items():
        if column == "name":
            clean = text.strip()[:80]
            if base is not None and base != part.name and clean != part.name:
                conflicts.append({"cell": f"{part.pk}:name", "mine": clean, "theirs": part.name})
            elif clean:
                name = clean
            continue
        # a changed use decides which entry the load stands for
        seen = {**document, **({"use": texts["use"][0]} if "use" in texts else {})}
        entry = board_table.entry_of(part.kind, seen, column)
        if entry is None:
            continue
        wanted.texts[entry] = text
        if base is not None and not ("use" in texts and column == "load"):
            wanted.bases[entry] = base
    document, found = patch.apply(document, wanted, kind(part.kind).entries)
    conflicts += [
        {"cell": f"{part.pk}:{c.path if c.path in board_table.EDITED else 'load'}",
         "mine": c.mine, "theirs": c.theirs}
        for c in found
    ]  # fmt: skip
    return name, name_units(kind(part.kind).entries, document, job.units)


def _rows(job: Job, board: Part) -> list[board_table.Row]:
    return board_table.rows(job, board, work_job(job))


@login_required
@require_GET
def as_csv(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The circuits as CSV."""
    job, board = _board(request, job_id, part_id)
    response = HttpResponse(board_files.to_csv(_rows(job, board)), "text/csv; charset=utf-8")
    return _named(response, board, "csv")


@login_required
@require_GET
def as_xlsx(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The circuits as a workbook."""
    job, board = _board(request, job_id, part_id)
    content = board_files.to_xlsx(_rows(job, board), board.name)
    kind_ = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return _named(HttpResponse(content, kind_), board, "xlsx")


def _named(response: HttpResponse, board: Part, ending: str) -> HttpResponse:
    name = slugify(board.name) or "board"
    response["Content-Disposition"] = f'attachment; filename="{name}.{ending}"'
    return response


@login_required
@require_http_methods(["GET", "POST"])
def take_file(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """First what a file would change and where it is wrong; then, once agreed, the change."""
    job, board = _board(request, job_id, part_id)
    context: dict[str, Any] = {"job": job, "part": board, "columns": board_table.EDITED}
    upload = request.FILES.get("file")
    try:
        if request.POST.get("rows"):
            found = posted_rows(request.POST["rows"], board_table.EDITED, board_files.MOST_ROWS)
        elif upload is not None:
            if upload.size is not None and upload.size > MOST_BYTES:
                raise UnreadableFileError(
                    "The file is larger than 500 kB: is it a table of circuits?"
                )
            found = board_files.read(upload.name or "", upload.read())
        else:
            if request.method == "POST":
                context["error"] = "Choose a CSV or XLSX file first."
            return render(request, "sheets/import.html", context,
                          status=422 if "error" in context else 200)  # fmt: skip
    except UnreadableFileError as error:
        context["error"] = str(error)
        return render(request, "sheets/import.html", context, status=422)
    point = supply_point(job.inputs(), str(board.pk), job.units)
    changes = board_files.compare(job, found, _rows(job, board), point)
    if request.POST.get("agreed"):
        count = _apply(job, board, request.user, changes)
        messages.success(request, f"{count} circuits were taken from the file; undo takes it back.")
        return redirect("jobs:part", job.pk, board.pk)
    counts = {what: sum(c.what == what for c in changes)
              for what in ("new", "changed", "same", "wrong")}  # fmt: skip
    context |= {"changes": changes, "counts": counts, "rows": json.dumps(found),
                "takes": counts["new"] + counts["changed"]}  # fmt: skip
    return render(request, "sheets/import.html", context)


def _apply(job: Job, board: Part, user: Any, changes: list[board_files.Change]) -> int:
    """Writes what is new and what changed; rows that are wrong are left out."""
    with revisions.changing(job) as held:
        by_id = {str(p.pk): p for p in held.parts.filter(parent=board)}
        at = max((p.position for p in by_id.values()), default=-1) + 1
        targets: list[str] = []
        acts: list[Any] = []
        for change in changes:
            if change.what == "changed" and change.part_id in by_id:
                part = by_id[change.part_id]
                targets.append(change.part_id)
                acts.append(_updates(part, part.name, change.document))
            elif change.what == "new":
                key = str(uuid.uuid4())
                targets.append(key)
                acts.append(
                    _creates(held, board, key, change.kind, change.name, change.document, at)
                )
                at += 1

        def act() -> None:
            for one in acts:
                one()

        revisions.change(held, user, targets, act)
    return len(targets)
