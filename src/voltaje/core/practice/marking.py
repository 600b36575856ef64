"""Marks what a learner gave, line by line: right, right by the way from an earlier slip, or wrong
with the slip that gives just this figure."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Literal

from voltaje.core.codes import Misreading
from voltaje.core.entries import Document, fields
from voltaje.core.kinds import Context, evaluate
from voltaje.core.kinds.slips import UsualSlip
from voltaje.core.practice.arithmetic import figures, put_in, worked
from voltaje.core.practice.lines import AskedLine, asked_lines
from voltaje.core.practice.problems import PracticeProblem
from voltaje.core.practice.slips import (
    StepSlip,
    cell_slips,
    entry_slips,
    kind_slips,
    neighbour_slips,
    rule_slips,
    step_slips,
    term_slips,
    volt_slips,
)
from voltaje.core.quantities import read_number
from voltaje.core.report import Rule, Text, figure

Mark = Literal["right", "carried", "wrong", "empty"]
SHARE = 0.002  # no code figure: of a figure, that rounding on the way may take
# no code figures: at most so many slips together are tried, and so many are told
PAIRS, TOLD = 30, 2
HINT = 0.25  # no code figure: what a hint costs of a line


@dataclass(frozen=True, slots=True)
class Marked:
    """A line as it was marked: what was ``given``, the mark, the ``slips`` in words that give this
    figure with the rules where they are read, and the figure that would have ``followed`` from an
    earlier slip (``None``: none)."""

    asked: AskedLine
    given: str
    mark: Mark
    slips: tuple[Text, ...] = ()
    rules: tuple[Rule, ...] = ()


def points(marked: tuple[Marked, ...], hints: Mapping[str, int]) -> float:
    """One for each line that is right or rightly follows, less a quarter for each hint."""
    found = 0.0
    for one in marked:
        if one.mark in ("right", "carried"):
            found += max(0.0, 1.0 - HINT * hints.get(one.asked.id, 0))
    return found


# slips with the lines that the sheet has with them
Tried = tuple[tuple[UsualSlip, ...], Mapping[str, AskedLine]]
Worked = list[Tried]


class Marker:
    """Marks answers to one problem. What slips give is worked once and kept."""

    def __init__(self, problem: PracticeProblem) -> None:
        self.problem = problem
        self.book = problem.context.edition
        self.lines = asked_lines(problem.report, problem.level == "answer")
        self._terms = terms_of(self.lines)
        self._steps: dict[str, tuple[StepSlip, ...]] = {}
        self._system = problem.context.supply.system
        self._by_slip: Worked | None = None
        self._by_neighbour: Worked | None = None
        self._by_pair: dict[tuple[str, str], Mapping[str, AskedLine]] = {}

    def mark(self, given: Mapping[str, str]) -> tuple[Marked, ...]:
        """Every line of the problem, by what was typed for its id."""
        found: list[Marked] = []
        slipped: dict[str, tuple[float, float]] = {}
        for asked in self.lines:
            text = given.get(asked.id, "").strip()
            one = self._one(asked, text, slipped, given)
            found.append(one)
            value = _number(text)
            if one.mark in ("wrong", "carried") and value is not None and asked.value is not None:
                slipped[asked.id] = (asked.value, value)
        return tuple(found)

    def own_working(self, lines: list[str]) -> tuple[Marked, ...]:
        """Figures in any order, each matched to the line that it fits: right ones first, then those
        that a slip explains."""
        typed = [text for text in lines if text.strip()]
        given = self._placed(typed)
        left = list(typed)
        for text in given.values():
            left.remove(text)
        for text in left:
            for asked in self.lines:
                if asked.id not in given and any(True for _ in self._slips(asked, text, given)):
                    given[asked.id] = text
                    break
        return self.mark(given)

    def _placed(self, typed: Sequence[str]) -> dict[str, str]:
        """Figures that are right, each at a line of its own: as many as can be at once, for one may
        fit two lines that are nearly alike."""
        from scipy.sparse import csr_array  # large; answers alone do without
        from scipy.sparse.csgraph import maximum_bipartite_matching

        fits = [[right(asked, text) for asked in self.lines] for text in typed]
        if not typed or not self.lines:
            return {}
        at = maximum_bipartite_matching(csr_array(fits, dtype=int), perm_type="column")
        return {self.lines[n].id: typed[t] for t, n in enumerate(at) if n >= 0}

    def _one(
        self,
        asked: AskedLine,
        text: str,
        slipped: Mapping[str, tuple[float, float]],
        given: Mapping[str, str],
    ) -> Marked:
        if not text:
            return Marked(asked, text, "empty")
        if right(asked, text):
            return Marked(asked, text, "right")
        if self._carried(asked, text, slipped):
            return Marked(asked, text, "carried")
        slips, rules = [], []
        for words, rule in self._slips(asked, text, given):
            if words not in slips:
                slips.append(words)
                rules += [rule] if rule is not None else []
            if len(slips) >= TOLD:
                break
        return Marked(asked, text, "wrong", tuple(slips), tuple(rules))

    def _carried(
        self, asked: AskedLine, text: str, slipped: Mapping[str, tuple[float, float]]
    ) -> bool:
        """Whether the line's own sum gives this with the learner's earlier figures put in."""
        value = _number(text)
        if value is None or asked.value is None or not slipped:
            return False
        shown = asked.expression
        own = worked(shown)
        at = figures(shown)
        changes = [
            (start, end, theirs)
            for start, end, printed in at
            for was, theirs in slipped.values()
            if _near(printed, was)
        ]
        if changes and own is not None and _near(own, asked.value):
            carried = put_in(shown, changes)
            return carried is not None and _near(value, carried)
        terms = self._terms.get(asked.id, ())
        if any(term.id in slipped for term in terms):
            carried = sum(slipped.get(t.id, (0.0, t.value or 0.0))[1] for t in terms)
            return _near(value, carried)
        same = (_near(asked.value, was) and _near(value, x) for was, x in slipped.values())
        return not at and any(same)

    def _slips(
        self, asked: AskedLine, text: str, given: Mapping[str, str]
    ) -> Iterator[tuple[Text, Rule | None]]:
        """The slips that give what was typed: of an entry, of a rule, of the cell, of a step. One
        that would have changed another line which is right is told only where no other is. Of
        answers alone any cell beside one that the sheet reads may be the slip. Then two at once."""
        value, alone = _number(text), False
        through = list(self._giving(self._single(), asked, text, value))
        later = [one for one in through if self._contradicted(one[1], asked, given)]
        for slips, lines in through:
            if (slips, lines) not in later:
                alone = True
                yield slips[0].words, slips[0].rule
        if value is not None and asked.value is not None:
            for step in self._of_line(asked):
                if _near(value, step.value):
                    alone = True
                    yield step.words, step.rule
        if alone:
            return
        if not later and self.problem.level == "answer":
            later = list(self._giving(self._neighbours(), asked, text, value))
        for slips, _ in later:
            yield slips[0].words, slips[0].rule
        if later:
            return
        for (one, other), _ in self._giving(self._pairs(asked), asked, text, value):
            yield Text("{one}; {other}", {"one": one.words, "other": other.words}), None

    @staticmethod
    def _giving(tried: Worked, asked: AskedLine, text: str, value: float | None) -> Iterator[Tried]:
        """Those with which the line is what was typed."""
        for slips, lines in tried:
            if (other := lines.get(asked.id)) and _gives(other, text, value):
                yield slips, lines

    def _contradicted(
        self, lines: Mapping[str, AskedLine], asked: AskedLine, given: Mapping[str, str]
    ) -> bool:
        """Whether a line before it that a slip changes was given right all the same."""
        for own in self.lines:
            if own.id == asked.id:
                return False
            text, other = given.get(own.id, ""), lines.get(own.id)
            changed = other is None or other.shown != own.shown
            if changed and text.strip() and right(own, text):
                return True
        return False

    def _of_line(self, asked: AskedLine) -> tuple[StepSlip, ...]:
        """What slips in the line itself give; worked once."""
        if asked.id not in self._steps:
            found = list(cell_slips(asked, self.book))
            for term in self._terms.get(asked.id, ()):
                found += term_slips(asked, term)
            own = worked(asked.expression)
            if own is not None and asked.value is not None and _near(own, asked.value):
                found += (*volt_slips(asked, self._system), *step_slips(asked))
            self._steps[asked.id] = tuple(found)
        return self._steps[asked.id]

    def _single(self) -> Worked:
        if self._by_slip is None:
            of, context, document = self.problem.kind, self.problem.context, self.problem.document
            specs = fields(of.entries_in(context.code))
            slips = (
                *kind_slips(of, evaluate(of, document, context), document),
                *entry_slips(specs, document, context.edition),
                *rule_slips(self.problem.report, document, context.edition),
            )
            self._by_slip = self._each(slips)
        return self._by_slip

    def _neighbours(self) -> Worked:
        if self._by_neighbour is None:
            problem = self.problem
            found = neighbour_slips(problem.report, problem.document, problem.context.edition)
            self._by_neighbour = self._each(found)
        return self._by_neighbour

    def _each(self, slips: Iterable[UsualSlip]) -> Worked:
        """The slips that change a line, each with the lines as it makes them."""
        own = {line.id: line.shown for line in self.lines}
        found: Worked = []
        for slip in slips:
            lines = self._worked(slip.document, slip.cells)
            if any(own.get(id) != line.shown for id, line in lines.items()):
                found.append(((slip,), lines))
        return found

    def _pairs(self, asked: AskedLine) -> Worked:
        """Two slips at once, of those that change this line; so many for the whole sheet."""
        apart = [
            slip
            for (slip,), lines in self._single()
            if (line := lines.get(asked.id)) and line.shown != asked.shown
        ]
        found: Worked = []
        for one, other in combinations(apart, 2):
            key = (one.name, other.name)
            if key not in self._by_pair and len(self._by_pair) < PAIRS:
                document = _both(self.problem.document, one.document, other.document)
                cells = (*one.cells, *other.cells)
                self._by_pair[key] = {} if document is None else self._worked(document, cells)
            if lines := self._by_pair.get(key):
                found.append(((one, other), lines))
        return found

    def _worked(self, document: Document, cells: tuple[Misreading, ...]) -> Mapping[str, AskedLine]:
        context = self.problem.context
        if cells:
            context = replace(context, edition=context.edition.misread(cells))
        found = evaluate(self.problem.kind, document, context).report
        if found is None:
            return {}
        lines = asked_lines(found, self.problem.level == "answer")
        return {line.id: line for line in lines}


def terms_of(lines: Sequence[AskedLine]) -> dict[str, tuple[AskedLine, ...]]:
    """The lines that a sum without arithmetic of its own adds up: those before it in its section,
    where they do."""
    found: dict[str, tuple[AskedLine, ...]] = {}
    before: list[AskedLine] = []
    section = ""
    for one in lines:
        if one.line is None or one.value is None:
            continue
        name = one.id.partition(".")[0]
        if name != section:
            section, before = name, []
        alike = [line for line in before if line.unit == one.unit]
        total = sum(line.value or 0.0 for line in alike)
        if one.line.kind != "step" and len(alike) > 1 and _near(total, one.value):
            found[one.id] = tuple(alike)
            before = [one]
        else:
            before.append(one)
    return found


def _both(plain: Document, one: Document, other: Document) -> Document | None:
    """The document with what both change; ``None`` where they change the same entry."""
    changed = {n for n in {*plain, *one} if plain.get(n) != one.get(n)}
    also = {n for n in {*plain, *other} if plain.get(n) != other.get(n)}
    if changed & also:
        return None
    found = {**one}
    for name in also:
        if name in other:
            found[name] = other[name]
        else:
            found.pop(name, None)
    return found


def right(asked: AskedLine, text: str) -> bool:
    """Whether what was typed is the line's figure, within its own rounding, or its words."""
    return _gives(asked, text, _number(text))


def _gives(asked: AskedLine, text: str, value: float | None) -> bool:
    if asked.value is None:
        return _plain(text) == _plain(asked.words)
    return value is not None and _near(value, asked.value)


def _plain(text: str) -> str:
    """Words as they are compared: "2 AWG Cu" as "2 cu", "3/0 AWG" as "3/0"."""
    text = text.lower().replace("copper", "cu").replace("aluminum", "al").replace("aluminium", "al")
    return " ".join(word for word in text.replace(",", " ").split() if word not in ("awg", "kcmil"))


def _near(value: float, exact: float) -> bool:
    """Within half a unit of the last digit that the line prints, or a fifth of a percent."""
    printed = figure(exact).partition(".")[2]
    half = 0.5 * 10.0 ** -len(printed)
    whole = float(exact).is_integer()
    slack = max(0.0 if whole and abs(exact) < 1000 else half, SHARE * abs(exact))
    return abs(value - exact) <= slack + 1e-9


def _number(text: str) -> float | None:
    """The figure at the beginning of what was typed, whatever unit stands behind it."""
    kept = text.strip().replace("−", "-")
    end = next((i for i, c in enumerate(kept) if not (c.isdigit() or c in ".,-+/ ")), len(kept))
    try:
        return read_number(kept[:end].strip())
    except (ValueError, OverflowError):
        return None


__all__ = ["Context", "Marked", "Marker", "points", "right"]
