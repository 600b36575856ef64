"""Trees of any shape: every kind under every other that may hold it, on every system, is worked
and gets its volts, or says why not; nothing is raised."""

from __future__ import annotations

from dataclasses import replace
from math import isfinite
from random import Random

import pytest
from core.random_entries import tree
from core.test_every_kind import GOOD
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.job.calculate import Memory, calculate_job
from voltaje.core.job.voltages.report import SHOWN_FROM, pair_of
from voltaje.core.kinds import PartInput, kind, kinds
from voltaje.core.rules.settings import SCHEMES, Limits

NAMES = [item.name for item in kinds()]
HOLDERS = [name for name in NAMES if kind(name).holds_parts and name != "supply"]
BANKS = [
    {"connection": c, "secondary": s, "impedance": z, "length": "20 ft", "kva": "45"}
    for c in ("delta-wye", "wye-wye", "delta-delta", "open delta", "single-phase")
    for s in ("3ph-208Y/120", "3ph-240", "3ph-240/120", "1ph-120/240", "1ph-120")
    for z in ("4", "")
]  # fmt: skip


@st.composite
def trees(draw) -> list[PartInput]:
    system = draw(st.sampled_from(list(SYSTEMS)))
    parts = [PartInput("p0", "supply", None, {"system": system, "fault": "10 kA"}, "Supply")]
    holders = ["p0"]
    for index in range(1, draw(st.integers(1, 9)) + 1):
        name = draw(st.sampled_from(NAMES[1:]))
        document = draw(st.sampled_from(BANKS)) if name == "transformer" else GOOD[name]
        part = PartInput(
            f"p{index}", name, draw(st.sampled_from(holders)), document, f"part {index}"
        )
        parts.append(part)
        if name in HOLDERS:
            holders.append(part.id)
    return parts


@given(trees(), st.sampled_from(list(SCHEMES)), st.sampled_from(["nec-2017", "nec-2023"]))
@settings(max_examples=examples(250))
def test_any_tree_is_worked_or_answered(parts, scheme, code) -> None:
    found = calculate_job(parts, edition(code), limits=Limits(scheme))
    assert set(found) == {part.id for part in parts}
    for part in parts:
        evaluated = found[part.id]
        brief = evaluated.brief  # without the worksheet, which is told after it
        if evaluated.report is None:
            assert brief is None
            assert evaluated.problems and all(p.words for p in evaluated.problems)
            continue
        assert brief == evaluated.report.brief and brief.status == evaluated.report.status
        assert not [f for f in evaluated.report.findings if f.name == "unsolved"]
        for result in evaluated.report.results.values():
            assert isinstance(result.value, str) or isfinite(result.value)
        for point in evaluated.report.points:
            assert isfinite(point.value) and point.value >= 0
            assert point.unit == "A" or point.value < 3000


@pytest.mark.parametrize(
    "bank", BANKS, ids=lambda b: f"{b['connection']}, {b['secondary']}, {b['impedance']}"
)
def test_every_bank_is_solved_on_every_supply(bank) -> None:
    """With a load that the secondary takes; volts behind it near nominal."""
    for system in ("3ph-480Y/277", "3ph-240", "1ph-120/240"):
        load = {"connection": "line-neutral" if SYSTEMS[bank["secondary"]].has_neutral else "two-line",
                "load": "900 W", "length": "9 ft"}  # fmt: skip
        parts = [PartInput("s", "supply", None, {"system": system}, "S"),
                 PartInput("t", "transformer", "s", bank, "T"),
                 PartInput("c", "circuit", "t", load, "C")]  # fmt: skip
        found = calculate_job(parts, edition("nec-2020"))
        if found["t"].report is None:
            assert found["t"].problems[0].words
            continue
        volts = found["c"].report.value("volts_at_load")
        nominal = found["c"].report.value("volts")
        assert 0.95 * nominal < volts < 1.01 * nominal, system


FAMILIES = [("nec-2020", "3ph-208Y/120"), ("cec-2021", "1ph-120/240"), ("bs7671-2018", "3ph-400Y/230"),
            ("asnzs3000-2018", "1ph-230"), ("sans10142-2020", "3ph-400Y/230")]  # fmt: skip


@pytest.mark.parametrize(("code", "system"), FAMILIES)
@pytest.mark.parametrize("scheme", SCHEMES)
def test_what_is_told_in_brief_is_what_the_worksheets_tell(code, system, scheme) -> None:
    """One load after the other is changed, and taken away, with what was worked before in memory:
    answer, status and findings of every item are those of a job worked from nothing."""
    book, limits, rng = edition(code), Limits(scheme), Random(f"{code} {scheme}")
    parts, memory = tree(book.family, SYSTEMS[system], rng), Memory()
    assert len(parts) > 3
    for _ in range(5):
        place = rng.choice([i for i, part in enumerate(parts) if part.kind == "circuit"])
        watts = rng.choice(["", "90 W", "2 kW", "30 kW", "900 A"])
        document = {**parts[place].document, "load": watts}
        parts = [*parts[:place], replace(parts[place], document=document), *parts[place + 1 :]]
        kept = calculate_job(parts, book, limits=limits, memory=memory)
        fresh = calculate_job(parts, book, limits=limits)
        for key, item in kept.items():
            report = fresh[key].report
            assert item.brief == (report.brief if report else None), key
            assert item.brief == (item.report.brief if item.report else None), key


@pytest.mark.parametrize("code", ["nec-2023", "cec-2021", "bs7671-2018", "asnzs3000-2018"])
def test_an_item_by_itself_comes_out_as_in_the_whole_job(code) -> None:
    """With the worked job remembered and without, whatever the job limits the voltage drop to."""
    book, rng = edition(code), Random(28)
    system = SYSTEMS["3ph-208Y/120" if book.family in ("nec", "cec") else "3ph-400Y/230"]
    fewer = 0
    for _ in range(examples(12)):
        parts = tree(book.family, system, rng)
        limits = Limits(rng.choice(list(SCHEMES)), sizing=rng.choice(["told", "part", "total"]))
        whole = calculate_job(parts, book, limits=limits, volts=False)
        memory = Memory()
        calculate_job(parts, book, limits=limits, memory=memory, volts=False)
        for part in parts:
            for kept in (None, memory):
                found = calculate_job(parts, book, limits=limits, memory=kept, only=part.id)
                fewer += len(found) < len(parts)
                assert found[part.id] == whole[part.id]
        assert calculate_job(parts, book, limits=limits, memory=memory, volts=False) == whole
    assert fewer or book.family not in ("nec", "cec")  # the others' circuits judge the loop ahead


@given(trees(), st.sampled_from(list(SCHEMES)))
@settings(max_examples=examples(80))
def test_what_a_board_loses_is_the_most_of_its_lines(parts, scheme) -> None:
    """Between no pair of its conductors more is lost than is told of it, also below a transformer that
    loses more in one line than in another; a circuit's drop is that of its lines and its own."""
    found = calculate_job(parts, edition("nec-2020"), limits=Limits(scheme))
    for part in parts:
        volts = found[part.id].volts
        lost = getattr(volts, "lost_between", {})
        if lost and volts.counts:
            told = volts.drop_total or 0.0
            assert max(lost.values()) <= max(told, SHOWN_FROM) + 1e-9
        pair = pair_of(volts)
        if pair and part.parent and kind(part.kind).keeps_supply and volts.drop_total is not None:
            above = found[part.parent].volts.lost_between
            known = above.get(pair, above.get("-".join(sorted(pair.split("-")))))
            own = found[part.id].outcome.drop or 0.0
            assert known is not None
            assert volts.drop_total == pytest.approx(max(0.0, known + own), abs=1e-6)
