"""The heat of a short circuit by hand: resistances of IEC 60228 (class 2, 20 °C, from memory) at
the 1.20 of BS 7671 for 70 °C, k 115 of table 43.1, gates of IEC 60269-1, 0.95 of the volts."""

from __future__ import annotations

from dataclasses import replace
from math import log, sqrt

import pytest

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.rules.context import supplied
from voltaje.core.rules.iec60364.short_circuit import lets_through, seconds_at, short_of

BS = edition("bs7671-2018")
OHMS = {"4": 4.61, "6": 3.08, "10": 1.83, "16": 1.15, "25": 0.727}  # IEC 60228, Ω/km at 20 °C
GATES_100 = ((580, 5.0), (1450, 0.1))  # IEC 60269-1, gG 100 A: most at 5 s and at 0.1 s


def motor(fault=6000.0, earthing="TN-S", code="bs7671-2018", **entries):
    """A motor of 22 kW on three lines of a cable clipped direct, guarded by its relay."""
    book = edition(code)
    point = replace(supplied(SYSTEMS["3ph-400Y/230"], book), fault=fault, earthing=earthing)
    document = {"power": "22 kW", "reference_method": "C", "external_loop": "0.1", **entries}
    return evaluate(kind("machine"), document, Context(book, "metric", point))


def slower(amperes: float) -> float:
    """s of a 100 A fuse between its gates, straight on paper with both scales logarithmic."""
    (low, long), (high, short) = GATES_100
    return long * (amperes / low) ** (log(short / long) / log(high / low))


def least_by_hand(area: str, metres: float) -> tuple[float, float]:
    """The current between two lines at the far end, A: 0.95 × 400 V ÷ 2 over the source and one
    line, warm; and the area that it and what passes at the origin ask for, mm²."""
    ohms = 230 / 6000 + OHMS[area] * 1.2 * metres / 1000
    amperes = 0.95 * 230 * sqrt(3) / 2 / ohms
    seconds = max(slower(amperes), GATES_100[1][1])
    return amperes, max(amperes * sqrt(seconds), 1450 * sqrt(0.1)) / 115


@pytest.mark.parametrize("metres", [20, 35, 45, 60, 70])
def test_the_line_behind_a_motors_fuse(metres):
    """The smallest cable that carries the motor and stands it is taken."""
    pair = motor(length=f"{metres} m", device_type="gG", device="100 A").outcome.sizing.pair
    stands = [area for area in ("6", "10", "16") if least_by_hand(area, metres)[1] <= float(area)]
    assert pair.size == stands[0]
    amperes, least = least_by_hand(pair.size, metres)
    assert pair.short.end == pytest.approx(amperes, rel=0.005)
    assert pair.short.least == pytest.approx(least, rel=0.02)


@pytest.mark.parametrize(
    ("earthing", "more"), [("TN-S", {}), ("TN-S", {"rcd": "300"}), ("TT", {"rcd": "300"})]
)
def test_no_earthing_and_no_residual_current_device_guards_a_line(earthing, more):
    """A short between two lines flows past both: 6 mm² fails as without them."""
    loop = "20" if earthing == "TT" else "0.1"
    found = motor(earthing=earthing, length="60 m", device_type="gG", device="100 A",
                  external_loop=loop, area="6", **more)  # fmt: skip
    assert "pin" in {one.name for one in found.report.findings if one.severity == "fail"}


def test_without_a_length_the_far_end_is_said_not_to_be_judged():
    found = motor(device_type="gG", device="100 A", area="6").report
    (said,) = [one for one in found.findings if one.name == "short_unknown"]
    assert said.severity == "check"


@pytest.mark.parametrize(
    ("kind_", "device", "amperes", "times", "seconds"),
    [
        # breakers at once from 5, 10, 20 times their rating on (IEC 60898-1), else not surely
        ("B", 32, 160, 5, 0.1), ("B", 32, 159, 5, None), ("C", 20, 200, 10, 0.1),
        ("C", 20, 199, 10, None), ("D", 80, 1600, 20, 0.1), ("D", 80, 1599, 20, None),
        # fuses at their gates: most A at 5 s and at 0.1 s
        ("gG", 100, 580, 0, 5.0), ("gG", 100, 1450, 0, 0.1), ("gG", 63, 320, 0, 5.0),
        ("gG", 63, 820, 0, 0.1), ("gG", 100, 400, 0, None),
    ],
)  # fmt: skip
def test_when_a_device_is_sure_to_open(kind_, device, amperes, times, seconds):
    found = seconds_at(kind_, float(device), float(amperes), float(times), BS)
    assert found == (pytest.approx(seconds, rel=0.02) if seconds else None)


@pytest.mark.parametrize(
    ("kind_", "device", "amperes", "breaker", "energy"),
    [
        # a fuse: no more than at its latest 0.1 s, whatever could flow
        ("gG", 100, 6000, False, 1450**2 * 0.1), ("gG", 63, 16_000, False, 820**2 * 0.1),
        # a breaker: the limiting class (EN 60898-1, class 3) or half a cycle, the smaller
        ("B", 32, 6000, True, 55_000), ("B", 16, 3000, True, 18_000), ("C", 40, 1000, True, 1e4),
        # beyond what it is tabulated for, and of a motor's type D: half a cycle of all of it
        ("B", 32, 16_000, True, 16_000**2 * 0.01), ("D", 80, 6000, True, 6000**2 * 0.01),
    ],
)  # fmt: skip
def test_what_a_device_lets_through(kind_, device, amperes, breaker, energy):
    assert lets_through(kind_, float(device), float(amperes), breaker) == pytest.approx(energy)


def test_more_current_behind_a_breaker_and_less_behind_a_fuse_asks_for_more():
    """At the origin what flows at most, at the far end what flows at least."""
    breakers = [short_of(900.0, o, 115, "D", 40.0, 20, BS).least for o in (2e3, 6e3, 1e4)]
    assert breakers == sorted(breakers) and breakers[0] < breakers[-1]
    fuses = [short_of(e, 3000.0, 115, "gG", 100.0, 0, BS).least for e in (600.0, 700.0, 900.0)]
    assert fuses == sorted(fuses, reverse=True) and fuses[0] > fuses[-1]


@pytest.mark.parametrize("code", ["bs7671-2018", "sans10142-2020", "asnzs3000-2018"])
def test_no_cable_that_is_chosen_stands_less_than_its_short(code):
    """Every device and length: what is chosen holds, or nothing is."""
    laid = {"reference_method": "C", "installation_method": "1", "installed": "touching"}
    judged = 0
    for device_type in ("gG", "C", "D"):
        for metres in (5, 30, 80, 150):
            found = motor(code=code, length=f"{metres} m", device_type=device_type, **laid).outcome
            if found is None:
                continue
            pair = found.sizing.pair
            if pair.short is not None and pair.passes:
                judged += 1
                assert pair.short.holds(float(pair.size)), (device_type, metres)
    assert judged
