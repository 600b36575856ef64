"""Finds the quick sheet by what people call the task: "wire for a range", "breaker for 10 hp"."""

from __future__ import annotations

import re
from dataclasses import dataclass
from urllib.parse import urlencode

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_GET

SHOWN = 6
WORTH_SHOWING = 0.34


@dataclass(frozen=True, slots=True, order=True)
class Task:
    """A task by its name, the sheet that answers it, the entries that it brings along, and the
    further words by which it is asked for."""

    title: str
    label: str
    kind: str
    entries: tuple[tuple[str, str], ...]
    words: str

    @property
    def url(self) -> str:
        address = reverse("sheets:quick", args=[self.kind])
        return f"{address}?{urlencode(self.entries)}" if self.entries else address


def _task(title: str, label: str, kind: str, words: str, **entries: str) -> Task:
    return Task(title, label, kind, tuple(entries.items()), words)


TASKS = (
    _task("Dwelling service", "Dwelling", "dwelling",
          "house home load calculation service size main panel apartment 200 amp"),
    _task("Any circuit", "Circuit", "circuit",
          "wire breaker conductor size branch load amps cable conduit awg"),
    _task("Range", "Cooking circuit", "cooking", "stove household electric kitchen wire breaker",
          layout="range"),
    _task("Cooktop and wall ovens on one circuit", "Cooking circuit", "cooking",
          "tap taps double oven hob junction box wire breaker", layout="together"),
    _task("Wall oven", "Cooking circuit", "cooking", "wire breaker built in", layout="oven"),
    _task("Motor", "Motor circuit", "motor",
          "hp horsepower overload breaker wire starter three phase pump compressor fan fla flc"),
    _task("Single-phase motor", "Motor circuit", "motor",
          "hp horsepower breaker wire pump compressor saw",
          motor="single-phase", connection="two-line", system="1ph-120/240"),
    _task("Water heater", "Circuit", "circuit", "hot tank wire breaker",
          use="water heater", connection="two-line", load="4.5 kW"),
    _task("Space heater", "Circuit", "circuit", "baseboard heating wire breaker electric heat",
          use="space heating", connection="two-line"),
    _task("Air conditioner", "Circuit", "circuit",
          "ac a/c heat pump condenser mca mocp wire breaker minimum circuit ampacity",
          use="air conditioning", connection="two-line"),
    _task("Vehicle charger", "Circuit", "circuit", "ev evse car charging wire breaker",
          use="vehicle charging", connection="two-line"),
    _task("Kiln", "Circuit", "circuit", "pottery oven furnace wire breaker",
          use="kiln", connection="two-line"),
    _task("Receptacles", "Circuit", "circuit", "outlets plugs how many on a circuit wire breaker",
          use="receptacles"),
    _task("Lighting", "Circuit", "circuit", "lights luminaires lamps wire breaker",
          use="lighting"),
    _task("Clothes dryer", "Circuit", "circuit", "wire breaker laundry",
          connection="two-line", load="5 kW"),
    _task("Feeder", "Feeder", "feeder",
          "subpanel sub panel distribution wire size demand neutral parallel"),
    _task("Transformer", "Transformer", "transformer",
          "kva primary secondary delta wye breaker fuse dry type step down bonding"),
    _task("Voltage drop along a run", "Run", "run",
          "volts lost drop long distance length far end wire cable segments gate lamp pump"),
    _task("Multiwire circuit, shared neutral", "Shared neutral", "neutral",
          "three wire open lost loose volts amps current unbalanced mwbc"),
    _task("Store or office by floor area", "Feeder", "feeder",
          "commercial lighting occupancy va per square foot receptacles demand shop building"),
)  # fmt: skip
# words that say nothing of the task
SILENT = {"for", "a", "an", "the", "of", "what", "which", "size", "to", "on", "in", "i", "need",
          "do", "is", "my", "at", "with"}  # fmt: skip
HORSEPOWER = re.compile(r"(\d+(?:[ -]\d+/\d+|/\d+|\.\d+)?)\s*hp\b")
POWER = re.compile(r"(\d+(?:[.,]\d+)?)\s*(kw|kva|w|va)\b")


def find_tasks(asked: str) -> list[Task]:
    """The tasks that fit best, with what can be read off the question put in."""
    text = asked.lower().strip()
    horsepower, power = HORSEPOWER.search(text), POWER.search(text)
    words = [w for w in re.findall(r"[a-z/]+", text) if w not in SILENT and len(w) > 1]
    scored = []
    for index, task in enumerate(TASKS):
        score = _score(task, words)
        if horsepower and task.kind == "motor":
            score += 4
            task = _with(task, "horsepower", f"{horsepower[1]} hp", f"{horsepower[1]} hp")
        elif power and task.kind == "transformer":
            score += 2 if power[2] == "kva" else 0
            task = _with(task, "kva", f"{power[1]} kVA", f"{power[1]} kVA")
        elif power and task.kind in ("circuit", "cooking") and score:
            entry = "load" if task.kind == "circuit" else "nameplate"
            if dict(task.entries).get("layout") != "together" and dict(task.entries).get(
                "use"
            ) not in ("air conditioning", "receptacles"):
                value = f"{power[1]} {power[2]}"
                task = _with(task, entry, value, value)
        if score:
            scored.append((-score, index, task))
    if not scored:
        return []
    # what fits much worse than the best is no answer to the question
    least = -min(scored)[0] * WORTH_SHOWING
    return [task for score, _, task in sorted(scored)[:SHOWN] if -score >= least]


def _score(task: Task, words: list[str]) -> float:
    """A word of the title counts most, one of the further words less, beginnings count too."""
    title = re.findall(r"[a-z/]+", task.title.lower())
    others = task.words.split()
    score = 0.0
    for word in words:
        stem = word.removesuffix("s")
        if any(t.removesuffix("s") == stem for t in title):
            score += 3
        elif any(t.startswith(stem) and len(stem) > 2 for t in title):
            score += 2
        elif any(o.removesuffix("s") == stem for o in others):
            score += 1
        elif any(o.startswith(stem) and len(stem) > 2 for o in others):
            score += 0.5
    return score


def _with(task: Task, entry: str, value: str, shown: str) -> Task:
    entries = {**dict(task.entries), entry: value}
    return Task(f"{task.title}, {shown}", task.label, task.kind, tuple(entries.items()), task.words)


def usual() -> list[Task]:
    """What is shown before anything is asked."""
    wanted = ("Dwelling service", "Any circuit", "Range", "Motor", "Receptacles", "Feeder")
    return [task for task in TASKS if task.title in wanted]


@require_GET
def find(request: HttpRequest) -> HttpResponse:
    """The quick sheets that answer a question."""
    asked = request.GET.get("q", "").strip()[:80]
    context = {"tasks": find_tasks(asked) if asked else usual(), "q": asked}
    template = "sheets/_tasks.html" if request.htmx else "sheets/find.html"
    return render(request, template, context)
