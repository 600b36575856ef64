"""A street by hand: a house put on another line, a fuse opened, the neutral opened, spread anew and
undone; what was kept compared with what was seen."""

import json

from axe_playwright_python.sync_playwright import Axe
from browser.hands import Hands, focused, settled
from playwright.sync_api import expect

LANE = "Ropewalk Lane"


def lane(demo, **kwargs):
    page = demo(None, **kwargs)
    page.goto(page.url.split("/jobs/")[0] + "/jobs/")
    page.get_by_role("link", name="Heron Quay", exact=True).click()
    page.wait_for_selector(".job-tree")
    page.locator(".job-tree").get_by_role("link", name=LANE, exact=True).click()
    page.wait_for_selector("#entries")
    page.wait_for_load_state("load")
    return page


def lines(page):
    return page.evaluate(
        """() => [...document.querySelectorAll('select[name$=".line"]')]
          .filter((f) => f.name.startsWith("consumers.")).map((f) => f.value)"""
    )


def house(page, name):
    return page.locator(f'#drawing rect.house[aria-label^="{name} on"]')


def test_a_house_goes_to_the_next_line_and_a_fuse_is_opened(demo):
    page = lane(demo)
    before = lines(page)
    focused(house(page, "Ropewalk 4"))
    page.keyboard.press("Enter")
    expect(page.locator('#drawing [aria-label^="Ropewalk 4 on L2"]')).to_be_visible()
    after = [*before]
    after[3] = "L2"
    assert lines(page) == after
    settled(page)
    page.locator('#drawing [aria-label="Open the fuse of L1"]').click()
    expect(page.locator("#result")).to_contain_text("L1 is open: dark are")
    expect(page.locator("#drawing")).to_contain_text("dark")
    page.locator('#drawing [aria-label="Close the fuse of L1"]').click()
    expect(page.locator("#result")).not_to_contain_text("is open")
    settled(page)
    page.reload()
    page.wait_for_selector("#entries")
    assert lines(page) == after


def test_the_neutral_opened_says_who_burns(demo):
    page = lane(demo, width=390)
    page.locator('[name="opened"]').focus()
    Hands(page).choose("the n")
    expect(page.locator("#result")).to_contain_text("The neutral is open")
    found = Axe().run(page).response["violations"]
    assert [(v["id"], v["nodes"][0]["target"]) for v in found] == []
    assert page.evaluate("document.documentElement.scrollWidth - innerWidth") <= 0


def test_it_is_spread_by_its_lowest_volts_applied_and_undone(demo):
    page = lane(demo)
    before = lines(page)
    page.get_by_role("link", name="Balance the lines of its consumers").click()
    page.get_by_label("Minimize").focus()
    hands = Hands(page)
    hands.choose("the volts")
    hands.press("Tab", "Enter")
    page.wait_for_load_state("load")
    expect(page.locator(".moves tbody tr").first).to_contain_text("%")
    best = (
        page.locator(".spreads tr", has_text="Voltage drop at the lowest")
        .locator("td")
        .nth(1)
        .inner_text()
    )
    page.get_by_role("button", name="Apply to the street").click()
    page.wait_for_selector("#entries")
    assert lines(page) != before
    page.get_by_role("link", name="Balance the lines of its consumers").click()
    now = page.locator(".spreads tr", has_text="Voltage drop at the lowest").locator("td").first
    expect(now).to_have_text(best)
    page.go_back()
    page.wait_for_selector("#entries")
    page.get_by_role("button", name="Undo").click()
    page.wait_for_function(
        "(was) => JSON.stringify([...document.querySelectorAll('select[name$=\".line\"]')]"
        ".filter((f) => f.name.startsWith('consumers.')).map((f) => f.value)) === was",
        arg=json.dumps(before, separators=(",", ":")),
    )
