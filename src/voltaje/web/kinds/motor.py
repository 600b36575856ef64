"""A motor's drawing: device, controller, overload, motor, and what protects what."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import Canvas
from voltaje.web.kinds.circuit import RIGHT, WIRED, X, feed
from voltaje.web.kinds.presentation import MOTORS, BoardColumns, Example, Presentation, task


def draw(worked: Report, below: object = ()) -> Canvas:
    """The chain from the board to the shaft."""
    canvas = Canvas(say("Device, controller, overload, motor: what protects what"))
    y = feed(canvas, worked, 14, 104)
    canvas.box(X - 38, y, 76, 26, "plain", "load")
    canvas.text(X, y + 17, say("contactor"), "s", "middle")
    canvas.text(RIGHT, y + 17, say("Controller, disconnect in sight"), "s")
    y += 26
    canvas.line(f"M{X} {y}V{y + 14}")
    y += 14
    canvas.box(X - 38, y, 76, 30, "overload", "overload")
    canvas.text(X, y + 20, f"{figure(worked.value('overload'), 1)} A", "b", "middle")
    canvas.text(RIGHT, y + 12, say("Overload"), "b")
    canvas.text(RIGHT, y + 27, say("against running too hot"), "s")
    canvas.row(say("Overload"), f"{figure(worked.value('overload'), 1)} A")
    y += 30
    canvas.line(f"M{X} {y}V{y + 16}")
    y += 16
    radius = 28
    middle = y + radius
    canvas.line(
        f"M{X - radius} {middle}a{radius} {radius} 0 1 0 {2 * radius} 0"
        f"a{radius} {radius} 0 1 0 {-2 * radius} 0"
    )
    canvas.text(X, middle + 5, "M", "b", "middle")
    current = worked.value("full_load_current")
    canvas.text(RIGHT, middle - 3, say("{amperes} A full load", amperes=figure(current, 1)), "b")
    canvas.text(RIGHT, middle + 12, say("by the table, not the nameplate"), "s")
    canvas.row(say("Motor"), f"{figure(current, 1)} A")
    # the bracket: short circuits are the device's, heat is the overload's
    canvas.line(f"M26 58H18V{y}H26", "reach")
    canvas.text(12, (58 + y) / 2, say("short circuit"), "turn s", "middle")
    canvas.height = middle + radius + 12
    return canvas


def boost(own: Mapping[str, str], read: AskedQuantities, score: float) -> float:
    """Horsepower asks for a motor, phases for the one or the other."""
    more = 3.0 if read.horsepower else -3.0 if read.power else 0.0  # kW are another's
    if score + more and read.phases:
        more += 2 if (read.phases == "1") == ("motor" in own) else -2
    return more


# common practice: below these volts a motor is a single-phase one
SINGLE_TO = 130


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Its power and the amperes of its nameplate; a single-phase one by its phases or its volts."""
    found = {"horsepower": read.horsepower or read.power, "nameplate": read.amperes}
    if own.get("motor") or not (read.phases == "1" or 0 < read.volts <= SINGLE_TO):
        return found
    return {**found, "motor": "single-phase"}


PRESENTATION = Presentation(
    draw,
    open=("protection", "overload", "volts", *WIRED),
    symbol="motor",
    subject=MOTORS,
    quick=True,
    usual_system="3ph-208Y/120",
    connects=True,
    runs=True,
    fill=fill,
    boost=boost,
    row=BoardColumns(lambda document: "horsepower", "motor", ("motor circuit",)),
    examples=(
        Example(
            say("15 hp, three-phase, 208 V"),
            {"horsepower": "15", "length": "90 ft"},
        ),
        Example(
            say("50 hp, three-phase, 480 V"),
            {"system": "3ph-480Y/277", "horsepower": "50", "length": "150 ft"},
        ),
        Example(
            say("1/2 hp, single-phase, 120 V"),
            {
                "system": "1ph-120/240",
                "horsepower": "1/2",
                "connection": "line-neutral",
                "length": "40 ft",
                "motor": "single-phase",
            },
        ),
    ),
    tasks=(
        task(
            6,
            "Motor",
            "hp horsepower overload breaker wire starter three phase pump "
            "compressor fan fla flc heater heaters locked rotor starting code "
            "letter conveyor blower 430",
        ),
        task(
            7,
            "Single-phase motor",
            "hp horsepower breaker wire pump compressor saw well submersible garage "
            "disposer sump pool",
            motor="single-phase",
            connection="two-line",
            system="1ph-120/240",
        ),
    ),
)
