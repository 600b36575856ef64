"""Reads what people type, prints what it reads.

"3.2 kW", "3,200 W", "3,2 kW", "7-1/2 hp", "1/2hp", "82'", "25 m", "1500 sq ft", "140 m²".
This module knows the spellings, the factors and the doubtful cases.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace
from functools import cache
from typing import Literal

from voltaje.core.report import Text, say

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


class UnreadableError(ValueError):
    """The text is not a quantity of the kind wanted. ``str()`` says what would be."""

    def __init__(self, typed: str, dimension: Dimension, why: Text | None = None) -> None:
        self.typed = typed
        self.dimension = dimension
        shown = typed if len(typed) <= 40 else typed[:37] + "…"
        given = {"typed": shown, "what": say(dimension.name), "like": say(dimension.example)}
        words = say("“{typed}” does not read as {what}. Give it like {like}.", **given)
        if why:
            words = say(
                "“{typed}” does not read as {what}. {why} Give it like {like}.", why=why, **given
            )
        super().__init__(str(words))


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

_VULGAR = {
    "¼": "1/4",
    "½": "1/2",
    "¾": "3/4",
    "⅓": "1/3",
    "⅔": "2/3",
    "⅛": "1/8",
    "⅙": "1/6",
    "⅕": "1/5",
}
_MIXED = re.compile(r"(\d+)(?:\s*-\s*|\s+)(\d+)\s*/\s*(\d+)")
_FRACTION = re.compile(r"(\d+)\s*/\s*(\d+)")
_NUMBER = re.compile(r"[+-]?(?:\d[\d.,\u00a0\u202f']*\d|\d|[.,]\d+)(?:e[+-]?\d+)?", re.IGNORECASE)


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


def read_number(text: str) -> float:
    """A plain number: "3200", "3,200", "3.2", "3,2", "1.480,5", "7-1/2", "½".

    One comma before exactly three digits groups thousands, unless the number starts with 0;
    any other single comma is a decimal comma. Raises ``ValueError`` when neither reading holds.
    """
    typed = text.strip()
    typed = _spell_fractions(typed)
    negative = typed.startswith(("-", "−"))
    body = typed.lstrip("+-−").strip()
    for pattern in (_MIXED, _FRACTION):
        if match := pattern.fullmatch(body):
            *whole, upper, lower = (int(group) for group in match.groups())
            if lower == 0:
                raise ValueError("a fraction over zero")
            value = (whole[0] if whole else 0) + upper / lower
            return -value if negative else value
    value = float(_plain(body))
    if not math.isfinite(value):
        raise ValueError("a number beyond all measure")
    return -value if negative else value


def _spell_fractions(text: str) -> str:
    """``"7½"`` → ``"7 1/2"``."""
    for sign, plain in _VULGAR.items():
        if sign in text:
            text = re.sub(rf"(\d)\s*{sign}", rf"\1 {plain}", text).replace(sign, plain)
    return text


def _plain(body: str) -> str:
    mantissa, mark, exponent = body.lower().partition("e")
    mantissa = re.sub(r"(?<=\d)[\u00a0\u202f' ](?=\d{3}(?!\d))", "", mantissa)
    commas, points = mantissa.count(","), mantissa.count(".")
    if commas and points:
        decimal = max(",.", key=mantissa.rfind)
        grouping = "." if decimal == "," else ","
        whole, _, rest = mantissa.rpartition(decimal)
        if mantissa.count(decimal) > 1 or not _grouped(whole, grouping):
            raise ValueError("commas and points that fit no way of writing numbers")
        mantissa = whole.replace(grouping, "") + "." + rest
    elif commas > 1 or (commas == 1 and re.fullmatch(r"[1-9]\d{0,2},\d{3}", mantissa)):
        if not _grouped(mantissa, ","):
            raise ValueError("commas that do not group thousands")
        mantissa = mantissa.replace(",", "")
    elif commas == 1:
        mantissa = mantissa.replace(",", ".")
    elif points > 1:
        if not _grouped(mantissa, "."):
            raise ValueError("points that do not group thousands")
        mantissa = mantissa.replace(".", "")
    if not re.fullmatch(r"\d*\.?\d*", mantissa, re.ASCII) or not re.search(r"\d", mantissa):
        raise ValueError("not a number")
    return mantissa + (mark + exponent if mark else "")


def _grouped(text: str, separator: str) -> bool:
    return re.fullmatch(rf"\d{{1,3}}(?:{re.escape(separator)}\d{{3}})*", text) is not None


_ONE = re.compile(r"\s*(\d{1,9}(?:\.\d{1,9})?)\s*([A-Za-z]*)\s*", re.ASCII)


@cache
def _units() -> frozenset[str]:
    """Every spelling of a unit in plain letters, and none at all."""
    spelled = (name for d in _dimensions() for name in d.spellings)
    return frozenset({"", *(name for name in spelled if name.isascii() and name.isalpha())})


def tokens(text: str) -> list[tuple[float, str]]:
    """Splits "6 A at 115 V" into ``[(6.0, "a"), (115.0, "v")]``; a bare number has unit "".

    Raises ``ValueError`` when the text is not a row of numbers with units.
    """
    # most of what is typed is one plain figure with a unit that is known
    if (plain := _ONE.fullmatch(text)) and plain[2].lower() in _units():
        return [(float(plain[1]), plain[2].lower())]
    rest = text.strip()
    rest = _spell_fractions(rest)
    rest = re.sub(r"(?<![\d/])\d{1,3}(?: \d{3})+(?![\d/])", lambda m: m[0].replace(" ", ""), rest)
    rest = rest.replace("−", "-")
    found: list[tuple[float, str]] = []
    while rest:
        match = None
        for pattern in (_MIXED, _FRACTION, _NUMBER):
            if match := pattern.match(rest):
                break
        if match is None:
            raise ValueError("no number")
        number = read_number(match.group())
        rest = rest[match.end() :].lstrip()
        unit = re.match(r"[^\d+\-,@×/]*?(?=\s*(?:\bat\b|@|,|/|×|[\d+-]|$))", rest)
        # "m2", "ft2" and "ft^2" end in a digit that is part of the unit
        squared = re.match(r"(?:m|ft)\s*\^?2(?![\d.,])", rest, re.IGNORECASE)
        taken = squared.group() if squared else (unit.group() if unit else "")
        rest = rest[len(taken) :]
        rest = re.sub(r"^\s*(?:\bat\b|@|,|/|×)?\s*", "", rest, count=1, flags=re.IGNORECASE)
        found.append((number, re.sub(r"\s+", "", taken).lower()))
    if not found:
        raise ValueError("no number")
    return found


def read(typed: str | float | int, dimension: Dimension, system: UnitSystem = "us") -> float:
    """The quantity in the dimension's base unit; a bare number is in the system's own unit.

    Raises :class:`UnreadableError`, whose ``str()`` says what would be accepted.
    """
    bare = dimension.bare[system]
    if isinstance(typed, int | float) and not isinstance(typed, bool):
        return float(typed) * (factor(bare, dimension.base) if bare else 1.0)
    text = str(typed)
    if len(text) > 60:
        raise UnreadableError(text, dimension, say("It is too long."))
    try:
        found = tokens(text)
    except (ValueError, OverflowError):
        raise UnreadableError(text, dimension) from None
    total = 0.0
    for index, (number, spelled) in enumerate(found):
        if spelled == "" and len(found) == 1:
            unit = bare
        elif spelled in dimension.spellings:
            unit = dimension.spellings[spelled]
        else:
            other = _dimension_of(spelled)
            why = say("That is {what}.", what=say(other.name)) if other else None
            raise UnreadableError(text, dimension, why)
        if index and (dimension is not LENGTH or unit != "inch"):
            raise UnreadableError(text, dimension, say("One figure is wanted."))
        if unit == "fahrenheit":  # the only unit whose zero lies elsewhere
            number, unit = (number - 32.0) / 1.8, dimension.base
        total += number * (factor(unit, dimension.base) if unit else 1.0)
    if abs(total) == float("inf"):
        raise UnreadableError(text, dimension)
    return total


def _dimensions() -> tuple[Dimension, ...]:
    return (
        POWER,
        AREA,
        LENGTH,
        VOLTAGE,
        CURRENT,
        HORSEPOWER,
        TEMPERATURE,
        RESISTANCE,
        INSULATION,
        DURATION,
    )


def _dimension_of(spelled: str) -> Dimension | None:
    for dimension in _dimensions():
        if spelled in dimension.spellings:
            return dimension
    return None


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


@dataclass(frozen=True, slots=True)
class Nameplate:
    """What a nameplate says: volt-amperes, or amperes (perhaps at volts), or horsepower.

    Exactly one of ``watts``, ``amperes``, ``horsepower`` is set. ``active`` says that the power
    was given in W or kW, so that a power factor turns it into VA.
    """

    watts: float | None = None
    amperes: float | None = None
    volts: float | None = None
    horsepower: float | None = None
    active: bool = False


NAMEPLATE = Dimension(
    "a nameplate",
    "watt",
    {"us": "watt", "metric": "watt"},
    {},
    {"watt": "VA"},
    "4500 W, 4.5 kW, 1/2 hp, or 6 A 115 V",
)


def read_nameplate(typed: str | float | int) -> Nameplate:
    """Reads "4.5 kW", "1300 W", "1/2 hp", "6 A", "6 A 115 V", "115 V 6 A"; bare is VA.

    Raises :class:`UnreadableError`.
    """
    if isinstance(typed, int | float) and not isinstance(typed, bool):
        return Nameplate(watts=float(typed))
    text = str(typed)
    if len(text) > 60:
        raise UnreadableError(text, NAMEPLATE, say("It is too long."))
    try:
        found = tokens(text)
    except (ValueError, OverflowError):
        raise UnreadableError(text, NAMEPLATE) from None
    given: dict[str, float] = {}
    for number, spelled in found:
        dimension = POWER if spelled == "" and len(found) == 1 else _dimension_of(spelled)
        if dimension is None or dimension in (AREA, LENGTH) or dimension.base in given:
            raise UnreadableError(text, NAMEPLATE)
        unit = dimension.spellings.get(spelled, dimension.base)
        given[dimension.base] = number * factor(unit, dimension.base)
    volts = given.pop("volt", None)
    if volts is not None and volts <= 0:
        raise UnreadableError(text, NAMEPLATE, say("The voltage must be above zero."))
    if len(given) != 1:
        why = None
        if volts is not None and not given:
            why = say("Volts alone do not give a load.")
        raise UnreadableError(text, NAMEPLATE, why)
    return Nameplate(
        watts=given.get("watt"),
        amperes=given.get("ampere"),
        horsepower=given.get("horsepower"),
        volts=volts,
        active=any(spelled in ("w", "kw", "mw") or "watt" in spelled for _, spelled in found),
    )
