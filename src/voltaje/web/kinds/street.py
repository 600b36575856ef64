"""A street's drawing: its wires down the middle, the consumers to either side in the colors of
their lines with the volts that they have; a press puts a consumer on the next line, or opens a
fuse."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.kinds.street.along import At
from voltaje.core.kinds.street.calculate import StreetOutcome
from voltaje.core.kinds.street.report import StreetDrawn
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, fits, say
from voltaje.web.drawings.canvas import WIDTH, Canvas, short
from voltaje.web.kinds.presentation import PROTECTION, Example, Presentation, task

TOP, STEP, MIDDLE, APART = 88.0, 36.0, 194.0, 18.0
BOX = 128.0
NAME_LENGTH = 17


def draw(worked: Report, below: object = ()) -> Canvas:
    """Fuses at the head, the street below it."""
    drawn = worked.drawn
    assert isinstance(drawn, StreetDrawn)  # noqa: S101 - what this kind tells
    outcome, colors = drawn.outcome, drawn.colors
    canvas = Canvas(say("The street and its consumers"))
    canvas.text(0, 14, say("THE STREET"), "h")
    wires = list(outcome.head)
    at = {w: MIDDLE + APART * (i - (len(wires) - 1) / 2) for i, w in enumerate(wires)}
    foot = TOP + STEP * len(outcome.there)
    _wires(canvas, outcome, colors, at, foot)
    _fuses(canvas, outcome, at)
    for index, there in enumerate(outcome.there):
        _house(canvas, outcome, there, index, at, colors)
    canvas.height = foot + 14
    return canvas


def _wires(
    canvas: Canvas,
    outcome: StreetOutcome,
    colors: Mapping[str, str],
    at: Mapping[str, float],
    foot: float,
) -> None:
    street = outcome.street
    for wire, x in at.items():
        css = canvas.color(colors.get(wire, ""))
        ends = [(TOP - 22, foot - 12)]
        if wire == street.opened:
            cut = TOP - 8 if street.behind == 0 else TOP + STEP * street.behind - 14
            ends = [(TOP - 22, cut - 5), (cut + 5, foot - 12)]
            canvas.line(f"M{x - 6} {cut - 8}L{x + 6} {cut + 8}", "outline")
        for top, bottom in ends:
            canvas.line(f"M{x} {top}V{bottom}", "wire edge", wire)
            canvas.line(f"M{x} {top}V{bottom}", f"wire {css}", wire)


def _fuses(canvas: Canvas, outcome: StreetOutcome, at: Mapping[str, float]) -> None:
    """A fuse at the head of each line: pressed, it opens and closes."""
    for wire, x in at.items():
        is_open = outcome.street.opened == wire and outcome.street.behind == 0
        canvas.text(x, TOP - 46, wire, "b", "middle")
        if wire == "N":
            continue
        fuse = outcome.fuses.get(wire)
        css = "fusebox" + (" open" if is_open else "")
        css += " over" if fuse is not None and not fuse.carries else ""
        words = say("Open the fuse of {line}", line=wire)
        if is_open:
            words = say("Close the fuse of {line}", line=wire)
        sets = f"opened={'none' if is_open else wire}"
        canvas.step(x - 4, TOP - 40, 8, 18, css, sets, words)
    heads = " · ".join(f"{wire} {figure(amperes, 0)} A" for wire, amperes in outcome.head.items())
    canvas.text(WIDTH, 14, heads, "s", "end")


def _house(
    canvas: Canvas,
    outcome: StreetOutcome,
    there: At,
    index: int,
    at: Mapping[str, float],
    colors: Mapping[str, str],
) -> None:
    house, left = there.house, index % 2 == 0
    y = TOP + STEP * index
    lines = outcome.street.system.lines
    x = 0.0 if left else WIDTH - BOX
    edge = BOX if left else WIDTH - BOX
    taps = lines if house.line == "all" else (house.line,)
    for number, line in enumerate(taps):
        height = y + 8 + 5 * number
        css = canvas.color(colors.get(line, ""))
        canvas.line(f"M{at[line]} {height}H{edge}", "tap edge", line)
        canvas.line(f"M{at[line]} {height}H{edge}", f"tap {css}", line)
    nominal = outcome.volts
    floor = nominal * (1 - outcome.low.value / 100)
    top = nominal * (1 + outcome.high.value / 100)
    holds = fits(floor, there.lowest) and fits(there.highest, top)
    css = "dark" if there.dark else "inside" if holds else "outside"
    row = house.path.partition(".")[2]
    if house.three:
        canvas.box(x, y - 2, BOX, 28, f"house {css}", house.line)
    else:
        following = lines[(lines.index(house.line) + 1) % len(lines)]
        canvas.step(
            x,
            y - 2,
            BOX,
            28,
            f"house {css}",
            f"consumers.{row}.line={following}",
            say(
                "{name} on {line}, {volts} V: put it on {following}",
                name=house.name,
                line=house.line,
                volts=figure(there.lowest, 1),
                following=following,
            ),
        )
    ink = "s" if there.dark else ""
    canvas.text(x + 7, y + 9, short(house.name, NAME_LENGTH), f"b {ink}")
    volts = str(say("dark")) if there.dark else f"{figure(there.lowest, 1)} V"
    canvas.text(x + 7, y + 22, f"{volts}", ink)
    canvas.text(x + BOX - 7, y + 22, f"{figure(house.va / 1000, 1)} kVA", "s", "end")
    canvas.row(
        house.name,
        say(
            "{line}, {volts} V, {load} VA, {far} m from the head",
            line=str(say("all lines")) if house.line == "all" else house.line,
            volts=figure(there.lowest, 1),
            load=figure(house.va, 0),
            far=figure(house.at, 0),
        ),
    )


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Its first consumer."""
    return {
        "consumers.c1.nameplate": read.power or read.amperes,
        "consumers.c1.length": read.length,
    }


LANE = Example(
    say("Six cottages along a lane, two of them far out on one line"),
    {
        "supply.system": "3ph-400Y/230",
        "size": "16 mm²",
        "fuse": "63 A",
        "consumers": [
            {"id": f"c{i}", "name": f"Cottage {i}", "length": far, "nameplate": load, "line": line}
            for i, (far, load, line) in enumerate(
                (("25 m", "5 kW", "L1"), ("30 m", "4 kW", "L2"), ("30 m", "6 kW", "L1"),
                 ("30 m", "3 kW", "L3"), ("40 m", "7 kW", "L1"), ("40 m", "5 kW", "L1")),
                1,
            )
        ],
    },
)  # fmt: skip

PRESENTATION = Presentation(
    draw,
    open=("head", "volts"),
    symbol="load",
    subject=PROTECTION,
    quick=True,
    usual_system="3ph-400Y/230",
    fill=fill,
    examples=(
        Example(
            say("Three houses on one line"),
            {
                "fuse": "100 A",
                "size": "auto",
                "consumers": [
                    {
                        "id": "a",
                        "name": say("No. {number}", number=1),
                        "length": "100 ft",
                        "nameplate": "6 kW",
                    },
                    {
                        "id": "b",
                        "name": say("No. {number}", number=2),
                        "length": "60 ft",
                        "nameplate": "8 kW",
                    },
                    {
                        "id": "c",
                        "name": say("No. {number}", number=3),
                        "length": "80 ft",
                        "nameplate": "5 kW",
                    },
                ],
            },
        ),
        Example(
            say("The same with its neutral open"),
            {
                "fuse": "100 A",
                "size": "4",
                "opened": "N",
                "opened_behind": "1",
                "consumers": [
                    {
                        "id": "a",
                        "name": say("No. {number}", number=1),
                        "length": "100 ft",
                        "nameplate": "6 kW",
                    },
                    {
                        "id": "b",
                        "name": say("No. {number}", number=2),
                        "length": "60 ft",
                        "nameplate": "8 kW",
                        "line": "L2",
                    },
                    {
                        "id": "c",
                        "name": say("No. {number}", number=3),
                        "length": "80 ft",
                        "nameplate": "1 kW",
                    },
                ],
            },
        ),
    ),
    tasks=(
        task(
            24,
            "Houses along a street, spread over three lines",
            "street houses lane quay camp berths pitches consumers spread phases fuse blows dim "
            "bright open neutral which line",
        ),
    ),
)
