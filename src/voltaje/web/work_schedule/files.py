"""A work schedule as files: for calendars, for spreadsheets, on paper."""

from __future__ import annotations

import uuid

from django.utils.translation import gettext, gettext_lazy
from icalendar import Calendar, Event

from voltaje.web.documents.blocks import Block, Facts, Grid, Heading, Signatures, Words
from voltaje.web.work_schedule.arranged import Arranged, ShownBlock, title_of
from voltaje.web.work_schedule.models import WorkSchedule

CAUTION = gettext_lazy(
    "Before each outage: switch off, lock and tag, try to start, test the tester, test every "
    "conductor against every other and earth, test the tester again. The adopted code, the "
    "manufacturer and the person in charge of the site prevail."
)


def as_calendar(kept: WorkSchedule, found: Arranged) -> bytes:
    """Each outage, and each day of other work, as an event in the schedule's time zone. The same
    event keeps its id when the schedule changes."""
    calendar = Calendar()
    calendar.add("prodid", "-//Voltaje//work schedule//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", gettext("{job}: work").format(job=kept.job.name))
    for block in found.blocks:
        for number, (begins, ends) in enumerate(block.timed.pieces):
            event = Event()
            name = f"{block.steps[0].step.key} {number}"
            event.add("uid", f"{uuid.uuid5(kept.pk, name)}@voltaje")
            event.add("sequence", kept.changes)
            event.add("dtstamp", kept.changed_at)
            event.add("dtstart", begins)
            event.add("dtend", ends)
            event.add("summary", f"{kept.job.name}: {title_of(block)}")
            event.add("description", "\n".join(_lines(block)))
            event.add("categories", [gettext("outage") if block.is_outage else gettext("work")])
            calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())


def _lines(block: ShownBlock) -> list[str]:
    found = _power(block)
    found += [f"{one.at + 1}. {one.step.words}" for one in block.steps]
    if block.still_off:
        names = ", ".join(block.still_off)
        found.append(gettext("Still without power afterwards: {names}").format(names=names))
    return found


def _power(block: ShownBlock) -> list[str]:
    """Who is without power, and what feeds in all the same."""
    found = []
    if block.off:
        found.append(gettext("Without power: {names}").format(names=", ".join(block.off)))
    if block.also_fed:
        names = ", ".join(block.also_fed)
        found.append(gettext("Second source, lock out as well: {names}").format(names=names))
    return found


def as_rows(found: Arranged) -> list[list[str]]:
    """A line for each step, its titles first."""
    table = [
        [
            gettext("Part"),
            gettext("Begins"),
            gettext("Ends"),
            gettext("Lock out"),
            gettext("Without power"),
            gettext("Step"),
            gettext("Done"),
            gettext("Number"),
            gettext("Minutes"),
            gettext("People"),
        ]
    ]
    for block in found.blocks:
        for one in block.steps:
            table.append(
                [
                    str(block.number),
                    f"{block.timed.begins:%Y-%m-%d %H:%M %z}",
                    f"{block.timed.ends:%Y-%m-%d %H:%M %z}",
                    "; ".join(block.locked),
                    ", ".join(block.off),
                    str(one.step.words),
                    gettext("yes") if one.done else "",
                    str(one.at + 1),
                    str(one.minutes),
                    str(one.people),
                ]
            )
    return table


def as_paper(kept: WorkSchedule, found: Arranged) -> list[Block]:
    """The schedule with places for what is measured and who signs."""
    title = gettext("Work schedule, {job}").format(job=kept.job.name)
    blocks: list[Block] = [
        Heading(1, title),
        Facts(
            (
                (gettext("From revision"), str(kept.before)),
                (gettext("To revision"), str(kept.after)),
                (gettext("Steps"), str(len(found.steps))),
                (gettext("Outages"), f"{found.outages}, {found.without_power}"),
                (gettext("Time zone"), kept.zone),
            )
        ),
    ]
    if found.unknown:
        names = ", ".join(found.unknown)
        words = gettext("No result for {names}: steps for these are missing.").format(names=names)
        blocks.append(Words(words, "fail"))
    for block in found.blocks:
        blocks += _on_paper(block)
    blocks.append(Words(str(CAUTION), "caution"))
    labels = (gettext("Person in charge"), gettext("Date"))
    blocks.append(Signatures(labels))
    return blocks


def _on_paper(block: ShownBlock) -> list[Block]:
    when = when_in_words(block)
    made: list[Block] = [Heading(2, f"{block.number}. {title_of(block)}"), Words(when, "strong")]
    made += [Words(line) for line in _power(block)]
    rows = tuple(
        (str(one.at + 1), str(one.step.words), str(one.minutes), str(one.people), "")
        for one in block.steps
    )
    head = (gettext("No."), gettext("Step"), gettext("Minutes"), gettext("People"), gettext("Done"))
    made.append(Grid(head, rows, (0.06, 0.64, 0.1, 0.1, 0.1), (2, 3), tall=True))
    tests = [str(test) for one in block.steps for test in one.step.tests]
    if tests:
        words = gettext("Tests before energizing: {tests}").format(
            tests="; ".join(dict.fromkeys(tests))
        )
        made.append(Words(words))
    read = tuple(
        (name, label, before, "", after, "")
        for name, pairs in block.readings
        for label, before, after in pairs
    )
    if read:
        places = (
            gettext("Reading at"),
            gettext("Point"),
            gettext("Before, calculated"),
            gettext("measured"),
            gettext("After, calculated"),
            gettext("measured"),
        )
        made.append(Grid(places, read, (0.2, 0.2, 0.15, 0.15, 0.15, 0.15), (2, 4)))
    if block.still_off:
        names = ", ".join(block.still_off)
        words = gettext("Still without power afterwards: {names}").format(names=names)
        made.append(Words(words, "check"))
    return made


def when_in_words(block: ShownBlock) -> str:
    """``2026-12-04 08:00 to 10:55, 2 h 55 min``."""
    begins, ends = block.timed.begins, block.timed.ends
    until = f"{ends:%H:%M}" if begins.date() == ends.date() else f"{ends:%Y-%m-%d %H:%M}"
    return gettext("{begins} to {until}, {long}").format(
        begins=f"{begins:%Y-%m-%d %H:%M}", until=until, long=block.long
    )
