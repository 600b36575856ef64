"""A buck-boost transformer's drawing: the halves of both windings, their jumpers, where the source
is brought to and where the load is taken from."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, Text, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import WINDINGS, Example, Presentation, task

LEFT, RIGHT = 132.0, 256.0
TOP, HALF, GAP = 84.0, 64.0, 34.0
RAIL = 46.0
END = TOP + 2 * HALF + GAP


def draw(worked: Report, below: object = ()) -> Canvas:
    """Primary left, secondary right, as the terminals stand in the box."""
    canvas = Canvas(say("Terminals, halves and jumpers of a buck-boost unit"))
    canvas.text(0, 14, say("HOW IT IS JOINED"), "h")
    if "joints" not in worked.results:
        canvas.text(0, 40, say("No usual unit gives these volts."), "b")
        canvas.height = 60
        return canvas
    for letter, x in (("H", LEFT), ("X", RIGHT)):
        _halves(canvas, letter, x)
    middle = (LEFT + RIGHT) / 2
    for x in (middle - 5, middle + 5):
        canvas.line(f"M{x} {TOP - 6}V{END + 6}", "core")
    for joint in str(worked.results["joints"].value).split(", "):
        one, other = joint.split("–")
        _jumper(canvas, one, other)
        canvas.row(say("Jumper"), joint)
    measured, out = worked.value("measured_voltage"), worked.value("output")
    source = str(worked.results["source_ends"].value).split(", ")
    load = str(worked.results["load_ends"].value).split(", ")
    _ends(canvas, source[0], say("source"), measured)
    _ends(canvas, load[0], say("load"), out)
    x, y = _at("H4")
    canvas.line(f"M{x} {y}H30", "tapline")
    canvas.text(30, y + 15, say("source and load"), "s")
    canvas.row(say("Source on"), ", ".join(source))
    canvas.row(say("Load on"), ", ".join(load))
    y = END + 46
    canvas.text(0, y, str(worked.results["windings"].value), "b")
    units, kva = worked.value("units"), worked.value("kva")
    canvas.text(0, y + 17, say("{units} × {kva} kVA", units=units, kva=kva), "s")
    canvas.text(
        0,
        y + 34,
        say(
            "{input} A from the source, {load} A to the load",
            input=figure(worked.value("input"), 1),
            load=figure(worked.value("delivered_amperes"), 1),
        ),
        "s",
    )
    canvas.height = y + 44
    return canvas


def _at(terminal: str) -> tuple[float, float]:
    number = int(terminal[1])
    y = TOP + (number % 2 == 0) * HALF + (number > 2) * (HALF + GAP)
    return (LEFT if terminal[0] == "H" else RIGHT), y


def _halves(canvas: Canvas, letter: str, x: float) -> None:
    side = 1 if letter == "H" else -1
    for first in (1, 3):
        top = _at(f"{letter}{first}")[1]
        bumps = "".join(f"a8 8 0 0 {1 if side > 0 else 0} 0 {HALF / 4}" for _ in range(4))
        canvas.line(f"M{x} {top}{bumps}", "winding")
        for number, dy in ((first, 0.0), (first + 1, HALF)):
            canvas.box(x - 3.5, top + dy - 3.5, 7, 7, "junction")
            at, anchor = (x + 20, "start") if side > 0 else (x - 20, "end")
            canvas.text(at, top + dy + 4, f"{letter}{number}", "term", anchor)
        # the dot: odd ends are of one polarity
        canvas.text(x - 9 * side, top + 14, "•", "b", "middle")


def _jumper(canvas: Canvas, one: str, other: str) -> None:
    (x1, y1), (x2, y2) = _at(one), _at(other)
    if one[0] == other[0]:
        side = -1 if one[0] == "H" else 1
        # neighbours are joined straight, the others around, each in a track of its own
        out = 0 if {one[1], other[1]} == {"2", "3"} else 24 + 14 * (one[1] == "1")
        canvas.line(f"M{x1} {y1}h{out * side}V{y2}h{-out * side}", "jumper", "unit")
        return
    if other == "X1":
        canvas.line(f"M{x1} {y1}V{RAIL + 14}H{x2}V{y2}", "jumper", "unit")
        return
    around = RIGHT + 54
    canvas.line(f"M{x1} {y1}V{RAIL + 14}H{around}V{y2}H{x2}", "jumper", "unit")


def _ends(canvas: Canvas, terminal: str, words: Text, volts: float) -> None:
    """A line from a terminal to the edge, with what comes or goes there."""
    x, y = _at(terminal)
    left = terminal[0] == "H"
    edge, anchor = (30.0, "start") if left else (WIDTH - 4.0, "end")
    canvas.line(f"M{x} {y}H{edge}", "tapline")
    canvas.text(edge, y - 7, words, "s", anchor)
    canvas.text(edge, y + 17, f"{figure(volts, 1)} V", "b", anchor)


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """The load of the question, and its volts as those wanted, or those there and those wanted."""
    found = {"load": read.power or read.horsepower or read.amperes}
    if read.to_volts and read.volts:
        return {
            **found,
            "measured_voltage": f"{read.volts} V",
            "required_voltage": f"{read.to_volts} V",
        }
    return {**found, "required_voltage": f"{read.volts} V" if read.volts else ""}


PRESENTATION = Presentation(
    draw,
    open=("unit", "device", "ways", "alone"),
    symbol="transformer",
    subject=WINDINGS,
    quick=True,
    runs=True,
    on_supply=False,
    fill=fill,
    examples=(
        Example(
            say("208 V raised for a 240 V heater of 9.6 kVA"),
            {
                "measured_voltage": "208 V",
                "required_voltage": "240 V",
                "load": "9.6 kVA",
                "load_type": "heater",
            },
        ),
        Example(
            say("252 V lowered for a 230 V load of 40 A"),
            {"measured_voltage": "252 V", "required_voltage": "230 V", "load": "40 A"},
        ),
    ),
    tasks=(
        task(
            33,
            "Raise or lower volts: buck-boost",
            "booster boost buck autotransformer low voltage 208 to 240 raise lower correct "
            "increase decrease volts step mismatch equipment wrong voltage",
        ),
    ),
)
