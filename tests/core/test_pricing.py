"""Prices of an order by hand: amounts a line, sums, what has no price. Invented prices."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.materials import MaterialLine, Takeoff
from voltaje.core.materials.pricing import (
    PriceError,
    by_supplier,
    compared,
    ordered,
    priced,
    read_row,
)
from voltaje.core.report import say

FOOT = 0.3048
WIRE = MaterialLine(
    "conductors", "conductor|12|copper|THHN|black", say("12 AWG"), 68.2 * FOOT, "m", ("c",)
)
BREAKER = MaterialLine("devices", "device|20|1|||", say("20 A"), 3, "", ("c",))
PIPE = MaterialLine("raceways", "raceway|1/2 in EMT", say("1/2 in EMT"), 33.3, "m", ("c",))
ORDER = Takeoff((WIRE, PIPE, BREAKER), ())


def catalogue(*rows):
    found = [
        read_row(dict(zip(("key", "price", "hours", "per", "supplier"), row, strict=False)))
        for row in rows
    ]
    return {one.key: one for one in found}


def test_an_order_by_hand():
    """69 ft at 310 for 1,000 ft is 21.39; 110 ft of pipe at 0.92 a foot 101.20; 3 breakers at 8.45 25.35."""
    rows = catalogue((WIRE.key, "310", "6", "1000 ft", "North"), (PIPE.key, "0.92", "0.04", "ft", "North"),
                     (BREAKER.key, "8.45", "0.25", "each", "East"))  # fmt: skip
    found = priced(ORDER, rows, True, Decimal(90), Decimal(15))
    assert [one.ordered for one in found.lines] == [69, 110, 3]
    assert [one.amount for one in found.lines] == [
        Decimal("21.39"),
        Decimal("101.20"),
        Decimal("25.35"),
    ]
    assert found.materials == Decimal("147.94") and found.mark_up == Decimal("22.19")
    assert [one.hours for one in found.lines] == [Decimal("0.41"), Decimal("4.40"), Decimal("0.75")]
    assert found.hours == Decimal("5.56") and found.labour == Decimal("500.40")
    assert found.total == Decimal("670.53") and (found.unpriced, found.untimed) == (0, 0)
    assert [(name, len(lines)) for name, lines in by_supplier(found.lines)] == [
        ("East", 1),
        ("North", 2),
    ]


@pytest.mark.parametrize(("row", "unpriced", "untimed"), [
    ((WIRE.key, "310", "", "1000 ft"), 2, 3), ((WIRE.key, "", "6", "1000 ft"), 3, 2),
    ((WIRE.key, "3", "1", "each"), 3, 3),  # a price for a piece is none for a length
    ((BREAKER.key, "3", "1", "ft"), 3, 3), ((BREAKER.key, "0", "0", ""), 2, 2), (("other", "5", "1", ""), 3, 3),
])  # fmt: skip
def test_what_has_no_price_is_counted_not_zero(row, unpriced, untimed):
    found = priced(ORDER, catalogue(row), True)
    assert (found.unpriced, found.untimed) == (unpriced, untimed)
    assert all((one.amount is None) or one.row is not None for one in found.lines)


@pytest.mark.parametrize(("quantity", "us", "whole"), [
    (33.3, False, 34), (33.0, False, 33), (100 * FOOT, True, 100), (100.01 * FOOT, True, 101), (0.1, True, 1),
])  # fmt: skip
def test_lengths_are_whole_and_never_short(quantity, us, whole):
    assert ordered(MaterialLine("conductors", "k", say("x"), quantity, "m", ()), us) == whole


@pytest.mark.parametrize(("texts", "words"), [
    ({"key": "", "price": "3"}, "No key"), ({"key": "k", "price": "dear"}, "“dear” is no figure"),
    ({"key": "k", "price": "-3"}, "“-3” is no figure"), ({"key": "k", "hours": "1e9"}, "Hours"),
    ({"key": "k", "price": "nan"}, "Price"), ({"key": "k", "per": "reel"}, "one of 1, each, m, 100 m, ft"),
])  # fmt: skip
def test_a_row_that_cannot_be_read_says_what_can(texts, words):
    with pytest.raises(PriceError, match=words.split("(")[0]):
        read_row(texts)


def test_prices_are_read_as_people_write_them():
    row = read_row(
        {
            "key": " k ",
            "price": "1,310.50",
            "hours": "1/2",
            "per": " 1000  FT ",
            "supplier": " North ",
        }
    )
    assert (row.key, row.price, row.hours, row.per, row.supplier) == (
        "k",
        Decimal("1310.5"),
        Decimal("0.5"),
        "1000 ft",
        "North",
    )


@settings(max_examples=examples(40), deadline=None)
@given(st.floats(0.01, 5000), st.floats(0.01, 5000), st.decimals(0, 1000, places=2), st.booleans())
def test_more_of_it_costs_no_less(one, more, price, us):
    low, high = sorted((one, more))
    rows = catalogue((WIRE.key, str(price), "1", "100 ft" if us else "100 m"))
    cost = [
        priced(
            Takeoff((MaterialLine("conductors", WIRE.key, say("x"), length, "m", ()),), ()),
            rows,
            us,
        ).total
        for length in (low, high)
    ]
    assert cost[0] <= cost[1]


def test_two_orders_side_by_side():
    """60 ft less of 12 AWG at 310 for 1,000 ft, two breakers more at 8.45, a pipe that was not there."""
    rows = catalogue((WIRE.key, "310", "", "1000 ft"), (BREAKER.key, "8.45", "", "each"))
    shorter = MaterialLine("conductors", WIRE.key, say("12 AWG"), 9 * FOOT, "m", ("c",))
    more = MaterialLine("devices", BREAKER.key, say("20 A"), 5, "", ("c",))
    before = priced(Takeoff((WIRE, BREAKER), ()), rows, True)
    after = priced(Takeoff((shorter, PIPE, more), ()), rows, True)
    found = [
        (one.line.key, one.before, one.after, one.difference) for one in compared(before, after)
    ]
    assert found == [
        (WIRE.key, 69, 9, Decimal("-18.60")),
        (PIPE.key, 0, 110, None),
        (BREAKER.key, 3, 5, Decimal("16.90")),
    ]
    assert compared(after, after) == ()
