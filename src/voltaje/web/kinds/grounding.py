"""The drawing of grounding and bonding: the grounded conductor, the jumpers, the electrodes,
each with its size and its purpose."""

from __future__ import annotations

from voltaje.core.report import Report, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import PROTECTION, Example, Presentation, task

TOP, STEP, LEFT, RIGHT = 66.0, 44.0, 44.0, 138.0
HEAD, SHORT = 52.0, 40.0
ELECTRODES = {
    "electrode_water_pipe": say("water pipe"),
    "electrode_steel": say("structural steel"),
    "electrode_concrete": say("concrete-encased"),
    "electrode_rod": say("rod, pipe or plate"),
    "electrode_ring": say("ground ring"),
}
BONDS = (
    ("grounded_conductor", say("Grounded conductor: path of fault current"), "white", "grounded"),
    ("main_bonding_jumper", say("Main bonding jumper: to ground, here only"), "green", "bonding"),
    ("supply_side_jumper", say("Supply-side jumper: bonds the raceways"), "green", "bonding"),
    ("ground_conductor", say("Equipment ground: to what is fed"), "green", "ground"),
)


def _run(canvas: Canvas, y: float, color: str, flow: str) -> None:
    """A conductor from the bar to what it is for."""
    run = f"M{LEFT} {y}H{RIGHT - 26}"
    canvas.line(run, "wire edge", flow)
    canvas.line(run, f"wire {color}", flow)
    if color == "green":
        canvas.line(run, "wire stripes", flow)


def draw(worked: Report, below: object = ()) -> Canvas:
    """From the enclosure's bar down: each conductor with what it is for."""
    canvas = Canvas(say("Grounding and bonding conductors with their purposes"))
    canvas.text(20, 24, say("AT THE SERVICE OR THE SOURCE"), "h")
    canvas.line(f"M20 {TOP - 18}H{WIDTH - 20}", "bus")
    shown = [bond for bond in BONDS if bond[0] in worked.results]
    there = [name for name in ELECTRODES if name in worked.results]
    end = TOP + STEP * (len(shown) - 1) + (HEAD + SHORT * (len(there) - 1) if there else 0)
    canvas.line(f"M{LEFT} {TOP - 18}V{end}")
    y = TOP
    for name, words, color, flow in shown:
        size = str(worked.results[name].value)
        _run(canvas, y, color, flow)
        canvas.text(RIGHT, y - 2, size, "b")
        canvas.text(RIGHT, y + 13, words, "s")
        canvas.row(worked.results[name].label, size)
        y += STEP
    y += HEAD - STEP
    for name in there:
        size = str(worked.results[name].value)
        _run(canvas, y, "green", name)
        for index, half in enumerate((12, 8, 4)):  # the earth
            x = RIGHT - 24 + 5 * index
            canvas.line(f"M{x} {y - half}V{y + half}")
        canvas.text(RIGHT, y - 2, size, "b")
        canvas.text(RIGHT, y + 13, ELECTRODES[name], "s")
        canvas.row(worked.results[name].label, size)
        y += SHORT
    canvas.height = y + 8
    return canvas


PRESENTATION = Presentation(
    draw,
    open=("grounded", "electrodes", "ground"),
    subject=PROTECTION,
    quick=True,
    on_supply=False,
    fill=lambda own, read: {"device_ahead": read.amperes},
    examples=(
        Example(
            say("Service of 400 A, 500 kcmil copper, water pipe and rod"),
            {
                "size": "500",
                "device_ahead": "400 A",
                "neutral": "180 A",
                "water_pipe": "yes",
                "rod": "yes",
            },
        ),
        Example(
            say("Three sets of 600 kcmil, each in its raceway"),
            {
                "size": "600",
                "sets": "3",
                "device_ahead": "1200 A",
                "neutral": "400 A",
                "steel": "yes",
            },
        ),
        Example(
            say("Circuit of 40 A enlarged for its drop from 8 to 6 AWG"),
            {"size": "6", "device_ahead": "40 A", "enlarged_from": "8"},
        ),
    ),
    tasks=(
        task(
            25,
            "Grounding and bonding by conductors",
            "grounded conductor grounding electrode system main bonding jumper supply side system"
            " jumper parallel sets service derived 250.66 250.102 250.122 egc gec proportional",
        ),
    ),
)
