"""All jobs of an account as a file, and back; a job deleted for good."""

from __future__ import annotations

import json
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpResponse, StreamingHttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.translation import gettext, gettext_noop
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.web.accounts.events import note
from voltaje.web.history import revisions
from voltaje.web.http.requests import Request
from voltaje.web.jobs import archive
from voltaje.web.jobs.archive_document import UnreadableArchiveError
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
    """Brings the jobs of such a file back, beside those that are there."""
    error = ""
    upload = request.FILES.get("file")
    if request.method == "POST" and upload is None:
        error = gettext("Choose the file of a backup first.")
    elif upload is not None:
        try:
            if (upload.size or 0) > archive.MOST_BYTES:
                raise UnreadableArchiveError(
                    gettext("It is larger than {most} MB.").format(most=archive.MOST_BYTES // 10**6)
                )
            count = archive.bring(request.user, _json(upload.read()))
        except (UnreadableArchiveError, ValueError, RecursionError) as problem:
            known = isinstance(problem, UnreadableArchiveError)
            why = str(problem) if known else gettext("it is not JSON.")
            error = gettext("This file cannot be read: {why} Nothing was taken from it.").format(
                why=why
            )
        else:
            note(
                request.user,
                gettext_noop("brought back"),
                gettext("{count} jobs").format(count=count),
            )
            messages.success(
                request,
                gettext("{count} job{what} came back.").format(
                    count=count, what="s" if count != 1 else ""
                ),
            )
            return redirect("jobs:list")
    context = {"error": error}
    return render(request, "accounts/import.html", context, status=422 if error else 200)


def _json(raw: bytes) -> Any:
    """The document; figures that JSON does not have are none."""

    def no_figure(text: str) -> Any:
        raise ValueError(text)

    return json.loads(raw, parse_constant=no_figure)


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
