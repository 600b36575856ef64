"""A feeder's drawing: device, conductors, and what hangs on them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas, short
from voltaje.web.kinds.circuit import WIRED, X, feed, load_box
from voltaje.web.kinds.presentation import CIRCUITS, Example, Presentation, task

SHOWN = 9
STEP = 36.0


def draw(worked: Report, below: Sequence[Any] = ()) -> Canvas:
    """The feeder down to its boards, or to the load entered on it."""
    canvas = Canvas(say("Device, feeder conductors, what hangs on them"))
    y = feed(canvas, worked, 14)
    load = f"{figure(worked.value('calculated_load') / 1000, 1)} kVA"
    if not below:
        load_box(canvas, say("Calculated load"), f"{figure(worked.value('amperes'), 1)} A", load, y)
        canvas.height = y + 58
        return canvas
    canvas.text(WIDTH - 20, y + 16, say("{load} calculated", load=load), "s", "end")
    canvas.height = hang(canvas, below, y)
    return canvas


def hang(canvas: Canvas, below: Sequence[Any], y: float) -> float:
    """The parts below on one bus, each with its answer; the height that is used."""
    canvas.line(f"M20 {y}H{WIDTH - 20}", "bus")
    shown = list(below)[:SHOWN]
    last = y + STEP * len(shown)
    canvas.line(f"M{X} {y}V{last - 6}")
    for index, item in enumerate(shown):
        at = y + STEP * (index + 1) - 6
        canvas.line(f"M{X} {at}H{X + 40}")
        canvas.box(X + 40, at - 7, 14, 14, f"dot {item.status}")
        canvas.text(X + 64, at - 1, short(item.name, 34), "b", url=item.url)
        canvas.text(X + 64, at + 13, item.answer or say("no result yet"), "s")
        canvas.row(item.name, item.answer)
    if len(below) > SHOWN:
        canvas.text(X + 64, last + 16, say("and {count} more", count=len(below) - SHOWN), "s")
        last += 20
    return last + 24


PRESENTATION = Presentation(
    draw,
    open=("load", "motors", *WIRED),
    symbol="feeder",
    detail=lambda outcome: (say("{amperes} A of load", amperes=figure(outcome.amperes, 0)),),
    subject=CIRCUITS,
    quick=True,
    usual_system="3ph-208Y/120",
    runs=True,
    fill=lambda own, read: {} if own else {"loads.l1.nameplate": read.power or read.amperes},
    examples=(
        Example(
            say("Warehouse of 9,000 ft² with receptacles"),
            {
                "system": "3ph-208Y/120",
                "floors": [{"id": "a", "name": "Warehouse", "area": "9000 ft²"}],
                "receptacles": "30",
                "length": "120 ft",
            },
        ),
        Example(
            say("Heaters, 30 kW continuous, 480 V"),
            {
                "system": "3ph-480Y/277",
                "loads": [
                    {"id": "a", "name": "Heaters", "nameplate": "30 kW", "continuous": "yes"}
                ],
                "length": "100 ft",
            },
        ),
    ),
    tasks=(
        task(
            17,
            "Feeder",
            "subpanel sub panel distribution wire size demand neutral parallel sets "
            "detached garage barn outbuilding several motors group 215",
        ),
        task(
            21,
            "Store or office by floor area",
            "commercial lighting occupancy va per square foot receptacles demand "
            "shop building warehouse school hotel church restaurant load "
            "calculation",
        ),
        task(
            22,
            "Commercial kitchen",
            "restaurant equipment fryer dishwasher demand factors cooking",
            **{"loads.k1.category": "kitchen", "loads.k1.name": "Kitchen equipment"},
        ),
    ),
)
