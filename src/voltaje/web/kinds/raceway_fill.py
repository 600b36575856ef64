"""The drawing of a raceway's fill: its cross-section to scale, the conductors lying in it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from math import hypot

from voltaje.core.kinds.raceway_fill.report import CrossSection
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import CIRCUITS, Example, Presentation, task

RADIUS, MIDDLE = 104.0, 132.0
DRAWN = 90  # no code figure: more conductors would not be told apart
STEPS = 24  # no code figure: places across the raceway that are tried for each


def draw(worked: Report, below: object = ()) -> Canvas:
    """The raceway as a circle, each conductor as low as it can lie."""
    canvas = Canvas(say("Cross-section of the raceway, to scale"))
    found = worked.drawn
    assert isinstance(found, CrossSection)  # noqa: S101 - its own kind's drawing
    scale = RADIUS / (found.inside / 2)
    x, y = WIDTH / 2 - 60, MIDDLE
    shown = sorted(found.conductors, reverse=True)[:DRAWN]
    half = found.inside / 2
    if found.square:
        side = 2 * RADIUS
        canvas.line(f"M{x - RADIUS:.1f} {y - RADIUS:.1f}h{side}v{side}h-{side}z", "tapline")
        placed = laid(half, [d / 2 for d in shown])
    else:
        canvas.line(circle(x, y, RADIUS + 3), "tapline")
        placed = packed(half, [d / 2 for d in shown])
    for dx, dy, radius in placed:
        canvas.line(circle(x + dx * scale, y + dy * scale, radius * scale), "section", "fill")
    left = x + RADIUS + 22
    canvas.text(left, MIDDLE - 40, str(worked.results["trade_size"].value), "b")
    percent = figure(float(worked.results["fill_percent"].value), 1)
    canvas.text(left, MIDDLE - 16, say("{percent} % filled", percent=percent), "s")
    allowed = worked.results["allowed"].value
    canvas.text(left, MIDDLE + 2, say("{percent} % allowed", percent=allowed), "s")
    more = figure(float(worked.results["more"].value))
    canvas.text(left, MIDDLE + 26, say("{more} more go in", more=more), "s")
    if len(found.conductors) > DRAWN:
        words = say("{many} of {all} drawn", many=DRAWN, all=len(found.conductors))
        canvas.text(left, MIDDLE + 44, words, "s")
    for name in ("trade_size", "fill_percent", "allowed", "more"):
        result = worked.results[name]
        value = result.value if isinstance(result.value, str) else figure(result.value, 1)
        canvas.row(result.label, f"{value} {result.unit}".strip())
    canvas.height = MIDDLE + RADIUS + 16
    return canvas


def circle(x: float, y: float, r: float) -> str:
    """The path of a circle about a point."""
    half = f"a{r:.2f} {r:.2f} 0 1 0"
    return f"M{x - r:.2f} {y:.2f}{half} {2 * r:.2f} 0{half} {-2 * r:.2f} 0"


def packed(inside: float, radii: list[float]) -> Iterator[tuple[float, float, float]]:
    """Circles laid into a circle of radius ``inside`` about 0, 0, each as low as it finds room (y
    runs down) beside those before it; one that finds none is left out."""
    placed: list[tuple[float, float, float]] = []
    for r in radii:
        room = inside - r
        if room < 0:
            continue
        spot = next(
            (
                (x, y)
                for y in _down(room)
                for x in _across(room, y)
                if all(hypot(x - a, y - b) >= r + c - 1e-9 for a, b, c in placed)
            ),
            None,
        )
        if spot is not None:
            placed.append((*spot, r))
            yield (*spot, r)


def laid(half: float, radii: list[float]) -> Iterator[tuple[float, float, float]]:
    """Circles laid in rows into a square of twice ``half`` about 0, 0, from the bottom up (y runs
    down); one that finds no room is left out."""
    x, floor, row = -half, half, 0.0
    for r in radii:
        if x + 2 * r > half + 1e-9:
            x, floor, row = -half, floor - row, 0.0
        if floor - 2 * r < -half - 1e-9:
            continue
        yield (x + r, floor - r, r)
        x, row = x + 2 * r, max(row, 2 * r)


def _down(room: float) -> Iterator[float]:
    """Heights from the bottom up."""
    for step in range(2 * STEPS + 1):
        yield room * (1 - step / STEPS)


def _across(room: float, y: float) -> Iterator[float]:
    """Places at a height, from the middle outward."""
    half = max(0.0, room * room - y * y) ** 0.5
    for step in range(STEPS + 1):
        x = half * step / STEPS
        yield x
        if x:
            yield -x


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """The conductors that are said."""
    return {"conductors.c1.size": read.size} if read.size else {}


PRESENTATION = Presentation(
    draw,
    open=("after",),
    subject=CIRCUITS,
    quick=True,
    on_supply=False,
    fill=fill,
    examples=(
        Example(
            say("Nine of 12 AWG in the smallest EMT"),
            {"conductors": ({"id": "c1", "count": "9", "size": "12"},)},
        ),
        Example(
            say("Three of 4/0, a neutral and its ground in PVC"),
            {
                "raceway": "PVC 40",
                "conductors": (
                    {"id": "c1", "count": "3", "size": "4/0", "insulation": "XHHW-2"},
                    {"id": "c2", "count": "1", "size": "2/0", "insulation": "XHHW-2"},
                    {"id": "c3", "count": "1", "size": "4", "carries": "no"},
                ),
            },
        ),
        Example(
            say("Twelve of 4/0 and six of 1/0 in a wireway"),
            {
                "raceway": "wireway",
                "conductors": (
                    {"id": "c1", "count": "12", "size": "4/0"},
                    {"id": "c2", "count": "6", "size": "1/0"},
                ),
            },
        ),
        Example(
            say("A nipple full of 10 AWG"),
            {
                "trade_size": "1",
                "nipple": "yes",
                "conductors": ({"id": "c1", "count": "20", "size": "10"},),
            },
        ),
    ),
    tasks=(
        task(
            27,
            "Raceway fill",
            "conduit fill how many wires conductors pipe emt pvc size trade raceway inside nipple"
            " jam ratio cross section chapter 9 wireway trough gutter 376",
        ),
    ),
)
