"""A service drawn with every conductor of its grounding, each by name, size and purpose."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import Canvas
from voltaje.web.kinds.circuit import WIRED
from voltaje.web.kinds.feeder import hang
from voltaje.web.kinds.presentation import Presentation

LINE, NEUTRAL = 70.0, 118.0
TEXT = 196.0
ELECTRODES = {
    "water_pipe": say("To the water pipe"),
    "steel": say("To the structural steel"),
    "concrete": say("To the concrete-encased electrode"),
    "rod": say("To the rod, pipe, plate"),
    "ring": say("To the ground ring"),
}
PURPOSE = {
    "lines": say("Service conductors: carry the load"),
    "grounded": say(
        "Grounded conductor: carries the unbalance, and every fault current back to the source"
    ),
    "mbj": say(
        "Main bonding jumper: ties the neutral to ground, the way a fault gets back to the source"
    ),
    "gec": say(
        "Grounding electrode conductor: holds the system near earth; it does not clear faults"
    ),
}


def draw(worked: Report, below: Sequence[Any] = ()) -> Canvas:
    """From the utility down to the bus, the ground bus and the electrodes."""
    canvas = Canvas(say("The service and its grounding"))
    results = worked.results
    canvas.text(0, 14, say("FROM THE UTILITY"), "h")
    canvas.line(f"M{LINE} 22V110", "tapline", "conductor", PURPOSE["lines"])
    canvas.text(TEXT, 40, str(results["conductor"].value), "b")
    canvas.text(TEXT, 54, say("service conductors, each line"), "s")
    grounded = results.get("grounded_conductor")
    if grounded is not None:
        tip = PURPOSE["grounded"]
        canvas.line(f"M{NEUTRAL} 22V190", "wire edge", "grounded", tip)
        canvas.line(f"M{NEUTRAL} 22V190", "wire white", "grounded", tip)
        canvas.text(TEXT, 74, str(grounded.value), "b")
        canvas.text(TEXT, 88, say("grounded conductor"), "s")
        canvas.row(say("Grounded conductor"), str(grounded.value))
    canvas.box(LINE - 36, 110, 72, 34, "device", "device")
    canvas.text(LINE, 131, f"{figure(worked.value('device'))} A", "b", "middle")
    fault = results.get("fault")
    if fault is not None:
        canvas.text(TEXT, 118, say("{amperes} A at a fault", amperes=figure(fault.value, 0)), "b")
    canvas.line(f"M{LINE} 144V262", "tapline")
    canvas.line(f"M{NEUTRAL - 34} 190H{NEUTRAL + 34}", "bus")
    canvas.text(TEXT, 160, say("neutral bus"), "s")
    y = 190.0
    if "main_bonding_jumper" in results:
        tip = PURPOSE["mbj"]
        canvas.line(f"M{NEUTRAL + 24} 193V214", "wire edge", "mbj", tip)
        canvas.line(f"M{NEUTRAL + 24} 193V214", "wire green", "mbj", tip)
        canvas.text(TEXT, 196, str(results["main_bonding_jumper"].value), "b")
        canvas.text(TEXT, 210, say("main bonding jumper"), "s")
        canvas.row(say("Main bonding jumper"), str(results["main_bonding_jumper"].value))
    canvas.line(f"M{NEUTRAL - 10} 216H{NEUTRAL + 58}", "bus")
    canvas.text(TEXT, 228, say("ground bus, case, raceways"), "s")
    canvas.text(
        TEXT, 242, say("supply-side jumper {size}", size=results["supply_side_jumper"].value), "s"
    )
    y = hang(canvas, below, 262) if below else 280.0
    return _electrodes(canvas, worked, y + 14)


def _electrodes(canvas: Canvas, worked: Report, y: float) -> Canvas:
    canvas.text(0, y, say("GROUNDING ELECTRODE CONDUCTORS"), "h")
    names = [name for name in ELECTRODES if f"electrode_{name}" in worked.results]
    tip = PURPOSE["gec"]
    y += 12
    for name in names:
        size = str(worked.results[f"electrode_{name}"].value)
        canvas.line(f"M20 {y + 10}H120", "wire edge", f"electrode_{name}", tip)
        canvas.line(f"M20 {y + 10}H120", "wire green", f"electrode_{name}", tip)
        for index, half in enumerate((9, 6, 3)):
            canvas.line(f"M{126 + 5 * index} {y + 10 - half}v{2 * half}", "outline")
        canvas.text(154, y + 9, size, "b")
        canvas.text(154, y + 22, ELECTRODES[name], "s")
        canvas.row(ELECTRODES[name], size)
        y += 32
    canvas.height = y + 12
    return canvas


PRESENTATION = Presentation(
    draw,
    open=(*WIRED, "grounding"),
    symbol="service",
    detail=lambda outcome: (say("{amperes} A of load", amperes=figure(outcome.amperes, 0)),),
)
