"""A calculation that shows itself: lines, the rules they follow, findings, results.

Values only, all frozen. Words are :class:`Text`: a template with named parameters, so that
a reader in another language can be given another template with the same figures.
"""

from __future__ import annotations

from cmath import phase
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from decimal import ROUND_HALF_UP, Decimal
from math import degrees, isfinite
from typing import Any, Literal

# a remark tells something and asks nothing: it leaves the part's status alone
Severity = Literal["fails", "look", "remark", "holds"]
LineKind = Literal["step", "sum", "result", "note"]

REL_TOLERANCE = 1e-9


def fits(load: float, capacity: float) -> bool:
    """Whether ``load`` is within ``capacity``, so that 40.0 A fits 40 A however it was reached."""
    return load <= capacity + REL_TOLERANCE * max(abs(load), abs(capacity))


@dataclass(frozen=True, slots=True)
class Text:
    """Words with the figures kept apart from them: ``Text("{n} dryers", {"n": 5})``."""

    template: str
    given: Mapping[str, object] = field(default_factory=dict)

    @property
    def params(self) -> dict[str, str]:
        """The figures as printed: grouped, without needless decimals."""
        return {name: figure(value) for name, value in self.given.items()}

    def __str__(self) -> str:
        return self.template.format(**self.params)


def say(template: str, **params: object) -> Text:
    """A :class:`Text`. Figures are printed when it is read: most texts of a job never are."""
    return Text(template, params)


NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


def words(count: float) -> str:
    """A small whole number in words, as a sentence has it: ``4.0`` → ``four``."""
    small = 0 <= count < len(NUMBERS) and count == int(count)
    return NUMBERS[int(count)] if small else f"{count:g}"


def figure(value: object, digits: int = 2) -> str:
    """A number as the trade writes it: ``18600.0`` → ``18,600``; ``0.75`` → ``0.75``."""
    if isinstance(value, bool) or not isinstance(value, int | float):
        return str(value)
    whole = float(value)
    if whole.is_integer() and abs(whole) < 1e15:
        return f"{int(whole):,}"
    # halves go up, as on paper; Python's own formatting takes them to the even figure
    exact = Decimal(repr(float(value))).quantize(Decimal(1).scaleb(-digits), ROUND_HALF_UP)
    text = f"{exact:,f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


@dataclass(frozen=True, slots=True)
class Rule:
    """Where a figure comes from: code edition, section or table, and the cell in it.

    ``topic`` is the stable name under which the edition knows the rule, whatever its number;
    ``amended`` says who changed the figure here and why, where a local amendment does.
    """

    edition: str
    topic: str
    number: str
    is_table: bool = False
    row: str = ""
    column: str = ""
    amended: str = ""

    @property
    def cite(self) -> str:
        return f"Table {self.number}" if self.is_table else self.number


@dataclass(frozen=True, slots=True)
class Line:
    """One line of the tape.

    ``expression`` has the numbers put in; ``rounding`` says what was rounded and why;
    ``entries`` are the paths of the entries that the value came from; ``flow`` names the
    band of the drawing that it belongs to.
    """

    name: str
    label: Text
    value: float | None = None
    unit: str = ""
    expression: str = ""
    rules: tuple[Rule, ...] = ()
    rounding: Text | None = None
    note: Text | None = None
    entries: tuple[str, ...] = ()
    kind: LineKind = "step"
    flow: str = ""

    def __post_init__(self) -> None:
        """Refuses what is no figure: it must not reach a page."""
        if self.value is not None and not isfinite(self.value):
            raise ArithmeticError(f"{self.name} is {self.value}")


@dataclass(frozen=True, slots=True)
class Section:
    """A run of lines under one heading."""

    name: str
    title: Text
    lines: tuple[Line, ...]


@dataclass(frozen=True, slots=True)
class Finding:
    """What is wrong or worth a look: by how much, under which rule, and what mends it."""

    severity: Severity
    name: str
    words: Text
    amount: str = ""
    remedy: Text | None = None
    rules: tuple[Rule, ...] = ()
    entries: tuple[str, ...] = ()


def conductor_figures(
    name: str, size: str, sets: int, metal: str, ampacity: float | None = None
) -> dict[str, Result]:
    """The figures of a conductor one by one, beside the text that holds them all: its size, how
    many sets, its metal and, where it is known, the ampacity of all sets in A."""
    found = {
        f"{name}_size": Result(size, "", say("Size")),
        f"{name}_sets": Result(sets, "", say("Sets")),
        f"{name}_metal": Result(metal, "", say("Metal")),
    }
    if ampacity is not None:
        found[f"{name}_ampacity"] = Result(ampacity, "A", say("Ampacity"))
    return found


@dataclass(frozen=True, slots=True)
class Result:
    """A figure under a stable name: ``amperes`` = 78 A."""

    value: float | str
    unit: str
    label: Text

    def __post_init__(self) -> None:
        """Refuses what is no figure: it must not reach a page."""
        if not isinstance(self.value, str) and not isfinite(self.value):
            raise ArithmeticError(f"{self.label} is {self.value}")


@dataclass(frozen=True, slots=True)
class Flow:
    """One band of the drawing: what is connected and what is left after the demand factor."""

    name: str
    label: Text
    connected: float
    calculated: float
    why: Text


@dataclass(frozen=True, slots=True)
class Alternative:
    """One of several ways to do it, with the reason for its verdict."""

    name: str
    label: Text
    value: float
    unit: str
    chosen: bool
    permitted: bool
    why: Text


@dataclass(frozen=True, slots=True)
class Rung:
    """One pair of the ladder: a device and the conductor behind it, with its verdict.

    ``device`` and ``ampacity`` in A, ``mass`` of all its conductors in kg for each metre, ``price``
    in the user's own money for each metre where prices are known. ``group`` tells the sides of a
    transformer apart.
    """

    device: float
    conductor: str
    size: str
    sets: int
    material: str
    ampacity: float
    passes: bool
    chosen: bool
    why: Text
    rules: tuple[Rule, ...]
    mass: float
    price: float | None = None
    group: str = ""


@dataclass(frozen=True, slots=True)
class Mark:
    """A point on the ampere axis: the load, the device, the conductor before and after each
    step. ``role`` is load, device, conductor or limit; ``governs`` marks what limits."""

    name: str
    label: Text
    amperes: float
    role: Literal["load", "device", "conductor", "limit"]
    governs: bool = False


@dataclass(frozen=True, slots=True)
class Wire:
    """A conductor as it is pulled: ``role`` L1, N or G, its color, its size in words."""

    role: str
    color: str
    size: str


@dataclass(frozen=True, slots=True)
class Point:
    """A place where an instrument can be put, and what it should show there.

    ``name`` is its address (``N:2`` the neutral's second piece, ``b1`` a load's volts), ``value``
    rms in ``unit``, ``phasor`` the fundamental, ``line`` the conductor, ``step`` the joint it
    belongs to, ``at`` the distance from the supply in m, ``nominal`` what it would be without
    loss, ``role`` what it is for: amperes of a conductor or load, volts at a load or a joint;
    ``waves`` the phasors of every order. A sheet that begins with nominal volts has in ``on_site``
    what is left of ``value`` behind the rest of its job (0: the same).
    """

    name: str
    label: Text
    value: float
    unit: Literal["V", "A"]
    phasor: complex = 0j
    line: str = ""
    step: int = 0
    at: float = 0.0
    nominal: float = 0.0
    role: Literal["conductor", "load", "volts", "joint"] = "conductor"
    open: bool = False
    waves: tuple[tuple[int, complex], ...] = ()
    on_site: float = 0.0


@dataclass(frozen=True, slots=True)
class Worked:
    """A part, worked: everything that a page, a print or another program shows of it."""

    kind: str
    edition: str
    sections: tuple[Section, ...]
    results: Mapping[str, Result]
    findings: tuple[Finding, ...] = ()
    alternatives: tuple[Alternative, ...] = ()
    flows: Mapping[str, tuple[Flow, ...]] = field(default_factory=dict)
    answer: tuple[str, ...] = ()
    headline: str = ""
    ladder: tuple[Rung, ...] = ()
    marks: tuple[Mark, ...] = ()
    wires: tuple[Wire, ...] = ()
    points: tuple[Point, ...] = ()

    def section(self, name: str) -> Section:
        """The section of that name. Raises ``KeyError`` if the part has none."""
        for section in self.sections:
            if section.name == name:
                return section
        raise KeyError(name)

    def line(self, name: str) -> Line:
        """The first line of that name. Raises ``KeyError`` if there is none."""
        for section in self.sections:
            for line in section.lines:
                if line.name == name:
                    return line
        raise KeyError(name)

    def value(self, name: str) -> float:
        """The number of a result. Raises ``KeyError`` or, for a result in words, ``TypeError``."""
        value = self.results[name].value
        if isinstance(value, str):
            raise TypeError(f"{name} is given in words: {value}")
        return value

    @property
    def status(self) -> Severity:
        """The worst of the findings."""
        return worst(finding.severity for finding in self.findings)

    def to_json(self) -> dict[str, Any]:
        """Plain dicts, lists, strings and numbers, ready for ``json.dumps``."""
        return {
            "kind": self.kind,
            "code": self.edition,
            "status": self.status,
            "results": {
                name: {"value": r.value, "unit": r.unit, "label": str(r.label)}
                for name, r in self.results.items()
            },
            "sections": [
                {
                    "name": section.name,
                    "title": str(section.title),
                    "lines": [_line_json(line) for line in section.lines],
                }
                for section in self.sections
            ],
            "findings": [
                {
                    "severity": f.severity,
                    "name": f.name,
                    "words": str(f.words),
                    "amount": f.amount,
                    "remedy": str(f.remedy) if f.remedy else "",
                    "rules": [_rule_json(rule) for rule in f.rules],
                    "entries": list(f.entries),
                }
                for f in self.findings
            ],
            "alternatives": [
                {
                    "name": a.name,
                    "label": str(a.label),
                    "value": a.value,
                    "unit": a.unit,
                    "chosen": a.chosen,
                    "permitted": a.permitted,
                    "why": str(a.why),
                }
                for a in self.alternatives
            ],
            "ladder": [
                {
                    "device": rung.device,
                    "conductor": rung.conductor,
                    "ampacity": rung.ampacity,
                    "passes": rung.passes,
                    "chosen": rung.chosen,
                    "why": str(rung.why),
                    "rules": [_rule_json(rule) for rule in rung.rules],
                    "kg_per_m": round(rung.mass, 4),
                    "price_per_m": rung.price,
                    "group": rung.group,
                }
                for rung in self.ladder
            ],
            "wires": [
                {"role": wire.role, "color": wire.color, "size": wire.size} for wire in self.wires
            ],
            "points": [
                {
                    "name": point.name,
                    "label": str(point.label),
                    "value": point.value,
                    "unit": point.unit,
                    "degrees": degrees(phase(point.phasor)) if point.phasor else 0.0,
                    "open": point.open,
                }
                for point in self.points
            ],
        }


def worst(severities: Iterable[Severity]) -> Severity:
    """``fails`` before ``look`` before ``holds``; ``holds`` when there is none. A remark holds."""
    order: tuple[Severity, ...] = ("fails", "look", "holds")
    given = ("holds" if severity == "remark" else severity for severity in severities)
    return min(given, key=order.index, default="holds")


def _rule_json(rule: Rule) -> dict[str, Any]:
    return {
        "code": rule.edition,
        "topic": rule.topic,
        "cite": rule.cite,
        "row": rule.row,
        "column": rule.column,
        "amended": rule.amended,
    }


def _line_json(line: Line) -> dict[str, Any]:
    return {
        "name": line.name,
        "label": str(line.label),
        "expression": line.expression,
        "value": line.value,
        "unit": line.unit,
        "rules": [_rule_json(rule) for rule in line.rules],
        "rounding": str(line.rounding) if line.rounding else "",
        "note": str(line.note) if line.note else "",
        "entries": list(line.entries),
        "kind": line.kind,
    }
