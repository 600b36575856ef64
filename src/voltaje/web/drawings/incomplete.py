"""In place of a part's own drawing where results that it needs are missing: which ones."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from voltaje.core.report import Report, say
from voltaje.web.drawings.canvas import WIDTH, Canvas, short

SHOWN = 10
STEP = 34.0


def draw(worked: Report, below: Sequence[Any] = ()) -> Canvas:
    """A broken line down to each part whose result is missing."""
    canvas = Canvas(say("What is missing"))
    canvas.text(0, 14, say("RESULTS THAT ARE MISSING"), "h")
    canvas.line(f"M20 34H{WIDTH - 20}", "bus")
    shown = worked.missing[:SHOWN]
    for index, name in enumerate(shown):
        y = 34 + STEP * (index + 1)
        canvas.line(f"M60 {y - STEP}V{y - 20}M60 {y - 10}V{y}H100")
        canvas.box(104, y - 9, 18, 18, "dot incomplete")
        canvas.text(134, y + 5, short(name, 46), "b")
        canvas.row(name, say("no result yet"))
    y = 34 + STEP * (len(shown) + 1)
    if len(worked.missing) > SHOWN:
        more = say("and {count} more", count=len(worked.missing) - SHOWN)
        canvas.text(134, y, more, "s")
        y += STEP
    canvas.text(20, y + 4, say("Nothing is chosen here until they are known."), "s")
    canvas.height = y + 20
    return canvas
