"""What a sheet's page and its recalculation have in common."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from voltaje.core import faults
from voltaje.core.entries import Problem
from voltaje.core.kinds import Evaluated
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import Report
from voltaje.web.drawings import incomplete, scale
from voltaje.web.kinds import presentation
from voltaje.web.parts import alternatives, worksheet


@dataclass(frozen=True, slots=True)
class Below:
    """A part that hangs on the one shown."""

    name: str
    answer: str
    status: str
    url: str


def paper_of(request: HttpRequest, units: str) -> str:
    """The paper that is asked for, ``letter`` or ``a4``; else that of the job's country."""
    asked = request.GET.get("paper", "")
    if asked in ("letter", "a4"):
        return asked
    return "a4" if units == "metric" else "letter"


def result_context(
    worked: Report | None, below: Sequence[Below] = (), units: UnitSystem = "us"
) -> dict[str, Any]:
    """Worksheet, drawing, alternatives of a worked part; empty where there is none yet."""
    if worked is None:
        return {"worksheet": None, "drawing": None}
    shown = presentation(worked.kind)
    context: dict[str, Any] = {"worksheet": worksheet.lay_out(worked, shown.open)}
    try:
        whole = not worked.missing or shown.draws_incomplete
        context["drawing"] = (shown.draw if whole else incomplete.draw)(worked, below)
        if worked.alternatives:
            context["alternatives"] = alternatives.lay_out(worked, units)
            context["scale"] = scale.draw(worked)
    except Exception as error:  # the numbers stand, whatever becomes of their picture
        context |= {"drawing": None, "undrawn": faults.note(error, f"drawing a {worked.kind}")}
    return context


def answer_state(
    request: HttpRequest,
    found: Evaluated,
    heads: Mapping[str, str] | None = None,
    statuses: Mapping[str, str] | None = None,
    drops: Mapping[str, str] | None = None,
) -> dict[str, Any]:
    """What an open page learns besides the result: which request this answers, the problems, the
    answers, statuses and voltage drops of all parts."""
    return {
        "seq": request.POST.get("seq", ""),
        "problems": problems_json(found.problems),
        "heads": heads or {},
        "statuses": statuses or {},
        "drops": drops or {},
    }


def result_response(
    request: HttpRequest,
    found: Evaluated,
    state: Mapping[str, Any],
    below: Sequence[Below] = (),
    units: UnitSystem = "us",
    offers_at: str = "",
    more: Mapping[str, Any] | None = None,
) -> HttpResponse:
    """Worksheet, drawing and state for a page that recalculates. With problems the page keeps what
    it shows and only the state is sent. ``offers_at`` is where what a finding offers is taken up;
    ``more`` is what else the result shows, such as another code's."""
    context = {
        "state": json.dumps(state),
        "offers_at": offers_at,
        **result_context(found.report, below, units),
        **(more or {}),
    }
    response = render(request, "sheets/_answer.html", context)
    if found.report is None:
        response["HX-Reswap"] = "none"
    return response


def problems_json(problems: Iterable[Problem]) -> list[dict[str, str]]:
    """Problems for the page."""
    return [{"path": problem.path, "words": problem.words} for problem in problems]
