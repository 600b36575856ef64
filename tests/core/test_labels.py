"""What labels say, on a small job by hand: fed from, voltage, colors, fault current with its date; what is not
known is said. What a label says is common practice."""

from __future__ import annotations

import pytest

from voltaje.core.codes import edition
from voltaje.core.job.calculate import PartInput, calculate_job
from voltaje.core.job.labels import LabelledItem, labels

JOB = [
    PartInput("s", "supply", None, {"system": "3ph-480Y/277", "fault": "22 kA"}, "Mill supply"),
    PartInput("t", "transformer", "s", {"kva": "45 kVA", "impedance": "4", "length": "20 ft", "tap": "-2.5",
                                        "secondary": "3ph-208Y/120", "connection": "delta-wye"}, "T1"),
    PartInput("b", "board", "t", {"rating": "225 A", "spaces": "42"}, "Panel A"),
    PartInput("c", "circuit", "b", {"load": "1 kW", "length": "50 ft", "position": "5"}, "Bench"),
]  # fmt: skip


def made(*parts, code="nec-2020"):
    found = calculate_job(list(parts), edition(code))
    items = [LabelledItem(one.id, one.name, one.parent or "") for one in parts]
    return {one.item: one for one in labels(items, found, "2026-12-02")}


def said(label):
    return [str(line) for line in label.lines]


def test_labels_of_a_small_job():
    found = made(*JOB)
    assert list(found) == ["t", "b", "c"] and [one.of for one in found.values()] == [
        "transformer",
        "board",
        "circuit",
    ]
    board = said(found["b"])
    assert board[:4] == [
        "Fed from T1", "208Y/120 V, three-phase, four-wire", "Bus 225 A", "L1 black, L2 red, L3 blue, N white",
    ]  # fmt: skip
    # 45 kVA at 208 V, 4 %: 124.9 A ÷ 0.04 = 3.12 kA, 2.5 % more on its tap, less what supply and run take
    words, ka = board[4].rsplit(" kA, ", 1)[0], float(board[4].split()[3])
    assert (
        words.startswith("Available fault current")
        and 2.4 < ka <= 3.2
        and board[4].endswith("2026-12-02")
    )
    assert said(found["t"])[:3] == [
        "Fed from Mill supply",
        "45 kVA",
        "480Y/277 V to 208Y/120 V",
    ] and "Tap -2.5 %" in said(found["t"])
    assert said(found["c"]) == ["Panel A, 5", "Device 15 A", "14 AWG Cu"]


def test_what_is_not_known_is_said():
    supply = PartInput("s", "supply", None, {"system": "1ph-120/240"}, "Service drop")
    board = PartInput("b", "board", "s", {"rating": "100 A"}, "House panel")
    found = made(supply, board)
    assert said(found["b"])[-1] == "Available fault current: not calculated"


def test_what_is_wrong_has_no_label():
    wrong = PartInput("c", "circuit", "b", {"load": "much"}, "Wrong")
    assert "c" not in made(JOB[0], JOB[1], JOB[2], wrong)


@pytest.mark.parametrize(("marking", "colors"), [("harmonised", "L1 brown, L2 black, L3 gray, N blue"),
                                                 ("usual", "L1 brown, L2 orange, L3 yellow, N gray")])  # fmt: skip
def test_colors_are_those_of_the_supply(marking, colors):
    supply = PartInput(
        "s", "supply", None, {"system": "3ph-480Y/277", "marking": marking}, "Mill supply"
    )
    board = PartInput("b", "board", "s", {"rating": "400 A"}, "MDP")
    assert colors in said(made(supply, board)["b"])


def test_what_is_sized_for_a_part_of_its_load_has_no_label():
    """A feeder above a circuit without a result would be told too small a device."""
    feeder = PartInput("f", "feeder", "b", {"length": "50 ft"}, "Feeder")
    below = PartInput("p", "board", "f", {"rating": "100 A"}, "Panel B")
    sound = PartInput("c", "circuit", "p", {"load": "1 kW", "length": "50 ft"}, "Bench")
    wrong = PartInput("w", "circuit", "p", {"load": "much"}, "Wrong")
    assert {"f", "p"} <= set(made(*JOB[:3], feeder, below, sound))
    assert not {"f", "p", "w"} & set(made(*JOB[:3], feeder, below, sound, wrong))


def test_a_transformer_s_fault_current_is_told_at_its_secondary():
    assert said(made(*JOB)["t"])[-1].startswith("Available fault current at the secondary 3.")


def test_a_label_warns_of_another_source_and_of_the_high_leg():
    roof = PartInput("pv", "inverter", "b", {"power": "5 kW", "length": "30 ft"}, "Roof array")
    assert "Warning: second source, Roof array" in said(made(*JOB, roof)["b"])
    delta = PartInput("s", "supply", None, {"system": "3ph-240/120"}, "Service drop")
    board = PartInput("b", "board", "s", {"rating": "100 A"}, "Shop panel")
    lines = said(made(delta, board)["b"])
    # the high leg of a 240 V delta: 120 V times the root of three
    assert "Warning: L2 is the high leg, 208 V to neutral" in lines
