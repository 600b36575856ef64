"""The site of a change as it is told: what hangs on what before and after, where each item is
switched off, what feeds in, what is read."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from voltaje.core.report import InstrumentPoint, Text, say
from voltaje.core.work_schedule.changes import Side, SideItem, feeds_in, rating_of, schedule_of
from voltaje.core.work_schedule.steps import Act, Step, words_of_lock_out

# acts that change what an instrument shows at the item itself
READ: tuple[Act, ...] = ("connect", "move", "replace", "load", "adjust", "equipment")


@dataclass(frozen=True, slots=True)
class ReadingPair:
    """What is read at a point: calculated ``before`` and ``after``; ``None``: it is not there."""

    label: Text
    unit: str
    before: float | None
    after: float | None


@dataclass(frozen=True, slots=True)
class SiteItem:
    """An item: its name, the id of what it hangs on ``before`` and ``after`` (empty: nothing;
    ``None``: it is not there), whether it has a device of its own in both states and where that is
    in each, whether it is a board, feeds power in, what is read at it (empty where nothing is
    done)."""

    name: str
    before: str | None
    after: str | None
    has_device: bool
    lock: Text
    later_lock: Text
    is_board: bool = False
    feeds_in: bool = False
    readings: tuple[ReadingPair, ...] = ()

    @property
    def above(self) -> str:
        """What it hangs on in the end, or did."""
        return (self.after if self.after is not None else self.before) or ""


Site = Mapping[str, SiteItem]


def site_of(before: Side, after: Side, steps: Sequence[Step]) -> Site:
    """Everything of two states of a job, those above first."""
    found = {}
    looked_at = {step.item for step in steps}
    looked_at |= {side[one].above for one in looked_at for side in (before, after) if one in side}
    for item in (*before, *(one for one in after if one not in before)):
        one, other = before.get(item), after.get(item)
        here = other or one
        if here is None:
            continue
        was = words_of_lock_out(before, item) if one is not None else None
        later = words_of_lock_out(after, item) if other is not None else None
        found[item] = SiteItem(
            here.name,
            one.above if one is not None else None,
            other.above if other is not None else None,
            all(rating_of(side) > 0 for side in (one, other) if side is not None),
            was or later or say("–"),
            later or was or say("–"),
            schedule_of(before, item) is not None or schedule_of(after, item) is not None,
            any(feeds_in(side) for side in (one, other) if side is not None),
            tuple(_readings(one, other)) if item in looked_at else (),
        )
    return found


def _readings(before: SideItem | None, after: SideItem | None) -> Iterator[ReadingPair]:
    one, other = _points(before), _points(after)
    for name in dict.fromkeys((*one, *other)):
        was, now = one.get(name), other.get(name)
        point = now or was
        if point is not None:
            values = (was.value if was else None, now.value if now else None)
            yield ReadingPair(point.label, point.unit, *values)


def _points(item: SideItem | None) -> dict[str, InstrumentPoint]:
    """Volts, and amperes of conductors, where an instrument can be put."""
    report = item.one.report if item is not None else None
    if report is None or report.missing:
        return {}
    return {
        f"{point.name}{point.unit}": point
        for point in report.points
        if point.role in ("volts", "conductor") and not point.step
    }
