"""An inverter's drawing: the board's bus, the breaker, the cable, the inverter that feeds in."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import Canvas
from voltaje.web.kinds.circuit import RIGHT, WIRED, X, feed
from voltaje.web.kinds.presentation import PROTECTION, Example, Presentation, task


def draw(worked: Report, below: object = ()) -> Canvas:
    """From the bus down to the inverter, its current going up."""
    canvas = Canvas(say("Bus, breaker, cable, inverter"))
    y = feed(canvas, worked, 14, 110)
    canvas.box(X - 58, y, 116, 44, "load", "load")
    output = f"{figure(worked.value('amperes'), 1)} A"
    canvas.text(X, y + 19, output, "b", "middle")
    canvas.text(X, y + 35, say("feeds in"), "s", "middle")
    canvas.text(RIGHT, y + 18, say("Inverter"), "b")
    carries = figure(worked.value("derated_current"), 1)
    words = say("its breaker carries {amperes} A there", amperes=carries)
    canvas.text(RIGHT, y + 34, words, "s")
    canvas.row(say("Inverter"), output)
    # which way it flows
    canvas.line(
        f"M{X - 74} {y + 22}V{y - 60}L{X - 80} {y - 48}M{X - 74} {y - 60}L{X - 68} {y - 48}"
    )
    canvas.height = y + 60
    return canvas


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Power or amperes of the question."""
    return {"power": read.power} if read.power else {"maximum_current": read.amperes}


PRESENTATION = Presentation(
    draw,
    open=("breaker", "bus", *WIRED),
    symbol="load",
    subject=PROTECTION,
    quick=True,
    usual_system="3ph-208Y/120",
    connects=True,
    runs=True,
    fill=fill,
    examples=(
        Example(
            say("20 kW, three-phase, onto a 200 A bus"),
            {
                "power": "20 kW",
                "maximum_current": "26 A",
                "bus_rating": "200 A",
                "main": "150 A",
                "bus_other_devices": "120 A",
                "connection_point": "opposite",
                "length": "60 ft",
                "system": "3ph-480Y/277",
            },
        ),
        Example(
            say("6 kW in a dwelling, 240 V"),
            {
                "system": "1ph-120/240",
                "connection": "two-line",
                "power": "6 kW",
                "bus_rating": "200 A",
                "main": "200 A",
                "connection_point": "opposite",
                "length": "40 ft",
            },
        ),
    ),
    tasks=(
        task(
            26,
            "Inverter: breaker, cable, rise",
            "solar inverter photovoltaic pv grid tied tie feed in backfeed breaker cable rise "
            "busbar 120 kw interconnection",
        ),
    ),
)
