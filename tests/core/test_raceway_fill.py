"""A raceway's fill: the smallest trade sizes and the counts of NEC annex C (tables C.1 and C.10, THHN and
XHHW, carried over from memory), mixes by hand, and that what is taken holds."""

from __future__ import annotations

from random import Random

import pytest

from voltaje.core.codes import edition
from voltaje.core.kinds import Context, evaluate, kind

NEC = edition("nec-2020")


def worked(*conductors, **entries):
    rows = [
        {"id": f"c{i}", "count": str(n), "size": size, **more}
        for i, (n, size, more) in enumerate(conductors)
    ]
    return evaluate(kind("raceway_fill"), {"conductors": rows, **entries}, Context(NEC, "us"))


def value(found, name):
    assert found.report is not None, found.problems
    return found.report.results[name].value


ANNEX_C = [
    # raceway, insulation, trade size, size, most
    ("EMT", "THHN", "1/2", "14", 12), ("EMT", "THHN", "1/2", "12", 9), ("EMT", "THHN", "1/2", "10", 5),
    ("EMT", "THHN", "1/2", "8", 3), ("EMT", "THHN", "3/4", "14", 22), ("EMT", "THHN", "3/4", "12", 16),
    ("EMT", "THHN", "3/4", "10", 10), ("EMT", "THHN", "3/4", "8", 6), ("EMT", "THHN", "1", "12", 26),
    ("EMT", "THHN", "1", "6", 7), ("EMT", "THHN", "1-1/4", "4", 7), ("EMT", "THHN", "2", "3/0", 5),
    ("EMT", "THHN", "2", "4/0", 4), ("EMT", "THHN", "3", "500", 5), ("EMT", "THHN", "4", "500", 8),
    ("PVC 40", "THHN", "1/2", "12", 8), ("PVC 40", "THHN", "3/4", "12", 15), ("PVC 40", "THHN", "1", "12", 25),
    ("EMT", "XHHW", "3/4", "12", 11), ("EMT", "XHHW", "1", "8", 8),
]  # fmt: skip


@pytest.mark.parametrize(("raceway", "insulation", "trade", "size", "most"), ANNEX_C)
def test_as_many_as_annex_c_has(raceway, insulation, trade, size, most):
    alike = {"insulation": insulation}
    found = worked((most, size, alike), raceway=raceway, trade_size=trade)
    assert value(found, "most") == most and found.report.status in ("pass", "check")
    assert value(found, "more") == 0
    over = worked((most + 1, size, alike), raceway=raceway, trade_size=trade)
    assert over.report.status == "fail"
    assert value(worked((1, size, alike), raceway=raceway, trade_size=trade), "more") == most - 1


def test_a_mix_by_hand():
    """3 × 0.3237 + 0.2223 + 0.0824 = 1.2758 in²: 40 % of 3.356 in² is 1.3424, of 2.036 in² 0.8144."""
    found = worked((3, "4/0", {}), (1, "2/0", {}), (1, "4", {"carries": "no"}))
    assert value(found, "trade_size") == "2 in EMT"
    assert value(found, "fill_percent") == pytest.approx(100 * 1.2758 / 3.356, rel=1e-4)
    assert value(found, "adjustment") == 80  # four that carry current
    assert value(worked((3, "4/0", {}), (1, "4", {"carries": "no"})), "adjustment") == 100


def test_a_nipple_is_filled_to_sixty_percent_and_not_adjusted():
    found = worked((24, "10", {}), trade_size="1", nipple="yes")  # 0.864 × 0.6 ÷ 0.0211 = 24.6
    assert value(found, "most") == 24 and "adjustment" not in found.report.results
    assert worked((25, "10", {}), trade_size="1", nipple="yes").report.status == "fail"


def test_one_and_two_conductors_have_limits_of_their_own():
    """53 % for one, 31 % for two: two of 500 kcmil are 1.4146 in², 31 % of 3.356 in² is 1.04."""
    assert value(worked((1, "500", {})), "allowed") == 53
    assert value(worked((2, "500", {})), "trade_size") == "2-1/2 in EMT"


def test_three_alike_may_jam():
    """1-1/4 in EMT is 1.380 in: ÷ 0.492 in of 2/0 × 1.05 = 2.9."""
    found = worked((3, "2/0", {}), trade_size="1-1/2")
    assert value(found, "jam_ratio") == pytest.approx(1.610 / 0.532 * 1.05, rel=0.01)
    assert any(f.name == "jam" for f in found.report.findings)


@pytest.mark.parametrize(
    ("conductors", "entries", "path", "words"),
    [((), {}, "conductors", "Needed"), (((2, "auto", {}),), {}, "conductors.c0.size", "size"),
     (((3, "12", {}),), {"trade_size": "6"}, "trade_size", "not made"),
     (((60, "1000", {}),), {}, "", "not covered")],
)  # fmt: skip
def test_what_cannot_be_is_said_at_its_entry(conductors, entries, path, words):
    found = worked(*conductors, **entries)
    assert found.report is None
    assert (found.problems[0].path, words in found.problems[0].words) == (path, True)


def test_the_smallest_that_is_taken_holds_and_more_never_makes_it_smaller():
    rng = Random(1)
    sizes = ["14", "12", "10", "8", "6", "4", "2", "1/0", "4/0"]
    for _ in range(60):
        rows = [(rng.randint(1, 6), rng.choice(sizes), {}) for _ in range(rng.randint(1, 4))]
        found = worked(*rows)
        assert found.report.status != "fail"
        inside = value(found, "inside")
        more = worked(*rows, (1, rng.choice(sizes), {}))
        assert len(rows) == 1 or value(more, "inside") >= inside


def test_the_drawing_lays_circles_that_neither_overlap_nor_leave_the_raceway():
    from math import hypot

    from voltaje.web.kinds.raceway_fill import packed

    for radii in ([0.11] * 9, [0.3, 0.3, 0.3, 0.25, 0.1, 0.1], [0.9], [0.05] * 60):
        placed = list(packed(1.0, radii))
        assert len(placed) == len(radii)
        for i, (x, y, r) in enumerate(placed):
            assert hypot(x, y) + r <= 1 + 1e-6
            assert all(hypot(x - a, y - b) >= r + c - 1e-6 for a, b, c in placed[:i])
