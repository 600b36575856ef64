"""Readings beside calculated values, and the causes that are told from their pattern."""

from __future__ import annotations

import pytest

from voltaje.core.codes import edition
from voltaje.core.job.calculate import calculate_job
from voltaje.core.job.readings import LoadHere, causes, compare, find
from voltaje.core.kinds import PartInput
from voltaje.core.report import InstrumentPoint, say
from voltaje.core.rules.settings import Limits


def point(
    name: str, value: float, unit: str, line: str = "", nominal: float = 0.0
) -> InstrumentPoint:
    return InstrumentPoint(name, say("{name}", name=name.replace("-N", " to neutral")), value, unit, line=line,
                 nominal=nominal, role="volts" if unit == "V" else "conductor")  # fmt: skip


BOARD = (
    point("L1-N", 117.0, "V", "L1", 120), point("L2-N", 118.0, "V", "L2", 120),
    point("L1-L2", 235.0, "V", "L1", 240), point("L1", 40.0, "A", "L1"),
    point("L2", 30.0, "A", "L2"), point("N", 10.0, "A", "N"),
)  # fmt: skip
BAND = Limits().supply_band(edition("nec-2020"))
LOADS = (
    LoadHere("Kettle", "L1", 12.0),
    LoadHere("Heater", "L1-L2", 19.0),
    LoadHere("Lamp", "L2", 2),
)


def visit(**shown: float):
    """Readings by point; the unit follows from the point."""
    return [compare(name.replace("_", "-"), "V" if "_" in name else "A", value, BOARD, BAND)
            for name, value in shown.items()]  # fmt: skip


@pytest.mark.parametrize(("name", "unit", "value", "verdict"), [
    ("L1-N", "V", 117.9, "agrees"),  # 1 % and 3 digits: ±1.5 V
    ("L1-N", "V", 119.0, "check"), ("L1-N", "V", 104.0, "differs"), ("L1-N", "V", 133.0, "differs"),
    ("L1", "A", 44.0, "agrees"), ("L1", "A", 46.0, "differs"), ("L1", "A", 30.0, "differs"),
    ("L9", "A", 46.0, "unknown"), ("L1-N", "A", 5.0, "unknown"),
    ("L1 to neutral", "V", 117.0, "agrees"), ("l1-n", "V", 117.0, "agrees"),
])  # fmt: skip
def test_a_reading_agrees_within_its_instrument(name, unit, value, verdict) -> None:
    assert compare(name, unit, value, BOARD, BAND).verdict == verdict


PATTERNS = [
    ("loose_neutral", {"L1_N": 131, "L2_N": 103, "L1_L2": 234.5}),
    ("loose_neutral", {"L1_N": 131, "L2_N": 103}),
    ("supply", {"L1_N": 122.8, "L2_N": 123.9, "L1_L2": 246.8}),
    ("wrong_line", {"L1": 28.1, "L2": 42.2}),
    ("missing", {"L1": 28.1, "L2": 30.4}),
    ("more_load", {"L1": 52, "L1_N": 113, "L2_N": 118}),
    ("same_leg", {"L1": 40, "L2": 30, "N": 69}),
    ("joint", {"L1_N": 108, "L2_N": 118.2, "L1_L2": 226, "L1": 40.5}),
    ("harmonics", {"L1": 40.3, "L2": 30.2, "N": 19}),
]  # fmt: skip


@pytest.mark.parametrize(("cause", "shown"), PATTERNS, ids=[c for c, _ in PATTERNS])
def test_the_likeliest_cause_stands_first(cause, shown) -> None:
    listed = causes(visit(**shown), LOADS)
    assert listed[0].name == cause, [c.name for c in listed]
    assert [c.score for c in listed] == sorted((c.score for c in listed), reverse=True)
    assert str(listed[0].words) and str(listed[0].look)


def test_causes_name_the_load_and_the_ohms() -> None:
    assert "Kettle stands on L2 instead of L1" in str(
        causes(visit(L1=28.1, L2=42.2), LOADS)[0].words
    )
    assert str(causes(visit(L1=28.1), LOADS)[0].words).startswith("Kettle was off")
    joint = causes(visit(L1_N=109, L1=40), LOADS)
    words = next(str(c.words) for c in joint if c.name == "joint")
    assert "8 V are missing" in words and "0.2 Ω" in words and "320 W" in words


def test_nothing_off_has_no_cause() -> None:
    assert causes(visit(L1_N=117.2, L2_N=118.1, L1=39, N=9.8), LOADS) == []
    assert causes([], LOADS) == []


def test_a_neutral_between_lines_that_are_off_too_is_not_blamed() -> None:
    """With the lines between one another wrong as well the neutral alone does not explain it."""
    listed = causes(visit(L1_N=131, L2_N=103, L1_L2=210), LOADS)
    assert all(c.name != "loose_neutral" for c in listed)


def test_points_are_found_by_address_or_words() -> None:
    assert find(BOARD, " l2 TO neutral ").name == "L2-N"
    assert find(BOARD, "N").name == "N"
    assert find(BOARD, "elsewhere") is None


@pytest.mark.parametrize(("code", "volts", "verdict"), [
    ("sans10142-2020", 208.0, "check"), ("bs7671-2018", 208.0, "differs"),
    ("bs7671-2018", 217.0, "check"), ("sans10142-2020", 206.0, "differs"),
])  # fmt: skip
def test_the_supply_of_the_country_decides(code, volts, verdict) -> None:
    """230 V +10/−6 % (BS 7671 appendix 1), 230 V ±10 % (SANS 1019), as recalled."""
    points = (
        InstrumentPoint("L1-N", say("L1 to neutral"), 229.0, "V", "volts", "L1", nominal=230.0),
    )
    band = Limits().supply_band(edition(code))
    assert compare("L1-N", "V", volts, points, band).verdict == verdict


@pytest.mark.parametrize(("line", "neutral", "words"), [
    # a clamp's 2 % and five digits of each: 10 A within 0.7 A, so 1.4 A apart are nothing
    (10.0, 9.0, ""), (10.0, 8.5, "do not come back"), (10.3, 8.4, "do not come back"),
    (9.6, 11.2, "more than its line"), (10.0, 11.3, ""), (0.0, 3.0, "more than its line"),
])  # fmt: skip
def test_line_and_neutral_of_one_circuit_are_one_current(line, neutral, words) -> None:
    """Kirchhoff: what a clamp shows of them may differ by its accuracy alone, even where each
    agrees with what was calculated."""
    own = (point("L1", 10.0, "A", "L1"), point("N", 10.0, "A", "N"))
    found = [compare(name, "A", value, own, BAND) for name, value in (("L1", line), ("N", neutral))]
    named = [cause for cause in causes(found) if cause.name == "unequal"]
    assert [str(cause.words) for cause in named if words in str(cause.words)] == [
        str(cause.words) for cause in named
    ]
    assert bool(named) == bool(words)


def test_lines_and_neutral_of_a_board_may_differ() -> None:
    """With other lines not read, or of two lines, the neutral is no one line's."""
    assert "unequal" not in {c.name for c in causes(visit(L1=40, N=18))}


@pytest.mark.parametrize("feeder", [False, True])
def test_a_board_without_any_length_is_read_against_the_supply(feeder) -> None:
    """120 V ±5 % (ANSI C84.1 range A); nothing is said of a drop that is not known."""
    parts = [PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "S")]
    if feeder:
        parts.append(PartInput("f", "feeder", "s", {}, "F"))
    parts.append(PartInput("b", "board", parts[-1].id, {}, "B"))
    circuit = {"load": "10 A", "connection": "line-neutral"}
    parts.append(PartInput("c", "circuit", "b", circuit, "C"))
    worked = {key: found.report for key, found in calculate_job(parts, edition("nec-2020")).items()}
    for key, address in (("b", "L1-N"), ("c", "load")):
        for volts, verdict in (
            (120.4, "agrees"),
            (125.0, "check"),
            (128.0, "differs"),
            (112.0, "differs"),
        ):
            found = compare(address, "V", volts, worked[key].points, BAND)
            assert found.verdict == verdict, (key, volts)
    assert compare("L1", "A", 10.4, worked["b"].points, BAND).verdict == "agrees"
    assert not any("drop" in name for name in worked["b"].results | worked["c"].results)
