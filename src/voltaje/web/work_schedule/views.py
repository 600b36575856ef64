"""The work schedules of a job: made between two revisions, put in order, timed, printed, taken
along."""

from __future__ import annotations

from datetime import datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo, available_timezones

from django import forms
from django.conf import settings
from django.contrib.auth.decorators import login_required
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.text import slugify
from django.utils.translation import get_language, gettext, gettext_lazy
from django.views.decorators.http import require_GET, require_http_methods

from voltaje.core.codes import edition
from voltaje.core.work_schedule import OutOfOrderError, WorkPlan, check_order
from voltaje.web.background import asking
from voltaje.web.background.models import BackgroundTask
from voltaje.web.background.views import shown
from voltaje.web.documents import typesetting
from voltaje.web.documents.sections import mark_of
from voltaje.web.http import table_files
from voltaje.web.http.requests import Request
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.views import own_job
from voltaje.web.parts.respond import paper_of
from voltaje.web.work_schedule import files, long_work
from voltaje.web.work_schedule.arranged import Arranged, arranged
from voltaje.web.work_schedule.models import WorkSchedule

# no code figures: revisions to choose from, schedules of a job, minutes and people of a step
LISTED, MOST_SCHEDULES, MOST_MINUTES, MOST_PEOPLE, DIGITS = 200, 20, 60_000, 99, 6
EARLIEST, LATEST = 2000, 2100  # no code figures: years in which work begins
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
ENDINGS = ("pdf", "ics", "csv", "xlsx")


class HoursForm(forms.ModelForm):  # type: ignore[type-arg]
    """When work is done, and whether outages are to be few or short."""

    starts_at = forms.DateTimeField(
        label=gettext_lazy("Begins"),
        input_formats=["%Y-%m-%dT%H:%M", "%Y-%m-%d %H:%M"],
        widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"),
        error_messages={"invalid": gettext_lazy("A date and a time, like 2026-12-04 08:00.")},
    )
    zone = forms.CharField(
        label=gettext_lazy("Time zone"),
        max_length=64,
        widget=forms.TextInput(attrs={"list": "zones", "autocomplete": "off"}),
    )
    opens = forms.TimeField(
        label=gettext_lazy("Working day from"),
        widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
        error_messages={"invalid": gettext_lazy("A time of the clock, like 08:00.")},
    )
    closes = forms.TimeField(
        label=gettext_lazy("Working day to (earlier than the start: night shift)"),
        widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"),
        error_messages={"invalid": gettext_lazy("A time of the clock, like 16:30.")},
    )
    weekends = forms.BooleanField(label=gettext_lazy("Work on weekends"), required=False)
    few = forms.BooleanField(
        label=gettext_lazy("Fewest outages instead of shortest"), required=False
    )

    class Meta:
        model = WorkSchedule
        fields = ("starts_at", "zone", "opens", "closes", "weekends", "few")

    def __init__(self, *args: Any, **more: Any) -> None:
        super().__init__(*args, **more)
        kept = self.instance
        if kept.pk and kept.starts_at:
            local = kept.starts_at.astimezone(ZoneInfo(kept.zone))
            self.initial["starts_at"] = local.replace(tzinfo=None)

    def clean_zone(self) -> str:
        """A zone of the time zone database."""
        found = str(self.cleaned_data["zone"]).strip()
        if found not in available_timezones():
            raise forms.ValidationError(
                gettext("A time zone such as America/Denver, Europe/London or UTC.")
            )
        return found

    def clean(self) -> dict[str, Any]:
        """The begin in the zone that stands beside it."""
        found: dict[str, Any] = super().clean() or {}
        zone, at = found.get("zone"), found.get("starts_at")
        if at and not EARLIEST <= at.year <= LATEST:
            self.add_error("starts_at", gettext("A date and a time, like 2026-12-04 08:00."))
            at = None
        if zone and at:
            found["starts_at"] = timezone.make_naive(at, timezone.get_current_timezone()).replace(
                tzinfo=ZoneInfo(zone)
            )
        if found.get("opens") is not None and found.get("opens") == found.get("closes"):
            self.add_error("closes", gettext("A working day lasts some time."))
        return found


@login_required
@require_http_methods(["GET", "POST"])
def schedules(request: Request, job_id: Any) -> HttpResponse:
    """The schedules of a job, and a new one from an earlier revision to now."""
    job = own_job(request, job_id)
    problem = ""
    if request.method == "POST":
        made = _new(request, job)
        if isinstance(made, WorkSchedule):
            return redirect("jobs:work_schedule", job.pk, made.pk)
        problem = made
    context = {
        "job": job,
        "schedules": list(job.work_schedules.all()),
        "revisions": list(job.revisions.filter(number__lt=job.revision)[:LISTED]),
        "problem": problem,
    }
    return render(request, "work_schedule/schedules.html", context, status=422 if problem else 200)


def _new(request: Request, job: Job) -> WorkSchedule | str:
    """The schedule that was asked for, the one that there is already, or what is wrong."""
    asked = request.POST.get("before", "")
    before = int(asked) if asked.isdecimal() and len(asked) <= DIGITS else -1
    known = job.revisions.filter(number=before, number__lt=job.revision).exists()
    if before and not known:
        return gettext("Choose an earlier revision of this job.")
    kept = job.work_schedules.filter(before=before, after=job.revision).first()
    if kept is not None:
        return kept
    if job.work_schedules.count() >= MOST_SCHEDULES:
        return gettext("A job has at most {most} work schedules: delete one first.").format(
            most=MOST_SCHEDULES
        )
    zone = request.POST.get("zone", "")
    zone = zone if zone in available_timezones() else settings.TIME_ZONE
    tomorrow = timezone.localtime(timezone=ZoneInfo(zone)).date() + timedelta(days=1)
    starts = datetime.combine(tomorrow, time(8), ZoneInfo(zone))
    return job.work_schedules.create(before=before, after=job.revision, starts_at=starts, zone=zone)


@login_required
@require_http_methods(["GET", "POST"])
def schedule(request: Request, job_id: Any, schedule_id: Any) -> HttpResponse:
    """A schedule; a step moved, timed or ticked off, other hours, brought up to now, deleted."""
    job = own_job(request, job_id)
    kept = get_object_or_404(WorkSchedule, pk=schedule_id, job=job)
    do = request.POST.get("do", "") if request.method == "POST" else ""
    if do == "delete":
        kept.delete()
        return redirect("jobs:work_schedules", job.pk)
    if do == "now":
        return redirect("jobs:work_schedule", job.pk, _up_to_now(kept).pk)
    context: dict[str, Any] = {"job": job, "schedule": kept, "form": HoursForm(instance=kept)}
    problem = ""
    if do == "hours":
        form = HoursForm(request.POST, instance=kept)
        if form.is_valid():
            kept.keep(*form.cleaned_data)
            return redirect("jobs:work_schedule", job.pk, kept.pk)
        context["form"], problem = form, gettext("Not saved: see the entries.")
        kept = get_object_or_404(WorkSchedule, pk=schedule_id, job=job)
    try:
        task = _asked(job, kept)
    except asking.BusyError as error:
        context["busy"] = str(error)
        return render(request, "work_schedule/schedule.html", context, status=429)
    context |= shown(task)
    if task.result:
        plan = long_work.plan_of(task.result)
        if request.method == "POST" and do != "hours":
            with transaction.atomic():  # two hands at one schedule: one after the other
                kept = WorkSchedule.objects.select_for_update().get(pk=kept.pk)
                problem = _change(request, kept, plan)
            context["schedule"] = kept
        context["found"] = arranged(plan, kept)
    context |= {"problem": problem, "caution": files.CAUTION}
    bare = request.headers.get("X-Part") == "steps"
    if do in ("", "hours") or bare or problem:
        template = "work_schedule/_steps.html" if bare else "work_schedule/schedule.html"
        context["zones"] = () if bare else sorted(available_timezones())
        return render(request, template, context, status=422 if problem else 200)
    return redirect("jobs:work_schedule", job.pk, kept.pk)


def question_of(kept: WorkSchedule) -> dict[str, Any]:
    """What is asked to have a schedule's plan."""
    return {
        "language": get_language() or "en",
        "before": kept.before,
        "after": kept.after,
        "few": kept.few,
    }


def _asked(job: Job, kept: WorkSchedule) -> BackgroundTask:
    return asking.ask(long_work.WORK_SCHEDULE, job, question_of(kept))


def _up_to_now(kept: WorkSchedule) -> WorkSchedule:
    """The same schedule to the revision of now; where there is one already, that."""
    job = kept.job
    other = job.work_schedules.filter(before=kept.before, after=job.revision).first()
    if other is not None:
        return other
    kept.after = job.revision
    kept.keep("after")
    return kept


def _change(request: Request, kept: WorkSchedule, plan: WorkPlan) -> str:
    """A change of a step; what is wrong with it, ``""`` where it is kept."""
    do, key = request.POST.get("do", ""), request.POST.get("key", "")
    of = {step.key: step for step in plan.steps}
    if key not in of:
        return gettext("This step no longer exists: reload the page.")
    if do == "move":
        return _move(request, kept, plan, key)
    if do == "done":
        ticked = request.POST.get("done") == "yes"
        kept.done = [one for one in kept.done if one != key] + ([key] if ticked else [])
    elif do == "taking":
        minutes, people = (request.POST.get(name, "").strip() for name in ("minutes", "people"))
        if not _is_count(minutes, 0, MOST_MINUTES):
            return gettext("Minutes are a whole number up to {most}.").format(most=MOST_MINUTES)
        if not _is_count(people, 1, MOST_PEOPLE):
            return gettext("People are a whole number from 1 to {most}.").format(most=MOST_PEOPLE)
        kept.taking = {**kept.taking, key: [int(minutes), int(people)]}
    else:
        raise Http404
    kept.keep("done", "taking")
    return ""


def _is_count(text: str, least: int, most: int) -> bool:
    return text.isdecimal() and len(text) <= DIGITS and least <= int(text) <= most


def _move(request: Request, kept: WorkSchedule, plan: WorkPlan, key: str) -> str:
    now = [one.step.key for one in arranged(plan, kept).steps]
    to = request.POST.get("at", "")
    if not _is_count(to, 0, len(now) - 1):
        return gettext("This step no longer exists: reload the page.")
    now.remove(key)
    now.insert(int(to), key)
    try:
        check_order(plan.steps, now)
    except OutOfOrderError as error:
        of = {step.key: step.words for step in plan.steps}
        return gettext("“{step}” comes after “{needs}”.").format(
            step=of[error.step], needs=of[error.needs]
        )
    kept.order = now
    kept.keep("order")
    return ""


@login_required
@require_GET
def schedule_file(request: Request, job_id: Any, schedule_id: Any, ending: str) -> HttpResponse:
    """The schedule on paper, for a calendar, as a table."""
    job = own_job(request, job_id)
    kept = get_object_or_404(WorkSchedule, pk=schedule_id, job=job)
    if ending not in ENDINGS:
        raise Http404
    try:
        task = _asked(job, kept)
    except asking.BusyError:
        task = None
    if task is None or not task.result:  # not yet: the page says how far it is
        return redirect("jobs:work_schedule", job.pk, kept.pk)
    found = arranged(long_work.plan_of(task.result), kept)
    content, kind = _content(request, kept, found, ending)
    response = HttpResponse(content, kind)
    name = f"{slugify(job.name) or 'job'}-work-r{kept.before}-r{kept.after}.{ending}"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _content(
    request: Request, kept: WorkSchedule, found: Arranged, ending: str
) -> tuple[str | bytes, str]:
    if ending == "ics":
        return files.as_calendar(kept, found), "text/calendar; charset=utf-8"
    if ending == "csv":
        return table_files.write_csv(files.as_rows(found)), "text/csv; charset=utf-8"
    if ending == "xlsx":
        title = gettext("Work schedule")
        total = (gettext("Total"), (9,))
        rows = files.as_rows(found)
        return table_files.write_xlsx(rows, title, 7, {9: "#,##0"}, total), XLSX
    job = kept.job
    words = typesetting.SetWords(
        title=gettext("{name}: work schedule").format(name=job.name),
        author=request.user.email,
        footer=gettext("{name} · {code} · revision {revision} ({mark})").format(
            name=job.name,
            code=edition(job.edition).title,
            revision=job.revision,
            mark=mark_of(job),
        ),
        page=gettext("page {n} of {all}"),
        tile="",
        language=get_language() or "en",
    )
    pdf, _ = typesetting.to_pdf(files.as_paper(kept, found), paper_of(request, job.units), words)
    return pdf, "application/pdf"
