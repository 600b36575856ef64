"""Finds the quick sheet by what people call the task: "wire for a range", "breaker for 10 hp"."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import replace
from functools import cache, lru_cache
from math import sqrt

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import gettext_noop
from django.views.decorators.http import require_GET

from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.parts import kind
from voltaje.web.kinds import presentation, presentations
from voltaje.web.kinds.presentation import Presentation, Read, Task

SHOWN = 6
WORTH_SHOWING = 0.34


# what no single sheet answers: a table does, or a whole job
ELSEWHERE = (
    Task(
        23,
        gettext_noop("Board with its circuits, phase balance"),
        gettext_noop("In a job"),
        "",
        (),
        "schedule panel panelboard board balance balancing phases phase "
        "circuits directory loading distribution",
    ),
    Task(
        24,
        gettext_noop("Service with grounding and bonding"),
        gettext_noop("In a job"),
        "",
        (),
        "entrance disconnect main bonding jumper service commercial building "
        "grounding electrode system fault current riser one line diagram",
    ),
    Task(
        25,
        gettext_noop("Grounding electrode conductor"),
        gettext_noop("Table of the code"),
        "",
        (),
        "gec ground rod ufer water pipe grounding electrode size",
        "electrode_conductor",
    ),
    Task(
        26,
        gettext_noop("Equipment grounding conductor"),
        gettext_noop("Table of the code"),
        "",
        (),
        "egc ground wire bare green size grounding equipment",
        "equipment_grounding",
    ),
    Task(
        27,
        gettext_noop("Raceway fill"),
        gettext_noop("Table of the code"),
        "",
        (),
        "conduit fill how many wires conductors pipe emt pvc size trade raceway inside",
        "raceways",
    ),
    Task(
        28,
        gettext_noop("Ampacity table"),
        gettext_noop("Table of the code"),
        "",
        (),
        "310.16 table awg wire ampacity 60 75 90 degree column aluminum copper amps",
        "ampacity",
    ),
    Task(
        29,
        gettext_noop("Standard breakers and fuses"),
        gettext_noop("Table of the code"),
        "",
        (),
        "240.6 ratings sizes standard breaker fuse next size list",
        "standard_devices",
    ),
    Task(
        30,
        gettext_noop("Derating for number of conductors"),
        gettext_noop("Table of the code"),
        "",
        (),
        "derate derating adjustment bundled current carrying conductors conduit more three",
        "adjustment",
    ),
    Task(
        31,
        gettext_noop("Derating for heat"),
        gettext_noop("Table of the code"),
        "",
        (),
        "temperature correction ambient hot attic rooftop derate derating factor",
        "ambient",
    ),
)


@cache
def tasks() -> tuple[Task, ...]:
    """Every task, those of the kinds among them, in their order."""
    found = list(ELSEWHERE)
    for name, shown in presentations().items():
        label = kind(name).label
        found += [replace(item, kind=name, label=label) for item in shown.tasks]
    return tuple(sorted(found))


# words that say nothing of the task
SILENT = {
    "for",
    "a",
    "an",
    "the",
    "of",
    "what",
    "which",
    "size",
    "to",
    "on",
    "in",
    "i",
    "need",
    "do",
    "is",
    "my",
    "at",
    "with",
    "how",
    "from",
    "and",
    "or",
    "can",
    "does",
    "hp",
    "kw",
    "kva",
    "va",
    "ft",
    "feet",
    "long",
    "many",
    "it",
    "be",
    "one",
    "use",
    "v",
    "run",
    "phase",
    "circuit",
}
HORSEPOWER = re.compile(r"(\d+(?:[ -]\d+/\d+|/\d+|\.\d+)?)\s*hp\b")
NUMBER = r"(\d+(?:[.,]\d+)?)\s*"
POWER = re.compile(NUMBER + r"(mva|kva|va|mw|kw|watts?|w)\b")
SPELLED = {
    "kw": "kW",
    "mw": "MW",
    "kva": "kVA",
    "mva": "MVA",
    "va": "VA",
    "w": "W",
    "watt": "W",
    "watts": "W",
}
APPARENT = ("VA", "kVA", "MVA")
# "kva to amps": a conversion is asked for, whatever the load
CONVERTS = re.compile(
    r"\b(?:kva|kw|watts?|va|hp|horsepower|amps?|amperes)\b.*\b(?:to|into|in)\b\s+"
    r"(?:kva|kw|watts?|va|hp|horsepower|amps?|amperes)\b"
)
FEET = re.compile(NUMBER + r"(?:ft|feet|foot|')(?![a-z])")
METRES = re.compile(NUMBER + r"(?:m|metres?|meters?)\b")
AMPERES = re.compile(NUMBER + r"(?:a|amps?|amperes?)\b")
VOLTS = re.compile(r"\b(120|208|240|277|480|600)\s*(?:v|volts?)\b")
PERCENT = re.compile(NUMBER + r"(?:%|percent)")
SINGLE_PHASE = re.compile(r"\b(?:1|one|single)[ -]?(?:ph|phase)\b")
THREE_PHASE = re.compile(r"\b(?:3|three)[ -]?(?:ph|phase)\b")
# by the volts asked for, 0 where none are
THREE_PHASE_SYSTEMS = {
    0: "3ph-208Y/120",
    240: "3ph-240",
    277: "3ph-480Y/277",
    480: "3ph-480Y/277",
    600: "3ph-600Y/347",
}
SINGLE_PHASE_SYSTEMS = {
    0: "1ph-120/240",
    208: "3ph-208Y/120",
    277: "3ph-480Y/277",
    480: "3ph-480Y/277",
    600: "3ph-600Y/347",
}


def find_tasks(asked: str) -> list[Task]:
    """The tasks that fit best, with what can be read off the question put in."""
    text = asked.lower().strip()
    read = _read(text)
    words = [w for w in re.findall(r"[a-z/]+", text) if w not in SILENT and len(w) > 1]
    scored = []
    for index, task in enumerate(tasks()):
        score = _score(task, words)
        if task.kind:
            score += presentation(task.kind).boost(dict(task.entries), read, score)
        if score > 0:
            scored.append((-score, index, _filled(task, read)))
    if not scored:
        return []
    # what fits much worse than the best is no answer to the question
    least = -min(scored)[0] * WORTH_SHOWING
    return [task for score, _, task in sorted(scored)[:SHOWN] if -score >= least]


def _read(text: str) -> Read:
    def first(pattern: re.Pattern[str], shape: str) -> str:
        found = pattern.search(text)
        return shape.format(*found.groups()) if found else ""

    volts, power = VOLTS.search(text), POWER.search(text)
    unit = SPELLED[power[2]] if power else ""
    shown = f"{power[1]} {unit}" if power else ""
    return Read(
        first(HORSEPOWER, "{0} hp"),
        shown,
        shown if unit in APPARENT else "",
        first(FEET, "{0} ft") or first(METRES, "{0} m"),
        first(AMPERES, "{0} A"),
        int(volts[1]) if volts else 0,
        first(PERCENT, "{0}"),
        "1" if SINGLE_PHASE.search(text) else "3" if THREE_PHASE.search(text) else "",
        bool(CONVERTS.search(text)),
    )


def _filled(task: Task, read: Read) -> Task:
    """The task with the quantities that its sheet has an entry for."""
    if not task.kind:
        return task
    own, of = dict(task.entries), presentation(task.kind)
    found = of.fill(own, read)
    shown = next((value for value in found.values() if value), "")
    if of.runs:
        found["length"] = read.length
    found |= _supply(of, read, own)
    entries = {**own, **{name: value for name, value in found.items() if value}}
    title = f"{task.title}, {shown}" if shown else task.title
    return replace(task, title=title, entries=tuple(entries.items()))


def _supply(of: Presentation, read: Read, own: Mapping[str, str]) -> dict[str, str]:
    """The supply and the connection that the volts and the phases of a question ask for."""
    if not of.on_supply or not (read.volts or read.phases):
        return {}
    single = read.phases == "1" or own.get("motor") == "single-phase"
    usual_three = SYSTEMS[of.usual_system].phases == 3 and of.connects
    three = not single and (read.phases == "3" or usual_three)
    known = THREE_PHASE_SYSTEMS if three else SINGLE_PHASE_SYSTEMS
    system = known.get(read.volts, known[0])
    found = {"system": system} if system in of.systems else {}
    if of.connects:
        to_neutral = read.volts in (120, 277)
        found["connection"] = (
            "three-phase" if three else "line-neutral" if to_neutral else "two-line"
        )
    return found


def _score(task: Task, words: list[str]) -> float:
    """A word of the title counts most, one of the further words less, beginnings count too; a word
    that many tasks share says less than one that few have."""
    return sum(_hit(task, word) / sqrt(_shared(word)) for word in words)


@lru_cache(maxsize=4096)
def _hit(task: Task, word: str) -> float:
    stem = word.removesuffix("s")
    title, others = re.findall(r"[a-z/]+", task.title.lower()), task.words.split()
    if any(t.removesuffix("s") == stem for t in title):
        return 3.0
    if any(t.startswith(stem) and len(stem) > 2 for t in title):
        return 2.0
    if any(o.removesuffix("s") == stem for o in others):
        return 1.5
    return 0.75 if any(o.startswith(stem) and len(stem) > 2 for o in others) else 0.0


@lru_cache(maxsize=4096)
def _shared(word: str) -> int:
    """How many tasks know the word; 1 where none does."""
    return max(1, sum(_hit(task, word) > 0 for task in tasks()))


def usual() -> list[Task]:
    """What is shown before anything is asked."""
    wanted = (
        "Amperes from kVA, kW, hp or W",
        "Dwelling service",
        "Any circuit",
        "Range",
        "Motor",
        "Receptacles, outlets",
        "Feeder",
        "Transformer",
    )
    return [task for task in tasks() if task.title in wanted]


@require_GET
def find(request: HttpRequest) -> HttpResponse:
    """The quick sheets that answer a question."""
    asked = request.GET.get("q", "").strip()[:80]
    # Enter in the question opens what fits best
    if asked and request.GET.get("open") and not request.htmx and (found := find_tasks(asked)):
        return redirect(found[0].url)
    found = find_tasks(asked) if asked else usual()
    # what nothing fits says so, and offers every sheet
    context = {"tasks": found, "q": asked, "every": () if found else tasks()}
    template = "sheets/_tasks.html" if request.htmx else "sheets/find.html"
    return render(request, template, context)
