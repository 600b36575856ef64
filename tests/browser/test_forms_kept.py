"""Forms that are sent as a whole: what is typed and not saved is there again after the page was left,
after a server that failed and after the tab was closed; once saved, or discarded, it is gone."""

import pytest
from browser.hands import typed
from browser.weather import LINE
from playwright.sync_api import expect

BACK = "Unsaved entries were restored."

# the page below a job (or an address of its own), the field, what is typed
FORMS = [
    ("prices/", "table.prices input:not([type=hidden])", "1.85"),
    ("settings/", "#id_name", "Alder Mill, east wing"),
    ("readings/", "#id_value", "117.8 V"),
    ("amendments/", "#id_jurisdiction", "Mill Ward"),
    ("/jobs/supply/list/", "#loads", "Kiln, 12 kW, three lines"),
    ("/jobs/new/", "#id_name", "Net loft"),
]


def address(page, where):
    job = page.url.split("/parts/")[0].rstrip("/") + "/"
    return where if where.startswith("/") else job + where


@pytest.fixture
def form(demo, demo_server):
    """``form(page, where)`` goes to a form's page."""

    def go(page, where):
        page.goto(where if where.startswith("http") else demo_server + where)
        page.wait_for_load_state("load")

    return go


def test_operating_cases_outlive_the_page(demo, form):
    page = demo("Shop and gallery")
    board = page.url
    form(page, board + "cases/")
    name, share = page.locator("input[name^='case-']").last, page.locator("input[name^='share-']")
    typed(name, "Open day")
    typed(share.last, "40")
    page.goto(board)
    form(page, board + "cases/")
    expect(name).to_have_value("Open day")
    expect(share.last).to_have_value("40")
    page.get_by_role("button", name="Save").press("Enter")
    page.wait_for_url("**/balance/**")
    form(page, board + "cases/")
    expect(page.get_by_text(BACK)).to_have_count(0)


@pytest.mark.parametrize(("where", "field", "text"), FORMS, ids=[f[0] for f in FORMS])
def test_what_is_typed_outlives_the_page(demo, demo_server, form, where, field, text):
    page = demo(None)
    job, where = page.url, address(page, where)
    form(page, where)
    before = page.locator(field).first.input_value()
    typed(page.locator(field).first, text)
    page.keyboard.press("Tab")
    page.goto(job)
    form(page, where)
    expect(page.locator(field).first).to_have_value(text)
    expect(page.get_by_text(BACK)).to_be_visible()
    page.get_by_role("button", name="Discard", exact=True).press("Enter")
    expect(page.locator(field).first).to_have_value(before)
    page.goto(job)
    form(page, where)
    expect(page.locator(field).first).to_have_value(before)
    expect(page.get_by_text(BACK)).to_have_count(0)


def test_a_server_that_fails_and_a_closed_tab_lose_nothing(demo, form):
    page = demo(None)
    job, where = page.url, address(page, "prices/")
    form(page, where)
    fields = page.locator("table.prices input:not([type=hidden])")
    for at, text in ((0, "0.31"), (1, "0.22"), (2, "0.48")):
        typed(fields.nth(at), text)
    LINE.set(failing=1)
    page.keyboard.press("Enter")
    expect(page.get_by_text("a fault in between")).to_be_visible()
    page.faults.clear()  # a bare answer: the browser tells it, and looks for an icon
    other = page.context.new_page()
    page.close()
    form(other, where)
    fields = other.locator("table.prices input:not([type=hidden])")
    expect(fields.nth(0)).to_have_value("0.31")
    expect(fields.nth(2)).to_have_value("0.48")
    typed(fields.nth(1), "0.25")
    other.keyboard.press("Enter")
    other.wait_for_url(job)
    form(other, where)
    expect(fields.nth(1)).to_have_value("0.25")
    expect(other.get_by_text(BACK)).to_have_count(0)
    page.faults.clear()


def test_a_reading_that_is_in_is_not_put_back(demo, form):
    page = demo(None)
    job, where = page.url, address(page, "readings/")
    form(page, where)
    typed(page.locator("#id_value"), "118.2 V")
    typed(page.locator("#id_note"), "kiln off")
    page.keyboard.press("Enter")
    expect(page.get_by_text("the reading is in the logbook")).to_be_visible()
    page.goto(job)
    form(page, where)
    expect(page.locator("#id_value")).to_have_value("")
    expect(page.get_by_text(BACK)).to_have_count(0)


def test_what_another_tab_has_saved_is_not_overwritten(demo, form):
    page = demo(None)
    job, where = page.url, address(page, "settings/")
    form(page, where)
    typed(page.locator("#id_name"), "Mill, mine")
    page.goto(job)
    other = page.context.new_page()
    form(other, where)
    typed(other.locator("#id_name"), "Mill, theirs")
    other.keyboard.press("Enter")
    other.wait_for_url(job)
    form(page, where)
    expect(page.locator("#id_name")).to_have_value("Mill, theirs")
    expect(page.get_by_text("you typed “Mill, mine”")).to_be_visible()
