"""Recordings of loggers: a file read in, looked at, kept; its curve, what still fits."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import slugify
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.core.electrical.recorded import Recording, UnreadableRecordingError
from voltaje.core.electrical.systems import System
from voltaje.core.entries import names_of
from voltaje.core.job.recorded import DAYS_ASKED, WINDOWS, Review, review
from voltaje.core.kinds import Evaluated
from voltaje.core.report import figure
from voltaje.web.drawings import curve
from voltaje.web.history import revisions
from voltaje.web.http import intake
from voltaje.web.http.requests import Request
from voltaje.web.jobs import actions, models, recordings
from voltaje.web.jobs.forms import NameField
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import told, tree, work_job

DAY = 86_400


class RecordingForm(forms.Form):
    """A file of a logger, and where it was."""

    part = forms.ChoiceField(label=gettext_lazy("At"))
    name = NameField(
        label=gettext_lazy("Name"),
        max_length=80,
        required=False,
        help_text=gettext_lazy("like a week in November; empty: the file’s"),
    )
    file = forms.FileField(
        label=gettext_lazy("File"),
        error_messages={
            "required": gettext_lazy("Choose the file that the logger has written."),
            "empty": gettext_lazy("The file is empty."),
        },
    )

    def __init__(self, *args: Any, places: list[Part], **more: Any) -> None:
        super().__init__(*args, **more)
        self.fields["part"].choices = [(str(p.pk), p.name) for p in places]  # type: ignore[attr-defined]


def _places(job: Job, found: Mapping[str, Evaluated]) -> list[Part]:
    """The items where a logger sees lines, in the order of the tree."""
    nodes = [node for top in tree(job, told(dict(found))) for node in top.flat()]
    return [n.part for n in nodes if recordings.system_at(found[str(n.part.pk)])[0] is not None]


@login_required
@require_http_methods(["GET", "POST"])
def recording_list(request: Request, job_id: Any) -> HttpResponse:
    """The recordings of a job, and a file read in."""
    job = own_job(request, job_id)
    found = work_job(job)
    places = _places(job, found)
    wanted = intake.key(request.GET.get("part"))
    form = RecordingForm(
        request.POST or None,
        request.FILES or None,
        places=places,
        initial={"part": wanted},
    )
    status = 200
    if request.method == "POST" and form.is_valid() and (made := _read_in(job, places, form)):
        return redirect("jobs:recording", job.pk, made.pk)
    if form.is_bound and form.errors:
        status = 422
    context = {"job": job, "form": form, "rows": job.recordings.filter(kept=True)}
    return render(request, "jobs/recordings.html", context, status=status)


def _read_in(job: Job, places: list[Part], form: RecordingForm) -> models.Recording | None:
    data = form.cleaned_data
    if job.recordings.filter(kept=True).count() >= recordings.MOST_RECORDINGS:
        words = gettext("A job holds at most {most} recordings: delete one first.")
        form.add_error(None, words.format(most=recordings.MOST_RECORDINGS))
        return None
    part = next(p for p in places if str(p.pk) == data["part"])
    try:
        recording = recordings.read_upload(data["file"], job.units == "metric")
    except UnreadableRecordingError as error:
        form.add_error("file", str(error))
        return None
    name = data["name"] or data["file"].name.rpartition(".")[0]
    return recordings.keep(job, part, name, recording)


@dataclass(frozen=True, slots=True)
class Seen:
    """A recording with what is shown of it."""

    recording: Recording
    review: Review
    system: System


def _seen(request: Request, job: Job, row: models.Recording) -> Seen | None:
    """``None`` where its item is gone or cannot be worked."""
    found, part = (
        work_job(job),
        row.part_id and next((p for p in job.loaded() if p.pk == row.part_id), None),
    )
    if not part:
        return None
    system, rating = recordings.system_at(found[str(part.pk)])
    if system is None:
        return None
    spread = recordings.spread_below(job, found, part)
    if spread is not None:
        system, rating = spread.system, spread.device or rating
    circuits = spread.pieces if spread is not None else ()
    recording = recordings.unpacked(row)
    book = job.code()
    return Seen(recording, review(recording, system, rating, book, circuits), system)


@login_required
@require_GET
def recording_page(request: Request, job_id: Any, recording_id: Any) -> HttpResponse:
    """One recording: its curve, demands, what still fits."""
    job = own_job(request, job_id)
    row = get_object_or_404(models.Recording, job=job, pk=recording_id)
    seen = _seen(request, job, row)
    context: dict[str, Any] = {"job": job, "row": row, "windows": WINDOWS}
    if seen is not None:
        context |= _context(job, row, seen)
    return render(request, "jobs/recording.html", context)


def _context(job: Job, row: models.Recording, seen: Seen) -> dict[str, Any]:
    recording, found = seen.recording, seen.review
    curves: dict[str, Any] = recording_curves(seen)
    unit = "A" if found.by_line else recording.unit
    part = next(p for p in job.loaded() if p.pk == row.part_id)
    return {
        "part": part,
        "recording": recording,
        "found": found,
        "drawing": curve.draw(recording, found, curves, seen.system, unit),
        "when": gettext("{began} to {ended}, {days} days, a sample every {step} min").format(
            began=f"{recording.began:%Y-%m-%d %H:%M}",
            ended=f"{recording.when(recording.duration):%Y-%m-%d %H:%M}",
            days=figure(recording.duration / DAY, 1),
            step=figure(recording.step / 60, 2),
        ),
        "short": recording.duration < (DAYS_ASKED - 1) * DAY,
        "gaps": (recording.duration - recording.covered) / 60,
        "columns": [_shown(recording, one) for one in found.columns],
        "whole": _shown(recording, found.whole) if found.whole else None,
        "at": recording.when(found.heaviest[1].at) if found.heaviest else None,
        "grows": 100 * found.left / found.counted if found.left and found.counted else None,
        "measured": part.kind == "dwelling" and found.heaviest is not None and found.margin,
        "split": _split(part, found, seen.system),
        "strange": [c.name for c in found.columns if set(c.lines) - set(seen.system.lines)],
        "movable": [m for m in found.moves if _can_move(job, m.part)],
    }


def recording_curves(seen: Seen) -> dict[str, Any]:
    """The curves: amperes of the lines where they are known, else the columns."""
    if seen.review.by_line:
        return {line: list(map(float, v)) for line, v in seen.review.amperes.items()}
    return dict(zip(seen.recording.names, seen.recording.values, strict=True))


def _shown(recording: Recording, column: Any) -> dict[str, Any]:
    return {
        "column": column,
        "lines": ", ".join(column.lines),
        "peak_at": recording.when(column.peak.at),
        "share": 100 * column.share,
        "factor": 100 * column.load_factor,
    }


def _can_move(job: Job, part_id: str) -> bool:
    """Whether an item has a line of its own that no position settles."""
    part = next((p for p in job.loaded() if str(p.pk) == part_id), None)
    return part is not None and not part.entries.get("position") and not part.entries.get("pinned")


@login_required
@require_POST
def change_recording(request: Request, job_id: Any, recording_id: Any) -> HttpResponse:
    """Keeps a recording, deletes it, or does what it suggests."""
    job = own_job(request, job_id)
    row = get_object_or_404(models.Recording, job=job, pk=recording_id)
    asked = request.POST.get("do", "")
    if asked == "delete":
        row.delete()
        messages.success(request, gettext("“{name}” is deleted.").format(name=row.name))
        return redirect("jobs:recordings", job.pk)
    if asked == "keep":
        row.kept = True
        row.save(update_fields=["kept"])
        messages.success(request, gettext("“{name}” is saved.").format(name=row.name))
    elif (seen := _seen(request, job, row)) is not None:
        try:
            _apply(request, job, row, seen, asked)
        except revisions.RefusedError as error:
            messages.error(request, str(error))
    return redirect("jobs:recording", job.pk, row.pk)


def _split(part: Part, found: Review, system: System) -> str:
    """The demand of each line as an item that can be split over them takes it, like "42, 31, 18 A";
    empty where it cannot, or a line was not recorded."""
    three = part.entries.get("connection") == "three-phase" and len(system.lines) == 3
    if not three or "line_shares" not in names_of(part.job.entries_of(part.kind)):
        return ""
    lines = [found.by_line.get(line) for line in system.lines]
    if not system.has_neutral or any(line is None for line in lines):
        return ""
    return ", ".join(f"{line.value:.1f}" for line in lines if line is not None) + " A"


def _apply(request: Request, job: Job, row: models.Recording, seen: Seen, asked: str) -> None:
    """The measured demand into the item that it was taken at, or circuits onto other lines, as one
    revision."""
    found = seen.review
    if asked == "measured" and found.heaviest is not None:
        over = "year" if seen.recording.duration > 360 * DAY else "days30"
        texts = {
            "calculation": "measured",
            "measured_demand": f"{found.heaviest[1].value:.1f} A",
            "measured_over": over,
        }
        actions.change_entries(job, request.user, {str(row.part_id): texts})
        messages.success(request, gettext("The measured demand is on the item’s sheet."))
    elif asked == "split":
        part = next(p for p in job.loaded() if p.pk == row.part_id)
        if text := _split(part, found, seen.system):
            actions.change_entries(job, request.user, {str(part.pk): {"line_shares": text}})
            messages.success(request, gettext("The load is split as its lines were measured."))
    elif asked == "move":
        changes = {m.part: {"line": m.after} for m in found.moves if _can_move(job, m.part)}
        if changes:
            actions.change_entries(job, request.user, changes)
            words = gettext("{count} circuits are moved.").format(count=len(changes))
            messages.success(request, words)


@login_required
@require_GET
def recording_csv(request: Request, job_id: Any, recording_id: Any) -> HttpResponse:
    """The samples as a file that can be read in again."""
    job = own_job(request, job_id)
    row = get_object_or_404(models.Recording, job=job, pk=recording_id)
    text = recordings.as_csv(recordings.unpacked(row))
    response = HttpResponse(text, "text/csv; charset=utf-8")
    name = slugify(row.name) or "recording"
    response["Content-Disposition"] = f'attachment; filename="{name}.csv"'
    return response
