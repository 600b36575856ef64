"""A transformer's drawing: terminals, windings, volts, currents, devices, bonds, taps."""

from __future__ import annotations

from collections.abc import Mapping
from math import cos, pi, sin

from voltaje.core.kinds.transformer.entries import CONNECTIONS
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, figure, say, told
from voltaje.web.drawings.canvas import WIDTH, Canvas
from voltaje.web.kinds.presentation import WINDINGS, Example, Presentation, task

ONE, TWO = 104.0, 284.0
MIDDLE = 176.0
RADIUS = 40.0
SIDES = {"primary": say("Primary"), "secondary": say("Secondary")}
TAPS = ("+5", "+2.5", "0", "-2.5", "-5", "-7.5", "-10")


def draw(worked: Report, below: object = ()) -> Canvas:
    """Primary left, secondary right, what is grounded and bonded underneath, taps at the foot."""
    canvas = Canvas(say("Terminals, windings, devices and bonds of the transformer"))
    kind = str(worked.results["connection"].value)
    neutral = "system_bonding_jumper" in worked.results
    canvas.text(
        0,
        14,
        say(
            "{kva} kVA, {connection}",
            kva=worked.value("kva"),
            connection=told(CONNECTIONS[kind]).upper(),
        ),
        "h",
    )
    sides = (
        ("primary", ONE, "H", kind.split("-")[0] if kind != "single-phase" else kind, False),
        ("secondary", TWO, "X", kind.split("-")[-1] if kind != "single-phase" else kind, neutral),
    )
    for side, x, letter, winding, has_neutral in sides:
        _side(canvas, worked, side, x)
        _winding(canvas, x, winding, letter, has_neutral)
    canvas.line(f"M{(ONE + TWO) / 2 - 4} {MIDDLE - 52}V{MIDDLE + 52}", "core")
    canvas.line(f"M{(ONE + TWO) / 2 + 4} {MIDDLE - 52}V{MIDDLE + 52}", "core")
    y = _bonds(canvas, worked, neutral)
    y = _taps(canvas, worked, y)
    canvas.height = y
    return canvas


def _side(canvas: Canvas, worked: Report, side: str, x: float) -> None:
    """The device above a side, its conductors, volts and amperes."""
    device = figure(worked.value(f"{side}_device"))
    most = worked.results.get(f"maximum_{side}_device")
    name = SIDES[side]
    title = say("{side}, at most {most} A", side=name, most=most.value) if most else name
    canvas.text(x, 36, title, "b", "middle")
    canvas.box(x - 34, 44, 68, 28, "device", side)
    canvas.text(x, 62, f"{device} A", "b", "middle")
    canvas.line(f"M{x} 72V{MIDDLE - RADIUS - 22}", "tapline", side)
    conductor = worked.results.get(f"{side}_conductor")
    # above 1,000 V the conductors are not sized here
    canvas.text(
        x + 9, 94, str(conductor.value) if conductor else say("conductor: not sized here"), "s"
    )
    volts = figure(worked.value(f"{side}_volts"), 1)
    current = figure(worked.value(f"{side}_current"), 1)
    canvas.text(x, MIDDLE + RADIUS + 26, f"{volts} V · {current} A", "b", "middle")
    phase = worked.results.get(f"{side}_to_neutral")
    if phase is not None:
        canvas.text(x + 52, MIDDLE - 26, f"{figure(phase.value, 1)} V", "s")
        canvas.text(x + 52, MIDDLE - 14, say("to X0"), "s")
    canvas.row(name, f"{device} A, {volts} V, {current} A")


def _winding(canvas: Canvas, x: float, winding: str, letter: str, neutral: bool) -> None:
    """The internal connection with its terminals."""
    corners = [
        (
            x + RADIUS * cos(-pi / 2 + 2 * pi * i / 3),
            MIDDLE + RADIUS * sin(-pi / 2 + 2 * pi * i / 3),
        )
        for i in range(3)
    ]
    if winding == "single-phase":
        top, bottom = MIDDLE - RADIUS + 6, MIDDLE + RADIUS - 6
        bumps = "".join(f"a9 9 0 0 {1 if letter == 'H' else 0} 0 18" for _ in range(4))
        canvas.line(f"M{x} {top}{bumps}", "winding")
        corners = [(x, top - 6), (x, bottom + 2)]
        if neutral:
            canvas.line(f"M{x} {MIDDLE - 2}H{x + 24}", "winding")
    elif winding == "wye":
        for cx, cy in corners:
            canvas.line(f"M{x} {MIDDLE}L{cx:.1f} {cy:.1f}", "winding")
    else:
        path = "L".join(f"{cx:.1f} {cy:.1f}" for cx, cy in corners)
        open_side = winding == "open delta"
        canvas.line(f"M{path}" + ("" if open_side else "Z"), "winding")
    for index, (cx, cy) in enumerate(corners):
        out = 1.28 if winding != "single-phase" else 1.0
        tx, ty = x + (cx - x) * out, MIDDLE + (cy - MIDDLE) * out
        canvas.text(tx, ty + 4, f"{letter}{index + 1}", "term", "middle")
    if neutral:
        nx = x + (24 if winding == "single-phase" else 0)
        canvas.text(
            nx + (14 if winding == "single-phase" else -16), MIDDLE - 2, "X0", "term", "middle"
        )


def _bonds(canvas: Canvas, worked: Report, neutral: bool) -> float:
    """The bond of X0, the electrode conductor, the earth."""
    y = MIDDLE + RADIUS + 46
    canvas.text(0, y + 6, say("GROUNDING"), "h")
    if neutral:
        jumper = str(worked.results["system_bonding_jumper"].value)
        canvas.line(f"M{TWO} {y - 12}V{y + 44}", "wire edge", "bond")
        canvas.line(f"M{TWO} {y - 12}V{y + 44}", "wire green", "bond")
        canvas.text(TWO - 12, y + 24, say("system bonding jumper {size}", size=jumper), "s", "end")
        canvas.row(say("System bonding jumper"), jumper)
    earth = y + 50
    canvas.line(f"M{TWO - 60} {earth - 6}H{TWO + 60}", "bus")
    conductor = str(worked.results["electrode_conductor"].value)
    canvas.line(f"M{TWO - 40} {earth - 4}V{earth + 22}", "tapline", "electrode")
    for index, half in enumerate((12, 8, 4)):
        canvas.line(f"M{TWO - 40 - half} {earth + 22 + 5 * index}h{2 * half}", "outline")
    canvas.text(TWO - 56, earth + 16, say("electrode conductor {size}", size=conductor), "s", "end")
    canvas.text(TWO - 14, earth + 14, say("core, case"), "s")
    canvas.row(say("Grounding electrode conductor"), conductor)
    return earth + 52


def _taps(canvas: Canvas, worked: Report, y: float) -> float:
    """The steps of the tap changer; each is set by a click, with the volts that it gives."""
    canvas.text(0, y, say("TAPS OF THE PRIMARY, AND THE SECONDARY VOLTS THEY GIVE"), "h")
    now = str(worked.results["tap"].value)
    base = worked.value("secondary_volts") * (1 + float(now) / 100)
    width = WIDTH / len(TAPS)
    for index, tap in enumerate(TAPS):
        x = width * index
        css = "tapstep choice on" if tap == now else "tapstep choice"
        canvas.step(
            x + 2, y + 10, width - 4, 40, css, f"tap={tap}", say("Tap {percent} %", percent=tap)
        )
        canvas.text(x + width / 2, y + 27, f"{tap} %", "b", "middle")
        volts = figure(base / (1 + float(tap) / 100), 1)
        canvas.text(x + width / 2, y + 42, f"{volts} V", "s", "middle")
    return y + 60


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Its size, where the question gives kVA: kW says nothing of it."""
    found = {"kva": read.apparent}
    if read.fuses:
        found["primary_device_type"] = "fuse"
    if secondary := SECONDARIES.get(read.to_volts):
        found["secondary"] = secondary
    return found


# what the second of two voltages stands for: the usual secondary of those volts
SECONDARIES = {
    208: "3ph-208Y/120",
    120: "3ph-208Y/120",
    480: "3ph-480Y/277",
    277: "3ph-480Y/277",
    600: "3ph-600Y/347",
    400: "3ph-400Y/230",
}


PRESENTATION = Presentation(
    draw,
    open=(
        "protection",
        "primary_device",
        "primary_conductor",
        "saved",
        "secondary_device",
        "secondary_conductor",
        "grounding",
    ),
    symbol="transformer",
    subject=WINDINGS,
    quick=True,
    usual_system="3ph-480Y/277",
    runs=True,
    fill=fill,
    boost=lambda own, read, score: 2.0 if read.apparent and score else 0.0,
    examples=(
        Example(
            say("45 kVA, 480 V delta to 208Y/120 V"),
            {
                "system": "3ph-480Y/277",
                "connection": "delta-wye",
                "secondary": "3ph-208Y/120",
                "kva": "45 kVA",
                "impedance": "4",
                "length": "20 ft",
            },
        ),
        Example(
            say("25 kVA, single-phase, 480 V to 120/240 V"),
            {
                "system": "3ph-480Y/277",
                "connection": "single-phase",
                "secondary": "1ph-120/240",
                "kva": "25 kVA",
                "impedance": "3",
                "length": "15 ft",
            },
        ),
    ),
    tasks=(
        task(
            18,
            "Transformer",
            "kva primary secondary delta wye breaker fuse dry type step down up "
            "bonding separately derived system impedance inrush 450",
        ),
    ),
)
