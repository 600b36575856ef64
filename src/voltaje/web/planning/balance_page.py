"""What the balance page shows: spreads beside each other, what each number of moves reaches, the
work of the one that is chosen, board by board."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.utils.translation import gettext, ngettext

from voltaje.core.electrical.balance import (
    Answer,
    BalanceTask,
    Measure,
    Objective,
    Work,
    built,
    by_hand,
    measure,
    unbuilt,
)
from voltaje.core.electrical.panel_layout import Schedule
from voltaje.core.entries import fields
from voltaje.core.job.spread import Consequence, Spread, consequence
from voltaje.core.kinds import Evaluated
from voltaje.core.quantities import read_number
from voltaje.core.report import figure
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.worked import work_job
from voltaje.web.planning.long_work import UNITS, with_steps

BAR = 160.0
MOST_WEIGHT = 100.0  # no code figure


@dataclass(frozen=True)
class MovesPoint:
    """One number of moves on the page: what it reaches, and how long its bar is."""

    work: Work
    shown: str
    bar: float
    chosen: bool


@dataclass(frozen=True)
class Column:
    """One spread on the page, beside the others: as it is in the case that counts most, and what
    the objective comes to in each case."""

    title: str
    measured: Measure
    cases: tuple[str, ...]
    device: float
    note: str = ""

    @property
    def lines(self) -> list[tuple[str, str, str]]:
        """Line, VA, A."""
        return [
            (name, figure(va, 0), figure(self.measured.amperes[name], 1))
            for name, va in self.measured.va.items()
        ]

    @property
    def deviation(self) -> str:
        return figure(self.measured.deviation, 1)

    @property
    def neutral(self) -> str:
        return figure(self.measured.neutral, 1)

    @property
    def heaviest(self) -> str:
        return figure(self.measured.heaviest, 1)

    @property
    def lost(self) -> str:
        return figure(self.measured.lost, 2)

    @property
    def over(self) -> bool:
        """Whether the heaviest line carries more than its device."""
        return 0 < self.device < self.measured.heaviest


@dataclass(frozen=True)
class OnBoard:
    """A board below: its worst deviation now and afterwards, percent."""

    name: str
    now: str
    after: str


def asked(request_lines: Any) -> tuple[list[str], dict[str, float], bool]:
    """Pins, weights of cases by their names, and whether their sum counts, from a query."""
    pins = request_lines.getlist("pin")
    weights: dict[str, float] = {}
    for name, text in request_lines.items():
        if name.startswith("weight-"):
            try:
                value = read_number(text)
            except (ValueError, OverflowError):
                continue
            weights[name.removeprefix("weight-")] = min(max(value, 0.0), MOST_WEIGHT)
    return pins, weights, request_lines.get("by") == "sum"


def found(
    spread: Spread,
    task: BalanceTask,
    objective: Objective,
    limit: float,
    best: Answer,
    works: list[Work],
    moves: int | None,
    searching: bool = False,
) -> dict[str, Any]:
    """The part of the page that a search fills; ``searching``: it has not ended yet."""
    hand = by_hand(task)
    most = max((work.answer.value for work in works), default=0.0)
    chosen = next((work for work in works if work.moves == moves), None)
    chosen = chosen or _advised(works, objective, limit)
    if chosen is not None:
        works[works.index(chosen)] = chosen = with_steps(task, chosen)
    points = [
        MovesPoint(
            work,
            figure(work.answer.value, 1),
            round(BAR * work.answer.value / most, 1) if most else 0.0,
            work is chosen,
        )
        for work in works
    ]
    by_rule = gettext("each onto the lightest line")
    if unbuilt(task, hand):
        by_rule = gettext("each onto the lightest line: the board has no such positions")
    columns = [
        _column(gettext("Existing"), spread, task, task.now(), objective),
        _column(gettext("Largest first"), spread, task, hand, objective, by_rule),
        _column(
            gettext("Optimum") if best.proven else gettext("Best found"),
            spread,
            task,
            best.lines,
            objective,
            _proof(best, objective, searching),
        ),
    ]
    if chosen is not None and chosen.moves:
        words = ngettext("{n} move", "{n} moves", chosen.moves)
        title = words.format(n=chosen.moves)
        columns.insert(1, _column(title, spread, task, chosen.answer.lines, objective))
    lines = chosen.answer.lines if chosen else task.now()
    return {
        "task": task,
        "columns": columns,
        "case_names": [case.name for case in task.cases] if len(task.cases) > 1 else [],
        "points": points,
        "chosen": chosen,
        "limit": figure(limit, 0) if objective == "deviation" else "",
        "unit": UNITS[objective],
        "objective": objective,
        "device": figure(spread.device, 0) if spread.device else "",
        "alone": not any(load.free for load in task.loads),
        "boards": _boards(spread, task, lines) if len(spread.boards) > 1 else [],
        "several": len(spread.boards) > 1,
        "names": spread.names,
        "changes": changes(task, lines) if chosen else [],
        "proven": best.proven,
    }


def _column(
    title: str,
    spread: Spread,
    task: BalanceTask,
    lines: Mapping[str, str],
    objective: Objective,
    note: str = "",
) -> Column:
    found = [measure(task, lines, case) for case in task.cases]
    worst = max(found, key=lambda one: one.of(objective))
    unit = UNITS[objective]
    each = tuple(f"{figure(one.of(objective), 1)} {unit}" for one in found)
    return Column(title, worst, each, spread.device, note)


def _boards(spread: Spread, task: BalanceTask, lines: Mapping[str, str]) -> list[OnBoard]:
    """Each board by itself, now and afterwards: what is even together may not be so on each."""
    rows = []
    for key, name in spread.names.items():
        texts = [figure(spread.deviation(task, at, key), 1) for at in (task.now(), lines)]
        rows.append(OnBoard(name, *texts))
    return rows


def _advised(works: list[Work], objective: Objective, limit: float) -> Work | None:
    """The fewest moves that bring the board within its own limit, percent; else the last."""
    if not works:
        return None
    if objective == "deviation":
        within = next((work for work in works if work.answer.value <= limit), None)
        if within is not None:
            return within
    return works[-1]


def _proof(best: Answer, objective: Objective, searching: bool) -> str:
    if best.proven:
        return gettext("proven: nothing is better by more than can be measured")
    if searching:
        return gettext("so far; the search is running")
    return gettext("within {gap} {unit} of the optimum, when the search ended").format(
        gap=figure(best.gap, 1), unit=UNITS[objective]
    )


def changes(task: BalanceTask, lines: Mapping[str, str]) -> list[tuple[str, str, str]]:
    """Every circuit that has a line of its own: its key, the line it stands on, the one to be. All
    are kept with their lines, so that none is spread anew by itself."""
    return [(load.key, load.line, lines[load.key]) for load in task.loads if len(load.options) > 1]


def _rows(part: Part, task: BalanceTask, lines: Mapping[str, str]) -> dict[str, Any]:
    """Lists of a part with the lines of its rows."""
    wanted: dict[str, dict[str, str]] = {}
    for load in task.loads:
        name, _, row = load.key.partition(".")
        if load.free:
            wanted.setdefault(name, {})[row] = lines[load.key]
    return {
        name: [
            {**row, "line": rows[row["id"]]} if row.get("id") in rows else row
            for row in part.entries.get(name, [])
        ]
        for name, rows in wanted.items()
    }


def states(
    job: Job, top: Part, task: BalanceTask, spread: Spread, lines: Mapping[str, str]
) -> dict[str, dict[str, Any]] | None:
    """What each part's entries are to be: its line, and its place where it has one or cannot say
    its line otherwise. ``None``: some board has no places for it."""
    after = built(task, lines)
    if after is None:
        return None
    if spread.rows is not None:
        return {str(top.pk): _rows(top, task, lines)}
    by_id: dict[str, Part] = {str(part.pk): part for part in job.loaded()}
    wanted: dict[str, dict[str, Any]] = {}
    for load in task.loads:
        part = by_id.get(load.key)
        if part is not None and load.free and lines[load.key] in choices(job, part):
            wanted.setdefault(load.key, {})["line"] = lines[load.key]
    for key, schedule in after.items():
        for device, name in _moved(spread.boards[key], schedule, job, by_id):
            wanted.setdefault(device, {})["position"] = name
    return wanted


def _moved(
    before: Schedule, after: Schedule, job: Job, by_id: Mapping[str, Part]
) -> list[tuple[str, str]]:
    """Devices of a board that come to other places and say where they stand, by their keys."""
    was = {seat.device.key: seat for seat in before.seats}
    found = []
    for seat in after.seats:
        old, part = was[seat.device.key], by_id.get(seat.device.key)
        if part is None or seat.span is None or seat.span == old.span:
            continue
        if old.given or not choices(job, part):
            found.append((seat.device.key, seat.span[0].name))
    return found


def choices(job: Job, part: Part) -> tuple[str, ...]:
    """The lines that a part's own entries can say."""
    for spec in fields(job.entries_of(part.kind)):
        if spec.name == "line":
            return tuple(value for value, _ in spec.choices)
    return ()


@dataclass(frozen=True)
class Effect:
    """A row of what spreads do: its title, and a text for each with whether it is out of band."""

    title: str
    cells: tuple[tuple[str, bool], ...]


def effects(
    job: Job, top: Part, task: BalanceTask, spread: Spread, chosen: Work | None
) -> tuple[list[str], list[Effect], list[Effect]]:
    """What the schedule now, after the chosen moves, and the hand rule do to the volts: titles of
    the columns, the rows, and a row for every load. A spread that cannot be built is left out."""
    wanted = [(gettext("Existing"), task.now())]
    if chosen is not None and chosen.moves:
        words = ngettext("{n} move", "{n} moves", chosen.moves)
        wanted.append((words.format(n=chosen.moves), dict(chosen.answer.lines)))
    wanted.append((gettext("Largest first"), by_hand(task)))
    titles, seen = [], []
    for title, lines in wanted:
        found = _worked_with(job, top, task, spread, lines)
        if found is not None:
            titles.append(title)
            seen.append(consequence(job.inputs(), found, str(top.pk), spread))
    if not seen[0].loads:  # no length is known: nothing is lost anywhere
        return titles, [], []
    band = job.limits().band(job.code())
    rows = []
    for index, name in enumerate(spread.names.values()):
        cells = tuple((_volts(one.boards[index].volts), False) for one in seen)
        rows.append(Effect(gettext("{name}, V").format(name=name), cells))
        neutral = tuple((f"{figure(one.boards[index].neutral, 1)} A", False) for one in seen)
        if task.system.has_neutral:
            rows.append(Effect(gettext("{name}, neutral").format(name=name), neutral))
    if all(one.lowest for one in seen):
        rows.append(Effect(gettext("Lowest voltage"), tuple(_lowest(one, band) for one in seen)))
    cells = tuple((f"{figure(one.losses, 0)} W", False) for one in seen)
    rows.append(Effect(gettext("Losses in all conductors"), cells))
    loads = [
        Effect(name, tuple(_at_load(one.loads[index], band) for one in seen))
        for index, (name, _, _) in enumerate(seen[0].loads)
        if all(len(one.loads) > index for one in seen)
    ]
    return titles, rows, loads


def _worked_with(
    job: Job, top: Part, task: BalanceTask, spread: Spread, lines: Mapping[str, str]
) -> Mapping[str, Evaluated] | None:
    """The job with a spread put in; ``None`` where it cannot be built."""
    if lines == task.now():
        return work_job(job)
    changed = states(job, top, task, spread, lines)
    if changed is None:
        return None
    by_id = {str(part.pk): part for part in job.loaded()}
    return work_job(job, {key: {**by_id[key].entries, **new} for key, new in changed.items()})


def _volts(volts: tuple[tuple[str, float], ...]) -> str:
    return " · ".join(f"{line} {figure(there, 1)}" for line, there in volts)


Band = tuple[float, float]  # percent of the nominal volts, lowest and highest


def _at_load(load: tuple[str, float, float], band: Band) -> tuple[str, bool]:
    _, volts, percent = load
    words = gettext("{volts} V, {percent} %").format(
        volts=figure(volts, 1), percent=figure(percent, 1)
    )
    return words, not band[0] <= percent <= band[1]


def _lowest(one: Consequence, band: Band) -> tuple[str, bool]:
    name, volts, percent = one.lowest or ("", 0.0, 100.0)
    words = gettext("{volts} V, {percent} %: {name}").format(
        volts=figure(volts, 1), percent=figure(percent, 1), name=name
    )
    return words, percent < band[0]
