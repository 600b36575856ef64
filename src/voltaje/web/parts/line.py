"""A whole line read into the entries of an item that stands in a job: ``12 kW range 240 V 45 ft``.

The words choose among the tasks that people ask an item type for, the figures go where the type has
entries for them; the volts say how it is connected to the supply that it stands on. What stands in
no entry is told, never left out in silence."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import inf
from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.utils.translation import gettext
from django.views.decorators.http import require_POST

from voltaje.core.electrical.systems import SYSTEMS, System
from voltaje.core.entries import Entries, fields, names_of
from voltaje.core.job.calculate import supply_point
from voltaje.core.kinds import Context, kind
from voltaje.core.questions import FIGURE, NAMEPLATE, AskedQuantities, read_figures, words_of
from voltaje.web.jobs.views import own_job
from voltaje.web.kinds import kinds_as_uses, plain_kind, presentation, rows_of
from voltaje.web.kinds.presentation import Question
from voltaje.web.parts import finder

# the last words of a line that are no part of its name
JOINING = frozenset(("a", "an", "and", "at", "for", "of", "on", "the", "with", "to", "long", "run"))


@dataclass(frozen=True, slots=True)
class ReadLine:
    """What a line says: the item type, its entries as texts, the figures that stand in none, and
    the words that name it."""

    kind: str
    entries: dict[str, str]
    unread: tuple[str, ...]
    name: str


def read_line(text: str, among: Sequence[str], context: Context, system: System) -> ReadLine | None:
    """The line as entries of one of the item types ``among``, on a supply of that system; ``None``
    where it holds neither a known word nor a figure."""
    asked, code = text.strip(), context.edition.id
    read = replace(read_figures(asked.lower()), code=code)
    words = words_of(asked.lower())
    scored: list[tuple[float, int, Question]] = []
    for index, task in enumerate(finder.tasks()):
        if task.kind in among and finder.stands(task, code):
            score = finder.score_of(task, words) if words else 0.0
            score += presentation(task.kind).boost(dict(task.entries), read, score)
            if score > 0:
                scored.append((-score, index, task))
    tries = [(task.kind, dict(task.entries)) for _, _, task in sorted(scored)]
    if FIGURE.search(asked):
        tries.append((among[0], {}))  # nothing but figures
    for name, own in tries:
        found = _entries(name, own, read, words, context, system)
        if found is None:
            continue  # a sign of 600 VA is no motor, whatever its door may be
        # the volts are in the connection, the phases too
        taken = {**found, "system": system.id} if _stands_there(read, system) else found
        return ReadLine(name, found, finder.unread_of(asked, read, taken, code), _named(asked))
    return None


def _use(model: type[Entries], words: Sequence[str]) -> str:
    """The use of a circuit that the words name, by its own name: a sign, kitchen equipment."""
    spec = next(spec for spec in fields(model) if spec.name == "use")
    said = {word.rstrip("s") for word in words}
    named = (value for value, _ in spec.choices if value != spec.default)
    return next((v for v in named if {w.rstrip("s") for w in v.split()} <= said), "")


def _entries(
    name: str,
    own: Mapping[str, str],
    read: AskedQuantities,
    words: Sequence[str],
    context: Context,
    system: System,
) -> dict[str, str] | None:
    """What the quantities are as entries of an item type; ``None`` where one does not read."""
    of, code = kind(name), context.edition.id
    known = names_of(of.entries_in(context.code))
    found = {**own, **presentation(name).fill(own, read)}
    found["length"] = read.length
    if "use" in known and not own.get("use"):
        found["use"] = _use(of.entries_in(context.code), words)
    found |= finder.conductor_of(name, code, read) | _connected(name, read, own, system)
    found = {key: value for key, value in found.items() if value and key in known}
    problems = of.read(found, context).problems
    return None if any(problem.path in found for problem in problems) else found


def _alike(volts: int, nominal: float) -> bool:
    """Whether the volts of a nameplate are those of a supply: 460 V on 480 V, 230 V on 240 V."""
    low, high = NAMEPLATE
    return bool(nominal) and low <= volts / nominal <= high


def _stands_there(read: AskedQuantities, system: System) -> bool:
    """Whether the supply has the volts that are said, between lines or to the neutral."""
    nominal = (system.line_to_line, system.to_neutral)
    return not read.volts or any(_alike(read.volts, volts) for volts in nominal)


def _connected(
    name: str, read: AskedQuantities, own: Mapping[str, str], system: System
) -> dict[str, str]:
    """How it is connected for the volts and the phases that are said; its own volts where the
    supply has others."""
    shown = presentation(name)
    if not shown.connects:
        return {}
    single = read.phases == "1" or own.get("motor") == "single-phase"
    usual_three = SYSTEMS[shown.usual_system].phases == 3
    # what is said stays so, also where the supply has no three lines: its sheet says that
    three = read.phases == "3" or (system.phases == 3 and usual_three and not single)
    if not read.volts:
        return {"connection": "three-phase"} if three else {}

    def far(nominal: float) -> float:
        return abs(read.volts / nominal - 1) if nominal else inf

    between, neutral = far(system.line_to_line), far(system.to_neutral)
    found = {"connection": "two-line" if between <= neutral else "line-neutral"}
    if three and between <= neutral:
        found = {"connection": "three-phase"}
    if not _stands_there(read, system):
        found["rated_volts"] = f"{read.volts} V"
    return found


_PHASES = re.compile(r"\b(?:[13]|one|three|single)[ -]?(?:ph|phase)\b", re.IGNORECASE)


def _named(asked: str) -> str:
    """The words of a line without its figures, as a name."""
    left = FIGURE.sub(" ", _PHASES.sub(" ", asked))
    words = [word.strip(",.;:()'\"") for word in left.split()]
    while words and words[-1].lower() in JOINING:
        words.pop()
    name = " ".join(word for word in words if word)
    return name[:1].upper() + name[1:80]


MOST_LINES = 200  # no code figure: more are a file
MOST_TEXT = 200


@login_required
@require_POST
def read(request: HttpRequest, job_id: Any, part_id: Any) -> HttpResponse:
    """A line (``q``) as the entries of the part; on a board each line of it as the cells of a
    circuit. Nothing is kept: the page shows it, and keeps it like what is typed."""
    job = own_job(request, job_id)
    part = next((one for one in job.loaded() if one.pk == part_id), None)
    if part is None:
        raise Http404
    context = Context(job.code(), job.units)
    board = presentation(part.kind).table
    point = supply_point(job.inputs(), str(part.pk), context)
    if board:  # a circuit stands on what its board hands on
        entries = kind(part.kind).read(part.entries, context).entries
        point = kind(part.kind).hand_down(entries, point) if entries is not None else point
    asked = [text[:MOST_TEXT] for text in request.POST.get("q", "").splitlines() if text.strip()]
    if len(asked) > MOST_LINES:
        words = gettext("{many} lines: at most {most} are read at once.")
        return JsonResponse({"refused": words.format(many=len(asked), most=MOST_LINES)}, status=422)
    uses = kinds_as_uses(job.family)
    among = (plain_kind(), *uses.values()) if board else (part.kind,)
    found = [(text, read_line(text, among, context, point.system)) for text in asked]
    if board:
        return JsonResponse({"rows": [_cells(text, one, uses) for text, one in found]})
    one = found[0][1] if found else None
    if one is None:
        return JsonResponse({"entries": {}, "unread": []})
    return JsonResponse({"entries": one.entries, "unread": one.unread})


def _cells(text: str, one: ReadLine | None, uses: Mapping[str, str]) -> dict[str, Any]:
    """A line as the cells of a row of a board's table; one that says nothing known is a name."""
    if one is None:
        return {"name": text.strip()}
    as_use = {name: use for use, name in uses.items()}
    load = rows_of()[one.kind].load(one.entries) or ""
    return {
        "name": one.name or text.strip()[:80],
        "use": as_use.get(one.kind) or one.entries.get("use", ""),
        "load": one.entries.get(load, ""),
        "connection": one.entries.get("connection", ""),
        "length": one.entries.get("length", ""),
        "unread": one.unread,
    }
