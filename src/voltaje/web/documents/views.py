"""The pages of a job's document sets: sections chosen, made as PDF or printed by the browser."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.text import slugify
from django.utils.translation import get_language, gettext
from django.views.decorators.http import require_GET, require_POST

from voltaje.core.codes import edition
from voltaje.core.report import told
from voltaje.web.background import asking
from voltaje.web.background.views import shown
from voltaje.web.documents import long_work, sections
from voltaje.web.documents.blocks import Heading
from voltaje.web.documents.models import DocumentPreset, DocumentSet
from voltaje.web.documents.presets import SECTIONS, USUAL, known
from voltaje.web.http import intake
from voltaje.web.http.requests import Request
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import work_job
from voltaje.web.parts.respond import paper_of

MOST_PRESETS = 20  # no code figure: choices that a job keeps


@login_required
@require_GET
def choose(request: Request, job_id: Any) -> HttpResponse:
    """The sections to be chosen; with ``make`` the set of those, or how far it is."""
    job = own_job(request, job_id)
    names = _chosen(request)
    nothing = "make" in request.GET and not names
    context = {**_page(request, job, names), "nothing": nothing}
    if "make" in request.GET and names:
        try:
            context |= _made(request, job, names)
        except asking.BusyError as error:
            return render(
                request, "documents/choose.html", {**context, "busy": str(error)}, status=429
            )
        context["sets"] = _sets(job)
    status = 422 if nothing else 200
    return render(request, "documents/choose.html", context, status=status)


def _page(request: Request, job: Job, names: list[str]) -> dict[str, Any]:
    """What the page shows with these sections chosen."""
    return {
        "job": job,
        "paper": paper_of(request, job.units),
        "sections": [(name, told(words), name in names) for name, words in SECTIONS.items()],
        "presets": _presets(job),
        "own": job.document_presets.all(),
        "query": urlencode([("section", name) for name in names]),
        "sets": _sets(job),
    }


def _chosen(request: Request) -> list[str]:
    asked = request.GET.getlist("section")
    return known(asked if "make" in request.GET or asked else USUAL["permit"])


def _presets(job: Job) -> list[tuple[str, str]]:
    """Usual choices and the job's own, each with its query."""
    own = {one.name: known(one.sections) for one in job.document_presets.all()}
    usual = {told(name): known(names) for name, names in USUAL.items()}
    return [
        (name, urlencode([("section", one) for one in names]))
        for name, names in (usual | own).items()
    ]


def _sets(job: Job) -> list[DocumentSet]:
    return list(DocumentSet.objects.filter(job=job).defer("content"))


def _made(request: Request, job: Job, names: list[str]) -> dict[str, Any]:
    question = {
        "sections": names,
        "paper": paper_of(request, job.units),
        "language": get_language() or "en",
        "by": request.user.email,
    }
    task = asking.ask(long_work.DOCUMENTS, job, question)
    kept = task.result or {}
    if kept and not DocumentSet.objects.filter(pk=kept["set"]).exists():
        asking.forget(task)  # thrown away for newer ones
        task = asking.ask(long_work.DOCUMENTS, job, question)
        kept = task.result or {}
    return {**shown(task), "made": kept}


@login_required
@require_GET
def as_pdf(request: Request, job_id: Any, set_id: Any) -> HttpResponse:
    """A set that was made, as a file."""
    job = own_job(request, job_id)
    found = get_object_or_404(DocumentSet, pk=set_id, job=job)
    response = HttpResponse(bytes(found.content), "application/pdf")
    name = slugify(job.name) or "documents"
    response["Content-Disposition"] = f'attachment; filename="{name}-r{found.revision}.pdf"'
    return response


MOST_ON_A_PAGE = 25  # no code figure: items whose worksheets a page shows within a second


@login_required
@require_GET
def printed(request: Request, job_id: Any) -> HttpResponse:
    """The same set as a page that the browser prints."""
    job = own_job(request, job_id)
    names = _chosen(request)
    long = "sheets" in names and len(job.loaded()) > MOST_ON_A_PAGE
    if long:
        names = known([*(n for n in names if n != "sheets"), "main_sheets"])
    work = sections.Worked(job, work_job(job), request.user.email)
    found = long_work.blocks_of(work, names)
    context = {
        "job": job,
        "edition": edition(job.edition),
        "blocks": found,
        "headings": [one for one in found if isinstance(one, Heading) and one.level == 1],
        "paper": paper_of(request, job.units),
        "mark": sections.mark_of(job),
        "query": urlencode([("section", name) for name in names]),
        "shortened": long,
    }
    return render(request, "documents/printed.html", context)


@login_required
@require_POST
def change_presets(request: Request, job_id: Any) -> HttpResponse:
    """Keeps a choice of sections under a name, or forgets one."""
    job = own_job(request, job_id)
    names = known(request.POST.getlist("section"))
    back = f"{reverse('jobs:documents', args=[job.pk])}"
    do = request.POST.get("do", "")
    if do.startswith("forget:"):
        DocumentPreset.objects.filter(job=job, name=intake.one_line(do[7:], 40)).delete()
        return redirect(back)
    if do != "keep":
        raise Http404
    name = intake.one_line(request.POST.get("name", ""), 40)
    problem = ""
    if not name:
        problem = gettext("Give the preset a name, like inspection.")
    elif not names:
        problem = gettext("Choose at least one section.")
    elif job.document_presets.exclude(name=name).count() >= MOST_PRESETS:
        problem = gettext("At most {most} presets: delete one first.").format(most=MOST_PRESETS)
    if problem:
        context = {**_page(request, job, names), "name": name, "problem": problem}
        return render(request, "documents/choose.html", context, status=422)
    DocumentPreset.objects.update_or_create(job=job, name=name, defaults={"sections": names})
    return redirect(f"{back}?{urlencode([('section', one) for one in names])}")
