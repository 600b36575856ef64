"""The drawing of the origin: line in, main earthing terminal, its conductor, its bonds."""

from __future__ import annotations

from voltaje.core.electrical.systems import METRIC_SYSTEMS
from voltaje.core.report import Report, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import PROTECTION, Example, Presentation, task

TERMINAL, LEFT, RIGHT, DOWN = 44.0, 84.0, 262.0, 92.0


def draw(worked: Report, below: object = ()) -> Canvas:
    """The main earthing terminal with what hangs on it."""
    canvas = Canvas(say("Main earthing terminal, its conductor, its bonds"))
    earthing = str(worked.results["earthing"].value)
    bonding = str(worked.results["bonding"].value)
    canvas.text(20, 24, say("MAIN EARTHING TERMINAL"), "h")
    canvas.line(f"M20 {TERMINAL}H{WIDTH - 20}", "bus")
    end = TERMINAL + DOWN
    for x, size, words in (
        (LEFT, earthing, say("main earthing")),
        (RIGHT, bonding, say("main bonding")),
    ):
        run = f"M{x} {TERMINAL}V{end}"
        canvas.line(run, "wire green", "ground")
        canvas.line(run, "wire stripes", "ground")
        canvas.text(x + 14, TERMINAL + 42, size, "b")
        canvas.text(x + 14, TERMINAL + 58, words, "s")
    for index, half in enumerate((34, 22, 10)):  # the earth
        y = end + 9 * index
        canvas.line(f"M{LEFT - half} {y}H{LEFT + half}")
    canvas.box(RIGHT - 62, end, 124, 28, "plain")
    canvas.text(RIGHT, end + 18, say("water, gas, steel"), "s", "middle")
    canvas.row(worked.results["earthing"].label, earthing)
    canvas.row(worked.results["bonding"].label, bonding)
    canvas.height = end + 40
    return canvas


PRESENTATION = Presentation(
    draw,
    open=("bonding",),
    subject=PROTECTION,
    quick=True,
    usual_system="3ph-400Y/230",
    systems=METRIC_SYSTEMS,
    examples=(
        Example(
            say("House on PME, 25 mm² tails"),
            {"code": "bs7671-2018", "line_conductor": "25", "earthing": "TN-C-S"},
        ),
        Example(
            say("Workshop with its own electrode"),
            {"code": "bs7671-2018", "line_conductor": "16", "earthing": "TT", "buried": "yes"},
        ),
    ),
    tasks=(
        task(
            24,
            "Main earthing and bonding, metric",
            "main earthing conductor bonding earth electrode met pme tn-c-s tt metric mm2 bond "
            "water gas equipotential",
        ),
    ),
)
