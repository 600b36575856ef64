"""A dwelling at 230/400 V in numbers: its demand line by line, its main switch and mains."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, sqrt

from voltaje.core.capabilities import SeveralDwellings, Shared, can
from voltaje.core.codes import Cell, Edition, practice
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.lines import place
from voltaje.core.electrical.systems import Demand, Piece, System
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.dwelling.metric.entries import LoadRow, MainsEntries
from voltaje.core.kinds.interface import SizedOutcome
from voltaje.core.quantities import Nameplate
from voltaje.core.report import fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364 import protective_conductors as earth
from voltaje.core.rules.iec60364.dwellings import Used, UseDemand, demand, is_communal
from voltaje.core.rules.iec60364.sizing import CableSizing
from voltaje.core.rules.interface import CircuitLoadRequest, Feed

USE = "distribution"
# no code figure: A that a row told by its points alone is taken for, in spreading rows on lines
A_POINT = 1.0


@dataclass(frozen=True, slots=True)
class OnLine:
    """One line: its rows, its groups, and A in all."""

    line: str
    rows: tuple[Used, ...]
    groups: tuple[UseDemand, ...]
    amperes: float


@dataclass(frozen=True, slots=True)
class PhaseAdvice:
    """One phase or three: A if all stood on one line, the most that one may carry, and the loads
    that run on three phases alone."""

    together: float
    most: float
    rule: Cell | None
    only_three: tuple[str, ...]

    @property
    def three(self) -> bool:
        return bool(self.only_three) or not fits(self.together, self.most)


@dataclass(frozen=True, slots=True, kw_only=True)
class MainsOutcome(SizedOutcome[CableSizing]):
    """Every line, the heaviest of them in A; living units on it; VA connected and calculated; the
    mains' sizing, the main earthing conductor and the main bonding, mm²; one phase or three."""

    lines: tuple[OnLine, ...]
    heaviest: float
    units: int
    connected: float
    calculated: float
    feed: Feed
    earthing: Size
    bonding: Size
    combined: bool
    advice: PhaseAdvice


def calculate(entries: MainsEntries, context: Context) -> MainsOutcome:
    """Raises :class:`WrongEntryError` for a load on three phases where there is one."""
    edition, system, code = context.edition, context.supply.system, context.code
    volts = system.to_neutral
    if not volts:
        words = say(
            "A dwelling needs a supply with a neutral: {label} has none.", label=say(system.label)
        )
        raise WrongEntryError("", words)
    living = entries.living_units if can(entries, SeveralDwellings) else 1
    units = ceil(living / len(system.lines))
    on = _spread(entries, system, living)
    lines = tuple(
        OnLine(line, rows, groups, sum(group.demand for group in groups))
        for line, rows in on.items()
        for groups in (demand(rows, units, edition),)
    )
    heaviest = max(line.amperes for line in lines)
    connection = "three-phase" if system.phases == 3 else "line-neutral"
    feed = Feed(
        connection,  # type: ignore[arg-type]
        system.volts(connection),  # type: ignore[arg-type]
        len(system.lines),
        True,
        entries.power_factor,
        passes_on=True,
    )
    asked = code.ask(CircuitLoadRequest(USE, heaviest), edition)
    try:
        sizing: CableSizing = code.size(asked.need, feed, entries, context)  # type: ignore[assignment]
    except WrongEntryError as error:
        if error.problem.path != "load":
            raise
        raise WrongEntryError("device_type", error.problem.words) from error
    line_size = sizing.pair.size
    combined = (context.supply.earthing or "") == "TN-C-S"
    earthing = earth.main_earthing(line_size, "", edition)
    return MainsOutcome(
        fault=context.supply.fault,
        amperes=heaviest,
        wires=(*system.lines, "N"),
        drop=sizing.lost_percent,
        drop_limit=sizing.total_limit,
        lines=lines,
        heaviest=heaviest,
        units=units,
        connected=sum(group.connected * volts for line in lines for group in line.groups),
        calculated=sum(line.amperes * volts for line in lines),
        feed=feed,
        sizing=sizing,
        earthing=earthing,
        bonding=earth.main_bonding(earthing, line_size, combined, edition),
        combined=combined,
        advice=_advice(entries, system, living, edition),
    )


def _amperes(row: LoadRow, system: System, entries: MainsEntries) -> float:
    """A of one of a row's loads, in each of its lines."""
    plate: Nameplate | None = row.load
    if plate is None:
        return 0.0
    if plate.amperes is not None:
        return plate.amperes
    across = system.to_neutral
    if row.connection == "three-phase":
        across = sqrt(3) * system.line_to_line
    va = plate.watts or 0.0
    return (va / entries.power_factor if plate.active else va) / across


def _used(row: LoadRow, amperes: float) -> Used:
    name = row.name or str(say("Load"))
    share = float(row.share) if can(row, Shared) else 100.0
    return Used(f"uses.{row.id}.load", name, row.use, amperes, row.count, share)


def _spread(entries: MainsEntries, system: System, living: int) -> dict[str, tuple[Used, ...]]:
    """The rows of each line: those with a line of their own, then the largest onto the lightest."""
    pieces: list[Piece] = []
    for row in entries.uses:
        if row.connection == "three-phase" and system.phases != 3:
            words = say("The supply has one phase: choose another supply or “one phase”.")
            raise WrongEntryError(f"uses.{row.id}.connection", words)
        if living > 1 and row.connection == "three-phase" and not is_communal(row.use):
            words = say(
                "The units of a block stand on one phase each: choose “one phase”, or a load"
                " outside the units."
            )
            raise WrongEntryError(f"uses.{row.id}.connection", words)
        amperes = _amperes(row, system, entries)
        va = (amperes or A_POINT) * row.count * system.to_neutral
        pieces.append(Piece("", "other", va, va, amperes, row.connection, row.line))
        if row.line not in ("auto", *system.lines):
            words = say("The supply has no {line}: choose another line.", line=row.line)
            raise WrongEntryError(f"uses.{row.id}.line", words)
    found: dict[str, list[Used]] = {line: [] for line in system.lines}
    block = living > 1 and system.phases == 3
    for row, piece in zip(entries.uses, place(pieces, system), strict=True):
        # the units of a block stand on one line each, all alike, so each line has all their loads
        every = piece.line == "all" or (block and not is_communal(row.use))
        on = system.lines if every else (piece.line,)
        for line in on:
            found[line].append(_used(row, piece.amperes))
    return {line: tuple(rows) for line, rows in found.items()}


def _advice(entries: MainsEntries, system: System, living: int, edition: Edition) -> PhaseAdvice:
    """What one line would carry if all single-phase loads stood on it."""
    single = tuple(
        _used(row, _amperes(row, system, entries))
        for row in entries.uses
        if row.connection != "three-phase"
    )
    together = sum(group.demand for group in demand(single, living, edition))
    limit = None if entries.largest_phase_load is not None else practice().limit("service_single")
    return PhaseAdvice(
        together,
        entries.largest_phase_load if limit is None else limit.value,  # type: ignore[arg-type]
        limit,
        tuple(
            row.name or str(say("Load")) for row in entries.uses if row.connection == "three-phase"
        ),
    )


def hand_up(entries: MainsEntries, outcome: MainsOutcome, context: Context) -> Demand:
    """The dwelling line by line, so that what stands above sees how its lines are loaded."""
    volts, device = context.supply.system.to_neutral, outcome.sizing.device
    pieces = tuple(
        Piece(
            "",
            "dwelling",
            sum(group.connected for group in line.groups) * volts,
            line.amperes * volts,
            line.amperes,
            "line-neutral",
            line.line if len(outcome.lines) > 1 else "auto",
            device=device,
            power_factor=entries.power_factor,
        )
        for line in outcome.lines
        if line.amperes
    )
    return Demand.of(pieces)
