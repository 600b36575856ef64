"""A board's circuits written to files and taken from files."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.text import slugify
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.core.electrical.panel_layout import MisplacedError, Schedule, Span, line_of, move
from voltaje.core.entries import fields
from voltaje.core.job.calculate import supply_point
from voltaje.core.kinds import Context
from voltaje.web.board import cells as board_patch
from voltaje.web.board import chart, door
from voltaje.web.board import files as board_files
from voltaje.web.board import many as board_many
from voltaje.web.board import table as board_table
from voltaje.web.history import patch, revisions
from voltaje.web.http.table_files import UnreadableFileError
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import work_job
from voltaje.web.kinds import presentation
from voltaje.web.parts.respond import paper_of


def board_of(request: HttpRequest, job_id: Any, part_id: Any) -> tuple[Job, Part]:
    """The account's own job and its board, or no page."""
    job = own_job(request, job_id)
    board = get_object_or_404(job.parts, pk=part_id)
    if not presentation(board.kind).table:
        raise Http404
    return job, board


def _rows(job: Job, board: Part) -> list[board_table.CircuitRow]:
    return board_table.rows(job, board, work_job(job))


@login_required
@require_GET
def as_csv(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The circuits as CSV."""
    job, board = board_of(request, job_id, part_id)
    response = HttpResponse(
        board_files.to_csv(_rows(job, board), job.family), "text/csv; charset=utf-8"
    )
    return _named(response, board, "csv")


@login_required
@require_GET
def as_xlsx(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The circuits as a workbook."""
    job, board = board_of(request, job_id, part_id)
    content = board_files.to_xlsx(_rows(job, board), board.name, job.family)
    kind_ = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return _named(HttpResponse(content, kind_), board, "xlsx")


@login_required
@require_GET
def many(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """What can be done with several rows at once, for the bar above the table."""
    job, board = board_of(request, job_id, part_id)
    keys, entry = request.GET.getlist("row"), request.GET.get("entry", "")
    rows = board_many.look(job, board, keys, entry)
    return render(request, "sheets/_many.html", {"job": job, "part": board, "rows": rows})


@login_required
@require_POST
def place(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """Where everything on the board would stand with one device at another place, as the entries
    that say so; or the words why it cannot. Nothing is kept: the page writes it and keeps it like
    what is typed. Without a device: all as they are shown; with ``anew`` none has a place."""
    job, board = board_of(request, job_id, part_id)
    outcome = work_job(job)[str(board.pk)].outcome
    if outcome is None:
        words = gettext("The board cannot be worked yet: see what its entries say.")
        return JsonResponse({"refused": words})
    schedule: Schedule = outcome.schedule
    key, to = request.POST.get("device", ""), request.POST.get("to", "")
    spans: Mapping[str, Span | None]
    try:
        if key:
            spans = move(schedule, key, to)
        elif request.POST.get("anew"):
            spans = {s.device.key: None for s in schedule.seats if not s.device.pinned}
        else:
            spans = {s.device.key: s.span for s in schedule.seats}
    except MisplacedError as error:
        return JsonResponse({"refused": str(error)})
    except KeyError:
        words = gettext("This device is not on the board any more.")
        return JsonResponse({"refused": words})
    return JsonResponse({"entries": _entries_for(job, board, schedule, spans)})


def _entries_for(
    job: Job, board: Part, schedule: Schedule, spans: Mapping[str, Span | None]
) -> dict[str, str]:
    """The entries that put devices into places: a circuit's by its id and column, the board's own
    by their path. A line that was asked for goes along with the place."""
    lines = {
        str(part.pk): [value for value, _ in spec.choices]
        for part in job.under(board)
        for spec in fields(job.entries_of(part.kind))
        if spec.name == "line"
    }
    found: dict[str, str] = {}
    for seat in schedule.seats:
        device = seat.device
        if device.key not in spans:
            continue
        span = spans[device.key]
        name = span[0].name if span else ""
        if device.what == "main":
            found["main_position"] = name or device.place
        elif device.what != "circuit":
            found[f"{device.key}.position"] = name
        else:
            found[f"{device.key}:position"] = name
            behind = line_of(span) if span else "auto"
            asked = device.line not in ("auto", behind) and not device.tied
            if span and asked and behind in lines.get(device.key, ()):
                found[f"{device.key}:line"] = behind
    return found


@login_required
@require_GET
def chart_view(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The circuit chart for the board's door, on paper."""
    job, board = board_of(request, job_id, part_id)
    if not board_table.charted(job.family):  # its code has none: the board itself is the nearest
        return redirect("jobs:part", job.pk, board.pk)
    found = work_job(job)
    worked = found[str(board.pk)].report
    context = {
        "job": job,
        "part": board,
        "edition": job.code(),
        "paper": paper_of(request, job.units),
        "made_at": timezone.localtime(),
        "above": board.parent,
        "missing": [one.name for one in found[str(board.pk)].missing],
        "ways": chart.ways(job, board_table.rows(job, board, found)),
        "answers": [worked.results[name] for name in chart.OF_BOARD if name in worked.results]
        if worked
        else [],
    }
    return render(request, "sheets/chart.html", context)


@login_required
@require_GET
def door_view(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """The schedule for the board's door, on paper: letter or A4, upright or across."""
    job, board = board_of(request, job_id, part_id)
    item = work_job(job)[str(board.pk)]
    context = {
        "job": job,
        "part": board,
        "edition": job.code(),
        "paper": paper_of(request, job.units),
        "lies": "across" if request.GET.get("lies") == "across" else "upright",
        "made_at": timezone.localtime(),
        "above": board.parent,
        "problems": item.problems,
    }
    if item.outcome is not None and item.context is not None:
        context["door"] = door.lay_out(job, board, item, work_job(job))
    return render(request, "sheets/door.html", context)


def _named(response: HttpResponse, board: Part, ending: str) -> HttpResponse:
    name = slugify(board.name) or "board"
    response["Content-Disposition"] = f'attachment; filename="{name}.{ending}"'
    return response


@login_required
@require_http_methods(["GET", "POST"])
def take_file(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """First what a file would change and where it is wrong; then, once agreed, the change. What
    was changed on the board in between is shown anew for a choice."""
    job, board = board_of(request, job_id, part_id)
    try:
        if request.POST.get("agreed"):
            return _agreed(request, job, board)
        upload = request.FILES.get("file")
        if upload is None:
            if request.method == "POST":
                raise UnreadableFileError(gettext("Choose a CSV or XLSX file first."))
            return _preview(request, job, board, [])
        found, passed = board_files.read_and_passed(upload, job.family)
    except (UnreadableFileError, revisions.RefusedError) as error:
        return _preview(request, job, board, [], str(error))
    point = supply_point(job.inputs(), str(board.pk), Context(job.code(), job.units))
    changes = board_files.compare(job, board, found, _rows(job, board), point)
    if passed:
        words = gettext("Columns that are left out: {titles}.")
        messages.info(request, words.format(titles=", ".join(passed)[:200]))
    return _preview(request, job, board, changes)


def _agreed(request: HttpRequest, job: Job, board: Part) -> HttpResponse:
    changes = board_files.carried(request.POST.get("rows", ""), job.family)
    conflicts: list[patch.Conflict] = []
    taken = request.POST.getlist("take")
    with revisions.changing(job) as held:
        cells = board_files.cells(changes, taken)
        wanted = board_patch.wanted(held, board, cells, conflicts)
        if not conflicts:
            revisions.write(held, request.user, wanted)
            messages.success(
                request,
                gettext("{many} circuits were taken from the file; undo takes it back.").format(
                    many=len(cells.texts)
                ),
            )
            return redirect("jobs:part", job.pk, board.pk)
    rows = {str(row.part.pk): row for row in _rows(held, board)}
    point = supply_point(held.inputs(), str(board.pk), Context(held.code(), held.units))
    for change in changes:
        change.clashes = [
            gettext("{edited} is “{theirs}” now").format(
                edited=board_table.columns_of(job.family)[c.path.partition(":")[2]],
                theirs=c.theirs or "empty",
            )
            if not c.gone
            else gettext("it was deleted meanwhile")
            for c in conflicts
            if c.path.startswith(change.key)
        ]
        row = rows.get(change.key)
        if row is None:
            change.what = "new"
        board_files.look(held, board, change, row, point)
    return _preview(request, held, board, changes, taken=taken)


def _preview(
    request: HttpRequest,
    job: Job,
    board: Part,
    changes: list[board_files.Change],
    error: str = "",
    taken: list[str] | None = None,
) -> HttpResponse:
    counts = {
        what: sum(c.what == what for c in changes) for what in ("new", "changed", "same", "wrong")
    }
    context = {
        "job": job,
        "part": board,
        "columns": board_table.columns_of(job.family),
        "changes": changes,
        "counts": counts,
        "rows": board_files.to_carry(changes),
        "takes": counts["new"] + counts["changed"],
        "clashing": any(change.clashes for change in changes),
        "taken": taken,
        "error": error,
    }
    return render(request, "sheets/import.html", context, status=422 if error else 200)
