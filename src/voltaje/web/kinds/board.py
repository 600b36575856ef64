"""A board's drawing: its places with what stands in them, and what each line carries."""

from __future__ import annotations

from voltaje.core.kinds.board.calculate import BoardOutcome
from voltaje.core.kinds.board.report import BoardDrawn
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings import places
from voltaje.web.drawings.canvas import Canvas
from voltaje.web.kinds.presentation import Presentation

LEFT, RIGHT, TOP, STEP = 44.0, 300.0, 34.0, 40.0


def draw(worked: Report, below: object = ()) -> Canvas:
    """Its places, and beside them its lines."""
    drawn = worked.drawn
    assert isinstance(drawn, BoardDrawn)  # noqa: S101 - what this kind tells
    canvas = Canvas(say("The board"))
    canvas.views = [
        ("places", say("Places"), places.draw(drawn.schedule, drawn.colors)),
        ("lines", say("Lines"), _lines(worked)),
    ]
    return canvas


def _lines(worked: Report) -> Canvas:
    """A bar for each line, the mean as a line across."""
    canvas = Canvas(say("What each line carries"))
    canvas.text(0, 14, say("ON ITS LINES"), "h")
    names = [name for name in ("l1", "l2", "l3") if f"va_{name}" in worked.results]
    loads = {name: worked.value(f"va_{name}") for name in names}
    most = max([*loads.values(), 1.0])
    mean = sum(loads.values()) / max(len(loads), 1)
    for index, name in enumerate(names):
        y = TOP + STEP * index
        canvas.text(0, y + 16, name.upper(), "b")
        width = (RIGHT - LEFT) * loads[name] / most
        canvas.box(LEFT, y, max(width, 1.0), 22, f"lineload {name}", name.upper())
        canvas.text(LEFT + width + 8, y + 10, f"{figure(loads[name], 0)} VA", "b halo")
        canvas.text(
            LEFT + width + 8, y + 23, f"{figure(worked.value(f'current_{name}'), 1)} A", "s halo"
        )
        canvas.row(name.upper(), f"{figure(loads[name], 0)} VA")
    bottom = TOP + STEP * len(names) - 10
    if len(names) > 1 and mean:
        x = LEFT + (RIGHT - LEFT) * mean / most
        canvas.line(f"M{x:.1f} {TOP - 6}V{bottom}", "mean")
        canvas.text(x, bottom + 14, say("mean {va} VA", va=figure(mean, 0)), "s", "middle")
    canvas.height = bottom + 26
    return canvas


def detail(outcome: BoardOutcome) -> tuple[str, ...]:
    """Its calculated load."""
    load = outcome.calculated.load if outcome.calculated else 0.0
    return (f"{figure(load / 1000, 1)} kVA",)


PRESENTATION = Presentation(
    draw,
    draws_incomplete=True,
    open=("load",),
    symbol="board",
    detail=detail,
    table=True,
)
