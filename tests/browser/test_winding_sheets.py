"""The windings bench as hands use it: a booster for a kiln, a corner read, a coil turned round."""

import pytest
from browser.hands import Hands, focused, typed
from playwright.sync_api import expect

KEYS = {"primary": "480 V", "secondary": "240 V", "kva": "15 kVA", "supply": "480 V",
        "required_voltage": "240 V", "impedance": "3"}  # fmt: skip


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
    expect(page.locator("[name=reversed_secondary]")).to_have_value("2")
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
    page.wait_for_url("**/quick/buck_boost/**")
    page.wait_for_load_state("load")
    for name, text in (
        ("measured_voltage", "208 V"),
        ("required_voltage", "240 V"),
        ("load", "9.6 kVA"),
    ):
        typed(page.locator(f"[name={name}]"), text)
        page.keyboard.press("Tab")
    expect(page.locator(".answer")).to_contain_text("235.7 V")
    expect(page.locator(".answer")).to_contain_text("1.5 kVA")
    expect(page.locator("#drawing")).to_contain_text("120 × 240 to 16/32 V")
    typed(page.locator("[name=required_voltage]"), "120 V")
    page.keyboard.press("Tab")
    expect(page.locator("#result")).to_contain_text("No usual unit gives these volts")
    typed(page.locator("[name=measured_voltage]"), "many")
    page.keyboard.press("Tab")
    expect(page.locator("#e-measured-voltage-why")).to_contain_text("“many” does not read as")
    assert page.faults == []


DELTA_STAR = (("x", "400 V", "231 V"), ("y", "400 V", "231 V"), ("z", "400 V", "231 V"))


def texts_of(page):
    """The list of joints as it stands in the fields."""
    return page.evaluate(
        """() => [...document.querySelectorAll('[data-list="joints"] input')].map((f) => f.value)"""
    )


def stand(page, server, joints):
    """Three units on the bench, and joints typed row by row."""
    open_sheet(page, server, "winding_connections")
    hands = Hands(page, 15)
    for index, (name, first, second) in enumerate(DELTA_STAR):
        if index:  # a sheet begins with an empty row
            page.get_by_role("button", name="Add a unit").click()
        row = page.locator('[data-list="units"] .items > li').last
        for column, text in (("name", name), ("first", first), ("second", second)):
            typed(row.locator(f'input[name$=".{column}"]'), text)
    page.locator('[data-list="joints"] input').first.focus()
    for index, text in enumerate(joints):
        hands.type(text)
        if index + 1 < len(joints):
            hands.press("Enter")
    typed(page.locator("[name=supply]"), "400 V")
    page.keyboard.press("Tab")


def end(page, name):
    return page.locator(f'#drawing [data-panel="coils"] g.end[data-end="{name}"]:not(.onrail)')


@pytest.mark.parametrize("width", [1280, 390])
def test_joints_are_made_by_keyboard_and_the_list_follows(window, demo_server, width):
    """The last joint of a delta–star by Enter on one end and Enter on the other; Delete takes it
    off again."""
    page = window(width)
    joints = ["A x1+ z1-; B y1+ x1-; C z1+ y1-", "a x2+; b y2+; c z2+", "n x2- y2-"]
    stand(page, demo_server, joints)
    result = page.locator("#result")
    expect(result).to_contain_text("No standard group")
    focused(end(page, "z2-"))
    page.keyboard.press("Enter")
    expect(page.locator("[data-hand]")).to_contain_text("Joint from z2-")
    focused(end(page, "y2-"))
    page.keyboard.press("Enter")
    expect(page.locator(".answer")).to_contain_text("Dy11")
    assert texts_of(page) == [*joints[:2], "n x2- y2- z2-"]
    expect(end(page, "z2-")).to_have_attribute("aria-label", "z2-, joined to n x2- y2-")
    focused(end(page, "z2-"))
    page.keyboard.press("Delete")
    expect(result).to_contain_text("No standard group")
    assert texts_of(page) == joints
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    assert page.faults == []


def test_a_joint_is_dragged_and_what_is_typed_is_drawn(window, demo_server):
    """From an end to a rail and from an end to an open end; then typed, and the drawing follows."""
    page = window()
    stand(page, demo_server, ["A x1+ z1-; B y1+ x1-; C z1+ y1-", "a x2+; b y2+; c z2+"])
    expect(page.locator("#result")).to_contain_text("Line volts")

    def drag(one, other):
        # an answer on its way may put the drawing anew just then
        expect(one).to_be_visible()
        expect(other).to_be_visible()
        page.wait_for_timeout(300)
        start, stop = (item.bounding_box() for item in (one, other))
        page.mouse.move(start["x"] + start["width"] / 2, start["y"] + start["height"] / 2)
        page.mouse.down()
        for step in (0.3, 0.6, 1.0):
            page.mouse.move(
                start["x"]
                + start["width"] / 2
                + step * (stop["x"] + stop["width"] / 2 - start["x"] - start["width"] / 2),
                start["y"]
                + start["height"] / 2
                + step * (stop["y"] + stop["height"] / 2 - start["y"] - start["height"] / 2),
            )
            page.wait_for_timeout(30)
        page.mouse.up()

    drag(end(page, "x2-"), end(page, "y2-"))
    expect(end(page, "x2-")).to_have_attribute("aria-label", "x2-, joined to y2-")
    rail = page.locator('#drawing [data-panel="coils"] g.end.onrail[data-end="x2-"]')
    drag(end(page, "z2-"), rail)
    expect(page.locator(".answer")).to_contain_text("Dy11")
    assert texts_of(page)[-1] == "x2- y2- z2-"
    page.locator('[data-view="clock"]').click()
    expect(page.locator('#drawing [data-panel="clock"]')).to_contain_text("Dy11")
    last = page.locator('[data-list="joints"] input').last
    typed(last, "x2- y2- z2+")
    page.keyboard.press("Tab")
    expect(page.locator("#result")).to_contain_text("Ends are open: z2-")
    typed(last, "q9-")
    page.keyboard.press("Tab")
    expect(page.locator('[data-list="joints"] .items > li').last).to_contain_text(
        "There is no “q9-”"
    )
    assert last.input_value() == "q9-"
    assert page.faults == []


def test_the_old_bank_of_the_library_says_what_is_wrong(window, demo_server):
    page = window()
    open_sheet(page, demo_server, "winding_connections")
    page.get_by_role("link", name="The old bank without labels").click()
    page.wait_for_load_state("load")
    expect(page.locator("#result")).to_contain_text("Coil y3 turned round would make it Dz6")
    for view in ("above", "phasors", "clock"):
        page.locator(f'[data-view="{view}"]').click()
        expect(page.locator(f'#drawing [data-panel="{view}"]')).to_be_visible()
    assert page.faults == []


def test_a_fault_is_switched_in_the_drawing(window, demo_server):
    """By keyboard: the load sees the source's volts; pressed again, all is as before."""
    page = window()
    open_sheet(page, demo_server, "autotransformer")
    for name, text in (
        ("winding", "240 V"),
        ("other_winding", "32 V"),
        ("kva", "1.5 kVA"),
        ("source_voltage", "240 V"),
        ("required_voltage", "208 V"),
        ("load", "8 kVA"),
    ):
        typed(page.locator(f"[name={name}]"), text)
        page.keyboard.press("Tab")
    expect(page.locator(".answer")).to_contain_text("208 V")
    switch = page.get_by_role("button", name="Fault: series winding shorted")
    focused(switch)
    page.keyboard.press("Enter")
    expect(page.locator("#result")).to_contain_text("the source’s volts stand on the load")
    expect(page.locator("#result")).to_contain_text("The device ahead opens late")
    expect(page.locator("[name=fault]")).to_have_value("series shorted")
    # drawn anew, it says that it is on and still has the focus
    expect(switch).to_have_attribute("aria-pressed", "true")
    expect(switch).to_be_focused()
    page.keyboard.press("Enter")
    expect(switch).to_have_attribute("aria-pressed", "false")
    expect(page.locator("[name=fault]")).to_have_value("none")
    expect(page.locator("#result")).not_to_contain_text("source’s volts stand on the load")
    assert page.faults == []


def test_a_booster_is_put_before_a_kiln(demo):
    """The kiln's finding offers one; it stands between board and kiln, and undo takes it out."""
    page = demo("Kiln 2, top loading")
    kiln = page.url
    offer = page.get_by_role("button", name="Put a buck-boost transformer ahead of it")
    offer.focus()
    page.keyboard.press("Enter")
    page.wait_for_load_state("load")
    expect(page.locator("h1")).to_contain_text("Buck-boost transformer for Kiln 2")
    expect(page.locator("#result")).to_contain_text("What hangs on it")
    expect(page.locator("[name=required_voltage]")).to_have_value("240 V")
    page.goto(kiln)
    expect(page.locator("#result")).not_to_contain_text("of its power")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("#result")).to_contain_text("a heater gives")
    assert page.faults == []
