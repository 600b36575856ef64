"""What divides by what: power over volts, over the root of three, to amperes; the solved framed."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, Text, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import Example, Presentation, task

BOX, HEIGHT = 104.0, 46.0


def draw(worked: Report, below: object = ()) -> Canvas:
    """Power above the bar, volts and what goes with them below it, amperes beside."""
    canvas = Canvas(say("What divides by what"))
    va, volts = worked.value("kva") * 1000, worked.value("volts")
    amperes = worked.value("formula_amperes")
    three = worked.results["phases"].value == "3"
    solved = worked.answer[0]
    middle = 128.0
    canvas.text(0, 14, say("WHAT DIVIDES BY WHAT"), "h")
    top = 34.0
    _box(
        canvas,
        middle - BOX / 2,
        top,
        f"{figure(va / 1000, 2)} kVA",
        say("apparent power"),
        solved == "kva",
    )
    y = top + HEIGHT + 14
    canvas.line(f"M{middle - 108} {y}H{middle + 108}", "bus")
    y += 14
    if three:
        _box(canvas, middle - BOX - 6, y, "√3", say("three-phase"), False)
        canvas.text(middle, y + 28, "×", "b", "middle")
        _box(canvas, middle + 6, y, f"{figure(volts, 1)} V", say("line to line"), solved == "volts")
    else:
        _box(canvas, middle - BOX / 2, y, f"{figure(volts, 1)} V", say("volts"), solved == "volts")
    bar = top + HEIGHT + 14
    canvas.text(254, bar + 5, "=", "b", "middle")
    _box(
        canvas,
        WIDTH - BOX - 12,
        bar - HEIGHT / 2,
        f"{figure(amperes, 2)} A",
        say("amperes"),
        solved == "amperes",
    )
    table = worked.value("amperes")
    if table != amperes:
        canvas.text(
            WIDTH - 12 - BOX / 2,
            bar + HEIGHT / 2 + 20,
            say("by the table {amperes} A", amperes=table),
            "b",
            "middle",
        )
    below_ = y + HEIGHT + 34
    factor = worked.value("power_factor")
    canvas.text(0, below_, say("APPARENT POWER"), "h")
    row = below_ + 18
    words = say(
        "{kw} kW ÷ {factor} power factor",
        kw=figure(worked.value("kw"), 3),
        factor=figure(factor, 3),
    )
    canvas.text(
        0, row, f"{words} = {figure(va / 1000, 3)} kVA", "b" if solved == "power_factor" else "s"
    )
    canvas.text(
        0,
        row + 20,
        say(
            "{horsepower} hp at the shaft: 746 W each, ÷ efficiency = W taken in",
            horsepower=figure(worked.value("horsepower"), 2),
        ),
        "s",
    )
    for name in ("kva", "kw", "horsepower", "volts", "amperes", "power_factor"):
        result = worked.results[name]
        canvas.row(result.label, f"{figure(result.value, 3)} {result.unit}".strip())
    canvas.height = row + 34
    return canvas


def _box(canvas: Canvas, x: float, y: float, text: str, under: Text, solved: bool) -> None:
    canvas.box(x, y, BOX, HEIGHT, "device limits" if solved else "device")
    canvas.text(x + BOX / 2, y + 20, text, "b", "middle")
    canvas.text(x + BOX / 2, y + 36, under, "s", "middle")


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """What the question gives of power, amperes and volts."""
    power = read.power or read.horsepower
    return {
        "power": power,
        "current": "" if power else read.amperes,
        "voltage": f"{read.volts} V" if read.volts else "",
        "phases": read.phases,
    }


PRESENTATION = Presentation(
    draw,
    quick=True,
    on_supply=False,
    fill=fill,
    boost=lambda own, read, score: 8.0 if read.converts else 0.0,
    examples=(
        Example(
            say("15 hp, three-phase, 208 V"),
            {"phases": "3", "power": "15 hp", "voltage": "208 V"},
        ),
        Example(
            say("75 kVA, three-phase, 480 V"),
            {"phases": "3", "power": "75 kVA", "voltage": "480 V"},
        ),
        Example(
            say("9.6 kW, single-phase, 240 V"),
            {"power": "9.6 kW", "voltage": "240 V"},
        ),
    ),
    tasks=(
        task(
            0,
            "Amperes from kVA, kW, hp or W",
            "full load current fla flc amp amps convert conversion how many draw "
            "draws formula watts kva kilowatts power factor pf efficiency to into",
        ),
    ),
)
