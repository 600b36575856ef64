"""An item on site: the page that the code on a label opens."""

from __future__ import annotations

import uuid
from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.translation import gettext, ngettext
from django.views.decorators.http import require_http_methods

from voltaje.core import quantities
from voltaje.web.http import intake
from voltaje.web.http.requests import Request
from voltaje.web.jobs import logbook
from voltaje.web.jobs.contents import in_tree_order
from voltaje.web.jobs.models import Job, Part, Reading
from voltaje.web.jobs.views import own_part
from voltaje.web.jobs.worked import work_job
from voltaje.web.site.fields import SiteField, fields_of, label_lines

MOST_TEXT = {"who": 80, "place": 80, "note": 200}


@login_required
@require_http_methods(["GET", "POST"])
def on_site(request: Request, job_id: Any, part_id: Any) -> HttpResponse:
    """The item; readings typed there go into the logbook all together, or none where one is
    wrong."""
    job, part = own_part(request, job_id, part_id)
    found = work_job(job)
    fields = fields_of(job, part, found)
    texts = {"who": request.user.email.split("@")[0], "place": "", "note": ""}
    texts |= {name: request.GET[name] for name in texts if name in request.GET}
    wrong: dict[str, str] = {}
    if request.method == "POST":
        texts |= {name: request.POST.get(name, "").strip() for name in texts}
        fields, wrong = _read(request, fields, texts)
        if not wrong and not any(one.problem for one in fields):
            problem = _keep(request, job, part, fields, texts)
            if not problem:
                request.saved = True
                return redirect(request.get_full_path())
            wrong["form"] = problem
    item = found[str(part.pk)]
    around = [one for one in in_tree_order(job.loaded()) if one.parent_id == part.parent_id]
    at = [one.pk for one in around].index(part.pk)
    context = {
        "job": job,
        "part": part,
        "brief": item.brief,
        "lines": label_lines(job, part, found, timezone.localdate().isoformat()),
        "dead": [one for one in fields if one.dead],
        "live": [one for one in fields if not one.dead],
        "texts": texts,
        "wrong": wrong,
        "made": intake.key(request.POST.get("made")) or uuid.uuid4(),
        "next": around[at + 1] if at + 1 < len(around) else None,
        "below": job.under(part),
    }
    failed = bool(wrong) or any(one.problem for one in fields)
    return render(request, "site/item.html", context, status=422 if failed else 200)


def _read(
    request: Request, fields: list[SiteField], texts: dict[str, str]
) -> tuple[list[SiteField], dict[str, str]]:
    """The fields with what was typed and what is wrong with it, and what is wrong besides."""
    read, wrong = [], {}
    for one in fields:
        typed = request.POST.get(one.name, "").strip()[:30]
        read.append(replace(one, typed=typed, problem=_problem(typed, one.unit)))
    for name, most in MOST_TEXT.items():
        try:
            intake.plain_name(texts[name])
        except ValidationError as error:
            wrong[name] = str(error.message)
        if len(texts[name]) > most:
            wrong[name] = gettext("At most {most} characters.").format(most=most)
    if not texts["who"]:
        wrong["who"] = gettext("Say who measured.")
    if not any(one.typed for one in read):
        wrong["form"] = gettext("Give at least one reading.")
    return read, wrong


def _problem(typed: str, unit: str) -> str:
    if not typed:
        return ""
    try:
        value = logbook.read_value(typed, unit)
    except quantities.UnreadableError as error:
        return str(error)
    if not 0 <= value <= logbook.MOST[unit]:
        return gettext("Out of range: give 0 to {most:,.0f} {unit}.").format(
            most=logbook.MOST[unit], unit=unit
        )
    return ""


def _keep(
    request: Request, job: Job, part: Part, fields: list[SiteField], texts: dict[str, str]
) -> str:
    """Puts what was typed into the logbook, once however often the form is sent; what is wrong."""
    made = intake.key(request.POST.get("made")) or uuid.uuid4()
    now = timezone.now().replace(second=0, microsecond=0)
    typed = [one for one in fields if one.typed]
    readings = [
        Reading(
            pk=uuid.uuid5(made, one.key),
            job=job,
            part=part,
            part_name=part.name,
            point=one.key.partition("|")[2],
            unit=one.unit,
            value=logbook.read_value(one.typed, one.unit),
            taken_at=now,
            **texts,
        )
        for one in typed
    ]
    with transaction.atomic():
        Job.objects.select_for_update().get(pk=job.pk)
        if job.readings.count() + len(readings) > logbook.MOST_READINGS:
            return gettext("A logbook holds at most {most_readings:,} readings.").format(
                most_readings=logbook.MOST_READINGS
            )
        Reading.every.bulk_create(readings, ignore_conflicts=True)
    words = ngettext(
        "{n} reading is in the logbook.", "{n} readings are in the logbook.", len(readings)
    )
    messages.success(request, words.format(n=len(readings)))
    return ""
