"""What is chosen automatically, its own sheet accepts; more load makes nothing smaller."""

from __future__ import annotations

from dataclasses import replace
from random import Random

import pytest
from core import random_entries as given
from core.test_every_kind import good
from profiles import examples, sample

from voltaje.core.codes import editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import fields
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import PartInput, evaluate, kind, kinds
from voltaje.core.report import fits
from voltaje.core.rules.interface import code_of

TREES = examples(40)
EACH = len(sample([*range(14)], 3))  # documents of a kind under a family
DEVICES = [6, 10, 16, 20, 25, 32, 40, 50, 63, 80, 100, 125, 160, 200, 225, 250, 300, 400]
COVERED = [(of.name, family) for of in kinds() for family in {book.family: 1 for book in editions()}
           if of.covers(code_of(family))]  # fmt: skip


def failing(worked) -> set[str]:
    return {finding.name for finding in worked.findings if finding.severity == "fail"}


def told_only(document, fails) -> set[str]:
    """The findings by what a person has chosen although the sheet fails by it: the drop only told, all sets in one
    raceway whatever its fill, a transformer that is too small for its load."""
    chosen = set()
    if document.get("drop_sizing") == "told":
        chosen.add("drop")
    if document.get("raceways") == "one":
        chosen.add("raceway")
    return fails if "kva" in document and "overloaded" in fails else chosen


def by_hand(of, code):
    """Every size and device that a person could fix instead, one at a time."""
    for spec in fields(of.entries_in(code)):
        if given.is_size(spec):
            yield from ((spec.name, value) for value, _ in spec.choices if value != "auto")
        elif spec.kind == "quantity" and spec.name.endswith("device") and not spec.default:
            yield from ((spec.name, f"{rating} A") for rating in DEVICES)


def random_sheet(of, family, seed):
    """A random document of a kind, worked: entries that do not go together are put back."""
    rng = Random(f"{of.name} {family} {seed}")
    book = rng.choice([book for book in editions() if book.family == family])
    base = given.document(of, code_of(family), good(of.name, book), rng, share=0.0)
    document = given.document(of, code_of(family), base, rng)
    for _ in range(8):
        context = given.context(of, book, rng)
        found = evaluate(of, document, context)
        if found.report is not None:
            break
        wrong = {problem.path.split(".")[0] for problem in found.problems}
        kept = {entry: text for entry, text in document.items() if entry not in wrong}
        document = {**kept, **{entry: base[entry] for entry in wrong if entry in base}}
    return document, context, found.report


@pytest.mark.parametrize(("name", "family"), COVERED)
def test_an_automatic_choice_never_fails_where_another_size_would_pass(name, family):
    of, code, worked = kind(name), code_of(family), 0
    for seed in range(EACH):
        document, context, found = random_sheet(of, family, seed)
        if found is None:
            continue
        worked += 1
        fails = failing(found)
        fails = fails - told_only(document, fails)
        for entry, value in by_hand(of, code) if fails else ():
            other = evaluate(of, {**document, entry: value}, context).report
            mended = other is not None and failing(other) < failing(found)
            assert not (mended and fails - failing(other)), (document, context, entry, value, fails)
    assert worked > EACH / 4


def changed(parts, family, system, rng):
    """The tree with one more circuit or one that is larger, and the parts from there up."""
    above = {part.id: part.parent for part in parts}
    if rng.random() < 0.5:
        board = rng.choice([part.id for part in parts if part.kind == "board"])
        more = [*parts, PartInput("new", "circuit", board, given.circuit(system, rng), "New")]
        at = board
    else:
        old = rng.choice([part for part in parts if part.kind == "circuit"])
        load = float(old.document["load"].split()[0]) * rng.choice([1.2, 1.6, 2.5])
        larger = replace(old, document={**old.document, "load": f"{load:g} A"})
        more, at = [larger if part is old else part for part in parts], old.id
    path = []
    while at:
        path.append(at)
        at = above[at]
    return more, path[:-1]


def figures(found) -> dict[str, float]:
    """The device and what the line conductors carry, A; mm² of a cable."""
    if found.report is None or found.report.missing:
        return {}
    results = found.report.results
    told = {
        name: results[name].value for name in ("device", "conductor_ampacity") if name in results
    }
    if "conductor_ampacity" not in told and "area" in results:
        told["area"] = results["area"].value
    return {name: float(value) for name, value in told.items()}


@pytest.mark.parametrize("family", sorted({book.family for book in editions()}))
def test_more_load_makes_nothing_above_it_smaller(family):
    """On lines that are told: where they are automatic every load is spread anew, and one more may
    find a better spread. But for the terminals: from 100 A on conductors go by the 75 °C column (110.14(C)), so that
    behind a larger device a smaller one may do. The neutral carries the unbalance, which a load may
    lower; it is not compared."""
    compared = 0
    for seed in range(TREES):
        rng = Random(f"{family} {seed}")
        book = rng.choice([book for book in editions() if book.family == family])
        system = SYSTEMS[rng.choice(sorted(code_of(family).systems))]
        parts = given.tree(family, system, rng)
        more, path = changed(parts, family, system, rng)
        before, after = (
            calculate_job(parts, book, volts=False),
            calculate_job(more, book, volts=False),
        )
        for name in path:
            small, large = figures(before[name]), figures(after[name])
            for what in small.keys() & large.keys():
                compared += 1
                assert fits(small[what], large[what]), (seed, name, what, parts, more)
    assert compared > TREES


@pytest.mark.parametrize(("name", "family"), COVERED)
def test_a_remedy_that_is_offered_mends_what_was_found(name, family):
    """The entries that a finding offers to change are those of the sheet, and with them it is not found any more:
    of what is chosen automatically, and with a size or a device by hand."""
    of, code = kind(name), code_of(family)
    names, offered = {spec.name for spec in fields(of.entries_in(code))}, 0
    for seed in range(3 * EACH):
        document, context, _ = random_sheet(of, family, f"mend {seed}")
        hands = list(by_hand(of, code))
        for entry, value in [("", ""), *Random(seed).sample(hands, min(3, len(hands)))]:
            asked = {**document, entry: value} if entry else document
            found = evaluate(of, asked, context).report
            for finding in found.findings if found else ():
                if finding.change is None or finding.change.part:
                    continue
                offered += 1
                assert {of_it for of_it, _ in finding.change.entries} <= names
                mended = evaluate(of, {**asked, **dict(finding.change.entries)}, context).report
                left = {one.name for one in mended.findings if one.severity in ("fail", "check")}
                assert finding.name not in left, (asked, context, finding)
    assert offered or name not in ("circuit", "feeder", "distribution")
