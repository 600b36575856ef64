"""Circuits on one neutral: the ladder with its currents, their phasors, their waves.

A conductor is clamped by a click; the contact on each piece opens and closes it; the leg at the
board moves a circuit to the next one.
"""

from __future__ import annotations

from cmath import phase
from collections.abc import Callable, Mapping, Sequence
from math import cos, degrees, pi, sin, sqrt

from voltaje.core.report import InstrumentPoint, Report, Text, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas, short
from voltaje.web.kinds.presentation import CIRCUITS, Example, Presentation, task

LEFT, RIGHT = 62.0, 380.0
RAIL_GAP = 84.0
MARKS = 96


def draw(worked: Report, below: object = ()) -> Canvas:
    """The three views; the ladder is the first."""
    ladder = _ladder(worked)
    canvas = Canvas(say("Circuits on one neutral"))
    canvas.views = [
        ("ladder", say("Ladder"), ladder),
        ("phasors", say("Phasors"), _phasors(worked)),
        ("waves", say("Waves"), _waves(worked)),
    ]
    return canvas


def _order(wires: Sequence[str]) -> list[str]:
    """From top to bottom: with two circuits the neutral stands between them."""
    circuits = [w for w in wires if w != "N"]
    return [circuits[0], "N", *circuits[1:]]


def _reference(worked: Report) -> complex:
    """What directions are taken against: circuit A's volts."""
    for point in worked.points:
        if point.role == "volts" and point.line == "A" and point.phasor:
            return point.phasor / abs(point.phasor)
    return 1 + 0j


def _opposite(loads: Sequence[InstrumentPoint]) -> bool:
    """Whether all circuits stand on one leg or on two in opposition, as on 120/240 V: then a
    current flows one way or the other."""
    found = [p.phasor / abs(p.phasor) for p in loads if len(p.line) == 1 and abs(p.phasor) > 1]
    return all(abs((one / found[0]).imag) < 0.2 for one in found)


def _ladder(worked: Report) -> Canvas:
    canvas = Canvas(say("Ladder of the circuits, the neutral and their loads"))
    colors = {w.role: canvas.color(w.color) for w in worked.wires}
    legs = {w.role: w.size for w in worked.wires}
    wires = _order([w.role for w in worked.wires])
    pieces = [p for p in worked.points if p.role == "conductor"]
    loads = [p for p in worked.points if p.role == "volts"]
    count = max((p.step for p in worked.points), default=0)
    opened = [p.name for p in pieces if p.open]
    rails = {wire: 58 + RAIL_GAP * index for index, wire in enumerate(wires)}
    pitch = (RIGHT - LEFT) / max(count, 1)
    most = max((p.value for p in pieces), default=0.0)
    three_wire = _opposite(loads)
    along = _reference(worked)

    def x(joint: float) -> float:
        return LEFT + pitch * joint

    canvas.text(0, 14, say("LADDER: AMPERES TO SCALE"), "h")
    next_leg = str(worked.results["supply_lines"].value).split(",")
    for wire in wires:
        y = rails[wire]
        if wire == "N":
            canvas.text(0, y + 4, say("Neutral"), "b")
        else:
            leg = legs[wire]
            after = next_leg[(next_leg.index(leg) + 1) % len(next_leg)]
            canvas.step(
                0,
                y - 15,
                50,
                28,
                "tapstep",
                f"phase_{wire.lower()}={after}",
                say(
                    "Circuit {wire} stands on {leg}: move it to {after}",
                    wire=wire,
                    leg=leg,
                    after=after,
                ),
            )
            canvas.text(7, y - 3, f"{wire}", "b")
            canvas.text(43, y - 3, leg, "s", "end")
            canvas.text(7, y + 9, say("to {leg}", leg=after), "s")
    for point in pieces:
        _piece(
            canvas,
            point,
            rails[point.line],
            x(point.step - 1),
            x(point.step),
            colors,
            most,
            _way(point, along, three_wire),
            opened,
        )
    _loads(canvas, loads, rails, x, {p.name: p for p in worked.points}, pitch)
    bottom = rails[wires[-1]] + 40
    canvas.height = _list(canvas, loads, {p.name: p for p in worked.points}, bottom)
    for point in pieces:
        canvas.row(str(point.label), say("open") if point.open else f"{figure(point.value, 2)} A")
    return canvas


def _way(point: InstrumentPoint, along: complex, three_wire: bool) -> float:
    """+1 away from the board, −1 towards it, 0 where a phase of three has no way of its own."""
    if point.value < 0.005:
        return 0.0
    value = (
        (point.phasor * along.conjugate()).real
        if three_wire
        else (-1.0 if point.line == "N" else 1.0)
    )
    return 1.0 if value > 0 else -1.0


def _piece(
    canvas: Canvas,
    point: InstrumentPoint,
    y: float,
    one: float,
    other: float,
    colors: Mapping[str, str],
    most: float,
    way: float,
    opened: Sequence[str],
) -> None:
    middle = (one + other) / 2
    css = colors[point.line]
    d = f"M{one:.1f} {y}H{other:.1f}"
    if point.open:
        d = f"M{one:.1f} {y}H{middle - 9:.1f}M{middle + 9:.1f} {y}H{other:.1f}"
    canvas.line(d, "wire edge", point.name)
    canvas.line(d, f"wire {css}", point.name)
    canvas.clamp(f"M{one:.1f} {y}H{other:.1f}", point.name, str(point.label), point.value)
    if point.open:
        left = [name for name in opened if name != point.name]
        canvas.step(
            middle - 8,
            y - 9,
            16,
            18,
            "contact open",
            f"opened_at={', '.join(left)}",
            say("Close {piece}", piece=point.label),
        )
        canvas.text(middle, y - 12, say("open"), "b fail", "middle")
        return
    canvas.step(
        middle - 5,
        y - 6,
        10,
        12,
        "contact",
        f"opened_at={', '.join([*opened, point.name])}",
        say("Open {piece}", piece=point.label),
    )
    if way and most:
        length = max(7.0, (other - one - 12) * point.value / most)
        width = 1.2 + 3.6 * point.value / most
        head = 3.0 + width
        tail, tip = middle - way * length / 2, middle + way * length / 2
        at = y - 12
        canvas.line(f"M{tail:.1f} {at}H{tip - way * head:.1f}", "amps", point.name, width=width)
        canvas.line(
            f"M{tip:.1f} {at}l{-way * head:.1f} {-head * 0.7:.1f}v{head * 1.4:.1f}z",
            "ampshead",
            point.name,
        )
    if other - one > 24:
        canvas.text(
            middle, y - 20, figure(point.value, 1 if point.value < 100 else 0), "", "middle"
        )


def _loads(
    canvas: Canvas,
    loads: Sequence[InstrumentPoint],
    rails: Mapping[str, float],
    x: Callable[[float], float],
    points: Mapping[str, InstrumentPoint],
    pitch: float,
) -> None:
    """Each load between its conductors, numbered; those of one joint side by side."""
    seen: dict[tuple[int, str], int] = {}
    for number, load in enumerate(loads, 1):
        ends = (load.line, "N") if len(load.line) == 1 else tuple(load.line.split("-"))
        top, bottom = sorted(rails[wire] for wire in ends)
        column = seen.get((load.step, ""), 0)
        seen[load.step, ""] = column + 1
        at = min(x(load.step) - 11 - 22 * column + (0 if load.step else 30), RIGHT - 11)
        middle = top + 44 if bottom - top > RAIL_GAP else (top + bottom) / 2 + 8
        canvas.line(f"M{at:.1f} {top}V{bottom}", "outline", load.name)
        ratio = load.value / load.nominal if load.nominal else 1.0
        css = "load" + (" over" if ratio > 1.1 else " under" if ratio < 0.9 else "")
        canvas.box(at - 9, middle - 13, 18, 26, css, load.name)
        canvas.text(at, middle + 4, str(number), "b", "middle")
        for y in (top, bottom):
            canvas.box(at - 2.5, y - 2.5, 5, 5, "junction", load.name)


def _list(
    canvas: Canvas,
    loads: Sequence[InstrumentPoint],
    points: Mapping[str, InstrumentPoint],
    top: float,
) -> float:
    y = top
    for number, load in enumerate(loads, 1):
        ratio = load.value / load.nominal if load.nominal else 1.0
        state = (
            say("burns")
            if ratio > 1.25
            else say("too high")
            if ratio > 1.1
            else (say("dead") if ratio < 0.05 else say("too low") if ratio < 0.9 else "")
        )
        amperes = points[f"{load.name}:A"].value
        canvas.text(14, y, str(number), "b", "end")
        canvas.text(22, y, short(str(load.label), 24))
        canvas.text(196, y, load.line, "s")
        canvas.text(272, y, f"{figure(load.value, 1)} V", "b", "end")
        canvas.text(326, y, f"{figure(amperes, 2)} A", "", "end")
        if state:
            canvas.text(WIDTH - 4, y, state, "b fail" if ratio > 1.1 else "b check", "end")
        words = f"{figure(load.value, 1)} V, {figure(amperes, 2)} A"
        canvas.row(
            say("{load}, circuit {circuit}", load=load.label, circuit=load.line),
            f"{words}, {state}" if state else words,
        )
        y += 18
    return y


def _conductor(point: InstrumentPoint) -> Text:
    neutral = point.line == "N"
    return say("Neutral") if neutral else say("Circuit {circuit}", circuit=point.line)


def _phasors(worked: Report) -> Canvas:
    """Currents at the board from one point, and head to tail: the gap is the neutral's."""
    canvas = Canvas(say("Phasors of the currents at the board"))
    canvas.text(0, 14, say("CURRENTS AT THE BOARD"), "h")
    colors = {w.role: canvas.color(w.color) for w in worked.wires}
    first = [p for p in worked.points if p.role == "conductor" and p.step == 1]
    most = max((abs(p.phasor) for p in first), default=0.0)
    turn = _reference(worked).conjugate()
    cx, cy, radius = WIDTH / 2, 168.0, 118.0
    for share in (0.5, 1.0):
        r = radius * share
        canvas.line(f"M{cx - r} {cy}a{r} {r} 0 1 0 {2 * r} 0a{r} {r} 0 1 0 {-2 * r} 0", "tickline")
    canvas.text(cx + 4, cy - radius + 12, f"{figure(most, 1)} A", "s")
    at = complex(cx, cy)
    for point in first:
        if not most or abs(point.phasor) < 0.005:
            continue
        size = point.phasor * turn / most * radius
        tip = complex(cx + size.real, cy - size.imag)
        canvas.line(_arrow(complex(cx, cy), tip), "wire edge")
        canvas.line(_arrow(complex(cx, cy), tip), f"wire {colors[point.line]}")
        name = "N" if point.line == "N" else point.line
        away = tip + (tip - complex(cx, cy)) / max(abs(tip - complex(cx, cy)), 1) * 14
        canvas.text(away.real, away.imag + 4, name, "b", "middle")
        if point.line != "N":
            step = complex(size.real, -size.imag)
            canvas.line(f"M{at.real:.1f} {at.imag:.1f}l{step.real:.1f} {step.imag:.1f}", "reach")
            at += step
    y = cy + radius + 34
    for point in first:
        angle = degrees(phase(point.phasor * turn)) if abs(point.phasor) > 1e-9 else 0.0
        canvas.text(0, y, _conductor(point), "b")
        canvas.text(190, y, f"{figure(abs(point.phasor), 2)} A", "", "end")
        canvas.text(250, y, f"{figure(angle, 1)}°", "s", "end")
        canvas.row(
            str(point.label),
            say(
                "{amperes} A at {angle}°",
                amperes=figure(abs(point.phasor), 2),
                angle=figure(angle, 1),
            ),
        )
        y += 18
    canvas.text(0, y + 4, say("The neutral carries the circuits’ phasor sum back."), "s")
    canvas.height = y + 14
    return canvas


def _arrow(start: complex, tip: complex) -> str:
    way = tip - start
    size = abs(way)
    if size < 1:
        return f"M{start.real:.1f} {start.imag:.1f}L{tip.real:.1f} {tip.imag:.1f}"
    unit = way / size
    one, other = tip - unit * 9 + unit * 4.5j, tip - unit * 9 - unit * 4.5j
    return (
        f"M{start.real:.1f} {start.imag:.1f}L{tip.real:.1f} {tip.imag:.1f}"
        f"M{one.real:.1f} {one.imag:.1f}L{tip.real:.1f} {tip.imag:.1f}"
        f"L{other.real:.1f} {other.imag:.1f}"
    )


def _waves(worked: Report) -> Canvas:
    """A cycle of each circuit's current and of what is left in the neutral."""
    canvas = Canvas(say("Waves of the currents at the board"))
    colors = {w.role: canvas.color(w.color) for w in worked.wires}
    first = [p for p in worked.points if p.role == "conductor" and p.step == 1]
    turn = phase(_reference(worked))
    y, half = 0.0, 44.0
    most = max((sqrt(2) * sum(abs(a) for _, a in p.waves) for p in first), default=0.0) or 1.0
    canvas.text(0, 14, say("ONE CYCLE AT THE BOARD"), "h")
    y = 26.0
    for point in first:
        middle = y + half
        canvas.line(f"M{LEFT} {middle}H{RIGHT}", "tickline")
        name = _conductor(point)
        canvas.text(0, middle - 3, name, "b")
        canvas.text(0, middle + 12, f"{figure(point.value, 1)} A", "s")
        steps = []
        for index in range(MARKS + 1):
            angle = 2 * pi * index / MARKS
            value = sum(
                sqrt(2) * (a.real * cos(n * (angle - turn)) - a.imag * sin(n * (angle - turn)))
                for n, a in point.waves
            )
            steps.append(
                f"{LEFT + (RIGHT - LEFT) * index / MARKS:.1f}"
                f" {middle - half * 0.9 * value / most:.1f}"
            )
        d = "M" + "L".join(steps)
        canvas.line(d, "wire edge")  # black on dark and white on light need it
        canvas.line(d, f"wire {colors[point.line]}")
        canvas.row(name, say("{amperes} A rms", amperes=figure(point.value, 2)))
        y += 2 * half
    canvas.text(
        0, y + 16, say("Sum of the circuits at every instant: what the neutral carries."), "s"
    )
    canvas.height = y + 26
    return canvas


PRESENTATION = Presentation(
    draw,
    open=("series", "junctions", "loops", "volts"),
    subject=CIRCUITS,
    quick=True,
    examples=(
        Example(
            say("Two counter circuits of a kitchen"),
            {
                "size": "12",
                "loads": [
                    {
                        "id": "a",
                        "name": say("Kettle"),
                        "nameplate": "1.4 kW",
                        "circuit": "A",
                        "length": "40 ft",
                    },
                    {
                        "id": "b",
                        "name": say("Toaster"),
                        "nameplate": "1.1 kW",
                        "circuit": "B",
                        "length": "44 ft",
                    },
                ],
            },
        ),
        Example(
            say("The same with its neutral open"),
            {
                "size": "12",
                "opened_at": "N:1",
                "loads": [
                    {
                        "id": "a",
                        "name": say("Kettle"),
                        "nameplate": "1.4 kW",
                        "circuit": "A",
                        "length": "40 ft",
                    },
                    {
                        "id": "b",
                        "name": say("Lamp"),
                        "nameplate": "60 W",
                        "circuit": "B",
                        "length": "44 ft",
                    },
                ],
            },
        ),
    ),
    tasks=(
        task(
            20,
            "Multiwire circuit, shared neutral",
            "three wire open lost loose volts current unbalanced mwbc common",
        ),
    ),
)
