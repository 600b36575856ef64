"""A board balanced by hand: the page by keyboard, a number of moves chosen, applied, undone; pins."""

import threading
import time

import pytest
from axe_playwright_python.sync_playwright import Axe
from browser.hands import Hands, settled, table
from django.db import connection
from playwright.sync_api import expect

from voltaje.core.electrical.balance import Answer, by_hand
from voltaje.core.electrical.balance.measure import value
from voltaje.web.background import asking, running
from voltaje.web.background.models import BackgroundTask
from voltaje.web.planning import long_work


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
    page.locator("#circuits tr.new input[name]").first.focus()
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


@pytest.fixture
def worker(monkeypatch):
    """A worker in a thread; nothing is done in place."""
    monkeypatch.setattr(asking, "HERE", 0.0)
    monkeypatch.setattr(running, "LOOK_EVERY", 0.05)
    monkeypatch.setattr(asking, "workers", lambda: 1)
    over = threading.Event()

    def work():
        while not over.wait(0.1):
            for task in BackgroundTask.objects.filter(state="waiting"):
                running.perform(str(task.pk))
        connection.close()

    thread = threading.Thread(target=work)
    thread.start()
    yield
    over.set()
    thread.join()


def test_what_a_worker_finds_comes_onto_the_page_by_itself(demo, worker):
    before = BackgroundTask.objects.count()
    page = shop_balance(demo)
    expect(page.get_by_role("status").first).to_contain_text("is running")
    page.get_by_label("Minimize").focus()
    expect(page.locator("#found")).to_contain_text("nothing is better")
    expect(page.locator("#found")).to_contain_text("Order of work")
    expect(page.locator("#progress")).to_have_count(0)
    expect(page.get_by_label("Minimize")).to_be_focused()
    # what was found is there at once, for another number of moves too
    page.locator("table.moves a").last.click()
    page.wait_for_load_state("load")
    expect(page.locator("#found")).to_contain_text("Order of work")
    assert BackgroundTask.objects.count() == before + 1 and page.faults == []


def test_a_search_is_stopped_with_the_best_so_far(demo, worker, monkeypatch):
    def slow(task, objective, effort, better):
        lines = by_hand(task)
        answer = Answer(lines, value(task, lines, objective), 0.0, False)
        while effort.left:
            effort.spend(0.01)
            better(answer)
            time.sleep(0.02)
        return answer

    monkeypatch.setattr(long_work, "solve", slow)
    page = shop_balance(demo)
    expect(page.locator("#progress")).to_contain_text("no assignment is below 0")
    assert page.locator("progress").evaluate("p => p.value") < 100
    scan(page, "a search that runs")
    page.get_by_role("button", name="Stop").focus()
    page.keyboard.press("Enter")
    expect(page.locator("#found")).to_contain_text("Stopped: this is the best result found")
    scan(page, "a search that was stopped")
    monkeypatch.undo()
    monkeypatch.setattr(asking, "workers", lambda: 1)
    page.get_by_role("button", name="Calculate again").click()
    page.wait_for_load_state("load")
    expect(page.locator("#found")).to_contain_text("nothing is better")
    assert page.faults == []


def test_conductors_are_chosen_by_a_worker_and_applied(demo, worker):
    page = demo(None)
    page.locator(".job-tree").get_by_role("link", name="Shop and gallery", exact=True).click()
    page.wait_for_selector("#circuits")
    page.goto(page.url.rstrip("/") + "/metal/")
    expect(page.locator("#found")).to_contain_text("Chosen together")
    page.get_by_role("button", name="Apply these sizes").click()
    page.wait_for_selector("#circuits")
    expect(page.locator("#notes")).to_contain_text("conductors were fixed")
    assert page.faults == []
