"""Finds the quick sheet by what people call the task: "wire for a range", "breaker for 10 hp"."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from math import sqrt
from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET

SHOWN = 6
WORTH_SHOWING = 0.34


@dataclass(frozen=True, slots=True, order=True)
class Task:
    """A task by its name, the sheet that answers it, the entries that it brings along, and the
    further words by which it is asked for. A table of the code answers some (``table``); what only
    a whole job answers leads to a new one (no ``kind``)."""

    title: str
    label: str
    kind: str
    entries: tuple[tuple[str, str], ...]
    words: str
    table: str = ""

    @property
    def url(self) -> str:
        if self.table:
            return reverse("codes:side_by_side", args=[self.table])
        if not self.kind:
            return reverse("jobs:create")
        address = reverse("sheets:quick", args=[self.kind])
        return f"{address}?{urlencode(self.entries)}" if self.entries else address


def _task(title: str, label: str, kind: str, words: str, **entries: str) -> Task:
    return Task(title, label, kind, tuple(entries.items()), words)


def _looked_up(title: str, table: str, words: str) -> Task:
    return Task(title, "Table of the code", "", (), words, table)


TASKS = (
    _task("Amperes from kVA, kW, hp or W", "Amperes", "amperes",
          "full load current fla flc amp amps convert conversion how many draw draws formula"
          " watts kva kilowatts power factor pf efficiency to into"),
    _task("Dwelling service", "Dwelling", "dwelling",
          "house home load calculation service size main panel apartment 200 amp"),
    _task("Any circuit", "Circuit", "circuit",
          "wire breaker conductor size branch load amps cable conduit ampacity gauge fuse circuit"
          " raceway derate ambient"),
    _task("Range", "Cooking circuit", "cooking",
          "stove cooker household electric home wire breaker", layout="range"),
    _task("Wall oven", "Cooking circuit", "cooking", "oven ovens wire breaker built in",
          layout="oven"),
    _task("Cooktop and wall ovens together", "Cooking circuit", "cooking",
          "tap taps double two oven hob junction box wire breaker counter", layout="together"),
    _task("Motor", "Motor circuit", "motor",
          "hp horsepower overload breaker wire starter three phase pump compressor fan fla flc"
          " heater heaters locked rotor starting code letter conveyor blower"),
    _task("Single-phase motor", "Motor circuit", "motor",
          "hp horsepower breaker wire pump compressor saw well submersible garage"
          " disposer sump pool",
          motor="single-phase", connection="two-line", system="1ph-120/240"),
    _task("Water heater", "Circuit", "circuit", "hot tank boiler geyser wire breaker",
          use="water heater", connection="two-line", load="4.5 kW"),
    _task("Hot tub or spa", "Circuit", "circuit", "jacuzzi whirlpool sauna hottub wire breaker",
          use="general", connection="two-line", neutral="yes"),
    _task("Space heater", "Circuit", "circuit",
          "baseboard heating wire breaker electric heat furnace wall radiant",
          use="space heating", connection="two-line"),
    _task("Air conditioner", "Circuit", "circuit",
          "ac a/c heat pump condenser mca mocp wire breaker minimum circuit ampacity cooling"
          " minisplit mini split conditioning rooftop unit",
          use="air conditioning", connection="two-line"),
    _task("Vehicle charger", "Circuit", "circuit",
          "ev evse car charging wire breaker station electric",
          use="vehicle charging", connection="two-line"),
    _task("Kiln", "Circuit", "circuit", "pottery oven furnace wire breaker ceramic",
          use="kiln", connection="two-line"),
    _task("Receptacles, outlets", "Circuit", "circuit",
          "outlets plugs sockets outlet duplex wire breaker", use="receptacles"),
    _task("Lighting", "Circuit", "circuit",
          "lights luminaires lamps wire breaker fixtures led poles parking",
          use="lighting"),
    _task("Clothes dryer", "Circuit", "circuit", "wire breaker laundry tumble",
          connection="two-line", load="5 kW"),
    _task("Feeder", "Feeder", "feeder",
          "subpanel sub panel distribution wire size demand neutral parallel sets detached garage"
          " barn outbuilding several motors group"),
    _task("Transformer", "Transformer", "transformer",
          "kva primary secondary delta wye breaker fuse dry type step down up bonding separately"
          " derived system impedance inrush"),
    _task("Voltage drop along a run", "Run", "run",
          "volts lost drop long distance length far end wire cable segments gate lamp pump feet"
          " percent vd"),
    _task("Multiwire circuit, shared neutral", "Shared neutral", "neutral",
          "three wire open lost loose volts current unbalanced mwbc common"),
    _task("Store or office by floor area", "Feeder", "feeder",
          "commercial lighting occupancy va per square foot receptacles demand shop building"
          " warehouse school hotel church restaurant load calculation"),
    _task("Commercial kitchen", "Feeder", "feeder",
          "restaurant equipment fryer dishwasher demand factors cooking",
          **{"loads.k1.category": "kitchen", "loads.k1.name": "Kitchen equipment"}),
    _task("Board with its circuits, phase balance", "In a job", "",
          "schedule panel panelboard board balance balancing phases phase circuits directory"
          " loading distribution"),
    _task("Service with grounding and bonding", "In a job", "",
          "entrance disconnect main bonding jumper service commercial building grounding"
          " electrode system fault current riser one line diagram"),
    _looked_up("Grounding electrode conductor", "electrode_conductor",
               "gec ground rod ufer water pipe grounding electrode size"),
    _looked_up("Equipment grounding conductor", "equipment_grounding",
               "egc ground wire bare green size grounding equipment"),
    _looked_up("Raceway fill", "raceways",
               "conduit fill how many wires conductors pipe emt pvc size trade raceway inside"),
    _looked_up("Ampacity table", "ampacity",
               "310.16 table awg wire ampacity 60 75 90 degree column aluminum copper amps"),
    _looked_up("Standard breakers and fuses", "standard_devices",
               "240.6 ratings sizes standard breaker fuse next size list"),
    _looked_up("Derating for number of conductors", "adjustment",
               "derate derating adjustment bundled current carrying conductors conduit more three"),
    _looked_up("Derating for heat", "ambient",
               "temperature correction ambient hot attic rooftop derate derating factor"),
)  # fmt: skip
# words that say nothing of the task
SILENT = {"for", "a", "an", "the", "of", "what", "which", "size", "to", "on", "in", "i", "need",
          "do", "is", "my", "at", "with", "how", "from", "and", "or", "can", "does", "hp", "kw",
          "kva", "va", "ft", "feet", "long", "many", "it", "be", "one", "use", "v", "run",
          "phase", "circuit"}  # fmt: skip
HORSEPOWER = re.compile(r"(\d+(?:[ -]\d+/\d+|/\d+|\.\d+)?)\s*hp\b")
NUMBER = r"(\d+(?:[.,]\d+)?)\s*"
POWER = re.compile(NUMBER + r"(mva|kva|va|mw|kw|watts?|w)\b")
SPELLED = {"kw": "kW", "mw": "MW", "kva": "kVA", "mva": "MVA", "va": "VA", "w": "W", "watt": "W",
           "watts": "W"}  # fmt: skip
APPARENT = ("VA", "kVA", "MVA")
# "kva to amps": a conversion is asked for, whatever the load
CONVERTS = re.compile(r"\b(?:kva|kw|watts?|va|hp|horsepower|amps?|amperes)\b.*\b(?:to|into|in)\b\s+"
                      r"(?:kva|kw|watts?|va|hp|horsepower|amps?|amperes)\b")  # fmt: skip
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
    for index, task in enumerate(TASKS):
        score = _score(task, words)
        if read.horsepower and task.kind == "motor":
            score += 3
        if (
            read.power.split()[-1:]
            and read.power.split()[-1] in APPARENT
            and score
            and (task.kind == "transformer")
        ):
            score += 2
        if read.amperes and task.title == "Any circuit" and score:
            score += 0.4
        if CONVERTS.search(text) and task.kind == "amperes":
            score += 8
        if score and task.kind == "motor" and read.phases:
            score += 2 if (read.phases == "1") == ("motor" in dict(task.entries)) else -2
        if score > 0:
            scored.append((-score, index, _filled(task, read)))
    if not scored:
        return []
    # what fits much worse than the best is no answer to the question
    least = -min(scored)[0] * WORTH_SHOWING
    return [task for score, _, task in sorted(scored)[:SHOWN] if -score >= least]


@dataclass(frozen=True, slots=True)
class Read:
    """Quantities that stand in a question, as typed; empty where there is none."""

    horsepower: str = ""
    power: str = ""
    length: str = ""
    amperes: str = ""
    volts: int = 0
    percent: str = ""
    phases: str = ""


def _read(text: str) -> Read:
    def first(pattern: re.Pattern[str], shape: str) -> str:
        found = pattern.search(text)
        return shape.format(*found.groups()) if found else ""

    volts, power = VOLTS.search(text), POWER.search(text)
    return Read(
        first(HORSEPOWER, "{0} hp"),
        f"{power[1]} {SPELLED[power[2]]}" if power else "",
        first(FEET, "{0} ft") or first(METRES, "{0} m"),
        first(AMPERES, "{0} A"),
        int(volts[1]) if volts else 0,
        first(PERCENT, "{0}"),
        "1" if SINGLE_PHASE.search(text) else "3" if THREE_PHASE.search(text) else "",
    )


def _filled(task: Task, read: Read) -> Task:
    """The task with the quantities that its sheet has an entry for."""
    own = dict(task.entries)
    found: dict[str, str] = {}
    if task.kind == "motor":
        found["horsepower"] = read.horsepower
    elif task.kind == "transformer":
        # kW says nothing of a transformer's size
        found["kva"] = read.power if read.power.split()[-1:] in [[u] for u in APPARENT] else ""
    elif task.kind == "amperes":
        found["power"] = read.power or read.horsepower
        found["current"] = "" if found["power"] else read.amperes
        found["volts"] = f"{read.volts} V" if read.volts else ""
        found["phases"] = read.phases
    elif task.kind in ("circuit", "cooking"):
        entry = "load" if task.kind == "circuit" else "nameplate"
        plain = own.get("layout") != "together" and own.get("use") not in (
            "air conditioning", "receptacles")  # fmt: skip
        found[entry] = (read.power or read.amperes) if plain else ""
        if own.get("use") == "air conditioning":
            found["minimum_ampacity"] = read.amperes
    elif task.kind == "run":
        found["segments.s1.nameplate"] = read.power or read.amperes or read.horsepower
        found["segments.s1.length"] = read.length
        found["limit"] = read.percent
    shown = next((value for value in found.values() if value), "")
    if task.kind in ("motor", "circuit", "cooking", "feeder", "transformer") and not task.table:
        found["length"] = read.length
    found |= _supply(task, read, own)
    entries = {**own, **{name: value for name, value in found.items() if value}}
    title = f"{task.title}, {shown}" if shown else task.title
    return Task(title, task.label, task.kind, tuple(entries.items()), task.words, task.table)


def _supply(task: Task, read: Read, own: dict[str, str]) -> dict[str, str]:
    """The supply and the connection that the volts and the phases of a question ask for."""
    if task.kind in ("dwelling", "amperes", "") or not (read.volts or read.phases):
        return {}
    single = read.phases == "1" or own.get("motor") == "single-phase"
    three = not single and (read.phases == "3" or task.kind == "motor")
    known = THREE_PHASE_SYSTEMS if three else SINGLE_PHASE_SYSTEMS
    found = {"system": known.get(read.volts, known[0])}
    if task.kind in ("circuit", "motor", "run"):
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
    return max(1, sum(_hit(task, word) > 0 for task in TASKS))


def usual() -> list[Task]:
    """What is shown before anything is asked."""
    wanted = ("Amperes from kVA, kW, hp or W", "Dwelling service", "Any circuit", "Range", "Motor",
              "Receptacles, outlets", "Feeder", "Transformer")  # fmt: skip
    return [task for task in TASKS if task.title in wanted]


@require_GET
def find(request: HttpRequest) -> HttpResponse:
    """The quick sheets that answer a question."""
    asked = request.GET.get("q", "").strip()[:80]
    # Enter in the question opens what fits best
    if asked and request.GET.get("open") and not request.htmx and (found := find_tasks(asked)):
        return redirect(found[0].url)
    found = find_tasks(asked) if asked else usual()
    # what nothing fits says so, and offers every sheet
    context = {"tasks": found, "q": asked, "every": () if found else TASKS}
    template = "sheets/_tasks.html" if request.htmx else "sheets/find.html"
    return render(request, template, context)
