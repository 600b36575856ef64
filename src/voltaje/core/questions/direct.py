"""Questions that a table answers by itself, without a sheet.

A cell by its address, what a size carries, grounding conductors, how many conductors a raceway
takes, the next standard device, one unit in another."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import floor

from voltaje.core import quantities
from voltaje.core.codes import Cell, Edition, NotCoveredError, edition, editions
from voltaje.core.codes.table import Table
from voltaje.core.codes.vocabulary import Size
from voltaje.core.questions.reading import AskedQuantities, read_figures, words_of
from voltaje.core.report import Rule, Text, figure, fits, say
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.grounding import (
    bonding_size,
    electrode_size,
    equipment_ground,
)
from voltaje.core.rules.north_america.wiring import circular_mils

USUAL = "nec-2020"
METRIC = "bs7671-2018"
METALS = ("copper", "aluminum")
MOST_CELLS = 8


@dataclass(frozen=True, slots=True)
class DirectAnswer:
    """What a table answers: the ``title`` of the question as it was understood, the ``figures`` in
    words with the ``values`` that they tell, the ``rules`` that they come from, what was
    ``assumed``; ``used`` are the parts of the question that it took, ``topic`` the table to show
    with the ``row``."""

    title: Text
    figures: tuple[Text, ...]
    values: tuple[float | str, ...]
    rules: tuple[Rule, ...]
    assumed: tuple[Text, ...]
    used: tuple[str, ...]
    edition: str
    topic: str = ""
    row: str = ""


def direct(asked: str) -> list[DirectAnswer]:
    """What the tables answer to a question; nothing where it asks for something else."""
    text = " ".join(asked.lower().split())
    read, words = read_figures(text), frozenset(words_of(text))
    for answer in ANSWERS:
        found = list(answer(text, read, words))
        if found:
            return found
    return []


def _american(read: AskedQuantities) -> Edition:
    """The edition that is meant, where AWG sizes are asked for."""
    book = edition(read.code or USUAL)
    return book if book.family in ("nec", "cec") else edition(USUAL)


def _code_assumed(read: AskedQuantities, book: Edition) -> tuple[Text, ...]:
    return () if read.code and not read.hinted else (say("no code named"),)


# a cell by its address ----------------------------------------------------------------------------

NUMBERED = re.compile(
    r"(?<![\w.])(?:table|tab\.?|t)?\s*(\d{3}\.\d{1,3}(?:\s?\([a-z0-9]+\))*|\d[a-z]\d(?:[a-z]\d?)?)"
    r"(?![\w.])|\b(?:table|tab\.?)\s+(\d{1,2}[a-z]?\d?(?:\.\d)?)(?![\w.])"
)


def _plain(number: str) -> str:
    return re.sub(r"\s|table", "", number.lower())


def _cell(text: str, read: AskedQuantities, words: frozenset[str]) -> Iterator[DirectAnswer]:
    found = NUMBERED.search(text)
    if found is None:
        return
    number, rest = _plain(found[1] or found[2]), text[: found.start()] + " " + text[found.end() :]
    books = [edition(read.code)] if read.code else _in_order()
    for book in books:
        for topic in book.topics():
            if not book.has_table(topic) or number not in _numbers(book.text(topic).number):
                continue
            answer = _in_table(book, book.table(topic), rest, found.group().strip())
            if answer is not None:
                yield answer
                return


def _in_order() -> list[Edition]:
    """All editions, the usual one first, then the newest of each family."""
    return sorted(editions(), key=lambda book: (book.id != USUAL, -book.year))


def _numbers(number: Text | str) -> set[str]:
    """The numbers that a table goes by: ``2 and 4`` are two, ``5 of chapter 9`` is 5."""
    plain = str(number).split(" of chapter")[0]
    found = {_plain(part) for part in re.split(r"\s+and\s+|,\s*|\s(?=\d)", plain)}
    return {*found, _plain(plain)} - {""}


TOKENS = re.compile(r"\d+-\d+/\d+|\d+/\d+|\d+(?:\.\d+)?|[a-z²]+")
NO_COLUMN = {"awg", "kcmil", "mcm", "mm", "mm²", "a", "amp", "amps", "v", "volt", "volts", "hp",
             "c",
             "deg", "degree", "degrees", "column", "table", "in", "for", "of", "the", "at", "and",
             "from", "what", "is", "cell", "row", "w", "kw", "size"}  # fmt: skip
SPELLED = {"cu": "copper", "al": "aluminum", "aluminium": "aluminum"}


def _in_table(book: Edition, table: Table, rest: str, address: str) -> DirectAnswer | None:
    """The cells of a table that the rest of a question names: its row, the columns that have all
    of its further words; ``None`` where it names no row."""
    tokens = [SPELLED.get(token, token) for token in TOKENS.findall(rest)]
    row, taken = _row(table, rest, tokens)
    if row is None:
        return None
    known = {part for column in table.columns for part in _parts(column)}
    left = [
        t for i, t in enumerate(tokens) if i not in taken and (t in known or t not in NO_COLUMN)
    ]
    named = {
        column: sum(token in _parts(column) for token in left)
        for column, value in table.rows[row].items()
        if value
    }
    most = max(named.values(), default=0)
    # of those that have as many of the words those that have no further ones: 460 V, not 460 V of
    # a synchronous motor
    least = min((len(_parts(c)) for c, n in named.items() if n == most and most), default=0)
    chosen = [
        column
        for column, count in named.items()
        if count == most and (not most or len(_parts(column)) == least)
    ][:MOST_CELLS]
    used = [address, *(t for i, t in enumerate(tokens) if i in taken or t in known)]
    values, figures, rules = [], [], []
    for column in chosen:
        value = table.rows[row][column]
        figures.append(_cell_words(table, column, value))
        values.append(_number(value))
        rules.append(book.rule(table.topic, row, column))
    if not figures:
        return None
    title = say(
        "{code} {table}, {key} {row}",
        code=book.title,
        table=rules[0].cite,
        key=say(table.key),
        row=row,
    )
    return DirectAnswer(
        title,
        tuple(figures),
        tuple(values),
        tuple(rules),
        (),
        (*used, *_spelled(rest)),
        book.id,
        table.topic,
        row,
    )


def _cell_words(table: Table, column: str, value: str) -> Text:
    """A cell with its column and its unit, where the table has one unit."""
    unit = table.meta.get("unit", "").split(",")[0]
    shown = f"{value} {unit}" if 0 < len(unit) <= 3 and isinstance(_number(value), float) else value
    if len(table.columns) == 1:
        return say("{value}", value=shown)
    method, _, loaded = column.partition(" | ")
    if loaded:
        wires = loaded.rpartition(" | ")[2]
        return say(
            "method {method}, {wires} loaded: {value}", method=method, wires=wires, value=shown
        )
    return say("{column}: {value}", column=say(column), value=shown)


def _spelled(rest: str) -> list[str]:
    return [token for token in TOKENS.findall(rest) if token in SPELLED]


def _number(value: str) -> float | str:
    try:
        return float(value)
    except ValueError:
        return value


def _parts(column: str) -> set[str]:
    return {part for part in re.split(r"[\s|]+", column.lower()) if part}


def _row(table: Table, rest: str, tokens: Sequence[str]) -> tuple[str | None, set[int]]:
    """The row that a question names, and the places of the words that name it."""
    joined = rest.replace("mm2", "mm²")
    if table.key in ("size", "rating"):
        size = re.search(r"([1-4]/0|\d+(?:\.\d)?)\s*(?:awg|kcmil|mcm|mm²|sq\s?mm|a\b|ga\b)", joined)
        if size and size[1] in table.rows:
            return size[1], {i for i, t in enumerate(tokens) if t == size[1]}
    for index, token in enumerate(tokens):
        if token in table.rows:
            return token, {index}
    by_name = {row.lower(): row for row in table.rows if not row[:1].isdigit()}
    for name, row in sorted(by_name.items(), key=lambda item: -len(item[0])):
        if name and re.search(rf"\b{re.escape(name)}\b", rest):
            return row, {i for i, t in enumerate(tokens) if t in _parts(name)}
    return _span_row(table, tokens)


def _span_row(table: Table, tokens: Sequence[str]) -> tuple[str | None, set[int]]:
    """The row of a span that a number falls into: ``4-6``, or the first that reaches up to it."""
    for index, token in enumerate(tokens):
        if not re.fullmatch(r"\d+(?:\.\d+)?", token):
            continue
        value = float(token)
        for row in table.rows:
            span = re.fullmatch(r"(\d+)-(\d+)", row)
            if span and float(span[1]) <= value <= float(span[2]):
                return row, {index}
        reaching = table.key.startswith(("to ", "device", "rating"))
        numbers = [row for row in table.rows if re.fullmatch(r"\d+(?:\.\d+)?", row)]
        if reaching and len(numbers) == len(table.rows):
            above = next((row for row in numbers if fits(value, float(row))), None)
            return above, {index} if above else set()
    return None, set()


# what a size carries ------------------------------------------------------------------------------

CARRIES = frozenset(("ampacity", "carry", "carries", "capacity", "ampacities", "rated"))
DEGREES = re.compile(r"\b(60|70|75|90)\s*(?:°\s*c?|deg(?:rees)?|c\b|column)?(?![\w/.])")
PLAIN = re.compile(
    r"^(?:#?[\w/]+\s*(?:awg|kcmil|mcm|ga|gauge|mm²|mm2|sq ?mm)?)\s*(?:cu|al|copper|alumini?um)?"
    r"\s*(?:(?:60|70|75|90)\s*(?:°?c|deg\w*|column)?)?\s*(?:ampacity|current)?$"
)


def _capacity(text: str, read: AskedQuantities, words: frozenset[str]) -> Iterator[DirectAnswer]:
    if not read.size or read.amperes or read.length or read.power or read.horsepower:
        return
    run = any(pattern.search(text) for pattern in _RUNS.values())
    if not words & CARRIES and not PLAIN.match(text) and not run:
        return
    if read.size.endswith("mm²"):
        yield from _metric_capacity(text, read)
        return
    book = _american(read)
    if read.size not in book.rows("ampacity"):
        return
    degrees = [d for d in DEGREES.findall(text.replace(read.size, " ", 1)) if d != "70"]
    metals = (read.material,) if read.material else METALS
    cells: list[tuple[str, str, Cell]] = []
    for metal in metals:
        for column in degrees or ("60", "75", "90"):
            cell = book.cell_or_none("ampacity", read.size, f"{metal} {column}")
            if cell is not None:
                cells.append((metal, column, cell))
    if not cells:
        return
    yield DirectAnswer(
        say("Ampacity of {size}", size=_size_label(read.size)),
        tuple(
            say(
                "{metal}, {degrees} °C: {amperes} A",
                metal=say(metal),
                degrees=column,
                amperes=cell.value,
            )
            for metal, column, cell in cells
        ),
        tuple(cell.value for *_, cell in cells),
        tuple(cell.rule for *_, cell in cells),
        (
            say("30 °C, no more than three conductors that carry current"),
            *_code_assumed(read, book),
        ),
        (read.size, *degrees, *_METAL_WORDS),
        book.id,
        "ampacity",
        read.size,
    )


_METAL_WORDS = ("cu", "al", "copper", "aluminum", "aluminium")
_RUNS = {
    "ampacity_flat": re.compile(r"\bflat\b|twin|t&e|t \+ e|t\+e"),
    "ampacity_armoured_90": re.compile(r"armou?red|\bswa\b"),
    "ampacity_multi": re.compile(r"multi"),
    "ampacity_single": re.compile(r"single"),
}


def _metric_capacity(text: str, read: AskedQuantities) -> Iterator[DirectAnswer]:
    """What a metric size carries, by method and number of loaded conductors."""
    book = edition(read.code or METRIC)
    if not book.has_table("ampacity_flat"):
        book = edition(METRIC)
    size = read.size.removesuffix(" mm²")
    asked = [topic for topic, pattern in _RUNS.items() if pattern.search(text)]
    for topic in asked or ("ampacity_flat", "ampacity_single", "ampacity_armoured_90"):
        name = f"{topic}_al" if read.material == "aluminum" else topic
        if not book.has_table(name) or size not in book.rows(name):
            continue
        row = book.table(name).rows[size]
        cells = [(column, book.cell(name, size, column)) for column, value in row.items() if value][
            :MOST_CELLS
        ]
        yield DirectAnswer(
            say("{size} mm², {table}", size=size, table=say(book.table(name).meta["title"])),
            tuple(
                say(
                    "method {method}, {wires} loaded: {amperes} A",
                    method=column.split(" | ")[0],
                    wires=column.split(" | ")[-1],
                    amperes=cell.value,
                )
                for column, cell in cells
            ),
            tuple(cell.value for _, cell in cells),
            (cells[0][1].rule,),
            (say("before the rating factors"), *_code_assumed(read, book)),
            (size, f"{size}mm²", f"{size}mm2", *_METAL_WORDS),
            book.id,
            name,
            size,
        )


def _size_label(size: str) -> str:
    return f"{size} kcmil" if size.isdigit() and int(size) >= 250 else f"{size} AWG"


# grounding ----------------------------------------------------------------------------------------

GROUNDS = frozenset(("ground", "grounding", "egc", "bond", "earthing", "earth"))
ELECTRODES = frozenset(("electrode", "gec", "rod", "ufer", "electrodes"))
CAPS = {"rod": r"\brods?\b", "concrete-encased": r"\bufer\b|concrete", "water pipe": r"water pipe"}
SETS = re.compile(r"\b(\d)\s*(?:sets?|runs?|parallel)\b|\b(\d)\s*[x×]\s*(?=#?\d)")


def _mils(text: str, read: AskedQuantities, book: Edition) -> tuple[float, int]:
    """Circular mils of the conductors of all sets, and how many sets there are."""
    found = SETS.search(text)
    sets = int(found[1] or found[2]) if found else 1
    return circular_mils(book).get(Size(read.size), 0.0) * sets, sets


def _ground(text: str, read: AskedQuantities, words: frozenset[str]) -> Iterator[DirectAnswer]:
    if not read.amperes or not words & GROUNDS or words & ELECTRODES:
        return
    book, amperes = _american(read), float(read.amperes.removesuffix(" A").replace(",", "."))
    metals = (read.material,) if read.material else METALS
    try:
        found = [(metal, equipment_ground(amperes, metal, book)) for metal in metals]
    except NotCoveredError:
        return
    yield DirectAnswer(
        say("Equipment grounding conductor behind {device} A", device=figure(amperes)),
        tuple(say("{size}", size=label(one.size, metal)) for metal, one in found),
        tuple(label(one.size, metal) for metal, one in found),
        tuple(rule for _, one in found for rule in one.rules),
        (say("the line conductors are no larger than they need to be"), *_code_assumed(read, book)),
        (read.amperes, *_METAL_WORDS),
        book.id,
        "equipment_grounding",
        found[0][1].rules[0].row,
    )


def _electrode(text: str, read: AskedQuantities, words: frozenset[str]) -> Iterator[DirectAnswer]:
    if not read.size or not words & ELECTRODES or read.size.endswith("mm²"):
        return
    book, metal = _american(read), read.material or "copper"
    mils, sets = _mils(text, read, book)
    kind: str = next((name for name, p in CAPS.items() if re.search(p, text)), "water pipe")
    if not mils:
        return
    if book.has_table("electrode_caps") and kind not in book.rows("electrode_caps"):
        kind = next(
            (row for row in book.rows("electrode_caps") if row.startswith(kind[:5])), "water pipe"
        )
    found = electrode_size(mils, metal, kind, book)
    shown = _size_label(read.size) if sets == 1 else f"{sets} × {_size_label(read.size)}"
    words_of_it: list[Text] = [say("{size}", size=label(found.size, metal))]
    if found.shown is not None:
        words_of_it.append(found.shown)
    assumed = () if read.material else (say("copper"),)
    yield DirectAnswer(
        say("Grounding electrode conductor for {size}, {kind}", size=shown, kind=say(kind)),
        tuple(words_of_it),
        (label(found.size, metal),),
        found.rules,
        (*assumed, *_code_assumed(read, book)),
        (read.size, str(sets), *_METAL_WORDS),
        book.id,
        "electrode_conductor" if book.has_table("electrode_conductor") else "",
    )


def _bonding(text: str, read: AskedQuantities, words: frozenset[str]) -> Iterator[DirectAnswer]:
    if (
        not read.size
        or not {"bonding", "jumper", "ssbj", "mbj"} & words
        or read.size.endswith("mm²")
    ):
        return
    book, metal = _american(read), read.material or "copper"
    mils, sets = _mils(text, read, book)
    if not mils or not book.has_table("grounded_conductor"):
        return
    found = bonding_size(mils, metal, book)
    shown = _size_label(read.size) if sets == 1 else f"{sets} × {_size_label(read.size)}"
    words_of_it: list[Text] = [say("{size}", size=label(found.size, metal))]
    if found.shown is not None:
        words_of_it.append(found.shown)
    assumed = () if read.material else (say("copper"),)
    yield DirectAnswer(
        say("Bonding jumper or grounded conductor for {size}, at least", size=shown),
        tuple(words_of_it),
        (label(found.size, metal),),
        found.rules,
        (*assumed, say("all sets in one raceway"), *_code_assumed(read, book)),
        (read.size, str(sets), *_METAL_WORDS),
        book.id,
        "grounded_conductor",
    )


# raceways, devices --------------------------------------------------------------------------------

RACEWAY = re.compile(
    r"(\d-\d/\d|\d/\d|\d)\s*(?:\"|in(?:ch)?(?:es)?)?\s*(emt|rmc|pvc(?:\s*(?:40|80))?|conduit)"
)
COVERS = ("THHN", "XHHW", "THW")


def _fill(text: str, read: AskedQuantities, words: frozenset[str]) -> Iterator[DirectAnswer]:
    """How many conductors of a size a raceway takes: chapter 9, tables 1, 4 and 5."""
    pipe = RACEWAY.search(text)
    size = re.search(
        r"#?\b(\d{1,4}|[1-4]/0)\s*(?:awg|kcmil|mcm|ga\b|gauge|thhn|thw|xhhw|wires?\b|cu\b)", text
    )
    if pipe is None or size is None:
        return
    book = _american(read)
    kind = pipe[2].upper().replace("CONDUIT", "EMT")
    kind = "PVC 40" if kind == "PVC" else " ".join(kind.split())
    cover = next((one for one in COVERS if one.lower() in text), COVERS[0])
    column = f"{cover} in²"
    if column not in book.columns("conductor_areas") or size[1] not in book.rows("conductor_areas"):
        return
    trade = next(
        (
            row
            for row in book.rows("raceways")
            if pipe[1] in (row, row.partition("(")[2].split(" ")[0])
        ),
        "",
    )
    inside = book.cell_or_none("raceways", trade, f"{kind} in²") if trade else None
    each = book.cell_or_none("conductor_areas", size[1], column)
    if inside is None or each is None:
        return
    count, share = 0, book.cell("raceway_fill", "3+", "percent")
    up = book.limit("fill_round_up") if book.has_limit("fill_round_up") else None
    for row, least in (("3+", 3), ("2", 2), ("1", 1)):
        share = book.cell("raceway_fill", row, "percent")
        exact = inside.value * share.value / 100 / each.value
        count = floor(exact + 1e-9)
        if up is not None and fits(up.value, exact - count):
            count += 1
        if count >= least:
            count = count if row == "3+" else least
            break
    assumed = [] if cover.lower() in text else [say("{insulation} insulation", insulation=cover)]
    if pipe[2] == "conduit":
        assumed.append(say("EMT"))
    yield DirectAnswer(
        say(
            "{size} {cover} in {trade} {raceway}",
            size=_size_label(size[1]),
            cover=cover,
            trade=trade,
            raceway=kind,
        ),
        (
            say("{count} conductors", count=count),
            say(
                "{percent} % of {inside} in² ÷ {each} in²",
                percent=share.value,
                inside=figure(inside.value, 3),
                each=figure(each.value, 4),
            ),
        ),
        (float(count),),
        (share.rule, inside.rule, each.rule),
        (*assumed, *_code_assumed(read, book)),
        (pipe.group(), size.group(), cover.lower()),
        book.id,
        "raceways",
        trade,
    )


NEXT = frozenset(("next", "standard", "smallest"))
DEVICES = frozenset(("breaker", "breakers", "fuse", "fuses", "device", "devices", "ocpd"))


def _next_device(text: str, read: AskedQuantities, words: frozenset[str]) -> Iterator[DirectAnswer]:
    if not (words & NEXT and words & DEVICES and read.amperes):
        return
    book = edition(read.code or USUAL)
    amperes = float(read.amperes.removesuffix(" A").replace(",", "."))
    cells = book.cells("standard_devices", "A").values()
    above = next((cell for cell in cells if fits(amperes, cell.value)), None)
    if above is None:
        return
    below = [cell for cell in cells if cell.value < above.value and not fits(amperes, cell.value)]
    yield DirectAnswer(
        say("Standard device for {amperes} A", amperes=figure(amperes)),
        (
            say("{device} A", device=above.value),
            *([say("below it {device} A", device=below[-1].value)] if below else []),
        ),
        (above.value,),
        (above.rule,),
        _code_assumed(read, book),
        (read.amperes,),
        book.id,
        "standard_devices",
    )


def _receptacles(text: str, read: AskedQuantities, words: frozenset[str]) -> Iterator[DirectAnswer]:
    """How many receptacles a circuit takes, each as the code counts it."""
    asked = re.search(r"\bhow many (?:duplex )?(?:outlets|receptacles|plugs|sockets)\b", text)
    book = _american(read)
    if not asked or not read.amperes or not book.has_limit("receptacle_load"):
        return
    each, volts = book.limit("receptacle_load"), read.volts or 120
    amperes = float(read.amperes.removesuffix(" A").replace(",", "."))
    count = floor(amperes * volts / each.value + 1e-9)
    assumed = () if read.volts else (say("{volts} V", volts=volts),)
    yield DirectAnswer(
        say("Receptacles on a circuit of {device} A", device=figure(amperes)),
        (
            say("{count} receptacles", count=count),
            say(
                "{device} A × {volts} V ÷ {each} VA",
                device=figure(amperes),
                volts=volts,
                each=each.value,
            ),
        ),
        (float(count),),
        (each.rule,),
        (*assumed, *_code_assumed(read, book)),
        (read.amperes, f"{volts}"),
        book.id,
    )


# units --------------------------------------------------------------------------------------------

FOOT = quantities.METRES_PER_FOOT
MM2_PER_MIL = 0.00050670748  # of a circular mil: π/4 × (0.0254 mm)²
UNITS = {
    "hp": ("power", quantities.FACTORS["horsepower"][1]),
    "kw": ("power", 1000.0), "w": ("power", 1.0),
    "mw": ("power", 1e6), "btu/h": ("power", 0.29307107),
    "ft": ("length", FOOT), "feet": ("length", FOOT),
    "foot": ("length", FOOT), "m": ("length", 1.0), "metres": ("length", 1.0),
    "meters": ("length", 1.0), "cm": ("length", 0.01), "mm": ("length", 0.001),
    "in": ("length", FOOT / 12), "inches": ("length", FOOT / 12),
    "yd": ("length", 3 * FOOT),
    "ft²": ("area", FOOT**2), "sq ft": ("area", FOOT**2),
    "sqft": ("area", FOOT**2), "ft2": ("area", FOOT**2),
    "m²": ("area", 1.0), "m2": ("area", 1.0), "sq m": ("area", 1.0),
    "lb": ("mass", 1 / quantities.POUNDS_PER_KG), "kg": ("mass", 1.0),
    "kcmil": ("section", 1000 * MM2_PER_MIL), "mcm": ("section", 1000 * MM2_PER_MIL),
    "mm²": ("section", 1.0), "mm2": ("section", 1.0), "cmil": ("section", MM2_PER_MIL),
}  # fmt: skip
SHOWN = {"hp": "hp", "kw": "kW", "w": "W", "mw": "MW", "btu/h": "BTU/h", "mm2": "mm²", "ft2": "ft²",
         "m2": "m²", "sq ft": "ft²", "sqft": "ft²", "sq m": "m²", "feet": "ft", "foot": "ft",
         "metres": "m", "meters": "m", "inches": "in", "mcm": "kcmil"}  # fmt: skip
_UNIT = "|".join(sorted(map(re.escape, UNITS), key=len, reverse=True))
CONVERT = re.compile(
    r"^(?:what is |how (?:much|many \w+) (?:is|are) |convert )?"
    rf"(\d+(?:[ -]\d+/\d+|/\d+|[.,]\d+)?)\s*({_UNIT})\s*"
    rf"(?:to|in|into|as|=)\s*({_UNIT}|awg)\s*\??$"
)
GAUGE = re.compile(
    r"^#?(\d{1,2}|[1-4]/0)\s*(?:awg|ga|gauge)\s*(?:to|in|into|as|=)\s*(mm²|mm2|kcmil|mcm|cmil)\s*\??$"
)
HEAT = re.compile(r"^(-?\d+(?:\.\d+)?)\s*°?\s*([cf])\s*(?:to|in|into|=)\s*°?\s*([cf])\s*\??$")
FORTY = 32.0


def _convert(text: str, read: AskedQuantities, words: frozenset[str]) -> Iterator[DirectAnswer]:
    """One unit in another; a conductor's gauge in mm²."""
    if heat := HEAT.match(text):
        value = float(heat[1])
        if heat[2] == heat[3]:
            return
        out = (value - FORTY) / 1.8 if heat[2] == "f" else value * 1.8 + FORTY
        yield _converted(heat[1], f"°{heat[2].upper()}", out, f"°{heat[3].upper()}")
        return
    if gauge := GAUGE.match(text):
        mils = circular_mils(edition(USUAL)).get(Size(gauge[1]))
        if mils:
            _, factor = UNITS[gauge[2]]
            rule = edition(USUAL).rule("conductor_properties", gauge[1], "circular mils")
            unit = SHOWN.get(gauge[2], gauge[2])
            yield _converted(gauge[1], "AWG", mils * MM2_PER_MIL / factor, unit, rule)
        return
    found = CONVERT.match(text)
    if found is None:
        return
    value = quantities.read_number(found[1].replace(",", "."))
    kind, factor = UNITS[found[2]]
    shown = SHOWN.get(found[2], found[2])
    if found[3] == "awg":
        if kind == "section":
            yield from _as_gauge(found[1], value * factor, shown)
        return
    other, by = UNITS[found[3]]
    if other == kind and found[2] != found[3]:
        yield _converted(found[1], shown, value * factor / by, SHOWN.get(found[3], found[3]))


def _converted(
    typed: str, unit: str, value: float, to: str, rule: Rule | None = None
) -> DirectAnswer:
    digits = 4 if abs(value) < 1 else 3 if abs(value) < 100 else 1
    answer = say("{value} {unit}", value=figure(value, digits), unit=to)
    title = say("{value} {unit} in {other}", value=typed, unit=unit, other=to)
    return DirectAnswer(
        title,
        (answer,),
        (value,),
        (rule,) if rule else (),
        (),
        (typed, unit.lower(), to.lower()),
        USUAL,
    )


def _as_gauge(typed: str, area: float, unit: str) -> Iterator[DirectAnswer]:
    """The gauges on either side of an area in mm²: no gauge is a metric size."""
    sizes = [(size, mils * MM2_PER_MIL) for size, mils in circular_mils(edition(USUAL)).items()]
    above = next(((s, a) for s, a in sizes if a >= area * (1 - 1e-9)), None)
    below = next(((s, a) for s, a in reversed(sizes) if a < area * (1 - 1e-9)), None)
    figures = []
    for words, one in ((say("at least as large"), above), (say("smaller"), below)):
        if one is not None:
            figures.append(
                say(
                    "{words}: {size}, {area} mm²",
                    words=words,
                    size=_size_label(str(one[0])),
                    area=figure(one[1], 2),
                )
            )
    if figures:
        title = say("{value} {unit} in {other}", value=typed, unit=unit, other="AWG")
        rules = (edition(USUAL).rule("conductor_properties"),)
        values = tuple(str(one[0]) for one in (above, below) if one)
        yield DirectAnswer(
            title, tuple(figures), values, rules, (), (typed, "awg", unit.lower()), USUAL
        )


# in the order in which they are asked; the first that answers is taken
ANSWERS = (
    _cell,
    _convert,
    _electrode,
    _bonding,
    _ground,
    _fill,
    _receptacles,
    _next_device,
    _capacity,
)
