"""Circuits in the browser: the tree, the board's table, live sizing, finding a task."""

import re

from browser.hands import Hands, focused, follow, settled, table, typed
from playwright.sync_api import expect

COTTAGE = "Keeper’s cottage"


def rows(page):
    return page.locator("#circuits tbody tr")


def cell(page, name, column):
    row = page.locator("#circuits tbody tr").filter(has=page.locator(f'input[data-base="{name}"]'))
    return row.locator(f'[data-col="{column}"] >> input, select')


def test_typing_resizes_the_circuit_at_once(demo):
    page = demo("Kiln 2, top loading")
    expect(page.locator("#result")).to_contain_text("8 AWG Cu")
    typed(page.locator('[name="load"]'), "14 kW")
    expect(page.locator(".answer .big")).to_have_text("80 A")
    expect(page.locator("#drawing")).to_contain_text("80 A")
    expect(page.locator(".alternatives")).to_contain_text("chosen")
    typed(page.locator('[name="device"]'), "50")
    expect(page.locator("#result .find.fail")).to_contain_text("does not hold")
    expect(page.locator(".part-link.on .shape.fail")).to_be_visible()
    typed(page.locator('[name="load"]'), "heavy")
    expect(page.locator("#e-load-why")).to_contain_text("does not read")
    expect(page.locator("#stale")).to_be_visible()


def test_the_code_edition_changes_the_taps(demo):
    page = demo("Cooktop and wall ovens")
    expect(page.locator("#result")).to_contain_text("Under the other editions")
    expect(page.locator("#result")).to_contain_text("NEC 2017: 50 A")
    expect(page.locator("#drawing")).to_contain_text("junction")


def test_a_part_is_added_moved_deleted_and_brought_back_by_keyboard(demo):
    page = demo(None)
    names = page.locator(".job-tree a")
    page.locator(".job-tree").get_by_role("radio", name="Choose Kiln 2, top loading").check()
    before = names.all_text_contents()
    at = before.index("Kiln 2, top loading")
    page.keyboard.press("Alt+ArrowUp")
    # before the booster with the kiln under it
    expect(names.nth(at - 2)).to_have_text("Kiln 2, top loading")
    expect(page.locator(".job-tree input:checked")).to_be_focused()
    page.keyboard.press("Delete")
    expect(names).to_have_count(len(before) - 1)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".job-tree a", has_text="Kiln 2")).to_be_visible()
    page.locator(".job-tree").get_by_role("radio", name="Choose Workshop", exact=True).check()
    page.locator("#add-kind").select_option("motor")
    page.get_by_role("button", name="Add below").click()
    expect(page.locator(".job-tree a", has_text="Motor circuit 1")).to_be_visible()


def test_a_part_is_dragged_under_another(demo):
    page = demo(None)
    lights = page.locator(".job-tree li", has_text="Kiln room lights")
    feeder = page.locator(".job-tree li", has_text="Workshop feeder")
    feeder.scroll_into_view_if_needed()
    lights.drag_to(feeder, target_position={"x": 200, "y": 26})
    expect(lights).to_have_attribute("data-parent", feeder.get_attribute("data-part"))
    page.get_by_role("button", name="Undo").click()
    room = page.locator(".job-tree li", has_text="Kiln room receptacles")
    expect(lights).to_have_attribute("data-parent", room.get_attribute("data-parent"))


def test_typing_row_by_row_on_the_board(demo):
    """Enter after Tab goes under the cell where the row was begun."""
    page = demo("Shop and gallery")
    hands = Hands(page, 15)
    page.locator('#circuits tr.new td[data-col="name"] input').focus()
    before = table(page)
    for name in ("North lamps", "South lamps"):
        hands.row(name, "li", "480 VA", "31 ft")
        hands.press("Enter")
    settled(page)
    page.reload()
    assert table(page)[len(before):] == [
        [name, "lighting", "480 VA", "line-neutral", "31 ft"] for name in ("North lamps", "South lamps")
    ]  # fmt: skip


def test_typing_down_a_column_of_the_board(demo):
    page = demo("Workshop")
    load = cell(page, "Throwing room lights", "load")
    typed(load, "2 kW")
    load.press("Enter")
    expect(page.locator("#table-note")).to_contain_text("kept")
    row = page.locator("#circuits tr", has=page.locator('input[data-base="Throwing room lights"]'))
    expect(row.locator('[data-out="conductor"]')).to_have_text("10 AWG Cu")
    assert page.evaluate("document.activeElement.getAttribute('aria-label')").startswith(
        "Load of Glaze room lights")  # fmt: skip
    expect(page.locator("#drawing")).to_contain_text("mean")


def test_pasting_rows_from_a_spreadsheet_makes_circuits(demo):
    page = demo("Workshop")
    before = rows(page).count()
    first = rows(page).last.locator('[data-col="name"] input')
    first.focus()
    page.evaluate(
        """() => {
      const data = new DataTransfer();
      data.setData("text/plain", "Bench A\\tlighting\\t700 W\\tline and neutral\\tL2\\t44 ft\\nBench B\\treceptacles\\t5\\nBench C\\tkiln\\tabc\\n");
      document.activeElement.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}));
    }"""
    )
    page.get_by_role("button", name="Take it").click()
    expect(page.locator("#table-note")).to_contain_text("kept")
    expect(rows(page)).to_have_count(before + 3)
    made = page.locator("#circuits tr", has=page.locator('input[data-base="Bench A"]'))
    expect(made.locator('[data-out="conductor"]')).to_have_text("14 AWG Cu")
    expect(made.locator('[data-out="at"]')).to_have_text("L2")
    wrong = page.locator("#circuits tr", has=page.locator('input[data-base="Bench C"]'))
    expect(wrong.locator('[data-col="load"] input')).to_have_attribute("aria-invalid", "true")
    page.reload()
    expect(rows(page)).to_have_count(before + 3)
    wrong.locator('[data-col="load"] input').focus()
    page.keyboard.press("Alt+Backspace")
    expect(rows(page)).to_have_count(before + 2)


def test_a_table_typed_without_a_connection_is_not_lost(demo):
    page = demo("Workshop")
    load = cell(page, "Throwing room lights", "load")
    page.context.set_offline(True)
    typed(load, "1.9 kW")
    load.press("Tab")
    expect(page.locator("#table-note")).to_contain_text("no connection")
    page.context.set_offline(False)  # tried again by itself, at once
    expect(page.locator("#kept")).to_have_text(re.compile("^kept"))
    page.reload()
    expect(cell(page, "Throwing room lights", "load")).to_have_value("1.9 kW")
    page.faults[:] = [f for f in page.faults if "ERR_INTERNET_DISCONNECTED" not in f]


def test_a_file_is_taken_after_its_preview(demo, tmp_path):
    page = demo("Workshop")
    path = tmp_path / "circuits.csv"
    path.write_text("Name,Use,Load\nPug mill,motor,7-1/2 hp\nSpot,lighting,900 W\nBad,kiln,abc\n")
    page.get_by_role("link", name="Take from a file").click()
    page.set_input_files("#file", str(path))
    page.get_by_role("button", name="See what would change").click()
    expect(page.locator("main")).to_contain_text("5 hp → 7-1/2 hp")
    page.get_by_role("button", name="Take what is ticked").click()
    expect(cell(page, "Pug mill", "load")).to_have_value("7-1/2 hp")


def test_a_task_is_found_by_its_name_and_worked_at_once(window):
    page = window()
    typed(page.locator("#ask"), "breaker for 10 hp")
    follow(page.locator(".answers").get_by_role("link", name="Motor, 10 hp", exact=False).first)
    expect(page.locator(".answer .big")).to_have_text("80 A")
    typed(page.locator('[name="horsepower"]'), "15 hp")
    expect(page.locator(".answer .big")).to_have_text("125 A")


def test_tables_are_searched_and_compared(window):
    page = window()
    follow(page.get_by_role("link", name="All tables"))
    typed(page.locator("#q"), "occupancy")
    page.get_by_role("link", name="General lighting load by occupancy").click()
    expect(page.locator("td.differs").first).to_be_visible()


def test_an_amendment_shows_on_its_line(demo):
    page = demo("Kiln room lights")
    job = page.url.split("parts/")[0]
    sheet = page.url
    page.goto(job + "amendments/")
    page.select_option("[name=topic]", "ampacity")
    for name, text in (("row", "14"), ("column", "copper 60"), ("value", "12"),
                       ("jurisdiction", "Mill County"), ("reason", "Ordinance 7")):  # fmt: skip
        typed(page.locator(f"[name={name}]"), text)
    page.get_by_role("button", name="Add amendment").click()
    page.goto(sheet)
    expect(page.locator("#result")).to_contain_text("12 instead of 15")
    expect(page.locator(".chip.amended").first).to_be_visible()


def test_a_tap_is_set_in_the_drawing_and_the_list_is_ticked(demo):
    page = demo("Mill transformer")
    page.locator('[data-sets="tap=-5"]').click()
    expect(page.locator('[name="tap"]')).to_have_value("-5")
    expect(page.locator("#result")).to_contain_text("218.9")
    focused(page.locator('[data-sets="tap=+2.5"]'))
    page.keyboard.press("Enter")
    expect(page.locator('[name="tap"]')).to_have_value("+2.5")
    box = page.locator('[name="done_place"]')
    box.check()
    expect(page.locator("#kept")).to_contain_text("kept")
    page.reload()
    expect(box).to_be_checked()


def test_the_riser_is_moved_brought_nearer_and_leads_to_its_parts(demo):
    page = demo(None)
    page.get_by_role("link", name="One-line diagram").click()
    svg = page.locator("#riser-drawing")
    before = svg.get_attribute("viewBox")
    page.get_by_role("button", name="Zoom in").click()
    nearer = svg.get_attribute("viewBox")
    assert float(nearer.split()[2]) < float(before.split()[2])
    page.locator("#riser").focus()
    page.keyboard.press("ArrowDown")
    assert float(svg.get_attribute("viewBox").split()[1]) > float(nearer.split()[1])
    page.get_by_role("button", name="Fit").click()
    page.locator("#riser").get_by_role("link", name="Mill transformer", exact=True).click()
    expect(page.locator("#result")).to_contain_text("Loaded to")
