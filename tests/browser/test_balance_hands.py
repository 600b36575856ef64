"""A board balanced by hand: the page by keyboard, a number of moves chosen, applied, undone; pins."""

import time

import pytest
from axe_playwright_python.sync_playwright import Axe
from browser.hands import Hands, settled, table
from playwright.sync_api import expect

from voltaje.core.electrical.balance import Answer, by_hand
from voltaje.core.electrical.balance.measure import value
from voltaje.web.planning import balance_views


def scan(page, name):
    found = Axe().run(page).response["violations"]
    assert [(v["id"], v["nodes"][0]["target"]) for v in found] == [], name
    assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0, name


@pytest.mark.parametrize(("width", "scheme"), [(1280, "light"), (390, "dark"), (1280, "contrast")])
def test_the_shop_board_is_balanced_applied_and_undone(demo, width, scheme):
    page = demo(None, width=width, scheme=scheme)
    page.locator(".job-tree").get_by_role("link", name="Shop and gallery", exact=True).click()
    page.wait_for_selector("#circuits")
    page.get_by_role("link", name="Balance", exact=True).click()
    expect(page.locator("h1")).to_contain_text("phase balance")
    scan(page, "balance")
    hands = Hands(page)
    page.get_by_label("Minimize").focus()
    hands.choose("the worst")
    hands.press("Tab", "Enter")
    page.wait_for_load_state("load")
    page.locator("table.moves a").last.focus()
    page.keyboard.press("Enter")
    page.wait_for_load_state("load")
    expect(page.locator(".work-order li").first).to_be_visible()
    scan(page, "balance with its work")
    best = (
        page.locator(".spreads tr", has_text="Largest deviation").locator("td").nth(1).inner_text()
    )
    page.get_by_role("button", name="Apply to the board").click()
    page.wait_for_selector("#circuits")
    expect(page.locator("#notes")).to_contain_text("undo brings them back")
    expect(page.locator("#revision")).to_have_text("2")
    page.get_by_role("link", name="Balance", exact=True).click()
    now = page.locator(".spreads tr", has_text="Largest deviation").locator("td").first
    expect(now).to_have_text(best)
    page.go_back()
    page.wait_for_selector("#circuits")
    page.wait_for_load_state("load")
    page.locator("#undo button").click()
    settled(page)
    assert page.faults == []


def test_a_pinned_circuit_stays_and_a_new_one_is_spread(demo):
    page = demo(None)
    page.locator(".job-tree").get_by_role("link", name="Shop and gallery", exact=True).click()
    page.wait_for_selector("#circuits")
    page.wait_for_load_state("load")
    hands = Hands(page, 30)
    page.locator("#circuits tr.new input").first.focus()
    hands.row("Glass case", "general", "1.9 kW", "20 ft")
    hands.press("Tab", "Tab", "Tab")
    # worked by the server, so it is kept
    made = page.locator("#circuits tbody tr:not(.new)").last
    expect(made.locator('[data-out="stands"]')).not_to_have_text("")
    settled(page)
    assert table(page)[-1][0] == "Glass case" and table(page)[-1][2] == "1.9 kW"
    page.get_by_role("link", name="Balance", exact=True).click()
    page.locator("details.pins summary").click()
    box = page.get_by_role("checkbox", name="Glass case")
    stood = box.locator("xpath=..").locator(".soft").inner_text()
    box.check()
    page.get_by_role("button", name="Balance", exact=True).click()
    page.wait_for_load_state("load")
    expect(page.get_by_role("checkbox", name="Glass case")).to_be_checked()
    page.locator("table.moves a").last.click()
    page.wait_for_load_state("load")
    expect(page.locator(".balance-two")).not_to_contain_text("Glass case")
    assert stood in ("L1", "L2", "L3") and page.faults == []


def shop_balance(demo):
    page = demo(None)
    page.locator(".job-tree").get_by_role("link", name="Shop and gallery", exact=True).click()
    page.wait_for_selector("#circuits")
    page.get_by_role("link", name="Balance", exact=True).click()
    return page


def test_a_longer_look_counts_and_proves(demo, monkeypatch):
    monkeypatch.setattr(balance_views, "SECONDS", 0.0)  # too short to prove anything
    page = shop_balance(demo)
    expect(page.locator("[data-longer]")).to_contain_text("too short to prove it")
    page.get_by_role("button", name="Look longer").focus()
    page.keyboard.press("Enter")
    expect(page.locator("[data-told]")).to_contain_text("proven after")
    expect(page.locator("#balance-found")).to_contain_text("nothing is better")
    expect(page.locator("[data-stop]")).to_be_hidden()
    assert page.faults == []


def test_a_longer_look_is_stopped_with_the_best_so_far(demo, monkeypatch):
    monkeypatch.setattr(balance_views, "SECONDS", 0.0)

    def slow(task, objective, seconds):
        lines = by_hand(task)
        for second in range(60):
            yield Answer(lines, value(task, lines, objective), 0.0, False, float(second))
            time.sleep(0.5)

    monkeypatch.setattr(balance_views, "look", slow)
    page = shop_balance(demo)
    page.get_by_role("button", name="Look longer").click()
    expect(page.locator("[data-told]")).to_contain_text("s of 10 s")
    expect(page.locator("[data-told]")).to_contain_text("nothing below")
    page.get_by_role("button", name="Stop, take the best so far").click()
    expect(page.locator("[data-told]")).to_contain_text("stopped")
    expect(page.locator("#balance-found")).to_contain_text("when the time was up")
