"""The drawing of a cable tray: its cross-section to scale."""

from __future__ import annotations

from voltaje.core.kinds.cable_tray.report import TrayDrawn
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import CIRCUITS, Example, Presentation, task
from voltaje.web.kinds.raceway_fill import circle

MARGIN, FLOOR, RAIL = 40.0, 190.0, 3.0
DRAWN = 120  # no code figure: more would not be told apart
HIGH = 150.0


def draw(worked: Report, below: object = ()) -> Canvas:
    """The tray from the end, its cables side by side and in layers."""
    canvas = Canvas(say("Cross-section of the cable tray, to scale"))
    found = worked.drawn
    assert isinstance(found, TrayDrawn)  # noqa: S101 - its own kind's drawing
    scale = (WIDTH - 2 * MARGIN) / found.width
    rail = min(HIGH, RAIL * scale)
    canvas.line(f"M{MARGIN} {FLOOR - rail:.1f}V{FLOOR}h{WIDTH - 2 * MARGIN}v{-rail:.1f}", "tapline")
    x, floor, row = 0.0, 0.0, 0.0
    for diameter in sorted(found.cables, reverse=True)[:DRAWN]:
        if x + diameter > found.width + 1e-9:
            x, floor, row = 0.0, floor + row, 0.0
        middle = FLOOR - 2 - (floor + diameter / 2) * scale
        left = MARGIN + (x + diameter / 2) * scale
        canvas.line(circle(left, middle, diameter / 2 * scale * 0.98), "section", "fill")
        x, row = x + diameter, max(row, diameter)
    words = say("{inches} in inside", inches=figure(found.width))
    canvas.text(WIDTH / 2, FLOOR + 22, words, "b", anchor="middle")
    for result in worked.results.values():
        canvas.row(result.label, f"{figure(result.value, 2)} {result.unit}".strip())
    canvas.height = FLOOR + 36
    return canvas


PRESENTATION = Presentation(
    draw,
    subject=CIRCUITS,
    quick=True,
    on_supply=False,
    examples=(
        Example(
            say("Large and small cables on a ladder"),
            {
                "cables": (
                    {"id": "a", "count": "4", "diameter": "2.26", "large": "yes"},
                    {"id": "b", "count": "12", "diameter": "0.83"},
                ),
            },
        ),
        Example(
            say("Two circuits of 500 kcmil as single conductors"),
            {
                "what": "singles",
                "singles": (
                    {"id": "a", "count": "6", "size": "500", "insulation": "XHHW-2"},
                    {"id": "b", "count": "2", "size": "350", "insulation": "XHHW-2"},
                ),
            },
        ),
    ),
    tasks=(
        task(
            29,
            "Cable tray fill",
            "cable tray ladder ventilated solid bottom fill width layer 392 392.22",
        ),
    ),
)
