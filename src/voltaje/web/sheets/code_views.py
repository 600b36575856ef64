"""A rule or a table of an edition, with the cell marked, its source and how it was checked."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from voltaje.core.codes import Edition, NotCoveredError, editions
from voltaje.core.codes import edition as find_edition


def _edition(edition_id: str) -> Edition:
    try:
        return find_edition(edition_id)
    except NotCoveredError as error:
        raise Http404 from error


@require_GET
def rule(request: HttpRequest, edition_id: str, topic: str) -> HttpResponse:
    """One rule: a page, or what a dialog shows of it."""
    code = _edition(edition_id)
    try:
        text = code.text(topic)
    except NotCoveredError as error:
        raise Http404 from error
    table = code.table(topic) if text.is_table else None
    context = {
        "edition": code,
        "text": text,
        "table": table,
        "row": request.GET.get("row", ""),
        "column": request.GET.get("column", ""),
        "others": [(other, other.text(topic)) for other in editions() if other.id != edition_id],
    }
    template = "codes/_rule.html" if request.htmx else "codes/rule.html"
    return render(request, template, context)


@require_GET
def rules(request: HttpRequest, edition_id: str) -> HttpResponse:
    """All rules and tables that the edition answers."""
    code = _edition(edition_id)
    texts = [code.text(topic) for topic in code.topics()]
    context = {"edition": code, "texts": texts, "editions": editions()}
    return render(request, "codes/rules.html", context)
