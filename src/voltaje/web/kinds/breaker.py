"""The drawing of a breaker among its neighbours, and how much of its rating is left."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import PROTECTION, Example, Presentation, task

TOP, WIDE, LONG = 40.0, 46.0, 104.0


def draw(worked: Report, below: object = ()) -> Canvas:
    """The breaker, its rating beside what it carries."""
    canvas = Canvas(say("The breaker where it stands"))
    rating, carries = worked.value("rating"), worked.value("derated_current")
    canvas.text(0, 20, say("IN ITS ENCLOSURE"), "h")
    canvas.box(60, TOP, WIDE, LONG, "device", "device")
    canvas.text(60 + WIDE / 2, TOP + 54, f"{figure(rating)} A", "b", "middle")
    left, room = 150.0, WIDTH - 170.0
    for index, (name, amperes) in enumerate(
        ((say("rated"), rating), (say("carries there"), carries))
    ):
        y = TOP + 10 + 56 * index
        canvas.text(left, y, name, "s")
        canvas.box(left, y + 6, max(2.0, room * amperes / max(rating, carries)), 16, "load")
        canvas.text(left + 6, y + 38, f"{figure(amperes, 1)} A", "b")
        canvas.row(name, f"{figure(amperes, 1)} A")
    canvas.height = TOP + LONG + 24
    return canvas


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """The rating of the question."""
    return {"rating": read.amperes}


PRESENTATION = Presentation(
    draw,
    subject=PROTECTION,
    quick=True,
    on_supply=False,
    fill=fill,
    examples=(
        Example(
            say("63 A in an enclosure of 50 °C"),
            {
                "rating": "63 A",
                "enclosure_temperature": "50",
                "adjacent_breakers": "2",
                "load": "40 A",
            },
        ),
        Example(
            say("32 A alone at 40 °C"),
            {"rating": "32 A", "enclosure_temperature": "40", "load": "28 A"},
        ),
    ),
    tasks=(
        task(
            25,
            "Breaker in a hot enclosure",
            "derate derating heat hot warm enclosure panel ambient trips carries breaker mcb "
            "temperature neighbours side by side",
        ),
    ),
)
