"""Volts in the browser: the profile, the neutral opened and closed in the drawing, the clamp,
readings entered and taken from a file."""

from browser.hands import focused, opened, typed
from playwright.sync_api import expect

COUNTER = "Counter, one neutral for two circuits"


def press(page, sets):
    focused(page.locator(f'#drawing [data-sets="{sets}"]'))
    page.keyboard.press("Enter")


def test_the_profile_follows_what_is_typed(demo):
    page = demo("Gatehouse run")
    profile = page.locator("#drawing path.profile")
    before = profile.get_attribute("d")
    expect(page.locator("#drawing")).to_contain_text("3 % lost")
    typed(page.locator('[name="segments.g3.length"]'), "420 ft")
    expect(page.locator("#result .find.check").first).to_contain_text("above the 3 %")
    expect(page.locator("#drawing")).to_contain_text("To Gatehouse, 420 ft")
    assert profile.get_attribute("d") != before
    opened(page.locator('[name="size"]')).select_option("4")
    expect(page.locator("#result .find.pass").first).to_contain_text("within 3 %")
    typed(page.locator('[name="segments.g3.length"]'), "0")
    expect(page.locator("#e-segments-g3-length-why")).to_contain_text("without length")
    expect(page.locator('[name="segments.g3.length"]')).to_have_value("0")


def test_the_neutral_is_opened_and_closed_in_the_drawing(demo):
    page = demo(COUNTER)
    expect(page.locator("#drawing .contact")).to_have_count(12)
    press(page, "opened_at=N:1")
    expect(page.locator("#result .find.fail").first).to_contain_text("Open at N:1")
    expect(page.locator('[name="opened_at"]')).to_have_value("N:1")
    expect(page.locator("#drawing .contact.open")).to_have_count(1)
    expect(page.locator("#drawing .load.under")).to_have_count(2)
    # a line too, then both closed again
    press(page, "opened_at=N:1, B:1")
    expect(page.locator("#drawing")).to_contain_text("dead")
    press(page, "opened_at=N:1")
    press(page, "opened_at=")
    expect(page.locator("#result .find.fail")).to_have_count(0)
    expect(page.locator("#drawing .contact.open")).to_have_count(0)


def test_both_circuits_on_one_leg_show_the_doubled_neutral(demo):
    page = demo(COUNTER)
    for leg in ("L3", "L1"):
        press(page, f"phase_b={leg}")
        expect(page.locator('[name="phase_b"]')).to_have_value(leg)
    expect(page.locator("#result .find.fail").first).to_contain_text("no device sees it")
    expect(page.locator(".answer .big")).to_have_text("29.5 A")
    expect(page.locator("#result")).to_contain_text("fire hazard")


def test_the_clamp_stays_while_the_circuit_changes(demo):
    page = demo(COUNTER)
    reading = page.locator("[data-reading]")
    expect(reading).to_have_text("--")
    wire = page.locator('#drawing [data-clamp="A:1"]')
    box = wire.bounding_box()
    page.mouse.click(box["x"] + 8, box["y"] + box["height"] / 2)
    expect(reading).to_have_text("11.2 A")
    typed(page.locator('[name="loads.k1.nameplate"]'), "650 W")
    expect(reading).to_have_text("5.9 A")
    page.locator('#drawing [data-clamp="B:4"]').focus()
    page.keyboard.press("Enter")
    expect(reading).to_have_text("0.0 A")
    expect(page.locator("[data-clamped]")).to_contain_text("Circuit B, piece 4")


def test_views_are_switched_and_stay(demo):
    page = demo(COUNTER, width=390)
    page.get_by_role("button", name="Waves").click()
    expect(page.locator('[data-panel="waves"]')).to_be_visible()
    expect(page.locator('[data-panel="ladder"]')).to_be_hidden()
    typed(page.locator('[name="loads.k1.nameplate"]'), "650 W")
    expect(page.locator('[data-panel="waves"]')).to_contain_text("5.9 A")
    expect(page.locator('[data-panel="waves"]')).to_be_visible()
    page.get_by_role("button", name="Phasors").click()
    expect(page.locator('[data-panel="phasors"]')).to_contain_text("phasor sum")


def test_readings_are_entered_and_taken_from_a_file(demo, tmp_path):
    page = demo(None)
    page.get_by_role("link", name="Site readings (19)").click()
    expect(page.locator(".causes .first")).to_contain_text("Loose or open neutral")
    with page.expect_response(lambda answer: "part=" in answer.url):
        page.locator("#id_part").select_option(label="Kiln room")
    expect(page.locator("#id_point")).to_contain_text("L1 to L3, V")
    page.locator("#id_point").select_option(label="Line L2, A")
    typed(page.locator("#id_value"), "kaput")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.locator(".problem")).to_be_visible()
    expect(page.locator("#id_value")).to_have_value("kaput")
    typed(page.locator("#id_value"), "61 A")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.locator("article.visit").first).to_contain_text("61 A")
    expect(page.locator("article.visit").first.locator(".causes")).to_contain_text("Line L2")
    page.get_by_role("link", name="Import CSV or XLSX").click()
    file = tmp_path / "site.csv"
    file.write_text("part,point,value,unit\nWorkshop,L1-N,116,V\nWorkshop,L7-N,116,V\n")
    page.locator("#file").set_input_files(file)
    page.get_by_role("button", name="See what it holds").click()
    expect(page.locator(".change-wrong")).to_contain_text("no point “L7-N”")
    page.get_by_role("button", name="Take one reading").click()
    expect(page.locator("article.visit").first).to_contain_text("Workshop")
