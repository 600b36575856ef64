"""The drawing of a box: its volume as a bar of what takes it, or a pull box to scale with its
raceways."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.kinds.box_fill.report import BoxDrawn
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas, short
from voltaje.web.kinds.presentation import CIRCUITS, Example, Presentation, task

TOP, BAR = 34.0, 42.0
SPAN = 190.0
STUB = 26.0
MARGIN = 60.0


def draw(worked: Report, below: object = ()) -> Canvas:
    """A bar of volume, or the pull box from the front."""
    found = worked.drawn
    assert isinstance(found, BoxDrawn)  # noqa: S101 - its own kind's drawing
    canvas = _volume(found) if found.parts else _pull_box(found)
    for result in worked.results.values():
        value = result.value if isinstance(result.value, str) else figure(result.value, 2)
        canvas.row(result.label, f"{value} {result.unit}".strip())
    return canvas


def _volume(found: BoxDrawn) -> Canvas:
    """Each part of the volume as long as its share; what does not go in stands over the edge."""
    canvas = Canvas(say("What takes the volume of the box"))
    full = WIDTH - 2 * MARGIN
    scale = full / max(1.0, found.filled)
    x, y = MARGIN, TOP
    for _, share in found.parts:
        wide = share * scale
        canvas.line(f"M{x:.1f} {y}h{wide:.1f}v{BAR}h{-wide:.1f}z", "section", "fill")
        x += wide
    canvas.line(f"M{MARGIN} {y - 8}h{scale:.1f}v{BAR + 16}h{-scale:.1f}z", "tapline")
    percent = figure(100 * found.filled, 0)
    title = say("{percent} % of the box", percent=percent)
    canvas.text(MARGIN, y - 16, title if found.known else say("No box is as large"), "b")
    line = y + BAR + 30
    for words, share in found.parts:
        canvas.text(MARGIN, line, short(words, 46), "s")
        canvas.text(WIDTH - MARGIN, line, f"{figure(100 * share, 0)} %", "s", anchor="end")
        line += 18
    canvas.height = line + 6
    return canvas


def _pull_box(found: BoxDrawn) -> Canvas:
    """The box in proportion; a side that no raceway asks for is drawn as long as the other."""
    canvas = Canvas(say("Pull box from the front, to scale"))
    width, height = found.width or found.height, found.height or found.width
    scale = min((WIDTH - 2 * (MARGIN + STUB)) / width, SPAN / height)
    w, h = width * scale, height * scale
    left, top = (WIDTH - w) / 2, TOP + STUB
    canvas.line(f"M{left:.1f} {top:.1f}h{w:.1f}v{h:.1f}h{-w:.1f}z", "tapline")
    for wall in ("left", "right", "top", "bottom"):
        rows = [(trade, pull) for at, trade, pull in found.raceways if at == wall]
        long = h if wall in ("left", "right") else w
        for index, (trade, _) in enumerate(rows):
            middle = long * (index + 1) / (len(rows) + 1)
            across = min(trade * scale, long / (len(rows) + 1) * 0.9)
            _stub(canvas, wall, (left, top, w, h), middle, across)
            _name(canvas, wall, (left, top, w, h), middle, trade)
    if found.width:
        words = say("{inches} in wide at least", inches=figure(found.width, 1))
        canvas.text(left + w / 2, top + h / 2 - 2, words, "b", anchor="middle")
    if found.height:
        words = say("{inches} in high at least", inches=figure(found.height, 1))
        canvas.text(left + w / 2, top + h / 2 + 16, words, "s", anchor="middle")
    canvas.height = top + h + STUB + 24
    return canvas


Frame = tuple[float, float, float, float]


def _stub(canvas: Canvas, wall: str, frame: Frame, middle: float, across: float) -> None:
    left, top, w, h = frame
    half = across / 2
    if wall in ("left", "right"):
        x, way = (left, -STUB) if wall == "left" else (left + w, STUB)
        y = top + middle - half
        d = f"M{x:.1f} {y:.1f}h{way}v{across:.1f}h{-way}"
    else:
        y, way = (top, -STUB) if wall == "top" else (top + h, STUB)
        x = left + middle - half
        d = f"M{x:.1f} {y:.1f}v{way}h{across:.1f}v{-way}"
    canvas.line(d + "z", "section", "fill")


def _name(canvas: Canvas, wall: str, frame: Frame, middle: float, trade: float) -> None:
    left, top, w, h = frame
    words = f"{figure(trade, 2)} in"
    if wall in ("left", "right"):
        x, anchor = (left - STUB - 6, "end") if wall == "left" else (left + w + STUB + 6, "start")
        canvas.text(x, top + middle + 4, words, "s", anchor=anchor)
    else:
        y = top - STUB - 6 if wall == "top" else top + h + STUB + 14
        canvas.text(left + middle, y, words, "s", anchor="middle")


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """The conductors that are said."""
    return {"conductors.c1.size": read.size} if read.size in SIZES else {}


SIZES = ("18", "16", "14", "12", "10", "8", "6")

PRESENTATION = Presentation(
    draw,
    subject=CIRCUITS,
    quick=True,
    on_supply=False,
    fill=fill,
    examples=(
        Example(
            say("A receptacle between two cables of 12 AWG"),
            {
                "form": "device",
                "conductors": ({"id": "c1", "count": "4", "size": "12"},),
                "devices": ({"id": "d1", "count": "1", "size": "12"},),
                "clamps": "yes",
                "grounds": "2",
                "ground_size": "12",
            },
        ),
        Example(
            say("Six cables of 14 AWG joined in an octagonal box"),
            {
                "form": "round",
                "conductors": ({"id": "c1", "count": "12", "size": "14"},),
                "grounds": "6",
                "ground_size": "14",
            },
        ),
        Example(
            say("A pull box: two 3 in raceways turn, a 2 in one beside each"),
            {
                "purpose": "pull",
                "raceways": (
                    {"id": "r1", "trade": "3", "wall": "left", "pull": "angle"},
                    {"id": "r2", "trade": "2", "wall": "left", "pull": "angle"},
                    {"id": "r3", "trade": "3", "wall": "bottom", "pull": "angle"},
                    {"id": "r4", "trade": "2", "wall": "bottom", "pull": "angle"},
                ),
            },
        ),
    ),
    tasks=(
        task(
            28,
            "Box fill, pull box",
            "box fill volume cubic inches junction device octagonal square conductors clamps yoke"
            " conduit body pull box straight angle 314.16 314.28",
        ),
    ),
)
