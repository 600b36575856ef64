"""What a sheet's page and its recalculation have in common."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from voltaje.core.entries import Problem, walk
from voltaje.core.parts import Evaluated
from voltaje.core.worksheet import Worked
from voltaje.web.jobs.patch import Conflict, as_text
from voltaje.web.sheets import tape
from voltaje.web.sheets.drawings import dwelling as dwelling_drawing
from voltaje.web.sheets.drawings import supply as supply_drawing


@dataclass(frozen=True, slots=True)
class Shown:
    """What a response tells the page besides the result."""

    revision: int = 0
    values: Mapping[str, Any] | None = None
    conflicts: Iterable[Conflict] = ()
    kept: str = ""
    heads: Mapping[str, str] = field(default_factory=dict)
    below: Sequence[tuple[str, str]] = ()


def result_context(worked: Worked | None, below: Sequence[tuple[str, str]] = ()) -> dict[str, Any]:
    """Tape and drawing of a worked part; empty where there is none yet."""
    if worked is None:
        return {"tape": None, "drawing": None}
    if worked.kind == "supply":
        drawing: Any = supply_drawing.draw(worked, below)
    else:
        drawing = dwelling_drawing.draw(worked)
    return {"tape": tape.lay_out(worked), "drawing": drawing}


def result_response(request: HttpRequest, found: Evaluated, shown: Shown) -> HttpResponse:
    """Tape, drawing and state for a page that is already open. With problems the page keeps
    what it shows and only the state is sent."""
    state = {
        "seq": request.POST.get("seq", ""),
        "problems": problems_json(found.problems),
        "revision": shown.revision,
        "kept": shown.kept,
        "heads": shown.heads,
        "conflicts": [
            {"path": c.path, "mine": c.mine, "theirs": c.theirs} for c in shown.conflicts
        ],
        "values": (
            {path: as_text(value) for path, value in walk(shown.values)}
            if shown.values is not None
            else None
        ),
    }
    context = {"state": json.dumps(state), **result_context(found.worked, shown.below)}
    response = render(request, "sheets/_answer.html", context)
    if found.worked is None:
        response["HX-Reswap"] = "none"
    return response


def problems_json(problems: Iterable[Problem]) -> list[dict[str, str]]:
    """Problems for the page."""
    return [{"path": problem.path, "words": problem.words} for problem in problems]
