"""Site readings: the logbook's page, one reading, a file of them."""

from __future__ import annotations

import json
import uuid
from typing import Any, cast
from urllib.parse import urlencode

from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core.paginator import Paginator
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.core import quantities
from voltaje.core.kinds import Evaluated
from voltaje.web.http import intake
from voltaje.web.http.requests import Request
from voltaje.web.http.table_files import UnreadableFileError, posted_rows, texts_of
from voltaje.web.jobs import logbook
from voltaje.web.jobs.forms import NameField
from voltaje.web.jobs.models import Job, Part, Reading
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import told, tree, work_job

PAGE = 200


def _choices(form: forms.BaseForm, name: str) -> forms.ChoiceField:
    return cast(forms.ChoiceField, form.fields[name])


class ReadingForm(forms.Form):
    """One reading: where, what the instrument showed, when, who."""

    made = forms.CharField(widget=forms.HiddenInput, required=False)
    part = forms.ChoiceField(label=gettext_lazy("At"))
    point = forms.ChoiceField(
        label=gettext_lazy("Point"),
        error_messages={
            "required": gettext_lazy("Choose where the instrument was put."),
            "invalid_choice": gettext_lazy("This part has no such point: choose one of the list."),
        },
    )
    value = forms.CharField(
        label=gettext_lazy("Reading"),
        max_length=30,
        help_text=gettext_lazy("like 117.8 V, 12.4 A or 0.84 Ω"),
        error_messages={"required": gettext_lazy("Give what the instrument showed, like 117.8 V.")},
    )
    taken_at = forms.CharField(
        label=gettext_lazy("When"),
        max_length=30,
        required=False,
        help_text=gettext_lazy("like 2026-11-20 14:30; empty: now"),
    )
    place = NameField(
        label=gettext_lazy("Place"),
        max_length=80,
        required=False,
        help_text=gettext_lazy("like the kitchen, third outlet"),
    )
    who = NameField(
        label=gettext_lazy("Who"),
        max_length=80,
        error_messages={"required": gettext_lazy("Say who measured.")},
    )
    note = NameField(label=gettext_lazy("Note"), max_length=200, required=False)

    def __init__(
        self, *args: Any, job: Job, found: dict[str, Evaluated], chosen: Part | None, **kw: Any
    ) -> None:
        super().__init__(*args, **kw)
        self.measurable = _measurable(job, found)
        _choices(self, "part").choices = [(str(p.pk), p.name) for p in self.measurable]
        self.fields["part"].widget.attrs |= {
            "hx-get": reverse("jobs:readings", args=[job.pk]),
            "hx-target": "#reading-form",
            "hx-include": "#reading-form",
            "hx-trigger": "change",
        }
        worked = found[str(chosen.pk)].report if chosen else None
        _choices(self, "point").choices = logbook.summary(worked)
        self.chosen = chosen
        self.fields["value"].widget.attrs["autofocus"] = True

    def clean(self) -> dict[str, Any]:
        """The value in the point's unit, the date."""
        data = super().clean() or {}
        unit = data.get("point", "").partition("|")[0]
        if unit and data.get("value"):
            try:
                data["number"] = logbook.read_value(data["value"], unit)
            except quantities.UnreadableError as error:
                self.add_error("value", str(error))
            else:
                if not 0 <= data["number"] <= logbook.MOST[unit]:
                    self.add_error(
                        "value",
                        gettext("Out of range: give 0 to {most:,.0f} {unit}.").format(
                            most=logbook.MOST[unit], unit=unit
                        ),
                    )
        wrong: list[str] = []
        data["when"] = logbook.when(data.get("taken_at", ""), wrong)
        for words in wrong:
            self.add_error("taken_at", words)
        return data


def _has_volts(item: Evaluated) -> bool:
    return item.volts is not None and item.volts.drop_total is not None


def _measurable(job: Job, found: dict[str, Evaluated]) -> list[Part]:
    """The parts with points, in the order of the tree."""
    nodes = [node for top in tree(job, told(found)) for node in top.flat()]
    return [
        node.part
        for node in nodes
        # where the job knows the voltage it can be measured; no worksheet is told to see that
        if _has_volts(found[str(node.part.pk)])
        or logbook.points_of(found, node.part)
        or logbook.tests_of(found, node.part)
    ]


def _chosen(job: Job, found: dict[str, Evaluated], wanted: str) -> Part | None:
    measurable = _measurable(job, found)
    mine = next((p for p in measurable if str(p.pk) == wanted), None)
    return mine or (measurable[0] if measurable else None)


@login_required
@require_http_methods(["GET", "POST"])
def readings(request: Request, job_id: Any) -> HttpResponse:
    """The logbook with a form for one more. Once a reading is in, the form stays: the same part,
    the same visit, the next point."""
    job = own_job(request, job_id)
    found = work_job(job)
    given = request.POST if request.method == "POST" else request.GET
    chosen = _chosen(job, found, given.get("part", ""))
    begun = _begun(request, given, chosen)
    bound = request.POST if request.method == "POST" else None
    form = ReadingForm(bound, job=job, found=found, chosen=chosen, initial=begun)
    if bound is not None and form.is_valid():
        _enter(request, job, form)
        request.saved = True  # the page forgets what it kept of this form
        kept = _next_one(form)
        if not request.htmx:
            return redirect(f"{reverse('jobs:readings', args=[job.pk])}?{urlencode(kept)}")
        initial = {**begun, **kept, "made": str(uuid.uuid4())}
        form = ReadingForm(None, job=job, found=found, chosen=chosen, initial=initial)
    page = Paginator(job.readings.all(), PAGE).get_page(request.GET.get("page"))
    context = {
        "job": job,
        "form": form,
        "visits": logbook.visits(job, found, page.object_list),
        "page": page,
        "out": intake.key(request.GET.get("out")),
    }
    if request.htmx and request.htmx.target == "reading-form":
        return render(request, "jobs/_reading_form.html", context)
    template = "jobs/_logbook.html" if request.htmx else "jobs/readings.html"
    # htmx shows what is answered with 200 only
    status = 422 if form.errors and not request.htmx else 200
    return render(request, template, context, status=status)


def _begun(request: Request, given: Any, chosen: Part | None) -> dict[str, str]:
    """What a form begins with: what the page asks for, else who is signed in and now."""
    person = request.user.email.split("@")[0]
    begun = {"who": person, "made": str(uuid.uuid4())}
    begun |= {name: given[name] for name in given if name in ReadingForm.base_fields}
    if chosen:
        begun["part"] = str(chosen.pk)
    return begun


def _enter(request: Request, job: Job, form: ReadingForm) -> None:
    """Puts a reading into the logbook; the same form sent twice puts it in once."""
    data = form.cleaned_data
    unit, point = data["point"].split("|", 1)
    with transaction.atomic():
        Job.objects.select_for_update().get(pk=job.pk)
        if job.readings.count() >= logbook.MOST_READINGS:
            form.add_error(
                None,
                gettext("A logbook holds at most {most_readings:,} readings.").format(
                    most_readings=logbook.MOST_READINGS
                ),
            )
            return
        Reading.every.get_or_create(
            pk=intake.key(data["made"]) or uuid.uuid4(),
            defaults={
                "job": job,
                "part": form.chosen,
                "part_name": form.chosen.name if form.chosen else "",
                "point": point,
                "unit": unit,
                "value": data["number"],
                "taken_at": data["when"],
                "place": data["place"],
                "who": data["who"],
                "note": data["note"],
            },
        )
    messages.success(
        request,
        gettext("{point}, {value}: the reading is in the logbook.").format(
            point=point, value=data["value"]
        ),
    )


def _next_one(form: ReadingForm) -> dict[str, str]:
    """What the next reading begins with: the same visit, the next point of the part."""
    data = form.cleaned_data
    points = [value for value, _ in cast(list[tuple[str, str]], _choices(form, "point").choices)]
    after = points[points.index(data["point"]) + 1 :] or points[:1]
    return {
        "part": str(form.chosen.pk) if form.chosen else "",
        "point": after[0],
        "taken_at": f"{timezone.localtime(data['when']):%Y-%m-%d %H:%M}",
        "place": data["place"],
        "who": data["who"],
        "value": "",
        "note": "",
    }


@login_required
@require_POST
def drop_reading(request: Request, job_id: Any, reading_id: uuid.UUID) -> HttpResponse:
    """Takes a reading out of the logbook, or puts one back that was taken out."""
    job = own_job(request, job_id)
    reading = get_object_or_404(Reading.every, job=job, pk=reading_id)
    back = request.POST.get("back") == "yes"
    reading.out_at = None if back else timezone.now()
    reading.save(update_fields=["out_at"])
    if back:
        messages.success(request, gettext("The reading is in the logbook again."))
        return redirect("jobs:readings", job.pk)
    return redirect(f"{reverse('jobs:readings', args=[job.pk])}?out={reading.pk}")


@login_required
@require_GET
def readings_csv(request: Request, job_id: Any) -> HttpResponse:
    """The logbook as CSV."""
    job = own_job(request, job_id)
    answer = HttpResponse(logbook.to_csv(job), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="readings.csv"'
    return answer


@login_required
@require_http_methods(["GET", "POST"])
def take_readings(request: Request, job_id: Any) -> HttpResponse:
    """First what a file holds and where it is wrong; then, once agreed, it is kept."""
    job = own_job(request, job_id)
    context: dict[str, Any] = {"job": job, "columns": logbook.COLUMNS}
    upload = request.FILES.get("file")
    made = intake.key(request.POST.get("made")) or uuid.uuid4()
    try:
        if request.POST.get("rows"):
            carried = posted_rows(request.POST["rows"], logbook.MOST_ROWS)
            rows = [texts_of(row, logbook.COLUMNS) for row in carried]
        elif upload is not None:
            rows = logbook.read_file(upload)
        else:
            if request.method == "POST":
                raise UnreadableFileError(gettext("Choose a CSV or XLSX file first."))
            return render(request, "jobs/readings_import.html", context)
        person = request.user.email.split("@")[0]
        taken = logbook.take(job, rows, work_job(job), person)
        if request.POST.get("agreed"):
            return _keep_file(request, job, taken, made)
    except UnreadableFileError as error:
        context["error"] = str(error)
        return render(request, "jobs/readings_import.html", context, status=422)
    good = sum(item.reading is not None for item in taken)
    context |= {
        "taken": taken,
        "good": good,
        "wrong": len(taken) - good,
        "rows": json.dumps(rows),
        "made": str(made),
    }
    return render(request, "jobs/readings_import.html", context)


def _keep_file(
    request: Request, job: Job, taken: list[logbook.Taken], made: uuid.UUID
) -> HttpResponse:
    """The good rows of a file; the same preview agreed to twice keeps them once."""
    good = []
    for item in taken:
        if item.reading is not None:
            item.reading.pk = uuid.uuid5(made, str(item.number))
            good.append(item.reading)
    with transaction.atomic():
        Job.objects.select_for_update().get(pk=job.pk)
        if job.readings.count() + len(good) > logbook.MOST_READINGS:
            raise UnreadableFileError(
                gettext(
                    "A logbook holds at most {most_readings:,} readings: nothing was taken."
                ).format(most_readings=logbook.MOST_READINGS)
            )
        Reading.every.bulk_create(good, ignore_conflicts=True)
    messages.success(
        request, gettext("{many} readings were taken from the file.").format(many=len(good))
    )
    return redirect("jobs:readings", job.pk)
