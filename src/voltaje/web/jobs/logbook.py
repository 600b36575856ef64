"""The job's logbook: site readings by visit, each beside what is calculated, and what may be
behind the differences; as CSV and back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import groupby
from typing import Any

from django.utils import timezone
from django.utils.dateparse import parse_date, parse_datetime
from django.utils.translation import gettext

from voltaje.core import quantities
from voltaje.core.job.readings import (
    Cause,
    Compared,
    LoadHere,
    causes,
    compare,
    compare_test,
    find,
    find_test,
)
from voltaje.core.kinds import Evaluated
from voltaje.core.report import InstrumentPoint, Report, Test
from voltaje.web.http.table_files import by_column, uploaded, write_csv
from voltaje.web.jobs.models import Job, Part, Reading

COLUMNS = ("part", "point", "value", "unit", "date", "place", "who", "note")
MOST_ROWS = 1000
MOST_READINGS = 5000
EARLIEST = 1990
DIMENSIONS = {
    "V": quantities.VOLTAGE,
    "A": quantities.CURRENT,
    "Ω": quantities.RESISTANCE,
    "MΩ": quantities.INSULATION,
    "ms": quantities.DURATION,
}
UNITS = list(DIMENSIONS)
MOST = {"V": 40_000.0, "A": 10_000.0, "Ω": 20_000.0, "MΩ": 100_000.0, "ms": 10_000.0}


@dataclass(frozen=True, slots=True)
class ReadingRow:
    """A reading beside its calculated value."""

    reading: Reading
    compared: Compared


@dataclass(frozen=True, slots=True)
class AtPart:
    """What was read at one part during a visit, and the likely causes of what does not agree."""

    name: str
    part: Part | None
    rows: tuple[ReadingRow, ...]
    causes: tuple[Cause, ...]


@dataclass(frozen=True, slots=True)
class Visit:
    """Readings of one time, place and person."""

    taken_at: datetime
    place: str
    who: str
    parts: tuple[AtPart, ...]

    @property
    def off(self) -> int:
        """How many do not agree."""
        return sum(
            row.compared.verdict in ("check", "differs") for at in self.parts for row in at.rows
        )


def points_of(found: Mapping[str, Evaluated], part: Part) -> tuple[InstrumentPoint, ...]:
    """Where something can be measured at a part."""
    worked = found[str(part.pk)].report
    return worked.points if worked else ()


def tests_of(found: Mapping[str, Evaluated], part: Part) -> tuple[Test, ...]:
    """What a tester is asked at a part."""
    worked = found[str(part.pk)].report
    return worked.tests if worked else ()


def read_value(text: str, unit: str) -> float:
    """What an instrument showed, in that unit; one beyond its range, ``>999``, as it shows. Raises
    ``quantities.UnreadableError``."""
    shown = text.strip()
    return quantities.read(shown[1:] if shown.startswith(">") else shown, DIMENSIONS[unit])


def visits(
    job: Job, found: Mapping[str, Evaluated], readings: Iterable[Reading] | None = None
) -> list[Visit]:
    """The logbook, or some of its readings, by visit, the newest first."""
    by_id = {part.pk: part for part in job.loaded()}
    readings = job.readings.all() if readings is None else readings
    listed = []

    def key(reading: Reading) -> tuple[datetime, str, str]:
        return reading.taken_at, reading.place, reading.who

    for (taken_at, place, who), group in groupby(sorted(readings, key=key, reverse=True), key=key):
        at_parts = []
        by_part = sorted(group, key=lambda r: (r.part_name, UNITS.index(r.unit), r.point))
        for name, rows in groupby(by_part, key=lambda r: r.part_name):
            at_parts.append(_at_part(job, name, list(rows), by_id, found))
        listed.append(Visit(taken_at, place, who, tuple(at_parts)))
    return listed


def _at_part(
    job: Job,
    name: str,
    readings: Sequence[Reading],
    by_id: Mapping[Any, Part],
    found: Mapping[str, Evaluated],
) -> AtPart:
    part = by_id.get(readings[0].part_id)
    points = points_of(found, part) if part else ()
    tests = tests_of(found, part) if part else ()
    band = job.limits().supply_band(job.code())
    rows = tuple(ReadingRow(r, _compared(r, points, tests, band)) for r in readings)
    loads = loads_at(job, part, found) if part else []
    likely = causes([row.compared for row in rows], loads)
    return AtPart(part.name if part else name, part, rows, tuple(likely))


def _compared(
    reading: Reading,
    points: Sequence[InstrumentPoint],
    tests: Sequence[Test],
    band: tuple[float, float],
) -> Compared:
    test = find_test(tests, reading.point, reading.unit)
    if test is not None:
        return compare_test(test, reading.value)
    return compare(reading.point, reading.unit, reading.value, points, band)


def beside(job: Job, part: Part, found: Mapping[str, Evaluated], reading: Reading) -> ReadingRow:
    """One reading at a part beside what is calculated there now."""
    band = job.limits().supply_band(job.code())
    given = (points_of(found, part), tests_of(found, part))
    return ReadingRow(reading, _compared(reading, *given, band))


def loads_at(job: Job, part: Part, found: Mapping[str, Evaluated]) -> list[LoadHere]:
    """The loads of a part with their lines and amperes: its own, or the circuits on it."""
    worked, outcome = found[str(part.pk)].report, found[str(part.pk)].outcome
    if worked is None:
        return []
    placed = outcome.placed or ()
    lines = {piece.part: piece.line for piece in placed}
    listed = [LoadHere(str(p.label), p.line, p.value) for p in worked.points if p.role == "load"]
    for child in job.under(part):
        under = found[str(child.pk)].outcome
        line = lines.get(str(child.pk))
        if under is not None and line and under.amperes is not None:
            listed.append(LoadHere(child.name, line, under.amperes))
    return listed


# CSV -------------------------------------------------------------------------------------------


def to_csv(job: Job) -> str:
    """All readings, the newest first, in the columns that are read back."""
    listed: list[Sequence[str]] = [COLUMNS]
    names = {part.pk: part.name for part in job.loaded()}
    for r in job.readings.all():
        name = names.get(r.part_id, r.part_name) if r.part_id else r.part_name
        when = timezone.localtime(r.taken_at).strftime("%Y-%m-%d %H:%M")
        listed.append((name, r.point, f"{r.value:g}", r.unit, when, r.place, r.who, r.note))
    return write_csv(listed)


@dataclass(frozen=True, slots=True)
class Taken:
    """One row of a file: the reading it would become, or why not."""

    number: int
    cells: Mapping[str, str]
    wrong: tuple[str, ...]
    reading: Reading | None


def read_file(upload: Any) -> list[dict[str, str]]:
    """The rows of a CSV or XLSX file by column. Raises :class:`UnreadableFileError`."""
    titles = {name: name for name in COLUMNS}
    return by_column(uploaded(upload, MOST_ROWS), titles, ("part", "point", "value"))


def take(
    job: Job, rows: Iterable[Mapping[str, str]], found: Mapping[str, Evaluated], who: str
) -> list[Taken]:
    """What each row would become. Nothing is kept."""
    by_name: dict[str, list[Part]] = {}
    for part in job.loaded():
        by_name.setdefault(part.name.casefold(), []).append(part)
    return [_row(number, row, by_name, job, found, who) for number, row in enumerate(rows, 2)]


def _row(
    number: int,
    row: Mapping[str, str],
    by_name: Mapping[str, list[Part]],
    job: Job,
    found: Mapping[str, Evaluated],
    who: str,
) -> Taken:
    wrong: list[str] = []
    parts = by_name.get(row.get("part", "").casefold(), [])
    part = parts[0] if len(parts) == 1 else None
    if not parts:
        wrong.append(gettext("The job has no part “{part}”.").format(part=row.get("part", "")))
    elif part is None:
        wrong.append(gettext("Several parts bear this name: rename one first."))
    unit = _unit(row.get("unit", "").strip() or row.get("value", "").lstrip("<> 0123456789.,"))
    if not unit:
        wrong.append(gettext("Give the unit: V, A, Ω, MΩ or ms."))
    value = _value(row.get("value", ""), unit, wrong) if unit else 0.0
    point = row.get("point", "")
    if part is not None and unit:
        points = [p for p in points_of(found, part) if p.unit == unit]
        tests = [t for t in tests_of(found, part) if t.unit == unit]
        at = find(points, point) or find_test(tests, point, unit)
        if at is None:
            names = [*(p.name for p in points), *(t.name for t in tests)]
            known = ", ".join(names[:8]) or gettext("none yet")
            wrong.append(
                gettext("There is no point “{point}” for {unit} there: {known}.").format(
                    point=point, unit=unit, known=known
                )
            )
        else:
            point = at.name
    taken_at = when(row.get("date", ""), wrong)
    person = row.get("who", "") or who
    if wrong or part is None or taken_at is None:
        return Taken(number, row, tuple(wrong), None)
    return Taken(
        number,
        row,
        (),
        Reading(
            job=job,
            part=part,
            part_name=part.name,
            point=point,
            unit=unit,
            value=value,
            taken_at=taken_at,
            place=row.get("place", "")[:80],
            who=person[:80],
            note=row.get("note", "")[:200],
        ),
    )


def _unit(text: str) -> str:
    """The unit as it is kept; empty where it is none."""
    spelled = text.strip().casefold()
    ways = {name.casefold(): name for name in DIMENSIONS} | {"ohm": "Ω", "ohms": "Ω", "mohm": "MΩ"}
    return ways.get(spelled, "")


def _value(text: str, unit: str, wrong: list[str]) -> float:
    try:
        value = read_value(text, unit)
    except quantities.UnreadableError as error:
        wrong.append(str(error))
        return 0.0
    if not 0 <= value <= MOST[unit]:
        wrong.append(
            gettext("Out of range: give 0 to {most:,.0f} {unit}.").format(
                most=MOST[unit], unit=unit
            )
        )
    return value


def when(text: str, wrong: list[str]) -> datetime | None:
    """A date, with or without a time, in the local zone; now where nothing is given."""
    if not text:
        return timezone.now().replace(second=0, microsecond=0)
    try:
        day = parse_date(text)
        found = (
            parse_datetime(text.replace(" ", "T"))
            if day is None
            else datetime(day.year, day.month, day.day, 12)
        )
    except (ValueError, OverflowError):
        found = None
    if found is None:
        wrong.append(gettext("Give the date like 2026-11-20 or 2026-11-20 14:30."))
        return None
    # in another zone the first and the last years of the calendar run over its edge
    if found.year < EARLIEST:
        wrong.append(
            gettext("Give a date from {earliest} on, like 2026-11-20.").format(earliest=EARLIEST)
        )
        return None
    if found.year > timezone.now().year + 1:
        wrong.append(gettext("The date lies in the future."))
        return None
    if timezone.is_naive(found):
        found = timezone.make_aware(found)
    if found > timezone.now() + timedelta(days=1):
        wrong.append(gettext("The date lies in the future."))
    return found


def summary(worked: Report | None) -> list[tuple[str, str]]:
    """The points of a part for a choice: address and words."""
    if worked is None:
        return []
    asked: tuple[InstrumentPoint | Test, ...] = (*worked.points, *worked.tests)
    return [(f"{p.unit}|{p.name}", f"{p.label}, {p.unit}") for p in asked]
