"""Single-phase or three-phase by a list of loads; the list goes into a new job, spread."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_http_methods

from voltaje.core import quantities
from voltaje.core.codes import Edition, NotCoveredError, editions
from voltaje.core.electrical.advice import ListAdvice, Wanted, advise_list
from voltaje.core.electrical.systems import Connection, System
from voltaje.core.quantities import Nameplate
from voltaje.core.rules.interface import code_of, usual_supplies
from voltaje.web.history import revisions
from voltaje.web.http import intake
from voltaje.web.http.table_files import UnreadableFileError, cleaned, read_csv, uploaded
from voltaje.web.jobs import actions
from voltaje.web.jobs.models import edition_choices

MOST_LOADS = 120
MOST_VA = 1e7
LONGEST_NAME = 60
LONGEST = 20_000  # no code figure: characters of a list
SAMPLE = gettext_lazy(
    "Workshop sockets, 3.2 kW, one line\nWater heater, 4.5 kW, two lines\n"
    "Hoist, 5.5 kW, three lines"
)


def connections() -> dict[str, Connection]:
    """How a load may be said to be connected, in English and in the reader's language."""
    found: dict[str, Connection] = {
        "": "line-neutral",
        "1": "line-neutral",
        "one line": "line-neutral",
        "line and neutral": "line-neutral",
        "2": "two-line",
        "two lines": "two-line",
        "3": "three-phase",
        "three lines": "three-phase",
        "three-phase": "three-phase",
    }
    found[gettext("one line").lower()] = "line-neutral"
    found[gettext("two lines").lower()] = "two-line"
    found[gettext("three lines").lower()] = "three-phase"
    return found


@dataclass
class ListLine:
    """A line of the list as it was read: its number, the load, the text of its amount, what is
    wrong."""

    number: int
    load: Wanted | None
    amount: str = ""
    problem: str = ""
    motor: bool = False

    @property
    def part(self) -> tuple[str, dict[str, str]]:
        """The kind of part that the load becomes, and its entries without its line."""
        assert self.load is not None  # noqa: S101 - asked only of lines that are read
        connection = self.load.connection
        if not self.motor:
            return "circuit", {"load": self.amount, "connection": connection}
        kind = "squirrel cage" if connection == "three-phase" else "single-phase"
        return "motor", {"horsepower": self.amount, "motor": kind, "connection": connection}


@dataclass(frozen=True, slots=True)
class Supplies:
    """The edition by which motors are told, and the two supplies of the question."""

    book: Edition
    single: System
    three: System

    def motor(self, horsepower: float, connection: Connection) -> Nameplate | None:
        """A motor by the code's table: A at the volts that it would stand on."""
        of = self.single if connection == "line-neutral" else self.three
        volts = of.volts(connection) or self.single.volts(connection)
        three = connection == "three-phase"
        cell = code_of(self.book.family).motor_current(horsepower, volts, three, self.book)
        return None if cell is None else Nameplate(amperes=cell.value, volts=volts)


def read_list(text: str, supplies: Supplies) -> list[ListLine]:
    """The lines of a list: name, load, connection, with commas, semicolons or tabs between."""
    found = []
    for number, row in enumerate(text.splitlines(), 1):
        cells = [cleaned(cell) for cells in read_csv(row.encode()) for cell in cells]
        if not any(cells):
            continue
        if number == 1 and len(cells) > 1 and cells[1].lower() in ("load", "va", "kw", "watts"):
            continue  # titles
        found.append(_line(number, [*cells, "", "", ""][:3], supplies))
    return found


def _line(number: int, cells: Sequence[str], supplies: Supplies) -> ListLine:
    name, amount, how = cells
    connection = connections().get(how.lower())
    if not name or not amount:
        words = gettext("Give a name and a load, like: Water heater, 4.5 kW, two lines")
        return ListLine(number, None, amount, words)
    if connection is None:
        words = gettext("“{how}”: write one line, two lines or three lines.").format(how=how[:40])
        return ListLine(number, None, amount, words)
    try:
        plate = quantities.read_nameplate(amount)
    except (quantities.UnreadableError, OverflowError):
        plate = None
    load, motor = None, plate is not None and plate.horsepower is not None
    if plate is not None and plate.horsepower is not None:
        try:
            plate = supplies.motor(plate.horsepower, connection)
        except NotCoveredError as error:
            return ListLine(number, None, amount, str(error))
    if plate is not None:
        called = name[:LONGEST_NAME]
        load = Wanted.of(called, plate, connection, supplies.single, supplies.three)
    if load is None or load.va > MOST_VA:
        words = gettext("“{amount}” is no load: write kW, VA or A, like 4.5 kW.")
        if motor:
            words = gettext("“{amount}”: under this code give a motor by its kW or A.")
        return ListLine(number, None, amount, words.format(amount=amount[:40]))
    return ListLine(number, load, amount, motor=motor)


@login_required
@require_http_methods(["GET", "POST"])
def by_list(request: HttpRequest) -> HttpResponse:
    """The page: a list typed, pasted or from a file; the answer; a new job of it."""
    posted = request.POST
    edition = posted.get("edition", "nec-2020")
    book = next((one for one in editions() if one.id == edition), None)
    book = book or next(one for one in editions() if one.id == "nec-2020")
    code = code_of(book.family)
    single, three = usual_supplies(code)
    text, error, limit_error = posted.get("loads", "")[:LONGEST], "", ""
    if upload := request.FILES.get("file"):
        try:
            text = _from_file(upload)
        except UnreadableFileError as found:
            error = str(found)
    usual = "400 A" if not single.metric else "100 A"
    limit_text = posted.get("limit", "") or usual
    lines: list[ListLine] = []
    advice: ListAdvice | None = None
    if request.method == "POST" and text.strip() and not error:
        lines = read_list(text, Supplies(book, single, three))[: MOST_LOADS + 1]
        limit, limit_error = _limit(limit_text)
        if len(lines) > MOST_LOADS:
            error = gettext("At most {most} loads are taken.").format(most=MOST_LOADS)
        elif lines and not limit_error and not any(line.problem for line in lines):
            loads = [line.load for line in lines if line.load]
            advice = advise_list(loads, limit, single, three)
            if posted.get("make"):
                return _make(request, edition, lines, advice)
    elif request.method == "POST" and not error:
        error = gettext("Give at least one load: a name, its load, how it is connected.")
    shown = []
    if advice is not None:
        shown = [
            (line.load.name, line.amount, advice.lines.get(index, ""))
            for index, line in enumerate(lines)
            if line.load
        ]
    context = {
        "editions": edition_choices(),
        "edition": book.id,
        "limit": limit_text,
        "limit_error": limit_error,
        "loads": text,
        "sample": SAMPLE,
        "problems": [line for line in lines if line.problem],
        "error": error,
        "advice": advice,
        "shown": shown,
        "made": posted.get("made") or str(uuid.uuid4()),
    }
    failed = bool(error or limit_error or context["problems"])
    return render(request, "jobs/adviser_list.html", context, status=422 if failed else 200)


def _limit(text: str) -> tuple[float, str]:
    try:
        value = quantities.read(text, quantities.CURRENT)
    except (quantities.UnreadableError, OverflowError) as error:
        return 0.0, str(error)
    if not 10 <= value <= 2000:
        return 0.0, gettext("Out of range: give 10 A to 2,000 A.")
    return value, ""


def _from_file(upload: Any) -> str:
    """The first three columns of a CSV or XLSX file as lines of text."""
    table = uploaded(upload, MOST_LOADS)
    rows = [[cell.replace(";", ",") for cell in row[:3]] for row in table]
    return "\n".join("; ".join(row) for row in rows if any(row))[:LONGEST]


def _make(
    request: HttpRequest, edition: str, lines: Sequence[ListLine], advice: ListAdvice
) -> HttpResponse:
    """A job with a board that holds the list, each circuit on its line."""
    metric = advice.system.metric
    name = gettext("From a load list")
    made = intake.key(request.POST.get("made"))
    job = actions.create_job(
        request.user,
        name,
        edition,
        "metric" if metric else "us",
        system=advice.system.id,
        begins="board",
        job_id=made,
    )
    board = actions.beginning(job)
    if not job.under(board):
        wanted: dict[str, revisions.State] = {}
        for index, line in enumerate(lines):
            if line.load is None:
                continue
            kind, entries = line.part
            where = advice.lines.get(index, "")
            if where and where != "all":
                entries["line"] = where
            wanted[str(uuid.uuid4())] = {
                "kind": kind,
                "name": line.load.name,
                "parent": str(board.pk),
                "position": (index + 1) * actions.GAP,
                "entries": entries,
            }
        with revisions.changing(job) as held:
            revisions.write(held, request.user, wanted)
    return redirect("jobs:part", job.pk, board.pk)
