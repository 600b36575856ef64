"""Devices of a board taken to other places: dragged, pressed, by keyboard; refused with the reason;
through a slow and a failing server; and what was kept compared with what was seen."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from browser.hands import Hands, focused, settled, typed
from browser.weather import LINE
from playwright.sync_api import expect

SHOP = "Shop and gallery"


def places(page):
    """Where the table says that each circuit stands."""
    return page.evaluate(
        """() => Object.fromEntries([...document.querySelectorAll("#circuits tbody tr:not(.new)")]
          .map((row) => [row.querySelector('td[data-col="name"] input').value,
                         row.querySelector('td[data-col="position"] input').value]))"""
    )


def drawn(page):
    """Where the drawing has each circuit."""
    return page.evaluate(
        """() => Object.fromEntries([...document.querySelectorAll("#drawing [data-seat]")]
          .map((seat) => [seat.dataset.name, seat.dataset.place]))"""
    )


def seat(page, name):
    return page.locator(f'#drawing [data-seat][data-name="{name}"]')


def box(control):
    """Where it is; an answer on its way may just then put the drawing anew."""
    for _ in range(50):
        expect(control).to_be_visible()
        if found := control.bounding_box():
            return found
        control.page.wait_for_timeout(100)
    raise AssertionError(f"{control} is nowhere")


def drag(page, name, to):
    here = box(seat(page, name))
    there = box(page.locator(f'#drawing [data-spot="{to}"]'))
    page.mouse.move(here["x"] + 30, here["y"] + 8)
    page.mouse.down()
    page.mouse.move(here["x"] + 50, here["y"] + 20, steps=4)
    page.mouse.move(there["x"] + 40, there["y"] + 8, steps=8)
    page.mouse.up()


def says(page):
    return page.locator("#drawing [data-hand]").first


def kept(page, name, place):
    """The server has it: a page opened anew says the same in the table and in the drawing."""
    expect(seat(page, name)).to_have_attribute("data-place", place)
    settled(page)
    page.reload()
    page.wait_for_selector("#circuits")
    assert places(page)[name] == place and drawn(page)[name] == place


def test_a_device_is_dragged_and_undone(demo):
    page = demo(SHOP)
    before = drawn(page)
    drag(page, "Gallery track 3", "11")
    expect(seat(page, "Gallery track 3")).to_have_attribute("data-place", "11")
    expect(page.locator("#result")).to_contain_text("22 %")
    settled(page)
    assert drawn(page) == {**before, "Gallery track 3": "11"}
    page.locator("#undo button").click()
    expect(seat(page, "Gallery track 3")).to_have_attribute("data-place", "7")
    expect(page.locator("#revision")).to_have_text("3")
    settled(page)
    assert drawn(page) == before
    drag(page, "Sign over the door", "6")
    kept(page, "Sign over the door", "6")


def test_two_change_places_and_one_that_does_not_fit_is_refused(demo):
    page = demo(SHOP)
    drag(page, "Packing bench", "4")  # where the till stands
    expect(seat(page, "Packing bench")).to_have_attribute("data-place", "4")
    expect(seat(page, "Till and office")).to_have_attribute("data-place", "5")
    settled(page)
    drag(page, "Gallery track 1", "10")  # a heater of two poles stands there
    expect(says(page)).to_contain_text("Door curtain heater")
    expect(says(page)).to_contain_text("does not fit")
    seat(page, "Door curtain heater").click()
    page.locator('#drawing [data-spot="29"]').click()
    expect(says(page)).to_contain_text("has 2 poles")
    assert drawn(page)["Gallery track 1"] == "1"


@pytest.mark.parametrize("width", [1280, 390])
def test_by_keyboard_alone(demo, width):
    page = demo(SHOP, width=width)
    hands = Hands(page)
    focused(seat(page, "Show window"))
    hands.press("Enter")
    expect(says(page)).to_contain_text("lifted")
    hands.press("ArrowLeft", "ArrowDown", "ArrowDown", "ArrowDown", "ArrowDown")
    expect(says(page)).to_contain_text("place 15, L2, empty")
    hands.press("Enter")
    expect(seat(page, "Show window")).to_have_attribute("data-place", "15")
    expect(seat(page, "Show window")).to_be_focused()
    hands.press("Enter", "ArrowDown", "Escape")
    expect(says(page)).to_have_text("Let go.")
    found = Axe().run(page).response["violations"]
    assert [(v["id"], v["nodes"][0]["target"]) for v in found] == []
    kept(page, "Show window", "15")


def test_pressed_one_after_the_other(demo):
    page = demo(SHOP)
    seat(page, "Gallery track 2").click()
    page.locator('#drawing [data-spot="14"]').click()
    expect(seat(page, "Gallery track 2")).to_have_attribute("data-place", "14")
    kept(page, "Gallery track 2", "14")


def test_a_place_typed_into_the_table_is_drawn(demo):
    page = demo(SHOP)
    row = page.locator("#circuits tbody tr").filter(
        has=page.locator('input[data-base="Packing bench"]')
    )
    typed(row.locator('[data-col="position"] input'), "17")
    page.keyboard.press("Enter")
    expect(seat(page, "Packing bench")).to_have_attribute("data-place", "17")
    typed(row.locator('[data-col="position"] input'), "7")
    page.keyboard.press("Enter")
    expect(page.locator("#result .find.fail")).to_contain_text("Gallery track 3")
    typed(row.locator('[data-col="position"] input'), "bench")
    page.keyboard.press("Enter")
    expect(row.locator('[data-col="position"] input')).to_have_attribute("aria-invalid", "true")
    expect(row.locator('[data-col="position"] input')).to_have_attribute(
        "title", re.compile("like 7")
    )
    settled(page)
    assert places(page)["Packing bench"] == "bench"


def test_through_a_slow_and_a_failing_server(demo):
    page = demo(SHOP)
    LINE.set(failing=1)
    drag(page, "Gallery track 3", "11")
    expect(says(page)).to_contain_text("nothing was moved")
    assert drawn(page)["Gallery track 3"] == "7"
    LINE.set(delays=(0.8,))
    drag(page, "Gallery track 3", "11")
    expect(seat(page, "Gallery track 3")).to_have_attribute("data-place", "11")
    LINE.clear()
    page.faults.clear()  # the browser tells of the fault in between
    kept(page, "Gallery track 3", "11")


def test_all_places_are_kept_and_proposed_anew(demo):
    page = demo("Workshop")
    assert set(places(page).values()) == {""}
    before = drawn(page)
    page.get_by_role("button", name="Keep all places as they stand").click()
    page.wait_for_function("() => !document.querySelector('#drawing .proposed')")
    settled(page)
    assert drawn(page) == before and "" not in places(page).values()
    page.get_by_role("button", name="Propose them all anew").click()
    page.wait_for_function("() => !document.querySelector('#drawing .given')")
    settled(page)
    assert set(places(page).values()) == {""}


def test_a_lines_device_is_opened_and_closed_in_the_drawing(demo):
    page = demo(SHOP)
    bar = page.locator('#drawing [data-open-line="L2"]')
    focused(bar)
    page.keyboard.press("Enter")
    expect(says(page)).to_contain_text("L2 is open: dark are Sign over the door")
    expect(says(page)).to_contain_text("Door curtain heater")
    expect(page.locator("#drawing .seat.dark")).to_have_count(4)
    bar.click()
    expect(says(page)).to_have_text("L2 is closed again.")
    expect(page.locator("#drawing .seat.dark")).to_have_count(0)


def test_a_spare_is_added_and_dragged(demo):
    page = demo(SHOP)
    page.get_by_role("button", name="Add a spare or a space").click()
    row = page.locator('[data-list="reserved_positions"] .item').last
    typed(row.locator('[name$=".name"]'), "Spare for the kiln")
    page.keyboard.press("Tab")
    spare = page.locator("#drawing [data-seat].spare")
    expect(spare).to_have_attribute("data-name", "Spare for the kiln")
    settled(page)
    drag(page, "Spare for the kiln", "12")  # a heater of two poles stands there
    expect(says(page)).to_contain_text("does not fit")
    drag(page, "Spare for the kiln", "11")
    expect(spare).to_have_attribute("data-place", "11")
    expect(row.locator('[name$=".position"]')).to_have_value("11")
    settled(page)
    page.reload()
    expect(page.locator("#drawing [data-seat].spare")).to_have_attribute("data-place", "11")
