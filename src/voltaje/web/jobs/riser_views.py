"""The one-line diagram of a job: its page, and as files."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.html import strip_tags
from django.utils.text import slugify
from django.utils.translation import gettext
from django.views.decorators.http import require_GET

from voltaje.core.codes import edition
from voltaje.web.drawings import riser
from voltaje.web.http.requests import Request
from voltaje.web.jobs import one_line
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.views import own_job
from voltaje.web.jobs.worked import work_job
from voltaje.web.parts.respond import paper_of


def _riser(request: Request, job: Job) -> tuple[riser.Riser, bool]:
    circuits = request.GET.get("circuits", "yes") != "no"
    folded = frozenset(request.GET.getlist("fold"))
    return one_line.drawn(job, work_job(job), circuits, folded), circuits


@login_required
@require_GET
def page(request: Request, job_id: Any) -> HttpResponse:
    """The whole job as a one-line drawing."""
    job = own_job(request, job_id)
    drawing, circuits = _riser(request, job)
    asked = request.GET.copy()
    asked["circuits"] = "no" if circuits else "yes"
    context = {
        "job": job,
        "riser": drawing,
        "circuits": circuits,
        "as_shown": request.GET.urlencode(),
        "other": asked.urlencode(),
        "folds": _folds(request, drawing),
    }
    return render(request, "jobs/riser.html", context)


def _folds(request: Request, drawing: riser.Riser) -> dict[str, str]:
    """For each branch the query of the page on which it is folded, or open again."""
    folded = request.GET.getlist("fold")
    found = {}
    for mark in drawing.marks:
        if not mark.branch:
            continue
        asked = request.GET.copy()
        others = [key for key in folded if key != mark.branch]
        asked.setlist("fold", others if mark.folded else [*others, mark.branch])
        found[mark.branch] = asked.urlencode()
    return found


@login_required
@require_GET
def as_svg(request: Request, job_id: Any) -> HttpResponse:
    """The same as a file of its own."""
    job = own_job(request, job_id)
    return _file(_alone(request, job, one_line.SVG_STYLE), "image/svg+xml", job, "svg")


@login_required
@require_GET
def as_dxf(request: Request, job_id: Any) -> HttpResponse:
    """The same for a drawing program."""
    # half a second of imports that no other page needs
    from voltaje.web.drawings.dxf import to_dxf

    job = own_job(request, job_id)
    return _file(to_dxf(_alone(request, job)), "image/vnd.dxf", job, "dxf")


@login_required
@require_GET
def as_pdf(request: Request, job_id: Any) -> HttpResponse:
    """The same on paper: on one sheet, or in tiles at a size that can be read."""
    # half a second of imports that no other page needs
    from voltaje.web.drawings.paper import Lettering, to_pdf

    job = own_job(request, job_id)
    drawing, _ = _riser(request, job)
    facts = [
        edition(job.edition).title,
        gettext("revision {n}").format(n=job.revision),
        f"{timezone.localtime():%Y-%m-%d %H:%M}",
    ]
    lettering = Lettering(
        lambda tile: _title(job, tile),
        lambda n, of: " · ".join([*facts, gettext("sheet {n} of {all}").format(n=n, all=of)]),
        strip_tags(render_to_string("_caution.html")),
        _beside,
    )
    svg = _alone(request, job)
    size, paper = (drawing.width, drawing.height), paper_of(request, job.units)
    tiles = request.GET.get("tiles") == "yes"
    return _file(to_pdf(svg, size, paper, tiles, lettering), "application/pdf", job, "pdf")


def _title(job: Job, tile: str) -> str:
    if tile:
        return gettext("{name}, one-line diagram, tile {tile}").format(name=job.name, tile=tile)
    return gettext("{name}, one-line diagram").format(name=job.name)


def _beside(right: str, below: str) -> str:
    """Which tiles stand beside one."""
    if right and below:
        words = gettext("to the right: {right}, below: {below}")
        return words.format(right=right, below=below)
    if right:
        return gettext("to the right: {right}").format(right=right)
    return gettext("below: {below}").format(below=below) if below else ""


def _alone(request: Request, job: Job, style: str = "") -> str:
    drawing, _ = _riser(request, job)
    return one_line.alone(job, drawing, style)


def _file(content: str | bytes, type_: str, job: Job, ending: str) -> HttpResponse:
    name = slugify(job.name) or "one-line-diagram"
    response = HttpResponse(content, type_)
    response["Content-Disposition"] = f'attachment; filename="{name}.{ending}"'
    return response
