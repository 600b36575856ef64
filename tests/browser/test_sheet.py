"""A part's sheet under real hands: from the demo's button to a changed cottage and back."""

import re

from browser.hands import Hands, follow, opened, settled, typed
from playwright.sync_api import expect


def entry(page, path):
    return page.locator(f'[name="{path}"]')


def answer(page):
    return page.locator(".answer .big")


def kept(page, revision):
    expect(page.locator("#revision")).to_have_text(str(revision))


def test_from_the_demo_to_a_changed_cottage_and_back(demo):
    page = demo()
    expect(answer(page)).to_have_text("150 A")
    typed(entry(page, "climate.h1.nameplate"), "3 kW")
    expect(answer(page)).to_have_text("175 A")  # while typing, before anything is kept
    expect(page.locator("#revision")).to_have_text("1")
    expect(page.locator("#drawing")).to_contain_text("15,000")
    entry(page, "climate.h1.nameplate").press("Tab")
    kept(page, 2)
    page.reload()
    expect(entry(page, "climate.h1.nameplate")).to_have_value("3 kW")
    page.get_by_role("button", name="Undo").click()
    expect(answer(page)).to_have_text("150 A")
    page.get_by_role("button", name="Redo").click()
    expect(answer(page)).to_have_text("175 A")
    page.get_by_role("link", name="Print").click()
    expect(page.locator("body")).to_contain_text("A calculation aid")
    expect(page.locator(".facts")).to_contain_text(re.compile(r"Revision\s*4"))
    assert len(page.pdf()) > 20_000
    page.get_by_role("link", name="Back to the sheet").click()
    page.locator(".kept").click()
    expect(page.locator("table.revisions tbody tr")).to_have_count(4)
    page.get_by_role("button", name="Restore revision 1").click()
    page.get_by_role("link", name="Alder Mill", exact=True).click()
    page.locator(".job-tree").get_by_role("link", name="Keeper’s cottage").click()
    expect(answer(page)).to_have_text("150 A")


def test_focus_caret_and_half_typed_text_stay(demo):
    page = demo()
    field = entry(page, "cooking.c1.nameplate")
    field.focus()
    field.press("Home")
    for key in "19":  # 19|11.4 kW, typed into the middle of what is there
        field.press(key)
    expect(page.locator("#e-cooking-c1-nameplate-why")).to_be_visible()
    page.wait_for_timeout(300)
    expect(field).to_be_focused()
    expect(field).to_have_value("1911.4 kW")
    assert field.evaluate("f => f.selectionStart") == 2


def test_a_wrong_entry_is_marked_and_the_last_good_result_stays(demo):
    page = demo()
    typed(entry(page, "area"), "quite big")
    expect(page.locator("#e-area-why")).to_contain_text("1480 sq ft or 140 m²")
    expect(entry(page, "area")).to_have_attribute("aria-invalid", "true")
    expect(page.locator("#result")).to_have_class(re.compile("stale"))
    expect(page.locator("#stale")).to_contain_text(re.compile(r"Last good result, of \d\d:\d\d"))
    expect(page.locator("#drawing")).to_have_class(re.compile("stale"))
    expect(page.locator("#drawing")).to_contain_text("General lighting")
    expect(page.locator(".part-link.on small[data-head]")).to_have_text("131 A · 150 A")
    expect(answer(page)).to_have_text("150 A")
    entry(page, "area").press("Tab")
    kept(page, 2)
    page.reload()
    expect(entry(page, "area")).to_have_value("quite big")
    expect(page.locator("#stale")).to_contain_text("Last good result, of 20")
    typed(entry(page, "area"), "1500")
    expect(page.locator("#stale")).to_be_hidden()
    entry(page, "area").press("Tab")
    expect(entry(page, "area")).to_have_value("1500 ft²")


def test_by_keyboard_alone(demo):
    page = demo()
    page.keyboard.press("Alt+1")
    entry(page, "appliances.a4.nameplate").focus()
    page.keyboard.press("Enter")  # the last row: a new one
    page.keyboard.type("Vehicle charger")
    page.keyboard.press("Enter")
    page.keyboard.type("7.2 kW")
    page.keyboard.press("Enter")
    expect(page.locator('[data-list="appliances"] .item')).to_have_count(6)
    row = page.locator('[data-list="appliances"] .item').nth(4)
    expect(row.locator("select").first).to_have_value("240")  # what the chosen name brings
    expect(row.locator("select").nth(1)).to_have_value("charger")
    expect(page.locator("#result")).to_contain_text("vehicle charging")
    page.keyboard.press("Alt+Backspace")  # the empty row
    expect(page.locator('[data-list="appliances"] .item')).to_have_count(5)
    entry(page, "appliances.a2.nameplate").focus()
    page.keyboard.press("Alt+Backspace")
    expect(page.locator('[data-list="appliances"] .item')).to_have_count(4)
    expect(page.locator("#kept")).to_contain_text("kept")
    page.keyboard.press("Alt+u")
    expect(entry(page, "appliances.a2.nameplate")).to_have_value("1.1 kW")
    entry(page, "appliances.a1.nameplate").focus()
    page.keyboard.press("ArrowDown")
    expect(entry(page, "appliances.a2.nameplate")).to_be_focused()
    page.keyboard.press("Alt+3")
    expect(page.locator("#zone-worksheet")).to_be_focused()
    page.keyboard.press("?")
    expect(page.locator("#keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("#keys")).to_be_hidden()


def test_two_tabs_and_a_clear_choice(demo):
    one = demo()
    two = one.context.new_page()
    two.goto(one.url)
    typed(entry(one, "area"), "1600")
    entry(one, "area").press("Tab")
    kept(one, 2)
    typed(entry(two, "laundry_circuits"), "2")  # another entry: no conflict
    entry(two, "laundry_circuits").press("Tab")
    kept(two, 3)
    expect(entry(two, "area")).to_have_value("1600 ft²")  # and the other tab's text arrives
    typed(entry(one, "cooking.c1.nameplate"), "13 kW")
    entry(one, "cooking.c1.nameplate").press("Tab")
    kept(one, 4)
    typed(entry(two, "cooking.c1.nameplate"), "14 kW")
    entry(two, "cooking.c1.nameplate").press("Tab")
    why = two.locator(".clash")
    expect(why).to_contain_text("Another tab has kept “13 kW” here; this one says “14 kW”")
    expect(two.locator("#revision")).to_have_text("4")
    why.get_by_role("button", name="Keep this one").click()
    kept(two, 5)
    one.reload()
    expect(entry(one, "cooking.c1.nameplate")).to_have_value("14 kW")


def test_nothing_typed_is_lost_without_a_connection(demo):
    page = demo()
    page.context.set_offline(True)
    typed(entry(page, "area"), "1700")
    entry(page, "area").press("Tab")
    expect(page.locator("#kept")).to_contain_text("no connection")
    page.context.set_offline(False)
    kept(page, 2)  # tried again by itself
    typed(entry(page, "area"), "1800")  # typed, not kept: a reload in the middle
    page.reload()
    expect(entry(page, "area")).to_have_value(re.compile("1800"))
    kept(page, 3)
    # what the browser and htmx say of the lost connection, and nothing else
    expected = ("ERR_INTERNET_DISCONNECTED", "htmx:sendError", "htmx:afterRequest")
    page.faults[:] = [f for f in page.faults if not any(word in f for word in expected)]


def test_signed_out_in_the_middle(demo):
    page = demo()
    page.context.clear_cookies(name="sessionid")
    typed(entry(page, "area"), "1700")
    entry(page, "area").press("Tab")
    expect(page.locator("#trouble-keeping")).to_contain_text("signed out")
    expect(answer(page)).to_have_text("150 A")  # no sign-in page in the worksheet
    page.get_by_role("link", name="Sign in again").click()
    page.get_by_role("button", name="Open the demo").click()
    page.wait_for_selector("#entries")
    kept(page, 2)
    page.reload()
    expect(entry(page, "area")).to_have_value("1700 ft²")


def test_a_chip_opens_its_table_with_the_cell_marked(demo):
    page = demo()
    page.locator("tr[data-name=cooking_column_c] .chip").first.click()
    expect(page.locator("#rule .strip .cell")).to_have_text("8")
    expect(page.locator("#rule")).to_contain_text("from memory")
    page.keyboard.press("Escape")
    line = page.locator("tr[data-name=cooking_column_c]")
    line.hover()
    expect(page.locator('#drawing [data-flow="cooking"]')).to_have_class(re.compile("lit"))
    expect(page.locator('[data-row="cooking.c1"]')).to_have_class(re.compile("lit"))


def test_a_quick_sheet_becomes_a_job(window):
    page = window()
    follow(page.get_by_role("link", name="Dwelling", exact=True))
    typed(entry(page, "area"), "1500")
    expect(answer(page)).to_have_text("100 A")
    row = page.locator('[data-list="cooking"] .item').first
    typed(row.locator("input").first, "Range")
    typed(row.locator("input.q").last, "12 kW")
    row.locator("input.q").last.press("Tab")
    expect(page.locator("#result")).to_contain_text("13,100")
    page.reload()
    expect(page.locator("#result")).to_contain_text("13,100")  # it stays in the browser
    page.get_by_role("button", name="File into a job").click()
    page.get_by_role("button", name="Open the demo").click()
    typed(page.get_by_label("Name of the new job"), "From the ladder")
    page.get_by_role("button", name="File it").click()
    expect(page.locator(".where")).to_contain_text("From the ladder")
    expect(entry(page, "area")).to_have_value("1500 ft²")
    expect(page.locator("#result")).to_contain_text("13,100")


def test_the_question_changes_the_form(demo):
    page = demo()
    entry(page, "calculation").select_option("measured")
    expect(entry(page, "area")).to_be_hidden()
    typed(entry(page, "existing_service"), "100")
    typed(entry(page, "measured_demand"), "58 A")
    typed(entry(page, "new_load"), "7.2 kW")
    expect(page.locator(".find.fail")).to_contain_text("3 A more than the existing 100 A")
    entry(page, "calculation").select_option("new")
    expect(answer(page)).to_have_text("150 A")


def test_the_last_good_tape_keeps_its_words_when_a_wrong_entry_is_kept(demo):
    """What is kept renames nothing but the part's own plates."""
    page = demo("House feeder")
    labels = page.locator("#result .worksheet .lab").all_text_contents()
    page.get_by_role("button", name="Add a floor area").click()
    hands = Hands(page)
    hands.type("Store")
    hands.press("Tab")
    settled(page)
    expect(page.locator("#stale")).to_contain_text("Last good result")
    assert page.locator("#result .worksheet .lab").all_text_contents() == labels
    # Enter in a row's last field opens the next row, and nothing throws on the way
    page.locator("[name$='.area']").last.press("Enter")
    hands.type("Office")
    hands.press("Tab")
    hands.type("900 sq ft")
    hands.press("Enter")
    settled(page)
    page.reload()
    names = page.locator("[name^='floors.'][name$='.name']")
    assert [field.input_value() for field in names.all() if field.input_value()] == [
        "Store",
        "Office",
    ]


def test_a_job_set_to_size_for_the_drop_grows_its_conductors(demo):
    page = demo("Wheels, north wall")
    expect(answer(page)).to_have_text("15 A")
    expect(page.locator(".answer")).to_contain_text("14 AWG Cu")
    here = page.url
    page.get_by_role("link", name="Alder Mill", exact=True).click()
    page.get_by_role("link", name="Settings").click()
    page.get_by_label("Conductors are sized for the drop").select_option("part")
    page.get_by_role("button", name="Save").click()
    page.goto(here)
    expect(page.locator(".answer")).to_contain_text("12 AWG Cu")
    opened(entry(page, "drop_sizing")).select_option("told")
    expect(page.locator(".answer")).to_contain_text("14 AWG Cu")


def test_the_plain_sheet_solves_any_one_unknown(window, demo_server):
    page = window()
    page.goto(f"{demo_server}/quick/amperes/")
    page.wait_for_load_state("load")
    typed(entry(page, "power"), "25 kVA")
    typed(entry(page, "voltage"), "240 V")
    expect(answer(page)).to_have_text("104.2 A")
    typed(entry(page, "current"), "104.17 A")
    typed(entry(page, "voltage"), "")
    expect(answer(page)).to_have_text("240 V")


def test_another_family_of_codes_and_back_loses_nothing(window, demo_server):
    """A circuit typed under the NEC, the same under BS 7671 and back: the load stays, the sizes are
    those of the family, and what only the one asks is there again afterwards."""
    page = window()
    page.goto(f"{demo_server}/quick/circuit/")
    hands = Hands(page)
    load = page.locator("[name=load]")
    load.focus()
    hands.replace("3 kW")
    hands.press("Tab")
    expect(page.locator("#result")).to_contain_text("AWG")
    opened(page.locator("[name=ambient]")).focus()
    hands.replace("44")
    hands.press("Tab")
    page.locator("#code").focus()
    with page.expect_navigation():
        hands.choose("BS")
        hands.press("Enter")
    expect(page.locator("[name=load]")).to_have_value("3 kW")
    expect(page.locator("#result")).to_contain_text("mm²")
    expect(page.locator("#result")).not_to_contain_text("AWG")
    page.locator("#code").focus()
    with page.expect_navigation():
        hands.choose("NEC 2020")
        hands.press("Enter")
    expect(page.locator("[name=load]")).to_have_value("3 kW")
    expect(page.locator("[name=ambient]")).to_have_value("44")
    expect(page.locator("#result")).to_contain_text("AWG")
    assert page.faults == []
