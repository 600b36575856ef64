"""A working day's hands on an item's page: to the neighbours by keys, finding, folded entries, several
circuits at once, a remedy by its button, the drawing over the page."""

import pytest
from browser.hands import Hands, entries, follow, opened, settled, typed
from browser.test_pages import scan
from browser.weather import LINE
from playwright.sync_api import expect


def test_keys_lead_to_the_neighbours_and_what_was_typed_is_kept(demo):
    page = demo("Glaze room lights")
    hands = Hands(page)
    page.locator("[name=load]").focus()
    hands.replace("1.3 kVA")
    with page.expect_navigation():
        hands.press("Alt+PageDown")  # from inside an entry that is half typed
    expect(page.locator("h1.plate")).to_have_text("Wheels, north wall")
    page.wait_for_load_state("load")
    with page.expect_navigation():
        hands.press("Alt+PageUp")
    expect(page.locator("[name=load]")).to_have_value("1.3 kVA")
    with page.expect_navigation():
        hands.press("Alt+o")
    expect(page.locator("h1.plate")).to_have_text("Workshop")
    with page.expect_navigation():
        hands.press("Alt+j")
        hands.type("wheels south")
        expect(page.locator("#found-items")).to_have_text("one item")
        hands.press("Enter")
    expect(page.locator("h1.plate")).to_have_text("Wheels, south wall")
    assert page.faults == []


def test_branches_fold_stay_so_and_tell_the_worst_below_them(demo):
    page = demo("Glaze room lights")
    house = page.locator("#tree li", has=page.locator(":scope > a", has_text="House feeder")).last
    fold = house.locator(":scope > details")
    expect(fold).not_to_have_attribute("open", "")
    assert fold.locator(":scope > summary [data-worst] .check").count() == 1
    fold.locator(":scope > summary").click()
    expect(page.locator("#tree").get_by_role("link", name="Gallery track 1")).to_have_count(0)
    shop = page.locator(
        "#tree li", has=page.locator(":scope > a", has_text="Shop and gallery")
    ).last
    shop.locator(":scope > details > summary").click()
    expect(page.locator("#tree").get_by_role("link", name="Gallery track 1")).to_be_visible()
    page.reload()
    expect(page.locator("#tree").get_by_role("link", name="Gallery track 1")).to_be_visible()
    # a change that makes this one fail shows on the branches that hold it
    typed(page.locator("[name=device]"), "5")
    page.keyboard.press("Tab")
    settled(page)
    workshop = page.locator(
        "#tree li", has=page.locator(":scope > a", has_text="Workshop feeder")
    ).last
    expect(workshop.locator(":scope > details > summary [data-worst] .fail")).to_have_count(1)
    assert page.faults == []


def test_the_width_of_the_tree_is_dragged_and_remembered(demo):
    page = demo("Glaze room lights")
    edge = page.locator(".tree-edge")
    box = edge.bounding_box()
    page.mouse.move(box["x"] + 4, box["y"] + 200)
    page.mouse.down()
    page.mouse.move(box["x"] + 84, box["y"] + 200, steps=5)
    page.mouse.up()
    page.reload()
    assert abs(page.locator("nav.tree").bounding_box()["width"] - 300) < 6
    page.locator(".tree-edge").focus()
    page.keyboard.press("ArrowLeft")
    assert page.locator(".tree-edge").get_attribute("aria-valuenow") in (
        "282",
        "283",
        "284",
        "285",
        "286",
        "287",
    )
    assert page.faults == []


def test_what_is_usual_stands_folded_and_says_what_it_holds(demo):
    page = demo("Glaze room lights")
    run = page.locator("[data-usual=run]")
    expect(run.locator("summary")).to_contain_text("copper · EMT · THHN, 90 °C")
    ambient = page.locator("[name=ambient]")
    assert not ambient.is_visible()
    typed(ambient, "44")
    page.keyboard.press("Tab")
    settled(page)
    page.reload()
    page.wait_for_load_state("load")
    expect(ambient).to_have_value("44 °C")
    run.locator("summary").click()  # it was left open; what differs stands outside of it
    expect(ambient).to_be_visible()
    expect(run.locator("summary")).not_to_contain_text("30 °C")
    # a wrong text in a folded entry opens what it stands in
    typed(page.locator("[name=others]"), "many")
    page.keyboard.press("Tab")
    expect(page.locator("#e-others-why")).to_be_visible()
    page.locator("[data-usual=run] summary").click()
    page.locator("[name=load]").focus()
    Hands(page).replace("900 VA")
    expect(page.locator("[name=others]")).to_be_visible()
    assert entries(page)["others"] == "many"
    assert page.faults == []


def test_several_circuits_are_changed_in_one_act(demo):
    page = demo("Shop and gallery")
    boxes = page.locator("tbody [data-pick=row]")
    boxes.nth(0).click()
    boxes.nth(3).click(modifiers=["Shift"])
    expect(page.locator(".many-bar b")).to_have_text("4 circuits selected")
    page.locator("#circuits td[data-col=load] input").nth(5).focus()
    page.keyboard.press("Alt+x")
    expect(page.locator(".many-bar b")).to_have_text("5 circuits selected")
    scan(page, "circuits selected")
    page.get_by_label("Entry to change").select_option("ambient")
    text = page.locator("[data-many=text]")
    expect(text).to_have_value("30 °C")
    typed(text, "warm")
    page.keyboard.press("Enter")
    expect(page.locator("#trouble-keeping")).to_contain_text("Ambient of Gallery track 1")
    typed(page.locator("[data-many=text]"), "45")
    page.keyboard.press("Enter")
    expect(page.locator("#notes")).to_have_text("Changed on 5 of 5.")
    expect(page.locator("#many-now")).to_have_text("now 45 °C on 5")
    page.keyboard.press("Alt+u")
    expect(page.locator("#many-now")).to_have_text("now 30 °C on 5")
    page.locator("#many-board").select_option(label="Workshop")
    expect(page.locator("#row-count")).to_have_text("5")
    expect(page.locator("#many")).to_be_hidden()
    page.keyboard.press("Alt+u")
    expect(page.locator("#row-count")).to_have_text("10")
    page.faults[:] = [fault for fault in page.faults if "422" not in fault]
    assert page.faults == []


@pytest.mark.parametrize("wait", [0, 150, 400])
def test_a_late_answer_keeps_what_is_marked_and_typed_for_several_circuits(demo, wait):
    """The bar is drawn anew by each answer: what a hand marked there stays marked, and what it
    typed stays, also where the focus has gone on to the button."""
    page = demo("Shop and gallery")
    LINE.set((0.3,))
    page.locator("tbody [data-pick=row]").nth(0).click()
    page.get_by_label("Entry to change").select_option("ambient")
    text = page.locator("[data-many=text]")
    expect(text).to_have_value("30 °C")
    page.locator("tbody [data-pick=row]").nth(1).click()
    text.focus()
    page.keyboard.press("Control+a")
    page.wait_for_timeout(wait)
    page.keyboard.type("45", delay=60)
    page.keyboard.press("Tab")
    expect(page.locator(".many-bar b")).to_have_text("2 circuits selected")
    page.wait_for_timeout(wait)
    expect(page.get_by_role("button", name="Apply")).to_be_focused()
    expect(text).to_have_value("45")
    page.keyboard.press("Enter")
    expect(page.locator("#notes")).to_have_text("Changed on 2 of 2.")
    expect(page.locator("#many-now")).to_have_text("now 45 °C on 2")
    assert page.faults == []


def test_a_remedy_is_done_by_its_button_and_undone_as_one(demo):
    page = demo("Throwing room lights")
    expect(page.locator(".answer")).to_contain_text("14 AWG Cu")
    page.get_by_role("button", name="Use 12 AWG Cu").click()
    expect(page.locator(".answer")).to_contain_text("12 AWG Cu")
    settled(page)
    assert entries(page)["drop_sizing"] == "part"
    page.keyboard.press("Alt+u")
    expect(page.locator(".answer")).to_contain_text("14 AWG Cu")
    assert page.faults == []


def test_the_drawing_is_opened_over_the_page(demo):
    page = demo("Mill transformer")
    page.get_by_role("button", name="Enlarge the drawing").click()
    svg = page.locator("#large svg")
    whole = svg.get_attribute("viewBox")
    page.mouse.move(600, 400)
    page.mouse.wheel(0, -300)
    assert float(svg.get_attribute("viewBox").split()[2]) < float(whole.split()[2])
    scan(page, "the drawing enlarged")
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Enlarge the drawing")).to_be_focused()
    assert page.faults == []


def test_an_empty_quick_sheet_begins_with_examples(window, demo_server):
    page = window()
    page.goto(f"{demo_server}/quick/motor/")
    expect(page.locator("[name=horsepower]")).to_be_focused()
    scan(page, "examples")
    page.get_by_role("link", name="15 hp, three-phase, 208 V").click()
    expect(page.locator(".answer")).to_contain_text("125 A")
    assert page.faults == []


def test_on_a_phone_the_answer_stays_at_the_edge(demo):
    page = demo("Throwing room lights", width=390)
    line = page.locator(".edge-answer")
    expect(line).to_be_hidden()
    field = opened(page.locator("[name=ambient]"))
    field.scroll_into_view_if_needed()
    page.mouse.wheel(0, 300)
    expect(line).to_be_visible()
    typed(page.locator("[name=load]"), "2.9 kVA")
    expect(line).to_contain_text("40 A")
    assert page.faults == []


def test_a_line_fills_an_empty_item_and_lines_fill_a_board(demo):
    page = demo("Kiln room")
    page.locator("#add-kind").select_option("circuit")
    page.get_by_role("button", name="Add", exact=True).click()
    line = page.locator("#one-line")
    expect(line).to_be_visible()
    scan(page, "an empty circuit")
    typed(line, "test kiln 3.6 kW 208 V 30 ft 99 x")
    page.keyboard.press("Enter")
    expect(page.locator(".answer")).to_contain_text("25 A")
    expect(page.locator("#one-line-says")).to_contain_text("Not taken: 99")
    settled(page)
    kept = entries(page)
    assert (kept["load"], kept["connection"], kept["length"]) == ("3.6 kW", "two-line", "30 ft")
    page.locator("#tree .part-link", has_text="Kiln room").locator("visible=true").nth(1).click()
    page.wait_for_load_state("load")
    page.locator("#circuits tbody tr.new input[name]").first.focus()
    page.evaluate("""text => {
        const data = new DataTransfer(); data.setData("text/plain", text);
        document.activeElement.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
    }""", "Extractor fan 1/2 hp 20 ft\nGlaze table lights 400 VA 35 ft")  # fmt: skip
    expect(page.locator("#paste tbody tr")).to_have_count(2)
    page.get_by_role("button", name="Take it").click()
    settled(page)
    last = page.locator("#circuits tbody tr").nth(-2)
    expect(last.locator("td[data-col=name] input")).to_have_value("Glaze table lights")
    expect(last.locator("td[data-col=load] input")).to_have_value("400 VA")
    assert page.faults == []


def test_on_a_touch_screen_figures_have_a_number_keyboard_with_units_on_keys(window):
    page = window(390, at="/quick/circuit/", touch=True)
    load = page.locator("[name=load]")
    load.tap()
    assert load.evaluate("f => f.inputMode") == "decimal"
    keys = page.get_by_role("toolbar", name="Units")
    expect(keys).to_be_visible()
    page.keyboard.type("4.5", delay=40)
    keys.get_by_role("button", name="kW", exact=True).tap()
    expect(load).to_have_value("4.5 kW")
    expect(load).to_be_focused()
    expect(page.locator(".edge-answer, .answer").first).to_contain_text("A")
    keys.get_by_role("button", name="ABC").tap()
    assert load.evaluate("f => f.inputMode") == "text"
    expect(load).to_be_focused()
    boxes = keys.get_by_role("button").all()
    assert all(one.bounding_box()["height"] >= 44 for one in boxes)
    page.locator("select[name=connection]").focus()
    expect(keys).to_be_hidden()
    assert page.faults == []


def test_with_a_mouse_there_are_no_unit_keys(window):
    page = window(at="/quick/circuit/")
    page.locator("[name=load]").focus()
    expect(page.get_by_role("toolbar", name="Units")).to_be_hidden()


def test_an_unknown_is_found_by_its_button_and_entered(window):
    page = window(at="/quick/circuit/")
    typed(page.locator("[name=load]"), "20 A")
    find = page.get_by_role("button", name="Find Length, one way")
    find.click()
    expect(page.locator("[name=length]")).to_have_value("?")
    expect(page.locator(".answer .big")).to_have_text("45 ft")
    page.get_by_role("button", name="Enter 45 ft").click()
    expect(page.locator("[name=length]")).to_have_value("45 ft")
    expect(page.locator(".answer .big")).to_have_text("20 A")
    expect(page.locator("#result")).to_contain_text("3 %")
    assert page.faults == []


def test_a_question_is_answered_while_it_is_typed_and_enter_opens_its_sheet(window):
    page = window()
    field = page.locator("#ask")
    field.click()
    page.keyboard.type("20 hp 460 V zylophone", delay=30)
    first = page.locator(".answers li").first
    expect(first).to_contain_text("Full-load current 27 A")
    expect(page.locator(".asked mark")).to_have_text("zylophone")
    for _ in "zylophone":
        page.keyboard.press("Backspace")
    expect(page.locator(".asked")).to_have_count(0)
    with page.expect_navigation():
        page.keyboard.press("Enter")
    expect(page.locator("[name=horsepower]")).to_have_value("20 hp")
    expect(page.locator(".answer .big")).to_have_text("70 A")
    assert page.faults == []


def test_a_usual_value_of_a_board_is_shown_on_its_circuit_and_overridden(demo):
    page = demo("Workshop")
    fold = page.locator("details[data-usual=usual]")
    fold.locator("summary").click()
    page.locator("[name=usual_wiring_method]").select_option("RMC")
    settled(page)
    follow(page.locator("#tree").get_by_role("link", name="Glaze room lights"))
    method = opened(page.locator("[name=wiring_method]"))
    expect(method).to_have_value("RMC")
    expect(page.locator(".from-above").first).to_contain_text("usual below Workshop")
    method.select_option("EMT")
    settled(page)
    page.reload()
    expect(page.locator("[name=wiring_method]")).to_have_value("EMT")
    expect(page.locator(".from-above").first).to_contain_text("rigid metal conduit is usual below")
    assert page.faults == []
