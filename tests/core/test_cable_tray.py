"""Cable tray fill by hand (NEC 392.22 from memory): layers, areas, mixes; and metal wireways (376.22)."""

from __future__ import annotations

from random import Random

import pytest

from voltaje.core.codes import edition
from voltaje.core.kinds import Context, evaluate, kind

NEC = edition("nec-2020")


def worked(**entries):
    return evaluate(kind("cable_tray"), entries, Context(NEC, "us"))


def cables(*rows):
    return [{"id": f"r{i}", "count": str(n), "diameter": str(d), "large": large}
            for i, (n, d, large) in enumerate(rows)]  # fmt: skip


def singles(*rows):
    return [{"id": f"r{i}", "count": str(n), "size": size, "insulation": kind_of}
            for i, (n, size, kind_of) in enumerate(rows)]  # fmt: skip


def value(found, name):
    assert found.report is not None, found.problems
    return found.report.results[name].value


CABLES = [
    # rows, bottom, width, layer and its room, area and its room
    ([(4, 2.26, "yes")], "ladder", 12, (9.04, 12), None),
    ([(4, 2.26, "yes"), (12, 0.83, "")], "ladder", 18, (9.04, 18), (6.493, 21 - 1.2 * 9.04)),
    ([(20, 1.0, "")], "ladder", 18, None, (15.708, 21)),
    ([(20, 1.0, "")], "solid", 18, None, (15.708, 16.5)),
    ([(4, 2.6, "yes")], "solid", 12, (10.4, 10.8), None),
    ([(4, 2.6, "yes"), (6, 0.9, "")], "solid", 18, (10.4, 16.2), (3.817, 16.5 - 10.4)),
]  # fmt: skip


@pytest.mark.parametrize(("rows", "bottom", "width", "layer", "area"), CABLES)
def test_cables_by_hand(rows, bottom, width, layer, area):
    found = worked(cables=cables(*rows), bottom=bottom)
    assert value(found, "width") == width and found.report.status == "pass"
    for name, wanted in (("layer", layer), ("area", area)):
        assert (name in found.report.results) == bool(wanted)
        if wanted:
            taken, room = wanted
            assert value(found, name) == pytest.approx(taken, rel=1e-3)
            assert value(found, f"{name}_allowed") == pytest.approx(room, rel=1e-3)


SINGLES = [
    # XHHW by table 5: 500 kcmil 0.6984 in², 350 0.5166, 1000 1.3478 (1.310 in), 4/0 0.3197 (0.639 in)
    ([(6, "500", "XHHW-2"), (2, "350", "XHHW-2")], 6, None, 5.2236),
    ([(3, "1000", "XHHW-2")], 6, 3.93, None),
    ([(3, "1000", "XHHW-2"), (6, "500", "XHHW-2")], 9, 3.93, 4.19),
    ([(9, "4/0", "XHHW-2"), (3, "500", "XHHW-2")], 9, 9 * 0.639 + 3 * 0.943, None),
]  # fmt: skip


@pytest.mark.parametrize(("rows", "width", "layer", "area"), SINGLES)
def test_single_conductors_by_hand(rows, width, layer, area):
    found = worked(what="singles", singles=singles(*rows))
    assert value(found, "width") == width
    for name, wanted in (("layer", layer), ("area", area)):
        assert (name in found.report.results) == (wanted is not None)
        if wanted:
            assert value(found, name) == pytest.approx(wanted, rel=4e-3)


def test_the_width_holds_and_the_one_below_does_not():
    random = Random(7)
    widths = ["6", "9", "12", "18", "24", "30", "36"]
    for _ in range(60):
        rows = cables(*((random.randint(1, 6), round(random.uniform(0.4, 2.5), 2), random.choice(["", "yes"]))
                        for _ in range(random.randint(1, 3))))  # fmt: skip
        entries = {"cables": rows, "bottom": random.choice(["ladder", "solid"])}
        found = worked(**entries)
        if found.report is None:
            assert worked(**entries, width="36").report.status == "fail"
            continue
        width = str(int(value(found, "width")))
        assert found.report.status == "pass"
        below = widths[: widths.index(width)]
        assert all(worked(**entries, width=one).report.status == "fail" for one in below)


def test_what_is_missing_is_said():
    for entries, path in (
        ({}, "cables"),
        ({"what": "singles"}, "singles"),
        ({"cables": [{"id": "a", "count": "2"}]}, "cables.a.diameter"),
    ):
        found = worked(**entries)
        assert found.report is None and path in {p.path for p in found.problems}


WIREWAYS = [
    # conductors, size, adjustment, status; 20 % of the area: 6 × 6 takes 7.2 in²
    ([(12, "4/0"), (6, "1/0")], "6 × 6 in wireway", None),  # 12 × 0.3237 + 6 × 0.1855 = 4.997
    ([(30, "12")], "2-1/2 × 2-1/2 in wireway", None),  # 0.399 of 1.25
    ([(31, "12")], "2-1/2 × 2-1/2 in wireway", 40),
    ([(45, "4/0")], "10 × 10 in wireway", 35),  # 14.57 of 20
]  # fmt: skip


@pytest.mark.parametrize(("conductors", "size", "adjustment"), WIREWAYS)
def test_wireways_by_hand(conductors, size, adjustment):
    rows = [{"id": f"c{i}", "count": str(n), "size": s} for i, (n, s) in enumerate(conductors)]
    entries = {"raceway": "wireway", "conductors": rows, "nipple": "yes"}
    found = evaluate(kind("raceway_fill"), entries, Context(NEC, "us"))
    assert value(found, "trade_size") == size and value(found, "allowed") == 20
    assert ("adjustment" in found.report.results) == (adjustment is not None)
    if adjustment:
        assert value(found, "adjustment") == adjustment
