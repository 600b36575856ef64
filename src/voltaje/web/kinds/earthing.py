"""The drawing of the origin: line in, main earthing terminal, its conductor, its bonds."""

from __future__ import annotations

from voltaje.core.electrical.systems import METRIC_SYSTEMS
from voltaje.core.worksheet import Worked, say
from voltaje.web.kinds.presentation import Presentation, task
from voltaje.web.sheets.drawings.canvas import WIDTH, Canvas

TERMINAL, LEFT, RIGHT = 96.0, 70.0, 250.0


def draw(worked: Worked, below: object = ()) -> Canvas:
    """The main earthing terminal with what hangs on it."""
    canvas = Canvas(say("Main earthing terminal, its conductor, its bonds"))
    earthing = str(worked.results["earthing"].value)
    bonding = str(worked.results["bonding"].value)
    canvas.text(0, 14, say("MAIN EARTHING TERMINAL"), "h")
    canvas.line(f"M20 {TERMINAL}H{WIDTH - 20}", "bus", "ground")
    canvas.line(f"M{LEFT} {TERMINAL}V{TERMINAL + 86}", "", "ground")
    for index, half in enumerate((34, 22, 10)):
        y = TERMINAL + 86 + 9 * index
        canvas.line(f"M{LEFT - half} {y}H{LEFT + half}", "", "ground")
    canvas.text(LEFT + 14, TERMINAL + 40, earthing, "b")
    canvas.text(LEFT + 14, TERMINAL + 56, say("main earthing"), "s")
    canvas.line(f"M{RIGHT} {TERMINAL}V{TERMINAL + 86}", "", "ground")
    canvas.box(RIGHT - 44, TERMINAL + 86, 88, 26, "plain")
    canvas.text(RIGHT, TERMINAL + 103, say("water, gas, steel"), "s", "middle")
    canvas.text(RIGHT + 14, TERMINAL + 40, bonding, "b")
    canvas.text(RIGHT + 14, TERMINAL + 56, say("main bonding"), "s")
    canvas.row(worked.results["earthing"].label, earthing)
    canvas.row(worked.results["bonding"].label, bonding)
    canvas.height = TERMINAL + 126
    return canvas


PRESENTATION = Presentation(
    draw,
    open=("bonding",),
    quick=True,
    usual_system="3ph-400Y/230",
    systems=METRIC_SYSTEMS,
    tasks=(
        task(
            24,
            "Main earthing and bonding, metric",
            "main earthing conductor bonding earth electrode met pme tn-c-s tt metric mm2 bond "
            "water gas equipotential",
        ),
    ),
)
