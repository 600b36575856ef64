"""Site readings: the logbook's page, one reading, a file of them."""

from __future__ import annotations

import json
import uuid
from typing import Any
from urllib.parse import urlencode

from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.core import units
from voltaje.core.parts import Evaluated
from voltaje.web.csv_files import MOST_BYTES, UnreadableFileError, posted_rows
from voltaje.web.jobs import logbook
from voltaje.web.jobs.models import Job, Part, Reading
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import tree, work_job

KEPT = ("part", "taken_at", "place", "who")


class ReadingForm(forms.Form):
    """One reading: where, what the instrument showed, when, who."""

    part = forms.ChoiceField(label="At")
    point = forms.ChoiceField(label="Point", error_messages={
        "required": "Choose where the instrument was put.",
        "invalid_choice": "This part has no such point: choose one of the list."})  # fmt: skip
    value = forms.CharField(label="It showed", max_length=30, help_text="like 117.8 V or 12.4 A",
                            error_messages={"required": "Give what the instrument showed, like"
                                            " 117.8 V."})  # fmt: skip
    taken_at = forms.CharField(label="When", max_length=30, required=False,
                               help_text="like 2026-11-20 14:30; empty: now")  # fmt: skip
    place = forms.CharField(label="Place", max_length=80, required=False,
                            help_text="like the kitchen, third outlet")  # fmt: skip
    who = forms.CharField(label="Who", max_length=80,
                          error_messages={"required": "Say who measured."})  # fmt: skip
    note = forms.CharField(label="Note", max_length=200, required=False)

    def __init__(
        self, *args: Any, job: Job, found: dict[str, Evaluated], chosen: Part | None, **kw: Any
    ) -> None:
        super().__init__(*args, **kw)
        self.measurable = _measurable(job, found)
        self.fields["part"].choices = [(str(p.pk), p.name) for p in self.measurable]
        self.fields["part"].widget.attrs |= {
            "hx-get": reverse("jobs:readings", args=[job.pk]), "hx-target": "#reading-form",
            "hx-include": "#reading-form", "hx-trigger": "change",
        }  # fmt: skip
        worked = found[str(chosen.pk)].worked if chosen else None
        self.fields["point"].choices = logbook.summary(worked)
        self.chosen = chosen

    def clean(self) -> dict[str, Any]:
        """The value in the point's unit, the date."""
        data = super().clean() or {}
        unit = data.get("point", "")[:1]
        if unit and data.get("value"):
            try:
                data["number"] = units.read(data["value"], logbook.DIMENSIONS[unit])
            except units.UnreadableError as error:
                self.add_error("value", str(error))
            else:
                if not 0 <= data["number"] <= logbook.MOST[unit]:
                    self.add_error("value", f"Out of range: give 0 to {logbook.MOST[unit]:,.0f}"
                                   f" {unit}.")  # fmt: skip
        wrong: list[str] = []
        data["when"] = logbook.when(data.get("taken_at", ""), wrong)
        for words in wrong:
            self.add_error("taken_at", words)
        return data


def _measurable(job: Job, found: dict[str, Evaluated]) -> list[Part]:
    """The parts with points, in the order of the tree."""
    nodes = [node for top in tree(job, found) for node in top.flat()]
    return [node.part for node in nodes if logbook.points_of(found, node.part)]


def _chosen(job: Job, found: dict[str, Evaluated], wanted: str) -> Part | None:
    measurable = _measurable(job, found)
    mine = next((p for p in measurable if str(p.pk) == wanted), None)
    return mine or (measurable[0] if measurable else None)


@login_required
@require_http_methods(["GET", "POST"])
def readings(request: HttpRequest, job_id: Any) -> HttpResponse:
    """The logbook with a form for one more."""
    job = own_job(request, job_id)
    found = work_job(job)
    given = request.POST if request.method == "POST" else request.GET
    chosen = _chosen(job, found, given.get("part", ""))
    person = request.user.email.split("@")[0]
    initial = {"who": person} | {
        name: given[name] for name in given if name in ReadingForm.base_fields
    }
    if chosen:
        initial["part"] = str(chosen.pk)
    form = ReadingForm(request.POST if request.method == "POST" else None, job=job, found=found,
                       chosen=chosen, initial=initial)  # fmt: skip
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        unit, point = data["point"].split("|", 1)
        Reading.objects.create(job=job, part=chosen, part_name=chosen.name, point=point, unit=unit,
                               value=data["number"], taken_at=data["when"], place=data["place"],
                               who=data["who"], note=data["note"])  # fmt: skip
        messages.success(request, "The reading is in the logbook.")
        kept = {"part": str(chosen.pk), "who": data["who"], "place": data["place"],
                "taken_at": f"{timezone.localtime(data['when']):%Y-%m-%d %H:%M}"}  # fmt: skip
        return redirect(f"{reverse('jobs:readings', args=[job.pk])}?{_query(kept)}")
    context = {"job": job, "form": form}
    if request.htmx:
        return render(request, "jobs/_reading_form.html", context)
    context |= {"visits": logbook.visits(job, found), "columns": logbook.COLUMNS}
    return render(request, "jobs/readings.html", context)


def _query(kept: dict[str, str]) -> str:
    return urlencode({name: value for name, value in kept.items() if value})


@login_required
@require_POST
def drop_reading(request: HttpRequest, job_id: Any, reading_id: uuid.UUID) -> HttpResponse:
    """Takes a reading out of the logbook."""
    job = own_job(request, job_id)
    get_object_or_404(job.readings, pk=reading_id).delete()
    messages.success(request, "The reading is taken out.")
    return redirect("jobs:readings", job.pk)


@login_required
@require_GET
def readings_csv(request: HttpRequest, job_id: Any) -> HttpResponse:
    """The logbook as CSV."""
    job = own_job(request, job_id)
    answer = HttpResponse(logbook.to_csv(job), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="readings.csv"'
    return answer


@login_required
@require_http_methods(["GET", "POST"])
def take_readings(request: HttpRequest, job_id: Any) -> HttpResponse:
    """First what a file holds and where it is wrong; then, once agreed, it is kept."""
    job = own_job(request, job_id)
    context: dict[str, Any] = {"job": job, "columns": logbook.COLUMNS}
    upload = request.FILES.get("file")
    try:
        if request.POST.get("rows"):
            rows = posted_rows(request.POST["rows"], logbook.COLUMNS, logbook.MOST_ROWS)
        elif upload is not None:
            if upload.size is not None and upload.size > MOST_BYTES:
                raise UnreadableFileError("The file is larger than 500 kB: is it a list of"
                                                  " readings?")  # fmt: skip
            rows = logbook.read_file(upload.read())
        else:
            if request.method == "POST":
                context["error"] = "Choose a CSV file first."
            return render(request, "jobs/readings_import.html", context,
                          status=422 if "error" in context else 200)  # fmt: skip
    except UnreadableFileError as error:
        context["error"] = str(error)
        return render(request, "jobs/readings_import.html", context, status=422)
    person = request.user.email.split("@")[0]
    taken = logbook.take(job, rows, work_job(job), person)
    good = [item.reading for item in taken if item.reading is not None]
    if request.POST.get("agreed"):
        Reading.objects.bulk_create(good)
        messages.success(request, f"{len(good)} readings were taken from the file.")
        return redirect("jobs:readings", job.pk)
    context |= {"taken": taken, "good": len(good), "wrong": len(taken) - len(good),
                "rows": json.dumps(rows)}  # fmt: skip
    return render(request, "jobs/readings_import.html", context)
