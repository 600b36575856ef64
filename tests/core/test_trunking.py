"""Conduits and trunking by the terms of the On-Site Guide, appendix E (from memory; its tables hold together:
a bend counts as twice the length), and worked examples of it by hand."""

from __future__ import annotations

from itertools import pairwise

import pytest

from voltaje.core.codes import edition
from voltaje.core.kinds import Context, evaluate, kind

BS = edition("bs7671-2018")


def worked(*cables, **entries):
    rows = [
        {"id": f"c{i}", "count": str(n), "size": size, **more}
        for i, (n, size, more) in enumerate(cables)
    ]
    return evaluate(kind("trunking"), {"cables": rows, **entries}, Context(BS, "metric"))


def value(found, name):
    assert found.report is not None, found.problems
    return found.report.results[name].value


SOLID = {"strands": "solid"}
CASES = [
    # cables, entries, terms, enclosure, its term
    ([(6, "2.5", {})], {"length": "4 m", "bends": "2"}, 180, "20 mm", 213),
    ([(8, "2.5", {})], {"length": "4 m", "bends": "2"}, 240, "25 mm", 388),
    ([(6, "2.5", {})], {}, 258, "16 mm", 290),
    ([(6, "2.5", SOLID), (2, "1.5", SOLID)], {"length": "3 m"}, 288, "16 mm", 290),
    ([(6, "2.5", SOLID)], {"length": "3.1 m"}, 180, "20 mm", 290),
    ([(8, "16", {})], {"length": "10 m", "bends": "1"}, 1160, "50 mm", 2.6 * 643),
    ([(24, "1.5", {}), (18, "2.5", {}), (4, "10", {})], {"what": "trunking"}, 574.4, "75 × 25 mm", 738),
    ([(40, "2.5", {"insulation": "XLPE"}), (3, "25", {"insulation": "XLPE"})], {"what": "trunking"},
     782.2, "100 × 25 mm", 993),
]  # fmt: skip


@pytest.mark.parametrize(("cables", "entries", "term", "enclosure", "room"), CASES)
def test_terms_by_hand(cables, entries, term, enclosure, room):
    found = worked(*cables, **entries)
    assert value(found, "term") == pytest.approx(term)
    assert value(found, "room") == pytest.approx(room)
    assert value(found, "enclosure") == enclosure
    assert found.report.status == "pass"
    last = cables[-1]
    more = int(value(found, "more"))
    field = {"trunking": "trunking"}.get(entries.get("what"), "conduit")
    fixed = {**entries, field: enclosure.partition(" mm")[0]}
    full = [*cables[:-1], (last[0] + more, *last[1:])]
    assert worked(*full, **fixed).report.status == "pass"
    over = [*cables[:-1], (last[0] + more + 1, *last[1:])]
    assert worked(*over, **fixed).report.status == "fail"


def test_a_bend_counts_as_twice_the_length():
    """Cells of one length × 2^bends are the same, and fall with it: how the table was recalled."""
    terms = {}
    for length in BS.rows("conduit_terms"):
        for bends in range(5):
            for size in ("16", "20", "25", "32"):
                cell = BS.cell_or_none("conduit_terms", length, f"{bends} bends {size}")
                if cell is not None:
                    terms.setdefault((size, float(length) * 2**bends), set()).add(cell.value)
    assert all(len(values) == 1 for values in terms.values())
    for size in ("16", "20", "25", "32"):
        falling = [min(v) for (of, _), v in sorted(terms.items()) if of == size]
        assert all(a > b for a, b in pairwise(falling))


def test_trunking_holds_45_percent_of_what_is_inside():
    for size, cell in BS.cells("trunking_terms", "term").items():
        width, height = map(float, size.split(" × "))
        assert 0.45 * (width - 4) * (height - 5) < cell.value < 0.45 * width * height, size


@pytest.mark.parametrize(
    ("cables", "entries", "path"),
    [([], {}, "cables"), ([(2, "2.5", {})], {"bends": "1"}, "length"),
     ([(2, "2.5", {})], {"length": "11 m"}, "length"), ([(2, "2.5", {})], {"length": "6 m", "bends": "3"}, "length"),
     ([(2, "4", SOLID)], {}, "cables.c0.size"), ([(2, "1", {})], {"what": "trunking"}, "cables.c0.size")],
)  # fmt: skip
def test_what_has_no_term_is_said_where_it_is(cables, entries, path):
    found = worked(*cables, **entries)
    assert found.report is None and path in {p.path for p in found.problems}, found.problems
