"""What people build: small complete jobs to begin with and to be overwritten, in each family's own
kinds and words. All names and figures are invented."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.utils.translation import gettext_lazy

from voltaje.core.kinds import kind
from voltaje.core.rules.interface import Code
from voltaje.web.jobs.demo import Planted

Entered = dict[str, Any]


# what the uses of a dwelling are called and how they are counted, in a house and in a flat
LIGHTS: dict[str, tuple[Entered, Entered]] = {
    "bs7671": ({"load": "1 kW"}, {"load": "0.6 kW"}),
    "sans10142": ({"load": "1 kW"}, {"load": "0.6 kW"}),
    "asnzs3000": ({"count": "24"}, {"count": "14"}),
}
SOCKETS: dict[str, tuple[Entered, Entered]] = {
    "bs7671": (
        {"use": "circuits", "load": "32 A", "count": "2"},
        {"use": "circuits", "load": "32 A"},
    ),
    "sans10142": (
        {"use": "sockets", "load": "20 A", "count": "2"},
        {"use": "sockets", "load": "20 A"},
    ),
    "asnzs3000": ({"use": "sockets", "count": "28"}, {"use": "sockets", "count": "16"}),
}
COOKER = {"bs7671": "cooking", "sans10142": "cooking", "asnzs3000": "cooking"}
WATER = {"bs7671": "storage", "sans10142": "water", "asnzs3000": "storage"}


@dataclass(frozen=True, slots=True)
class Building:
    """A building by its name and what its job holds. ``plant`` gives the supply with all that hangs
    on it under a family."""

    id: str
    title: Any
    holds: Any
    plant: Callable[[Code], Planted]


def building(id: str) -> Building | None:
    """The building of that id."""
    return next((one for one in BUILDINGS if one.id == id), None)


def _american(code: Code) -> bool:
    return kind("feeder").covers(code)


def _supply(code: Code, three: bool, under: list[Planted], **entries: str) -> Planted:
    system = next(
        name
        for name in code.systems
        if name.startswith("3ph" if three else "1ph") and _to_neutral(name)
    )
    if not _american(code):
        entries = {"frequency": "50", "earthing": "TN-C-S", "external_loop": "0.25", **entries}
    return ("supply", "Utility service", {"system": system, **entries}, under)


def _to_neutral(system: str) -> bool:
    """Whether a system has the volts of lights and sockets between two of its conductors."""
    return system in ("1ph-120/240", "1ph-230", "3ph-208Y/120", "3ph-400Y/230")


def _circuit(
    code: Code, name: str, use: str, load: str, length: str, two: bool = False, **entries: Any
) -> Planted:
    """A circuit of a load, on ``two`` lines where the family has two of them for it, and large
    enough for its voltage drop."""
    told: Entered = {"outlets" if use == "receptacles" else "load": load, "length": length}
    if _american(code):
        told |= {"drop_sizing": "total"} | ({"connection": "two-line"} if two else {})
    elif use == "vehicle charging":
        told["rcd"] = "30"
    return ("circuit", name, {"use": use, **told, **entries}, [])


def _sockets(code: Code, name: str, many: int, length: str, **entries: Any) -> Planted:
    """Outlets by their number where the family counts them, else by the circuit's current."""
    if _american(code):
        return _circuit(code, name, "receptacles", str(many), length, **entries)
    return _circuit(code, name, "sockets", "20 A", length, **{"rcd": "30", **entries})


def _board(code: Code, name: str, ways: list[Planted], length: str, fuse: str = "") -> Planted:
    """A board with what feeds it; ``fuse`` where one larger than the load asks for is selective."""
    plate = {"interrupting": "10 kA", "maximum_imbalance": "100"}
    under: list[Planted] = [("board", name, plate, ways)]
    if _american(code):
        run = {"length": length, "terminals": "75", "drop_sizing": "part"}
        return ("feeder", f"{name} feeder", run, under)
    run = {"length": length, "maximum_drop": "1.5", "device_type": "gG"}
    run |= {"device": fuse} if fuse else {}
    return ("distribution", f"{name} main", run, under)


def _motor(code: Code, name: str, horsepower: str, kilowatts: str, length: str) -> Planted:
    if _american(code):
        return ("motor", name, {"horsepower": horsepower, "length": length}, [])
    return ("machine", name, {"power": kilowatts, "length": length}, [])


def _dwelling(code: Code, name: str, flat: bool = False, line: str = "") -> Planted:
    if not _american(code):
        cooker, water = "7.2 kW" if flat else "9.6 kW", "3 kW"
        uses = [
            {"id": "u1", "name": "Lights", "use": "lighting", **LIGHTS[code.family][flat]},
            {"id": "u2", "name": "Sockets", **SOCKETS[code.family][flat]},
            {"id": "u3", "name": "Cooker", "use": COOKER[code.family], "load": cooker},
            {"id": "u4", "name": "Water heater", "use": WATER[code.family], "load": water},
        ]
        if line:
            uses = [{**use, "line": line} for use in uses]
        return ("dwelling", name, {"uses": uses, "length": "18 m"}, [])
    area = "850 ft²" if flat else "1650 ft²"
    entries: Entered = {
        "area": area,
        "appliances": [
            {"id": "a1", "name": "Water heater", "nameplate": "3.8 kW" if flat else "4.5 kW"},
            {"id": "a2", "name": "Dishwasher", "nameplate": "1.2 kW"},
        ],
        "cooking": [{"id": "c1", "name": "Range", "nameplate": "8 kW" if flat else "12 kW"}],
        "climate": [
            {"id": "h1", "name": "Electric heating", "nameplate": "4 kW" if flat else "9 kW",
             "what": "heating"},
            {"id": "h2", "name": "Air conditioner", "nameplate": "2.4 kW", "what": "cooling"},
        ],
    }  # fmt: skip
    if not flat:
        entries["dryers"] = [{"id": "d1", "name": "Clothes dryer", "nameplate": "5 kW"}]
    if code.family == "nec":
        for one in entries["appliances"][:1]:
            one["connection"] = "240"
    return ("dwelling", name, entries, [])


def _house(code: Code) -> Planted:
    garage = _board(code, "Garage board", [
        _circuit(code, "Garage lights", "lighting", "300 W", "12 m"),
        _sockets(code, "Garage outlets", 4, "15 m"),
        _circuit(code, "Car charging", "vehicle charging", "7.2 kW", "10 m", two=True),
    ], "22 m")  # fmt: skip
    return _supply(code, False, [_dwelling(code, "House"), garage], fault="10 kA")


def _flat(code: Code) -> Planted:
    return _supply(
        code,
        False,
        [_dwelling(code, "Apartment" if _american(code) else "Flat", flat=True)],
        fault="10 kA",
    )


def _flats(code: Code) -> Planted:
    three = kind("dwelling").stands_on
    systems = three(code) if three else ()
    on_three = any(name.startswith("3ph") for name in systems) and not _american(code)
    name = "Apartment" if _american(code) else "Flat"
    flats = [
        _dwelling(
            code, f"{name} {number}", flat=True, line=f"L{(number - 1) % 3 + 1}" if on_three else ""
        )
        for number in range(1, 7)
    ]
    landlord = _board(code, "Common board", [
        _circuit(code, "Stair lights", "lighting", "800 W", "25 m"),
        _circuit(code, "Entrance lights", "lighting", "400 W", "18 m"),
        _sockets(code, "Stair outlets", 3, "20 m"),
        _sockets(code, "Plant room outlets", 2, "12 m"),
        _sockets(code, "Roof outlets", 2, "28 m"),
    ], "8 m", fuse="40 A")  # fmt: skip
    return _supply(code, on_three, [*flats, landlord], fault="10 kA")


def _shop(code: Code) -> Planted:
    board = _board(code, "Shop board", [
        _circuit(code, "Shop lights", "lighting", "1.2 kW", "16 m"),
        _circuit(code, "Window lights", "lighting", "600 W", "14 m"),
        _sockets(code, "Counter outlets", 5, "16 m"),
        _sockets(code, "Back room outlets", 6, "22 m"),
        _circuit(code, "Sign", "sign" if code.family == "nec" else "lighting", "1.2 kW", "18 m"),
        _circuit(code, "Water heater", "water heater", "3 kW", "20 m", two=True),
        _circuit(code, "Heating", "space heating", "9 kW", "20 m", connection="three-phase"),
    ], "12 m")  # fmt: skip
    return _supply(code, True, [board], fault="10 kA")


def _workshop(code: Code) -> Planted:
    if not kind("transformer").covers(code):
        machines = _board(code, "Workshop board", [
            _motor(code, "Saw", "5 hp", "4 kW", "18 m"),
            _motor(code, "Compressor", "7.5 hp", "5.5 kW", "24 m"),
            _motor(code, "Dust extraction", "10 hp", "7.5 kW", "30 m"),
            _circuit(code, "Workshop lights", "lighting", "1.2 kW", "30 m"),
            _sockets(code, "Bench sockets", 6, "25 m"),
        ], "20 m", fuse="80 A")  # fmt: skip
        return _supply(code, True, [machines], fault="10 kA")
    system = next(
        n
        for n in ("3ph-600Y/347", "3ph-480Y/277")
        if n in code.systems and (code.family == "cec") == (n == "3ph-600Y/347")
    )
    machines = _board(code, "Machine board", [
        _motor(code, "Saw", "5 hp", "", "18 m"),
        _motor(code, "Compressor", "7.5 hp", "", "24 m"),
        _motor(code, "Dust extraction", "10 hp", "", "30 m"),
    ], "15 m")  # fmt: skip
    lights = ("transformer", "Lighting transformer", {"length": "3 m"}, [
        ("board", "Light and power", {"interrupting": "10 kA"}, [
            _circuit(code, "Workshop lights", "lighting", "1.2 kW", "30 m"),
            _circuit(code, "Yard lights", "lighting", "800 W", "40 m"),
            _sockets(code, "Bench outlets", 6, "25 m"),
            _sockets(code, "Office outlets", 5, "20 m"),
            _circuit(code, "Water heater", "water heater", "3 kW", "15 m", two=True),
        ]),
    ])  # fmt: skip
    return ("supply", "Utility service", {"system": system, "fault": "14 kA"}, [machines, lights])


def _farm(code: Code) -> Planted:
    barn = _board(code, "Barn board", [
        _circuit(code, "Barn lights", "lighting", "500 W", "15 m"),
        _sockets(code, "Barn outlets", 4, "20 m"),
        _circuit(code, "Grain dryer fan", "general", "2.4 kW", "25 m", two=True),
        _circuit(code, "Water trough heaters", "space heating", "1.5 kW", "35 m", two=True),
    ], "75 m")  # fmt: skip
    yard = _board(code, "Workshop board", [
        _circuit(code, "Workshop lights", "lighting", "600 W", "15 m"),
        _sockets(code, "Workshop outlets", 5, "10 m"),
        _circuit(code, "Welder", "general", "5 kW", "12 m", two=True),
    ], "60 m")  # fmt: skip
    pump = _circuit(code, "Well pump", "general", "1.5 kW", "90 m", two=True)
    return _supply(code, False, [_dwelling(code, "Farmhouse"), barn, yard, pump], fault="8 kA")


def _quay(code: Code) -> Planted:
    use, load = ("general", "30 A") if _american(code) else ("sockets", "16 A")
    more: Entered = {} if _american(code) else {"rcd": "30"}
    pedestals = [
        _circuit(code, f"Pedestal {number}", use, load, f"{2 + 5 * number} m", **more)
        for number in range(1, 7)
    ]
    pontoon = _board(code, "Pontoon board", pedestals, "45 m")
    shore = _board(code, "Shore board", [
        _motor(code, "Slipway winch", "7.5 hp", "5.5 kW", "30 m"),
        _circuit(code, "Quay lights", "lighting", "800 W", "60 m"),
        _sockets(code, "Workshop outlets", 6, "18 m"),
        _circuit(code, "Shower water heater", "water heater", "3 kW", "20 m", two=True),
    ], "15 m", fuse="63 A")  # fmt: skip
    return _supply(code, True, [pontoon, shore], fault="9 kA")


BUILDINGS = (
    Building(
        "house",
        gettext_lazy("House"),
        gettext_lazy("its service by rooms and appliances, a garage with a board of its own"),
        _house,
    ),
    Building(
        "flat",
        gettext_lazy("Flat or apartment"),
        gettext_lazy("one dwelling by its rooms and appliances"),
        _flat,
    ),
    Building(
        "flats",
        gettext_lazy("Block of flats or apartments"),
        gettext_lazy("six dwellings on one service, a board for what they share"),
        _flats,
    ),
    Building(
        "shop",
        gettext_lazy("Shop"),
        gettext_lazy("lights, outlets, a sign and heating on one three-phase board"),
        _shop,
    ),
    Building(
        "workshop",
        gettext_lazy("Workshop"),
        gettext_lazy(
            "machines on three phases; light and outlets, behind a transformer where the supply"
            " asks for one"
        ),
        _workshop,
    ),
    Building(
        "farm",
        gettext_lazy("Farm"),
        gettext_lazy("a house, a barn and a workshop on long runs, a pump"),
        _farm,
    ),
    Building(
        "quay",
        gettext_lazy("Quay or marina"),
        gettext_lazy("pedestals on a pontoon, a winch, lights along the water"),
        _quay,
    ),
)
