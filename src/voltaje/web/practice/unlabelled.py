"""Windings without labels on a strip of numbered leads: two probes, an ohmmeter, a test supply, a
voltmeter, joints; then the answer coil by coil."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods

from voltaje.core.practice.unlabelled import (
    DANGER,
    FUSE,
    MOST_JOINTS,
    POINTS,
    TESTS,
    LeadSetup,
    Unlabelled,
    unlabelled,
)
from voltaje.core.report import Text, figure, say

SEED, MOST, PITCH = 16, 120, 56.0  # no code figures: letters of a seed, log, the strip's drawing


@dataclass(frozen=True, slots=True)
class Logged:
    """What was done: in words, what it showed, whether it was a danger."""

    words: Text
    shown: str
    danger: bool = False


def unlabelled_address(code: str, seed: str = "") -> str:
    """The address of a strip; without a seed it is given one."""
    asked = {"code": code, **({"seed": seed} if seed else {})}
    return f"{reverse('practice:unlabelled')}?{urlencode(asked)}"


@require_http_methods(["GET", "POST"])
def unlabelled_windings(request: HttpRequest) -> HttpResponse:
    """The strip of a seed: probed, fed, joined, answered."""
    code, seed = request.GET.get("code", "")[:SEED], request.GET.get("seed", "")
    if not seed.isalnum() or len(seed) > SEED:
        return redirect(unlabelled_address(code, secrets.token_hex(3)))
    units = unlabelled(seed)
    posted: Any = request.POST if request.method == "POST" else {}
    do = str(posted.get("do", ""))
    probes = _pair(str(posted.get("probes", "")), units) or (1, 2)
    setup = _setup(str(posted.get("setup", "")), units)
    log = str(posted.get("log", "")).split()[:MOST]
    problem: Text | None = None
    if do.startswith("lead:") and (lead := _lead(do.removeprefix("lead:"), units)):
        probes = (probes[1], lead) if lead != probes[1] else (lead, probes[0])
    elif do in ACTIONS:
        setup, log, problem = ACTIONS[do](units, probes, setup, log, posted)
    logged = [one for entry in log if (one := _logged(entry, units)) is not None]
    answer = _answer(posted, units)
    complete = all(a and b for a, b in answer)
    if do == "name" and not complete:
        problem = say("Give both ends of every coil.")
    done = do == "name" and complete
    dangers = sum(one.danger for one in logged)
    context = {
        "units": units,
        "leads": _strip(units, probes, setup),
        "width": PITCH * (len(units.leads) + 1),
        "arcs": _arcs(setup),
        "probes": f"{probes[0]}-{probes[1]}",
        "probe": probes,
        "setup": _text(setup),
        "stands": setup,
        "log": " ".join(log),
        "logged": logged,
        "tests": TESTS,
        "problem": problem,
        "rows": list(zip(units.coils, answer, strict=True)),
        "judged": units.judged(answer, len(logged) - dangers, dangers) if done else None,
        "most": POINTS,
        "danger": DANGER,
        "pressed": do,
        "again": request.get_full_path(),
        "next": unlabelled_address(code),
        "back": f"{reverse('practice:list')}?{urlencode({'code': code})}",
    }
    return render(request, "practice/unlabelled.html", context)


Done = tuple[LeadSetup, list[str], Text | None]


def _ohms(
    units: Unlabelled, probes: tuple[int, int], setup: LeadSetup, log: list[str], posted: Any
) -> Done:
    if setup != LeadSetup():
        words = say("An ohmmeter is for dead circuits: disconnect the test supply and the joints.")
        return setup, log, words
    return setup, _with(log, f"o:{probes[0]}-{probes[1]}"), None


def _volts(
    units: Unlabelled, probes: tuple[int, int], setup: LeadSetup, log: list[str], posted: Any
) -> Done:
    if not setup.volts:
        return setup, log, say("No test supply is connected: there is nothing to measure.")
    return setup, _with(log, f"v:{probes[0]}-{probes[1]}@{_text(setup)}"), None


def _feed(
    units: Unlabelled, probes: tuple[int, int], setup: LeadSetup, log: list[str], posted: Any
) -> Done:
    asked = str(posted.get("volts", ""))
    volts = next((one for one in TESTS if f"{one:g}" == asked), TESTS[0])
    return _connected(units, LeadSetup(volts, probes, setup.joints), log)


def _join(
    units: Unlabelled, probes: tuple[int, int], setup: LeadSetup, log: list[str], posted: Any
) -> Done:
    pair = (min(probes), max(probes))
    if pair in setup.joints or len(setup.joints) >= MOST_JOINTS:
        return setup, log, say("That joint is made, or there are no more test leads.")
    return _connected(units, LeadSetup(setup.volts, setup.across, (*setup.joints, pair)), log)


def _connected(units: Unlabelled, setup: LeadSetup, log: list[str]) -> Done:
    """The set-up with what it does at once: a blown fuse, a dangerous voltage."""
    state = units.state(setup)
    if state.blown:
        words = say("The fuse of the test supply opens: the coils are shorted.")
        return LeadSetup(0.0, (0, 0), setup.joints), _with(log, f"f@{_text(setup)}"), words
    if state.highest > DANGER:
        volts = figure(state.highest, 0)
        words = say("{volts} V stand on open leads: feed the coil of more turns.", volts=volts)
        return setup, _with(log, f"d@{_text(setup)}"), words
    return setup, log, None


def _clear(
    units: Unlabelled, probes: tuple[int, int], setup: LeadSetup, log: list[str], posted: Any
) -> Done:
    return LeadSetup(), log, None


ACTIONS = {"ohms": _ohms, "volts": _volts, "feed": _feed, "join": _join, "clear": _clear}


def _with(log: list[str], entry: str) -> list[str]:
    return log if entry in log else [*log, entry][:MOST]


def _lead(text: str, units: Unlabelled) -> int:
    return int(text) if text.isdigit() and len(text) < 3 and int(text) in units.leads else 0


def _pair(text: str, units: Unlabelled) -> tuple[int, int] | None:
    one, _, other = text.partition("-")
    a, b = _lead(one, units), _lead(other, units)
    return (a, b) if a and b and a != b else None


def _text(setup: LeadSetup) -> str:
    joints = ",".join(f"{a}-{b}" for a, b in setup.joints)
    return f"{setup.volts:g}:{setup.across[0]}-{setup.across[1]}|{joints}"


def _setup(text: str, units: Unlabelled) -> LeadSetup:
    """A set-up as the page hands it back; nothing connected where it is none."""
    feed, _, tied = text.partition("|")
    asked, _, across = feed.partition(":")
    volts = next((one for one in TESTS if f"{one:g}" == asked), 0.0)
    pair = _pair(across, units)
    joints = [one for part in tied.split(",") if (one := _pair(part, units)) is not None]
    if not volts or pair is None:
        volts, pair = 0.0, (0, 0)
    return LeadSetup(volts, pair, tuple(joints[:MOST_JOINTS]))


def _logged(entry: str, units: Unlabelled) -> Logged | None:
    """An entry of the log with what it shows."""
    done, _, stands = entry.partition("@")
    what, _, between = done.partition(":")
    setup, pair = _setup(stands, units), _pair(between, units)
    if what == "o" and pair:
        ohms = units.ohms(*pair)
        words = say("Ohmmeter between {one} and {other}", one=pair[0], other=pair[1])
        return Logged(words, str(say("open")) if ohms is None else f"{figure(ohms)} Ω")
    if what == "v" and pair and setup.volts:
        words = say(
            "Voltmeter between {one} and {other}, {setup}",
            one=pair[0],
            other=pair[1],
            setup=_setup_words(setup),
        )
        shown = units.volts(setup, *pair)
        return Logged(words, str(say("nothing steady")) if shown == "–" else f"{shown} V")
    if what in ("d", "f") and setup.volts:
        state = units.state(setup)
        shown = f"> {FUSE:g} A" if what == "f" else f"{figure(state.highest, 0)} V"
        words = (
            say("Fuse of the test supply opened") if what == "f" else say("Danger on open leads")
        )
        return Logged(words, shown, True)
    return None


def _setup_words(setup: LeadSetup) -> Text:
    a, b = setup.across
    fed = say("{volts} V on {one} and {other}", volts=f"{setup.volts:g}", one=a, other=b)
    if not setup.joints:
        return fed
    joined = ", ".join(f"{one}–{other}" for one, other in setup.joints)
    return say("{fed}, joined {joints}", fed=fed, joints=joined)


def _answer(posted: Any, units: Unlabelled) -> list[tuple[int, int]]:
    return [
        (
            _lead(str(posted.get(f"dot-{n}", "")), units),
            _lead(str(posted.get(f"end-{n}", "")), units),
        )
        for n in range(1, len(units.coils) + 1)
    ]


@dataclass(frozen=True, slots=True)
class StripLead:
    """A lead on the drawing."""

    number: int
    x: float
    probe: str
    fed: bool

    @property
    def do(self) -> str:
        """What its button says to the page."""
        return f"lead:{self.number}"


def _strip(units: Unlabelled, probes: tuple[int, int], setup: LeadSetup) -> list[StripLead]:
    letters = {probes[0]: "+", probes[1]: "−"}
    return [
        StripLead(n, PITCH * n, letters.get(n, ""), bool(setup.volts) and n in setup.across)
        for n in units.leads
    ]


def _arcs(setup: LeadSetup) -> Sequence[tuple[str, str]]:
    """Paths of the joints above the strip and of the test supply below it."""
    found = []
    for a, b in setup.joints:
        one, other, high = PITCH * a, PITCH * b, max(4, 48 - 6 * abs(a - b))
        found.append((f"M{one} 62C{one} {high},{other} {high},{other} 62", "joint"))
    if setup.volts:
        a, b = setup.across
        found.append((f"M{PITCH * a} 120V150H{PITCH * b}V120", "fed"))
    return found
