"""The plain sheet: power, amperes and volts, any one of them unknown."""

from math import sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from voltaje.core.kinds import Context, evaluate, kind

KIND = kind("amperes")


def found(**document):
    return evaluate(KIND, document, Context())


def worked(**document):
    result = found(**document)
    assert result.report, result.problems
    return result.report


@pytest.mark.parametrize(
    ("document", "name", "value"),
    [
        # kVA × 1,000 ÷ (1.732 × V) and kVA × 1,000 ÷ V, as transformer nameplate tables print them:
        # 75 kVA at 208 V 208 A, 112.5 kVA at 480 V 135 A, 25 kVA at 240 V 104 A (recalled)
        ({"power": "75 kVA", "voltage": "208 V", "phases": "3"}, "amperes", 208.18),
        ({"power": "112.5 kVA", "voltage": "480 V", "phases": "3"}, "amperes", 135.32),
        ({"power": "25 kVA", "voltage": "240 V"}, "amperes", 104.17),
        # kW ÷ (1.732 × V × pf)
        ({"power": "15 kW", "voltage": "480 V", "phases": "3", "power_factor": "0.8"}, "amperes", 22.55),
        ({"power": "4500 W", "voltage": "240"}, "amperes", 18.75),
        # horsepower: by Table 430.248 and 430.250 (recalled), at the motor's or the supply's volts
        ({"power": "10 hp", "voltage": "460 V", "phases": "3"}, "amperes", 14),
        ({"power": "10 hp", "voltage": "480 V", "phases": "3"}, "amperes", 14),
        ({"power": "1-1/2 hp", "voltage": "115 V"}, "amperes", 20),
        # by formula only where it is asked for: 10 × 746 ÷ (0.88 × 0.85 × 1.732 × 480)
        ({"power": "10 hp", "voltage": "480 V", "phases": "3", "motor": "formula", "efficiency": "88",
          "power_factor": "0.85"}, "amperes", 12.0),
        # back
        ({"current": "104.17 A", "voltage": "240 V"}, "kva", 25.0),
        ({"current": "22.55", "voltage": "480", "phases": "3", "power_factor": "0.8"}, "kw", 15.0),
        ({"power": "25 kVA", "current": "104.17 A"}, "volts", 240.0),
        ({"power": "10 kW", "current": "50 A", "voltage": "240 V"}, "power_factor", 0.8333),
        ({"current": "50 A", "voltage": "240 V", "power_factor": "0.9", "efficiency": "90"},
         "horsepower", 240 * 50 * 0.9 * 0.9 / 746),
    ],
)  # fmt: skip
def test_any_one_unknown(document, name, value):
    assert worked(**document).value(name) == pytest.approx(value, rel=1e-3)


@pytest.mark.parametrize(
    ("document", "path", "words"),
    [
        ({}, "", "Give two of the three"), ({"power": "5 kW"}, "current", "Give two of the three"),
        ({"power": "5 A", "voltage": "240"}, "power", "a field of their own"),
        ({"power": "5 kW", "voltage": "240", "current": "30", "power_factor": "0.9"}, "power_factor", "Nothing is left"),
        ({"power": "5 kVA", "voltage": "240", "current": "30"}, "power", "in kW or hp"),
        ({"power": "50 kW", "voltage": "240", "current": "30"}, "power", "more than the 7.2 kVA"),
        ({"power": "0", "current": "30"}, "power", "no power"),
        ({"power": "5 hp", "voltage": "240", "efficiency": "0"}, "efficiency", "above 0"),
    ],
)  # fmt: skip
def test_what_cannot_be_solved(document, path, words):
    problem = found(**document).problems[0]
    assert problem.path == path and words in problem.words


def test_a_motor_that_the_table_does_not_have_goes_by_the_formula_with_a_word():
    sheet = worked(power="10 hp", volts="400 V", phases="3")
    assert sheet.status == "check" and sheet.value("amperes") == pytest.approx(
        7460 / (400 * sqrt(3))
    )


@given(st.floats(1, 4000), st.floats(50, 1000), st.floats(0.3, 1.0), st.sampled_from(["1", "3"]))
def test_there_and_back(amperes, volts, factor, phases):
    same = {"phases": phases, "power_factor": factor}
    there = worked(current=amperes, volts=volts, **same)
    kilowatts = there.value("kw")
    back = worked(power=f"{kilowatts * 1000!r} W", volts=volts, **same)
    assert back.value("amperes") == pytest.approx(amperes, rel=1e-6)
    alone = worked(power=f"{kilowatts * 1000!r} W", volts=volts, current=amperes, phases=phases)
    assert alone.value("power_factor") == pytest.approx(factor, rel=1e-6)
