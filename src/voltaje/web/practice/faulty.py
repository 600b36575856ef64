"""A board or a transformer bank with a hidden fault: instruments put on its drawing, devices
opened, the fault named and made ready to be mended."""

from __future__ import annotations

import secrets
from collections.abc import Callable
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
from voltaje.core.practice.bank_fault import FaultyBank, faulty_bank
from voltaje.core.practice.board_fault import FaultyBoard, faulty_board
from voltaje.core.practice.faulty import POINTS, FaultyNetwork, Spot
from voltaje.core.report import Text, say
from voltaje.core.rules.interface import code_of
from voltaje.web.practice.bank_drawing import bank_drawn
from voltaje.web.practice.board_drawing import drawn
from voltaje.web.practice.network_drawing import NetworkDrawing

SEED, MOST = 16, 60  # no code figures: letters of a seed, readings of one search
MEASURE, SWITCH = "measure:", "switch:"


@dataclass(frozen=True, slots=True)
class Taken:
    """A reading: the place, what stood open, what it shows and would show without the fault."""

    spot: Spot
    opened: frozenset[str]
    open_words: tuple[Text, ...]
    value: float
    healthy: float


def faulty_address(name: str, code: str, seed: str = "") -> str:
    """The address of a board's or a bank's page; without a seed it is given one."""
    asked = {"code": code, **({"seed": seed} if seed else {})}
    return f"{reverse(f'practice:{name}')}?{urlencode(asked)}"


@lru_cache(maxsize=64)
def board_of(code: str, seed: str) -> FaultyBoard:
    """The board of a seed, on one of the systems of the code's countries."""
    family = code_of(edition(code).family)
    known = [SYSTEMS[one] for one in family.systems]
    known = [one for one in known if one.has_neutral and not one.high_leg and one.to_neutral < HIGH]
    system = Random(f"system {code} {seed}").choice(known)  # noqa: S311 - a puzzle, no secret
    return faulty_board(system.id, family.units == "metric" and system.metric, seed)


@lru_cache(maxsize=64)
def bank_of(code: str, seed: str) -> FaultyBank:
    """The bank of a seed, as the code's countries have them."""
    family = edition(code).family
    return faulty_bank(code_of(family).units == "metric" and family != "cec", seed)


HIGH = 260.0  # no code figure: V to neutral above which no dwelling's loads stand


@require_http_methods(["GET", "POST"])
def board_fault(request: HttpRequest) -> HttpResponse:
    """The board of a seed: measured, switched, answered."""
    code, seed = _asked(request)
    if not seed:
        return redirect(faulty_address("board_fault", code, secrets.token_hex(3)))
    board = board_of(code, seed)
    page = FaultyPage("board_fault", say("Board"), board.system.label, code)
    return _faulty(request, page, board, lambda *state: drawn(board, *state))


@require_http_methods(["GET", "POST"])
def bank_fault(request: HttpRequest) -> HttpResponse:
    """The bank of a seed: measured, switched, answered."""
    code, seed = _asked(request)
    if not seed:
        return redirect(faulty_address("bank_fault", code, secrets.token_hex(3)))
    bank = bank_of(code, seed)
    page = FaultyPage("bank_fault", say("Transformer bank"), bank.words, code)
    return _faulty(request, page, bank, lambda *state: bank_drawn(bank, *state))


@dataclass(frozen=True, slots=True)
class FaultyPage:
    """What a page is of: its name in addresses, its title, what it shows, the code."""

    name: str
    title: Text
    of: Text | str
    code: str


def _asked(request: HttpRequest) -> tuple[str, str]:
    """The code, and the seed; empty where there is none that can be."""
    code, seed = request.GET.get("code", ""), request.GET.get("seed", "")
    if code not in {book.id for book in editions()}:
        return "nec-2020", ""
    return code, seed if seed.isalnum() and len(seed) <= SEED else ""


def _faulty(
    request: HttpRequest,
    page: FaultyPage,
    network: FaultyNetwork,
    drawing: Callable[[frozenset[str], frozenset[str]], NetworkDrawing],
) -> HttpResponse:
    posted: Any = request.POST if request.method == "POST" else {}
    do = str(posted.get("do", ""))
    opened, burnt = network.at_first, "burnt" in posted
    if posted:
        opened = frozenset(str(posted.get("open", "")).split()) & frozenset(network.switches)
    closed_on = 0.0
    if do.startswith(SWITCH) and (own := do.removeprefix(SWITCH)) in network.switches:
        if own in opened:
            closed_on = network.closes_on(own, opened)
        opened, burnt = (opened, True) if closed_on else (opened ^ {own}, burnt)
    log = _read(network, str(posted.get("log", "")))
    if do.startswith(MEASURE):
        asked = network.spot(do.removeprefix(MEASURE))
        if asked is not None and (asked, opened) not in log:
            log = [*log, (asked, opened)][:MOST]
    named = str(posted.get("fault", ""))
    choice = next((alike for alike in network.faults if alike[0].id == named), None)
    done, locked = do == "name" and choice is not None, posted.get("locked") == "yes"
    measured = frozenset(spot.id for spot, at in log if at == opened)
    context = {
        "page": page,
        "book": edition(page.code),
        "network": network,
        "drawing": drawing(opened, measured),
        "taken": [_taken(network, spot, at) for spot, at in log],
        "log": " ".join(_entry(spot, at) for spot, at in log),
        "open": " ".join(sorted(opened)),
        "open_words": _open_words(network, opened),
        "burnt": burnt,
        "closed_on": closed_on,
        "suspects": sorted(network.faults, key=lambda alike: str(alike[0].words)),
        "named": named,
        "pressed": do,
        "locked": locked,
        "unnamed": do == "name" and choice is None,
        "judged": network.judged(named, log, opened, locked, burnt) if done else None,
        "most": POINTS,
        "fewest": network.fewest() if done else None,
        "again": request.get_full_path(),
        "next": faulty_address(page.name, page.code),
        "back": f"{reverse('practice:list')}?{urlencode({'code': page.code})}",
    }
    return render(request, "practice/faulty.html", context)


def _open_words(network: FaultyNetwork, opened: frozenset[str]) -> tuple[Text, ...]:
    return tuple(network.switch_words(one) for one in network.switches if one in opened)


def _entry(spot: Spot, opened: frozenset[str]) -> str:
    return f"{spot.id}@{','.join(sorted(opened))}"


def _read(network: FaultyNetwork, text: str) -> list[tuple[Spot, frozenset[str]]]:
    """The readings that were taken, as the page hands them back."""
    found = []
    for word in text.split()[:MOST]:
        id, _, stands = word.partition("@")
        spot = network.spot(id)
        if spot is not None:
            opened = frozenset(stands.split(",")) & frozenset(network.switches)
            if (spot, opened) not in found:
                found.append((spot, opened))
    return found


def _taken(network: FaultyNetwork, spot: Spot, opened: frozenset[str]) -> Taken:
    value, healthy = network.reading(spot, opened), network.healthy(spot, opened)
    return Taken(spot, opened, _open_words(network, opened), value, healthy)
