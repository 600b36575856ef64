"""What people type, and what it is printed as."""

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from voltaje.core import units
from voltaje.core.units import UnreadableError


@pytest.mark.parametrize("unit", units.FACTORS)
def test_factors_agree_with_a_units_library(unit):
    """pint's own registry, but for the horsepower, which the trade takes as 746 W."""
    registry, base = (
        pint.UnitRegistry(),
        next(
            name
            for name, (kind, one) in units.FACTORS.items()
            if kind == units.FACTORS[unit][0] and one == 1
        ),
    )
    spelled = unit if "_" not in unit else f"{unit.split('_')[1]}**2"
    based = base if "_" not in base else f"{base.split('_')[1]}**2"
    wanted = registry.Quantity(1.0, spelled).to(based).magnitude
    assert units.factor(unit, base) == pytest.approx(
        wanted, rel=1e-3 if unit == "horsepower" else 1e-12
    )


def test_units_of_two_kinds_are_not_turned_into_one_another():
    with pytest.raises(ValueError, match="foot is no watt"):
        units.factor("foot", "watt")


DIMENSIONS = [units.POWER, units.AREA, units.LENGTH, units.VOLTAGE, units.CURRENT, units.HORSEPOWER]


@pytest.mark.parametrize(
    ("typed", "dimension", "value"),
    [
        ("3.2 kW", units.POWER, 3200), ("3200", units.POWER, 3200), ("3,200 W", units.POWER, 3200),
        ("3,2 kW", units.POWER, 3200), ("3.200,5 W", units.POWER, 3200.5),
        ("0,500 kVA", units.POWER, 500), ("1,234,567", units.POWER, 1_234_567),
        ("4.5kW", units.POWER, 4500), (" 1300 w ", units.POWER, 1300), ("1.2 MVA", units.POWER, 1.2e6),
        ("7-1/2 hp", units.HORSEPOWER, 7.5), ("7 1/2hp", units.HORSEPOWER, 7.5),
        ("1/2hp", units.HORSEPOWER, 0.5), ("½ hp", units.HORSEPOWER, 0.5),
        ("7½ hp", units.HORSEPOWER, 7.5), ("82 ft", units.LENGTH, 82 * 0.3048), ("82'", units.LENGTH, 82 * 0.3048),
        ("82' 6\"", units.LENGTH, 82.5 * 0.3048), ("25 m", units.LENGTH, 25),
        ("1500 sq ft", units.AREA, 1500 * 0.3048**2), ("1500ft2", units.AREA, 1500 * 0.3048**2), ("1,500 ft²", units.AREA, 1500 * 0.3048**2),
        ("140 m²", units.AREA, 140), ("140m2", units.AREA, 140),
        ("12 A", units.CURRENT, 12), ("240V", units.VOLTAGE, 240), ("1e3 W", units.POWER, 1000),
        ("1 480 sq ft", units.AREA, 1480 * 0.3048**2), ("-5 W", units.POWER, -5),
    ],
)  # fmt: skip
def test_reads(typed, dimension, value):
    assert units.read(typed, dimension) == pytest.approx(value)


@pytest.mark.parametrize(
    ("typed", "dimension", "words"),
    [
        ("", units.POWER, "4500 W"), ("lots", units.POWER, "does not read as a load"),
        ("12 A", units.POWER, "That is a current"), ("5 kW 3 kW", units.POWER, "One figure"),
        ("1,23,456", units.POWER, "does not read"), ("1/0 hp", units.HORSEPOWER, "does not read"),
        ("12 parsecs", units.LENGTH, "82 ft"), ("٣ kW٣", units.POWER, "does not read"),
        ("9" * 80, units.POWER, "too long"), ("1e999 W", units.POWER, "does not read"),
        ("NaN", units.POWER, "does not read"), ("4.5.6 kW", units.POWER, "does not read"),
        ("=A1+B2", units.POWER, "does not read"), ("10 kW\t20 kW", units.POWER, "One figure"),
        ("<b>5</b>", units.POWER, "does not read"),
    ],
)  # fmt: skip
def test_says_what_it_cannot_read(typed, dimension, words):
    with pytest.raises(UnreadableError, match="(?s).*") as error:
        units.read(typed, dimension)
    assert words in str(error.value)


@given(st.sampled_from(DIMENSIONS), st.integers(0, 10**10), st.sampled_from(["us", "metric"]))
def test_prints_what_it_reads(dimension, tenthousandths, system):
    value = units.read(str(tenthousandths / 10_000), dimension, system)
    text = units.show(value, dimension, system)
    assert units.read(text, dimension, system) == pytest.approx(value, abs=2e-3, rel=1e-9)
    assert units.show(units.read(text, dimension, system), dimension, system) == text


@given(st.text(max_size=80), st.sampled_from(DIMENSIONS))
def test_any_text_is_read_or_refused(text, dimension):
    try:
        assert units.read(text, dimension) == units.read(text, dimension)
    except UnreadableError as error:
        assert dimension.example in str(error)


@pytest.mark.parametrize(
    ("typed", "plate"),
    [
        ("4.5 kW", units.Nameplate(watts=4500, active=True)), (1300, units.Nameplate(watts=1300)),
        ("6 A 115 V", units.Nameplate(amperes=6, volts=115)),
        ("115V, 6A", units.Nameplate(amperes=6, volts=115)),
        ("6 A at 115 V", units.Nameplate(amperes=6, volts=115)),
        ("10 A", units.Nameplate(amperes=10)), ("1/2 hp", units.Nameplate(horsepower=0.5)),
        ("1/2 hp 230 V", units.Nameplate(horsepower=0.5, volts=230)),
        ("4500 W 240 V", units.Nameplate(watts=4500, volts=240, active=True)),
    ],
)  # fmt: skip
def test_reads_nameplates(typed, plate):
    assert units.read_nameplate(typed) == plate


@pytest.mark.parametrize("typed", ["240 V", "6 A 0 V", "6 A 5 A", "5 ft", "6 A 1 hp", "hot", ""])
def test_refuses_what_is_no_nameplate(typed):
    with pytest.raises(UnreadableError):
        units.read_nameplate(typed)


def test_metric_bare_figures_are_metres():
    assert units.read("140", units.AREA, "metric") == 140
    assert units.show(140, units.AREA, "metric") == "140 m²"


@pytest.mark.parametrize("typed", [*range(1, 400), 0.5, 12.25, 1480, 29_999, 30_000])
def test_feet_that_were_typed_come_back_as_they_were(typed):
    """Lengths and areas are kept in m and m²: 45 ft stays 45 ft, in figures and in print."""
    metres = units.read(f"{typed} ft", units.LENGTH)
    assert units.feet(metres) == typed and units.show(metres, units.LENGTH) == f"{typed:,} ft"
    area = units.read(f"{typed} ft²", units.AREA)
    assert units.square_feet(area) == typed and units.show(area, units.AREA) == f"{typed:,} ft²"
