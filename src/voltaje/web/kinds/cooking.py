"""A cooking circuit's drawing: device, conductors, junction box and the taps."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.circuit import WIRED, X, feed, load_box
from voltaje.web.kinds.presentation import CIRCUITS, BoardColumns, Example, Presentation, task

NAMES = {
    "cooktop": say("Cooktop"),
    "oven_1": say("Wall oven"),
    "oven_2": say("Second oven"),
}
TAPS = {
    "cooktop": say("Tap to the cooktop"),
    "oven_1": say("Tap to the wall oven"),
    "oven_2": say("Tap to the second oven"),
}


def draw(worked: Report, below: object = ()) -> Canvas:
    """One unit at the end, or a junction box with a tap to each."""
    canvas = Canvas(say("Device, conductors, junction box, taps"))
    y = feed(canvas, worked, 14)
    taps = [name for name in NAMES if f"tap_{name}" in worked.results]
    if not taps:
        load_box(
            canvas,
            say("Cooking unit"),
            f"{figure(worked.value('amperes'), 1)} A",
            say("{va} VA nameplate", va=figure(worked.value("connected_load"), 0)),
            y,
        )
        canvas.height = y + 58
        return canvas
    canvas.box(X - 30, y, 60, 34, "device", "load")
    canvas.text(X, y + 14, say("junction"), "s", "middle")
    canvas.text(X, y + 27, say("box"), "s", "middle")
    y += 34
    width, gap = 108.0, 14.0
    left = (WIDTH - len(taps) * width - (len(taps) - 1) * gap) / 2
    bar = y + 22
    canvas.line(f"M{X} {y}V{bar}", "tapline")
    ends = []
    for index, name in enumerate(taps):
        x = left + index * (width + gap) + width / 2
        ends.append(x)
        canvas.line(f"M{x} {bar}V{bar + 54}", "tapline", f"tap_{name}")
        size = str(worked.results[f"tap_{name}"].value)
        canvas.text(x + 7, bar + 24, size, "b")
        canvas.text(x + 7, bar + 39, say("tap"), "s")
        canvas.box(x - width / 2, bar + 54, width, 44, "load", f"tap_{name}")
        canvas.text(x, bar + 72, NAMES[name], "b", "middle")
        amperes = figure(worked.value(f"amperes_{name}"), 1)
        canvas.text(x, bar + 88, say("{amperes} A nameplate", amperes=amperes), "s", "middle")
        canvas.row(TAPS[name], size)
    canvas.line(f"M{min(*ends, X)} {bar}H{max(*ends, X)}", "tapline")
    canvas.height = bar + 112
    return canvas


def load_entry(document: Mapping[str, Any]) -> str | None:
    """The entry that a board's load column stands for; several units have none."""
    return None if document.get("layout") == "together" else "nameplate"


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """The nameplate of one unit."""
    return {} if own.get("layout") == "together" else {"nameplate": read.power or read.amperes}


PRESENTATION = Presentation(
    draw,
    open=("taps", "editions", *WIRED),
    subject=CIRCUITS,
    quick=True,
    runs=True,
    fill=fill,
    row=BoardColumns(load_entry, "cooking", ("range", "cooking circuit")),
    examples=(
        Example(
            say("Range, 12 kW"),
            {"nameplate": "12 kW", "length": "40 ft"},
        ),
        Example(
            say("Cooktop and two wall ovens on one circuit"),
            {
                "layout": "together",
                "cooktop": "7 kW",
                "oven_1": "4 kW",
                "oven_2": "4 kW",
                "length": "45 ft",
            },
        ),
    ),
    tasks=(
        task(
            3,
            "Range",
            "stove cooker household electric home wire breaker 220.55",
            layout="range",
        ),
        task(
            4,
            "Wall oven",
            "oven ovens wire breaker built in",
            layout="oven",
        ),
        task(
            5,
            "Cooktop and wall ovens together",
            "tap taps double two oven hob junction box wire breaker counter",
            layout="together",
        ),
    ),
)
