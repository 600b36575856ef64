"""A bank's drawing: the coils of its units with their dots, the joints of both sides, the lines. A
press on a secondary coil turns it round."""

from __future__ import annotations

from collections.abc import Mapping

from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, say
from voltaje.web.drawings.canvas import Canvas
from voltaje.web.kinds.presentation import WINDINGS, Example, Presentation, task

LEFT, PITCH = 84.0, 116.0
HIGH, LOW, LENGTH = 78.0, 200.0, 56.0
BUS, FOOT = 44.0, 300.0


def draw(worked: Report, below: object = ()) -> Canvas:
    """Primary coils above, secondary below, unit by unit."""
    canvas = Canvas(say("Coils, dots and joints of a bank"))
    canvas.text(0, 14, say("HOW IT IS JOINED"), "h")
    if "high" not in worked.results:
        canvas.text(0, 40, say("No connection and no tap gives these volts."), "b")
        canvas.height = 60
        return canvas
    high, low = str(worked.results["high"].value), str(worked.results["low"].value)
    turned = str(worked.results["reversed_secondary"].value)
    count = 2 if high == "open delta" else 3
    _side(canvas, high, HIGH, count, "", up=True)
    _side(canvas, low, LOW, count, turned, up=False)
    for k in range(count):
        middle = (HIGH + LENGTH + LOW) / 2
        for dy in (-3, 3):
            canvas.line(f"M{_x(k) - 22} {middle + dy}h44", "core")
    canvas.text(0, HIGH + 4, say("high side"), "s")
    canvas.text(0, HIGH + 18, f"{figure(worked.value('supply'), 1)} V", "b")
    canvas.text(0, LOW + 4, say("low side"), "s")
    canvas.text(0, LOW + 18, f"{figure(worked.value('output'), 1)} V", "b")
    y = FOOT + 38
    canvas.text(0, y, str(worked.results["connection"].value), "b")
    if "corner" in worked.results:
        volts = figure(worked.value("corner"), 0)
        reading = say("across the last corner, open: {volts} V", volts=volts)
        css = "s" if worked.results["may_close"].value == "yes" else "b fail"
        canvas.text(0, y + 18, reading, css)
    canvas.text(0, y + 36, say("Press a secondary coil to turn it round."), "s")
    for joint in str(worked.results["joints"].value).split(", "):
        canvas.row(say("Joint"), joint)
    canvas.height = y + 46
    return canvas


def _x(unit: int) -> float:
    return LEFT + PITCH * unit + 8


def _side(canvas: Canvas, how: str, top: float, count: int, turned: str, up: bool) -> None:
    """The coils of one side, their ends joined in star, delta or open delta, and their lines."""
    letter, names = ("H", "ABC") if up else ("X", "abc")
    bottom, edge = top + LENGTH, (BUS if up else FOOT)
    # ends 1 are brought out towards the lines, ends 2 joined on the other side of the coil
    out, inner = (top, bottom) if up else (bottom, top)
    for k in range(count):
        x = _x(k)
        bumps = "".join(f"a7 7 0 0 1 0 {LENGTH / 4}" for _ in range(4))
        canvas.line(f"M{x} {top}{bumps}", "winding")
        is_turned = turned == str(k + 1)
        dotted = inner if is_turned else out
        canvas.text(x - 9, dotted + (12 if dotted == top else -4), "•", "b", "middle")
        first, second = ("2", "1") if is_turned else ("1", "2")
        canvas.text(x + 16, out + (4 if up else 2), f"{letter}{k + 1}{first}", "term")
        canvas.text(x + 16, inner + (2 if up else 6), f"{letter}{k + 1}{second}", "term")
        canvas.line(f"M{x} {out}V{edge}", "tapline")
        canvas.text(x, edge + (-6 if up else 16), names[k], "b", "middle")
        if not up:
            says = (
                say("Unit {number}: put its secondary coil right", number=k + 1)
                if is_turned
                else say("Unit {number}: turn its secondary coil round", number=k + 1)
            )
            sets = "reversed_secondary=none" if is_turned else f"reversed_secondary={k + 1}"
            canvas.step(x - 14, top - 2, 28, LENGTH + 4, "coilstep", sets, says)
    for d in _joints(how, inner, edge, count, 1 if up else -1):
        canvas.line(d, "jumper")
    if how == "open delta":
        x = _x(2) - 30
        canvas.line(f"M{_x(1)} {inner}v{8 if up else -8}H{x}V{edge}", "tapline")
        canvas.text(x, edge + (-6 if up else 16), names[2], "b", "middle")


def _joints(how: str, inner: float, edge: float, count: int, way: int) -> list[str]:
    """Paths of the joints between coils; ``way`` is +1 where ends 2 point down."""
    if how == "star":
        rail = inner + 10 * way
        return [f"M{_x(k)} {inner}V{rail}" for k in range(count)] + [f"M{_x(0)} {rail}H{_x(2)}"]
    found = []
    for k in range(count - 1):  # end 2 on to the next one's line, between the two
        track = (_x(k) + _x(k + 1)) / 2
        found.append(f"M{_x(k)} {inner}v{8 * way}H{track}V{edge + 16 * way}H{_x(k + 1)}")
    if how == "delta":  # the last corner, back to the first line
        right, back = _x(2) + 50, edge + 6 * way
        # the low side's is drawn open: a meter reads across it before it is closed
        end = f"H{_x(0)}" if way > 0 else f"H{_x(0) + 44}m-8 -7l8 7M{_x(0) + 22} {back}H{_x(0)}"
        found.append(f"M{_x(2)} {inner}v{8 * way}H{right}V{back}{end}")
    return found


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Size and volts of the question."""
    return {"kva": read.apparent, "required_voltage": f"{read.volts} V" if read.volts else ""}


PRESENTATION = Presentation(
    draw,
    open=("chosen", "currents", "corner", "rows"),
    symbol="transformer",
    subject=WINDINGS,
    quick=True,
    on_supply=False,
    fill=fill,
    examples=(
        Example(
            say("Three units of 480 V and 120 V for 208 V lines"),
            {
                "primary": "480 V",
                "secondary": "120 V",
                "kva": "25 kVA",
                "supply": "480 V",
                "required_voltage": "208 V",
                "load": "60 kVA",
            },
        ),
        Example(
            say("The supply above the coils: star, with taps"),
            {
                "primary": "277 V",
                "secondary": "120 V",
                "kva": "15 kVA",
                "supply": "480 V",
                "required_voltage": "117 V",
                "tap_side": "primary",
            },
        ),
        Example(
            say("A delta with one coil turned round, its last corner read"),
            {
                "primary": "480 V",
                "secondary": "240 V",
                "kva": "15 kVA",
                "supply": "480 V",
                "required_voltage": "240 V",
                "impedance": "3",
                "reversed_secondary": "2",
            },
        ),
        Example(
            say("Two units in open delta"),
            {
                "count": "2",
                "primary": "480 V",
                "secondary": "240 V",
                "kva": "15 kVA",
                "supply": "480 V",
                "required_voltage": "240 V",
                "load": "24 kVA",
            },
        ),
    ),
    tasks=(
        task(
            34,
            "Bank of single-phase transformers",
            "bank star delta wye open delta three single phase units taps pots polarity "
            "connection group corner closing voltage vector",
        ),
    ),
)
