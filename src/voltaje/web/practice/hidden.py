"""A hidden fault to be found: readings one by one, then its name."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlencode

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods

from voltaje.core.codes import edition
from voltaje.core.kinds import kind, kinds
from voltaje.core.practice.hidden import POINTS, Puzzle, puzzle, score
from voltaje.core.report import InstrumentPoint, say
from voltaje.web.kinds import presentation
from voltaje.web.parts.quick_views import code_for, codes_of
from voltaje.web.practice.balancing import balance_address
from voltaje.web.practice.bases import bases_of
from voltaje.web.practice.faulty import faulty_address
from voltaje.web.practice.network_drawing import points_drawn
from voltaje.web.practice.unlabelled import unlabelled_address

SEED = 16  # no code figure: letters of a seed
MEASURE = "measure:"


@dataclass(frozen=True, slots=True)
class Spot:
    """A place for an instrument: whether it was ``measured``, and what it would show healthy."""

    point: InstrumentPoint
    measured: bool
    healthy: float


def fault_address(name: str, code: str, seed: str = "") -> str:
    """The address of a puzzle; without a seed it is given one."""
    asked = {"code": code, **({"seed": seed} if seed else {})}
    return f"{reverse('practice:fault', args=[name])}?{urlencode(asked)}"


def hiding(code: str) -> list[tuple[str, str]]:
    """What can hide faults under a code: label and address; what is no sheet of the
    program first."""
    return [
        (str(say("Board with its devices")), faulty_address("board_fault", code)),
        (str(say("Transformer bank")), faulty_address("bank_fault", code)),
        (str(say("Unlabelled windings")), unlabelled_address(code)),
        (str(say("Balance a board")), balance_address(code)),
        *(
            (of.label, fault_address(of.name, code))
            for of in kinds()
            if of.faults is not None and code in codes_of(of.name)
        ),
    ]


@require_http_methods(["GET", "POST"])
def find_fault(request: HttpRequest, name: str) -> HttpResponse:
    """The puzzle of a seed: what is told, the places to measure, what it may be."""
    try:
        of, shown = kind(name), presentation(name)
    except KeyError:
        raise Http404 from None
    if of.faults is None or not shown.quick:
        raise Http404
    code = code_for(of.name, request.GET.get("code", ""))
    seed = request.GET.get("seed", "")
    if not seed.isalnum() or len(seed) > SEED:
        return redirect(fault_address(of.name, code, secrets.token_hex(3)))
    found = _puzzle(of.name, code, seed)
    posted: Any = request.POST if request.method == "POST" else {}
    do = str(posted.get("do", ""))
    known = [str(point.name) for point in found.points]
    asked = str(posted.get("measured", "")).split()[: len(known)]
    asked += [do.removeprefix(MEASURE)] if do.startswith(MEASURE) else []
    measured = [one for one in dict.fromkeys(asked) if one in known]
    named = str(posted.get("fault", ""))
    choice = next((one for one in found.suspects if one.id == named), None)
    done = do == "name" and choice is not None
    right = done and choice is found.hidden
    context = {
        "of": of,
        "book": edition(code),
        "puzzle": found,
        "spots": [
            Spot(point, str(point.name) in measured, healthy.value)
            for point, healthy in zip(found.points, found.suspects[0].points, strict=True)
        ],
        "measured": " ".join(measured),
        "drawing": points_drawn(found.points, frozenset(measured)),
        "pressed": do,
        "count": len(measured),
        "suspects": sorted(found.suspects, key=lambda one: str(one.words)),
        "named": named,
        "unnamed": do == "name" and choice is None,
        "done": done,
        "right": right,
        "points": score(bool(right), len(measured)),
        "most": POINTS,
        "fewest": found.fewest(),
        "again": request.get_full_path(),
        "next": fault_address(of.name, code),
        "back": f"{reverse('practice:list')}?{urlencode({'code': code})}",
    }
    return render(request, "practice/fault.html", context)


def _puzzle(name: str, code: str, seed: str) -> Puzzle:
    """The puzzle on the first of the bases, from one that the seed gives on, that hides one."""
    bases = bases_of(name, code)
    begin = sum(map(ord, seed)) % max(1, len(bases))
    for base in (*bases[begin:], *bases[:begin]):
        found = puzzle(kind(name), edition(code), base, seed)
        if found is not None:
            return found
    raise Http404
