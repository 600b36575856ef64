"""Finds the quick sheet by what people call the task: "wire for a range", "breaker for 10 hp"."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from math import sqrt

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.translation import gettext_noop
from django.views.decorators.http import require_GET

from voltaje.core.codes import edition, editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import fields
from voltaje.core.kinds import kind
from voltaje.core.report import Text
from voltaje.core.rules.interface import code_of
from voltaje.web.http.requests import Request
from voltaje.web.kinds import presentation, presentations
from voltaje.web.kinds.presentation import SUBJECTS, AskedQuantities, Presentation, Question
from voltaje.web.parts.quick_views import code_for, systems_of

SHOWN = 6
# entries that only some codes have
ASKED_BY_SOME = ("layout",)
WORTH_SHOWING = 0.34


# what no single sheet answers: a table does, or a whole job
ELSEWHERE = (
    Question(
        23,
        gettext_noop("Board with its circuits, phase balance"),
        gettext_noop("In a job"),
        "",
        (),
        "schedule panel panelboard board balance balancing phases phase "
        "circuits directory loading distribution",
    ),
    Question(
        24,
        gettext_noop("Service with grounding and bonding"),
        gettext_noop("In a job"),
        "",
        (),
        "entrance disconnect main bonding jumper service commercial building "
        "grounding electrode system fault current short riser one line diagram",
    ),
    Question(
        25,
        gettext_noop("Grounding electrode conductor"),
        gettext_noop("Table of the code"),
        "",
        (),
        "gec ground rod ufer water pipe grounding electrode size",
        "electrode_conductor",
    ),
    Question(
        26,
        gettext_noop("Equipment grounding conductor"),
        gettext_noop("Table of the code"),
        "",
        (),
        "egc ground wire bare green size grounding equipment",
        "equipment_grounding",
    ),
    Question(
        27,
        gettext_noop("Raceway fill"),
        gettext_noop("Table of the code"),
        "",
        (),
        "conduit fill how many wires conductors pipe emt pvc size trade raceway inside",
        "raceways",
    ),
    Question(
        28,
        gettext_noop("Ampacity table"),
        gettext_noop("Table of the code"),
        "",
        (),
        "310.16 table awg wire ampacity 60 75 90 degree column aluminum copper amps",
        "ampacity",
    ),
    Question(
        29,
        gettext_noop("Standard breakers and fuses"),
        gettext_noop("Table of the code"),
        "",
        (),
        "240.6 ratings sizes standard breaker fuse next size list",
        "standard_devices",
    ),
    Question(
        30,
        gettext_noop("Derating for number of conductors"),
        gettext_noop("Table of the code"),
        "",
        (),
        "derate derating adjustment bundled current carrying conductors conduit more three",
        "adjustment",
    ),
    Question(
        31,
        gettext_noop("Derating for heat"),
        gettext_noop("Table of the code"),
        "",
        (),
        "temperature correction ambient hot attic rooftop derate derating factor",
        "ambient",
    ),
    Question(
        32,
        gettext_noop("Insulation resistance and other tests of circuits"),
        gettext_noop("In a job"),
        "",
        (),
        "insulation resistance megohm tests tested zs rcd continuity readings reading measured",
    ),
    Question(
        33,
        gettext_noop("Single-phase or three-phase supply"),
        gettext_noop("By a list of loads"),
        "",
        (),
        "three single supply utility loads list which enough",
        page="jobs:adviser",
    ),
)


@cache
def tasks() -> tuple[Question, ...]:
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
# "do I need three phase": the supply itself is asked for
PHASES_ASKED = re.compile(r"\b(?:need|or|want)\s+(?:3|three|single)[ -]?(?:ph|phase)\b")
FEET = re.compile(NUMBER + r"(?:ft|feet|foot|')(?![a-z])")
METRES = re.compile(NUMBER + r"(?:m|metres?|meters?)\b")
AMPERES = re.compile(NUMBER + r"(?:a|amps?|amperes?)\b")
VOLTS = re.compile(r"\b(\d{2,5})(?:\s*y?\s*/\s*\d{2,3})?\s*(?:v|volts?)\b")
# volts without their unit: what stands on nameplates and names systems
BARE_VOLTS = re.compile(
    r"(?<![\d.,/#-])(115|120|200|208|220|230|240|277|347|380|400|415|440|460|480|575|600)"
    r"(?=y?/\d{2,3}\b|\s*$|\s*[,;?]|\s*\.(?!\d)|\s+(?!(?:a|amps?|amperes?|ampere|w|watts?|kw|kva|va|mva|hp|ft"
    r"|feet|foot|m|metres?|meters?|mm2?|mm²|kcmil|mcm|awg|sq|square|percent|outlets?)\b|[%'²]))"
)
TO_VOLTS = re.compile(
    r"\b(?:to|into)\s+(\d{3,5})\b(?!\s*(?:a|amps?|amperes?|w|kw|kva|va|hp|ft|feet|m|metres?)\b)"
)
AREA = re.compile(NUMBER + r"(sq\.? ?ft|square feet|ft2|ft²|sq\.? ?m|square metres?|m2|m²)(?!\w)")
SIZE = re.compile(
    r"#\s?(\d{1,2})\b|\b(\d{1,2}|[1-4]/0)\s*(?:awg|ga|gauge)\b|\b(\d{3,4})\s*(?:kcmil|mcm)\b"
    r"|(?<![\d/-])([1-4]/0)\b|\b(\d{1,3}(?:\.\d)?)\s*(?:mm2|mm²|sq ?mm|square mm)"
    r"|(?<![\d.,/#-])(14|12|10|8|6|4|3|2|1)(?=\s*$|\s+(?:cu|al|copper|aluminum|aluminium)\b)"
)
METRIC_GROUP = 5  # of SIZE
AWG_SIZE = "1/0"  # where it is made, sizes are AWG; Canada's lengths are metres all the same
METALS = {"aluminum": r"\b(?:al|aluminum|aluminium)\b", "copper": r"\b(?:cu|copper)\b"}
SECTION = re.compile(r"(?<![\d.])((\d{2,3})\.\d{1,3}|\d{1,2}-\d{3,4})((?:\s?\(\w+\))*)")
# a figure with its unit, for what no entry takes
FIGURE = re.compile(
    r"(?<![a-z\d])#?\d+(?:[.,/-]\d+)*(?:y?/\d+)?\s*(?:%|'|²|(?:percent|mm²|mm2|kva|mva|va|kw|mw|w"
    r"|watts?|hp|amps?|amperes?|a|volts?|v|ft|feet|foot|sq ft|sq m|m|metres?|meters?|awg|kcmil|mcm)"
    r"(?![a-z]))?",
    re.IGNORECASE,
)
PERCENT = re.compile(NUMBER + r"(?:%|percent)")
SINGLE_PHASE = re.compile(r"\b(?:1|one|single)[ -]?(?:ph|phase)\b")
THREE = re.compile(r"\b(?:3|three)[ -]?(?:ph|phase)\b|\d{3}\s*y\s*/\s*\d{3}")
# a nameplate's volts stand for a system's: 460 V for 480 V, 230 V for 240 V, 415 V for 400 V
NAMEPLATE = (0.91, 1.045)
NAMEPLATE_VOLTS = {
    110, 115, 120, 125, 200, 208, 220, 230, 240, 250, 265, 277, 347, 380, 400, 415, 440, 460, 480,
    550, 575, 600,
}  # fmt: skip


def find_tasks(asked: str) -> list[Question]:
    """The tasks that fit best, with what can be read off the question put in."""
    text = asked.lower().strip()
    read, words = read_figures(text), words_of(text)
    scored = _scored(words, read, asked)
    if not scored and (read.amperes or read.power or read.size):
        scored = _scored(["wire"], read, asked)  # nothing but figures: a conductor for them
    if not scored:
        return []
    # what fits much worse than the best is no answer to the question
    least = -min(scored)[0] * WORTH_SHOWING
    return [task for score, _, task in sorted(scored)[:SHOWN] if -score >= least]


def words_of(text: str) -> list[str]:
    """The words of a question in small letters that say something, sections of a code as well."""
    words = [w for w in re.findall(r"[a-z/]+", text) if w not in SILENT and len(w) > 1]
    for number, article, _ in SECTION.findall(text):
        words += [number, *([article] if article else [])]
    if PHASES_ASKED.search(text):
        words += ["enough", "which"]
    return words


def _scored(
    words: list[str], read: AskedQuantities, asked: str
) -> list[tuple[float, int, Question]]:
    scored = []
    for index, task in enumerate(tasks()):
        if task.kind and not stands(task, read.code):
            continue  # that code has it otherwise, or not at all
        score = score_of(task, words)
        if task.kind:
            score += presentation(task.kind).boost(dict(task.entries), read, score)
        if score > 0:
            scored.append((-score, index, _filled(task, read, asked)))
    return scored


def stands(task: Question, code: str) -> bool:
    """Whether the sheet of a task is worked under the code, with the entries that it brings."""
    known = code_for(task.kind, code)
    if code and known != code:
        return False
    specs = {
        spec.name: spec
        for spec in fields(kind(task.kind).entries_in(code_of(edition(known).family)))
    }
    for name, value in task.entries:
        spec = specs.get(name)
        if spec is not None and spec.choices and value not in dict(spec.choices):
            return False
        if spec is None and name in ASKED_BY_SOME:
            return False
    return True


def read_figures(text: str) -> AskedQuantities:
    """The quantities that stand in a question, in small letters."""

    def first(pattern: re.Pattern[str], shape: str) -> str:
        found = pattern.search(text)
        return shape.format(*found.groups()) if found else ""

    volts, power = VOLTS.search(text) or BARE_VOLTS.search(text), POWER.search(text)
    to_volts = TO_VOLTS.search(text)
    if volts and to_volts and volts.start(1) == to_volts.start(1):  # the first has no unit
        volts = BARE_VOLTS.search(text)
    size = SIZE.search(text)
    unit = SPELLED[power[2]] if power else ""
    shown = f"{power[1]} {unit}" if power else ""
    return AskedQuantities(
        first(HORSEPOWER, "{0} hp"),
        shown,
        shown if unit in APPARENT else "",
        first(FEET, "{0} ft") or first(METRES, "{0} m"),
        first(AMPERES, "{0} A"),
        int(volts[1]) if volts else 0,
        first(PERCENT, "{0}"),
        "1" if SINGLE_PHASE.search(text) else "3" if THREE.search(text) else "",
        bool(CONVERTS.search(text)),
        int(to_volts[1]) if to_volts else 0,
        _size(size),
        next((metal for metal, known in METALS.items() if re.search(known, text)), ""),
        _code(text),
        first(AREA, "{0} {1}"),
    )


def _size(found: re.Match[str] | None) -> str:
    """The conductor that is said; mm² with their unit."""
    if found is None:
        return ""
    metric = found[METRIC_GROUP]
    return f"{metric} mm²" if metric else next(filter(None, found.groups()))


def _code(text: str) -> str:
    """The newest edition of the code that is named, or the edition itself; else none."""
    words, plain = set(re.findall(r"[a-z/]+\d*", text)), text.replace(" ", "")
    for code in reversed(editions()):
        if code.title.lower().replace(" ", "") in plain or words & set(code.asked):
            return code.id
        if any(word in plain for word in code.asked if word[-1].isdigit()):
            return code.id
    return ""


def _filled(task: Question, read: AskedQuantities, asked: str) -> Question:
    """The task with the quantities that its sheet has an entry for, and those that it has none
    for."""
    if not task.kind:
        return task
    own, of = dict(task.entries), presentation(task.kind)
    found = of.fill(own, read)
    shown = next((value for value in found.values() if value), "")
    if of.runs:
        found["length"] = read.length
    code = code_for(task.kind, read.code)
    found["code"] = read.code
    found |= conductor_of(task.kind, code, read)
    found |= _supply(of, task.kind, code, read, {**own, **found})
    # a supply that is told as open is asked for on the sheet
    found = {name: value for name, value in found.items() if value or name == "system"}
    title = f"{task.title}, {shown}" if shown else task.title
    entries = tuple({**own, **found}.items())
    return replace(task, title=title, entries=entries, unread=unread_of(asked, read, found, code))


def conductor_of(name: str, code: str, read: AskedQuantities) -> dict[str, str]:
    """Conductor and metal, where the sheet has entries for them."""
    family = code_of(edition(code).family)
    entries = kind(name).entries_in(family)
    known = entries.model_fields
    size, unit, _ = read.size.partition(" mm²")
    if bool(unit) == (AWG_SIZE in family.sizes(edition(code))):
        size = ""  # the other system's sizes
    found = {getattr(entries, "CONDUCTOR", "size"): size, "material": read.material}
    return {entry: value for entry, value in found.items() if entry in known}


def _supply(
    of: Presentation, name: str, code: str, read: AskedQuantities, own: Mapping[str, str]
) -> dict[str, str]:
    """The supply and the connection that the volts and the phases of a question ask for; an open
    supply where none has those volts."""
    if not of.on_supply or not (read.volts or read.phases):
        return {}
    single = read.phases == "1" or own.get("motor") == "single-phase"
    usual_three = SYSTEMS[of.usual_system].phases == 3 and of.connects
    three = not single and (read.phases == "3" or usual_three)
    known = systems_of(name, code)
    if not read.volts:
        usual = "3ph-208Y/120" if three else "1ph-120/240"
        alike = [one for one in known if SYSTEMS[one].phases == (3 if three else 1)]
        system, reached = next(iter([usual] if usual in known else alike), ""), ""
    else:
        system, reached = _system(read.volts, three, known, code_of(edition(code).family).units)
    found = {"system": system}
    if system and of.connects:
        if three and reached != "line-neutral":
            found["connection"] = "three-phase"
        else:
            line = SYSTEMS[system].line_to_line
            found["connection"] = reached or ("two-line" if line else "line-neutral")
    return found


def _system(volts: int, three: bool, known: Sequence[str], units: str) -> tuple[str, str]:
    """The system on which equipment of those volts stands, and how it reaches them: the one whose
    volts are nearest, of this code's own before another's."""
    found = []
    for place, name in enumerate(known if volts in NAMEPLATE_VOLTS else ()):
        system = SYSTEMS[name]
        reaches = {"two-line": system.line_to_line, "line-neutral": system.to_neutral}
        for connection, nominal in reaches.items():
            if not nominal or not NAMEPLATE[0] <= volts / nominal <= NAMEPLATE[1]:
                continue
            # three-phase equipment stands between the lines
            unlike = three and (system.phases != 3 or connection != "two-line")
            few = not three and (name == "1ph-120/208", system.phases != 1, -system.wires)
            far = abs(volts / nominal - 1)
            foreign = system.metric != (units == "metric")
            found.append((foreign, unlike, few or (), round(far, 3), place, name, connection))
    if not found:
        return "", ""
    *_, name, connection = min(found)
    return name, connection


def unread_of(
    asked: str, read: AskedQuantities, found: Mapping[str, str], code: str
) -> tuple[str, ...]:
    """The figures of a question that stand in no entry."""
    taken = {n for value in found.values() for n in re.findall(r"\d+(?:[.,/-]\d+)*", value)}
    supplied = bool(found.get("system"))
    if supplied:
        taken.add(str(read.volts))
        taken |= {"1", "3"} if read.phases else set()
    if read.code:
        taken |= set(re.findall(r"\d+", edition(code).title))
    sections = {number for number, _, _ in SECTION.findall(asked)}
    left = []
    for figure in FIGURE.findall(asked):
        number = re.match(r"#?([\d.,/-]*\d)", figure)
        plain = number[1] if number else ""
        whole = plain.split("/")[0] if supplied and len(plain) > 3 else plain
        if {plain, whole} & (taken | sections):
            continue
        left.append(figure.strip())
    return tuple(dict.fromkeys(left))


def score_of(task: Question, words: list[str]) -> float:
    """A word of the title counts most, one of the further words less, beginnings count too; a word
    that many tasks share says less than one that few have."""
    return sum(_hit(task, word) / sqrt(_shared(word)) for word in words)


@lru_cache(maxsize=4096)
def _hit(task: Question, word: str) -> float:
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


@dataclass(frozen=True, slots=True)
class Subject:
    """What quick sheets are about, and these: name, what each answers, address."""

    title: Text
    sheets: tuple[tuple[str, str, str], ...]


def subjects() -> list[Subject]:
    """All quick sheets of all families, by what they are about."""
    quick = [(kind(name), shown) for name, shown in presentations().items() if shown.quick]
    return [
        Subject(
            subject,
            tuple(
                (of.label, of.subtitle, reverse("sheets:quick", args=[of.name]))
                for of, shown in quick
                if shown.subject == subject
            ),
        )
        for subject in SUBJECTS
    ]


def usual() -> list[Question]:
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
def find(request: Request) -> HttpResponse:
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
