"""Reads what people type: the spellings and the doubtful cases.

"3.2 kW", "3,200 W", "3,2 kW", "7-1/2 hp", "1/2hp", "82'", "25 m", "1500 sq ft", "140 m²".
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace
from functools import cache

from voltaje.core.quantities.units import (
    AREA,
    CURRENT,
    DURATION,
    HORSEPOWER,
    INSULATION,
    LENGTH,
    NAMEPLATE,
    POWER,
    RESISTANCE,
    TEMPERATURE,
    VOLTAGE,
    Dimension,
    UnitSystem,
    factor,
)
from voltaje.core.report import Text, say


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


@dataclass(frozen=True, slots=True)
class Nameplate:
    """What a nameplate says: volt-amperes, or amperes (perhaps at volts), or horsepower, or ohms.

    Exactly one of ``watts``, ``amperes``, ``horsepower`` is set; of ohms with their volts the
    ``watts`` that they take, of ``ohms`` alone nothing until :meth:`at` is told the volts.
    ``active`` says that the power was given in W, kW or ohms, so that a power factor turns it
    into VA.
    """

    watts: float | None = None
    amperes: float | None = None
    volts: float | None = None
    horsepower: float | None = None
    active: bool = False
    ohms: float | None = None

    def at(self, volts: float) -> Nameplate:
        """The same, ohms without volts as the watts that they take at ``volts``."""
        if self.ohms is None or self.watts is not None:
            return self
        return replace(self, watts=volts**2 / self.ohms, active=True)

    def va(self, volts: float, root: float = 1.0) -> float:
        """VA of a load given in VA or W, or in amperes or ohms at its own ``volts``, else at these;
        ``root`` is √3 for the three lines of a three-phase load."""
        if self.amperes is not None:
            return self.amperes * (self.volts or volts) * root
        return self.at(volts).watts or 0.0


def read_nameplate(typed: str | float | int) -> Nameplate:
    """Reads "4.5 kW", "1300 W", "1/2 hp", "6 A", "6 A 115 V", "14.4 Ω 240 V"; bare is VA.

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
    if "ohm" in given:
        return _of_ohms(text, given["ohm"], volts)
    return Nameplate(
        watts=given.get("watt"),
        amperes=given.get("ampere"),
        horsepower=given.get("horsepower"),
        volts=volts,
        active=any(spelled in ("w", "kw", "mw") or "watt" in spelled for _, spelled in found),
    )


def _of_ohms(text: str, ohms: float, volts: float | None) -> Nameplate:
    """An element by its resistance, with the watts that it takes where its volts are told."""
    if ohms <= 0:
        raise UnreadableError(text, NAMEPLATE, say("The resistance must be above zero."))
    found = Nameplate(volts=volts, active=True, ohms=ohms)
    return found.at(volts) if volts is not None else found
