"""A circuit's drawing: source, device, conductors, load, with what limits marked."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Report, Text, figure, say
from voltaje.web.drawings.canvas import WIDTH, Canvas, short
from voltaje.web.kinds.presentation import CIRCUITS, BoardColumns, Example, Presentation, task

X = 96.0
RIGHT = 170.0


def draw(worked: Report, below: object = ()) -> Canvas:
    """From the bus down to the load."""
    canvas = Canvas(say("Source, device, conductors, load"))
    y = feed(canvas, worked, 14)
    load_box(
        canvas,
        say("Load"),
        f"{figure(worked.value('amperes'), 1)} A",
        f"{figure(worked.value('load'), 0)} VA",
        y,
    )
    canvas.height = y + 58
    return canvas


def feed(canvas: Canvas, worked: Report, top: float, length: float = 118.0) -> float:
    """Bus, device and conductors; the y where they end."""
    limits = limiting(worked)
    device = worked.value("device")
    fails = any(f.severity == "fail" for f in worked.findings)
    volts = worked.results.get("volts")
    canvas.text(0, top, say("FROM THE BOARD"), "h")
    canvas.line(f"M20 {top + 16}H{WIDTH - 20}", "bus")
    if volts is not None:
        canvas.text(WIDTH - 20, top + 10, f"{figure(volts.value)} V", "s", "end")
    canvas.line(f"M{X} {top + 16}V{top + 34}")
    y = top + 34
    css = "device" + (" limits" if limits == "device" else "") + (" fail" if fails else "")
    canvas.box(X - 38, y, 76, 34, css, "device")
    canvas.text(X, y + 22, f"{figure(device)} A", "b", "middle")
    canvas.text(RIGHT, y + 14, say("Overcurrent device"), "b")
    canvas.text(RIGHT, y + 29, _under_device(worked, limits), "s")
    canvas.row(say("Device"), f"{figure(device)} A")
    y += 34
    canvas.wires(worked.wires, X, y, y + length, worked.points)
    text = str(worked.results["conductor"].value)
    canvas.text(RIGHT, y + 26, text, "b lims" if limits == "conductor" else "b")
    where = y + 42
    notes: list[Text | str] = [_ampacity(worked, limits)]
    for name in ("neutral_conductor", "ground_conductor"):
        if name in worked.results:
            result = worked.results[name]
            notes.append(say("{name}: {size}", name=result.label, size=result.value))
            canvas.row(result.label, str(result.value))
    if "raceway" in worked.results:
        notes.append(str(worked.results["raceway"].value))
    if "drop_percent" in worked.results:
        notes.append(_drop(worked))
    for note in notes:
        canvas.text(RIGHT, where, short(str(note), 40), "s")
        where += 15
    canvas.row(say("Conductors"), text)
    return y + length


def _drop(worked: Report) -> Text:
    percent = figure(worked.value("drop_percent"), 1)
    total = worked.results.get("drop_total")
    if total is None:
        return say("drop {percent} %", percent=percent)
    whole = figure(total.value, 1)
    return say("drop {percent} %, {total} % from the supply", percent=percent, total=whole)


def _under_device(worked: Report, limits: str) -> Text:
    if "maximum_device" in worked.results and worked.kind == "motor":
        return say("at most {amperes} A; clears faults", amperes=worked.value("maximum_device"))
    wanted = next((m.amperes for m in worked.marks if m.name == "design"), None)
    asked = wanted if wanted is not None else worked.value("amperes")
    if limits == "device":
        return say("for {amperes} A: this limits", amperes=figure(asked, 1))
    return say("for {amperes} A", amperes=figure(asked, 1))


def _ampacity(worked: Report, limits: str) -> Text | str:
    chosen = next((one for one in worked.alternatives if one.chosen), None)
    if chosen is None:
        return ""
    if limits == "conductor":
        return say("carries {amperes} A: this limits", amperes=figure(chosen.ampacity, 1))
    return say("carries {amperes} A", amperes=figure(chosen.ampacity, 1))


def limiting(worked: Report) -> str:
    """``device`` or ``conductor``: which has less to spare; the small-conductor limit counts as
    the conductor's."""
    chosen = next((one for one in worked.alternatives if one.chosen), None)
    if chosen is None or worked.kind == "motor":
        return ""  # a motor's device and conductor are sized apart from one another
    small = next((m.amperes for m in worked.marks if m.name == "small"), chosen.ampacity)
    return "conductor" if min(chosen.ampacity, small) <= chosen.device else "device"


def load_box(canvas: Canvas, name: Text, one: str, other: Text | str, y: float) -> None:
    """The load at the end of the conductors."""
    canvas.box(X - 58, y, 116, 42, "load", "load")
    canvas.text(X, y + 18, one, "b", "middle")
    canvas.text(X, y + 33, other, "s", "middle")
    canvas.text(RIGHT, y + 25, name, "b")
    canvas.row(name, say("{one}, {other}", one=one, other=other))


# the sections of whatever has a device and conductors
WIRED = ("device", "conductor", "drop", "beside")


def load_entry(document: Mapping[str, Any]) -> str:
    """The entry that a board's load column stands for: it follows the use."""
    entries = {"receptacles": "outlets", "air conditioning": "minimum_ampacity"}
    return entries.get(str(document.get("use", "general")), "load")


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Its load, by the entry that its use has for it."""
    if own.get("use") == "air conditioning":
        found = {"minimum_ampacity": read.minimum or read.amperes}
        return {**found, "maximum_device": read.maximum} if read.maximum else found
    if own.get("use") == "receptacles":
        return {}
    return {"load": read.power or read.amperes}


def boost(own: Mapping[str, str], read: AskedQuantities, score: float) -> float:
    """Amperes alone are most often any circuit's."""
    return 0.4 if read.amperes and not own and score else 0.0


PRESENTATION = Presentation(
    draw,
    open=WIRED,
    subject=CIRCUITS,
    quick=True,
    connects=True,
    runs=True,
    fill=fill,
    boost=boost,
    row=BoardColumns(load_entry),
    examples=(
        Example(
            say("Water heater, 4.5 kW at 240 V"),
            {"use": "water heater", "load": "4.5 kW", "connection": "two-line", "length": "45 ft"},
        ),
        Example(
            say("Lighting, 1,600 VA at 120 V"),
            {"use": "lighting", "load": "1600 VA", "length": "80 ft"},
        ),
        Example(
            say("Kiln, 11.5 kW, three-phase at 208 V"),
            {
                "system": "3ph-208Y/120",
                "use": "kiln",
                "load": "11.5 kW",
                "connection": "three-phase",
                "length": "60 ft",
            },
        ),
        Example(
            say("Shower, 9.5 kW at 230 V, BS 7671"),
            {
                "code": "bs7671-2018",
                "system": "1ph-230",
                "units": "metric",
                "use": "shower",
                "load": "9.5 kW",
                "length": "14 m",
                "external_loop": "0.35",
            },
        ),
    ),
    tasks=(
        task(
            4,
            "Range in a dwelling",
            "stove cooker cooktop oven household electric wire breaker",
            use="range",
        ),
        task(
            4,
            "Cooker",
            "range stove cooktop hob oven household electric wire breaker cable",
            use="cooker",
        ),
        task(4, "Shower", "electric instantaneous cable breaker", use="shower"),
        task(
            4,
            "Ring of socket outlets",
            "ring main final sockets legs spur both ends cable breaker",
            use="sockets",
            layout="ring",
        ),
        task(
            2,
            "Any circuit",
            "wire breaker conductor size branch load amps cable conduit ampacity "
            "gauge fuse circuit raceway derate ambient 210",
        ),
        task(
            8,
            "Water heater",
            "hot tank boiler geyser wire breaker",
            use="water heater",
            connection="two-line",
            load="4.5 kW",
        ),
        task(
            9,
            "Hot tub or spa",
            "jacuzzi whirlpool sauna hottub wire breaker",
            use="general",
            connection="two-line",
            neutral="yes",
        ),
        task(
            10,
            "Space heater",
            "baseboard heating wire breaker electric heat furnace wall radiant",
            use="space heating",
            connection="two-line",
        ),
        task(
            11,
            "Air conditioner",
            "ac a/c heat pump condenser mca mocp wire breaker minimum circuit "
            "ampacity cooling minisplit mini split conditioning rooftop unit",
            use="air conditioning",
            connection="two-line",
        ),
        task(
            12,
            "Vehicle charger",
            "ev evse car charging wire breaker station electric",
            use="vehicle charging",
            connection="two-line",
        ),
        task(
            13,
            "Kiln",
            "pottery oven furnace wire breaker ceramic",
            use="kiln",
            connection="two-line",
        ),
        task(
            14,
            "Receptacles, outlets",
            "outlets plugs sockets outlet duplex wire breaker",
            use="receptacles",
        ),
        task(
            15,
            "Lighting",
            "lights luminaires lamps wire breaker fixtures led poles parking",
            use="lighting",
        ),
        task(
            16,
            "Clothes dryer",
            "wire breaker laundry tumble",
            connection="two-line",
            load="5 kW",
        ),
    ),
)
