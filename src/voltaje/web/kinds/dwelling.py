"""A dwelling's drawing: from connected to calculated load, and the lines of its service."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from voltaje.core.codes import edition
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Flow, Report, say
from voltaje.web.kinds.presentation import Example, Presentation, task

WIDTH = 388
LEFT, RIGHT, BAR = 118, 274, 12
TOP, GAP, PITCH = 30, 8, 29
FLOW_HEIGHT = 420.0
PHASES = {"L1": "l1", "N": "n", "L2": "l2"}


@dataclass(frozen=True, slots=True)
class Band:
    """One flow with its geometry. ``left`` and ``right`` are (top, height) of its bars."""

    flow: Flow
    left: tuple[float, float]
    right: tuple[float, float]
    path: str
    left_text: float
    right_text: float
    why_x: float
    why_y: float

    @property
    def right_shown(self) -> float:
        """Height of the right bar, never too thin to be seen."""
        return max(self.right[1], 1.5)


@dataclass(frozen=True, slots=True)
class ServiceWire:
    """A conductor of the service, its stroke as wide as its amperes."""

    name: str
    css: str
    y: float
    width: float
    amperes: float

    @property
    def gap(self) -> float:
        """Top of the space in the line where its amperes stand."""
        return self.y - 10

    @property
    def edge(self) -> float:
        """Width of the outline that keeps a light conductor visible on a light ground."""
        return round(self.width + 2, 1)


@dataclass(frozen=True, slots=True)
class DwellingDrawing:
    """What the template writes."""

    template: str
    width: int
    height: float
    bands: tuple[Band, ...]
    wires: tuple[ServiceWire, ...]
    wires_top: float
    connected: float
    calculated: float


def draw(worked: Report, below: object = ()) -> DwellingDrawing:
    """Lays out the flows, widest first come as on the form, and the service below."""
    flows = [flow for flow in worked.flows["shown"] if flow.connected or flow.calculated]
    most = max(sum(flow.connected for flow in flows), sum(flow.calculated for flow in flows), 1.0)
    scale = FLOW_HEIGHT / most
    left, right = TOP, TOP
    bands: list[Band] = []
    y_left, y_right = float(left), float(right)
    for flow in flows:
        a, b = flow.connected * scale, flow.calculated * scale
        step_left = max(a, PITCH if flow.connected else 0.0)
        step_right = max(b, PITCH if flow.calculated else 0.0)
        at_left = y_left + (step_left - a) / 2
        at_right = y_right + (step_right - b) / 2
        dropped = not flow.calculated
        bands.append(
            Band(
                flow,
                (round(at_left, 1), round(a, 1)),
                (round(at_right, 1), round(b, 1)),
                _ribbon(at_left, a, at_right, b),
                round(y_left + step_left / 2, 1),
                round(y_right + step_right / 2, 1),
                LEFT + BAR + 8 if dropped or not flow.connected else (LEFT + BAR + RIGHT) / 2,
                round(
                    y_left + step_left / 2 if dropped else (at_left + at_right + (a + b) / 2) / 2, 1
                ),
            )
        )
        y_left += step_left + (GAP if step_left else 0)
        y_right += step_right + (GAP if step_right else 0)
    wires_top = float(round(max(y_left, y_right) + 26))
    wires = _wires(worked, wires_top)
    height = wires_top + (3 * 26 + 6 if wires else -12)
    return DwellingDrawing(
        "sheets/drawings/dwelling.svg",
        WIDTH,
        height,
        tuple(bands),
        wires,
        wires_top,
        sum(flow.connected for flow in flows),
        worked.value("calculated_load"),
    )


def _ribbon(top: float, height: float, to: float, to_height: float) -> str:
    x0, x1 = LEFT + BAR, RIGHT
    middle = (x0 + x1) / 2
    return (
        f"M{x0} {top:.1f}C{middle} {top:.1f} {middle} {to:.1f} {x1} {to:.1f}"
        f"V{to + to_height:.1f}C{middle} {to + to_height:.1f} {middle} {top + height:.1f}"
        f" {x0} {top + height:.1f}Z"
    )


def _wires(worked: Report, top: float) -> tuple[ServiceWire, ...]:
    names = {"L1": "line_1_amperes", "N": "neutral_amperes", "L2": "line_2_amperes"}
    if any(name not in worked.results for name in names.values()):
        return ()
    # by the optional and the existing-dwelling method there is one figure for both lines
    standard = worked.sections[0].name == "standard"
    values = {
        wire: worked.value(result if standard or wire == "N" else "amperes")
        for wire, result in names.items()
    }
    most = max([*values.values(), 1.0])
    return tuple(
        ServiceWire(
            name, PHASES[name], top + 26 * (index + 1), round(2 + 9 * amperes / most, 1), amperes
        )
        for index, (name, amperes) in enumerate(values.items())
    )


EXAMPLES = (
    Example(
        say("A house of 1,480 ft²: range, dryer, heat and air conditioning"),
        {
            "area": "1480 ft²",
            "appliances": (
                {"id": "a1", "name": "Water heater", "nameplate": "4.5 kW", "connection": "240"},
                {"id": "a2", "name": "Dishwasher", "nameplate": "1.2 kW"},
            ),
            "cooking": ({"id": "r1", "name": "Range", "nameplate": "12 kW"},),
            "dryers": ({"id": "d1", "name": "Clothes dryer", "nameplate": "5 kW"},),
            "climate": (
                {"id": "h1", "name": "Furnace", "nameplate": "7.5 kW"},
                {"id": "h2", "name": "Air conditioner", "nameplate": "3.4 kW", "what": "cooling"},
            ),
        },
    ),
    Example(
        say("The same house by the optional method"),
        {
            "method": "optional",
            "area": "1480 ft²",
            "appliances": (
                {"id": "a1", "name": "Water heater", "nameplate": "4.5 kW", "connection": "240"},
            ),
            "cooking": ({"id": "r1", "name": "Range", "nameplate": "12 kW"},),
            "climate": (
                {"id": "h2", "name": "Air conditioner", "nameplate": "3.4 kW", "what": "cooling"},
            ),
        },
    ),
    Example(
        say("A lake cabin in Canada: range, baseboard heat, a heat pump for summer"),
        {
            "code": "cec-2021",
            "area": "74 m²",
            "basement": "40 m²",
            "cooking": ({"id": "r1", "name": "Range", "nameplate": "12.5 kW"},),
            "dryers": ({"id": "d1", "name": "Clothes dryer", "nameplate": "4.5 kW"},),
            "climate": (
                {"id": "h1", "name": "Baseboard heaters", "nameplate": "1.5 kW", "count": "8"},
                {"id": "h2", "name": "Air conditioner", "nameplate": "2.2 kW", "what": "cooling"},
            ),
            "appliances": (
                {"id": "a1", "name": "Storage water heater", "nameplate": "3 kW"},
                {"id": "a2", "name": "Well pump", "nameplate": "1/2 hp"},
                {"id": "a3", "name": "Hot tub", "nameplate": "6 kW", "counts_as": "spa"},
            ),
            "noncoincident_climate": "yes",
        },
    ),
    Example(
        say("A flat in Britain: lights, sockets, cooker, shower"),
        {
            "code": "bs7671-2018",
            "system": "1ph-230",
            "device_type": "BS 88-3",
            "length": "6 m",
            "external_loop": "0.35",
            "uses": (
                {"id": "u1", "name": "Lights", "use": "lighting", "load": "900 W"},
                {"id": "u2", "name": "Sockets", "use": "circuits", "load": "32 A"},
                {"id": "u3", "name": "Cooker", "use": "cooking socket", "load": "6.8 kW"},
                {"id": "u4", "name": "Shower", "use": "instantaneous", "load": "7.2 kW"},
            ),
        },
    ),
    Example(
        say("A house in Australia: points of light, sockets, range, hot water"),
        {
            "code": "asnzs3000-2018",
            "system": "1ph-230",
            "length": "12 m",
            "external_loop": "0.3",
            "uses": (
                {"id": "u1", "name": "Points of light", "use": "lighting", "count": "22"},
                {"id": "u2", "name": "Sockets", "use": "sockets", "count": "18"},
                {"id": "u3", "name": "Range", "use": "cooking", "load": "9.6 kW"},
                {"id": "u4", "name": "Water heater", "use": "storage", "load": "3.6 kW"},
            ),
        },
    ),
    Example(
        say("A house in South Africa: lights, sockets, stove, geyser"),
        {
            "code": "sans10142-2020",
            "system": "1ph-230",
            "length": "10 m",
            "external_loop": "0.4",
            "uses": (
                {"id": "u1", "name": "Lights", "use": "lighting", "load": "1.2 kW"},
                {"id": "u2", "name": "Sockets", "use": "sockets", "load": "4 kW"},
                {"id": "u3", "name": "Stove", "use": "cooking", "load": "9 kW"},
                {"id": "u4", "name": "Geyser", "use": "water", "load": "3 kW"},
            ),
        },
    ),
)
# where what a question names stands among a dwelling's rows: the list, its entries
NORTH_AMERICA: dict[str, tuple[str, dict[str, str]]] = {
    "range": ("cooking", {}),
    "oven": ("cooking", {}),
    "cooktop": ("cooking", {}),
    "dryer": ("dryers", {}),
    "heat": ("climate", {"what": "heating"}),
    "air conditioner": ("climate", {"what": "cooling"}),
    "water heater": ("appliances", {"connection": "240"}),
    "vehicle": ("appliances", {"connection": "240", "place": "charger"}),
    "shower": ("appliances", {"connection": "240"}),
    "hot tub": ("appliances", {"connection": "240"}),
    "dishwasher": ("appliances", {}),
    "disposer": ("appliances", {}),
}
CANADA = {"vehicle": {"counts_as": "vehicle"}, "hot tub": {"counts_as": "spa"}}
METRIC = {
    "bs7671": {"water heater": "storage", "shower": "instantaneous"},
    "sans10142": {"water heater": "water", "shower": "water"},
    "asnzs3000": {"water heater": "storage", "shower": "instantaneous", "hot tub": "spa"},
}
COOKING = ("range", "oven", "cooktop")
SHARED_USES = {"heat": "heating", "vehicle": "vehicle"}


def fill(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    """Its area, and what the question names with its power as rows."""
    found = {"area": read.area}
    family = edition(read.code).family if read.code else "nec"
    for index, (name, load) in enumerate(read.named, 1):
        if family in METRIC:
            uses = {**SHARED_USES, **METRIC[family], **dict.fromkeys(COOKING, "cooking")}
            rows, more, entry = "uses", {"use": uses.get(name, "other")}, "load"
        else:
            (rows, more), entry = NORTH_AMERICA[name], "nameplate"
            if family == "cec" and rows == "appliances":
                more = CANADA.get(name, {})
        path = f"{rows}.q{index}"
        found |= {f"{path}.name": name.capitalize(), f"{path}.{entry}": load}
        found |= {f"{path}.{column}": value for column, value in more.items()}
    return found


def boost(own: Mapping[str, str], read: AskedQuantities, score: float) -> float:
    """Several things that a dwelling has, or one with a floor area."""
    return 6.0 if len(read.named) > 1 or (read.named and read.area) else 0.0


PRESENTATION = Presentation(
    draw,
    open=("service", "lines"),
    symbol="dwelling",
    quick=True,
    fill=fill,
    boost=boost,
    examples=EXAMPLES,
    tasks=(
        task(
            1,
            "Dwelling service",
            "house home load calculation service size main panel apartment 200 amp maximum demand"
            " diversity cottage flat 220",
        ),
    ),
)
