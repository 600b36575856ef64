"""The made-up demo: Alder Mill, a pottery in an old mill. All names and figures are invented."""

from __future__ import annotations

from datetime import datetime, timedelta
from math import pi, sin
from typing import Any

from voltaje.core.kinds.winding_connections.benches import OLD_BANK

COTTAGE: dict[str, Any] = {
    "area": "1480 sq ft",
    "small_appliance_circuits": "2",
    "laundry_circuits": "1",
    "appliances": [
        {"id": "a1", "name": "Water heater", "nameplate": "4.5 kW", "connection": "240"},
        {"id": "a2", "name": "Dishwasher", "nameplate": "1.1 kW", "connection": "120"},
        {"id": "a3", "name": "Disposer", "nameplate": "6 A 115 V", "motor": "yes"},
        {"id": "a4", "name": "Microwave oven, built in", "nameplate": "1300 W"},
    ],
    "cooking": [{"id": "c1", "name": "Range", "nameplate": "11.4 kW"}],
    "dryers": [{"id": "d1", "name": "Clothes dryer", "nameplate": "4.8 kW"}],
    "climate": [
        {"id": "h1", "name": "Baseboard heaters", "nameplate": "1.5 kW", "what": "heating",
         "count": "5"},
        {"id": "h2", "name": "Air conditioner", "nameplate": "3.4 kVA", "what": "cooling"},
    ],
}  # fmt: skip

# Each part: kind, name, entries, and what stands under it.
Planted = tuple[str, str, dict[str, Any], list[Any]]


def _circuit(name: str, use: str, **entries: str) -> Planted:
    return ("circuit", name, {"use": use, **entries}, [])


def _motor(name: str, horsepower: str, **entries: str) -> Planted:
    return ("motor", name, {"horsepower": horsepower, "terminals": "75", **entries}, [])


KILNS: Planted = (
    "feeder", "Kiln room feeder", {"terminals": "75", "length": "96 ft"},
    [("board", "Kiln room", {"rating": "225 A", "main": "225 A", "spaces": "30",
                             "interrupting": "10 kA"}, [
        ("buck_boost", "Booster of kiln 1", {
            "phases": "open delta", "measured_voltage": "199.1 V", "required_voltage": "240 V",
            "load_type": "heater", "length": "6 ft", "output_length": "4 ft", "terminals": "75",
        }, [_circuit("Kiln 1, front loading", "kiln", load="11.5 kW", connection="three-phase",
                     rated_volts="240 V", length="38 ft", noncoincident_with="", terminals="75")]),
        _circuit("Kiln 2, top loading", "kiln", load="9.6 kW", connection="two-line",
                 rated_volts="240 V", length="44 ft", terminals="75"),
        _circuit("Kiln 3, test kiln", "kiln", load="2.4 kW", connection="two-line",
                 length="52 ft", noncoincident_with="Test firing", terminals="75"),
        _circuit("Kiln 4, glass", "kiln", load="3.6 kW", connection="two-line",
                 length="55 ft", noncoincident_with="Test firing", terminals="75"),
        _circuit("Kiln room lights", "lighting", load="640 W", length="70 ft"),
        _circuit("Kiln room receptacles", "receptacles", outlets="6", length="64 ft"),
    ])],
)  # fmt: skip
WORKSHOP: Planted = (
    "feeder", "Workshop feeder", {"terminals": "75", "length": "60 ft"},
    [("board", "Workshop", {"rating": "225 A", "main": "150 A", "spaces": "42",
                            "interrupting": "10 kA"}, [
        _motor("Pug mill", "5 hp", nameplate="15.8 A", service_factor="1.15", length="46 ft"),
        _motor("Glaze compressor", "7-1/2 hp", nameplate="22.6 A", service_factor="1.15",
               length="72 ft"),
        _motor("Dust extraction", "3 hp", nameplate="9.8 A", service_factor="1.0",
               temperature_rise="more", length="58 ft", protection="dual-element fuse"),
        _motor("Slab roller", "3/4 hp", motor="single-phase", connection="two-line",
               nameplate="7.2 A", length="40 ft"),
        _circuit("Throwing room lights", "lighting", load="1.1 kVA", length="85 ft"),
        _circuit("Glaze room lights", "lighting", load="860 VA", length="66 ft"),
        _circuit("Wheels, north wall", "receptacles", outlets="8", length="74 ft",
                 shared_neutral="W1"),
        _circuit("Wheels, south wall", "receptacles", outlets="8", length="78 ft",
                 shared_neutral="W1"),
        _circuit("Glaze room receptacles", "receptacles", outlets="5", length="62 ft"),
        _circuit("Water heater", "water heater", load="4 kW", connection="two-line",
                 length="35 ft", rated_volts="208 V"),
        _circuit("Workshop cooling unit", "air conditioning", minimum_ampacity="23 A",
                 maximum_device="40 A", connection="three-phase", length="90 ft"),
    ])],
)  # fmt: skip
KITCHEN: Planted = (
    "board", "Members’ kitchen", {"rating": "125 A", "spaces": "24", "interrupting": "10 kA"}, [
        ("cooking", "Cooktop and wall ovens", {
            "layout": "together", "cooktop": "6.6 kW", "oven_1": "4.2 kW", "oven_2": "3.4 kW",
            "length": "48 ft",
        }, []),
        _circuit("Dishwasher", "general", load="1.4 kW", length="40 ft"),
        _circuit("Refrigerators", "general", load="9.6 A", length="44 ft"),
        ("multiwire_circuit", "Counter, one neutral for two circuits", {
            "phase_a": "L1", "phase_b": "L2", "device": "20 A", "loads": [
                {"id": "k1", "name": "Microwave oven", "nameplate": "1.3 kW", "circuit": "A",
                 "length": "42 ft"},
                {"id": "k2", "name": "Toaster", "nameplate": "900 W", "circuit": "B",
                 "length": "6 ft"},
                {"id": "k3", "name": "Kettle", "nameplate": "1.4 kW", "circuit": "B",
                 "length": "8 ft"},
                {"id": "k4", "name": "Radio", "nameplate": "60 W", "circuit": "A",
                 "length": "5 ft", "third_harmonic": "40", "behaves": "power"},
            ],
        }, []),
        _circuit("Kitchen lights", "lighting", load="420 W", length="50 ft"),
    ],
)  # fmt: skip
GATEHOUSE: Planted = (
    "cable_run", "Gatehouse run", {
        "connection": "three-phase", "wiring_method": "PVC 40", "insulation": "THWN-2", "size": "8",
        "segments": [
            {"id": "g1", "name": "Bridge lamps", "length": "140 ft", "nameplate": "320 W",
             "power_factor": "0.9"},
            {"id": "g2", "name": "Mill race pump", "length": "90 ft", "nameplate": "4.2 A",
             "power_factor": "0.8"},
            {"id": "g3", "name": "Gatehouse", "length": "210 ft"},
        ],
    }, [("board", "Gatehouse", {"rating": "60 A", "spaces": "8", "interrupting": "10 kA"}, [
        _circuit("Gatehouse heater", "space heating", load="2 kW", connection="two-line",
                 length="18 ft"),
        _circuit("Gatehouse receptacles", "receptacles", outlets="3", length="24 ft"),
        _circuit("Gatehouse lights", "lighting", load="240 W", length="30 ft"),
    ])],
)  # fmt: skip
SHOP: Planted = (
    "board", "Shop and gallery", {"rating": "125 A", "spaces": "30", "interrupting": "10 kA"}, [
        _circuit("Gallery track 1", "lighting", load="1.2 kW", length="58 ft", position="1"),
        _circuit("Gallery track 2", "lighting", load="1.2 kW", length="66 ft", position="2"),
        _circuit("Gallery track 3", "lighting", load="900 W", length="74 ft", position="7"),
        _circuit("Show window", "lighting", load="1.6 kW", length="40 ft", position="8"),
        _circuit("Sign over the door", "sign", load="600 W", length="52 ft", position="3"),
        _circuit("Till and office", "receptacles", outlets="6", length="36 ft", position="4"),
        _circuit("Packing bench", "receptacles", outlets="5", length="61 ft", position="5"),
        _circuit("Shop floor, east", "receptacles", outlets="7", length="70 ft", position="13"),
        _circuit("Shop floor, west", "receptacles", outlets="7", length="82 ft", position="9"),
        _circuit("Door curtain heater", "space heating", load="4 kW", connection="two-line",
                 position="10", length="44 ft"),
    ],
)  # fmt: skip
# the old plant of the mill wheel, on the bench
WHEEL_HOUSE: list[Planted] = [
    ("winding_connections", "Old bank of the wheel house", OLD_BANK.document, []),
    ("inverter", "Wheel inverter", {
        "power": "18 kW", "reference_temperature": "40", "enclosure_temperature": "45 °C",
        "adjacent_breakers": "1", "length": "50 ft",
        "bus_rating": "400 A", "main": "200 A", "connection_point": "opposite",
    }, []),
    ("bank", "Spare units of the wheel house", {
        "primary": "480 V", "secondary": "120 V", "kva": "5 kVA", "supply": "480 V",
        "required_voltage": "208 V", "impedance": "3", "load": "12 kVA",
    }, []),
    ("autotransformer", "Lathe on an old unit", {
        "winding": "240 V", "other_winding": "32 V", "kva": "1.5 kVA", "source_voltage": "199 V",
        "required_voltage": "230 V", "load": "5 kVA",
    }, []),
]  # fmt: skip
MILL: Planted = (
    "supply", "Mill, 480Y/277 V", {"system": "3ph-480Y/277", "fault": "22 kA"},
    [("service", "Mill service", {
        "terminals": "75", "length": "30 ft", "interrupting": "25 kA", "water_pipe": "yes",
        "concrete": "yes", "device": "200 A",
    }, [("transformer", "Mill transformer", {
        "kva": "112.5 kVA", "impedance": "4.2", "terminals": "75", "length": "24 ft",
        "secondary_length": "9 ft", "done_lockout": "yes", "done_nameplate": "yes",
    }, [KILNS, WORKSHOP,
        ("feeder", "House feeder", {"terminals": "75", "length": "38 ft"},
         [KITCHEN, SHOP, GATEHOUSE])])]), *WHEEL_HOUSE],
)  # fmt: skip


# Site readings as a file would hold them; the second visit finds a loose neutral, the third, after
# it was mended, what the shop had complained of all along: one line carries the most of it.
READINGS: list[dict[str, str]] = [
    {"part": part, "point": point, "value": value, "unit": unit, "date": date, "place": place,
     "who": "R. Alder", "note": note}
    for part, date, place, found in (
        ("Kiln room", "2026-10-02 09:40", "at the board", (
            ("L1-N", "115.4", "V", ""), ("L2-N", "115.8", "V", ""), ("L3-N", "115.2", "V", ""),
            ("L1-L2", "199.1", "V", ""), ("L1", "88.6", "A", "all kilns on"),
            ("N", "13.9", "A", ""),
        )),
        ("Shop and gallery", "2026-10-09 16:15", "at the board, lamps flickering", (
            ("L1-N", "124.7", "V", ""), ("L2-N", "107.9", "V", "dim"), ("L3-N", "118.4", "V", ""),
            ("L1-L2", "200.9", "V", ""), ("L2-L3", "201.8", "V", ""), ("L1-L3", "201.7", "V", ""),
            ("L1", "51.8", "A", ""), ("L2", "46.9", "A", ""), ("L3", "26.4", "A", ""),
        )),
        ("Shop and gallery", "2026-10-21 17:20", "at the board, neutral mended; late shopping", (
            ("L1", "49.7", "A", "“its fuse blew twice this month, and the window is dim”"),
            ("L2", "45.8", "A", ""), ("L3", "25.1", "A", ""), ("N", "36.9", "A", ""),
        )),
    )
    for point, value, unit, note in found
]  # fmt: skip


def recorded_week() -> str:
    """What a logger saw at the workshop's board: wheels by day, the pug mill in the morning, the
    water heater in between; as CSV."""
    began = datetime(2026, 10, 5)
    rows = ["Time,L1 (A),L2 (A),L3 (A)"]
    for sample in range(7 * 24 * 12):
        when = began + timedelta(minutes=5 * sample)
        hour = when.hour + when.minute / 60
        open_ = when.weekday() < 6 and 7.5 <= hour < 17
        sway = sin(sample / 5.0) + 0.6 * sin(sample / 1.7)
        base = 5 + 1.5 * sin(2 * pi * (hour - 9) / 24)
        wheels = 16 + 4 * sway if open_ else 0.0
        pug = 31 if open_ and when.weekday() in (0, 2, 4) and 8 <= hour < 11 and sample % 6 else 0
        heater = 21 if sample % 17 < (6 if open_ else 1) else 0
        lines = (base + wheels + pug, base + 0.8 * wheels + pug + heater, base + 0.5 * wheels + pug)
        rows.append(f"{when:%Y-%m-%d %H:%M}," + ",".join(f"{value:.1f}" for value in lines))
    return "\n".join(rows)
