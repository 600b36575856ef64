"""Table 220.55 and its notes: columns, boundaries, the cheaper way."""

from itertools import pairwise

import pytest

from voltaje.core.codes import NotCoveredError
from voltaje.core.electrical.loads import CountedLoad
from voltaje.core.rules.north_america import cooking


def loads(*ratings):
    """(kW, count) or kW."""
    pairs = [r if isinstance(r, tuple) else (r, 1) for r in ratings]
    return [
        CountedLoad(f"c{i}", "Range", kw * 1000, kw / 0.24, count=n)
        for i, (kw, n) in enumerate(pairs)
    ]


@pytest.mark.parametrize(
    ("ratings", "kilowatts", "way"),
    [
        ([12], 8, "column_c"),
        ([12.4], 8, "column_c"),  # 0.4 above 12 is no major fraction
        ([12.5], 8.4, "column_c"),  # half counts whole
        ([13.6], 8.8, "column_c"),
        ([14.2], 8.8, "column_c"),
        ([14], 8.8, "column_c"),
        ([27], 14, "column_c"),
        ([8.76], 8, "column_c"),
        ([8.75], 7, "percentage"),  # column B, 80 %
        ([3.5], 2.8, "percentage"),  # column B begins at 3½ kW
        ([3.4], 2.72, "percentage"),  # column A
        ([(4, 2), 5.1], 7.205, "percentage"),  # three by column B at 55 %
        ([(3, 2), (6, 2)], 2 * 3 * 0.75 + 2 * 6 * 0.65, "percentage"),  # each column its own number
        ([6, 12], 11, "column_c"),  # 4.8 + 8 by the columns is more
        ([2, 12], 1.6 + 8, "percentage"),  # and here it is less than 11
        ([(16, 2)], 11 * 1.2, "column_c"),
        ([9, 16], 11 * 1.1, "column_c"),  # note 2: (12 + 16) ÷ 2 = 14
        ([(8, 30)], 45, "column_c"),  # less than 24 % of 240 kW
    ],
)
def test_demand(code_2020, ratings, kilowatts, way):
    found = cooking.ways(loads(*ratings), code_2020)
    assert found[0].demand == pytest.approx(kilowatts * 1000)
    assert found[0].name == way
    assert all(a.demand <= b.demand for a, b in pairwise(found))


def test_every_line_shows_the_column_it_used(code_2020):
    for way in cooking.ways(loads(2, 5, 14), code_2020):
        for line in cooking.report(way, code_2020):
            columns = {rule.column for rule in line.rules if rule.is_table}
            if line.unit == "VA":
                percent = any("percent" in column for column in columns)
                assert percent != (columns == {"C kW"})
                assert ("kW" in line.expression) != percent


def test_more_than_27_kw_is_not_covered(code_2020):
    with pytest.raises(NotCoveredError, match="27 kW"):
        cooking.demand(loads(27.1), code_2020)
    assert cooking.demand([], code_2020) == 0


@pytest.mark.parametrize(
    ("excess", "counted"), [(-3, 0), (0, 0), (0.4, 0), (0.5, 1), (1.49, 1), (1.6, 2), (2.2, 2)]
)
def test_major_fraction(excess, counted):
    assert cooking.major_fraction_kw(excess) == counted
