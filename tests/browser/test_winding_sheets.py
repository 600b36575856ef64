"""The windings bench as hands use it: a booster for a kiln, a corner read, a coil turned round."""

import pytest
from browser.hands import Hands, focused, typed
from playwright.sync_api import expect

KEYS = {"primary": "480 V", "secondary": "240 V", "kva": "15 kVA", "supply": "480 V",
        "wanted": "240 V", "impedance": "3"}  # fmt: skip


def open_sheet(page, server, kind):
    page.goto(f"{server}/quick/{kind}/")
    page.wait_for_load_state("load")


@pytest.mark.parametrize("width", [1280, 390])
def test_a_corner_is_read_before_it_is_closed(window, demo_server, width):
    """Nothing across it; a coil turned round by keyboard: twice its volts, and what would flow."""
    page = window(width)
    open_sheet(page, demo_server, "bank")
    for name, text in KEYS.items():
        typed(page.locator(f"[name={name}]"), text)
        page.keyboard.press("Tab")
    result = page.locator("#result")
    expect(result).to_contain_text("About nothing across the last corner")
    expect(page.locator(".answer")).to_contain_text("delta–delta")
    coil = page.get_by_role("button", name="Unit 2: turn its secondary coil round")
    focused(coil)
    page.keyboard.press("Enter")
    expect(result).to_contain_text("480 V across the last corner: closed, 1,389 A would flow")
    expect(page.locator("[name=turned]")).to_have_value("2")
    back = page.get_by_role("button", name="Unit 2: put its secondary coil right")
    focused(back)
    page.keyboard.press("Enter")
    expect(result).to_contain_text("About nothing across the last corner")
    assert page.faults == []


def test_a_booster_for_a_kiln_by_keyboard_alone(window, demo_server):
    """From the task to the unit: 208 V there, 240 V wanted."""
    page = window()
    page.goto(f"{demo_server}/quick/?q=")
    page.wait_for_load_state("load")
    hands = Hands(page)
    page.locator("#ask").focus()
    hands.type("raise 208 to 240 volts")
    link = page.get_by_role("link", name="Raise or lower volts: buck-boost").first
    expect(link).to_be_visible()
    link.focus()
    hands.press("Enter")
    page.wait_for_url("**/quick/booster/**")
    page.wait_for_load_state("load")
    for name, text in (("measured", "208 V"), ("wanted", "240 V"), ("load", "9.6 kVA")):
        typed(page.locator(f"[name={name}]"), text)
        page.keyboard.press("Tab")
    expect(page.locator(".answer")).to_contain_text("235.7 V")
    expect(page.locator(".answer")).to_contain_text("1.5 kVA")
    expect(page.locator("#drawing")).to_contain_text("120 × 240 to 16/32 V")
    typed(page.locator("[name=wanted]"), "120 V")
    page.keyboard.press("Tab")
    expect(page.locator("#result")).to_contain_text("No usual unit gives these volts")
    typed(page.locator("[name=measured]"), "many")
    page.keyboard.press("Tab")
    expect(page.locator("#e-measured-why")).to_contain_text("“many” does not read as")
    assert page.faults == []
