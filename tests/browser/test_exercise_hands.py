"""Instruments put on drawings by hand: keys and presses, a slow and a failing server; every press is kept and
the focus stays where it was."""

import pytest
from browser.hands import Hands
from browser.test_pages import scan
from browser.weather import LINE
from playwright.sync_api import expect

from voltaje.core.practice.unlabelled import unlabelled
from voltaje.web.practice.balancing import exercise_of
from voltaje.web.practice.faulty import board_of

BOARD = "/practice/fault/board/?code=nec-2020&seed=hands"
STRIP = "/practice/fault/windings/?code=nec-2020&seed=hands"
BALANCE = "/practice/balance/?code=nec-2020&seed=hands"


def opened(window, demo_server, address):
    page = window(at=None)
    page.goto(demo_server + address)
    page.wait_for_load_state("load")
    return page


def button(page, do):
    return page.locator(f'button[value="{do}"]')


def test_a_board_is_measured_by_keys_and_the_fault_named(window, demo_server):
    page, board = opened(window, demo_server, BOARD), board_of("nec-2020", "hands")
    hands, rows = Hands(page, 25), page.locator(".board-readings tbody tr")
    asked = [board.spots[0], board.spots[-1], board.spots[3]]
    for n, spot in enumerate(asked, 1):
        button(page, f"measure:{spot.id}").focus()
        hands.press("Enter")
        expect(rows).to_have_count(n)
        expect(button(page, f"measure:{spot.id}")).to_be_focused()
        expect(rows.nth(n - 1)).to_contain_text(
            f"{board.reading(spot, frozenset()):.1f} {spot.unit}"
        )
    button(page, "switch:service").focus()
    hands.press("Space")
    expect(page.get_by_text("Open for the work: disconnect ahead")).to_be_visible()
    fault = board.hidden[0]
    page.locator(f'input[name="fault"][value="{fault.id}"]').focus()
    hands.press("Space", "Tab", "Space")  # the fault; locked
    button(page, "name").focus()
    hands.press("Enter")
    expect(page.locator(".practice-points")).to_be_visible()
    expect(page.get_by_text("Nothing live is touched.")).to_be_visible()
    expect(page.locator('input[name="locked"]')).to_be_checked()
    expect(rows).to_have_count(len(asked))
    scan(page, "board fault, judged")


@pytest.mark.parametrize("weather", [{"delays": [0.6]}, {"failing": 1}, {"losing": 1}])
def test_a_slow_or_failing_server_loses_no_press(window, demo_server, weather):
    page, board = opened(window, demo_server, BOARD), board_of("nec-2020", "hands")
    rows = page.locator(".board-readings tbody tr")
    button(page, f"measure:{board.spots[0].id}").click()
    expect(rows).to_have_count(1)
    LINE.set(**weather)
    button(page, f"measure:{board.spots[1].id}").click()
    if "delays" not in weather:  # told, and pressed again
        expect(page.locator("[data-unanswered]")).to_be_visible()
        expect(rows).to_have_count(1)
        page.faults.clear()
        button(page, f"measure:{board.spots[1].id}").click()
    expect(rows).to_have_count(2)
    expect(page.locator("[data-unanswered]")).to_be_hidden()
    button(page, f"measure:{board.spots[2].id}").click()  # waits until it may be pressed
    expect(rows).to_have_count(3)


def test_windings_are_found_by_presses(window, demo_server):
    page, units = opened(window, demo_server, STRIP), unlabelled("hands")
    hands, coil = Hands(page, 25), units.coils[0]

    def probes(one, other):
        for lead in (one, other):
            button(page, f"lead:{lead}").focus()
            hands.press("Enter")
            expect(button(page, f"lead:{lead}")).to_be_focused()
        expect(page.get_by_text(f"Probes on {one} and {other}")).to_be_visible()

    probes(coil.dot, coil.other)
    button(page, "ohms").press("Enter")
    expect(page.get_by_text(f"{units.ohms(coil.dot, coil.other):g} Ω")).to_be_visible()
    page.locator("#volts").select_option("12")
    button(page, "feed").press("Enter")
    expect(page.locator("svg .fed")).to_have_count(1)
    button(page, "volts").press("Enter")
    expect(page.locator(".board-readings tbody tr")).to_have_count(2)
    for n, one in enumerate(units.coils, 1):
        page.locator(f'[name="dot-{n}"]').select_option(str(one.dot))
        page.locator(f'[name="end-{n}"]').select_option(str(one.other))
    LINE.set(failing=1)
    button(page, "name").press("Enter")
    expect(page.locator("[data-unanswered]")).to_be_visible()
    page.faults.clear()
    expect(page.locator('[name="dot-1"]')).to_have_value(str(coil.dot))
    button(page, "name").press("Enter")
    expect(page.locator(".practice-points b")).to_have_text("10")
    scan(page, "windings, judged")


def test_a_board_is_balanced_by_keys(window, demo_server):
    page, exercise = opened(window, demo_server, BALANCE), exercise_of("nec-2020", "hands")
    hands, best = Hands(page, 25), exercise.works[-1].answer
    for load in exercise.task.loads:
        field = page.locator(f'[name="line-{load.key}"]')
        field.focus()
        if best.lines[load.key] != load.line:
            hands.choose(best.lines[load.key])
        expect(field).to_have_value(best.lines[load.key])
    hands.press("Tab", "Enter")  # past the last phase: measure
    expect(page.locator(".balance-lines")).to_contain_text(f"{best.value:.1f}")
    expect(button(page, "measure")).to_be_focused()
    button(page, "name").press("Enter")
    expect(page.locator(".practice-points b")).to_have_text("10")
    scan(page, "balance, judged")


def test_a_sheet_s_fault_is_found_on_its_drawing(window, demo_server):
    page = opened(
        window, demo_server, "/practice/fault/multiwire_circuit/?code=nec-2020&seed=hands"
    )
    hands, drawing = Hands(page, 25), page.locator("svg.faulty-board")
    for n, name in enumerate(("N:1", "A:1", "b"), 1):
        drawing.locator(f'button[value="measure:{name}"]').focus()
        hands.press("Enter")
        expect(drawing.locator("button.read")).to_have_count(n)
        expect(drawing.locator(f'button[value="measure:{name}"]')).to_be_focused()
    expect(page.locator(".practice-lines td b")).to_have_count(3)
    page.locator('input[name="fault"]').first.check()
    LINE.set(failing=1)
    button(page, "name").press("Enter")
    expect(page.locator("[data-unanswered]")).to_be_visible()
    page.faults.clear()
    button(page, "name").press("Enter")
    expect(page.locator(".practice-points")).to_be_visible()
    expect(page.locator('input[name="fault"]').first).to_be_checked()
    scan(page, "fault on a drawing, judged")
