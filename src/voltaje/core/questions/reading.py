"""What stands in a question: quantities with their units, words, the code that is meant.

The grammar is data: the words in ``words.csv``, the shapes of figures here."""

from __future__ import annotations

import csv
import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from voltaje.core.codes import editions


@dataclass(frozen=True, slots=True)
class AskedQuantities:
    """Quantities that stand in a question, as typed; empty where there is none. ``apparent`` is
    the power where it is given in VA, ``converts`` that a conversion is asked for, ``to_volts``
    the second of two voltages, ``code`` the edition that is named."""

    horsepower: str = ""
    power: str = ""
    apparent: str = ""
    length: str = ""
    amperes: str = ""
    volts: int = 0
    percent: str = ""
    phases: str = ""
    converts: bool = False
    to_volts: int = 0
    size: str = ""
    material: str = ""
    code: str = ""
    area: str = ""
    # figures of one unit in a row: ``50, 40 and 30 hp``
    several: tuple[str, ...] = ()
    # what stands beside its power in a dwelling: ``range 12 kW``
    named: tuple[tuple[str, str], ...] = ()
    # what the question says of the code by its words and units where none is named
    hinted: bool = False
    fuses: bool = False
    # of an air conditioner's nameplate: its minimum circuit ampacity and its largest device
    minimum: str = ""
    maximum: str = ""


WORDS = Path(__file__).parent / "words.csv"


@cache
def said(kind: str) -> dict[str, str]:
    """The words of a kind with what each means, by ``words.csv``: ``silent`` say nothing of a task,
    ``family`` name things as one family of codes calls them, ``metal`` and ``unit`` themselves."""
    with WORDS.open(encoding="utf-8", newline="") as file:
        return {row["word"]: row["means"] for row in csv.DictReader(file) if row["kind"] == kind}


HORSEPOWER = re.compile(r"(\d+(?:[ -]\d+/\d+|/\d+|\.\d+)?)\s*hp\b")
NUMBER = r"(\d+(?:[.,]\d+)?)\s*"
POWER = re.compile(NUMBER + r"(mva|kva|va|mw|kw|watts?|w)\b")
SPELLED = {
    "kw": "kW",
    "mw": "MW",
    "kva": "kVA",
    "mva": "MVA",
    "va": "VA",
    "w": "W",
    "watt": "W",
    "watts": "W",
}
APPARENT = ("VA", "kVA", "MVA")
# "kva to amps": a conversion is asked for, whatever the load
CONVERTS = re.compile(
    r"\b(?:kva|kw|watts?|va|hp|horsepower|amps?|amperes)\b.*\b(?:to|into|in)\b\s+"
    r"(?:kva|kw|watts?|va|hp|horsepower|amps?|amperes)\b"
)
# "do I need three phase": the supply itself is asked for
PHASES_ASKED = re.compile(r"\b(?:need|or|want)\s+(?:3|three|single)[ -]?(?:ph|phase)\b")
LIST = re.compile(
    r"((?:\d+(?:[ -]\d+/\d+|/\d+|\.\d+)?\s*(?:,\s*and|,|and|&|\+|;)\s*)+"
    r"\d+(?:[ -]\d+/\d+|/\d+|\.\d+)?)\s*(hp|kva|kw|amps?|a)\b"
)
MEMBER = re.compile(r"\d+(?:[ -]\d+/\d+|/\d+|\.\d+)?")
# what a dwelling has, by the words that stand before or behind its power
HOUSEHOLD = {
    "range": r"range|stove|cooker", "oven": r"oven", "cooktop": r"cooktop|hob",
    "dryer": r"(?:clothes )?dryer", "water heater": r"water heater|hot water(?: tank)?|immersion",
    "air conditioner": r"air conditioner|air conditioning|a/c|ac unit",
    "heat": r"(?:electric )?heat(?:ing|ers?)?|furnace|baseboards?",
    "vehicle": r"(?:ev|car|vehicle) charg(?:er|ing)", "dishwasher": r"dishwasher",
    "disposer": r"disposer|disposal",
    "shower": r"shower", "hot tub": r"hot tub|spa",
}  # fmt: skip
LOAD_OF = r"\d+(?:\.\d+)?\s*(?:kva|kw|va|w)\b"
MINIMUM = re.compile(r"\b(?:mca|minimum circuit ampacity)\s*(?:of|is|:|=)?\s*(\d+(?:\.\d+)?)")
MAXIMUM = re.compile(
    r"\b(?:mocp|mop|max(?:imum)?)\s*(?:fuse|breaker|device|ocpd|overcurrent)?\s*(?:of|is|:|=)?\s*(\d+)\b(?!\s*%)"
)
FEET = re.compile(NUMBER + r"(?:ft|feet|foot|')(?![a-z])")
METRES = re.compile(NUMBER + r"(?:m|metres?|meters?)\b")
AMPERES = re.compile(NUMBER + r"(?:a|amps?|amperes?)\b")
VOLTS = re.compile(r"\b(\d{2,5})(?:\s*y?\s*/\s*\d{2,3})?\s*(?:v|volts?)\b")
# volts without their unit: what stands on nameplates and names systems
BARE_VOLTS = re.compile(
    r"(?<![\d.,/#-])(115|120|200|208|220|230|240|277|347|380|400|415|440|460|480|575|600)"
    r"(?=y?/\d{2,3}\b|\s*$|\s*[,;?]|\s*\.(?!\d)|\s+(?!(?:a|amps?|amperes?|ampere|w|watts?|kw|kva|va|mva|hp|ft"
    r"|feet|foot|m|metres?|meters?|mm2?|mm²|kcmil|mcm|awg|sq|square|percent|outlets?)\b|[%'²]))"
)
TO_VOLTS = re.compile(
    r"(?:\b(?:to|into|-)\s+|(?<=\b480 )|(?<=\b600 )|(?<=\b240 )|(?<=\b480v )|(?<=\b600v ))"
    r"(\d{3,5})\b(?!\s*(?:a|amps?|amperes?|w|kw|kva|va|hp|ft|feet|m|metres?)\b)"
)
AREA = re.compile(NUMBER + r"(sq\.? ?ft|square feet|ft2|ft²|sq\.? ?m|square metres?|m2|m²)(?!\w)")
SIZE = re.compile(
    r"#\s?(\d{1,2})\b|\b(\d{1,2}|[1-4]/0)\s*(?:awg|ga|gauge)\b|\b(\d{3,4})\s*(?:kcmil|mcm)\b"
    r"|(?<![\d/-])([1-4]/0)\b|\b(\d{1,3}(?:\.\d)?)\s*(?:mm2|mm²|sq ?mm|square mm)"
    r"|(?<![\d.,/#-])(14|12|10|8|6|4|3|2|1)(?=\s*$|\s+(?:cu|al|copper|aluminum|aluminium)\b)"
)
METRIC_GROUP = 5  # of SIZE
AWG_SIZE = "1/0"  # where it is made, sizes are AWG; Canada's lengths are metres all the same
METALS = {"aluminum": r"\b(?:al|aluminum|aluminium)\b", "copper": r"\b(?:cu|copper)\b"}
SECTION = re.compile(r"(?<![\d.])((\d{2,3})\.\d{1,3}|\d{1,2}-\d{3,4})((?:\s?\(\w+\))*)")
# a figure with its unit, for what no entry takes
FIGURE = re.compile(
    r"(?<![a-z\d])#?\d+(?:[.,/-]\d+)*(?:y?/\d+)?\s*(?:%|'|²|(?:percent|mm²|mm2|kva|mva|va|kw|mw|w"
    r"|watts?|hp|amps?|amperes?|a|volts?|v|ft|feet|foot|sq ft|sq m|m|metres?|meters?|awg|kcmil|mcm)"
    r"(?![a-z]))?",
    re.IGNORECASE,
)
PERCENT = re.compile(NUMBER + r"(?:%|percent)")
SINGLE_PHASE = re.compile(r"\b(?:1|one|single)[ -]?(?:ph|phase)\b")
THREE = re.compile(r"\b(?:3|three)[ -]?(?:ph|phase)\b|\d{3}\s*y\s*/\s*\d{3}")
# a nameplate's volts stand for a system's: 460 V for 480 V, 230 V for 240 V, 415 V for 400 V
NAMEPLATE = (0.91, 1.045)
NAMEPLATE_VOLTS = {
    110, 115, 120, 125, 200, 208, 220, 230, 240, 250, 265, 277, 347, 380, 400, 415, 440, 460, 480,
    550, 575, 600,
}  # fmt: skip


def words_of(text: str) -> list[str]:
    """The words of a question in small letters that say something, sections of a code as well."""
    words = [w for w in re.findall(r"[a-z/]+", text) if w not in said("silent") and len(w) > 1]
    for number, article, _ in SECTION.findall(text):
        words += [number, *([article] if article else [])]
    if PHASES_ASKED.search(text):
        words += ["enough", "which"]
    return words


def read_figures(text: str) -> AskedQuantities:
    """The quantities that stand in a question, in small letters."""

    def first(pattern: re.Pattern[str], shape: str) -> str:
        found = pattern.search(text)
        return shape.format(*found.groups()) if found else ""

    volts, power = VOLTS.search(text) or BARE_VOLTS.search(text), POWER.search(text)
    to_volts = TO_VOLTS.search(text)
    if volts and to_volts and volts.start(1) == to_volts.start(1):  # the first has no unit
        volts = BARE_VOLTS.search(text)
    size = SIZE.search(text)
    several = listed(text)
    code = _code(text)
    hint = "" if code else _hint(text)
    unit = SPELLED[power[2]] if power else ""
    shown = f"{power[1]} {unit}" if power else ""
    return AskedQuantities(
        first(HORSEPOWER, "{0} hp"),
        shown,
        shown if unit in APPARENT else "",
        first(FEET, "{0} ft") or first(METRES, "{0} m"),
        first(AMPERES, "{0} A"),
        int(volts[1]) if volts else 0,
        first(PERCENT, "{0}"),
        "1" if SINGLE_PHASE.search(text) else "3" if THREE.search(text) else "",
        bool(CONVERTS.search(text)),
        int(to_volts[1]) if to_volts else 0,
        _size(size),
        next((metal for metal, known in METALS.items() if re.search(known, text)), ""),
        code or hint,
        first(AREA, "{0} {1}"),
        tuple(f"{one} {_UNITS.get(several[2], several[2])}" for one in MEMBER.findall(several[1]))
        if several
        else (),
        _named(text),
        bool(hint),
        bool(re.search(r"\bfus(?:e|es|ed|ing)\b", text)),
        first(MINIMUM, "{0} A"),
        first(MAXIMUM, "{0} A"),
    )


_UNITS = {"kw": "kW", "kva": "kVA", "a": "A", "amp": "A", "amps": "A"}


ANY_NAME = re.compile(rf"\b(?:{'|'.join(HOUSEHOLD.values())})\b")


def listed(text: str) -> re.Match[str] | None:
    """Figures of one unit in a row, like ``50, 40 and 30 hp``; two voltages before a current, or
    one
    before a motor's power, are no list."""
    found = LIST.search(text)
    if found is None:
        return None
    volts = any(
        one.isdigit() and int(one) in NAMEPLATE_VOLTS for one in MEMBER.findall(found[1])[:-1]
    )
    joined = re.search(r"and|&|\+", found[1])
    amperes = found[2].startswith("a")
    return None if (volts or amperes) and not (joined and not volts) else found


def _named(text: str) -> tuple[tuple[str, str], ...]:
    """What a dwelling has with its power, in the order of the question: ``range 12 kW, dryer 5 kW``
    or ``12 kW range, 5 kW dryer``, as the first of them has it."""
    name, load = ANY_NAME.search(text), re.search(LOAD_OF, text)
    if name is None or load is None:
        return ()
    behind = name.start() < load.start()
    found: list[tuple[int, str, str]] = []
    left = text
    for known, words in HOUSEHOLD.items():
        shape = rf"\b(?:{words})\s*(?:of\s+|at\s+|:\s*)?({LOAD_OF})"
        if not behind:
            shape = rf"({LOAD_OF})\s*(?:electric\s+)?(?:{words})\b"
        for match in re.finditer(shape, left):
            number, unit = re.findall(r"[\d.]+|[a-z]+", match[1])[:2]
            found.append((match.start(), known, f"{number} {SPELLED[unit]}"))
            # the heater of a water heater is no heating besides
            left = left[: match.start()] + " " * len(match.group()) + left[match.end() :]
    return tuple((known, load) for _, known, load in sorted(found))


# volts between the lines of supplies that only countries with metric sizes have
METRIC_VOLTS = ("380", "400", "415", "690")


def _hint(text: str) -> str:
    """The edition that units, volts and words of the trade point to, where no code is named."""
    if re.search(r"\bawg\b|\bkcmil\b|\bhp\b", text):
        return ""
    words, volts = said("family"), VOLTS.search(text)  # volts that are called so
    named = next((words[word] for word in re.findall(r"[a-z\d]+", text) if word in words), "")
    metric = re.search(r"\d\s*(?:mm²|mm2|sq ?mm)", text) or (volts and volts[1] in METRIC_VOLTS)
    return named or ("bs7671-2018" if metric else "")


def _size(found: re.Match[str] | None) -> str:
    """The conductor that is said; mm² with their unit."""
    if found is None:
        return ""
    metric = found[METRIC_GROUP]
    return f"{metric} mm²" if metric else next(filter(None, found.groups()))


def _code(text: str) -> str:
    """The newest edition of the code that is named, or the edition itself; else none."""
    words, plain = set(re.findall(r"[a-z/]+\d*", text)), text.replace(" ", "")
    for code in reversed(editions()):
        if code.title.lower().replace(" ", "") in plain or words & set(code.asked):
            return code.id
        if any(word in plain for word in code.asked if word[-1].isdigit()):
            return code.id
    return ""
