"""A service drawn with every conductor of its grounding, each by name, size and purpose."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from voltaje.core.worksheet import Worked, figure
from voltaje.web.kinds.circuit import WIRED
from voltaje.web.kinds.feeder import hang
from voltaje.web.kinds.presentation import Presentation
from voltaje.web.sheets.drawings.canvas import Canvas

LINE, NEUTRAL = 70.0, 118.0
TEXT = 196.0
ELECTRODES = {
    "water_pipe": "water pipe",
    "steel": "structural steel",
    "concrete": "concrete-encased",
    "rod": "rod, pipe, plate",
    "ring": "ground ring",
}
PURPOSE = {
    "lines": "carry the load",
    "grounded": "carries the unbalance, and every fault current back to the source",
    "mbj": "ties the neutral to ground: the way a fault gets back to the source",
    "ssbj": "bonds the metal raceway ahead of the service device",
    "gec": "holds the system near earth; it does not clear faults",
}


def draw(worked: Worked, below: Sequence[Any] = ()) -> Canvas:
    """From the utility down to the bus, the ground bus and the electrodes."""
    canvas = Canvas("The service and its grounding")
    results = worked.results
    canvas.text(0, 14, "FROM THE UTILITY", "h")
    canvas.line(
        f"M{LINE} 22V110", "tapline", "conductor", f"Service conductors: {PURPOSE['lines']}"
    )
    canvas.text(TEXT, 40, str(results["conductor"].value), "b")
    canvas.text(TEXT, 54, "service conductors, each line", "s")
    grounded = results.get("grounded_conductor")
    if grounded is not None:
        tip = f"Grounded conductor: {PURPOSE['grounded']}"
        canvas.line(f"M{NEUTRAL} 22V190", "wire edge", "grounded", tip)
        canvas.line(f"M{NEUTRAL} 22V190", "wire white", "grounded", tip)
        canvas.text(TEXT, 74, str(grounded.value), "b")
        canvas.text(TEXT, 88, "grounded conductor", "s")
        canvas.row("Grounded conductor", str(grounded.value))
    canvas.box(LINE - 36, 110, 72, 34, "device", "device")
    canvas.text(LINE, 131, f"{figure(worked.value('device'))} A", "b", "middle")
    fault = results.get("fault")
    if fault is not None:
        canvas.text(TEXT, 118, f"{figure(fault.value, 0)} A at a fault", "b")
    canvas.line(f"M{LINE} 144V262", "tapline")
    canvas.line(f"M{NEUTRAL - 34} 190H{NEUTRAL + 34}", "bus")
    canvas.text(TEXT, 160, "neutral bus", "s")
    y = 190.0
    if "main_bonding_jumper" in results:
        tip = f"Main bonding jumper: {PURPOSE['mbj']}"
        canvas.line(f"M{NEUTRAL + 24} 193V214", "wire edge", "mbj", tip)
        canvas.line(f"M{NEUTRAL + 24} 193V214", "wire green", "mbj", tip)
        canvas.text(TEXT, 196, str(results["main_bonding_jumper"].value), "b")
        canvas.text(TEXT, 210, "main bonding jumper", "s")
        canvas.row("Main bonding jumper", str(results["main_bonding_jumper"].value))
    canvas.line(f"M{NEUTRAL - 10} 216H{NEUTRAL + 58}", "bus")
    canvas.text(TEXT, 228, "ground bus, case, raceways", "s")
    canvas.text(TEXT, 242, f"supply-side jumper {results['supply_side_jumper'].value}", "s")
    y = hang(canvas, below, 262) if below else 280.0
    return _electrodes(canvas, worked, y + 14)


def _electrodes(canvas: Canvas, worked: Worked, y: float) -> Canvas:
    canvas.text(0, y, "GROUNDING ELECTRODE CONDUCTORS", "h")
    names = [name for name in ELECTRODES if f"electrode_{name}" in worked.results]
    tip = f"Grounding electrode conductor: {PURPOSE['gec']}"
    y += 12
    for name in names:
        size = str(worked.results[f"electrode_{name}"].value)
        canvas.line(f"M20 {y + 10}H120", "wire edge", f"electrode_{name}", tip)
        canvas.line(f"M20 {y + 10}H120", "wire green", f"electrode_{name}", tip)
        for index, half in enumerate((9, 6, 3)):
            canvas.line(f"M{126 + 5 * index} {y + 10 - half}v{2 * half}", "outline")
        canvas.text(154, y + 14, f"{size} to the {ELECTRODES[name]}", "b")
        canvas.row(f"To the {ELECTRODES[name]}", size)
        y += 28
    canvas.height = y + 12
    return canvas


PRESENTATION = Presentation(
    draw,
    open=(*WIRED, "grounding"),
    symbol="service",
    detail=lambda outcome: (f"{figure(outcome.amperes, 0)} A of load",),
)
