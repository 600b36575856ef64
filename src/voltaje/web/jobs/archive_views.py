"""All jobs of an account as a file, and back; a job deleted for good."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.translation import gettext, gettext_noop, ngettext
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.web.accounts.events import note
from voltaje.web.background import asking
from voltaje.web.background.models import BackgroundTask
from voltaje.web.background.views import shown
from voltaje.web.history import revisions
from voltaje.web.http import intake
from voltaje.web.http.requests import Request
from voltaje.web.jobs import archive, long_work
from voltaje.web.jobs.views import own_job


@login_required
@require_GET
def export(request: Request) -> StreamingHttpResponse:
    """Everything of the account as JSON."""
    many = request.user.jobs.count()
    note(request.user, "exported", gettext("{many} jobs").format(many=many))
    response = StreamingHttpResponse(archive.pieces(request.user), content_type="application/json")
    day = timezone.localdate().isoformat()
    response["Content-Disposition"] = f'attachment; filename="voltaje-{day}.json"'
    return response


@login_required
@require_http_methods(["GET", "POST"])
def bring(request: Request) -> HttpResponse:
    """Brings the jobs of such a file back, beside those that are there; a large one by a worker,
    whose progress the page shows."""
    error, context = "", {}
    upload = request.FILES.get("file")
    if request.method == "POST" and upload is None:
        error = gettext("Choose the file of a backup first.")
    elif upload is not None:
        if (upload.size or 0) > archive.MOST_BYTES:
            most = archive.MOST_BYTES // 10**6
            error = _unread(gettext("It is larger than {most} MB.").format(most=most))
        else:
            try:
                task = asking.send(long_work.IMPORT, request.user, {}, upload.read())
            except asking.BusyError as busy:
                return render(request, "accounts/import.html", {"busy": str(busy)}, status=429)
            if task.live:
                return redirect(f"{reverse('accounts:import')}?task={task.pk}")
            found = task.result or {}
            if "count" in found:
                messages.success(request, _back(found["count"]))
                return redirect("jobs:list")
            error = _unread(found.get("error", ""))
    elif key := intake.key(request.GET.get("task")):
        task = get_object_or_404(
            BackgroundTask, pk=key, account=request.user, work=long_work.IMPORT.name
        )
        found = task.result or {}
        context = shown(task)
        if "count" in found:
            context["back"] = _back(found["count"])
        elif "error" in found:
            context["failed"] = _unread(found["error"])
    context["error"] = error
    return render(request, "accounts/import.html", context, status=422 if error else 200)


def _back(count: int) -> str:
    return ngettext("{count} job imported.", "{count} jobs imported.", count).format(count=count)


def _unread(why: str) -> str:
    return gettext("This file cannot be read: {why} Nothing was taken from it.").format(why=why)


@login_required
@require_POST
def delete_job(request: Request, job_id: Any) -> HttpResponse:
    """Deletes a job of the archive with all its revisions, for good."""
    job = own_job(request, job_id)
    if job.archived_at is None:
        messages.error(
            request, gettext("Only a job in the archive can be deleted: put it there first.")
        )
    elif request.POST.get("name", "").strip() != job.name:
        messages.error(request, gettext("The name did not match: nothing was deleted."))
    else:
        note(request.user, gettext_noop("job deleted"), job.name)
        with revisions.changing(job) as held:
            held.delete()
        messages.success(request, gettext("The job is deleted for good."))
    return redirect("/jobs/?archived=1")
