"""Hands on the table and the sheets, over every kind of line: what is kept is what was typed."""

import pytest
from browser.hands import PACES, Hands, settled, table
from browser.weather import LINE
from playwright.sync_api import expect

LINES = {
    "at once": {},
    "after half a second": {"delays": (0.5,)},
    "out of order": {"delays": (0.9, 0, 0.4, 0.05)},
    "failing": {"delays": (0.05,), "failing": 2},
    "losing answers": {"delays": (0.1,), "losing": 2},
}
ROWS = [
    ("Wheel 1", "recep", "6", "41"), ("Spray booth", "air", "23 A", "62 ft"),
    ("Lamp row", "light", "788 VA", "55 ft"), ("Water heater", "water", "4.5 kW", "30 ft"),
]  # fmt: skip


@pytest.fixture
def shop(demo):
    return demo("Shop and gallery")


def new_row(page):
    return page.locator("#circuits tbody tr.new input").first


@pytest.mark.parametrize("pace", PACES)
@pytest.mark.parametrize("line", LINES)
def test_rows_typed_across_a_board_are_kept_as_typed(shop, pace, line):
    before = table(shop)
    LINE.set(**LINES[line])
    hands = Hands(shop, pace)
    new_row(shop).focus()
    for name, use, load, length in ROWS:
        hands.row(name, use, load, length)
        new_row(shop).focus()
    hands.press("Tab")
    settled(shop)
    LINE.clear()
    shop.reload()
    shop.wait_for_selector("#circuits")
    assert [row[0] for row in table(shop)] == [row[0] for row in before] + [r[0] for r in ROWS]
    assert table(shop)[len(before):] == [
        ["Wheel 1", "receptacles", "6", "line-neutral", "41 ft"],
        ["Spray booth", "air conditioning", "23 A", "line-neutral", "62 ft"],
        ["Lamp row", "lighting", "788 VA", "line-neutral", "55 ft"],
        ["Water heater", "water heater", "4.5 kW", "line-neutral", "30 ft"],
    ]  # fmt: skip
    assert table(shop)[: len(before)] == before
    ignore_faults(shop)


def ignore_faults(page):
    """What the browser says of answers that failed by design."""
    page.faults[:] = [f for f in page.faults if "502" not in f and "Failed to load" not in f]
