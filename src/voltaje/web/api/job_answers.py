"""What a program gets of a job: its materials, labels, documents and work schedules, with the
schema of each."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from pydantic import BaseModel

from voltaje.core.materials import Takeoff
from voltaje.core.materials.pricing import PricedOrder
from voltaje.core.quantities import feet
from voltaje.web.documents.blocks import Block, as_json
from voltaje.web.jobs.models import Job
from voltaje.web.materials.models import PriceList
from voltaje.web.work_schedule.arranged import Arranged, ShownBlock
from voltaje.web.work_schedule.models import WorkSchedule


class JobAnswer(BaseModel):
    """A job of the account."""

    id: UUID
    name: str
    code: str
    units: Literal["us", "metric"]
    revision: int
    archived: bool


class JobsAnswer(BaseModel):
    """The jobs of the account, the newest first."""

    jobs: list[JobAnswer]


class MaterialAnswer(BaseModel):
    """A line of an order. ``quantity`` is as it was added up, ``ordered`` rounded up, both in
    ``unit`` (``ft``, ``m``, or pieces where it is empty); ``price`` per ``per`` and ``amount`` are
    null where the list has no price; ``items`` are the ids of those that it is for."""

    group: str
    key: str
    label: str
    quantity: float
    ordered: float
    unit: str
    price: float | None
    per: str
    amount: float | None
    hours: float | None
    supplier: str
    items: list[str]


class LeftOutAnswer(BaseModel):
    """An item that is not counted, or not wholly."""

    item: str
    why: str


class MaterialsAnswer(BaseModel):
    """A job's order at a revision with prices by the account's list; ``at_least`` where lines have
    no price or hours."""

    job: UUID
    revision: int
    currency: str
    lines: list[MaterialAnswer]
    left_out: list[LeftOutAnswer]
    materials: float
    mark_up: float
    hours: float
    labor: float
    total: float
    at_least: bool


class LabelAnswer(BaseModel):
    """A label of an item."""

    item: str
    of: Literal["board", "transformer", "circuit"]
    title: str
    lines: list[str]


class LabelsAnswer(BaseModel):
    """The labels of a job."""

    job: UUID
    revision: int
    labels: list[LabelAnswer]


class DocumentAnswer(BaseModel):
    """The sections of a set of documents as blocks: ``block`` says which of heading, words, facts,
    grid, picture (as SVG), contents and signatures each is."""

    job: UUID
    revision: int
    mark: str
    sections: list[str]
    blocks: list[dict[str, Any]]


class StepAnswer(BaseModel):
    """A step: its stable ``key``, its number from 1, the numbers between which it can stand, what
    is done before it by number."""

    key: str
    number: int
    first: int
    last: int
    words: str
    tests: list[str]
    minutes: int
    people: int
    done: bool


class ReadingAnswer(BaseModel):
    """What is read at a point, calculated before and after; a dash where it is not there."""

    item: str
    point: str
    before: str
    after: str


class BlockAnswer(BaseModel):
    """Steps without a break: an outage where something is locked out."""

    outage: bool
    begins: datetime
    ends: datetime
    minutes: int
    longer_than_a_day: bool
    lock_out: list[str]
    without_power: list[str]
    also_feeds_in: list[str]
    still_without_power: list[str]
    steps: list[StepAnswer]
    readings: list[ReadingAnswer]


class ScheduleAnswer(BaseModel):
    """A work schedule from one revision (0: new installation) to another; ``unknown`` are items
    without a result, for which steps are missing."""

    id: UUID
    job: UUID
    before: int
    after: int
    zone: str
    unknown: list[str]
    blocks: list[BlockAnswer]


class WaitingAnswer(BaseModel):
    """It is not done yet: ask again after the seconds of ``Retry-After``."""

    state: str
    words: str


def materials(job: Job, kept: PriceList, order: Takeoff, found: PricedOrder) -> MaterialsAnswer:
    """An order with its prices."""
    us = job.units == "us"
    length = "ft" if us else "m"
    lines = [
        MaterialAnswer(
            group=one.line.group,
            key=one.line.key,
            label=str(one.line.label),
            quantity=feet(one.line.quantity) if one.line.unit and us else one.line.quantity,
            ordered=one.ordered,
            unit=length if one.line.unit == "m" else "",
            price=_number(one.row.price if one.row else None),
            per=one.row.per if one.row else "",
            amount=_number(one.amount),
            hours=_number(one.hours),
            supplier=one.row.supplier if one.row else "",
            items=list(one.line.items),
        )
        for one in found.lines
    ]
    return MaterialsAnswer(
        job=job.pk,
        revision=job.revision,
        currency=kept.currency,
        lines=lines,
        left_out=[LeftOutAnswer(item=one.item, why=str(one.why)) for one in order.left_out],
        materials=float(found.materials),
        mark_up=float(found.mark_up),
        hours=float(found.hours),
        labor=float(found.labour),
        total=float(found.total),
        at_least=bool(found.unpriced or found.untimed),
    )


def _number(value: Any) -> float | None:
    return None if value is None else float(value)


def document(job: Job, mark: str, names: list[str], blocks: list[Block]) -> DocumentAnswer:
    """A set of documents."""
    return DocumentAnswer(
        job=job.pk, revision=job.revision, mark=mark, sections=names, blocks=as_json(blocks)
    )


def schedule(kept: WorkSchedule, found: Arranged) -> ScheduleAnswer:
    """A work schedule."""
    return ScheduleAnswer(
        id=kept.pk,
        job=kept.job_id,
        before=kept.before,
        after=kept.after,
        zone=kept.zone,
        unknown=list(found.unknown),
        blocks=[_block(one) for one in found.blocks],
    )


def _block(one: ShownBlock) -> BlockAnswer:
    return BlockAnswer(
        outage=one.is_outage,
        begins=one.timed.begins,
        ends=one.timed.ends,
        minutes=one.timed.block.minutes,
        longer_than_a_day=one.timed.too_long,
        lock_out=list(one.locked),
        without_power=list(one.off),
        also_feeds_in=list(one.also_fed),
        still_without_power=list(one.still_off),
        steps=[
            StepAnswer(
                key=step.step.key,
                number=step.at + 1,
                first=step.first + 1,
                last=step.last + 1,
                words=str(step.step.words),
                tests=[str(test) for test in step.step.tests],
                minutes=step.minutes,
                people=step.people,
                done=step.done,
            )
            for step in one.steps
        ],
        readings=[
            ReadingAnswer(item=name, point=label, before=before, after=after)
            for name, pairs in one.readings
            for label, before, after in pairs
        ],
    )
