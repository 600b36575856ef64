"""Conductors of a tree chosen together: against every choice tried, the sums anew, the job's own
sheets, and the network."""

from dataclasses import replace
from itertools import product
from random import Random

import pytest
from core.random_entries import tree as random_tree

from voltaje.core.codes import edition
from voltaje.core.effort import Effort, StoppedError
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import fields
from voltaje.core.job.calculate import PartInput, calculate_job
from voltaje.core.job.conductor_plan import (
    Member,
    Plan,
    PlanOption,
    PlanPath,
    PlanTree,
    gather,
    lost,
    part_by_part,
    settled,
    together,
)
from voltaje.core.kinds import evaluate
from voltaje.core.rules.settings import Limits


def made_up(rng):
    """A feeder with two under it and a circuit or two on each, four sizes in each part."""

    def member(key, limit):
        kg, drop, options = rng.uniform(1, 8), rng.uniform(1, 6), []
        for step in range(rng.randint(2, 4)):
            options.append(
                PlanOption(
                    str(step), f"size {step}", kg * 1.5**step, kg * 2**step, drop / 1.7**step
                )
            )
        return Member(key, key, "size", tuple(options), options[0], limit)

    members, ways = [member("f", 5.0)], []
    for feeder in ("g", "h"):
        members.append(member(feeder, 5.0))
        for number in range(rng.randint(1, 2)):
            key = f"{feeder}{number}"
            members.append(member(key, 3.0))
            ways.append(PlanPath(key, ("f", feeder, key), rng.choice((0.0, 0.4)), 5.0))
    return PlanTree(tuple(members), tuple(ways), ())


def stands(tree, chosen):
    own = {m.key: m.limit for m in tree.members}
    return all(chosen[key].lost <= own[key] * (1 + 1e-9) for key in chosen) and all(
        way.fixed + sum(chosen[key].lost for key in way.members) <= way.limit * (1 + 1e-9)
        for way in tree.ways
    )


@pytest.mark.parametrize("seed", range(120))
@pytest.mark.parametrize("aim", ["metal", "money"])
def test_nothing_cheaper_keeps_the_limits(seed, aim):
    tree = made_up(Random(seed))
    keys = [m.key for m in tree.members]
    every = (
        dict(zip(keys, choice, strict=True))
        for choice in product(*(m.options for m in tree.members))
    )
    best = min(
        (sum(o.costs(aim) for o in chosen.values()) for chosen in every if stands(tree, chosen)),
        default=None,
    )
    found = together(tree, aim)
    if best is None:
        assert found.unmet
        return
    assert not found.unmet and found.proven and stands(tree, found.chosen)
    assert found.costs(aim) == pytest.approx(best)
    alone = part_by_part(tree, aim)
    assert alone.unmet or found.costs(aim) <= alone.costs(aim) + 1e-9


def job(code, system, feeder, rows):
    kind = {"nec-2020": "feeder", "bs7671-2018": "distribution"}[code]
    parts = [
        PartInput("s", "supply", None, {"system": system}, "Supply"),
        PartInput("f", kind, "s", feeder, "Feeder"),
        PartInput("b", "board", "f", {}, "Board"),
        *(PartInput(f"c{i}", "circuit", "b", doc, f"C{i}") for i, doc in enumerate(rows)),
    ]
    return parts, calculate_job(parts, edition(code), limits=Limits())


JOBS = {
    "nec-2020": ("3ph-208Y/120", {"length": "210 ft", "terminals": "75"},
                 [{"load": "1.6 kW", "length": far, "line": line}
                  for far, line in (("90 ft", "L1"), ("150 ft", "L2"), ("60 ft", "L3"))]),
    "bs7671-2018": ("3ph-400Y/230", {"length": "60 m", "cable": "armoured 90", "device": "63 A",
                                     "reference_method": "E", "external_loop": "0.1"},
                    [{"load": "3 kW", "length": far, "line": line, "use": "general"}
                     for far, line in (("40 m", "L1"), ("30 m", "L2"), ("55 m", "L3"))]),
}  # fmt: skip


@pytest.mark.parametrize("code", list(JOBS))
def test_a_job_is_held_by_its_own_sheets_and_its_network(code):
    parts, found = job(code, *JOBS[code])
    assert all(item.outcome for item in found.values()), [i.problems for i in found.values()]
    tree = gather(parts, found, "s")
    assert {m.key for m in tree.members} == {"f", "c0", "c1", "c2"}
    for member in tree.members:
        weights = [option.kg for option in member.options]
        assert weights == sorted(weights) and member.now is not None

    def put_in(plan: Plan):
        changed = {m.key: {m.entry: plan.chosen[m.key].value} for m in tree.members}
        asked = [
            PartInput(p.id, p.kind, p.parent, {**p.document, **changed.get(p.id, {})}, p.name)
            for p in parts
        ]
        return calculate_job(asked, edition(code), limits=Limits())

    def judge(plan):
        seen = put_in(plan)
        return {w.load: seen[w.load].volts.drop_total or 0.0 for w in tree.ways}

    plan = settled(tree, "metal", judge)
    assert not plan.unmet
    after = put_in(plan)
    for way in tree.ways:
        assert judge(plan)[way.load] <= way.limit * (1 + 1e-9)
        # the sums are those of the parts' own sheets
        own = sum(after[key].outcome.drop for key in way.members)
        assert lost(way, plan.chosen) == pytest.approx(own + way.fixed, rel=0.02)
    for member in tree.members:
        pair = next(r for r in after[member.key].report.alternatives if r.chosen)
        assert pair.passes and pair.conductor == plan.chosen[member.key].conductor


def test_what_has_no_length_is_left_out_and_told():
    system, feeder, rows = JOBS["nec-2020"]
    parts, found = job("nec-2020", system, feeder, [*rows, {"load": "900 W"}])
    tree = gather(parts, found, "f")
    assert tree.without == ("C3",) and "c3" not in {m.key for m in tree.members}
    # the feeder's own loss counts for it all the same
    assert any(way.load == "c3" for way in tree.ways)


def test_a_way_that_no_size_keeps_is_told_and_the_rest_is_still_chosen():
    short, long = (PlanOption("1", "a", 1.0, None, 0.5), PlanOption("2", "b", 3.0, None, 9.0))
    tree = PlanTree(
        (
            Member("x", "X", "size", (short,), short, 3.0),
            Member("y", "Y", "size", (long,), long, 3.0),
        ),
        (PlanPath("x", ("x",), 0.0, 5.0), PlanPath("y", ("y",), 0.0, 5.0)),
        (),
    )
    plan = together(tree, "metal")
    assert plan.unmet == ("y",) and plan.chosen["x"] is short and not tree.priced


TREES = [("nec-2020", "3ph-208Y/120"), ("cec-2021", "1ph-120/240"), ("bs7671-2018", "3ph-400Y/230"),
         ("asnzs3000-2018", "1ph-230")]  # fmt: skip


@pytest.mark.parametrize(("code", "system"), TREES)
def test_a_size_is_offered_just_where_its_own_sheet_lets_it_stand(code, system):
    """Each part with the size typed into its sheet: read, worked and told as if by hand."""
    book, rng, offered = edition(code), Random(code), 0
    for _ in range(4):
        parts = random_tree(book.family, SYSTEMS[system], rng)
        parts = [
            replace(p, document={**p.document, "length": "25 m"}) if p.kind != "board" else p
            for p in parts
            if p.kind not in ("motor", "machine")
        ]
        parts[0] = replace(
            parts[0], document={k: v for k, v in parts[0].document.items() if k != "length"}
        )
        found = calculate_job(parts, book)
        for member in gather(parts, found, "s").members:
            item = found[member.key]
            told = {}
            for value, _ in next(
                f for f in fields(type(item.entries)) if f.name == member.entry
            ).choices:
                part = next(part for part in parts if part.id == member.key)
                sheet = evaluate(item.of, {**part.document, member.entry: value}, item.context)
                rows = sheet.report.alternatives if sheet.report else ()
                row = next((row for row in rows if row.chosen), None)
                if value != "auto" and row is not None and row.passes:
                    told[value] = (row.conductor, row.mass * 25, sheet.report.value("drop_percent"))
            assert {o.value: (o.conductor, o.kg, o.lost) for o in member.options} == told
            offered += len(told)
    assert offered > 40


def test_it_is_stopped_between_items_and_tells_how_far_it_is():
    rows = [
        ("s", "supply", None, {"system": "3ph-208Y/120", "fault": "10 kA"}),
        ("b", "board", "s", {}),
        *((f"c{n}", "circuit", "b", {"load": "1 kW", "length": "60 ft"}) for n in range(6)),
    ]
    parts = [PartInput(key, kind, above, entries, key) for key, kind, above, entries in rows]
    found = calculate_job(parts, edition("nec-2020"))
    told = []
    tree = gather(parts, found, "s", tried=told.append)
    assert told == sorted(told) and told[0] == 0 and told[-1] < 1
    with pytest.raises(StoppedError):
        gather(parts, found, "s", Effort(10.0, lambda: len(told) > 9), told.append)
    assert 9 < len(told) < 9 + len(parts)
    with pytest.raises(StoppedError):
        together(tree, "metal", Effort(0.0))
    assert together(tree, "metal").proven
