"""What people type, and what it is printed as."""

import pint
import pytest
from hypothesis import given
from hypothesis import strategies as st

from voltaje.core import quantities
from voltaje.core.quantities import UnreadableError


@pytest.mark.parametrize("unit", quantities.FACTORS)
def test_factors_agree_with_a_units_library(unit):
    """pint's own registry, but for the horsepower, which the trade takes as 746 W."""
    registry, base = (
        pint.UnitRegistry(),
        next(
            name
            for name, (kind, one) in quantities.FACTORS.items()
            if kind == quantities.FACTORS[unit][0] and one == 1
        ),
    )
    spelled = unit if "_" not in unit else f"{unit.split('_')[1]}**2"
    based = base if "_" not in base else f"{base.split('_')[1]}**2"
    wanted = registry.Quantity(1.0, spelled).to(based).magnitude
    assert quantities.factor(unit, base) == pytest.approx(
        wanted, rel=1e-3 if unit == "horsepower" else 1e-12
    )


def test_units_of_two_kinds_are_not_turned_into_one_another():
    with pytest.raises(ValueError, match="foot is no watt"):
        quantities.factor("foot", "watt")


DIMENSIONS = [
    quantities.POWER,
    quantities.AREA,
    quantities.LENGTH,
    quantities.VOLTAGE,
    quantities.CURRENT,
    quantities.HORSEPOWER,
]


@pytest.mark.parametrize(
    ("typed", "dimension", "value"),
    [
        ("3.2 kW", quantities.POWER, 3200), ("3200", quantities.POWER, 3200), ("3,200 W", quantities.POWER, 3200),
        ("3,2 kW", quantities.POWER, 3200), ("3.200,5 W", quantities.POWER, 3200.5),
        ("0,500 kVA", quantities.POWER, 500), ("1,234,567", quantities.POWER, 1_234_567),
        ("4.5kW", quantities.POWER, 4500), (" 1300 w ", quantities.POWER, 1300), ("1.2 MVA", quantities.POWER, 1.2e6),
        ("7-1/2 hp", quantities.HORSEPOWER, 7.5), ("7 1/2hp", quantities.HORSEPOWER, 7.5),
        ("1/2hp", quantities.HORSEPOWER, 0.5), ("½ hp", quantities.HORSEPOWER, 0.5),
        ("7½ hp", quantities.HORSEPOWER, 7.5), ("82 ft", quantities.LENGTH, 82 * 0.3048), ("82'", quantities.LENGTH, 82 * 0.3048),
        ("82' 6\"", quantities.LENGTH, 82.5 * 0.3048), ("25 m", quantities.LENGTH, 25),
        ("1500 sq ft", quantities.AREA, 1500 * 0.3048**2), ("1500ft2", quantities.AREA, 1500 * 0.3048**2), ("1,500 ft²", quantities.AREA, 1500 * 0.3048**2),
        ("140 m²", quantities.AREA, 140), ("140m2", quantities.AREA, 140),
        ("12 A", quantities.CURRENT, 12), ("240V", quantities.VOLTAGE, 240), ("1e3 W", quantities.POWER, 1000),
        ("1 480 sq ft", quantities.AREA, 1480 * 0.3048**2), ("-5 W", quantities.POWER, -5),
    ],
)  # fmt: skip
def test_reads(typed, dimension, value):
    assert quantities.read(typed, dimension) == pytest.approx(value)


@pytest.mark.parametrize(
    ("typed", "dimension", "words"),
    [
        ("", quantities.POWER, "4500 W"), ("lots", quantities.POWER, "does not read as a load"),
        ("12 A", quantities.POWER, "That is a current"), ("5 kW 3 kW", quantities.POWER, "One figure"),
        ("1,23,456", quantities.POWER, "does not read"), ("1/0 hp", quantities.HORSEPOWER, "does not read"),
        ("12 parsecs", quantities.LENGTH, "82 ft"), ("٣ kW٣", quantities.POWER, "does not read"),
        ("9" * 80, quantities.POWER, "too long"), ("1e999 W", quantities.POWER, "does not read"),
        ("NaN", quantities.POWER, "does not read"), ("4.5.6 kW", quantities.POWER, "does not read"),
        ("=A1+B2", quantities.POWER, "does not read"), ("10 kW\t20 kW", quantities.POWER, "One figure"),
        ("<b>5</b>", quantities.POWER, "does not read"),
    ],
)  # fmt: skip
def test_says_what_it_cannot_read(typed, dimension, words):
    with pytest.raises(UnreadableError, match="(?s).*") as error:
        quantities.read(typed, dimension)
    assert words in str(error.value)


@given(st.sampled_from(DIMENSIONS), st.integers(0, 10**10), st.sampled_from(["us", "metric"]))
def test_prints_what_it_reads(dimension, tenthousandths, system):
    value = quantities.read(str(tenthousandths / 10_000), dimension, system)
    text = quantities.show(value, dimension, system)
    assert quantities.read(text, dimension, system) == pytest.approx(value, abs=2e-3, rel=1e-9)
    assert quantities.show(quantities.read(text, dimension, system), dimension, system) == text


@given(st.text(max_size=80), st.sampled_from(DIMENSIONS))
def test_any_text_is_read_or_refused(text, dimension):
    try:
        assert quantities.read(text, dimension) == quantities.read(text, dimension)
    except UnreadableError as error:
        assert dimension.example in str(error)


@pytest.mark.parametrize(
    ("typed", "plate"),
    [
        ("4.5 kW", quantities.Nameplate(watts=4500, active=True)), (1300, quantities.Nameplate(watts=1300)),
        ("6 A 115 V", quantities.Nameplate(amperes=6, volts=115)),
        ("115V, 6A", quantities.Nameplate(amperes=6, volts=115)),
        ("6 A at 115 V", quantities.Nameplate(amperes=6, volts=115)),
        ("10 A", quantities.Nameplate(amperes=10)), ("1/2 hp", quantities.Nameplate(horsepower=0.5)),
        ("1/2 hp 230 V", quantities.Nameplate(horsepower=0.5, volts=230)),
        ("14.4 Ω 240 V", quantities.Nameplate(watts=4000, volts=240, active=True, ohms=14.4)),
        ("240V 14.4 ohms", quantities.Nameplate(watts=4000, volts=240, active=True, ohms=14.4)),
        ("14.4 ohm", quantities.Nameplate(active=True, ohms=14.4)),
        ("4500 W 240 V", quantities.Nameplate(watts=4500, volts=240, active=True)),
    ],
)  # fmt: skip
def test_reads_nameplates(typed, plate):
    assert quantities.read_nameplate(typed) == plate


@pytest.mark.parametrize("typed", ["240 V", "6 A 0 V", "6 A 5 A", "5 ft", "6 A 1 hp", "hot", ""])
def test_refuses_what_is_no_nameplate(typed):
    with pytest.raises(UnreadableError):
        quantities.read_nameplate(typed)


def test_metric_bare_figures_are_metres():
    assert quantities.read("140", quantities.AREA, "metric") == 140
    assert quantities.show(140, quantities.AREA, "metric") == "140 m²"


@pytest.mark.parametrize("typed", [*range(1, 400), 0.5, 12.25, 1480, 29_999, 30_000])
def test_feet_that_were_typed_come_back_as_they_were(typed):
    """Lengths and areas are kept in m and m²: 45 ft stays 45 ft, in figures and in print."""
    metres = quantities.read(f"{typed} ft", quantities.LENGTH)
    assert (
        quantities.feet(metres) == typed
        and quantities.show(metres, quantities.LENGTH) == f"{typed:,} ft"
    )
    area = quantities.read(f"{typed} ft²", quantities.AREA)
    assert (
        quantities.square_feet(area) == typed
        and quantities.show(area, quantities.AREA) == f"{typed:,} ft²"
    )
