"""A motor's drawing: device, controller, overload, motor, and what protects what."""

from __future__ import annotations

from voltaje.core.worksheet import Worked, figure
from voltaje.web.sheets.drawings.canvas import Canvas
from voltaje.web.sheets.drawings.circuit import RIGHT, X, feed


def draw(worked: Worked, below: object = ()) -> Canvas:
    """The chain from the board to the shaft."""
    canvas = Canvas("Device, controller, overload, motor: what protects what")
    y = feed(canvas, worked, 14, 104)
    canvas.box(X - 38, y, 76, 26, "plain", "load")
    canvas.text(X, y + 17, "contactor", "s", "middle")
    canvas.text(RIGHT, y + 17, "Controller, disconnect in sight", "s")
    y += 26
    canvas.line(f"M{X} {y}V{y + 14}")
    y += 14
    canvas.box(X - 38, y, 76, 30, "overload", "overload")
    canvas.text(X, y + 20, f"{figure(worked.value('overload'), 1)} A", "b", "middle")
    canvas.text(RIGHT, y + 12, "Overload", "b")
    canvas.text(RIGHT, y + 27, "against running too hot", "s")
    canvas.row("Overload", f"{figure(worked.value('overload'), 1)} A")
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
    canvas.text(RIGHT, middle - 3, f"{figure(current, 1)} A full load", "b")
    canvas.text(RIGHT, middle + 12, "by the table, not the nameplate", "s")
    canvas.row("Motor", f"{figure(current, 1)} A")
    # the bracket: short circuits are the device's, heat is the overload's
    canvas.line(f"M26 58H18V{y}H26", "reach")
    canvas.text(12, (58 + y) / 2, "short circuit", "turn s", "middle")
    canvas.height = middle + radius + 12
    return canvas
