"""The sections of a set as blocks, from a job and what it was worked to."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from math import ceil, inf

from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.html import strip_tags
from django.utils.translation import gettext

from voltaje.core.capabilities import InterruptsFaults, can
from voltaje.core.codes import edition
from voltaje.core.kinds import Evaluated, kind
from voltaje.core.materials import GROUPS, Allowances, MaterialLine, take_off
from voltaje.core.quantities import feet
from voltaje.core.report import Report, figure, told
from voltaje.web.board import chart
from voltaje.web.board import table as board_table
from voltaje.web.documents import sheets
from voltaje.web.documents.blocks import (
    Block,
    Contents,
    Facts,
    Grid,
    Heading,
    Picture,
    Signatures,
    Words,
)
from voltaje.web.jobs import digest, logbook, one_line, overview
from voltaje.web.jobs.models import Job, Part
from voltaje.web.kinds import presentation
from voltaje.web.parts.templatetags.voltaje import shown, status_word

NOTHING = 1e-9  # no code figure
MARK = 8  # no code figure: letters of a revision's mark


@dataclass(frozen=True, slots=True)
class Worked:
    """A job with what it was worked to, in the order of its tree; ``by`` who prepares the set."""

    job: Job
    found: Mapping[str, Evaluated]
    by: str

    @property
    def parts(self) -> list[Part]:
        return self.job.loaded()

    def of(self, part: Part) -> Evaluated:
        """What an item was worked to."""
        return self.found[str(part.pk)]


def mark_of(job: Job) -> str:
    """A mark of all that a set rests on: entries, settings, amendments, the rules that are running.
    Two sheets with the same mark agree."""
    state = [
        digest.program(),
        job.edition,
        job.second,
        job.units,
        repr(job.limits()),
        repr(job.shop()),
        [[str(one.pk), one.kind, one.name, one.entries] for one in job.loaded()],
        [[a.topic, a.row, a.column, a.value] for a in job.amendments.all()],
    ]
    text = json.dumps(state, sort_keys=True, default=str)
    return hashlib.sha256(text.encode()).hexdigest()[:MARK]


def cover(work: Worked) -> list[Block]:
    """The job, its codes, its amendments, cautions, what the set holds, who signs for it."""
    job = work.job
    facts = [
        (gettext("Code"), edition(job.edition).title),
        (gettext("Revision"), f"{job.revision} ({mark_of(job)})"),
        (gettext("Date"), f"{timezone.localtime():%Y-%m-%d}"),
        (gettext("Prepared by"), work.by),
    ]
    if job.second:
        facts.insert(1, (gettext("Second code"), edition(job.second).title))
    counts = overview.make(work.parts, work.found)["counts"]
    said = [f"{counts[name]} {status_word(name)}" for name in overview.STATUSES if name in counts]
    blocks: list[Block] = [
        Heading(1, job.name, "cover"),
        Facts(tuple(facts)),
        Words(gettext("Items: {counts}").format(counts=", ".join(said))),
    ]
    amendments = list(job.amendments.all())
    if amendments:
        head = (gettext("Table"), gettext("Cell"), gettext("Value"), gettext("Adopted by"))
        rows = tuple(
            (a.topic, f"{a.row} {a.column}".strip(), a.value, f"{a.jurisdiction}: {a.reason}")
            for a in amendments
        )
        blocks.append(Heading(2, gettext("Local amendments of this job")))
        blocks.append(Grid(head, rows, (1.5, 2, 1, 4), (2,)))
    caution = " ".join(strip_tags(render_to_string("_caution.html")).split())
    site = gettext("A change of conductor size or device on site needs the designer’s approval.")
    blocks += [
        Words(caution, "caution"),
        Words(site, "caution"),
        Signatures((gettext("Name and licence"), gettext("Signature"), gettext("Date"))),
        Contents(gettext("Contents")),
    ]
    return blocks


def still_open(work: Worked) -> list[Block]:
    """Every item that is incomplete, fails or deserves a look, the worst first."""
    rows: list[tuple[int, tuple[str, ...]]] = []
    for part in work.parts:
        one = work.of(part)
        if one.report is None:
            said = [str(problem.words) for problem in one.problems] or [gettext("No result")]
            for words in said:
                rows.append((1, (part.name, status_word("incomplete"), words, "")))
            continue
        for name in one.report.missing:
            words = gettext("The result of {name} is missing.").format(name=name)
            rows.append((1, (part.name, status_word("incomplete"), words, "")))
        for f in one.report.findings:
            if f.severity in ("fail", "check", "incomplete") and f.accepted is None:
                worst = {"fail": 0, "incomplete": 1, "check": 2}[f.severity]
                words = " ".join(filter(None, (str(f.words), str(f.remedy or ""))))
                row = (part.name, status_word(f.severity), words, sheets.rules(f.rules))
                rows.append((worst, row))
    blocks: list[Block] = [Heading(1, gettext("Open items"), "open")]
    if not rows:
        return [*blocks, Words(gettext("Every item passes."))]
    head = (gettext("Item"), gettext("Status"), gettext("Finding"), gettext("Rule"))
    rows.sort(key=lambda one: one[0])
    return [*blocks, Grid(head, tuple(row for _, row in rows), (2, 1.1, 5, 1.5))]


def loads(work: Worked) -> list[Block]:
    """For each supply its load calculation with every factor, and what it carries."""
    blocks: list[Block] = [Heading(1, gettext("Load calculation"), "loads")]
    for part in work.parts:
        if not kind(part.kind).root:
            continue
        blocks.append(Heading(2, part.name))
        worked = work.of(part).report
        if worked is None:
            blocks.append(Words(gettext("No answer: incomplete"), "incomplete"))
            continue
        if worked.missing:
            names = ", ".join(one.name for one in work.of(part).missing)
            words = gettext(
                "Without {names}, whose result is missing: every sum here is a lower bound."
            )
            blocks.append(Words(words.format(names=names), "incomplete"))
        blocks.append(sheets.answer(worked))
        for section in worked.sections:
            blocks += sheets.worksheet(section)
    return blocks


def diagram(work: Worked) -> list[Block]:
    """The one-line diagram: with its circuits where that is still read on a few sheets."""
    drawing = one_line.drawn(work.job, work.found, circuits=True)
    if drawing.height > one_line.TALL:
        drawing = one_line.drawn(work.job, work.found, circuits=False)
    says = gettext("One-line diagram of {name}").format(name=work.job.name)
    svg = one_line.alone(work.job, drawing)
    return [
        Heading(1, gettext("One-line diagram"), "diagram"),
        Picture(svg, drawing.width, drawing.height, says, one_line.SVG_STYLE),
    ]


def panels(work: Worked) -> list[Block]:
    """The schedule of each board: its circuits with device, conductors, length and drop; what each
    line carries. Of a family that has a circuit chart, that chart."""
    job = work.job
    blocks: list[Block] = []
    for part in work.parts:
        if not presentation(part.kind).table:
            continue
        one = work.of(part)
        blocks.append(Heading(1, part.name, f"panel-{part.pk}"))
        above = part.parent.name if part.parent else ""
        blocks.append(Words(gettext("Fed by {name}").format(name=above) if above else "", "soft"))
        if one.report is None:
            blocks.append(Words(gettext("No answer: incomplete"), "incomplete"))
        else:
            blocks.append(sheets.answer(one.report))
            blocks += _by_line(one.report)
        rows = board_table.rows(job, part, work.found)
        charted = board_table.charted(job.family)
        blocks.append(_chart(job, rows) if charted else _schedule(rows))
    return blocks or [
        Heading(1, gettext("Panel schedules"), "panels"),
        Words(gettext("No board in this job.")),
    ]


def _by_line(worked: Report) -> list[Block]:
    """What each line of a board carries, and its neutral."""
    found = worked.results
    rows = []
    for line in ("l1", "l2", "l3"):
        va, amperes = found.get(f"va_{line}"), found.get(f"current_{line}")
        if va is not None and amperes is not None:
            rows.append((told(str(va.label)), sheets.result(va), sheets.result(amperes)))
    if not rows:
        return []
    if (neutral := found.get("neutral_amperes")) is not None:
        rows.append((told(str(neutral.label)), "", sheets.result(neutral)))
    head = (gettext("Phase"), gettext("Load"), gettext("Amperes"))
    return [Grid(head, tuple(rows), (1, 1, 1), (1, 2))]


def _schedule(rows: Iterable[board_table.CircuitRow]) -> Grid:
    head = (
        gettext("Space"),
        gettext("Circuit"),
        gettext("Use"),
        gettext("Load"),
        gettext("Phase"),
        gettext("Amperes"),
        gettext("Device, A"),
        gettext("Conductors"),
        gettext("Length"),
        gettext("Drop, %"),
    )
    made = []
    for row in rows:
        text = {cell.column: cell.text for cell in row.cells}
        found = board_table.answer(row)
        use = next((c for c in row.cells if c.column == "use"), None)
        made.append(
            (
                row.stands,
                row.part.name,
                told(_choice(use)) or told(row.label),
                text.get("load", ""),
                row.at,
                status_word("incomplete")
                if row.report is None or row.report.missing
                else found["amperes"],
                found["device"],
                found["conductor"],
                text.get("length", ""),
                found["drop_percent"],
            )
        )
    return Grid(head, tuple(made), (0.9, 2.4, 1.7, 1.4, 0.9, 1, 0.9, 2.2, 1, 0.8), (5, 6, 8, 9))


def _choice(cell: board_table.TableCell | None) -> str:
    if cell is None:
        return ""
    choices = dict(cell.spec.choices) if cell.spec is not None and cell.spec.choices else {}
    return str(choices.get(cell.text, cell.text))


def _chart(job: Job, rows: list[board_table.CircuitRow]) -> Grid:
    head = (
        gettext("Way"),
        gettext("Circuit"),
        gettext("Device"),
        gettext("Line, mm²"),
        gettext("Earth, mm²"),
        gettext("Method"),
        gettext("Length"),
        gettext("Zs, Ω"),
        gettext("at most, Ω"),
        gettext("RCD"),
        gettext("Tested, Ω"),
    )
    made = tuple(
        (
            way.number,
            way.name,
            gettext("no result") if way.missing else way.device,
            way.line,
            way.protective,
            way.run,
            way.length,
            way.loop,
            way.most,
            way.residual,
            way.tested,
        )
        for way in chart.ways(job, rows)
    )
    return Grid(head, made, (0.8, 2.4, 1.6, 1, 1, 1.4, 1, 1, 1.1, 1, 1.1), (0, 3, 4, 6, 7, 8, 10))


def levels(work: Worked) -> list[Block]:
    """Voltage drop from the supply and available fault current at every item."""
    head = (
        gettext("Item"),
        gettext("Amperes"),
        gettext("Voltage drop, %"),
        gettext("From the supply, %"),
        gettext("Fault current, A"),
        gettext("Interrupting rating, A"),
        gettext("Margin, A"),
    )
    rows = []
    for part in work.parts:
        one = work.of(part)
        if one.outcome is None or one.missing:
            rows.append((part.name, status_word("incomplete"), "", "", "", "", ""))
            continue
        outcome, volts = one.outcome, one.volts
        rating = one.entries.interrupting if can(one.entries, InterruptsFaults) else None
        fault = outcome.fault or None
        # behind an item without a result it is only the most that it can be
        most = one.context is not None and bool(one.context.supply.bounded)
        rows.append(
            (
                part.name,
                _figure(outcome.amperes, 1),
                _figure(outcome.drop, 1),
                _figure(volts.drop_total if volts is not None else None, 1),
                f"≤ {_figure(fault, 0)}" if most and fault else _figure(fault, 0),
                _figure(rating, 0),
                _figure(rating - fault if rating and fault else None, 0),
            )
        )
    return [
        Heading(1, gettext("Voltage drop and fault current"), "levels"),
        Grid(head, tuple(rows), (3, 1, 1, 1.2, 1.3, 1.5, 1.1), (1, 2, 3, 4, 5, 6)),
    ]


def _read(value: float | None, unit: str) -> str:
    return "" if value is None else f"{shown(value, unit)} {unit}"


def _figure(value: float | None, digits: int) -> str:
    return "" if value is None or abs(value) == inf else figure(value, digits)


def materials(work: Worked) -> list[Block]:
    """What the sheets chose, added up for an order; what is not counted stands first."""
    job = work.job
    found = {str(part.pk): work.of(part) for part in work.parts}
    allowed = Allowances()
    order = take_off(found, job.family.family, allowed)
    blocks: list[Block] = [Heading(1, gettext("Materials"), "materials")]
    words = gettext(
        "Lengths include {end} at each end and {waste} % waste; fittings are estimated."
    )
    us = job.units == "us"
    end = f"{figure(feet(allowed.end), 1)} ft" if us else f"{figure(allowed.end, 1)} m"
    blocks.append(Words(words.format(end=end, waste=figure(100 * allowed.waste, 0)), "soft"))
    names = {str(part.pk): part.name for part in work.parts}
    if order.left_out:
        rows = tuple((names[one.item], str(one.why)) for one in order.left_out)
        blocks.append(Heading(2, gettext("Not counted")))
        blocks.append(Grid((gettext("Item"), gettext("Why")), rows, (1, 2)))
    for group, title in GROUPS.items():
        lines = [line for line in order.lines if line.group == group]
        if lines:
            blocks.append(Heading(2, str(title)))
            head = (gettext("Material"), gettext("Quantity"), gettext("Items"))
            made = tuple(
                (str(line.label), _quantity(line, job), str(len(line.items))) for line in lines
            )
            blocks.append(Grid(head, made, (5, 1.2, 0.8), (1, 2)))
    return blocks


def _quantity(line: MaterialLine, job: Job) -> str:
    """Whole feet or metres, rounded up: an order is never short."""
    if line.unit != "m":
        return figure(line.quantity, 0)
    if job.units == "us":
        return f"{figure(ceil(feet(line.quantity) - NOTHING), 0)} ft"
    return f"{figure(ceil(line.quantity - NOTHING), 0)} m"


def main_sheets(work: Worked) -> list[Block]:
    """The worksheets of what feeds others."""
    return _worksheets(work, [part for part in work.parts if kind(part.kind).holds_parts])


def all_sheets(work: Worked) -> list[Block]:
    """The worksheets of all items."""
    return _worksheets(work, work.parts)


def _worksheets(work: Worked, parts: Iterable[Part]) -> list[Block]:
    blocks: list[Block] = [Heading(1, gettext("Worksheets"), "sheets")]
    for part in parts:
        blocks += sheets.item(work.job, part, work.of(part))
    return blocks


def accepted(work: Worked) -> list[Block]:
    """Checks that somebody has accepted as they stand, with name and reason."""
    rows = [
        (part.name, str(f.words), f.accepted.by, f.accepted.reason)
        for part in work.parts
        if (worked := work.of(part).report) is not None
        for f in worked.findings
        if f.accepted is not None
    ]
    blocks: list[Block] = [Heading(1, gettext("Accepted checks"), "accepted")]
    if not rows:
        return [*blocks, Words(gettext("No accepted checks."))]
    head = (gettext("Item"), gettext("Check"), gettext("Accepted by"), gettext("Reason"))
    return [*blocks, Grid(head, tuple(rows), (2, 4, 1.4, 3))]


def readings(work: Worked) -> list[Block]:
    """The logbook: every reading beside its calculated value, visit by visit."""
    blocks: list[Block] = [Heading(1, gettext("Site readings"), "readings")]
    visits = logbook.visits(work.job, work.found)
    if not visits:
        return [*blocks, Words(gettext("No site readings yet."))]
    head = (gettext("Item"), gettext("Point"), gettext("Reading"), gettext("Calculated"),
            gettext("Note"))  # fmt: skip
    for visit in visits:
        when = timezone.localtime(visit.taken_at)
        who = ", ".join(filter(None, (visit.place, visit.who)))
        blocks.append(Heading(2, f"{when:%Y-%m-%d %H:%M %Z} {who}".strip()))
        rows = []
        for at in visit.parts:
            for row in at.rows:
                reading, compared = row.reading, row.compared
                rows.append(
                    (
                        at.name,
                        reading.point,
                        _read(reading.value, reading.unit),
                        _read(compared.expected, reading.unit),
                        reading.note,
                    )
                )
        blocks.append(Grid(head, tuple(rows), (2.4, 1.2, 1.2, 1.2, 3), (2, 3)))
    return blocks


MADE: Mapping[str, Callable[[Worked], list[Block]]] = {
    "cover": cover,
    "open": still_open,
    "loads": loads,
    "diagram": diagram,
    "panels": panels,
    "levels": levels,
    "materials": materials,
    "main_sheets": main_sheets,
    "sheets": all_sheets,
    "accepted": accepted,
    "readings": readings,
}
