"""What a sheet's page and its recalculation have in common."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from importlib import import_module
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from voltaje.core.entries import Problem, walk
from voltaje.core.parts import Evaluated
from voltaje.core.units import UnitSystem
from voltaje.core.worksheet import Worked
from voltaje.web.jobs.patch import Conflict, as_text
from voltaje.web.sheets import ladder, tape
from voltaje.web.sheets.drawings import scale


@dataclass(frozen=True, slots=True)
class Below:
    """A part that hangs on the one shown."""

    name: str
    answer: str
    status: str
    url: str


@dataclass(frozen=True, slots=True)
class Shown:
    """What a response tells the page besides the result."""

    revision: int = 0
    values: Mapping[str, Any] | None = None
    conflicts: Iterable[Conflict] = ()
    kept: str = ""
    heads: Mapping[str, str] = field(default_factory=dict)
    below: Sequence[Below] = ()
    statuses: Mapping[str, str] = field(default_factory=dict)
    units: UnitSystem = "us"


def result_context(
    worked: Worked | None, below: Sequence[Below] = (), units: UnitSystem = "us"
) -> dict[str, Any]:
    """Tape, drawing, ladder of a worked part; empty where there is none yet."""
    if worked is None:
        return {"tape": None, "drawing": None}
    # each kind has a drawing module of its own name
    module = import_module(f"voltaje.web.sheets.drawings.{worked.kind}")
    context = {"tape": tape.lay_out(worked), "drawing": module.draw(worked, below)}
    if worked.ladder:
        context["ladder"] = ladder.lay_out(worked, units)
        context["scale"] = scale.draw(worked)
    return context


def result_response(request: HttpRequest, found: Evaluated, shown: Shown) -> HttpResponse:
    """Tape, drawing and state for a page that is already open. With problems the page keeps
    what it shows and only the state is sent."""
    state = {
        "seq": request.POST.get("seq", ""),
        "problems": problems_json(found.problems),
        "revision": shown.revision,
        "kept": shown.kept,
        "heads": shown.heads,
        "statuses": shown.statuses,
        "conflicts": [
            {"path": c.path, "mine": c.mine, "theirs": c.theirs} for c in shown.conflicts
        ],
        "values": (
            {path: as_text(value) for path, value in walk(shown.values)}
            if shown.values is not None
            else None
        ),
    }
    context = {"state": json.dumps(state), **result_context(found.worked, shown.below, shown.units)}
    response = render(request, "sheets/_answer.html", context)
    if found.worked is None:
        response["HX-Reswap"] = "none"
    return response


def problems_json(problems: Iterable[Problem]) -> list[dict[str, str]]:
    """Problems for the page."""
    return [{"path": problem.path, "words": problem.words} for problem in problems]
