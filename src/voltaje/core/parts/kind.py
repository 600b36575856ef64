"""The face that every kind of part has, and the list of kinds."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from importlib import import_module
from typing import Any

from voltaje.core import faults
from voltaje.core.codes import Edition, NotCoveredError, edition
from voltaje.core.electrical.systems import SYSTEMS, Demand, SupplyPoint
from voltaje.core.entries import Entries, Problem, WrongEntryError, parse, unusual
from voltaje.core.rules.drop import Limits
from voltaje.core.rules.ladder import Shop
from voltaje.core.units import UnitSystem
from voltaje.core.worksheet import Finding, Worked, say

NAMES = (
    "supply",
    "service",
    "transformer",
    "feeder",
    "board",
    "run",
    "circuit",
    "neutral",
    "cooking",
    "motor",
    "dwelling",
    "amperes",
)


@dataclass(frozen=True, slots=True)
class Context:
    """What a part is worked under: edition, units shown, its supply point, demand from below."""

    edition: Edition = field(default_factory=lambda: edition("nec-2020"))
    units: UnitSystem = "us"
    supply: SupplyPoint = field(default_factory=lambda: SupplyPoint(SYSTEMS["1ph-120/240"]))
    below: Demand = field(default_factory=Demand)
    shop: Shop = field(default_factory=Shop)
    limits: Limits = field(default_factory=Limits)


@dataclass(frozen=True, slots=True)
class Piecewise:
    """Conductors up to a joint: Ω of each line and of the neutral; ``loads`` is how many of the
    part's own pieces, in their order, stand at the joint."""

    line: complex
    neutral: complex
    loads: int = 0


@dataclass(frozen=True, slots=True)
class Bank:
    """A transformer: its kVA, impedance in percent (0: not known), connection, secondary volts at
    no load, and the conductors behind it."""

    kva: float
    percent: float
    connection: str
    volts: float
    behind: Piecewise


@dataclass(frozen=True, slots=True)
class Brings:
    """What a part puts between its supply point and those below it."""

    joints: tuple[Piecewise, ...] = ()
    bank: Bank | None = None


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of part: its entries, its work, what it hands up and what it hands down.

    ``lost_out`` gives the percent of the volts that its own conductors lose, for parts below that
    are sized within what the total leaves.
    ``fault_out`` gives the fault current, A, at the far end of what it brings (conductors, a
    transformer); without it the fault passes unchanged. ``uses_fault`` says that its work depends
    on the fault current that is available to it. ``brings`` gives its conductors or transformer
    for the volts of the job; without it the volts pass unchanged. ``quick_only`` is a sheet that
    no job holds.
    """

    name: str
    label: str
    subtitle: str
    entries: type[Entries]
    work: Callable[[Any, Context], Worked]
    hand_up: Callable[[Any, Worked, Context], Demand]
    hand_down: Callable[[Any, SupplyPoint], SupplyPoint]
    groups: Mapping[str, str] = field(default_factory=dict)
    holds_parts: bool = False
    fault_out: Callable[[Any, Worked, Context], float] | None = None
    uses_fault: bool = False
    lost_out: Callable[[Any, Worked, Context], float] | None = None
    brings: Callable[[Any, Worked, Context], Brings] | None = None
    quick_only: bool = False


@dataclass(frozen=True, slots=True)
class Evaluated:
    """A part's document, worked: ``worked`` is ``None`` when there are problems."""

    entries: Any
    worked: Worked | None
    problems: tuple[Problem, ...]


@dataclass(frozen=True, slots=True)
class PartInput:
    """A part as a job holds it: its id, its kind, the part above it, its document."""

    id: str
    kind: str
    parent: str | None
    document: Mapping[str, Any]
    name: str = ""


@cache
def kind(name: str) -> Kind:
    """The kind of that name. Raises ``KeyError``."""
    if name not in NAMES:
        raise KeyError(name)
    found: Kind = import_module(f"voltaje.core.parts.{name}").KIND
    return found


def kinds() -> tuple[Kind, ...]:
    """All kinds, in the order in which a job uses them."""
    return tuple(kind(name) for name in NAMES)


def job_kinds() -> tuple[Kind, ...]:
    """The kinds that a job may hold."""
    return tuple(item for item in kinds() if not item.quick_only)


def evaluate(of: Kind, document: Mapping[str, Any], context: Context) -> Evaluated:
    """Reads and works a document. Never raises for bad input: the problems come back."""
    parsed = parse(of.entries, document, context.units)
    if parsed.problems:
        return Evaluated(None, None, parsed.problems)
    try:
        worked = of.work(parsed.entries, context)
    except WrongEntryError as error:
        return Evaluated(parsed.entries, None, (error.problem,))
    except NotCoveredError as error:
        return Evaluated(parsed.entries, None, (Problem("", str(error)),))
    except Exception as error:  # a fault of ours stays this part's own line
        return faulty(parsed.entries, error, f"working a {of.name}")
    odd = tuple(
        Finding("look", "unusual", say("{words}", words=words), "", say("{words}", words=meant),
                entries=(path,))
        for path, words, meant in unusual(parsed.entries, context.units)
    )  # fmt: skip
    if odd:
        worked = replace(worked, findings=(*worked.findings, *odd))
    return Evaluated(parsed.entries, worked, ())


def faulty(entries: Any, error: Exception, what: str) -> Evaluated:
    """A part that a fault of the program has kept from being worked, with the fault's number."""
    return Evaluated(entries, None, (Problem("", faults.words(faults.note(error, what))),))
