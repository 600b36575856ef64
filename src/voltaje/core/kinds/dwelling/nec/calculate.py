"""Puts a dwelling together in numbers: the methods side by side, the service, the neutral."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.codes import NotCoveredError
from voltaje.core.electrical.loads import Household
from voltaje.core.electrical.systems import DWELLING_SYSTEMS, Demand, Piece, System
from voltaje.core.kinds.dwelling.nec import neutral, optional, service, standard
from voltaje.core.kinds.dwelling.nec.entries import DwellingEntries
from voltaje.core.kinds.dwelling.nec.loads import Loads, collect
from voltaje.core.kinds.dwelling.nec.neutral import Neutral, PerLine
from voltaje.core.kinds.dwelling.nec.optional import Existing, Optional
from voltaje.core.kinds.dwelling.nec.service import Service
from voltaje.core.kinds.dwelling.nec.standard import Standard
from voltaje.core.kinds.dwelling.rows import read_load
from voltaje.core.kinds.interface import Outcome
from voltaje.core.quantities import Nameplate
from voltaje.core.report import say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.overcurrent import whole_amperes
from voltaje.core.rules.north_america.wiring import Installation, counted_conductors


@dataclass(frozen=True, slots=True)
class Measured:
    """An existing service by its measured maximum demand (220.87), VA: the demand, what is ``new``,
    and the percent that the demand counts at."""

    demand: float
    new: float
    percent: float

    @property
    def calculated(self) -> float:
        """The calculated load, VA."""
        return self.demand * self.percent / 100 + self.new


@dataclass(frozen=True, slots=True)
class Methods:
    """A calculated dwelling: its loads, both methods, the same as it ``exists`` with load added
    (``None``: it is new), the neutral and the lines."""

    loads: Loads
    standard: Standard
    optional: Optional
    existing: Existing | None
    neutral: Neutral
    per_line: PerLine


@dataclass(frozen=True, slots=True, kw_only=True)
class DwellingOutcome(Outcome):
    """The ``main`` way of calculating, its VA connected and ``calculated``; the service; the
    amperes of the neutral, whole (0: not known)."""

    main: str
    connected: float
    calculated: float
    service: Service
    neutral_amperes: int
    methods: Methods | None = None
    measured: Measured | None = None


def calculate(entries: DwellingEntries, context: Context) -> DwellingOutcome:
    """A dwelling. Raises :class:`NotCoveredError` where the edition has no answer."""
    system = context.supply.system
    if system.id not in DWELLING_SYSTEMS:
        raise NotCoveredError(
            context.edition.title, say("a dwelling on {label}", label=say(system.label))
        )
    if entries.calculation == "measured":
        return _measured(entries, system, context)
    return _calculated(entries, system, context)


def _measured(entries: DwellingEntries, system: System, context: Context) -> DwellingOutcome:
    """Highest measured demand × 125 % plus the new load, against the service that is there."""
    plate = entries.measured_demand or Nameplate(watts=0.0)
    demand, _, _ = read_load(plate, "two-line", system, context.edition)
    new, _, _ = read_load(
        entries.new_load or Nameplate(watts=0.0), "two-line", system, context.edition
    )
    found = Measured(demand, new, context.edition.value("measured_margin"))
    judged = service.judged(found.calculated, entries.existing_service or 0.0, system)
    return DwellingOutcome(
        amperes=judged.amperes,
        main="measured",
        connected=demand + new,
        calculated=found.calculated,
        service=judged,
        neutral_amperes=0,
        measured=found,
    )


def _calculated(entries: DwellingEntries, system: System, context: Context) -> DwellingOutcome:
    edition = context.edition
    loads = collect(entries, system, edition)
    by_standard = standard.calculate(entries, loads, edition)
    by_optional = optional.calculate(entries, loads, edition)
    existing = None
    main: Standard | Optional | Existing = by_standard
    if entries.calculation == "added":
        main = existing = optional.existing(entries, loads, edition)
    elif entries.method == "optional":
        main = by_optional
    on_neutral, per_line = neutral.calculate(loads, by_standard, system, edition)
    if existing is not None:
        rating = entries.existing_service or 0.0
        sized = service.judged(existing.calculated, rating, system)
    else:
        sized = service.size(
            main.calculated,
            entries.method,
            on_neutral.amperes,
            per_line,
            system,
            edition,
            entries.supplied == "feeder",
            installation_of(entries, system),
        )
    return DwellingOutcome(
        amperes=sized.amperes,
        main="existing" if existing is not None else entries.method,
        connected=main.connected,
        calculated=main.calculated,
        service=sized,
        neutral_amperes=whole_amperes(sized.on_neutral or on_neutral.amperes),
        methods=Methods(loads, by_standard, by_optional, existing, on_neutral, per_line),
    )


def installation_of(entries: DwellingEntries, system: System) -> Installation:
    """How the service conductors lie: two lines, with the neutral of a wye, and what else is in
    their raceway."""
    counted = counted_conductors(2, True, system.is_wye, False, entries.others)
    return Installation("EMT", entries.insulation, entries.ambient, counted)


def hand_up(entries: DwellingEntries, outcome: DwellingOutcome, context: Context) -> Demand:
    """The dwelling as one piece, with its neutral and the amperes of its lines."""
    found = outcome.service
    exact, neutral_ = found.governing, float(outcome.neutral_amperes)
    connected, calculated = outcome.connected, outcome.calculated
    device = 0.0 if found.there else found.device
    piece = Piece(
        "",
        "dwelling",
        connected,
        calculated,
        exact,
        device=device,
        neutral=neutral_,
        household=household(entries, outcome),
    )
    return Demand(connected, calculated, neutral_, (exact, exact), (piece,))


def household(entries: DwellingEntries, outcome: DwellingOutcome) -> Household | None:
    """The dwelling's loads for what serves several; ``None`` for one by its measured demand."""
    methods = outcome.methods
    if methods is None:
        return None
    loads, found = methods.loads, methods.standard
    return Household(
        found.lighting.connected,
        loads.fixed,
        loads.own,
        loads.chargers,
        loads.dryers,
        loads.cooking,
        found.side.load,
        found.side.adder,
        entries.method == "optional",
        bool(loads.cooking or loads.small_cooking) and bool(found.side.loads),
    )
