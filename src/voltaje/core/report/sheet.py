"""What a worksheet is made of: lines and the rules they follow, findings, results, alternatives,
marks on the ampere axis, points for an instrument. Values only, all frozen."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from math import isfinite
from typing import Literal, NewType

from voltaje.core.report.text import Text, say

# a remark tells something and asks nothing: it leaves the part's status alone
# ``incomplete``: a result that it needs is missing, so nothing is decided
Severity = Literal["fail", "incomplete", "check", "remark", "pass"]
LineKind = Literal["step", "sum", "result", "note"]
# where an instrument is put: ``N:2`` the neutral's second piece, ``b1`` a load's volts, ``L1-N``
PointKey = NewType("PointKey", str)


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
class WorksheetLine:
    """One line of the worksheet.

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
    lines: tuple[WorksheetLine, ...]


@dataclass(frozen=True, slots=True)
class Offer:
    """A part that would mend what was found, put ahead of this one: its kind, the words by which it
    is offered, its entries, those of this part that change with it, and what it needs besides where
    it is worked by itself."""

    kind: str
    words: Text
    entries: tuple[tuple[str, str], ...] = ()
    own: tuple[tuple[str, str], ...] = ()
    alone: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, slots=True)
class Change:
    """Entries that would mend what was found, as texts, and the words by which that is offered:
    entries of the part itself, or of another ``part`` by its id."""

    words: Text
    entries: tuple[tuple[str, str], ...]
    part: str = ""


@dataclass(frozen=True, slots=True)
class Acceptance:
    """Who has accepted a check, and why."""

    by: str
    reason: str


@dataclass(frozen=True, slots=True)
class Finding:
    """What is wrong or worth a look: by how much, under which rule, what mends it, and the part or
    the change of its own entries that would, where one would. A check that was ``accepted`` is a
    remark."""

    severity: Severity
    name: str
    words: Text
    amount: str = ""
    remedy: Text | None = None
    rules: tuple[Rule, ...] = ()
    entries: tuple[str, ...] = ()
    offer: Offer | None = None
    change: Change | None = None
    accepted: Acceptance | None = None


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
    """A figure under a stable name: ``amperes`` = 78 A. ``at_least`` says that it is a lower bound,
    a result that it needs being missing."""

    value: float | str
    unit: str
    label: Text
    at_least: bool = False

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
class MethodAlternative:
    """One of several ways to do it, with the reason for its verdict."""

    name: str
    label: Text
    value: float
    unit: str
    chosen: bool
    permitted: bool
    why: Text


@dataclass(frozen=True, slots=True)
class Alternative:
    """A device and the conductor behind it, with its verdict.

    ``device`` and ``ampacity`` in A, ``mass`` of all its conductors in kg for each metre, ``price``
    in the user's own money for each metre where prices are known. ``group`` tells the sides of a
    transformer apart; ``check`` is the stable name of the check that decides.
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
    check: str = ""


@dataclass(frozen=True, slots=True)
class AxisMark:
    """A point on the ampere axis: the load, the device, the conductor before and after each
    step. ``role`` is load, device, conductor or limit; ``governs`` marks what limits."""

    name: str
    label: Text
    amperes: float
    role: Literal["load", "device", "conductor", "limit"]
    governs: bool = False


@dataclass(frozen=True, slots=True)
class PulledConductor:
    """A conductor as it is pulled: ``role`` L1, N or G, its color, its size in words."""

    role: str
    color: str
    size: str


@dataclass(frozen=True, slots=True)
class InstrumentPoint:
    """A place where an instrument can be put, and what it should show there.

    ``name`` is its address (``N:2`` the neutral's second piece, ``b1`` a load's volts), ``value``
    rms in ``unit``, ``phasor`` the fundamental, ``line`` the conductor, ``step`` the joint it
    belongs to, ``at`` the distance from the supply in m, ``nominal`` what it would be without
    loss, ``role`` what it is for: amperes of a conductor or load, volts at a load or a joint;
    ``waves`` the phasors of every order. A sheet that begins with nominal volts has in ``on_site``
    what is left of ``value`` behind the rest of its job (0: the same).
    """

    name: PointKey
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
class Test:
    """What a tester is asked at a part with its supply off or loaded by the test alone: the
    ``value`` that is calculated (0: none) and the ``limit`` with its rule, at ``most`` or at
    least."""

    __test__ = False  # no test case of pytest's

    name: PointKey
    label: Text
    unit: Literal["Ω", "MΩ", "ms"]
    value: float
    limit: float
    most: bool
    rule: Rule


@dataclass(frozen=True, slots=True)
class Brief:
    """What is told of a part where another one is looked at: its one-line answer, the findings that
    deserve a look (neither pass nor remark), whether a result is missing that it needs."""

    headline: str
    findings: tuple[Finding, ...] = ()
    incomplete: bool = False

    @property
    def status(self) -> Severity:
        """As :attr:`Report.status`."""
        if self.incomplete:
            return "incomplete"
        return worst(finding.severity for finding in self.findings)

    def adding(self, *found: Finding | None) -> Brief:
        """The same with further findings, of those that deserve a look."""
        more = tuple(one for one in found if one is not None and one.severity in LOOKED_AT)
        return replace(self, findings=(*self.findings, *more)) if more else self


LOOKED_AT = ("fail", "incomplete", "check")


@dataclass(frozen=True, slots=True)
class Report:
    """A part, worked: everything that a page, a print or another program shows of it. ``drawn`` is
    what its drawing needs besides, typed by its kind; ``missing`` names the parts whose result it
    needs and does not have: it is incomplete then, and no figure of it is an answer."""

    kind: str
    edition: str
    sections: tuple[Section, ...]
    results: Mapping[str, Result]
    findings: tuple[Finding, ...] = ()
    methods: tuple[MethodAlternative, ...] = ()
    flows: Mapping[str, tuple[Flow, ...]] = field(default_factory=dict)
    answer: tuple[str, ...] = ()
    headline: str = ""
    alternatives: tuple[Alternative, ...] = ()
    marks: tuple[AxisMark, ...] = ()
    wires: tuple[PulledConductor, ...] = ()
    points: tuple[InstrumentPoint, ...] = ()
    tests: tuple[Test, ...] = ()
    drawn: object | None = None
    missing: tuple[str, ...] = ()

    def section(self, name: str) -> Section:
        """The section of that name. Raises ``KeyError`` if the part has none."""
        for section in self.sections:
            if section.name == name:
                return section
        raise KeyError(name)

    def line(self, name: str) -> WorksheetLine:
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
    def brief(self) -> Brief:
        """What is told of it where another part is looked at."""
        return Brief(self.headline, (), bool(self.missing)).adding(*self.findings)

    @property
    def status(self) -> Severity:
        """The worst of the findings; ``incomplete`` where a result is missing that it needs."""
        if self.missing:
            return "incomplete"
        return worst(finding.severity for finding in self.findings)

    @property
    def ranked(self) -> list[Finding]:
        """The findings, the worst first, what only tells something last."""
        return sorted(self.findings, key=lambda finding: RANKS.index(finding.severity))


# the worst first
RANKS: tuple[Severity, ...] = ("fail", "incomplete", "check", "pass", "remark")


def worst(severities: Iterable[Severity]) -> Severity:
    """``fail`` before ``incomplete`` before ``check`` before ``pass``; ``pass`` when there is
    none. A remark is a pass."""
    given = ("pass" if severity == "remark" else severity for severity in severities)
    return min(given, key=RANKS.index, default="pass")
