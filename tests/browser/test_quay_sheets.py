"""The metric job by hand: every kind's sheet with what is wrong said at its field in the words of its
code, a row for the board, a test result, the chart for the door, and the same question elsewhere."""

import re

import pytest
from browser.hands import Hands, entries, opened, settled, table, typed
from playwright.sync_api import expect

# part, entry, what is typed wrong, what is said at it, what is typed then
WRONG = [
    ("Quayside supply", "external_loop", "low", "does not read as", "0.2"),
    ("Main earthing of the quay", "clearing_time", "9", "Out of range", "0.4"),
    ("Quayside main", "ground", "84", "The factors end at 80 °C", "20"),
    ("Quayside main", "maximum_drop", "20", "Out of range", "0.7"),
    ("Slipway winch", "power", "12 A", "Give its rated power in kW", "7.5 kW"),
    ("Slipway winch", "device", "18 A", "These devices are made for 6, 10, 13, 16", ""),
    ("Shed heaters", "ambient", "75", "The factors end at 60 °C", "30 °C"),
    ("Tea room cooker", "load", "3 hp", "Horsepower belongs on a motor", "7.2 kW"),
    ("Slip lights", "depth", "9", "Out of range", "0.7"),
    ("Roof inverter", "enclosure_temperature", "80", "The generic factors end at 70 °C", "50 °C"),
    ("Boatyard", "rating", "many", "does not read as", "250 A"),
]


@pytest.fixture
def quay(window):
    """``quay(part)``: a window on a part's sheet of the demo's metric job."""
    page = window()
    page.get_by_role("button", name="Open the demo").click()

    def open_part(name):
        page.get_by_role("link", name="Heron Quay", exact=True).first.click()
        page.wait_for_selector(".job-tree")
        page.locator(".job-tree").get_by_role("link", name=name, exact=True).click()
        page.wait_for_selector("#entries")
        page.wait_for_load_state("load")
        return page

    open_part.page = page
    return open_part


def test_what_is_wrong_is_said_at_its_field_on_every_sheet(quay):
    for part, entry, wrong, words, right in WRONG:
        page = quay(part)
        field = page.locator(f"#entries [name={entry}]")
        typed(field, wrong)
        page.keyboard.press("Tab")
        expect(page.locator(f"#e-{entry.replace('_', '-')}-why")).to_contain_text(words)
        settled(page)
        page.reload()  # what is wrong is kept as it was typed, a bare figure with its unit
        page.wait_for_load_state("load")
        kept = page.locator(f"#entries [name={entry}]")
        expect(kept).to_have_value(re.compile(f"^{re.escape(wrong)}( °C)?$"))
        typed(page.locator(f"#entries [name={entry}]"), right)
        page.keyboard.press("Tab")
        settled(page)
        expect(page.locator(".answer")).to_be_visible()
        assert page.faults == []


def test_a_winch_is_started_otherwise_by_keyboard(quay):
    page = quay("Slipway winch")
    expect(page.locator("#result")).to_contain_text("97.3 A")
    hands = Hands(page)
    page.locator("[name=starting]").focus()
    hands.choose("star")
    typed(page.locator("[name=starting_current]"), "")
    page.keyboard.press("Tab")
    expect(page.locator("#result")).to_contain_text("2.5 × 15.2")
    settled(page)
    kept = entries(page)
    assert kept["starting"] == "wye_delta" and kept["starting_current"] == ""
    page.reload()
    page.wait_for_load_state("load")
    assert entries(page) == kept and page.faults == []


def test_rows_of_a_metric_board_and_its_chart(quay):
    page = quay("Chandlery")
    hands = Hands(page, 30)
    page.locator("#circuits tr.new input[name]").first.focus()
    hands.row("Back room cooker", "cooker", "9 kW", "21 m")
    hands.press("Tab", "Tab", "Tab")
    settled(page)
    expect(page.locator("#circuits tbody tr:not(.new)")).to_have_count(5)
    assert table(page)[4][:3] == ["Back room cooker", "cooker", "9 kW"]
    page.get_by_role("link", name="Circuit chart").click()
    chart = page.locator("table.ways")
    expect(chart).to_contain_text("Back room cooker")
    expect(chart.locator("tbody tr")).to_have_count(5)
    row = chart.locator("tr", has_text="Shop sockets, a ring")
    expect(row).to_contain_text("B 32 A")
    expect(row).to_contain_text("0.59")  # as it was tested
    assert page.faults == []


def test_a_test_is_entered_and_judged(quay):
    page = quay("Shower 1")
    page.get_by_role("link", name="Site readings").click()
    page.wait_for_load_state("load")
    form = page.locator("#reading-form")
    expect(form.get_by_label("At").locator("option:checked")).to_have_text("Shower 1")
    point = form.get_by_label("Point")
    expect(point).to_contain_text("Residual-current device")
    point.select_option(label="Residual-current device at its rating, ms")
    typed(form.get_by_label("Reading", exact=True), "340 ms")
    page.keyboard.press("Enter")
    log = page.locator("#logbook-page")
    expect(log).to_contain_text("The residual-current device opens late, at 340 ms.")
    expect(log.locator(".read-differs")).to_contain_text("beyond its limit")
    assert page.faults == []


@pytest.mark.parametrize("width", [1280, 390])
def test_the_same_question_under_another_code(window, demo_server, width):
    """What is typed stays; method and cable are the other family's own."""
    page = window(width)
    page.goto(f"{demo_server}/quick/circuit/?code=bs7671-2018")
    page.wait_for_load_state("load")
    for name, text in (("load", "7 kW"), ("length", "20 m"), ("external_loop", "0.3")):
        typed(page.locator(f"[name={name}]"), text)
        page.keyboard.press("Tab")
    expect(page.locator(".answer")).to_contain_text("4 mm² Cu")
    with page.expect_navigation():
        page.locator("[name=code]").select_option(label="AS/NZS 3000:2018")
    page.wait_for_load_state("load")
    expect(opened(page.locator("[name=installed]"))).to_be_visible()
    expect(page.locator("[name=load]")).to_have_value("7 kW")
    expect(page.locator(".answer")).to_contain_text("6 mm² Cu")
    assert page.faults == []
