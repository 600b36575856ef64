"""The face that every kind of part has, and what becomes of a document under it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache, cached_property
from typing import Any, Generic, Protocol, TypeVar

from voltaje.core import faults
from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.electrical.balance import BalanceTask
from voltaje.core.electrical.fault import FaultCurrent
from voltaje.core.electrical.network.contribution import NetworkContribution
from voltaje.core.electrical.panel_layout import Schedule
from voltaje.core.electrical.systems import Demand, Missing, Piece, SupplyPoint, each_once
from voltaje.core.entries import (
    Document,
    Entries,
    FormerIds,
    NothingBelowError,
    Parsed,
    Problem,
    WrongEntryError,
    former_ids,
    of_today,
    parse,
    row_models,
    unusual,
)
from voltaje.core.kinds.incomplete import NOTHING, USUAL, Known, bounded, incomplete, without
from voltaje.core.kinds.slips import UsualSlip
from voltaje.core.kinds.unknown import UNKNOWN, Aim, FoundEntry, find, with_found
from voltaje.core.kinds.usual_below import GROUP, TITLE, with_usual_values
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import Acceptance, Brief, Finding, Report, Text, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import Code, Sized, families


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What a kind's ``calculate`` gives: numbers, typed; a kind adds its own to these.

    ``amperes`` flow in each of its ungrounded conductors, ``wires`` are those conductors and the
    neutral by name, ``drop`` the percent that its conductors lose, ``fault`` the amperes at a
    fault where it stands (0: not known). ``None`` where a kind has no such figure. ``opened`` says
    that one of its conductors is open, ``legs`` on which line each of its circuits stands where it
    has several, ``placed`` what hangs on it with the line that it gives each load.
    ``drop_limit`` is the drop from the supply that its use may have (``None``: the job's).
    ``poles`` are those of the device ahead of it, where neither its wires nor its connection tell.
    """

    amperes: float | None = None
    wires: tuple[str, ...] = ()
    drop: float | None = None
    fault: float = 0.0
    opened: bool = False
    legs: tuple[tuple[str, str], ...] = ()
    placed: tuple[Piece, ...] | None = None
    drop_limit: Cell | None = None
    poles: int = 0

    @property
    def device_rating(self) -> float:
        """The rating of the overcurrent device that was sized, A (0: it has none, or two)."""
        return 0.0

    @property
    def device_behind(self) -> float | None:
        """The rating of the device behind windings of its own, A; ``None`` where it has none."""
        return None

    @property
    def schedule(self) -> Schedule | None:
        """What stands in its places, where it has any."""
        return None

    def given_places(self) -> Mapping[str, str]:
        """The places that parts on it were given, by their ids."""
        return {}

    def rows_to_spread(self) -> BalanceTask | None:
        """The rows of its own that can stand on other lines, by their paths in its entries."""
        return None


FamilySizing = TypeVar("FamilySizing", bound=Sized)


@dataclass(frozen=True, slots=True, kw_only=True)
class SizedOutcome(Outcome, Generic[FamilySizing]):
    """The outcome of whatever has one device and conductors behind it, by its family's sizing."""

    sizing: FamilySizing

    @property
    def device_rating(self) -> float:
        return self.sizing.device


@cache
def _apart(own: type[Entries], others: tuple[type[Entries], ...]) -> frozenset[str]:
    """Entries of the others that are none of its own; of rows that have the same name, their
    entries as ``row.entry``."""
    found = {name for other in others for name in other.model_fields} - set(own.model_fields)
    rows = row_models(own)
    for other in others:
        for name, row in row_models(other).items():
            if name in rows:
                more = set(row.model_fields) - set(rows[name].model_fields)
                found |= {f"{name}.{entry}" for entry in more}
    return frozenset(found)


def passes_on(entries: Any, above: SupplyPoint) -> SupplyPoint:
    """``hand_down`` of a kind that leaves system and volts as they are: what hangs below such a
    part has its supply even where the part itself cannot be worked."""
    return above


def lost_in_conductors(entries: Any, outcome: Outcome, context: Context) -> float:
    """``voltage_drop`` of a kind that has conductors: the percent that they lose; 0 where no length
    is known."""
    return outcome.drop or 0.0


def no_load(entries: Any, outcome: Any, context: Context) -> Demand:
    """``hand_up`` of a kind that is no load."""
    return Demand()


@dataclass(frozen=True, slots=True)
class Equipment:
    """What is ordered as a whole: a ``key`` that stays the same from job to job, its words, how
    many of it."""

    key: str
    label: Text
    number: int = 1


@dataclass(frozen=True, slots=True)
class Kind:
    """An item type: its entries, its calculation, its report, what it hands up and down.

    ``calculate`` gives an :class:`Outcome`, numbers alone; ``report`` makes the worksheet of it and
    runs when somebody looks. Other items read the outcome.

    ``voltage_drop`` gives the percent lost in its own conductors, for items below that are sized
    within what the total leaves.
    ``loop_impedance`` gives the earth-fault loop at its far end, Ω (0: not known); without it the
    loop passes unchanged. ``uses_loop`` says that it depends on the loop up to it.
    ``fault_current`` gives the fault current at the far end of its conductors or transformer;
    without it the fault passes unchanged. ``uses_fault`` says that it depends on the fault current
    that is available to it. ``network_contribution`` gives its conductors or transformer for the
    voltages of the job; without it they pass unchanged. ``own_network`` is a sheet that
    solves conductors of its own, from nominal volts on: the job's volts are put beside its points.
    ``quick_only`` is a sheet that no job holds. ``order`` is its place in a list of kinds. A
    ``root`` is what a job begins with: it stands under nothing. ``families`` are those that it can
    be worked under (``None``: all); ``compose`` makes its
    entries of what a family asks for there: its way of running conductors, its dwellings.
    ``counterpart`` tells another family in its own choices what a document says to one;
    ``stands_on`` gives the systems that it can stand on under a family (``None``: all).
    Entries of its ``seldom`` groups are usually left as they are, unless one says otherwise itself.
    ``unknowns`` are the entries that can be left to be found, each the largest or the smallest
    value at which the sheet holds.
    ``faults`` are those that it may hide, of its entries, outcome and document: each in words with
    the document that has it.
    ``slips`` are those that are usual with it, of its entries, outcome, document and edition: what
    they read otherwise. ``tasks`` tell its task in words, entries by their names in braces: the
    first whose entries are all there.
    ``equipment`` is what of it is ordered as a whole: a board, a transformer.
    ``nameplate`` are its entries that a nameplate tells, the same wherever the equipment stands.
    ``known`` is what stands of its worksheet where a load below it is missing. ``formerly`` are ids
    that it had in earlier versions: documents, files and addresses that hold one are still read.
    """

    name: str
    label: str
    subtitle: str
    entries: type[Entries]
    calculate: Callable[[Any, Context], Any]
    report: Callable[[Any, Any, Context], Report]
    hand_up: Callable[[Any, Any, Context], Demand]
    hand_down: Callable[[Any, SupplyPoint], SupplyPoint]
    groups: Mapping[str, str] = field(default_factory=dict)
    seldom: tuple[str, ...] = ("run", "protection", "hand", "place", "marking", "output")
    holds_parts: bool = False
    fault_current: Callable[[Any, Any, Context], FaultCurrent] | None = None
    uses_fault: bool = False
    voltage_drop: Callable[[Any, Any, Context], float] | None = None
    loop_impedance: Callable[[Any, Any, Context], float] | None = None
    uses_loop: bool = False
    network_contribution: Callable[[Any, Any, Context], NetworkContribution] | None = None
    own_network: bool = False
    quick_only: bool = False
    order: int = 0
    root: bool = False
    families: tuple[str, ...] | None = ("nec",)
    compose: Callable[[Code], type[Entries]] | None = None
    counterpart: Callable[[Document, Code, Code], Document] | None = None
    stands_on: Callable[[Code], tuple[str, ...]] | None = None
    known: Known = USUAL
    formerly: tuple[str, ...] = ()
    unknowns: Mapping[str, Aim] = field(default_factory=dict)
    faults: Callable[[Any, Any, Document], Iterable[tuple[Text, Document]]] | None = None
    slips: Callable[[Any, Any, Document, Edition], Iterable[UsualSlip]] | None = None
    tasks: tuple[Text, ...] = ()
    equipment: Callable[[Any, Any, Context], Iterable[Equipment]] | None = None
    nameplate: tuple[str, ...] = ()

    @property
    def has_load(self) -> bool:
        """Whether what stands above waits for its result."""
        return self.hand_up is not no_load

    @property
    def keeps_supply(self) -> bool:
        """Whether system and volts pass through it unchanged."""
        return self.hand_down is passes_on

    def entries_in(self, code: Code) -> type[Entries]:
        """Its entries under a family of codes; under one that does not cover it, its usual ones.
        What holds others has the usual values of these besides."""
        own = self.compose(code) if self.compose and self.covers(code) else self.entries
        return with_usual_values(own, code.wiring) if self.holds_parts else own

    @property
    def form_groups(self) -> Mapping[str, str]:
        """The headings of its form, in their order."""
        return {**self.groups, GROUP: TITLE} if self.holds_parts else self.groups

    def covers(self, code: Code) -> bool:
        """Whether it can be worked under a family of codes."""
        return self.families is None or code.family in self.families

    def elsewhere(self, code: Code) -> frozenset[str]:
        """Entries that a document may hold and that only another family reads: a job's code can be
        changed there and back without loss."""
        if self.compose is None and not self.holds_parts:
            return frozenset()
        others = tuple(
            self.entries_in(other) for other in families() if other != code and self.covers(other)
        )
        return _apart(self.entries_in(code), others)

    @property
    def former_entries(self) -> FormerIds:
        """The ids that its entries had in earlier versions, under any family, with today's."""
        codes = families() if self.compose else ()
        models = {self.entries, *(self.entries_in(code) for code in codes if self.covers(code))}
        return former_ids(frozenset(models))

    def of_today(self, document: Mapping[str, Any]) -> Document:
        """A document of an earlier version under the ids that its entries have now."""
        return of_today(document, self.former_entries)

    def read(self, document: Mapping[str, Any], context: Context) -> Parsed:
        """A document read under the context's code, with ids of earlier versions as well."""
        if not self.covers(context.code):
            error = NotCoveredError(context.edition.title, say(self.label))
            return Parsed(None, (Problem("", str(error)),))
        code = context.code
        unknown: list[str] = []
        if isinstance(document, Mapping):
            document = self.of_today(document)
            asked = (n for n in self.unknowns if n in self.entries_in(code).model_fields)
            unknown = [n for n in asked if str(document.get(n, "")).strip() == UNKNOWN]
        if len(unknown) > 1:
            words = say("One entry at a time can be found: give this one.")
            return Parsed(None, (Problem(unknown[1], str(words)),))
        if unknown:
            document = {name: value for name, value in document.items() if name not in unknown}
        parsed = parse(self.entries_in(code), document, context.units, self.elsewhere(code))
        return replace(parsed, unknown=unknown[0]) if unknown and parsed.entries else parsed


class Volts(Protocol):
    """What the solved job says at a part; told when somebody looks."""

    @property
    def drop_total(self) -> float | None:
        """Percent lost from the supply; ``None`` where nothing is."""

    def report(self, worked: Report, outcome: Any) -> Report:
        """The worksheet with the job's volts on it."""

    def brief(self, own: Brief, outcome: Any) -> Brief:
        """What the worksheet would tell in brief, without making it."""


@dataclass(frozen=True)
class Evaluated:
    """A part's document, worked: ``outcome`` is ``None`` when there are problems. ``volts`` is what
    the job's network says of it. ``wrong`` is false where nothing is wrong with it itself and only
    results below it are missing."""

    entries: Any
    outcome: Any
    problems: tuple[Problem, ...]
    of: Kind | None = None
    context: Context | None = None
    volts: Volts | None = None
    wrong: bool = True
    found: FoundEntry | None = None
    before: Evaluated | None = field(default=None, compare=False, repr=False)

    def with_volts(self, volts: Volts) -> Evaluated:
        """The same with what the job's network says of it; what it was ``before`` is told once,
        however often its volts change."""
        own = (self.entries, self.outcome, self.problems, self.of, self.context)
        return Evaluated(*own, volts, self.wrong, self.found, self.before or self)

    @property
    def missing(self) -> tuple[Missing, ...]:
        """The parts without whose result nothing is decided here."""
        if self.context is None:
            return ()
        return each_once(self.context.supply.unknown, self.context.below.missing)

    @cached_property
    def report(self) -> Report | None:
        """The worksheet, worded now. A fault of the program in it becomes this part's problem."""
        if self.outcome is None or self.of is None or self.context is None:
            return None
        try:
            return self._reported(self.of, self.context)
        except Exception as error:
            told = faulty(self.entries, error, f"telling a {self.of.name}")
            object.__setattr__(self, "problems", told.problems)
            return None

    @cached_property
    def brief(self) -> Brief | None:
        """Its one-line answer, its status and what deserves a look, for where another part is
        looked at; ``None`` where there is no worksheet. The worksheet is not kept for it."""
        told = self._brief()
        if told is None or not self.entries.accepted:
            return told
        left = _accepted(told.findings, self.entries)
        return replace(told, findings=tuple(one for one in left if one.accepted is None))

    def _brief(self) -> Brief | None:
        told: Report | None = self.__dict__.get("report")  # told already
        if told is None and self.before is not None and self.volts is not None:
            own = self.before.brief
            if own is None:  # a fault in its telling is this part's problem, too
                object.__setattr__(self, "problems", self.before.problems)
            if own is None or own.incomplete:
                return own
            return self.volts.brief(own, self.outcome)
        if self.outcome is None or self.of is None or self.context is None:
            return None
        if told is None:
            try:
                told = self._reported(self.of, self.context)
            except Exception:
                told = self.report  # the fault becomes this part's problem
        return None if told is None else told.brief

    def _reported(self, of: Kind, context: Context) -> Report:
        worked = of.report(self.outcome, self.entries, context)
        if self.found is not None:
            worked = with_found(worked, self.found)
        worked = replace(worked, findings=_own_changes(worked.findings, self.entries))
        if odd := _odd(self.entries, context.units):
            worked = replace(worked, findings=(*worked.findings, *odd))
        if self.missing:
            known = NOTHING if context.supply.unknown else of.known
            return incomplete(worked, self.missing, known)
        if context.supply.bounded and (of.uses_fault or of.uses_loop):
            worked = bounded(worked, context.supply.bounded)
        if self.volts is not None:
            worked = self.volts.report(worked, self.outcome)
        return replace(worked, findings=_accepted(worked.findings, self.entries))


def _own_changes(findings: tuple[Finding, ...], entries: Any) -> tuple[Finding, ...]:
    """The findings; without the change that would mend one where it is of entries that this kind
    has under other names."""
    if not any(finding.change for finding in findings):
        return findings
    names = type(entries).model_fields
    return tuple(
        replace(finding, change=None)
        if finding.change
        and not finding.change.part
        and any(name not in names for name, _ in finding.change.entries)
        else finding
        for finding in findings
    )


def _accepted(findings: tuple[Finding, ...], entries: Entries) -> tuple[Finding, ...]:
    """The findings; a check that somebody has accepted as it stands is a remark that says so. With
    another figure in it, it is to be looked at anew."""
    if not entries.accepted:
        return findings
    known = {(one.finding, one.said): Acceptance(one.by, one.reason) for one in entries.accepted}
    return tuple(
        replace(finding, severity="remark", accepted=known[key])
        if finding.severity == "check"
        and (key := (finding.name, finding.words.in_english)) in known
        else finding
        for finding in findings
    )


def _odd(entries: Any, system: UnitSystem) -> tuple[Finding, ...]:
    """A look for every figure outside its usual span."""
    return tuple(
        Finding(
            "check",
            "unusual",
            odd,
            "",
            meant,
            entries=(path,),
        )
        for path, odd, meant in unusual(entries, system)
    )


@dataclass(frozen=True, slots=True)
class PartInput:
    """A part as a job holds it: its id, its kind, the part above it, its document."""

    id: str
    kind: str
    parent: str | None
    document: Mapping[str, Any]
    name: str = ""


def evaluate(of: Kind, document: Mapping[str, Any], context: Context) -> Evaluated:
    """Reads and works a document. Never raises for bad input: the problems come back."""
    return calculate(of, of.read(document, context), context)


def calculate(of: Kind, parsed: Parsed, context: Context) -> Evaluated:
    """Works entries that are read. Never raises for what is wrong with them."""
    if parsed.problems:
        return Evaluated(None, None, parsed.problems)
    if parsed.unknown:
        return _with_found(of, parsed, context)
    try:
        return Evaluated(parsed.entries, of.calculate(parsed.entries, context), (), of, context)
    except NothingBelowError as error:
        if not context.below.missing:
            return Evaluated(parsed.entries, None, (error.problem,), of, context)
        problem = Problem("", str(without(context.below.missing)))
        return Evaluated(parsed.entries, None, (problem,), of, context, wrong=False)
    except WrongEntryError as error:
        return Evaluated(parsed.entries, None, (error.problem,), of, context)
    except NotCoveredError as error:
        return Evaluated(parsed.entries, None, (Problem("", str(error)),), of, context)
    except Exception as error:  # a fault of ours stays this part's own line
        return faulty(parsed.entries, error, f"working a {of.name}")


def _with_found(of: Kind, parsed: Parsed, context: Context) -> Evaluated:
    """The entries with the one that was left to be found at the value that it has."""
    name = parsed.unknown
    try:
        result, found = find(
            name,
            parsed.entries,
            of.unknowns[name],
            context.units,
            lambda entries: calculate(of, Parsed(entries, ()), context),
        )
    except Exception as error:  # a fault of ours stays this part's own line
        return faulty(parsed.entries, error, f"finding the {name} of a {of.name}")
    return replace(result, found=found) if found is not None else result


def faulty(entries: Any, error: Exception, what: str) -> Evaluated:
    """A part that a fault of the program has kept from being worked, with the fault's number."""
    return Evaluated(entries, None, (Problem("", faults.words(faults.note(error, what))),))
