"""What a family of codes must answer: the one face under which a part asks its job's code.

A part knows no article, no AWG and no mm². It asks how conductors are run (``wiring``, the entries
of a family's own vocabulary), what a circuit asks for (``ask``), for its sizing in numbers and in
words (``size``, ``report_sizing``), and how loads are added up (``calculated_load``). Figures come
from the edition that the context brings along. A package of ``rules`` exports its families as
``CODES``.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import import_module
from typing import TYPE_CHECKING, Any, ClassVar, Literal, Protocol

from voltaje.core.codes import Cell, Edition
from voltaje.core.codes.vocabulary import NO_SIZE, Size
from voltaje.core.electrical.connection import conductor_names
from voltaje.core.electrical.panel_layout import Numbering
from voltaje.core.electrical.systems import SYSTEMS, Connection, Piece, System
from voltaje.core.entries import Document, Entries
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import (
    Alternative,
    AxisMark,
    Findings,
    PulledConductor,
    Result,
    Rule,
    Section,
    Test,
    Text,
    Worksheet,
)
from voltaje.core.rules.common.runs import Strand
from voltaje.core.sizing import Preference

if TYPE_CHECKING:
    from voltaje.core.rules.context import Context

PACKAGES = ("north_america", "iec60364")


@dataclass(frozen=True, slots=True)
class Feed:
    """The electrical side of what is to be sized.

    ``lines`` ungrounded conductors, with or without a neutral; ``neutral_size`` where a rule fixes
    it, ``volts`` of the load. ``drop_amperes`` is what the drop is reckoned with (0: the load).
    ``passes_on`` says that circuits hang on it, which are left their own part of the total drop.
    ``sets`` in parallel are those that a raceway asks for (``None``: free).
    """

    connection: Connection
    volts: float
    lines: int
    has_neutral: bool
    power_factor: float = 1.0
    nonlinear: bool = False
    wye_pair: bool = False
    neutral_size: Size = NO_SIZE
    neutral_rules: tuple[Rule, ...] = ()
    ground_device: float = 0.0
    drop_topic: str = "drop_branch"
    drop_amperes: float = 0.0
    passes_on: bool = False
    sets: int | None = None

    def wires(self, system: System, line: str = "auto") -> tuple[str, ...]:
        """The names of the conductors that are pulled, on the ``line`` that the load stands on; the
        protective one left out."""
        return conductor_names(system, self.connection, self.has_neutral, line)


@dataclass(frozen=True, slots=True)
class CircuitLoadRequest:
    """What a circuit brings to its code: its use, its amperes and the share of them that is
    continuous; of a nameplate that says so the least ampacity and the largest device, A; the
    family's own name of a usual ``diversity`` that is asked for (empty: none); the least device
    that will do for another reason, A; whether the equipment may carry its rating continuously."""

    use: str
    amperes: float
    share: float = 0.0
    least_ampacity: float | None = None
    largest_device: float | None = None
    diversity: str = ""
    least_device: float = 0.0
    full_rated: bool = False


@dataclass(frozen=True, slots=True)
class CircuitLimit:
    """More than such a circuit may have: ``design`` A above ``most``, the rule's topic."""

    design: float
    most: float
    topic: str


@dataclass(frozen=True, slots=True)
class CircuitRequest:
    """What a circuit asks for: ``design`` A, the family's own ``need``, what is too much for one
    circuit, and the habit that its use asks for instead of the job's."""

    design: float
    need: Any
    over: CircuitLimit | None = None
    preference: Preference | None = None


class Sized(Protocol):
    """What every family's sizing has: the device in A, the percent that is lost (``None``: no
    length is known), and the drop from the supply that this use may have (``None``: the job's)."""

    @property
    def device(self) -> float: ...

    @property
    def lost_percent(self) -> float | None: ...

    @property
    def total_limit(self) -> Cell | None: ...

    @property
    def chosen(self) -> Alternative:
        """Device and conductor that were chosen, as they stand among their alternatives."""


@dataclass(frozen=True, slots=True)
class SizingReport:
    """A sizing in words: its alternatives, sections of the worksheet, findings, results, marks on
    the axis."""

    alternatives: tuple[Alternative, ...]
    sections: tuple[Section, ...]
    findings: Findings
    results: dict[str, Result]
    marks: tuple[AxisMark, ...]
    headline: str
    wires: tuple[PulledConductor, ...]
    tests: tuple[Test, ...] = ()


WiringWay = Literal["conduit", "cable", "armoured", "ground"]


@dataclass(frozen=True, slots=True)
class WiringMethod:
    """How conductors lie, in words that every family has its own for: in a conduit, a cable on a
    surface, an armoured one, or in the ground; made for so many °C."""

    way: WiringWay
    degrees: int


class Wiring(Entries):
    """How conductors are run, in a family's own vocabulary, and what the family says of it: the
    ``EARTH`` conductor by its name, the ``USES`` of a circuit that it knows (none: all), the usual
    ``DIVERSITY`` that can be asked for, whether its devices depend on a motor's starting, what
    stands on the ``CHART`` beside the door, the entries that name the ``METHOD`` and the
    ``INSULATION`` of conductors in a raceway (empty: none), and the one that fixes the
    ``CONDUCTOR`` by hand."""

    EARTH: ClassVar[str] = "protective conductor"
    USES: ClassVar[tuple[str, ...]] = ()
    DIVERSITY: ClassVar[Mapping[str, str]] = {}
    MOTOR_STARTING: ClassVar[bool] = False
    CHART: ClassVar[tuple[str, ...]] = ()
    METHOD: ClassVar[str] = ""
    INSULATION: ClassVar[str] = ""
    CONDUCTOR: ClassVar[str] = ""


class Code(Protocol):
    """One family. A plain sheet offers its ``systems``, the usual one first, and begins in its
    ``units``; ``marking`` are the colors of L1, L2, L3 and N where they are not the system's usual
    ones, ``numbering`` how a board's places are usually numbered. Every method may raise
    ``NotCoveredError`` for what it does not answer, and ``WrongEntryError`` at an entry."""

    family: str
    title: str
    design_label: Text
    wiring: type[Wiring]
    systems: tuple[str, ...]
    units: UnitSystem
    marking: tuple[str, ...]
    numbering: Numbering
    along: type[Entries]
    cable: type[Wiring]

    def __hash__(self) -> int:
        """A family stands once."""

    def strand(self, entries: Any, wires: int, three: bool, context: Context) -> Strand:
        """The conductors of a run of several segments as its ``along`` entries have them lie."""

    def wiring_method(self, document: Mapping[str, Any]) -> WiringMethod:
        """How a document's conductors lie, by the family's own entries."""

    def entries_of(self, method: WiringMethod) -> Document:
        """The entries that say so in this family's own vocabulary."""

    def sizes(self, edition: Edition) -> Sequence[Size]:
        """The sizes that conductors are made in, rising."""

    def square_mm(self, size: Size, edition: Edition) -> float:
        """The area of a conductor, mm²."""

    def outlet(self, edition: Edition) -> Cell:
        """What an outlet without a load of its own counts, VA."""

    def least_sign(self, edition: Edition) -> Cell | None:
        """What a sign outlet counts at least, VA; ``None``: its load."""

    def motor_current(
        self, horsepower: float, volts: float, three: bool, edition: Edition
    ) -> Cell | None:
        """Full-load A of a usual motor by its horsepower; ``None`` where the code has motors by
        their nameplates. Raises :class:`NotCoveredError` beyond its tables."""

    def ask(self, wants: CircuitLoadRequest, edition: Edition) -> CircuitRequest:
        """What a circuit asks for: its design current and what may protect it."""

    def report_design(
        self,
        wants: CircuitLoadRequest,
        asked: CircuitRequest,
        edition: Edition,
        worksheet: Worksheet,
    ) -> None:
        """The design current on the worksheet, where it is more than the load's."""

    def size(self, need: Any, feed: Feed, entries: Any, context: Context) -> Sized:
        """Device, conductors and what goes with them."""

    def report_sizing(self, sized: Any, entries: Any, context: Context) -> SizingReport:
        """Words for what :meth:`size` has found."""

    def calculated_load(
        self, pieces: Sequence[Piece], edition: Edition, occupancies: Sequence[str] = ()
    ) -> Any:
        """The calculated load of several pieces."""

    def report_demand(self, found: Any, pieces: Sequence[Piece], edition: Edition) -> Worksheet:
        """Words for what :meth:`calculated_load` has found."""


def usual_supplies(code: Code) -> tuple[System, System]:
    """What a family's supplies usually are: single-phase (with both of its lines where it has
    them), and three-phase with a neutral."""
    found = [SYSTEMS[name] for name in code.systems]
    single = [s for s in found if s.phases == 1 and s.has_neutral and not s.is_wye]
    single.sort(key=lambda system: not system.line_to_line)
    return single[0], next(s for s in found if s.phases == 3 and s.has_neutral and not s.high_leg)


_added: dict[str, Code] = {}


def register(code: Code) -> None:
    """Adds a family that stands elsewhere. Raises ``ValueError`` where its name is taken."""
    if code.family in _added or code.family in _known():
        raise ValueError(f"there is a family named {code.family} already")
    _added[code.family] = code


def forget(family: str) -> None:
    """Takes an added family away again."""
    _added.pop(family, None)


@cache
def _known() -> Mapping[str, Code]:
    found: dict[str, Code] = {}
    for package in PACKAGES:
        found |= import_module(f"voltaje.core.rules.{package}.code").CODES
    return found


def code_of(family: str) -> Code:
    """The family of that name. Raises ``KeyError``."""
    return _added.get(family) or _known()[family]


def families() -> tuple[Code, ...]:
    """All families, the first the one that a job begins with."""
    return (*_known().values(), *_added.values())
