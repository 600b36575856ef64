"""Pages of jobs. Every view finds the job among the account's own, or answers 404."""

from __future__ import annotations

import uuid
from time import thread_time
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.core.paginator import Paginator
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.core.codes import edition
from voltaje.core.electrical.advice import advise
from voltaje.web.firm import defaults as firm
from voltaje.web.history import revisions
from voltaje.web.http import intake
from voltaje.web.http.requests import Request
from voltaje.web.jobs import actions, digest, summary
from voltaje.web.jobs.beginnings import building
from voltaje.web.jobs.forms import AdviserForm, JobForm, NewJobForm, PartForm
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.worked import digest_of

WORKED_FOR = 0.25  # no code figure: s of processor time
BACK = {
    "undo": gettext_lazy("It cannot be taken back: {error}"),
    "redo": gettext_lazy("It cannot be done again: {error}"),
}


def own_job(request: HttpRequest, job_id: Any) -> Job:
    """The account's job of that id; 404 for anyone else's."""
    job: Job = get_object_or_404(Job.objects.of(request.user), pk=job_id)
    return job


def own_part(request: HttpRequest, job_id: Any, part_id: Any) -> tuple[Job, Part]:
    """The account's job of that id and an item of it; 404 for anyone else's."""
    job = own_job(request, job_id)
    for part in job.loaded():
        if part.pk == part_id:
            return job, part
    raise Http404


@login_required
@require_GET
def job_list(request: Request) -> HttpResponse:
    """The account's jobs, newest first; search by name; the archive apart."""
    archived = request.GET.get("archived") == "1"
    words = request.GET.get("q", "").strip()[:80]
    jobs = Job.objects.of(request.user).filter(archived_at__isnull=not archived)
    if words:
        jobs = jobs.filter(name__icontains=words)
    page = Paginator(jobs.order_by("-updated_at"), 30).get_page(request.GET.get("page"))
    listed = list(page.object_list)
    answers = _answers(listed)
    rows = [
        (job, answers.get(job.pk, ""), edition(job.edition).title, uuid.uuid4()) for job in listed
    ]
    context = {"page": page, "rows": rows, "archived": archived, "q": words, "form": JobForm()}
    template = "jobs/_list.html" if request.htmx else "jobs/list.html"
    return render(request, template, context)


def _answers(jobs: list[Job]) -> dict[Any, str]:
    """The jobs' answers by their ids. Of those that no process has worked yet under this release a
    few are worked now; the others say so until they are opened."""
    found = digest.read_answers(jobs)
    began = thread_time()
    for job in jobs:
        if job.pk not in found and thread_time() - began < WORKED_FOR:
            found[job.pk] = digest_of(job)["answer"]
    return found


@login_required
@require_http_methods(["GET", "POST"])
def create(request: Request) -> HttpResponse:
    """A new job with a supply and what it begins with."""
    asked = {key: request.GET[key] for key in ("system", "begins") if key in request.GET}
    first = {**firm.begins_with(request.user), **asked, "made": str(uuid.uuid4())}
    form = NewJobForm(request.POST or None, initial=first)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        try:
            job = actions.create_job(
                request.user,
                data["name"],
                data["edition"],
                data["units"],
                system=data["system"],
                begins=data["begins"],
                job_id=intake.key(data["made"]),
                preference=data["preference"],
                usual=firm.usual_of(request.user, data["edition"]),
                habits=firm.habits_of(request.user),
            )
        except revisions.RefusedError as error:
            form.add_error(None, str(error))
        else:
            if building(data["begins"]):
                return redirect("jobs:job", job.pk)
            return redirect("jobs:part", job.pk, actions.beginning(job).pk)
    return render(
        request,
        "jobs/form.html",
        {
            "form": form,
            "title": gettext("New job"),
            "new": True,
            "draft": f"job:{request.user.pk}",
        },
    )


@login_required
@require_GET
def adviser(request: Request) -> HttpResponse:
    """Single-phase or three-phase, by two questions."""
    form = AdviserForm(request.GET if "load" in request.GET else None)
    advice = None
    if form.is_valid():
        data = form.cleaned_data
        advice = advise(data["three_phase"] == "yes", data["load"], data["limit"])
    begins = "board" if advice and advice.system.phases == 3 else "dwelling"
    context = {"form": form, "advice": advice, "begins": begins}
    return render(request, "jobs/adviser.html", context)


@login_required
@require_http_methods(["GET", "POST"])
def job_settings(request: Request, job_id: Any) -> HttpResponse:
    """Name, edition and units."""
    job = own_job(request, job_id)
    with revisions.changing(job) as held:
        form = JobForm(request.POST or None, instance=Job.objects.get(pk=job.pk))
        if request.method == "POST" and form.is_valid():
            own = revisions.states(held, {revisions.JOB: None})[revisions.JOB] or {}
            data = {name: form.cleaned_data[name] for name in form.fields}
            revisions.write(held, request.user, {revisions.JOB: {**own, **data}})
            return redirect("jobs:job", job.pk)
    context = {"form": form, "title": gettext("Job settings"), "job": job}
    context["draft"] = f"settings:{job.pk}"
    return render(request, "jobs/form.html", context, status=422 if form.errors else 200)


@login_required
@require_http_methods(["GET", "POST"])
def rename_part(request: Request, job_id: Any, part_id: Any) -> HttpResponse:
    """A part's name."""
    job = own_job(request, job_id)
    with revisions.changing(job) as held:
        part = get_object_or_404(held.parts, pk=part_id)
        form = PartForm(request.POST or None, instance=part)
        state = revisions.part_state(part)
        if request.method == "POST" and form.is_valid():
            named = {**state, "name": form.cleaned_data["name"]}
            revisions.write(held, request.user, {str(part.pk): named})
            return redirect("jobs:part", job.pk, part.pk)
    context = {"form": form, "title": gettext("Name of the part"), "job": job, "part": part}
    context["draft"] = f"name:{part.pk}"
    return render(request, "jobs/form.html", context, status=422 if form.errors else 200)


@login_required
@require_POST
def duplicate(request: Request, job_id: Any) -> HttpResponse:
    """A copy of the job."""
    made = intake.key(request.POST.get("made"))
    try:
        copy = actions.duplicate_job(own_job(request, job_id), request.user, made)
    except revisions.RefusedError as error:
        messages.error(request, str(error))
        return redirect("jobs:list")
    messages.success(request, gettext("“{name}” was made.").format(name=copy.name))
    return redirect("jobs:list")


@login_required
@require_POST
def archive(request: Request, job_id: Any) -> HttpResponse:
    """Puts the job into the archive, or takes it out again."""
    job = own_job(request, job_id)
    job.archived_at = None if job.archived_at else timezone.now()
    job.save(update_fields=["archived_at"])
    if job.archived_at:
        words = gettext("“{name}” was put into the archive.")
    else:
        words = gettext("“{name}” was taken out of the archive.")
    messages.success(request, words.format(name=job.name))
    return redirect("jobs:list")


@login_required
@require_POST
def undo(request: Request, job_id: Any) -> HttpResponse:
    """Takes the last change back."""
    return _step(request, own_job(request, job_id), revisions.undo, "undo")


@login_required
@require_POST
def redo(request: Request, job_id: Any) -> HttpResponse:
    """Makes an undone change again."""
    return _step(request, own_job(request, job_id), revisions.redo, "redo")


def _step(request: Request, job: Job, act: Any, word: str) -> HttpResponse:
    try:
        made = act(job, request.user)
    except revisions.NothingToDoError:
        messages.info(request, summary.of_nothing(word))
    except revisions.RefusedError as error:
        messages.error(
            request,
            BACK[word].format(error=error),
        )
    else:
        messages.success(request, summary.of_step(word, made.summary))
    if wanted := intake.here(request, request.POST.get("next", "")):
        return HttpResponseRedirect(wanted)
    return redirect("jobs:job", job.pk)


@login_required
@require_GET
def revision_list(request: Request, job_id: Any) -> HttpResponse:
    """Who changed what, and when."""
    job = own_job(request, job_id)
    found = job.revisions.select_related("author")
    page = Paginator(found, 50).get_page(request.GET.get("page"))
    return render(request, "jobs/revisions.html", {"job": job, "page": page})


@login_required
@require_POST
def restore(request: Request, job_id: Any, number: int) -> HttpResponse:
    """Puts the job back as it was at a revision."""
    job = own_job(request, job_id)
    get_object_or_404(job.revisions, number=number)
    try:
        revisions.restore(job, request.user, number)
    except revisions.NothingToDoError:
        messages.info(
            request, gettext("The job already is as at revision {number}.").format(number=number)
        )
    except revisions.RefusedError as error:
        messages.error(request, str(error))
    else:
        messages.success(
            request,
            gettext("The job is as it was at revision {number}; undo takes it back.").format(
                number=number
            ),
        )
    return redirect("jobs:revisions", job.pk)
