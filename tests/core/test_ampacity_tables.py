"""What physics asks of every family's ampacity tables: aluminum beside copper, the order of the
methods of laying, growth with the area."""

from __future__ import annotations

from itertools import pairwise
from math import log, sqrt

import pytest

from voltaje.core.codes import editions

# IEC 60228, class 2 at 20 °C, Ω/km (from memory)
COPPER = {"16": 1.15, "25": 0.727, "35": 0.524, "50": 0.387, "70": 0.268, "95": 0.193, "120": 0.153,
          "150": 0.124, "185": 0.0991, "240": 0.0754, "300": 0.0601, "400": 0.0470, "500": 0.0366,
          "630": 0.0283}  # fmt: skip
ALUMINUM = {"16": 1.91, "25": 1.20, "35": 0.868, "50": 0.641, "70": 0.443, "95": 0.320,
            "120": 0.253, "150": 0.206, "185": 0.164, "240": 0.125, "300": 0.100, "400": 0.0778,
            "500": 0.0605, "630": 0.0469}  # fmt: skip
# each carries no less than the one before it: within insulation, in conduit, on a surface, in air
ORDERS = {
    "bs7671": [("103", "101", "100", "102", "C"), ("A", "B", "C", "E", "F")],
    "sans10142": [("4", "3", "1", "11"), ("4", "3", "1", "13")],
    "asnzs3000": [("fully", "partly", "touching", "spaced"), ("fully", "enclosed", "touching")],
}
LARGE = 1e6  # circular mils
BOOKS = {book.id: book for book in editions()}
METRIC = [(code, topic) for code, book in BOOKS.items() for topic in book.topics()
          if book.family in ORDERS and topic.startswith("ampacity") and book.has_table(topic)]  # fmt: skip
AWG = [(code, metal, heat) for code, book in BOOKS.items() if book.family not in ORDERS
       for metal in ("copper", "aluminum") for heat in (60, 75, 90)]  # fmt: skip


@pytest.mark.parametrize(("code", "topic"), [one for one in METRIC if one[1].endswith("_al")])
def test_aluminum_carries_by_the_root_of_the_resistances(code, topic):
    """The same heat: copper × √(R of copper ÷ R of aluminum). Never more than rounding above it;
    skin effect of the larger copper and shapes of their own leave it up to a tenth below."""
    own, copper = (BOOKS[code].table(t) for t in (topic, topic.removesuffix("_al")))
    compared = 0
    for column in set(own.columns) & set(copper.columns):
        beside = copper.column(column)
        for size, amperes in own.column(column).items():
            if size in beside and size in ALUMINUM:
                ratio = amperes / beside[size] / sqrt(COPPER[size] / ALUMINUM[size])
                assert 0.885 < ratio < 1.045, (column, size, ratio)
                compared += 1
    assert compared > 10


@pytest.mark.parametrize(("code", "topic"), METRIC)
def test_a_cooler_method_never_carries_less(code, topic):
    """But for 1 % where single cores of 50 mm² on a surface stand beside trefoil (table 4E1A)."""
    table = BOOKS[code].table(topic)
    for tail in {column.partition(" | ")[2] for column in table.columns}:
        for order in ORDERS[BOOKS[code].family]:
            columns = [f"{one} | {tail}" for one in order if f"{one} | {tail}" in table.columns]
            for one, other in pairwise(columns):
                less, more = table.column(one), table.column(other)
                assert all(less[s] <= more[s] * 1.01 for s in less if s in more), (one, other)


@pytest.mark.parametrize(("code", "metal", "heat"), AWG)
def test_ampacity_grows_with_the_area_to_a_power(code, metal, heat):
    """Heat leaves a surface that grows slower than the metal: amperes by the area to a power of 0.3
    to 0.8, over three sizes so that figures rounded to 5 A do not decide; above 1000 kcmil less, by
    skin effect, yet always more amperes."""
    book = BOOKS[code]
    mils = book.table("conductor_properties").column("circular mils")
    values = [(mils[size], amperes) for size, amperes in
              book.table("ampacity").column(f"{metal} {heat}").items()]  # fmt: skip
    for (area, amperes), (more, larger) in zip(values, values[3:], strict=False):
        assert larger > amperes
        assert more > LARGE or 0.3 < log(larger / amperes) / log(more / area) < 0.8, (area, more)


@pytest.mark.parametrize(
    "code", [code for code, book in BOOKS.items() if book.family not in ORDERS]
)
def test_awg_aluminum_stays_below_copper_by_its_conductivity(code):
    """√0.61 = 0.78 (IACS), within a rounding of 5 A and the sizes that are listed lower; above 1000
    kcmil skin effect takes more of copper."""
    table = BOOKS[code].table("ampacity")
    mils = BOOKS[code].table("conductor_properties").column("circular mils")
    for heat in (60, 75, 90):
        copper, own = table.column(f"copper {heat}"), table.column(f"aluminum {heat}")
        for size, amperes in own.items():
            if mils[size] > LARGE:
                continue
            assert amperes / copper[size] < sqrt(0.61) + 2.5 / copper[size] + 0.06, (heat, size)
            assert amperes / copper[size] > sqrt(0.61) - 5 / copper[size] - 0.04, (heat, size)
