"""A run's drawing: the volts along the distance with the limit, and the run under it with what
each segment carries and loses."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.questions import AskedQuantities
from voltaje.core.report import InstrumentPoint, Report, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas, short
from voltaje.web.kinds.presentation import CIRCUITS, Example, Presentation, task

LEFT, RIGHT = 46.0, 374.0
TOP, BOTTOM = 40.0, 208.0


def draw(worked: Report, below: object = ()) -> Canvas:
    """Profile above, conductors below."""
    canvas = Canvas(say("Volts along the run"))
    joints = [p for p in worked.points if p.role == "joint"]
    segments = [p for p in worked.points if p.role == "conductor" and p.step]
    nominal, limit = joints[0].nominal, worked.value("maximum_drop")
    floor = joints[0].value - nominal * limit / 100
    values = [p.value for p in joints]
    low, high = min(*values, floor), max(values)
    margin = max((high - low) * 0.12, nominal * 0.002)
    low, high = low - margin, high + margin
    end = joints[-1].at or 1.0

    def x(point: InstrumentPoint) -> float:
        return LEFT + (RIGHT - LEFT) * point.at / end

    def y(volts: float) -> float:
        return BOTTOM - (BOTTOM - TOP) * (volts - low) / (high - low)

    canvas.text(0, 14, say("VOLTS ALONG THE RUN"), "h")
    for volts in _ticks(low, high):
        canvas.line(f"M{LEFT} {y(volts):.1f}H{RIGHT}", "tickline")
        canvas.text(LEFT - 6, y(volts) + 4, figure(volts), "s", "end")
    canvas.box(LEFT, y(floor), RIGHT - LEFT, BOTTOM - y(floor), "beyond")
    canvas.line(f"M{LEFT} {y(floor):.1f}H{RIGHT}", "limitline")
    canvas.text(
        RIGHT,
        y(floor) + 14,
        say("{percent} % lost: {volts} V", percent=limit, volts=figure(floor, 1)),
        "s",
        "end",
    )
    path = "L".join(f"{x(p):.1f} {y(p.value):.1f}" for p in joints)
    canvas.line(f"M{path}", "profile")
    clear = -100.0
    for index, point in enumerate(joints):
        inside = point.value >= floor - 1e-9
        canvas.box(
            x(point) - 5,
            y(point.value) - 5,
            10,
            10,
            f"dot {'pass' if inside else 'check'}",
            f"s{index - 1}" if index else "start",
        )
        last = index == len(joints) - 1
        at = x(point) + (5 if last else 0)
        if at - clear > 44 or last:
            canvas.text(
                at,
                y(point.value) - 11,
                f"{figure(point.value, 1)} V",
                "b",
                "end" if last else "start" if index == 0 else "middle",
            )
            clear = at
    top = BOTTOM + 34
    canvas.text(0, top, say("CONDUCTORS"), "h")
    rail = top + 34
    for index, segment in enumerate(segments):
        one, other = x(joints[index]), x(joints[index + 1])
        d = f"M{one:.1f} {rail}H{other:.1f}"
        canvas.line(d, "outline", f"s{index}", width=2.0)
        canvas.clamp(d, segment.name, str(segment.label), segment.value)
        if other - one > 40:
            canvas.text((one + other) / 2, rail - 8, f"{figure(segment.value, 1)} A", "s", "middle")
    for index, point in enumerate(joints):
        canvas.box(x(point) - 4, rail - 4, 8, 8, "load", f"s{index - 1}" if index else "start")
    lost = joints[0].value - joints[-1].value
    row = rail + 30
    for index, segment in enumerate(segments):
        share = joints[index].value - joints[index + 1].value
        part = f"{figure(100 * share / lost, 0)} %" if abs(lost) > 1e-9 else ""
        canvas.text(0, row, short(str(segment.label), 34))
        canvas.text(252, row, segment.line, "s", "end")
        canvas.text(318, row, f"{figure(share)} V", "", "end")
        canvas.text(WIDTH - 14, row, part, "s", "end")
        canvas.row(
            str(segment.label),
            say(
                "{amperes} A, {lost} V lost, {there} V there",
                amperes=figure(segment.value, 1),
                lost=share,
                there=figure(joints[index + 1].value, 1),
            ),
        )
        row += 18
    canvas.height = row
    return canvas


def _ticks(low: float, high: float) -> list[float]:
    """Round volts, three to seven of them."""
    for step in (0.5, 1, 2, 5, 10, 20, 50, 100, 200):
        if (high - low) / step <= 6:
            first = int(low / step) + 1
            return [step * i for i in range(first, int(high / step) + 1)]
    return []


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Its first segment, and the drop that is allowed."""
    return {
        "segments.s1.nameplate": read.power or read.amperes or read.horsepower,
        "segments.s1.length": read.length,
        "maximum_drop": read.percent,
    }


PRESENTATION = Presentation(
    draw,
    open=("drop", "table", "mend", "volts", "measured"),
    subject=CIRCUITS,
    quick=True,
    connects=True,
    fill=fill,
    examples=(
        Example(
            say("Yard lights along 300 ft"),
            {
                "system": "1ph-120/240",
                "connection": "two-line",
                "size": "auto",
                "segments": [
                    {"id": "a", "name": say("Gate"), "length": "120 ft", "nameplate": "600 W"},
                    {"id": "b", "name": say("Yard"), "length": "90 ft", "nameplate": "600 W"},
                    {"id": "c", "name": say("Shed"), "length": "90 ft", "nameplate": "900 W"},
                ],
            },
        ),
        Example(
            say("Three outlets on 12 AWG at 120 V"),
            {
                "system": "1ph-120/240",
                "connection": "line-neutral",
                "size": "12",
                "segments": [
                    {"id": "a", "name": "1", "length": "50 ft", "nameplate": "3 A"},
                    {"id": "b", "name": "2", "length": "30 ft", "nameplate": "4 A"},
                    {"id": "c", "name": "3", "length": "30 ft", "nameplate": "4 A"},
                ],
            },
        ),
    ),
    tasks=(
        task(
            19,
            "Voltage drop along a run",
            "volts lost drop long distance length far end wire cable segments gate "
            "lamp pump feet percent vd",
        ),
    ),
)
