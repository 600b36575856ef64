"""How far a task has come, and stopping it."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_GET, require_POST

from voltaje.core import faults
from voltaje.core.report import figure
from voltaje.web.background import asking
from voltaje.web.background.models import BackgroundTask
from voltaje.web.background.work import work_of


def shown(task: BackgroundTask) -> dict[str, Any]:
    """What the progress of a task is shown with."""
    share, work = task.progress.get("share"), work_of(task.work)
    return {
        "background": task,
        # without one the bar tells only that something goes on
        "percent": "" if share is None else figure(100 * min(max(float(share), 0.0), 1.0), 0),
        "words": work.words(task.progress) if task.progress or task.job_id is None else "",
        "fault": faults.words(task.fault) if task.fault else "",
        "workers": asking.workers() if task.state != "done" else 1,
    }


def _own(request: HttpRequest, task_id: Any) -> BackgroundTask:
    task: BackgroundTask = get_object_or_404(BackgroundTask, pk=task_id, account=request.user)
    return task


@login_required
@require_GET
def progress(request: HttpRequest, task_id: Any) -> HttpResponse:
    """How far it is; once it has ended the page is told to show what it came to."""
    task = _own(request, task_id)
    response = render(request, "background/_progress.html", shown(task))
    if not task.live:
        response["HX-Trigger"] = "ended"
    return response


@login_required
@require_POST
def stop(request: HttpRequest, task_id: Any) -> HttpResponse:
    """Ends it with what it has found."""
    task = _own(request, task_id)
    asking.stop(task)
    if request.headers.get("HX-Request"):
        return render(request, "background/_progress.html", shown(task))
    return redirect(_back(request))


@login_required
@require_POST
def again(request: HttpRequest, task_id: Any) -> HttpResponse:
    """Forgets what was stopped or has failed, so that the page it was asked on asks anew."""
    asking.forget(_own(request, task_id))
    return redirect(_back(request))


def _back(request: HttpRequest) -> str:
    """The page that it was asked on."""
    wanted = request.POST.get("next", "")
    good = url_has_allowed_host_and_scheme(wanted, {request.get_host()}, request.is_secure())
    return wanted if good else "jobs:list"
