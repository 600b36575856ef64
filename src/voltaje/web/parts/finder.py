"""Finds the quick sheet by what people call the task: "wire for a range", "breaker for 10 hp"."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from math import sqrt

from django.urls import reverse
from django.utils.translation import gettext_noop

from voltaje.core.codes import edition, editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import fields
from voltaje.core.kinds import kind
from voltaje.core.kinds.unknown import UNKNOWN
from voltaje.core.questions import (
    AWG_SIZE,
    FIGURE,
    NAMEPLATE,
    NAMEPLATE_VOLTS,
    SECTION,
    AskedQuantities,
    read_figures,
    said,
    words_of,
)
from voltaje.core.report import Text
from voltaje.core.rules.interface import code_of
from voltaje.web.kinds import presentation, presentations
from voltaje.web.kinds.presentation import SUBJECTS, Presentation, Question
from voltaje.web.parts.quick_views import code_for, quick_settings, systems_of

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


# what is left to be found, by the words that ask for it
UNKNOWN_ASKED = {
    "length": re.compile(
        r"\bhow (?:far|long)\b|\b(?:longest|maximum|max|furthest) (?:run|length|distance)\b"
    ),
    "load": re.compile(
        r"\bhow much (?:load|power|current)\b"
        r"|\b(?:largest|most|maximum|max) (?:load|power|current)\b"
    ),
}


def asks_for(asked: str) -> str:
    """The entry that a question leaves to be found; empty where it asks for none."""
    text = asked.lower()
    return next((entry for entry, words in UNKNOWN_ASKED.items() if words.search(text)), "")


# entries that say nothing in a title
SILENT_ENDS = (".name", ".what", ".use", ".connection", ".place", ".counts_as")


def find_tasks(asked: str) -> list[Question]:
    """The tasks that fit best, with what can be read off the question put in."""
    return [task for task, _ in ranked_tasks(asked)]


def ranked_tasks(asked: str) -> list[tuple[Question, float]]:
    """The same, each with how well it fits, as a share of how well the best does."""
    text = asked.lower().strip()
    read, words = read_figures(text), words_of(text)
    units = said("unit")
    # units and metals beside figures say nothing of the task
    aside = {*units, *METAL_WORDS, *(PHASE_WORDS if read.phases else ())}
    telling = [word for word in words if word not in aside]
    if asks_for(asked) and _figures(read):
        telling = [word for word in telling if word not in ASKING]
    scored = _scored(telling if telling or _figures(read) else words, read, asked)
    if not scored and _figures(read):
        scored = sorted(_scored([_meant(read, asked)], read, asked))[:1]
    if not scored:
        return []
    # what fits much worse than the best is no answer to the question
    best = -min(scored)[0]
    shares = ((task, -score / best) for score, _, task in sorted(scored)[:SHOWN])
    return [(task, share) for task, share in shares if share >= WORTH_SHOWING]


def _figures(read: AskedQuantities) -> bool:
    return bool(read.amperes or read.power or read.size or read.horsepower)


def _meant(read: AskedQuantities, asked: str) -> str:
    """What nothing but figures ask for: volts to other volts a booster, a load along a conductor
    its voltage drop, else a conductor for the load."""
    if asks_for(asked):
        return "wire"
    if read.to_volts and read.volts:
        return "boost"
    if read.size and read.length and (read.amperes or read.power):
        return "drop"
    return "wire"


def _scored(
    words: list[str], read: AskedQuantities, asked: str
) -> list[tuple[float, int, Question]]:
    scored = []
    asks = asks_for(asked)
    for index, task in enumerate(tasks()):
        if task.kind and not stands(task, read.code):
            continue  # that code has it otherwise, or not at all
        if asks and not (task.kind and asks in kind(task.kind).unknowns):
            continue  # what is to be found is none of its entries
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


def _filled(task: Question, read: AskedQuantities, asked: str) -> Question:
    """The task with the quantities that its sheet has an entry for, and those that it has none
    for."""
    if not task.kind:
        return task
    own, of = dict(task.entries), presentation(task.kind)
    found = of.fill(own, read)
    shown = next((v for name, v in found.items() if v and not name.endswith(SILENT_ENDS)), "")
    if of.runs:
        found["length"] = read.length
    code = code_for(task.kind, read.code)
    found["code"] = read.code
    found |= conductor_of(task.kind, code, read)
    found |= _supply(of, task.kind, code, read, {**own, **found})
    asks = asks_for(asked)
    if asks == "load":  # the amperes that are said are its device's
        found |= {"device": read.amperes, "load": UNKNOWN}
    elif asks:
        found[asks] = UNKNOWN
    settings = quick_settings(task.kind, found | {"code": code}) if of.on_supply else {}
    usual = settings.get("system", "")
    if usual and not SYSTEMS[usual].line_to_line and own.get("connection") == "two-line":
        found["connection"] = "line-neutral"  # where there is one line, it stands on that
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
    entry = getattr(entries, "CONDUCTOR", "") or "size"
    if size and unit and entry in known:  # some sheets have their sizes with the unit
        spec = next(one for one in fields(entries) if one.name == entry)
        size = size if size in dict(spec.choices) else read.size
    found = {entry: size, "material": read.material}
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


@lru_cache(maxsize=4096)
def means_something(word: str) -> bool:
    """Whether any task, code, metal or unit is known by a word."""
    if any(_hit(task, word) for task in tasks()):
        return True
    named = {name for code in editions() for name in (*code.asked, *code.title.lower().split())}
    return word in named or word in METAL_WORDS or word in said("cell")


ASKING = frozenset(
    ("far", "much", "load", "power", "current", "longest", "maximum", "max", "length")
) | frozenset(("distance", "largest", "most", "furthest", "wire", "conductor"))
PHASE_WORDS = frozenset(("three", "single", "one", "ph", "phase", "phases"))
METAL_WORDS = frozenset(("cu", "al", "copper", "aluminum", "aluminium"))


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
