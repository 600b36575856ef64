"""The schedule for a board's door: place by place, both sides, with device, conductor and load."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from voltaje.core.electrical.panel_layout import Place, Schedule, Seat
from voltaje.core.kinds import Evaluated
from voltaje.core.report import Result, figure
from voltaje.web.board.table import result_text
from voltaje.web.jobs.models import Job, Part

OF_BOARD = ("connected_load", "calculated_load", "amperes", "neutral_amperes", "fault")


@dataclass(frozen=True, slots=True)
class Slot:
    """One place on the door: its name, line and VA; the device that begins here with the places it
    spans (``None``: a device that began above stands here too)."""

    place: str
    line: str
    va: str
    spans: int | None
    name: str = ""
    device: str = ""
    poles: str = ""
    conductor: str = ""
    proposed: bool = False


@dataclass(frozen=True, slots=True)
class Door:
    """Rows of places, left and right (``None``: that side ends); VA and A by line; the board's own
    figures; names of devices without a place; whether any place is only proposed; names of parts
    whose result is missing, so that no sum is whole."""

    rows: tuple[tuple[Slot | None, Slot | None], ...]
    two_sided: bool
    lines: tuple[tuple[str, str, str], ...]
    answers: tuple[Result, ...]
    loose: tuple[str, ...]
    proposed: bool
    missing: tuple[str, ...]


def lay_out(job: Job, board: Part, item: Evaluated, found: Mapping[str, Evaluated]) -> Door:
    """The door of a board that is worked."""
    outcome, context = item.outcome, item.context
    assert context is not None  # noqa: S101 - what is worked was worked under one
    schedule: Schedule = outcome.schedule
    va = outcome.va_of(context.supply.system)
    taken = schedule.taken()
    conductors = {
        str(part.pk): result_text(found[str(part.pk)].report, "conductor", 0)
        for part in job.under(board)
    }
    columns = [
        [_slot(place, taken.get(place.name), va, conductors) for place in column]
        for column in schedule.layout.columns
    ]
    left, right = ([*columns, [], []])[:2]
    rows = tuple(
        (
            left[index] if index < len(left) else None,
            right[index] if index < len(right) else None,
        )
        for index in range(schedule.layout.rows)
    )
    results = item.report.results if item.report else {}
    return Door(
        rows,
        bool(right),
        tuple(
            (line, figure(outcome.va[line], 0), figure(outcome.on_lines[line], 1))
            for line in context.supply.system.lines
        ),
        tuple(results[name] for name in OF_BOARD if name in results),
        tuple(seat.device.name for seat in schedule.seats if seat.span is None),
        any(seat.span and not seat.given for seat in schedule.seats),
        tuple(one.name for one in item.missing),
    )


def _slot(
    place: Place,
    seat: Seat | None,
    va: Mapping[str, Mapping[str, float]],
    conductors: Mapping[str, str],
) -> Slot:
    if seat is None or not seat.span:
        return Slot(place.name, place.line, "", 1)
    device = seat.device
    load = va.get(device.key, {}).get(place.line, 0.0)
    shown = figure(load, 0) if load else ""
    if place is not seat.span[0]:
        return Slot(place.name, place.line, shown, None)
    return Slot(
        place.name,
        place.line,
        shown,
        len(seat.span),
        device.name,
        f"{figure(device.rating, 0)} A" if device.rating else "",
        str(device.poles),
        conductors.get(device.key, ""),
        not seat.given,
    )
