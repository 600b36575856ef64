"""What is asked of an item on site, in the order of testing: what is tested dead first, then live;
each with what is calculated, its limit, and what was read there last."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from voltaje.core.job.labels import LabelledItem, labels
from voltaje.core.kinds import Evaluated
from voltaje.core.report import InstrumentPoint, Test
from voltaje.web.jobs import logbook
from voltaje.web.jobs.models import Job, Part

DEAD_UNITS = ("Ω", "MΩ")  # tested with the supply off, but for a loop
LIVE = ("Zs", "RCD")


@dataclass(frozen=True, slots=True)
class SiteField:
    """A field for a reading: its ``key`` (unit and point), label, unit, what is calculated
    (``None``: nothing), its limit in words, whether it is tested dead, what was read last."""

    key: str
    label: str
    unit: str
    expected: float | None
    limit: float
    most: bool
    dead: bool
    last: logbook.ReadingRow | None = None
    typed: str = ""
    problem: str = ""

    @property
    def name(self) -> str:
        """Its name in the form."""
        return f"v:{self.key}"

    @property
    def sign(self) -> str:
        """How a reading is held against the limit."""
        return "≤" if self.most else "≥"

    @property
    def status(self) -> str:
        """The status of what was read last."""
        verdict = self.last.compared.verdict if self.last is not None else "unknown"
        return {"agrees": "pass", "check": "check", "differs": "fail"}.get(verdict, "")


def fields_of(job: Job, part: Part, found: Mapping[str, Evaluated]) -> list[SiteField]:
    """The fields of an item; none where it has no result."""
    asked: list[InstrumentPoint | Test] = [
        *logbook.tests_of(found, part),
        *(p for p in logbook.points_of(found, part) if not p.step),
    ]
    last = {}
    for reading in job.readings.filter(part=part).order_by("taken_at", "entered_at"):
        last[f"{reading.unit}|{reading.point}"] = reading
    made = []
    for one in asked:
        key = f"{one.unit}|{one.name}"
        row = logbook.beside(job, part, found, last[key]) if key in last else None
        made.append(_field(one, key, row))
    return sorted(made, key=lambda field: not field.dead)


def _field(one: InstrumentPoint | Test, key: str, row: logbook.ReadingRow | None) -> SiteField:
    if isinstance(one, Test):
        dead = one.unit in DEAD_UNITS and one.name not in LIVE
        given = (one.value or None, one.limit, one.most, dead)
    else:
        given = (one.on_site or one.value, 0.0, True, False)
    return SiteField(key, str(one.label), one.unit, *given, row)


def label_lines(job: Job, part: Part, found: Mapping[str, Evaluated], date: str) -> list[str]:
    """What the item's label says; nothing where it has none."""
    above = next((one for one in job.loaded() if one.pk == part.parent_id), None)
    items = [LabelledItem(str(part.pk), part.name, str(part.parent_id or ""))]
    if above is not None:
        items.append(LabelledItem(str(above.pk), above.name, str(above.parent_id or "")))
    for label in labels(items, found, date):
        if label.item == str(part.pk):
            return [str(line) for line in label.lines]
    return []
