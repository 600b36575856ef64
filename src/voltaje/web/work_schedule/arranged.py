"""A work schedule as it is shown: its plan in the order in which it was put, outage by outage, with
names, times, readings."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, time

from django.utils.translation import gettext

from voltaje.core.report import figure
from voltaje.core.work_schedule import (
    OutOfOrderError,
    ReadingPair,
    Site,
    Step,
    TimedBlock,
    WorkPlan,
    blocks,
    check_order,
    places_to_read,
    spans_of,
    timed,
)
from voltaje.web.work_schedule.models import WorkSchedule

HOUR = 60


@dataclass(frozen=True, slots=True)
class ShownStep:
    """A step in its place ``at`` of all, with the first and the last place that it can have, the
    words of what it needs before it, its minutes and people."""

    step: Step
    at: int
    first: int
    last: int
    needs: tuple[str, ...]
    minutes: int
    people: int
    done: bool


@dataclass(frozen=True, slots=True)
class ShownBlock:
    """An outage, or work without one: its number, when, what is locked out, who is without power,
    what feeds in, who stays without power after it, its steps, what is read where."""

    number: int
    timed: TimedBlock
    locked: tuple[str, ...]
    off: tuple[str, ...]
    also_fed: tuple[str, ...]
    still_off: tuple[str, ...]
    steps: tuple[ShownStep, ...]
    readings: tuple[tuple[str, tuple[tuple[str, str, str], ...]], ...]

    @property
    def is_outage(self) -> bool:
        return self.timed.block.is_outage

    @property
    def begins(self) -> datetime:
        """By the clock of the schedule's zone; without it, so that no page turns it into
        another."""
        return self.timed.begins.replace(tzinfo=None)

    @property
    def ends(self) -> datetime:
        return self.timed.ends.replace(tzinfo=None)

    @property
    def long(self) -> str:
        """How long it takes."""
        return long_in_words(self.timed.block.minutes)


@dataclass(frozen=True, slots=True)
class Arranged:
    """A whole schedule. ``reordered`` says that the order in which it was put cannot be kept: it is
    the usual one, ``endless`` that the working hours do not hold it in ten years: it is timed by
    day and night."""

    blocks: tuple[ShownBlock, ...]
    unknown: tuple[str, ...]
    reordered: bool = False
    endless: bool = False

    @property
    def steps(self) -> tuple[ShownStep, ...]:
        return tuple(step for block in self.blocks for step in block.steps)

    @property
    def outages(self) -> int:
        return sum(1 for block in self.blocks if block.is_outage)

    @property
    def without_power(self) -> str:
        """How long somebody is without power, all outages together."""
        return long_in_words(sum(b.timed.block.minutes for b in self.blocks if b.is_outage))

    @property
    def hours_of_people(self) -> float:
        """Hours of work, each person counted."""
        return sum(one.minutes * one.people for one in self.steps) / HOUR


def arranged(plan: WorkPlan, kept: WorkSchedule) -> Arranged:
    """The plan as the schedule puts it."""
    try:
        steps, reordered = check_order(plan.steps, kept.order), False
    except OutOfOrderError:
        steps, reordered = plan.steps, True
    minutes = {key: int(value[0]) for key, value in kept.taking.items()}
    cut = blocks(steps, plan.site, minutes, kept.few)
    try:
        found, endless = timed(cut, kept.hours), False
    except OverflowError:  # a day of a minute, steps of weeks
        found, endless = (
            timed(cut, replace(kept.hours, opens=time(0), closes=time(0), weekends=True)),
            True,
        )
    spans = spans_of(steps)
    of = {step.key: n for n, step in enumerate(steps)}
    shown, at = [], 0
    for number, one in enumerate(found, 1):
        own = []
        for step in one.block.steps:
            before = [steps[n] for n in sorted(of[key] for key in step.needs if key in of)]
            own.append(_step(step, at, spans[step.key], before, kept))
            at += 1
        shown.append(_block(number, one, tuple(own), plan.site))
    unknown = tuple(plan.site[item].name for item in plan.unknown if item in plan.site)
    return Arranged(tuple(shown), unknown, reordered, endless)


def _step(
    step: Step, at: int, span: tuple[int, int], before: Sequence[Step], kept: WorkSchedule
) -> ShownStep:
    minutes, people = kept.taking.get(step.key, (step.minutes, step.people))
    needs = tuple(str(one.words) for one in before)
    done = step.key in kept.done
    return ShownStep(step, at, *span, needs, int(minutes), int(people), done)


def _block(number: int, one: TimedBlock, steps: tuple[ShownStep, ...], site: Site) -> ShownBlock:
    block = one.block

    def names(items: Sequence[str]) -> tuple[str, ...]:
        return tuple(site[item].name for item in items)

    read = places_to_read(block, site) if block.is_outage else ()
    return ShownBlock(
        number,
        one,
        tuple(str(words) for words in block.locks),
        names(block.off),
        names(block.also_fed),
        names(block.still_off),
        steps,
        tuple((site[item].name, tuple(_pairs(site[item].readings))) for item in read),
    )


def _pairs(readings: Sequence[ReadingPair]) -> Iterator[tuple[str, str, str]]:
    for one in readings:
        yield str(one.label), _value(one.before, one.unit), _value(one.after, one.unit)


def _value(value: float | None, unit: str) -> str:
    return "–" if value is None else f"{figure(value, 1)} {unit}"


def long_in_words(minutes: int) -> str:
    """``2 h 55 min``."""
    hours, rest = divmod(minutes, HOUR)
    if not hours:
        return gettext("{minutes} min").format(minutes=rest)
    if not rest:
        return gettext("{hours} h").format(hours=hours)
    return gettext("{hours} h {minutes} min").format(hours=hours, minutes=rest)


def title_of(block: ShownBlock) -> str:
    """``Outage: Kiln feeder, 125 A, in …`` or that it is work without one."""
    if not block.is_outage:
        return gettext("No outage")
    places = "; ".join(block.locked)
    return gettext("Outage, lock out: {places}").format(places=places)
