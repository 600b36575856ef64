"""The list of what can be practised, and one problem: set, helped with, marked."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from typing import Any
from urllib.parse import urlencode

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods

from voltaje.core.codes import edition, editions
from voltaje.core.kinds import Kind, kind
from voltaje.core.practice import (
    LEVELS,
    Marked,
    Marker,
    PracticeProblem,
    points,
    problem,
)
from voltaje.core.report import figure, told
from voltaje.web.kinds import presentation, presentations
from voltaje.web.kinds.presentation import SUBJECTS
from voltaje.web.parts.quick_views import code_for, codes_of
from voltaje.web.practice import results
from voltaje.web.practice.bases import bases_of
from voltaje.web.practice.hidden import hiding
from voltaje.web.practice.paper import level_of
from voltaje.web.practice.working import shown_lines, typed_lines

SEED = 16  # no code figure: letters of a seed
MOST_LINES, MOST_TEXT = 80, 4000  # no code figures: of own working
HINT = "hint:"


@require_GET
def practice_list(request: HttpRequest) -> HttpResponse:
    """What can be practised under a code, by subject."""
    code = request.GET.get("code", "")
    code = code if code in {book.id for book in editions()} else editions()[0].id
    if "code" not in request.GET:
        code = code_for("circuit", "nec-2020")
    level = level_of(request.GET.get("level", ""))
    hard = request.GET.get("hard") == "yes"
    subjects = []
    for subject in SUBJECTS:
        found = [
            (of.label, of.subtitle, _address(of.name, code, level, hard))
            for name, shown in presentations().items()
            if shown.subject == subject and shown.quick
            for of in [kind(name)]
            if code in codes_of(name)
        ]
        if found:
            subjects.append((subject, found))
    done = results.progress(request.user) if request.user.is_authenticated else ()
    rows = [
        (kind(one.kind).label, _address(one.kind, code_for(one.kind, code), level, hard), one)
        for one in done
    ]
    context = {
        "rows": rows,
        "streak": results.streak(request.user) if rows else 0,
        "hiding": hiding(code),
        "subjects": subjects,
        "editions": editions(),
        "levels": _levels(),
        "code": code,
        "level": level,
        "hard": hard,
    }
    return render(request, "practice/list.html", context)


@require_http_methods(["GET", "POST"])
def practise(request: HttpRequest, name: str) -> HttpResponse:
    """One problem: set by its seed, marked as often as one likes."""
    of = _kind(name)
    code = code_for(of.name, request.GET.get("code", ""))
    level, hard = level_of(request.GET.get("level", "")), request.GET.get("hard") == "yes"
    seed = request.GET.get("seed", "")
    if not seed.isalnum() or len(seed) > SEED:
        return redirect(_address(of.name, code, level, hard, secrets.token_hex(3)))
    bases = bases_of(of.name, code)
    found = problem(of, edition(code), bases, seed, level, hard) if bases else None
    if found is None:
        raise Http404
    marker = Marker(found)
    posted = request.POST if request.method == "POST" else {}
    do = str(posted.get("do", ""))
    helped = _helped(posted, marker, do)
    typed = typed_lines(posted, marker)
    marked: tuple[Marked, ...] = ()
    own = str(posted.get("own", ""))[:MOST_TEXT]
    if do and not do.startswith(HINT):
        marked = marker.own_working(own.splitlines()[:MOST_LINES]) if level == "own" else ()
        marked = marked or marker.mark(typed)
    if marked and request.user.is_authenticated:
        results.keep(request.user, found, marked, points(marked, helped), hard)
    context = {
        "of": of,
        "problem": found,
        "book": edition(code),
        "level": level,
        "level_name": dict(_levels())[level],
        "hard": hard,
        "seed": seed,
        "own": own,
        "lines": shown_lines(marker, typed, marked, helped),
        "marked": marked,
        "points": figure(points(marked, helped)) if marked else "",
        "most": len(marker.lines),
        "shown": do == "show",
        "next": _address(of.name, code, level, hard),
        "again": request.get_full_path(),
        "back": f"{reverse('practice:list')}?{urlencode({'code': code, 'level': level})}",
        "sheet": _sheet(found),
        "unplaced": _unplaced(own, marked) if level == "own" else [],
    }
    return render(request, "practice/problem.html", context)


def _kind(name: str) -> Kind:
    try:
        of, shown = kind(name), presentation(name)
    except KeyError:
        raise Http404 from None
    if not shown.quick:
        raise Http404
    return of


def _levels() -> list[tuple[str, str]]:
    return [(level, told(words)) for level, words in LEVELS.items()]


def _address(name: str, code: str, level: str, hard: bool, seed: str = "") -> str:
    asked = {"code": code, "level": level, **({"hard": "yes"} if hard else {})}
    asked |= {"seed": seed} if seed else {}
    return f"{reverse('practice:problem', args=[name])}?{urlencode(asked)}"


def _helped(posted: Mapping[str, Any], marker: Marker, do: str) -> dict[str, int]:
    """How many hints each line has had, one more for the line that asks."""
    found = {}
    for line in marker.lines:
        text = str(posted.get(f"hints-{line.id}", "0"))
        count = int(text) if text.isdigit() and len(text) < 3 else 0
        found[line.id] = count + (do == HINT + line.id)
    return found


def _unplaced(own: str, marked: tuple[Marked, ...]) -> list[str]:
    """Lines of own working that fit nothing."""
    placed = [one.given for one in marked if one.given]
    left = []
    for text in (line.strip() for line in own.splitlines()):
        if text in placed:
            placed.remove(text)
        elif text:
            left.append(text)
    return left


def _sheet(found: PracticeProblem) -> str:
    """The sheet itself with these entries."""
    system = found.context.supply.system.id
    asked: list[tuple[str, str]] = [("code", found.context.edition.id), ("system", system)]
    for name, value in found.document.items():
        if isinstance(value, str):
            asked.append((name, value))
            continue
        for n, row in enumerate(value):
            key = str(row.get("id") or f"r{n}")
            asked += [(f"{name}.{key}.{c}", str(v)) for c, v in row.items() if c != "id"]
    return f"{reverse('sheets:quick', args=[found.kind.name])}?{urlencode(asked)}"
