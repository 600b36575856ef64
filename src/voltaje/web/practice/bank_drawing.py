"""Where the parts of a bank of three units stand on its drawing: the primary lines above, the units
side by side, the secondary lines below."""

from __future__ import annotations

from voltaje.core.practice.bank_fault import CORNER, LINES, LOAD_LINES, FaultyBank
from voltaje.core.practice.faulty import MAIN_SWITCH, SERVICE
from voltaje.core.report import say
from voltaje.web.practice.network_drawing import NetworkDrawing, Pen

# the drawing's measures, in its own units
RISERS, APART, BARS, BELOW, STEP = 30.0, 44.0, 150.0, 400.0, 22.0
UNITS, COLUMN, UNIT, WIDE, TALL = 190.0, 190.0, 236.0, 130.0, 84.0
RIGHT, HEIGHT = 760.0, 560.0


def bank_drawn(
    bank: FaultyBank, opened: frozenset[str], measured: frozenset[str]
) -> NetworkDrawing:
    """The bank with its devices as they stand; ``measured`` are the places that were read so."""
    pen = Pen(bank, opened, measured)
    bars = {line: BARS + STEP * n for n, line in enumerate(LINES)}
    ends = LOAD_LINES if not bank.star else (*LOAD_LINES, "n")
    low = {line: BELOW + STEP * n for n, line in enumerate(ends)}
    _supply(pen, bars)
    for number in (1, 2, 3):
        _unit(pen, bank, number, bars, low)
    for line, y in low.items():
        pen.paths.append(("neutral" if line == "n" else "line", f"M{UNITS - 30} {y}H{RIGHT - 20}"))
        pen.label(RIGHT - 8, y + 4, line, "end")
    y = max(low.values()) + 44
    spots = [f"v-{one}{LOAD_LINES[(n + 1) % 3]}" for n, one in enumerate(LOAD_LINES)]
    spots += [f"v-{line}n" for line in LOAD_LINES] if bank.star else []
    for n, id in enumerate(spots):
        x = UNITS - 20 + 96 * n
        pen.label(x - 22, y + 5, "–".join(id.removeprefix("v-")), "end")
        pen.spot(id, x, y)
    return pen.made(RIGHT, y + 24, (WIDE, TALL))


def _supply(pen: Pen, bars: dict[str, float]) -> None:
    for n, line in enumerate(LINES):
        x = RISERS + APART * n
        pen.label(x, 12, line, "middle")
        pen.paths.append(("line", f"M{x} 18V{bars[line]}H{RIGHT - 20}"))
        pen.label(RIGHT - 8, bars[line] + 4, line, "end")
        pen.spot(f"a-{line}", x, 76)
        id = f"v-{line}{LINES[(n + 1) % 3]}"
        x = UNITS + 40 + 96 * n
        pen.label(x - 22, 81, "–".join(id.removeprefix("v-")), "end")
        pen.spot(id, x, 76)
    pen.switch(SERVICE, RISERS + APART, 38)
    pen.paths.append(("handle", f"M{RISERS} 38H{RISERS + 2 * APART}"))
    pen.switch(MAIN_SWITCH, RISERS + APART, 118)
    pen.paths.append(("handle", f"M{RISERS} 118H{RISERS + 2 * APART}"))


def _unit(
    pen: Pen, bank: FaultyBank, number: int, bars: dict[str, float], low: dict[str, float]
) -> None:
    x = UNITS + COLUMN * (number - 1)
    one, other = x + 26, x + WIDE - 26
    start, end = LINES[number - 1], LINES[number % 3]
    line = LOAD_LINES[number - 1]
    back = "n" if bank.star else LOAD_LINES[number % 3]
    for at, bar in ((one, start), (other, end)):
        pen.paths.append(("line", f"M{at} {bars[bar]}V{UNIT}"))
        pen.paths.append(("dot", f"M{at - 3} {bars[bar]}h6"))
    for at, bar in ((one, line), (other, back)):
        pen.paths.append(("line", f"M{at} {UNIT + TALL}V{low[bar]}"))
        pen.paths.append(("dot", f"M{at - 3} {low[bar]}h6"))
    pen.boxes.append((x, UNIT))
    pen.label(x + WIDE / 2, UNIT + 22, say("Unit {n}", n=number), "middle")
    pen.label(one, UNIT + TALL - 8, "X1", "middle")
    pen.label(other, UNIT + TALL - 8, "X2", "middle")
    pen.spot(f"v-x{number}", x + WIDE / 2, UNIT + 52)
    pen.spot(f"a-x{number}", one, UNIT + TALL + 34)
    if number == 3 and not bank.star:
        pen.switch(CORNER, other, UNIT + TALL + 34)
        pen.spot("v-gap", other + 44, UNIT + TALL + 34)
