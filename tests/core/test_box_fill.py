"""Box fill as handbooks work it (NEC table 314.16(B) from memory), pull boxes by 314.28(A) by hand, and that
what is taken holds."""

from __future__ import annotations

import pytest

from voltaje.core.codes import edition
from voltaje.core.kinds import Context, evaluate, kind


def worked(code="nec-2020", **entries):
    return evaluate(kind("box_fill"), entries, Context(edition(code), "us"))


def value(found, name):
    assert found.report is not None, found.problems
    return found.report.results[name].value


def rows(*counts):
    return [{"id": f"r{i}", "count": str(n), "size": size} for i, (n, size) in enumerate(counts)]


CASES = [
    # conductors, devices, clamps, supports, (grounds, size), 2017: in³, 2020: in³
    ([(4, "12")], [(1, "12")], "", "0", (2, "12"), 15.75, 15.75),  # 4 + 2 + 1 = 7 × 2.25
    ([(4, "14")], [(1, "14")], "yes", "0", (2, "14"), 16.0, 16.0),  # 4 + 2 + 1 + 1 = 8 × 2
    ([(4, "12"), (2, "14")], [(1, "12"), (1, "14")], "yes", "1", (3, "12"), 28.25, 28.25),
    ([(12, "14")], [], "", "0", (6, "14"), 26.0, 27.0),  # two more than four, a quarter of 2 each
    ([(3, "6")], [], "", "0", (0, ""), 15.0, 15.0),
    ([(2, "18"), (5, "16"), (2, "10"), (1, "8")], [], "", "0", (1, "10"), 22.25, 22.25),
]  # fmt: skip


CANADIAN = [
    # conductors, devices, connectors, studs: in³ by Table 23 (1.5, 1.75, 2.25, 2.75, 4.5; from memory), 12-3034
    ([(4, "14")], [(1, "14")], "0", "0", 9.0),  # 4 + 2 = 6 × 1.5
    ([(6, "12")], [(2, "12")], "5", "0", 21.0),  # 6 + 4 + 2 = 12 × 1.75
    ([(4, "14"), (2, "10")], [], "3", "2", 15.0),  # 4 × 1.5 + 2 × 2.25 + (1 + 1) × 2.25
    ([(3, "6")], [], "1", "0", 13.5),
]  # fmt: skip


@pytest.mark.parametrize(("inside", "devices", "connectors", "studs", "volume"), CANADIAN)
def test_volume_by_the_canadian_code(inside, devices, connectors, studs, volume):
    entries = {
        "conductors": rows(*inside),
        "devices": rows(*devices),
        "connectors": connectors,
        "supports": studs,
    }
    found = worked("cec-2021", **entries)
    assert value(found, "volume") == pytest.approx(volume)
    assert value(found, "box_volume") >= volume
    # a device is warned of where it is deep, and a size that the table does not have is refused by name
    assert any(one.name == "deep" for one in found.report.findings) == bool(devices)
    refused = worked("cec-2021", conductors=rows((2, "18")))
    assert refused.problems[0].path == "conductors.r0.size"


@pytest.mark.parametrize(
    ("inside", "devices", "clamps", "supports", "grounds", "old", "new"), CASES
)
def test_volume_by_hand(inside, devices, clamps, supports, grounds, old, new):
    entries = {
        "conductors": rows(*inside), "devices": rows(*devices), "clamps": clamps, "supports": supports,
        "grounds": str(grounds[0]), "ground_size": grounds[1],
    }  # fmt: skip
    for code, volume in (("nec-2017", old), ("nec-2020", new), ("nec-2023", new)):
        found = worked(code, **entries)
        assert value(found, "volume") == pytest.approx(volume)
        assert value(found, "box_volume") >= volume - 1e-9
        given = worked(code, **entries, volume=str(volume))
        assert given.report.status == "pass"
        assert worked(code, **entries, volume=str(volume - 0.25)).report.status == "fail"


BOXES = [
    # how many of 12 AWG, form, smallest box
    (3, "device", "3 × 2 × 1-1/2"), (4, "device", "3 × 2 × 2"), (8, "device", "3 × 2 × 3-1/2"),
    (6, "round", "4 × 1-1/2 octagonal"), (9, "square", "4 × 1-1/2 square"),
    (13, "square", "4-11/16 × 1-1/2 square"), (18, "", "4-11/16 × 2-1/8 square"),
]  # fmt: skip


@pytest.mark.parametrize(("count", "form", "box"), BOXES)
def test_the_smallest_box(count, form, box):
    assert value(worked(conductors=rows((count, "12")), form=form), "box") == box


PULLS = [
    # (trade, wall, pull) …, width, height
    ([(3, "left", "straight"), (3, "right", "straight")], 24, None),
    ([(3, "left", "angle"), (2, "left", "angle"), (3, "bottom", "angle"), (2, "bottom", "angle")], 20, 20),
    ([(4, "top", "straight"), (2, "top", "angle"), (4, "bottom", "straight"), (2, "left", "angle")], 12, 32),
    ([(2.5, "left", "angle"), (2.5, "left", "angle")], 17.5, None),
]  # fmt: skip


@pytest.mark.parametrize(("raceways", "width", "height"), PULLS)
def test_pull_boxes_by_hand(raceways, width, height):
    walls = [
        {"id": f"w{i}", "trade": str(t), "wall": w, "pull": p}
        for i, (t, w, p) in enumerate(raceways)
    ]
    found = worked(purpose="pull", raceways=walls)
    assert value(found, "width") == pytest.approx(width)
    assert (value(found, "height") if height else None) == height


def test_what_is_missing_or_too_much_is_said():
    for entries, path in (
        ({}, "conductors"),
        ({"purpose": "pull"}, "raceways"),
        ({"purpose": "pull", "raceways": [{"id": "a", "wall": "left"}]}, "raceways.a.trade"),
        ({"clamps": "yes"}, "conductors"),
        ({"conductors": rows((1, "12")), "grounds": "2"}, "ground_size"),
    ):
        found = worked(**entries)
        assert found.report is None and path in {p.path for p in found.problems}, (
            entries,
            found.problems,
        )
    full = worked(conductors=rows((19, "12")))  # 42.75 in³, the largest box has 42
    assert full.report.status == "fail" and "box" not in full.report.results
    assert worked("bs7671-2018", conductors=rows((1, "12"))).report is None


def test_more_never_needs_less():
    before = 0.0
    for count in range(1, 18):
        found = worked(conductors=rows((count, "12")), grounds=str(count), ground_size="12")
        assert value(found, "volume") >= before
        before = value(found, "volume")
