"""A problem worked by hand: keys and Tab down the lines, Enter marks, what was typed stays, also where the
server fails and where the page is left."""

from browser.hands import Hands, typed
from browser.test_pages import scan
from browser.weather import LINE
from playwright.sync_api import expect

from voltaje.core.codes import edition
from voltaje.core.kinds import kind
from voltaje.core.practice import Marker, problem
from voltaje.web.practice.bases import bases_of

ADDRESS = "/practice/motor/?code=nec-2020&level=guided&seed=hands"
FIELDS = ".practice-lines input:not([type=hidden])"


def lines():
    of = kind("motor")
    return Marker(problem(of, edition("nec-2020"), bases_of("motor", "nec-2020"), "hands")).lines


def test_a_problem_is_worked_by_keys(window, demo_server):
    page, asked = window(at=None), lines()
    page.goto(demo_server + ADDRESS)
    page.wait_for_load_state("load")
    hands, fields = Hands(page, 25), page.locator(FIELDS)
    expect(fields).to_have_count(len(asked))
    fields.first.focus()
    given = [one.shown if n else "7.77" for n, one in enumerate(asked)]
    for n, text in enumerate(given):
        hands.type(text)
        if n < len(given) - 1:
            hands.press("Tab", "Tab")  # past the hint
    hands.press("Enter")
    expect(page.locator(".practice-points")).to_be_visible()
    assert [field.input_value() for field in fields.all()] == given
    assert page.locator("tr.was-right").count() >= len(asked) - 3
    expect(page.locator("tr.was-wrong").first).to_contain_text("Not right")
    scan(page, "problem, marked")
    # the first line mended, marked again
    typed(fields.first, asked[0].shown)
    hands.press("Enter")
    expect(page.locator("tr.was-wrong")).to_have_count(0)
    expect(page.locator(".practice-points b")).to_have_text(str(len(asked)))


def test_a_hint_keeps_what_was_typed(window, demo_server):
    page = window(at=None)
    page.goto(demo_server + ADDRESS)
    page.wait_for_load_state("load")
    fields = page.locator(FIELDS)
    typed(fields.nth(1), "12.5")
    page.get_by_role("button", name="Hint").nth(2).press("Enter")
    expect(page.locator(".hint")).to_have_count(1)
    expect(fields.nth(1)).to_have_value("12.5")
    page.get_by_role("button", name="Hint").nth(2).press("Enter")
    expect(page.locator(".hint")).to_have_count(2)


def test_a_failing_server_and_a_page_left_lose_nothing(window, demo_server):
    page = window(at=None)
    page.goto(demo_server + ADDRESS)
    page.wait_for_load_state("load")
    fields = page.locator(FIELDS)
    for at, text in ((0, "28"), (1, "35"), (3, "70")):
        typed(fields.nth(at), text)
    LINE.set(failing=1)
    page.keyboard.press("Enter")
    expect(page.get_by_text("a fault in between")).to_be_visible()
    page.faults.clear()  # a bare answer: the browser tells it
    page.goto(demo_server + "/practice/")
    page.goto(demo_server + ADDRESS)
    for at, text in ((0, "28"), (1, "35"), (3, "70")):
        expect(fields.nth(at)).to_have_value(text)
    expect(page.get_by_text("Unsaved entries were restored.")).to_be_visible()
    page.faults.clear()
