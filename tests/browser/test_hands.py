"""Hands on the table and the sheets, over every kind of line: what is kept is what was typed."""

import re

import pytest
from browser.hands import Hands, follow, opened, settled, table
from browser.weather import LINE
from playwright.sync_api import expect

LINES = {
    "at once": {},
    "after half a second": {"delays": (0.5,)},
    "after three seconds": {"delays": (3,)},
    "out of order": {"delays": (0.9, 0, 0.4, 0.05)},
    "failing": {"delays": (0.05,), "failing": 2},
    "losing answers": {"delays": (0.1,), "losing": 2},
}
ROWS = [
    ("Wheel 1", "recep", "6", "41"), ("Spray booth", "air", "23 A", "62 ft"),
    ("Lamp row", "light", "788 VA", "55 ft"), ("Water heater", "water", "4.5 kW", "30 ft"),
]  # fmt: skip


@pytest.fixture
def shop(demo):
    return demo("Shop and gallery")


def new_row(page):
    return page.locator("#circuits tbody tr.new input[name]").first


CASES = [(15, "at once"), (60, "at once"), (120, "at once"), (15, "after half a second"),
         (60, "out of order"), (60, "failing"), (15, "losing answers"), (15, "after three seconds")]  # fmt: skip


@pytest.mark.parametrize(("pace", "line"), CASES)
def test_rows_typed_across_a_board_are_kept_as_typed(shop, pace, line):
    before = table(shop)
    LINE.set(**LINES[line])
    hands = Hands(shop, pace)
    new_row(shop).focus()
    rows = ROWS if pace < 120 else ROWS[1:3]
    for name, use, load, length in rows:
        hands.row(name, use, load, length)
        new_row(shop).focus()
    hands.press("Tab")
    settled(shop)
    LINE.clear()
    shop.reload()
    shop.wait_for_selector("#circuits")
    assert [row[0] for row in table(shop)] == [row[0] for row in before] + [r[0] for r in rows]
    kept = [
        ["Wheel 1", "receptacles", "6", "line-neutral", "41 ft"],
        ["Spray booth", "air conditioning", "23 A", "line-neutral", "62 ft"],
        ["Lamp row", "lighting", "788 VA", "line-neutral", "55 ft"],
        ["Water heater", "water heater", "4.5 kW", "line-neutral", "30 ft"],
    ]  # fmt: skip
    assert table(shop)[len(before) :] == [row for row in kept if row[0] in {r[0] for r in rows}]
    assert table(shop)[: len(before)] == before
    ignore_faults(shop)


def ignore_faults(page):
    """What the browser says of answers that failed by design."""
    page.faults[:] = [f for f in page.faults if "502" not in f and "Failed to load" not in f]


def kept_after_reload(page):
    settled(page)
    LINE.clear()
    page.reload()
    page.wait_for_selector("#circuits, #entries")


@pytest.mark.parametrize("line", ["at once", "after half a second"])
def test_names_typed_down_a_column(shop, line):
    before = [row[0] for row in table(shop)]
    LINE.set(**LINES[line])
    hands = Hands(shop, 15)
    new_row(shop).focus()
    names = ["North lamps", "South lamps", "Till", "Kettle", "Spare room"]
    for name in names:
        hands.type(name)
        hands.press("Enter")
    kept_after_reload(shop)
    assert [row[0] for row in table(shop)] == before + names


@pytest.mark.parametrize("line", ["at once", "after half a second", "losing answers"])
def test_a_row_just_typed_is_deleted_and_stays_so(shop, line):
    before = table(shop)
    LINE.set(**LINES[line])
    hands = Hands(shop, 15)
    new_row(shop).focus()
    hands.row("Mistake", "light", "600 W", "20")
    hands.press("Alt+Backspace")
    shop.wait_for_timeout(200)
    kept_after_reload(shop)
    assert table(shop) == before
    ignore_faults(shop)


@pytest.mark.parametrize("line", ["at once", "after half a second", "losing answers"])
def test_undo_straight_after_typing_takes_what_was_typed(shop, line):
    before = table(shop)
    LINE.set(**LINES[line])
    hands = Hands(shop, 60)
    name = shop.locator("#circuits tbody tr input[name]").first
    load = shop.locator('#circuits tbody tr [data-col="load"] input').first
    name.focus()
    hands.press("Tab", "Tab")
    hands.replace("1.75 kW")
    hands.press("Alt+u")
    expect(load).to_have_value(before[0][2], timeout=20_000)
    expect(load).to_be_focused()
    hands.press("Alt+r")
    expect(load).to_have_value("1.75 kW", timeout=20_000)
    hands.press("Alt+u")
    expect(load).to_have_value(before[0][2], timeout=20_000)
    kept_after_reload(shop)
    assert table(shop) == before
    ignore_faults(shop)


# where, what is typed first, what that is kept as, and what is typed then: what stood there
BACK = [
    ("Shop and gallery", '#circuits tbody tr td[data-col="name"] input', "Lamp", None),
    ("Shop and gallery", '#circuits tbody tr td[data-col="length"] input', "77 ft", None),
    ("Shop and gallery", '#circuits tbody tr td[data-col="use"] select', "water", "air"),
    ("Keeper’s cottage", '#entries [name="area"]', "2222", None),
]


@pytest.mark.parametrize("line", ["after half a second", "after three seconds", "losing answers"])
@pytest.mark.parametrize(("part", "where", "first", "then"), BACK)
def test_what_is_typed_back_before_the_answer_comes_stays(demo, part, where, first, then, line):
    page = demo(part)
    hands = Hands(page, 15)
    cell = opened(page.locator(where).first)
    if then:  # a list is taken back to a choice that was kept a moment ago
        cell.focus()
        hands.choose(then)
        settled(page)
    stood = cell.input_value()
    LINE.set(**LINES[line])
    cell.focus()
    for text in (first, then or stood):
        if then:
            hands.choose(text)
        else:
            hands.replace(text)
            hands.press("Enter")
            cell.focus()
    hands.press("Tab")
    kept_after_reload(page)
    assert opened(page.locator(where).first).input_value() == stood
    ignore_faults(page)


def test_choices_by_arrow_keys_behind_a_slow_line(shop):
    LINE.set((0.4,))
    hands = Hands(shop, 60)
    new_row(shop).focus()
    hands.row("Heater bank", "", "3 kW", "12 ft")
    hands.press("Shift+Tab", "Shift+Tab", "Shift+Tab", "Shift+Tab")
    hands.press("ArrowDown", "ArrowDown", "ArrowDown", "ArrowDown", "ArrowUp", "ArrowDown")
    shown = shop.evaluate("document.activeElement.value")
    hands.press("Tab")
    kept_after_reload(shop)
    assert table(shop)[-1][:3] == ["Heater bank", shown, "3 kW"] and shown == "space heating"


@pytest.mark.parametrize("line", ["at once", "after half a second", "losing answers"])
def test_the_page_is_closed_right_after_the_last_key(shop, line):
    before = table(shop)
    context, url = shop.context, shop.url
    LINE.set(**LINES[line])
    hands = Hands(shop, 15)
    new_row(shop).focus()
    hands.row("Last thing", "light", "640 W", "33 ft")
    faults = shop.faults
    shop.close()
    LINE.clear()
    again = context.new_page()
    again.goto(url)
    again.wait_for_timeout(800)
    settled(again)
    again.reload()
    assert table(again) == [*before, ["Last thing", "lighting", "640 W", "line-neutral", "33 ft"]]
    expect(again.locator("#table-trouble")).to_be_empty()
    faults[:] = [f for f in faults if "502" not in f]


def test_a_bare_figure_and_away(demo):
    page = demo("Kiln room lights")
    LINE.set((0.3,))
    hands = Hands(page, 15)
    page.locator('[name="length"]').focus()
    hands.replace("42")
    hands.press("Tab")
    page.goto("about:blank")
    page.go_back()
    expect(page.locator('[name="length"]')).to_have_value("42 ft")
    settled(page)
    expect(page.locator(".clash")).to_have_count(0)


def test_back_shows_what_is_kept(demo):
    page = demo("Kiln room lights")
    hands = Hands(page, 15)
    page.locator('[name="length"]').focus()
    hands.replace("61 ft")
    hands.press("Tab")
    settled(page)
    page.locator("a.part-link").filter(has_text=re.compile(r"Kiln room\d")).click()
    page.wait_for_selector("#circuits")
    length = page.locator("#circuits tr", has=page.locator('[data-base="Kiln room lights"]'))
    length.locator('[data-col="length"] input').focus()
    hands.replace("88 ft")
    hands.press("Tab")
    settled(page)
    page.go_back()
    expect(page.locator('[name="length"]')).to_have_value("88 ft")
    page.locator('[name="load"]').focus()
    hands.replace("500 W")
    hands.press("Tab")
    settled(page)
    expect(page.locator(".clash")).to_have_count(0)


def test_three_quick_presses_move_three_places(demo):
    page = demo(None)
    LINE.set((0.3, 0.1))
    names = page.locator(".job-tree a")
    row = page.locator(".job-tree").get_by_role("radio", name="Choose Kiln room receptacles")
    row.focus()
    before = names.all_text_contents()
    hands = Hands(page, 15)
    hands.press("Alt+ArrowUp", "Alt+ArrowUp", "Alt+ArrowUp")
    at = before.index("Kiln room receptacles")
    expect(names.nth(at - 3)).to_have_text("Kiln room receptacles")
    expect(row).to_be_focused()
    hands.press("Delete")
    expect(names).to_have_count(len(before) - 1)
    expect(page.locator(".job-tree input:checked")).to_be_focused()
    hands.press("Alt+u")
    expect(row).to_be_focused()
    page.reload()
    assert page.locator(".job-tree a").all_text_contents()[at - 3] == "Kiln room receptacles"


def test_a_failing_server_is_not_stormed(demo):
    page = demo("Kiln room lights")
    LINE.set((0,), failing=10_000)
    hands = Hands(page, 60)
    page.locator('[name="load"]').focus()
    hands.replace("700 W")
    hands.press("Tab")
    hands.replace("1.2")
    hands.press("Tab", "Shift+Tab", "Tab")
    page.wait_for_timeout(3500)
    saves = 10_000 - LINE.failing
    assert 2 <= saves <= 4  # at once, after 1 s, after 2 s more
    expect(page.locator("#kept")).to_contain_text("a fault of the server; tried again in")
    LINE.clear()
    settled(page)
    page.reload()
    expect(page.locator('[name="load"]')).to_have_value("700 W")
    ignore_faults(page)


def test_typing_over_a_conflict_keeps_the_choice(demo):
    one = demo("Kiln room lights")
    two = one.context.new_page()
    two.goto(one.url)
    Hands(one, 15).press("Alt+1")
    one.locator('[name="load"]').focus()
    Hands(one, 15).replace("700 W")
    Hands(one, 15).press("Tab")
    settled(one)
    two.locator('[name="load"]').focus()
    hands = Hands(two, 15)
    hands.replace("800 W")
    hands.press("Tab")
    clash = two.locator(".clash")
    expect(clash).to_contain_text("Another tab has kept “700 W” here; this one says “800 W”")
    two.locator('[name="load"]').focus()
    hands.replace("soup")
    expect(two.locator("#e-load-why")).to_contain_text("does not read")
    hands.replace("900 W")
    hands.press("Tab")
    two.wait_for_timeout(400)
    expect(clash.get_by_role("button", name="Keep this one")).to_be_visible()
    expect(two.locator("#kept")).to_contain_text("waits for your choice")
    clash.get_by_role("button", name="Keep this one").click()
    settled(two)
    one.reload()
    expect(one.locator('[name="load"]')).to_have_value("900 W")


def test_a_row_deleted_in_one_tab_and_edited_in_the_other(shop):
    two = shop.context.new_page()
    two.goto(shop.url)
    before = table(shop)
    hands = Hands(shop, 15)
    shop.locator("#circuits tbody tr input[name]").first.focus()
    hands.press("Alt+Backspace")
    settled(shop)
    two.locator('#circuits tbody tr [data-col="length"] input').first.focus()
    other = Hands(two, 15)
    other.replace("99 ft")
    other.press("Tab")
    expect(two.locator("#table-trouble")).to_contain_text(f"{before[0][0]} was deleted elsewhere")
    two.get_by_role("button", name="Bring it back").click()
    settled(two)
    two.reload()
    assert [*before[0][:4], "99 ft"] in table(two) and len(table(two)) == len(before)


@pytest.mark.parametrize(
    ("part", "typed"),
    [
        ("Glaze compressor", {"horsepower": "10 hp", "nameplate": "27.5 A", "length": "91"}),
        ("Workshop feeder", {"length": "77"}),
        ("Gatehouse run", {"segments.g1.length": "151", "segments.g2.nameplate": "5.1 A"}),
        ("Keeper’s cottage", {"area": "1650", "appliances.a2.nameplate": "1.25 kW",
                              "cooking.c1.name": "Stove"}),
        ("Mill transformer", {"kva": "150", "impedance": "3.9"}),
        ("Counter, one neutral for two circuits", {"loads.k2.nameplate": "1.1 kW"}),
        ("Cooktop and wall ovens", {"cooktop": "7.1 kW", "oven_1": "4.4 kW"}),
        ("Mill service", {"length": "28"}),
    ],
)  # fmt: skip
def test_every_sheet_keeps_what_was_typed(demo, part, typed):
    page = demo(part)
    LINE.set((0.2, 0, 0.6))
    hands = Hands(page, 15)
    for path, text in typed.items():
        page.locator(f'[name="{path}"]').focus()
        hands.replace(text)
        hands.press("Tab")
    kept_after_reload(page)
    for path, text in typed.items():
        kept = page.locator(f'[name="{path}"]').input_value()
        assert kept == text or kept.startswith(text + " "), (path, kept)


def test_rows_of_a_sheet_are_typed_deleted_and_undone(demo):
    page = demo()
    LINE.set((0.3, 0, 0.5))
    hands = Hands(page, 15)
    items = page.locator('[data-list="appliances"] .item')
    page.locator('[name="appliances.a4.nameplate"]').focus()
    hands.press("Enter")
    for name, watts in (("Wine cooler", "300 W"), ("Mistake", "9 kW"), ("Sauna", "6 kW")):
        hands.type(name)
        hands.press("Enter")
        hands.type(watts)
        hands.press("Enter")
    hands.press("Alt+Backspace")  # the empty one
    mistake = items.nth(5).locator("input").first
    expect(mistake).to_have_value("Mistake")
    mistake.focus()
    hands.press("Alt+Backspace")
    kept_after_reload(page)
    names = items.locator("input:first-child").evaluate_all("all => all.map((f) => f.value)")
    assert [n for n in names if n in ("Wine cooler", "Mistake", "Sauna")] == [
        "Wine cooler",
        "Sauna",
    ]
    page.locator('[name="area"]').focus()
    hands.press("Alt+u")
    # with what else went out in the same request
    expect(page.locator("#notes")).to_contain_text("row “Mistake” added")
    page.wait_for_function(
        "() => [...document.querySelectorAll('#entries input')].some((f) => f.value === 'Mistake')"
    )
    expect(page.locator('[name="area"]')).to_be_focused()


def test_a_supply_of_medium_voltage_draws_and_prints(demo):
    page = demo("Mill transformer")
    hands = Hands(page, 15)
    field = page.locator('[name="primary_volts"]')
    if field.count():
        field.focus()
        hands.replace("13.8 kV")
        hands.press("Tab")
        settled(page)
        page.reload()
        expect(field).to_have_value("13.8 kV")
        expect(page.locator("#drawing svg").first).to_be_visible()


TITLED = (
    "Name\tUse\tLength\tLoad\nBench lamps\tlighting\t31 ft\t480 W\nOven\tpottery\t12 ft\t2 kW\n"
)


def test_a_paste_with_titles_and_an_unknown_use(shop):
    before = table(shop)
    shop.context.grant_permissions(["clipboard-read", "clipboard-write"])
    shop.evaluate("text => navigator.clipboard.writeText(text)", TITLED)
    new_row(shop).focus()
    hands = Hands(shop, 60)
    hands.press("Control+v")
    expect(shop.locator("#paste")).to_be_visible()
    expect(shop.locator("#paste")).to_contain_text("2 rows")
    hands.press("Enter")
    expect(shop.locator("#table-trouble")).to_contain_text("“pottery” is not known for “Use”")
    hands.press("Escape")
    settled(shop)
    shop.reload()
    assert table(shop)[len(before):] == [
        ["Bench lamps", "lighting", "480 W", "line-neutral", "31 ft"],
        ["Oven", "general", "2 kW", "line-neutral", "12 ft"],
    ]  # fmt: skip


def test_a_tap_set_in_the_drawing_keeps_the_focus(demo):
    page = demo("Mill transformer")
    tap = page.locator('[data-sets="tap=-5"]')
    tap.focus()
    page.keyboard.press("Enter")
    expect(page.locator("#result")).to_contain_text("218.9")
    settled(page)
    expect(page.locator('[data-sets="tap=-5"]')).to_be_focused()


def test_a_stale_tab_overwrites_no_settings_and_no_prices(demo):
    one = demo(None)
    two = one.context.new_page()
    for page in (one, two):
        page.goto(f"{page.url if page is one else one.url}".split("settings/")[0] + "settings/")
    hands, other = Hands(one, 15), Hands(two, 15)
    expect(one.get_by_label("Name of the job")).to_be_focused()
    hands.replace("Alder Mill, east")
    hands.press("Enter")
    expect(one.locator("h1")).to_have_text("Alder Mill, east")
    two.get_by_label("Name of the job").focus()
    other.replace("Alder Mill, west")
    other.press("Enter")
    expect(two.locator(".problem")).to_contain_text("Another tab has kept “Alder Mill, east”")
    expect(two.get_by_label("Name of the job")).to_have_value("Alder Mill, west")
    other.press("Enter")
    expect(two.locator("h1")).to_have_text("Alder Mill, west")
    one.faults[:] = [f for f in one.faults if "422" not in f]


def test_ten_readings_on_one_form(demo):
    page = demo(None)
    follow(page.get_by_role("link", name="Site readings"))
    page.locator("#id_part").select_option(label="Kiln room")
    expect(page.locator("#id_point")).to_contain_text("L1")
    page.locator("#id_value").focus()
    LINE.set((0.2,))
    before = page.locator(".visit tbody tr").count()
    hands = Hands(page, 15)
    for count, volts in enumerate(("115.2", "115.4", "115.1"), 1):
        hands.replace(volts + " V")
        hands.press("Enter")
        expect(page.locator(".visit tbody tr")).to_have_count(before + count)
        expect(page.locator("#id_value")).to_be_focused()
    page.reload()
    expect(page.locator(".visit tbody tr")).to_have_count(before + 3)
    page.get_by_role("button", name="Delete").first.click()
    expect(page.locator(".visit tbody tr")).to_have_count(before + 2)
    page.get_by_role("button", name="Restore").click()
    expect(page.locator(".visit tbody tr")).to_have_count(before + 3)


def test_a_page_older_than_what_was_kept_puts_itself_right(demo):
    """A choice is kept, and the page that a reload brings was made before it: the page asks again
    and never shows the old value as the one that is kept."""
    page = demo("Workshop feeder")
    address = page.url
    older = page.context.request.get(address).text()
    metal = page.locator("#entries select[name=material]")
    assert metal.input_value() != "aluminum"
    opened(metal).focus()
    page.keyboard.type("alu", delay=60)
    settled(page)
    page.route(address, lambda route: route.fulfill(body=older, content_type="text/html"))
    page.reload()
    expect(page.locator("#entries select[name=material]")).to_have_value("aluminum")
    expect(page.locator("#result")).to_contain_text("AWG Al")
    page.unroute(address)
    page.reload()
    expect(page.locator("#entries select[name=material]")).to_have_value("aluminum")
    assert page.faults == []
