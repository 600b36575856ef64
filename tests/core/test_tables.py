"""Every table against something other than itself.

The tables are from memory. What is checked here is what can be without the book: closed forms,
physics, a second table of the code that follows from the first, and one edition by the next.
"""

from itertools import pairwise
from math import sqrt

import pytest

from voltaje.core.codes import NotCoveredError, edition, editions
from voltaje.core.rules.north_america.conductors import service_conductor, smallest
from voltaje.core.rules.north_america.cooking import column_c
from voltaje.core.rules.north_america.motors import horsepower_of, single_phase_current
from voltaje.core.rules.north_america.overcurrent import next_standard_device

CODE = edition("nec-2020")


def test_every_table_says_where_it_comes_from():
    sources = (
        "NFPA 70",
        "CSA C22.1",
        "BS 7671",
        "BS EN",
        "SANS ",
        "AS/NZS ",
        "IEC 60",
        "common practice",
    )
    elsewhere = ("IEC ", "SANS ", "AS", "NRS ", "ANSI ", "CSA ", "BS EN ", "appendix ", "guidance")
    for code in editions():
        for topic in code.topics():
            text = code.text(topic)
            assert text.says and text.checked
            assert text.number[0].isdigit() or text.number.startswith(elsewhere)
            if text.is_table:
                table = code.table(topic)
                assert table.meta["source"].startswith(sources) and table.meta["checked"]


@pytest.mark.parametrize("count", range(1, 101))
def test_column_c_follows_its_closed_form(count):
    """Column C is 15 kW plus one for each from 5 to 40, 25 kW plus ¾ from 41; 8, 11, 14, 17 below.

    Common practice among handbook writers; no single source.
    """
    wanted = {1: 8, 2: 11, 3: 14, 4: 17}.get(
        count, 15 + count if count <= 40 else 25 + 0.75 * count
    )
    assert column_c(count, CODE)[0] == pytest.approx(wanted)


def test_percentages_fall_and_columns_a_and_b_are_no_kilowatts():
    rows = CODE.table("cooking").rows.values()
    for column in ("A percent", "B percent"):
        values = [float(row[column]) for row in rows]
        assert all(a >= b for a, b in pairwise(values)) and values[0] == 80 and values[-1] >= 16
    assert all(float(row["B percent"]) <= float(row["A percent"]) for row in rows)


@pytest.mark.parametrize("count", range(1, 60))
def test_dryers_follow_the_two_formulas(count):
    """Table 220.54: 47 − (n − 11) % to 23 dryers, 35 − ½ (n − 23) % to 42, 25 % beyond."""
    table = CODE.table("dryers")
    percent = float(table.rows[table.span(count)]["percent"])
    few = {5: 85, 6: 75, 7: 65, 8: 60, 9: 55, 10: 50, 11: 47}
    if count <= 4:
        wanted = 100
    elif count <= 11:
        wanted = few[count]
    elif count <= 23:
        wanted = 47 - (count - 11)
    else:
        wanted = 35 - 0.5 * (count - 23) if count <= 42 else 25
    assert percent == wanted


@pytest.mark.parametrize("material", ["copper", "aluminum"])
def test_ampacity_rises_with_size_and_temperature(material):
    table = CODE.table("ampacity")
    columns = [table.column(f"{material} {t}") for t in (60, 75, 90)]
    for column in columns:
        assert all(a < b for a, b in pairwise(column.values()))
    for cool, warm in pairwise(columns):
        assert all(cool[size] < warm[size] for size in warm if size in cool)


@pytest.mark.parametrize("material", ["copper", "aluminum"])
def test_ampacity_columns_agree_with_heat_flow(material):
    """At one ambient, current goes with the root of the temperature rise: (60−30), (75−30),
    (90−30) K, as in the Neher–McGrath calculation with all else equal. The printed figures are
    rounded to 5 A, which is half the tolerance for the small sizes."""
    table = CODE.table("ampacity")
    cool, base, warm = (table.column(f"{material} {t}") for t in (60, 75, 90))
    for size in list(base)[4:]:
        rounding = 2.5 * 2 / base[size]
        assert cool[size] / base[size] == pytest.approx(sqrt(30 / 45), abs=0.03 + rounding), size
        assert warm[size] / base[size] == pytest.approx(sqrt(60 / 45), abs=0.04 + rounding), size


def test_aluminum_carries_less_than_copper_by_its_resistivity():
    """Root of the resistivities' ratio (IACS 61 % against 100 %) is 0.78."""
    table = CODE.table("ampacity")
    copper, aluminum = table.column("copper 75"), table.column("aluminum 75")
    for size in list(aluminum)[2:]:
        assert aluminum[size] / copper[size] == pytest.approx(sqrt(0.61), abs=0.07), size


# Table 310.12(A), 2020 edition, recalled apart from the ampacity table.
DWELLING_TABLE = {
    100: ("4", "2"), 110: ("3", "1"), 125: ("2", "1/0"), 150: ("1", "2/0"), 175: ("1/0", "3/0"),
    200: ("2/0", "4/0"), 225: ("3/0", "250"), 250: ("4/0", "300"), 300: ("250", "350"),
    350: ("350", "500"), 400: ("400", "600"),
}  # fmt: skip


@pytest.mark.parametrize("rating", DWELLING_TABLE)
@pytest.mark.parametrize("code", [item.id for item in editions("nec")])
def test_83_percent_gives_the_dwelling_table(rating, code):
    sizes = tuple(
        service_conductor(rating, rating, material, edition(code), True).size
        for material in ("copper", "aluminum")
    )
    assert sizes == DWELLING_TABLE[rating]


def test_motor_currents_hang_together():
    table = CODE.table("motor_current")
    for row, cells in table.rows.items():
        at_115, at_200, at_208, at_230 = (float(cells[name]) for name in table.columns)
        assert at_115 == pytest.approx(2 * at_230, rel=0.01)
        assert at_208 == pytest.approx(1.1 * at_230, rel=0.025)
        assert at_200 == pytest.approx(1.15 * at_230, rel=0.025)
        share = horsepower_of(row) * 746 / (at_230 * 230)  # efficiency times power factor
        assert 0.2 < share < 0.85, row
    shares = [horsepower_of(r) * 746 / float(c["230 V"]) for r, c in table.rows.items()]
    assert all(a <= b * 1.02 for a, b in pairwise(shares))  # larger motors are better motors


@pytest.mark.parametrize(
    ("amperes", "device"), [(15, 15), (15.1, 20), (40.0, 40), (100, 100), (100.001, 110),
                            (131, 150), (201, 225), (801, 1000), (6000, 6000)],
)  # fmt: skip
def test_next_standard_device(amperes, device):
    """240.6(A); 40.0 A reached by any arithmetic fits a 40 A device."""
    assert next_standard_device(amperes, CODE).value == device
    assert next_standard_device(0.1 * 3 / 0.3 * 40, CODE).value == 40


def test_beyond_a_table_it_fails_loudly():
    with pytest.raises(NotCoveredError, match=r"6,001 A.*not covered by NEC 2020"):
        next_standard_device(6001, CODE)
    with pytest.raises(NotCoveredError, match="12 hp"):
        single_phase_current(12, 240, CODE)
    with pytest.raises(NotCoveredError):
        CODE.rule("no such topic")
    with pytest.raises(NotCoveredError):
        edition("../nec-2020")


@pytest.mark.parametrize(
    ("needed", "size", "sets"),
    [
        (130, "1", 1),
        (130.5, "1/0", 1),
        (420, "600", 1),
        (421, "4/0", 2),
        (760, "500", 2),
        (6000, "600", 15),
    ],
)
def test_smallest_conductor_and_parallel_sets(needed, size, sets):
    found = smallest(needed, "copper", CODE)
    assert (found.size, found.sets) == (size, sets) and found.ampacity >= needed


def test_numbers_follow_the_edition():
    numbers = {e.id: [e.text(t).number for t in ("unit_load", "lighting_demand", "ampacity",
               "dwelling_conductors")] for e in editions("nec")}  # fmt: skip
    assert numbers == {
        "nec-2017": ["220.12", "220.42", "310.15(B)(16)", "310.15(B)(7)"],
        "nec-2020": ["220.14(J)", "220.42", "310.16", "310.12"],
        "nec-2023": ["220.41", "220.45", "310.16", "310.12"],
    }
