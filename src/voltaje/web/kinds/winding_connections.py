"""A bench of windings, drawn four ways: its coils with their joints as rails, the units seen from
above, the phasors low over high, the clock. Ends are joined by dragging or by keyboard."""

from __future__ import annotations

import cmath
from collections.abc import Mapping, Sequence
from math import cos, degrees, pi, sin

from voltaje.core.kinds.winding_connections.bench import BenchCoil, Net, by_token
from voltaje.core.kinds.winding_connections.benches import LIBRARY
from voltaje.core.kinds.winding_connections.calculate import (
    WindingConnectionsOutcome,
    fed_side,
    open_ends,
)
from voltaje.core.kinds.winding_connections.report import angle
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, Text, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas, short
from voltaje.web.kinds.presentation import WINDINGS, Example, Presentation, task

LABELS, VOLTS = 44.0, 106.0  # what the names at the left of the rails take, the volts at the right
COIL_TOP, COIL = 62.0, 52.0
RAILS, RAIL = COIL_TOP + COIL + 34, 17.0
MOST_PITCH = 40.0
NOTHING = 1e-3
LINES = {"A": "L1", "B": "L2", "C": "L3", "N": "N"}


def draw(worked: Report, below: object = ()) -> Canvas:
    """All views; the coils are the first."""
    outcome = worked.drawn
    assert isinstance(outcome, WindingConnectionsOutcome)  # noqa: S101 - what this kind tells
    canvas = Canvas(say("A bench of windings"))
    colors = _colors(worked, outcome)
    canvas.views = [
        ("coils", say("Coils"), _coils(outcome, colors)),
        ("above", say("From above"), _above(outcome, colors)),
        ("phasors", say("Phasors"), _phasors(outcome)),
        ("clock", say("Clock"), _clock(outcome)),
    ]
    return canvas


def _colors(worked: Report, outcome: WindingConnectionsOutcome) -> dict[str, str]:
    """The class of a rail by a line that stands on it."""
    known = {wire.role: wire.color for wire in worked.wires}
    names = dict(LINES)
    names |= dict(zip(outcome.fed[:3], ("L1", "L2", "L3"), strict=False))
    names |= dict(zip(outcome.taken[:3], ("L1", "L2", "L3"), strict=False))
    canvas = Canvas(say(""))
    return {name: canvas.color(known.get(role, "")) for name, role in names.items()}


def _color(net: Net, colors: Mapping[str, str]) -> str:
    return next((colors[point] for point in net.points if point in colors), "ink")


def _volts(outcome: WindingConnectionsOutcome, net: Net) -> str:
    phasor = outcome.at.get(net.members[0])
    if phasor is None:
        return ""
    if abs(phasor) < NOTHING:
        return "0 V"
    return f"{figure(abs(phasor), 0)} V {angle(phasor)}"


def _faulty(outcome: WindingConnectionsOutcome) -> set[str]:
    """The ends of the joint that cannot be closed."""
    return set(outcome.short.joint.split("–")) if outcome.short else set()


# coils and their rails ------------------------------------------------------------------------


def _coils(outcome: WindingConnectionsOutcome, colors: Mapping[str, str]) -> Canvas:
    """Each coil stands in a column; each conductor is a rail below, with a dot where an end meets
    it."""
    canvas = Canvas(say("Coils in columns, their joints as rails"))
    pitch = min(MOST_PITCH, (WIDTH - LABELS - VOLTS) / len(outcome.coils))
    x_of = {coil.name: LABELS + pitch * (i + 0.55) for i, coil in enumerate(outcome.coils)}
    _units(canvas, outcome.coils, x_of, pitch)
    rail_of, bad = by_token(outcome.nets), _faulty(outcome)
    y_of = {net.members: RAILS + RAIL * index for index, net in enumerate(outcome.nets)}
    right = LABELS + pitch * len(outcome.coils) + 6
    for net in outcome.nets:
        _rail(canvas, outcome, net, y_of[net.members], right, colors, bad)
    for coil in outcome.coils:
        x = x_of[coil.name]
        for end, top in zip(coil.ends, (True, False), strict=True):
            y = COIL_TOP if top else COIL_TOP + COIL
            found = rail_of.get(end)
            if found is not None:
                css = f"lead {_color(found, colors)}"
                lane = x - min(11.0, pitch * 0.38)
                path = f"M{x} {y}V{y_of[found.members]}"
                if top:
                    path = f"M{x} {y}v-8H{lane}V{y_of[found.members]}"
                at = lane if top else x
                canvas.line(path, css, coil.name)
                canvas.box(at - 2.5, y_of[found.members] - 2.5, 5, 5, "junction")
            _end(canvas, x, y, end, found)
    y = RAILS + RAIL * len(outcome.nets) + 12
    canvas.text(0, y, say("Drag one end to another or to a rail, or press both in turn."), "s")
    canvas.text(0, y + 15, say("Pressed twice, or with Delete, an end comes off."), "s")
    canvas.height = y + 24
    for net in outcome.nets:
        canvas.row(net.text, _volts(outcome, net))
    for end in open_ends(outcome):
        canvas.row(end, say("open"))
    return canvas


def _units(
    canvas: Canvas, coils: Sequence[BenchCoil], x_of: Mapping[str, float], pitch: float
) -> None:
    """Names, cores and coils."""
    for unit in dict.fromkeys(coil.unit for coil in coils):
        own = [x_of[coil.name] for coil in coils if coil.unit == unit]
        canvas.line(f"M{own[0] - pitch * 0.3} 26H{own[-1] + pitch * 0.3}", "core")
        canvas.line(f"M{own[0] - pitch * 0.3} 30H{own[-1] + pitch * 0.3}", "core")
        canvas.text((own[0] + own[-1]) / 2, 19, unit, "b", "middle")
    for coil in coils:
        x = x_of[coil.name]
        canvas.text(x, 43, str(coil.number), "term", "middle")
        bumps = "".join(f"a6.5 6.5 0 0 1 0 {COIL / 4}" for _ in range(4))
        canvas.line(f"M{x} {COIL_TOP}{bumps}", "winding thin", coil.name)
        # the dot stands beside the end of the coil that is told with a plus
        canvas.text(x + 8, COIL_TOP + 4, "•", "b", "middle")


def _rail(
    canvas: Canvas,
    outcome: WindingConnectionsOutcome,
    net: Net,
    y: float,
    right: float,
    colors: Mapping[str, str],
    bad: set[str],
) -> None:
    css = "rail fail" if bad and bad <= set(net.members) else f"wire rail {_color(net, colors)}"
    if bad.isdisjoint(net.members):
        canvas.line(f"M{LABELS} {y}H{right}", "wire edge")
    canvas.line(f"M{LABELS} {y}H{right}", css)
    name = " ".join(net.points)
    canvas.text(LABELS - 14, y + 4, short(name, 7), "b", "end")
    canvas.text(WIDTH, y + 4, _volts(outcome, net), "s", "end")
    says = say("Rail {name}", name=name) if name else say("Rail of {end}", end=net.members[0])
    canvas.end(LABELS - 6, y, net.members[0], says, joined=True, rail=True)


def _end(canvas: Canvas, x: float, y: float, end: str, net: Net | None) -> None:
    if net is None:
        canvas.end(x, y, end, say("{end}, open", end=end), joined=False)
        return
    others = " ".join(one for one in net.members if one != end)
    canvas.end(x, y, end, say("{end}, joined to {others}", end=end, others=others), joined=True)


# from above -----------------------------------------------------------------------------------


def _above(outcome: WindingConnectionsOutcome, colors: Mapping[str, str]) -> Canvas:
    """The units as boxes with their bushings: coil 1 on the upper side, the others below."""
    canvas = Canvas(say("Units from above, with bushings and jumpers"))
    units = list(dict.fromkeys(coil.unit for coil in outcome.coils))
    many = [len([c for c in outcome.coils if c.unit == unit]) for unit in units]
    width = min(112.0, (WIDTH - 6 * (len(units) + 1)) / len(units))
    tracks = max(1, len(outcome.nets))
    top = 34 + 9 * min(tracks, 9)
    place: dict[str, tuple[float, float, bool]] = {}
    for index, (unit, count) in enumerate(zip(units, many, strict=True)):
        x = 6 + (width + 6) * index
        canvas.box(x, top, width, 74, "plain")
        canvas.text(x + width / 2, top + 41, unit, "b", "middle")
        for coil in (c for c in outcome.coils if c.unit == unit):
            upper = coil.number == 1
            slots = 2 if upper else 2 * (count - 1)
            first = 0 if upper else 2 * (coil.number - 2)
            for offset, end in enumerate(coil.ends):
                at = x + width * (first + offset + 0.5) / slots
                place[end] = (at, top if upper else top + 74, upper)
    _jumpers(canvas, outcome, place, colors, top)
    for end, (x, y, upper) in place.items():
        found = by_token(outcome.nets).get(end)
        _end(canvas, x, y, end, found)
        if width >= 60 or len(units) < 5:  # no room for their names beside twelve units
            bushing = end[len(end.rstrip("0123456789+-")) :]
            canvas.text(x, y + (15 if upper else -9), bushing, "s", "middle")
    canvas.height = top + 74 + 40 + 9 * min(tracks, 9)
    for net in outcome.nets:
        canvas.row(net.label, net.text)
    return canvas


def _jumpers(
    canvas: Canvas,
    outcome: WindingConnectionsOutcome,
    place: Mapping[str, tuple[float, float, bool]],
    colors: Mapping[str, str],
    top: float,
) -> None:
    """Each conductor in a track of its own, above the boxes, below them, or between both."""
    for index, net in enumerate(outcome.nets):
        ends = sorted((place[end] for end in net.ends if end in place), key=lambda at: at[0])
        if not ends:
            continue
        css = f"lead {_color(net, colors)}"
        track = 9.0 * (index % 9) + 12
        high, low = top - track, top + 74 + track
        upper, lower = [at for at in ends if at[2]], [at for at in ends if not at[2]]
        for found, y in ((upper, high), (lower, low)):
            if len(found) > 1 or (found and (len(ends) > 1 or net.points)):
                for x, start, _ in found:
                    canvas.line(f"M{x} {start}V{y}", css)
                if len(found) > 1:
                    canvas.line(f"M{found[0][0]} {y}H{found[-1][0]}", css)
        if upper and lower:  # through beside a box
            x = 3 + 6 * (index % 2) if upper[0][0] < WIDTH / 2 else WIDTH - 3
            canvas.line(f"M{upper[0][0]} {high}H{x}V{low}H{lower[0][0]}", css)
        if net.points:
            x, y = (upper[0][0], high - 3) if upper else (lower[0][0], low + 11)
            canvas.text(x - 4, y, " ".join(net.points), "b", "end")


# phasors --------------------------------------------------------------------------------------

MIDDLE = (WIDTH / 2, 168.0)
REACH = 128.0


def _phasors(outcome: WindingConnectionsOutcome) -> Canvas:
    """Coils of the fed side in ink, those of the other over them, each parallel to the first coil
    of its unit."""
    canvas = Canvas(say("Phasors, low over high"))
    canvas.height = 330
    if not outcome.at:
        canvas.text(0, 20, say("No phasors: a joint is closed on volts."), "b")
        canvas.height = 40
        return canvas
    fed = fed_side(outcome)
    for high in (True, False):
        coils = [coil for coil in outcome.coils if (coil.name in fed) is high]
        ends = [end for coil in coils for end in coil.ends]
        points = [outcome.at[end] for end in ends if end in outcome.at]
        if not points:
            continue
        most = max(abs(p) for p in points) or 1.0
        scale = (REACH if high else REACH * 0.62) / most
        for coil in coils:
            _arrow(canvas, outcome, coil, scale, high)
        _names(canvas, outcome, coils, scale, high)
    words = say("Fed side in ink, the other in copper, each to a scale of its own.")
    canvas.text(0, 14, words, "s")
    for coil in outcome.coils:
        phasor = outcome.across[coil.name]
        shown = angle(phasor) if abs(phasor) > NOTHING else ""
        canvas.row(coil.name, f"{figure(abs(phasor), 1)} V {shown}")
    return canvas


def _place(phasor: complex, scale: float) -> tuple[float, float]:
    """Zero degrees stands up, and what lags lies clockwise."""
    turned = phasor * 1j
    return MIDDLE[0] + scale * turned.real, MIDDLE[1] - scale * turned.imag


def _arrow(
    canvas: Canvas, outcome: WindingConnectionsOutcome, coil: BenchCoil, scale: float, high: bool
) -> None:
    """From the end without the dot to the one with it."""
    head, foot = (outcome.at.get(end) for end in coil.ends)
    if head is None or foot is None or abs(head - foot) < NOTHING:
        return
    (x1, y1), (x2, y2) = _place(foot, scale), _place(head, scale)
    direction = cmath.phase(complex(x2 - x1, y2 - y1))
    back = [(x2 - 9 * cos(direction + d), y2 - 9 * sin(direction + d)) for d in (0.35, -0.35)]
    css = "phasor high" if high else "phasor low"
    tip = "L".join(f"{x:.1f} {y:.1f}" for x, y in (back[0], (x2, y2), back[1]))
    canvas.line(f"M{x1:.1f} {y1:.1f}L{x2:.1f} {y2:.1f}M{tip}", css, coil.name, coil.name)
    side = cmath.rect(9, direction + pi / 2)
    canvas.text(
        (x1 + x2) / 2 + side.real, (y1 + y2) / 2 + side.imag + 3, coil.name, "s halo", "middle"
    )


def _names(
    canvas: Canvas,
    outcome: WindingConnectionsOutcome,
    coils: Sequence[BenchCoil],
    scale: float,
    high: bool,
) -> None:
    """The points of a side, outside of their corners."""
    seen: set[tuple[str, ...]] = set()
    rail = by_token(outcome.nets)
    for coil in coils:
        for end in coil.ends:
            net = rail.get(end)
            if net is None or net.members in seen or not net.points or end not in outcome.at:
                continue
            seen.add(net.members)
            wanted = [p for p in net.points if (p in outcome.fed) is high] or list(net.points)
            x, y = _place(outcome.at[end], scale)
            away = complex(x - MIDDLE[0], y - MIDDLE[1])
            out = away / abs(away) * 13 if abs(away) > 1 else complex(9, -9)
            css = "b" if high else "b low"
            canvas.text(x + out.real, y + out.imag + 4, wanted[0], css, "middle")


# the clock ------------------------------------------------------------------------------------


def _clock(outcome: WindingConnectionsOutcome) -> Canvas:
    """High’s first line at twelve, low’s at its hour."""
    canvas = Canvas(say("The clock of the group"))
    canvas.height = 336
    group = outcome.group
    if group is None or not outcome.lines_brought:
        canvas.text(0, 20, say("No clock: a group needs three lines fed and three taken."), "b")
        canvas.height = 40
        return canvas
    x, y = MIDDLE
    canvas.line(f"M{x} {y - 130}a130 130 0 1 1 -0.1 0", "face")
    for hour in range(12):
        turn = pi * hour / 6
        inner = 118 if hour % 3 else 112
        canvas.line(
            f"M{x + inner * sin(turn):.1f} {y - inner * cos(turn):.1f}"
            f"L{x + 128 * sin(turn):.1f} {y - 128 * cos(turn):.1f}",
            "tick",
        )
        name = str(hour or 12)
        css = "b hour" if hour == group.hour else "s"
        canvas.text(x + 100 * sin(turn), y - 100 * cos(turn) + 4, name, css, "middle")
    canvas.line(f"M{x} {y}V{y - 84}", "hand high")
    low, high = group.low[0], group.high[0]
    if abs(low) > NOTHING:
        lag = degrees(cmath.phase(high)) - degrees(cmath.phase(low))
        turn = pi * lag / 180
        css = "hand low" if group.hour is not None else "hand low loose"
        canvas.line(f"M{x} {y}L{x + 62 * sin(turn):.1f} {y - 62 * cos(turn):.1f}", css)
    canvas.box(x - 4, y - 4, 8, 8, "junction")
    sides = (outcome.taken, outcome.fed) if outcome.turned else (outcome.fed, outcome.taken)
    one, other = sides[0][0], sides[1][0]
    words = say("long hand: {line}, short hand: {other}", line=one, other=other)
    canvas.text(0, 14, words, "s")
    title: Text | str = group.name or say("no standard group")
    canvas.text(x, y + 154, title, "h big", "middle")
    canvas.row(say("Group"), title)
    canvas.row(say("Hour"), "–" if group.hour is None else str(group.hour))
    return canvas


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """The volts of the question are the supply’s."""
    return {"supply": f"{read.volts} V" if read.volts else ""}


PRESENTATION = Presentation(
    draw,
    open=("lines", "meter", "coils"),
    subject=WINDINGS,
    quick=True,
    on_supply=False,
    fill=fill,
    symbol="transformer",
    examples=tuple(Example(bench.title, bench.document) for bench in LIBRARY),
    tasks=(
        task(
            36,
            "Windings and joints: what group is this bank?",
            "joints coils windings bench vector group clock phasor polarity unlabelled zigzag "
            "dyn11 yd1 dz6 trace list dots connection scott open delta",
        ),
    ),
)
