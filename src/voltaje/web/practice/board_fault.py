"""A board with a hidden fault: instruments put on its drawing, devices opened, the fault named and
made ready to be mended."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from functools import lru_cache
from random import Random
from typing import Any
from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods

from voltaje.core.codes import edition, editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.practice.board_fault import (
    MAIN_SWITCH,
    POINTS,
    SERVICE,
    BoardSpot,
    FaultyBoard,
    faulty_board,
)
from voltaje.core.report import Text, say
from voltaje.core.rules.interface import code_of
from voltaje.web.practice.board_drawing import drawn

SEED, MOST = 16, 60  # no code figures: letters of a seed, readings of one search
MEASURE, SWITCH = "measure:", "switch:"


@dataclass(frozen=True, slots=True)
class Taken:
    """A reading: the place, what stood open, what it shows and would show without the fault."""

    spot: BoardSpot
    opened: frozenset[str]
    open_words: tuple[Text, ...]
    value: float
    healthy: float


def board_address(code: str, seed: str = "") -> str:
    """The address of a board; without a seed it is given one."""
    asked = {"code": code, **({"seed": seed} if seed else {})}
    return f"{reverse('practice:board_fault')}?{urlencode(asked)}"


@lru_cache(maxsize=64)
def board_of(code: str, seed: str) -> FaultyBoard:
    """The board of a seed, on one of the systems of the code's countries."""
    family = code_of(edition(code).family)
    known = [SYSTEMS[one] for one in family.systems]
    known = [one for one in known if one.has_neutral and not one.high_leg and one.to_neutral < HIGH]
    system = Random(f"system {code} {seed}").choice(known)  # noqa: S311 - a puzzle, no secret
    return faulty_board(system.id, family.units == "metric" and system.metric, seed)


HIGH = 260.0  # no code figure: V to neutral above which no dwelling's loads stand


@require_http_methods(["GET", "POST"])
def board_fault(request: HttpRequest) -> HttpResponse:
    """The board of a seed: measured, switched, answered."""
    code = request.GET.get("code", "")
    known = [book.id for book in editions()]
    seed = request.GET.get("seed", "")
    if code not in known or not seed.isalnum() or len(seed) > SEED:
        return redirect(board_address(code if code in known else "nec-2020", secrets.token_hex(3)))
    board = board_of(code, seed)
    posted: Any = request.POST if request.method == "POST" else {}
    do = str(posted.get("do", ""))
    opened = frozenset(str(posted.get("open", "")).split()) & frozenset(board.switches)
    if do.startswith(SWITCH) and (own := do.removeprefix(SWITCH)) in board.switches:
        opened = opened ^ {own}
    log = _read(board, str(posted.get("log", "")))
    if do.startswith(MEASURE):
        asked = _spot(board, do.removeprefix(MEASURE))
        if asked is not None and (asked, opened) not in log:
            log = [*log, (asked, opened)][:MOST]
    named = str(posted.get("fault", ""))
    choice = next((alike for alike in board.faults if alike[0].id == named), None)
    done, locked = do == "name" and choice is not None, posted.get("locked") == "yes"
    judged = board.judged(named, log, opened, locked) if done else None
    measured = frozenset(spot.id for spot, at in log if at == opened)
    context = {
        "book": edition(code),
        "board": board,
        "drawing": drawn(board, opened, measured),
        "taken": [_taken(board, spot, at) for spot, at in log],
        "log": " ".join(_entry(spot, at) for spot, at in log),
        "open": " ".join(sorted(opened)),
        "open_words": [_switch_words(board, one) for one in board.switches if one in opened],
        "suspects": sorted(board.faults, key=lambda alike: str(alike[0].words)),
        "named": named,
        "pressed": do,
        "locked": locked,
        "unnamed": do == "name" and choice is None,
        "judged": judged,
        "most": POINTS,
        "fewest": board.fewest() if done else None,
        "again": request.get_full_path(),
        "next": board_address(code),
        "back": f"{reverse('practice:list')}?{urlencode({'code': code})}",
    }
    return render(request, "practice/board_fault.html", context)


def _spot(board: FaultyBoard, id: str) -> BoardSpot | None:
    return next((spot for spot in board.spots if spot.id == id), None)


def _entry(spot: BoardSpot, opened: frozenset[str]) -> str:
    return f"{spot.id}@{','.join(sorted(opened))}"


def _read(board: FaultyBoard, text: str) -> list[tuple[BoardSpot, frozenset[str]]]:
    """The readings that were taken, as the page hands them back."""
    found = []
    for word in text.split()[:MOST]:
        id, _, stands = word.partition("@")
        spot = _spot(board, id)
        if spot is not None:
            opened = frozenset(stands.split(",")) & frozenset(board.switches)
            if (spot, opened) not in found:
                found.append((spot, opened))
    return found


def _taken(board: FaultyBoard, spot: BoardSpot, opened: frozenset[str]) -> Taken:
    words = tuple(_switch_words(board, one) for one in board.switches if one in opened)
    value, healthy = board.reading(spot, opened), board.healthy(spot, opened)
    return Taken(spot, opened, words, value, healthy)


def _switch_words(board: FaultyBoard, id: str) -> Text:
    if id in (SERVICE, MAIN_SWITCH):
        return say("disconnect ahead of the board") if id == SERVICE else say("main switch")
    return next(one.name for one in board.circuits if f"c{one.number}" == id)
