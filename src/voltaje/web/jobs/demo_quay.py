"""Heron Quay, the demo's metric job: a small boatyard at 400/230 V with shore pedestals, a slipway
winch, a workshop, a chandlery, slip lights on a long run, and a shower block. All made up."""

from __future__ import annotations

from typing import Any

from voltaje.web.jobs.demo import Planted

SUPPLY: dict[str, Any] = {
    "system": "3ph-400Y/230", "frequency": "50", "fault": "9 kA", "earthing": "TN-C-S",
    "external_loop": "0.18",
}  # fmt: skip


def _circuit(name: str, use: str, **entries: str) -> Planted:
    return ("circuit", name, {"use": use, "cable": "multi", "reference_method": "C", **entries}, [])


def _submain(name: str, board: str, ways: list[Planted], **entries: str) -> Planted:
    run = {"cable": "armoured 90", "device_type": "gG", **entries}
    plate = {"rating": "100 A", "spaces": "18", "interrupting": "10 kA", "maximum_imbalance": "70"}
    return ("distribution", name, run, [("board", board, plate, ways)])


# a boat's hull is in the water: a pontoon has an electrode of its own, not the supply's neutral
PONTOON = _submain(
    "Pontoon main", "Pontoon board",
    [_circuit(f"Pedestal {number}, {amperes} A", "sockets", load=f"{amperes} A", length=length,
              rcd="30", earthing="TT", external_loop="46", device_type="C", cable="armoured 90",
              reference_method="E", line=line,
              area="2.5" if amperes == 16 else "auto")
     for number, amperes, length, line in (
         (1, 16, "9 m", "L1"), (2, 16, "16 m", "L1"), (3, 16, "23 m", "L1"), (4, 32, "30 m", "L2"),
         (5, 32, "37 m", "L3"))],
    reference_method="E", length="48 m", maximum_drop="1", diversity="70", device="63 A",
)  # fmt: skip
CHANDLERY = _submain(
    "Chandlery main", "Chandlery",
    [_circuit("Shop lights", "lighting", load="720 W", length="32 m", rcd="30", line="L3"),
     _circuit("Shop sockets, a ring", "sockets", load="26 A", length="28 m",
              other_leg_length="34 m", rcd="30", layout="ring", cable="flat", line="L1"),
     _circuit("Tea room cooker", "cooker", load="7.2 kW", diversity="cooker and socket",
              length="18 m", cable="flat", rcd="30", line="L2"),
     _circuit("Tea room water heater", "water heater", load="3 kW", length="16 m", line="L3")],
    reference_method="C", length="22 m", maximum_drop="0.6", device="63 A",
)  # fmt: skip
SHOWERS = _submain(
    "Shower block main", "Shower block",
    [*(_circuit(f"Shower {number}", "shower", load="7.2 kW", length=length, rcd="30",
                cable="flat", line=f"L{number}")
       for number, length in ((1, "8 m"), (2, "11 m"), (3, "14 m"))),
     _circuit("Block lights", "lighting", load="240 W", length="19 m", rcd="30"),
     _circuit("Drying room heater", "space heating", load="2 kW", length="14 m", rcd="30")],
    reference_method="D", length="38 m", maximum_drop="0.6", ground="15", device="63 A",
)  # fmt: skip
WINCH: Planted = (
    "machine", "Slipway winch", {
        "power": "7.5 kW", "nameplate": "15.2 A", "starting_current": "6.4", "device_type": "D",
        "cable": "armoured", "reference_method": "E", "length": "35 m",
        "area": "6",
    }, [],
)  # fmt: skip
# three-phase, on the workshop's roof; its breaker stands in a warm enclosure between neighbours
ROOF: Planted = (
    "inverter", "Roof inverter", {
        "power": "24 kW", "maximum_current": "36.2 A", "enclosure_temperature": "50 °C",
        "adjacent_breakers": "1", "length": "28 m",
        "device_type": "C", "cable": "armoured 90", "reference_method": "E", "maximum_rise": "1",
        "bus_rating": "250 A", "main": "125 A", "connection_point": "anywhere",
    }, [],
)  # fmt: skip
COTTAGE: Planted = (
    "dwelling", "Harbour cottage", {
        "uses": [
            {"id": "u1", "name": "Lights", "use": "lighting", "load": "1.1 kW", "line": "L3"},
            {"id": "u2", "name": "Ring of sockets", "use": "circuits", "load": "32 A",
             "count": "2"},
            {"id": "u3", "name": "Cooker", "use": "cooking socket", "load": "9.6 kW"},
            {"id": "u4", "name": "Shower", "use": "instantaneous", "load": "8.5 kW"},
            {"id": "u5", "name": "Hot water cylinder", "use": "storage", "load": "3 kW"},
            {"id": "u6", "name": "Panel heaters", "use": "heating", "load": "1.5 kW",
             "count": "3"},
            {"id": "u7", "name": "Car charging", "use": "vehicle", "load": "7.2 kW"},
        ],
        "device_type": "gG", "cable": "armoured 90", "reference_method": "D", "length": "32 m",
    }, [],
)  # fmt: skip
# the old line along the lane behind the quay, as it was joined: the far cottages all on one line
LANE: Planted = (
    "street", "Ropewalk Lane", {
        "cable": "armoured 90", "reference_method": "D", "size": "25 mm²",
        "fuse": "80 A",
        "consumers": [
            {"id": f"r{number}", "name": f"Ropewalk {number}", "length": far, "nameplate": load,
             "power_factor": "0.95", "line": line}
            for number, far, load, line in (
                (1, "22 m", "4.2 kW", "L1"), (2, "26 m", "5.5 kW", "L2"),
                (3, "26 m", "3.8 kW", "L3"), (4, "31 m", "6.4 kW", "L1"),
                (5, "28 m", "4.6 kW", "L2"), (6, "44 m", "5.2 kW", "L1"),
                (7, "36 m", "6.0 kW", "L1"))
        ],
    }, [],
)  # fmt: skip
UNDER_SUPPLY: list[Planted] = [
    ("earthing", "Main earthing of the quay", {
        "line_conductor": "95", "earthing": "TN-C-S", "clearing_time": "0.4",
    }, []),
    COTTAGE,
    LANE,
    ("distribution", "Quayside main", {
        "cable": "armoured 90", "reference_method": "D", "length": "60 m", "device_type": "gG",
        "ground": "15", "diversity": "70", "maximum_drop": "0.7", "device": "125 A",
    }, [("board", "Boatyard", {"rating": "250 A", "spaces": "36", "interrupting": "10 kA",
                              "maximum_imbalance": "40"}, [
        WINCH,
        ROOF,
        _circuit("Workshop sockets", "sockets", load="20 A", length="18 m", rcd="30",
                 reference_method="B"),
        _circuit("Workshop lights", "lighting", load="900 W", length="26 m", area="1.5"),
        _circuit("Slip lights", "lighting", load="600 W", length="110 m", cable="armoured 90",
                 reference_method="D", rcd="30"),
        _circuit("Shed heaters", "space heating", load="6 kW", length="30 m"),
        _circuit("Yard van charging", "vehicle charging", load="7.2 kW", length="24 m", rcd="30"),
        PONTOON, CHANDLERY, SHOWERS,
    ])]),
]  # fmt: skip

# what the testers showed in spring; one circuit has a fault that its readings tell
READINGS: list[dict[str, str]] = [
    {"part": part, "point": point, "value": value, "unit": unit, "date": "2026-04-16 08:50",
     "place": place, "who": "R. Heron", "note": note}
    for part, place, found in (
        ("Slipway winch", "at the isolator", (
            ("Zs", "0.41", "Ω", ""), ("R1+R2", "0.21", "Ω", ""), ("insulation", ">200", "MΩ", ""),
        )),
        ("Pedestal 3, 16 A", "at the pedestal", (
            ("Zs", "46.4", "Ω", ""), ("insulation", "85", "MΩ", "after rain"),
            ("RCD", "27", "ms", ""),
        )),
        ("Shop sockets, a ring", "at the far socket", (
            ("Zs", "0.59", "Ω", ""), ("R1+R2", "0.31", "Ω", ""), ("RCD", "24", "ms", ""),
        )),
        ("Slip lights", "at the last pole", (
            ("Zs", "2.31", "Ω", ""), ("R1+R2", "2.09", "Ω", ""), ("insulation", "60", "MΩ", ""),
            ("RCD", "31", "ms", ""),
        )),
    )
    for point, value, unit, note in found
]  # fmt: skip
