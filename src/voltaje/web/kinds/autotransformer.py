"""An autotransformer's drawing: its windings one above another, source left, load right."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise

from voltaje.core.kinds.autotransformer.entries import FAULT_LABELS
from voltaje.core.kinds.autotransformer.faults import FAULTS
from voltaje.core.kinds.autotransformer.report import OPENS
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, Text, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import WINDINGS, Example, Presentation, task

X = WIDTH / 2
TOP, BOTTOM = 60.0, 282.0
LOOP = 18.0
SWITCHES: dict[str, tuple[Text, Text | None]] = {
    "none": (say("none"), None),
    "series shorted": (say("series"), say("shorted")),
    "series open": (say("series"), say("open")),
    "common shorted": (say("common"), say("shorted")),
    "common open": (say("common"), say("open")),
    "load shorted": (say("load"), say("shorted")),
    "load earthed": (say("load"), say("to earth")),
    "source earthed": (say("source"), say("to earth")),
}
LEAST = 30.0  # between neighbouring points, so that their labels stay apart


def draw(worked: Report, below: object = ()) -> Canvas:
    """The winding upright; volts at every line, amperes in every piece."""
    if "points" in worked.results:
        canvas = Canvas(say("A tapped winding, its source and its load"))
        canvas.text(0, 14, say("THE WINDING AND ITS TAPS"), "h")
        _tapped(canvas, worked)
    else:
        canvas = Canvas(say("Two windings in series, their source and their load"))
        canvas.text(0, 14, say("HOW THEY ARE JOINED"), "h")
        if "output" not in worked.results:
            canvas.text(0, 40, say("No way fits these volts."), "b")
            canvas.height = 60
            return canvas
        _stacked(canvas, worked)
    canvas.height = canvas.height or BOTTOM + 62
    return canvas


def _stacked(canvas: Canvas, worked: Report) -> None:
    aiding = worked.results["aiding"].value == "yes"
    up = worked.results["direction"].value == "up"
    common, series = worked.value("common"), worked.value("series")
    joint = TOP + 90
    _coil(canvas, TOP, joint)
    _coil(canvas, joint, BOTTOM)
    for y in (TOP + 15 if aiding else joint - 8, joint + 15):
        canvas.text(X - 12, y, "•", "b", "middle")
    for y in (TOP, joint, BOTTOM):
        canvas.box(X - 3.5, y - 3.5, 7, 7, "junction")
    _beside(canvas, (TOP + joint) / 2, say("series"), series, worked.value("series_amperes"))
    _beside(canvas, (joint + BOTTOM) / 2, say("common"), common, worked.value("common_amperes"))
    # aiding: more volts at the outer end; opposing: fewer there
    source_outer = up != aiding
    _line(canvas, "source", (TOP if source_outer else joint, BOTTOM), worked)
    _line(canvas, "load", (joint if source_outer else TOP, BOTTOM), worked)
    joined = say("aiding: dot to no dot") if aiding else say("opposing: dot to dot, or end to end")
    canvas.row(say("In series"), f"{figure(series)} V")
    canvas.row(say("Common"), f"{figure(common)} V")
    canvas.row(say("They stand"), joined)
    canvas.text(0, BOTTOM + 34, joined, "b")
    words = say(
        "{delivers} kVA from {made} kVA of windings",
        delivers=figure(worked.value("output_power")),
        made=figure(worked.value("two_winding_kva")),
    )
    canvas.text(0, BOTTOM + 51, words, "s")
    _marked(canvas, worked, joint, source_outer)
    canvas.height = _switches(canvas, worked)


def _marked(canvas: Canvas, worked: Report, joint: float, source_outer: bool) -> None:
    """The fault where it is: a strap across, or a gap."""
    if "fault" not in worked.results:
        return
    fault = str(worked.results["fault"].value)
    pieces = {"series": (TOP, joint), "common": (joint, BOTTOM)}
    where, _, how = fault.partition(" ")
    if where in pieces:
        top, bottom = pieces[where]
        if how == "shorted":
            canvas.line(f"M{X} {top}h-36V{bottom}h36", "fault")
        else:
            middle = (top + bottom) / 2
            canvas.line(f"M{X - 16} {middle - 9}l32 18M{X - 16} {middle + 9}l32 -18", "fault")
        return
    load = where == "load"
    y = (joint if source_outer else TOP) if load else (TOP if source_outer else joint)
    x = WIDTH - 66 if load else 92
    canvas.line(f"M{x} {y}V{BOTTOM}", "fault")
    if how == "earthed":
        for index, half in enumerate((12, 8, 4)):
            canvas.line(f"M{x - half} {BOTTOM + 5 * index}h{2 * half}", "fault")


def _switches(canvas: Canvas, worked: Report) -> float:
    """A switch for each fault; the one that is on is pressed."""
    y = BOTTOM + 78
    canvas.text(0, y, say("FAULTS, PRESSED ONE AT A TIME"), "h")
    now = str(worked.results["fault"].value) if "fault" in worked.results else "none"
    width = WIDTH / 4
    for index, fault in enumerate(FAULTS):
        x, top = width * (index % 4), y + 10 + 40 * (index // 4)
        css = "tapstep choice on" if fault == now else "tapstep choice"
        label = say(FAULT_LABELS[fault])
        sets = "fault=none" if fault == now else f"fault={fault}"
        says = say("Fault: {fault}", fault=label)
        canvas.step(x + 2, top, width - 4, 34, css, sets, says)
        what, how = SWITCHES[fault]
        canvas.text(x + width / 2, top + (14 if how else 21), what, "s", "middle")
        if how:
            canvas.text(x + width / 2, top + 27, how, "b", "middle")
    if now != "none":
        volts = figure(worked.value("fault_load"), 1)
        opens = OPENS[str(worked.results["device_response"].value)]
        canvas.text(0, y + 108, say("{volts} V on the load.", volts=volts), "b fail")
        canvas.text(0, y + 125, opens, "s")
        canvas.row(say(FAULT_LABELS[now]), f"{volts} V")
        return y + 134
    return y + 98


def _tapped(canvas: Canvas, worked: Report) -> None:
    points = _points(worked, "points")
    heights = _heights(points)
    for low, high in pairwise(points):
        _coil(canvas, heights[high], heights[low])
    source, load = _points(worked, "source_on"), _points(worked, "load_on")
    for point in points:
        y = heights[point]
        canvas.box(X - 3.5, y - 3.5, 7, 7, "junction")
        canvas.text(X + LOOP + 4, y + (14 if point == points[-1] else -5), f"{point:g}", "term")
    for name, ends in (("source", source), ("load", load)):
        _line(canvas, name, (heights[max(ends)], heights[min(ends)]), worked)
    canvas.row(say("Source on"), ", ".join(f"{p:g}" for p in source))
    canvas.row(say("Load on"), ", ".join(f"{p:g}" for p in load))
    words = say(
        "source on {source}, load on {load}",
        source=" – ".join(f"{p:g}" for p in sorted(source)),
        load=" – ".join(f"{p:g}" for p in sorted(load)),
    )
    canvas.text(0, BOTTOM + 34, words, "b")


def _points(worked: Report, name: str) -> list[float]:
    return [float(p) for p in str(worked.results[name].value).split(", ")]


def _heights(points: list[float]) -> dict[float, float]:
    """Where each point stands, to scale as far as their labels allow."""
    room = BOTTOM - TOP
    pieces = [high - low for low, high in pairwise(points)]
    least = min(LEAST, room / len(pieces))
    free = room - least * len(pieces)
    y, heights = BOTTOM, {points[0]: BOTTOM}
    for point, piece in zip(points[1:], pieces, strict=True):
        y -= least + free * piece / sum(pieces)
        heights[point] = y
    return heights


def _coil(canvas: Canvas, top: float, bottom: float) -> None:
    count = max(2, round((bottom - top) / LOOP))
    each = (bottom - top) / count
    bumps = f"a{each / 2:.1f} {each / 2:.1f} 0 0 1 0 {each:.2f}" * count
    canvas.line(f"M{X} {top:.1f}{bumps}", "winding")


def _beside(canvas: Canvas, y: float, words: Text, volts: float, amperes: float) -> None:
    canvas.text(X + 22, y - 3, f"{words} {figure(volts)} V", "s")
    canvas.text(X + 22, y + 13, f"{figure(amperes, 1)} A", "b")


def _line(canvas: Canvas, side: str, ends: tuple[float, float], worked: Report) -> None:
    """Both wires of a side of the line, its volts between them, its amperes."""
    source = side == "source"
    edge, anchor = (4.0, "start") if source else (WIDTH - 4.0, "end")
    for y in ends:
        canvas.line(f"M{X} {y:.1f}H{edge}", "tapline")
    middle = sum(ends) / 2
    volts = worked.value("source_voltage" if source else "output")
    canvas.text(edge, middle - 10, say("source") if source else say("load"), "s", anchor)
    canvas.text(edge, middle + 8, f"{figure(volts, 1)} V", "b", anchor)
    name = f"{side}_amperes"
    if name in worked.results:
        canvas.text(edge, middle + 25, f"{figure(worked.value(name), 1)} A", "b", anchor)


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """The volts of the question are those of the source."""
    return {"source_voltage": f"{read.volts} V" if read.volts else "", "load": read.power}


PRESENTATION = Presentation(
    draw,
    open=("fault", "both", "chosen", "tapped", "ways", "device"),
    symbol="transformer",
    subject=WINDINGS,
    quick=True,
    on_supply=False,
    fill=fill,
    examples=(
        Example(
            say("A 50 kVA unit as an autotransformer of 550 kVA"),
            {
                "winding": "2400 V",
                "other_winding": "240 V",
                "kva": "50 kVA",
                "source_voltage": "2640 V",
                "required_voltage": "2400 V",
            },
        ),
        Example(
            say("240 V lowered to 208 V, its series winding shorted"),
            {
                "winding": "240 V",
                "other_winding": "32 V",
                "kva": "1.5 kVA",
                "source_voltage": "240 V",
                "required_voltage": "208 V",
                "load": "8 kVA",
                "fault": "series shorted",
            },
        ),
        Example(
            say("One winding with taps, the tap for 208 V"),
            {
                "construction": "tapped",
                "taps": "0, 120, 240",
                "source_on": "0, 240",
                "source_voltage": "240 V",
                "required_voltage": "208 V",
                "load": "5 kVA",
            },
        ),
    ),
    tasks=(
        task(
            35,
            "What two windings in series deliver: autotransformer",
            "autotransformer auto series common winding tap taps turns aiding opposing additive "
            "subtractive kva rating co-ratio step up down volts",
        ),
    ),
)
