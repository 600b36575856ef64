"""The drawing of a motor by its kW: device, contactor, relay, motor, and what protects what."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.electrical.systems import METRIC_SYSTEMS
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import Canvas
from voltaje.web.kinds.circuit import RIGHT, WIRED, X, feed
from voltaje.web.kinds.presentation import MOTORS, BoardColumns, Example, Presentation, task

RADIUS = 28


def draw(worked: Report, below: object = ()) -> Canvas:
    """The chain from the board to the shaft."""
    canvas = Canvas(say("Device, cable, relay, motor"))
    y = feed(canvas, worked, 14, 104)
    if "overload" in worked.results:
        setting = f"{figure(worked.value('overload'), 1)} A"
        canvas.box(X - 38, y, 76, 30, "overload", "overload")
        canvas.text(X, y + 20, setting, "b", "middle")
        canvas.text(RIGHT, y + 12, say("Overload relay"), "b")
        canvas.text(RIGHT, y + 27, say("against running too hot"), "s")
        canvas.row(say("Overload relay"), setting)
        y += 30
    canvas.line(f"M{X} {y}V{y + 16}")
    y += 16
    middle = y + RADIUS
    canvas.line(
        f"M{X - RADIUS} {middle}a{RADIUS} {RADIUS} 0 1 0 {2 * RADIUS} 0"
        f"a{RADIUS} {RADIUS} 0 1 0 {-2 * RADIUS} 0"
    )
    canvas.text(X, middle + 5, "M", "b", "middle")
    amperes = figure(worked.value("amperes"), 1)
    canvas.text(RIGHT, middle - 3, say("{amperes} A full load", amperes=amperes), "b")
    start = figure(worked.value("start_amperes"), 0)
    canvas.text(RIGHT, middle + 12, say("{amperes} A while it starts", amperes=start), "s")
    canvas.row(say("Motor"), f"{amperes} A")
    canvas.height = middle + RADIUS + 12
    return canvas


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Power or amperes of the question."""
    return {"power": read.power} if read.power else {"nameplate": read.amperes}


PRESENTATION = Presentation(
    draw,
    open=("start", *WIRED),
    symbol="motor",
    subject=MOTORS,
    quick=True,
    usual_system="3ph-400Y/230",
    systems=METRIC_SYSTEMS,
    connects=True,
    runs=True,
    fill=fill,
    row=BoardColumns(lambda document: "power", "motor", ("motor by kw", "machine")),
    examples=(
        Example(
            say("7.5 kW, three-phase, 400 V, direct on line"),
            {
                "code": "bs7671-2018",
                "system": "3ph-400Y/230",
                "units": "metric",
                "power": "7.5 kW",
                "length": "35 m",
                "device_type": "D",
                "external_loop": "0.2",
            },
        ),
        Example(
            say("22 kW, star-delta"),
            {
                "code": "bs7671-2018",
                "system": "3ph-400Y/230",
                "units": "metric",
                "power": "22 kW",
                "length": "50 m",
                "device_type": "gG",
                "external_loop": "0.15",
                "starting": "wye_delta",
            },
        ),
    ),
    tasks=(
        task(
            23,
            "Motor by kW, metric",
            "motor kw kilowatt metric mm2 star delta wye-delta dol direct soft starter winch pump "
            "fan compressor relay overload 400",
        ),
    ),
)
