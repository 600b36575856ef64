"""The drawing of a conduit or a trunking: its cross-section, the cables in it about to scale."""

from __future__ import annotations

from math import pi, sqrt

from voltaje.core.kinds.trunking.report import EnclosureDrawn
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import CIRCUITS, Example, Presentation, task
from voltaje.web.kinds.raceway_fill import circle, laid, packed

RADIUS, MIDDLE = 96.0, 124.0
DRAWN = 90  # no code figure: more cables would not be told apart
# a drawing alone: walls and insulation of about 1 mm
WALL, INSULATION = 1.2, 0.8  # no code figure


def draw(worked: Report, below: object = ()) -> Canvas:
    """The enclosure from the end, its cables lying in it."""
    canvas = Canvas(say("Cross-section of the enclosure, about to scale"))
    found = worked.drawn
    assert isinstance(found, EnclosureDrawn)  # noqa: S101 - its own kind's drawing
    x, half = WIDTH / 2 - 70, max(found.width, found.height) / 2
    scale = RADIUS / half
    radii = sorted(
        (sqrt(area / pi) + INSULATION for area, count in found.cables for _ in range(count)),
        reverse=True,
    )[:DRAWN]
    if found.round:
        canvas.line(circle(x, MIDDLE, RADIUS), "tapline")
        placed = packed(half - WALL, radii)
        low = MIDDLE
    else:
        wide, high = found.width * scale, found.height * scale
        low = MIDDLE + RADIUS - wide / 2
        canvas.line(
            f"M{x - wide / 2:.1f} {MIDDLE + RADIUS - high:.1f}h{wide:.1f}v{high:.1f}h{-wide:.1f}z",
            "tapline",
        )
        placed = laid(found.width / 2 - WALL, radii)
    for dx, dy, radius in placed:
        canvas.line(circle(x + dx * scale, low + dy * scale, radius * scale), "section", "fill")
    left = x + RADIUS + 22
    canvas.text(left, MIDDLE - 16, str(worked.results["enclosure"].value), "b")
    percent = figure(100 * found.filled, 0)
    canvas.text(left, MIDDLE + 8, say("{percent} % of what it may hold", percent=percent), "s")
    more = figure(float(worked.results["more"].value))
    canvas.text(left, MIDDLE + 28, say("{more} more go in", more=more), "s")
    for result in worked.results.values():
        value = result.value if isinstance(result.value, str) else figure(result.value, 1)
        canvas.row(result.label, f"{value} {result.unit}".strip())
    canvas.height = MIDDLE + RADIUS + 16
    return canvas


BS = {"code": "bs7671-2018", "system": "1ph-230", "units": "metric"}

PRESENTATION = Presentation(
    draw,
    subject=CIRCUITS,
    quick=True,
    on_supply=False,
    examples=(
        Example(
            say("Three circuits of 2.5 mm² with two bends in 4 m"),
            {
                "length": "4 m",
                "bends": "2",
                "cables": ({"id": "a", "count": "9", "size": "2.5"},),
                **BS,
            },
        ),
        Example(
            say("Lighting and sockets in a trunking"),
            {
                "what": "trunking",
                "cables": (
                    {"id": "a", "count": "24", "size": "1.5"},
                    {"id": "b", "count": "18", "size": "2.5"},
                    {"id": "c", "count": "4", "size": "10"},
                ),
                **BS,
            },
        ),
    ),
    tasks=(
        task(
            30,
            "Conduit and trunking",
            "conduit trunking capacity fill how many cables singles term factor space bends draw-in"
            " box metric on-site guide appendix e",
        ),
    ),
)
