"""The units of the trade: kinds of quantity, their factors, and how they are printed.

Inside, quantities are in SI; this module knows what stands at the edge.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

UnitSystem = Literal["us", "metric"]


METRES_PER_FOOT = 0.3048  # by definition, since 1959


_EXACT = 9  # decimals within which feet that were typed come back as they were


POUNDS_PER_KG = 2.204623


# The few units of the trade, each in the base of its kind. A units library would know them too, but
# takes half a second to read, which the headless command cannot spare; a test holds these against
# one.
FACTORS: dict[str, tuple[str, float]] = {
    "metre": ("length", 1.0),
    "foot": ("length", METRES_PER_FOOT),
    "inch": ("length", METRES_PER_FOOT / 12),
    "square_metre": ("area", 1.0),
    "square_foot": ("area", METRES_PER_FOOT**2),
    "ampere": ("current", 1.0),
    "ohm": ("impedance", 1.0),
    "milliohm": ("impedance", 1e-3),
    "milliampere": ("current", 0.001),
    "kiloampere": ("current", 1000.0),
    "volt": ("voltage", 1.0),
    "kilovolt": ("voltage", 1000.0),
    "watt": ("power", 1.0),
    "kilowatt": ("power", 1000.0),
    "megawatt": ("power", 1_000_000.0),
    "horsepower": ("power", 746.0),
}


@dataclass(frozen=True, slots=True, eq=False)
class Dimension:
    """A kind of quantity: its base unit for each unit system, the spellings read, an example."""

    name: str
    base: str
    bare: dict[UnitSystem, str]
    spellings: dict[str, str]
    symbols: dict[str, str]
    example: str


# the units of each kind as they are written on a key
KEYS: dict[str, tuple[str, ...]] = {
    "a load": ("W", "kW", "VA", "kVA", "A"),
    "a size": ("kVA", "MVA"),
    "a floor area": ("ft²", "m²"),
    "a length": ("ft", "in", "m"),
    "a voltage": ("V", "kV"),
    "a current": ("A", "kA"),
    "a resistance": ("Ω",),
    "an impedance": ("mΩ", "Ω"),
    "an insulation resistance": ("MΩ",),
    "a time": ("ms", "s"),
    "horsepower": ("hp", "-", "/"),
    "a temperature": ("°C", "°F"),
    "a nameplate": ("W", "kW", "VA", "kVA", "A", "V", "Ω", "hp", "-", "/"),
}


def _words(unit: str, *spellings: str) -> dict[str, str]:
    return dict.fromkeys(spellings, unit)


POWER = Dimension(
    "a load",
    "watt",
    {"us": "watt", "metric": "watt"},
    _words("watt", "w", "va", "watt", "watts", "voltampere", "voltamperes")
    | _words("kilowatt", "kw", "kva", "kilowatt", "kilowatts")
    | _words("megawatt", "mw", "mva"),
    {"watt": "VA", "kilowatt": "kVA"},
    "4500 W, 4.5 kW or 4.5 kVA",
)


# a transformer's size is bare kVA to everyone
SIZE = replace(
    POWER, name="a size", bare={"us": "kilowatt", "metric": "kilowatt"}, example="75 kVA or 112.5"
)


AREA = Dimension(
    "a floor area",
    "square_metre",
    {"us": "square_foot", "metric": "square_metre"},
    _words(
        "square_foot",
        "sqft",
        "sq.ft",
        "sq.ft.",
        "ft2",
        "ft²",
        "ft^2",
        "sf",
        "squarefeet",
        "squarefoot",
    )
    | _words(
        "square_metre",
        "m2",
        "m²",
        "m^2",
        "sqm",
        "sq.m",
        "sq.m.",
        "squaremetres",
        "squaremeters",
        "squaremetre",
        "squaremeter",
    ),
    {"square_foot": "ft²", "square_metre": "m²"},
    "1480 sq ft or 140 m²",
)


LENGTH = Dimension(
    "a length",
    "metre",
    {"us": "foot", "metric": "metre"},
    _words("foot", "ft", "ft.", "'", "′", "’", "foot", "feet")
    | _words("inch", "in", "in.", '"', "″", "”", "inch", "inches")
    | _words("metre", "m", "metre", "metres", "meter", "meters"),
    {"foot": "ft", "metre": "m", "inch": "in"},
    "82 ft, 82' or 25 m",
)


VOLTAGE = Dimension(
    "a voltage",
    "volt",
    {"us": "volt", "metric": "volt"},
    _words("volt", "v", "volt", "volts", "vac") | _words("kilovolt", "kv"),
    {"volt": "V", "kilovolt": "kV"},
    "240 V",
)


CURRENT = Dimension(
    "a current",
    "ampere",
    {"us": "ampere", "metric": "ampere"},
    _words("ampere", "a", "amp", "amps", "ampere", "amperes")
    | _words("milliampere", "ma")
    | _words("kiloampere", "ka"),
    {"ampere": "A", "kiloampere": "kA"},
    "12 A",
)


# what testers show; a tester that shows ">999" is read as what it shows
RESISTANCE = Dimension(
    "a resistance",
    "ohm",
    {"us": "ohm", "metric": "ohm"},
    _words("ohm", "ω", "ohm", "ohms"),
    {"ohm": "Ω"},
    "0.84 Ω",
)


# small enough that nobody means megohms by mΩ
IMPEDANCE = Dimension(
    "an impedance",
    "ohm",
    {"us": "ohm", "metric": "ohm"},
    _words("ohm", "ω", "ohm", "ohms") | _words("milliohm", "mω", "milliohm", "milliohms", "mohm"),
    {"ohm": "Ω"},
    "0.084 Ω or 84 mΩ",
)


INSULATION = Dimension(
    "an insulation resistance",
    "megaohm",
    {"us": "megaohm", "metric": "megaohm"},
    _words("megaohm", "mω", "megohm", "megohms", "mohm"),
    {"megaohm": "MΩ"},
    "200 MΩ",
)


DURATION = Dimension(
    "a time",
    "millisecond",
    {"us": "millisecond", "metric": "millisecond"},
    _words("millisecond", "ms", "milliseconds") | _words("second", "s", "seconds"),
    {"millisecond": "ms"},
    "28 ms",
)


HORSEPOWER = Dimension(
    "horsepower",
    "horsepower",
    {"us": "horsepower", "metric": "horsepower"},
    _words("horsepower", "hp", "hp.", "horsepower"),
    {"horsepower": "hp"},
    "1/2 hp or 7-1/2 hp",
)


TEMPERATURE = Dimension(
    "a temperature",
    "celsius",
    {"us": "celsius", "metric": "celsius"},
    _words("celsius", "°c", "c", "degc", "ºc", "°", "celsius")
    | _words("fahrenheit", "°f", "f", "degf", "ºf", "fahrenheit"),
    {"celsius": "°C"},
    "40 °C or 104 °F",
)


COUNT = Dimension("a number", "", {"us": "", "metric": ""}, {}, {"": ""}, "2")


def factor(unit: str, base: str) -> float:
    """How many ``base`` one ``unit`` is. Raises ``ValueError`` if they are of different kinds."""
    if unit == base:
        return 1.0
    (kind, one), (other, whole) = FACTORS[unit], FACTORS[base]
    if kind != other:
        raise ValueError(f"{unit} is no {base}")
    return one / whole


def feet(metres: float) -> float:
    """A length in ft: 45 ft that were typed are 45."""
    return round(metres / METRES_PER_FOOT, _EXACT)


def square_feet(square_metres: float) -> float:
    """An area in ft²: 1,480 ft² that were typed are 1,480."""
    return round(square_metres / METRES_PER_FOOT**2, _EXACT)


def show(value: float, dimension: Dimension, system: UnitSystem = "us") -> str:
    """A base-unit value as text that :func:`read` reads back: ``"1,480 ft²"``, ``"137.5 m²"``."""
    unit = dimension.bare[system]
    number = value / factor(unit, dimension.base) if unit else value
    text = f"{number:,.4f}".rstrip("0").rstrip(".")
    symbol = dimension.symbols.get(unit, "")
    return f"{text} {symbol}".strip()


def symbol(dimension: Dimension, system: UnitSystem = "us") -> str:
    """The sign of the unit that a bare figure is in: ``"kVA"``, ``"m²"``; ``""`` of a number."""
    bare = dimension.bare[system]
    if bare == "kilowatt":
        return "kVA"
    return dimension.symbols.get(bare, "")


NAMEPLATE = Dimension(
    "a nameplate",
    "watt",
    {"us": "watt", "metric": "watt"},
    {},
    {"watt": "VA"},
    "4500 W, 4.5 kW, 1/2 hp, 6 A 115 V, or 14.4 Ω 240 V",
)
