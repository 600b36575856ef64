"""A problem of a seed: entries of a kind varied within what is usual, so that they hold."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from random import Random
from string import Formatter
from typing import Any, Literal

from voltaje.core import quantities
from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import SYSTEMS, System
from voltaje.core.entries import (
    Document,
    FieldSpec,
    Reads,
    ReadsNameplate,
    entry_words,
    fields,
    plain_words,
    reads_of,
    row_words,
)
from voltaje.core.kinds import Context, Kind, evaluate
from voltaje.core.practice.lines import asked_lines
from voltaje.core.report import Report, Text, say, told
from voltaje.core.rules.context import supplied
from voltaje.core.rules.interface import code_of

Level = Literal["guided", "own", "answer"]
LEVELS: Mapping[str, str] = {
    "guided": "guided: each line of the worksheet",
    "own": "own working: figures in any order",
    "answer": "answer only",
}
# no code figures: how entries are varied, and how often
STEPS = (0.5, 0.6, 0.75, 0.8, 1.0, 1.25, 1.5, 2.0)
HORSEPOWER = (1, 1.5, 2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50, 60, 75, 100)
KVA = (15, 25, 30, 37.5, 45, 50, 75, 100, 112.5, 150, 225, 300)
CHANGED, ADDED, TRIES, CANDIDATES = 0.3, 0.3, 24, 3
FEWEST_LINES = 2
MENDED = 4  # no code figure: how often what is wrong is left out
# what may be added to a task, in either unit system
MORE: Mapping[str, tuple[str, ...]] = {
    "length": ("60 ft", "95 ft", "140 ft", "220 ft", "18 m", "30 m", "45 m"),
    "ambient": ("35 °C", "40 °C", "45 °C"),
    "others": ("2", "3", "6"),
    "grouped_circuits": ("1", "2", "4"),
}
# entries that are a device of a rating that is made
RATED = ("rating", "device", "fuse", "main", "bus_rating", "device_ahead", "secondary_device")
# the entry of how conductors are run, and its usual choice where they lie outdoors
METHOD, BURIED = "wiring_method", ("PVC 40", "rigid PVC")
FIGURE = re.compile(r"^\s*(\d[\d.,/-]*)\s*(.*)$")
LEFT_ALONE = ("place", "hand", "measured", "usual")


@dataclass(frozen=True, slots=True)
class PracticeProblem:
    """A task: the kind, the entries as typed, what they are worked under, the report that is its
    key, the level, and how many rules it needs."""

    kind: Kind
    document: Document
    context: Context
    report: Report
    level: Level
    seed: str

    @property
    def rules(self) -> int:
        """How many different rules its lines read."""
        return len({rule.topic for one in asked_lines(self.report) for rule in one.rules})

    @property
    def given(self) -> tuple[tuple[str, str], ...]:
        """The task in labels and words: what is told, as on a work order."""
        specs = fields(self.kind.entries_in(self.context.code))
        found: list[tuple[str, str]] = []
        defaults = {spec.name: spec.default for spec in specs}
        specs = tuple(spec for spec in specs if _seen(spec, self.document, defaults))
        for spec in specs:
            value = self.document.get(spec.name)
            if spec.kind == "rows" and isinstance(value, list):
                found += [(told(spec.label), row_words(spec, row)) for row in value]
            elif spec.name != "accepted" and (text := entry_words(spec, value) or _chosen(spec)):
                found.append((told(spec.label), text))
        usual = [text for spec in specs if (text := _at_rest(spec, self.document))]
        if usual:
            found.append((str(say("As usual")), " · ".join(usual)))
        return tuple(found)

    @property
    def task(self) -> Text | None:
        """The task in a sentence; ``None`` where the kind has none for these entries."""
        specs = {spec.name: spec for spec in fields(self.kind.entries_in(self.context.code))}
        known: dict[str, object] = {"system": _volts_of(self.context.supply.system)}
        for name, spec in specs.items():
            text = plain_words(spec, self.document.get(name), self.context.units)
            chosen = str(self.document.get(name, "") or spec.default)
            if spec.choices and chosen in SYSTEMS:
                text = _volts_of(SYSTEMS[chosen])
            if text and _seen(spec, self.document, {n: one.default for n, one in specs.items()}):
                known[name] = text
        for task in self.kind.tasks:
            names = [name for _, name, _, _ in Formatter().parse(task.template) if name]
            if all(name in known for name in names):
                return say(task.template, **{name: known[name] for name in names})
        return None

    @property
    def asked(self) -> tuple[Text, ...]:
        """What is to be found."""
        results = (self.report.results.get(name) for name in self.report.answer)
        return tuple(_own(one.label) for one in results if one is not None)


def _volts_of(system: System) -> str:
    """A system by its voltages alone, as people name it."""
    return told(system.label).partition(",")[0]


def _own(label: Text | str) -> Text:
    return label if isinstance(label, Text) else say(label)


def _seen(spec: FieldSpec, document: Document, usual: Mapping[str, str]) -> bool:
    """Whether an entry is asked at all, by the choice that it hangs on."""
    if spec.when is None:
        return True
    name, values = spec.when
    return str(document.get(name, "") or usual.get(name, "")) in values


def _chosen(spec: FieldSpec) -> str:
    """The usual choice of an entry that is part of the task even where nothing is said of it."""
    apart = spec.group in (*LEFT_ALONE, "run") or spec.at_rest is not None or spec.seldom
    if apart or not spec.choices or spec.default in ("", "auto", "none", "job"):
        return ""
    return told(str(dict(spec.choices).get(spec.default, "")))


def _at_rest(spec: FieldSpec, document: Document) -> str:
    """How conductors are run where the task does not say: as the entry itself tells it."""
    text = str(document.get(spec.name, "") or "").strip()
    if spec.group != "run" or text not in ("", spec.default):
        return ""
    if spec.at_rest is not None:
        return told(spec.at_rest)
    label = dict(spec.choices).get(spec.default, "") if spec.choices else ""
    return told(str(label))


def problem(
    of: Kind,
    book: Edition,
    bases: Sequence[tuple[str, Document]],
    seed: str,
    level: Level = "guided",
    hard: bool = False,
) -> PracticeProblem | None:
    """The problem of a seed: one of ``bases`` (a system's id with entries) varied until it holds;
    ``hard`` takes the one of several that needs the most rules. ``None`` where nothing holds."""
    rng = Random(f"{of.name} {book.id} {seed}")  # noqa: S311 - problems, no secrets
    held: list[PracticeProblem] = []
    for _ in range(TRIES):
        system, base = rng.choice(list(bases))
        found = as_given(of, book, SYSTEMS[system], varied(of, book, base, rng), level, seed)
        if found is not None:
            held.append(found)
            if len(held) >= (CANDIDATES if hard else 1):
                break
    if not held:  # as it stands, where every change of it fails
        system, base = bases[0]
        found = as_given(of, book, SYSTEMS[system], dict(base), level, seed)
        held = [found] if found is not None else []
    return max(held, key=lambda one: one.rules, default=None)


def holding(
    of: Kind, book: Edition, bases: Sequence[tuple[Sequence[str], Document]]
) -> tuple[tuple[str, Document], ...]:
    """Those of the bases that give a problem, each on the first of its systems on which it does;
    else one of the entries' own examples."""
    plain = _of_examples(of, book)
    if code_of(book.family).units == "metric":
        bases = [(known, in_metres(of, book, given)) for known, given in bases]
    systems = list(dict.fromkeys(system for known, _ in bases for system in known))
    for tried in (bases, [(systems, plain)]):
        found = []
        for known, given in tried:
            for system in known:
                document = _without_wrong(of, book, system, given)
                if as_given(of, book, SYSTEMS[system], document, "guided", "") is not None:
                    found.append((system, document))
                    break
        if found:
            return tuple(found)
    return ()


def _without_wrong(of: Kind, book: Edition, system: str, given: Document) -> Document:
    """The entries without those that this code does not know, like sizes of another family."""
    code = code_of(book.family)
    context = Context(book, code.units, supplied(SYSTEMS[system], book))
    document = dict(given)
    for _ in range(MENDED):
        wrong = [problem.path for problem in evaluate(of, document, context).problems]
        for path in wrong:
            name, _, rest = path.partition(".")
            row, _, column = rest.partition(".")
            if column and isinstance(document.get(name), list):
                document[name] = [
                    {n: v for n, v in one.items() if n != column} if one.get("id") == row else one
                    for one in document[name]
                ]
            else:
                document.pop(name, None)
        if not wrong:
            break
    return document


def _of_examples(of: Kind, book: Edition) -> Document:
    """What entries that are asked for take as their example, a row of each list."""
    found: dict[str, Any] = {}
    for spec in fields(of.entries_in(code_of(book.family))):
        if spec.name == "accepted" or spec.group in LEFT_ALONE:
            continue
        if spec.kind == "rows":
            own = [dict(row) for row in spec.suggestions[:2]]
            own = own or [{c.name: c.example for c in spec.columns if c.example}]
            found[spec.name] = [{"id": f"r{n}", **row} for n, row in enumerate(own)]
        elif spec.required and spec.example:
            found[spec.name] = spec.example.split(",")[0].strip()
    return found


def as_given(
    of: Kind, book: Edition, system: System, document: Document, level: Level, seed: str
) -> PracticeProblem | None:
    """The problem of just these entries; ``None`` where they fail or ask too little."""
    code = code_of(book.family)
    context = Context(book, code.units, supplied(system, book))
    report = evaluate(of, document, context).report
    if report is None or report.missing or any(f.severity == "fail" for f in report.findings):
        return None
    if len(asked_lines(report)) < FEWEST_LINES:
        return None
    return PracticeProblem(of, document, context, report, level, seed)


def varied(of: Kind, book: Edition, base: Document, rng: Random) -> Document:
    """The entries with other figures and choices, and what may be added."""
    model = of.entries_in(code_of(book.family))
    metric = code_of(book.family).units == "metric"
    found: dict[str, Any] = dict(base)
    outdoors = any(s.name == METHOD and s.default in BURIED for s in fields(model))
    for spec in fields(model):
        value = found.get(spec.name)
        if spec.kind == "rows" and isinstance(value, list):
            found[spec.name] = [_varied_row(spec, row, rng) for row in value]
        elif spec.kind == "quantity" and value:
            reads = reads_of(model, spec.name)
            made = _ratings(book) if spec.name in RATED else ()
            found[spec.name] = _figure(str(value), reads, rng, made)
        elif spec.kind == "choice" and spec.group not in LEFT_ALONE and _may_change(spec, outdoors):
            if rng.random() < CHANGED / 2 and (value or spec.group in ("run", "load")):
                found[spec.name] = rng.choice([one for one, _ in spec.choices])
        elif spec.name in MORE and not value and rng.random() < ADDED:
            fitting = [m for m in MORE[spec.name] if not m.endswith(("ft", " m")) or
                       m.endswith(" m") == metric]  # fmt: skip
            found[spec.name] = rng.choice(fitting)
    return found


def _ratings(book: Edition) -> tuple[float, ...]:
    """The ratings of devices that are made."""
    return tuple(sorted(cell.value for cell in book.cells("standard_devices", "A").values()))


def _may_change(spec: FieldSpec, outdoors: bool) -> bool:
    """Sizes, devices and what is chosen by the program stay left to be found; what lies outdoors is
    no cable for indoors."""
    if outdoors and spec.name in (METHOD, "insulation"):
        return False
    return not any(value == "auto" for value, _ in spec.choices) and len(spec.choices) > 1


def in_metres(of: Kind, book: Edition, document: Document) -> Document:
    """The entries with lengths and areas in whole metres, as a plan of that country has them."""
    found: dict[str, Any] = dict(document)
    for spec in fields(of.entries_in(code_of(book.family))):
        value = found.get(spec.name)
        if spec.kind == "quantity" and value:
            found[spec.name] = _in_metres(str(value))
        elif spec.kind == "rows" and isinstance(value, list):
            names = [column.name for column in spec.columns if column.kind == "quantity"]
            found[spec.name] = [
                {n: _in_metres(str(text)) if n in names else text for n, text in row.items()}
                for row in value
            ]
    return found


def _in_metres(text: str) -> str:
    """Feet as whole metres, as a plan of that country has them."""
    match = FIGURE.match(text)
    if match is None or match.group(2).strip() not in ("ft", "ft²"):
        return text
    try:
        feet = quantities.read_number(match.group(1))
    except (ValueError, OverflowError):
        return text
    area = "²" in match.group(2)
    metres = feet * quantities.METRES_PER_FOOT ** (2 if area else 1)
    return f"{max(1, round(metres))} {'m²' if area else 'm'}"


def _varied_row(spec: FieldSpec, row: Mapping[str, Any], rng: Random) -> dict[str, Any]:
    found = dict(row)
    for column in spec.columns:
        value = found.get(column.name)
        if column.kind == "quantity" and value and rng.random() < 1 - CHANGED:
            found[column.name] = _figure(str(value), None, rng)
    return found


def _figure(
    text: str,
    reads: Reads | ReadsNameplate | None,
    rng: Random,
    ratings: Sequence[float] = (),
) -> str:
    """Another figure of the same unit: volts stay; horsepower, kVA and ``ratings`` as they are
    made, others by usual steps, to two digits."""
    match = FIGURE.match(text)
    if match is None:
        return text
    number, unit = match.groups()
    volts = isinstance(reads, Reads) and reads.dimension is quantities.VOLTAGE
    if volts or unit.startswith("V"):
        return text
    try:
        value = quantities.read_number(number)
    except (ValueError, OverflowError):
        return text
    if unit.startswith("hp") or (_in_horsepower(reads) and not unit):
        return f"{_beside(HORSEPOWER, value, rng):g} {unit or 'hp'}"
    if ratings:
        return f"{_beside(ratings, value, rng):g} {unit or 'A'}"
    if isinstance(reads, Reads) and reads.dimension is quantities.SIZE:
        return f"{_beside(KVA, value, rng):g} {unit}".strip()
    whole = "." not in number and value < 10
    changed = value * rng.choice(STEPS)
    changed = max(1, round(changed)) if whole else float(f"{changed:.2g}")
    return f"{changed:g} {unit}".strip()


def _in_horsepower(reads: Reads | ReadsNameplate | None) -> bool:
    return isinstance(reads, Reads) and reads.dimension is quantities.HORSEPOWER


def _beside(made: Sequence[float], value: float, rng: Random) -> float:
    """One of the sizes made, at most two steps away."""
    near = min(range(len(made)), key=lambda i: abs(made[i] - value))
    return made[min(max(0, near + rng.choice((-2, -1, 0, 1, 2))), len(made) - 1)]
