"""A hidden fault to be found with instruments: readings are asked one by one, the fault is named.

The network is solved with the fault in it, by the sheet itself; what cannot be told apart by any
reading is one answer."""

from __future__ import annotations

from dataclasses import dataclass
from random import Random

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import Document
from voltaje.core.kinds import Context, Kind, evaluate
from voltaje.core.practice.problems import PracticeProblem, as_given, varied
from voltaje.core.report import InstrumentPoint, Text, say
from voltaje.core.rules.context import supplied
from voltaje.core.rules.interface import code_of

# no code figures: what an instrument tells apart, V or A and of the reading; how the task is scored
APART, SHARE = 0.15, 0.01
POINTS, FREE, EACH = 10, 2, 1


@dataclass(frozen=True, slots=True)
class Suspect:
    """A fault, or several that no reading tells apart: its id, in words, the readings with it."""

    id: str
    words: Text
    points: tuple[InstrumentPoint, ...]


@dataclass(frozen=True, slots=True)
class Puzzle:
    """The healthy sheet, all suspects (the first: nothing is wrong), and the one that is hidden."""

    healthy: PracticeProblem
    suspects: tuple[Suspect, ...]
    hidden: Suspect

    @property
    def points(self) -> tuple[InstrumentPoint, ...]:
        """Where an instrument can be put, with what it shows."""
        return self.hidden.points

    def fewest(self) -> int | None:
        """How many readings tell the hidden fault from all others at the least, up to three;
        ``None``: more."""
        others = [one for one in self.suspects if one is not self.hidden]
        spots = range(len(self.points))
        apart = [{n for n in spots if differ(one.points[n], self.points[n])} for one in others]
        return next((n for n in (1, 2, 3) if covers(apart, n)), None)


def covers(apart: list[set[int]], count: int) -> bool:
    """Whether so many readings tell one from all others: ``apart`` are the places at which each of
    the others reads otherwise."""
    if not apart:
        return True
    if not count:
        return False
    first = min(apart, key=len)
    return any(covers([one for one in apart if spot not in one], count - 1) for spot in first)


def score(right: bool, readings: int) -> int:
    """Of ten points: one less for each reading beyond the second, one at least; none where the
    cause is wrong."""
    return max(1, POINTS - EACH * max(0, readings - FREE)) if right else 0


def differ(one: InstrumentPoint, other: InstrumentPoint) -> bool:
    """Whether an instrument tells the two readings apart."""
    return tells_apart(one.value, other.value)


def tells_apart(one: float, other: float) -> bool:
    """Whether an instrument tells two values in V or A apart."""
    return abs(one - other) > max(APART, SHARE * max(abs(one), abs(other)))


def puzzle(of: Kind, book: Edition, base: tuple[str, Document], seed: str) -> Puzzle | None:
    """The puzzle of a seed on one base; ``None`` where the kind hides none."""
    system, plain = base
    document = varied(of, book, plain, Random(f"{of.name} {book.id} {seed}"))  # noqa: S311
    if as_given(of, book, SYSTEMS[system], document, "answer", seed) is None:
        document = dict(plain)
    healthy = as_given(of, book, SYSTEMS[system], document, "answer", seed)
    if healthy is None or of.faults is None or not healthy.report.points:
        return None
    code = code_of(book.family)
    context = Context(book, code.units, supplied(SYSTEMS[system], book))
    found = evaluate(of, document, context)
    groups: list[Suspect] = [Suspect("0", say("Nothing is wrong"), healthy.report.points)]
    for number, (words, faulty) in enumerate(of.faults(found.entries, found.outcome, document), 1):
        report = evaluate(of, faulty, context).report
        if report is None or not _same_places(report.points, healthy.report.points):
            continue
        alike = next((one for one in groups if _alike(one.points, report.points)), None)
        if alike is None:
            groups.append(Suspect(str(number), words, report.points))
        elif alike.id != "0":
            both = Text("{one}; {other}", {"one": alike.words, "other": words})
            groups[groups.index(alike)] = Suspect(alike.id, both, alike.points)
    if len(groups) < 3:  # no code figure: nothing to be told apart
        return None
    rng = Random(f"{of.name} {book.id} {seed} hidden")  # noqa: S311 - a puzzle, no secret
    return Puzzle(healthy, tuple(groups), rng.choice(groups[1:]))


def _same_places(one: tuple[InstrumentPoint, ...], other: tuple[InstrumentPoint, ...]) -> bool:
    return [str(a.name) for a in one] == [str(b.name) for b in other]


def _alike(one: tuple[InstrumentPoint, ...], other: tuple[InstrumentPoint, ...]) -> bool:
    return not any(differ(a, b) for a, b in zip(one, other, strict=True))
