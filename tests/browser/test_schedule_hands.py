"""A work schedule by hand: a change on a sheet, the schedule of it, steps moved by keys and by
dragging, minutes typed, a slow and a failing server."""

import pytest
from browser.hands import Hands, follow, settled
from browser.test_pages import scan
from browser.weather import LINE
from playwright.sync_api import expect


@pytest.fixture
def schedule(demo):
    """The schedule of a larger load on the demo's mill, opened by hand."""
    page = demo("Glaze room lights")
    hands = Hands(page, 25)
    for name in ("Glaze room lights", "Throwing room lights"):
        if page.locator("h1.plate").inner_text().lower() != name.lower():
            follow(page.get_by_role("link", name=name).first)
        page.locator("[name=load]").focus()
        hands.replace("2.6 kVA")
        hands.press("Enter")
        settled(page)
    page.get_by_role("link", name="Alder Mill").first.click()
    page.get_by_role("link", name="Work schedules").click()
    expect(page.locator("[data-own-zone]")).not_to_have_value("")
    page.locator("#before").select_option("1")
    page.get_by_role("button", name="Create schedule").click()
    expect(page.locator("[data-step]").first).to_be_visible()
    return page


def order(page):
    return page.locator("[data-step]").evaluate_all("all => all.map((one) => one.dataset.step)")


def free(page):
    """A step that can go one place down."""
    return page.evaluate(
        """() => [...document.querySelectorAll("[data-step]")]
          .find((one) => Number(one.dataset.last) > Number(one.dataset.at)).dataset.step"""
    )


def step(page, key):
    return page.locator(f'[data-step="{key}"]')


@pytest.mark.parametrize("weather", [{}, {"delays": [0.5]}, {"losing": 1}])
def test_steps_are_moved_by_keys(schedule, weather):
    page, hands = schedule, Hands(schedule, 25)
    scan(page, "work schedule")
    before, key = order(page), free(page)
    LINE.set(**weather)
    step(page, key).locator("[data-grip]").focus()
    hands.press("ArrowDown")
    if "losing" in weather:  # done, and its answer lost: pressed again it is the same place
        expect(page.locator("#work-problem")).to_contain_text("Try again")
        hands.press("ArrowDown")
    at = before.index(key)
    expect(step(page, key)).to_have_attribute("data-at", str(at + 1))
    expect(step(page, key).locator("[data-grip]")).to_be_focused()
    page.reload()
    assert order(page) == [*before[:at], before[at + 1], key, *before[at + 2 :]]
    page.faults[:] = [fault for fault in page.faults if "50" not in fault]


def test_what_cannot_be_is_refused_in_words(schedule):
    page, hands = schedule, Hands(schedule, 25)
    key = page.evaluate(
        """() => [...document.querySelectorAll("[data-step]")]
          .find((one) => Number(one.dataset.at) && one.dataset.first === one.dataset.at).dataset.step"""
    )
    before = order(page)
    step(page, key).locator("[data-grip]").focus()
    hands.press("ArrowUp")
    expect(page.locator("#work-problem")).to_contain_text("comes after")
    assert order(page) == before
    page.faults[:] = [fault for fault in page.faults if "422" not in fault]


def test_a_step_is_dragged_to_another_place(schedule):
    page, before, key = schedule, order(schedule), free(schedule)
    step(page, key).scroll_into_view_if_needed()
    grip = step(page, key).locator("[data-grip]").bounding_box()
    below = step(page, before[before.index(key) + 1]).bounding_box()
    page.mouse.move(grip["x"] + 5, grip["y"] + 5)
    page.mouse.down()
    page.mouse.move(grip["x"] + 5, below["y"] + below["height"] * 0.5, steps=5)
    page.mouse.move(grip["x"] + 5, below["y"] + below["height"] * 0.8, steps=5)
    page.mouse.up()
    expect(step(page, key)).to_have_attribute("data-at", str(before.index(key) + 1))
    assert page.faults == []


@pytest.mark.parametrize("wait", [0, 700, 3_000])
def test_minutes_and_what_is_done_are_kept(schedule, wait):
    page, hands = schedule, Hands(schedule, 25)
    first, second = order(page)[:2]
    when = page.locator("[data-when]").first.inner_text()
    LINE.set(delays=[0.4])
    step(page, first).locator("[data-minutes]").focus()
    hands.replace("35")
    hands.press("Tab")
    hands.replace("4")
    step(page, second).locator("[data-minutes]").focus()
    hands.replace("55")  # typed while the answers are on their way
    expect(page.locator("[data-when]").first).not_to_have_text(when)
    hands.press("Enter")
    step(page, second).locator("[data-done]").focus()
    hands.press("Space")
    page.wait_for_timeout(wait)  # the page is left while some of it is still on its way
    page.goto("about:blank")
    LINE.calm()
    page.go_back()
    page.reload()
    expect(step(page, first).locator("[data-minutes]")).to_have_value("35")
    expect(step(page, first).locator("[data-people]")).to_have_value("4")
    expect(step(page, second).locator("[data-minutes]")).to_have_value("55")
    expect(step(page, second).locator("[data-done]")).to_be_checked()
    assert page.faults == []


def test_a_failing_server_is_said_and_enter_sends_again(schedule):
    page, hands = schedule, Hands(schedule, 25)
    first = order(page)[0]
    LINE.set(failing=1)
    minutes = step(page, first).locator("[data-minutes]")
    minutes.focus()
    hands.replace("41")
    hands.press("Enter")
    expect(page.locator("#work-problem")).to_contain_text("not saved")
    expect(minutes).to_have_value("41")
    hands.press("Enter")
    expect(page.locator("#work-problem")).to_have_text("")
    page.reload()
    expect(step(page, first).locator("[data-minutes]")).to_have_value("41")
    page.faults[:] = [fault for fault in page.faults if "50" not in fault]
