"""A problem worked by hand: keys and Tab down the lines, Enter marks, what was typed stays, also where the
server fails and where the page is left."""

from datetime import timedelta
from urllib.parse import urljoin

from browser.hands import Hands, follow, typed
from browser.test_pages import scan
from browser.weather import LINE
from django.utils import timezone
from playwright.sync_api import expect

from voltaje.core.codes import edition
from voltaje.core.kinds import kind
from voltaje.core.practice import Marker, problem
from voltaje.web.practice.bases import bases_of
from voltaje.web.practice.models import Sitting

ADDRESS = "/practice/motor/?code=nec-2020&level=guided&seed=hands"
FIELDS = ".practice-lines input:not([type=hidden])"


def lines():
    of = kind("motor")
    return Marker(problem(of, edition("nec-2020"), bases_of("motor", "nec-2020"), "hands")).lines


def test_a_problem_is_worked_by_keys(window, demo_server):
    page, asked = window(at=None), lines()
    page.goto(demo_server + ADDRESS)
    page.wait_for_load_state("load")
    hands, fields = Hands(page, 25), page.locator(FIELDS)
    expect(fields).to_have_count(len(asked))
    fields.first.focus()
    given = [one.shown if n else "7.77" for n, one in enumerate(asked)]
    for n, text in enumerate(given):
        hands.type(text)
        if n < len(given) - 1:
            hands.press("Tab", "Tab")  # past the hint
    hands.press("Enter")
    expect(page.locator(".practice-points")).to_be_visible()
    assert [field.input_value() for field in fields.all()] == given
    assert page.locator("tr.was-right").count() >= len(asked) - 3
    expect(page.locator("tr.was-wrong").first).to_contain_text("Not right")
    scan(page, "problem, marked")
    # the first line mended, marked again
    typed(fields.first, asked[0].shown)
    hands.press("Enter")
    expect(page.locator("tr.was-wrong")).to_have_count(0)
    expect(page.locator(".practice-points b")).to_have_text(str(len(asked)))


def test_a_hint_keeps_what_was_typed(window, demo_server):
    page = window(at=None)
    page.goto(demo_server + ADDRESS)
    page.wait_for_load_state("load")
    fields = page.locator(FIELDS)
    typed(fields.nth(1), "12.5")
    page.get_by_role("button", name="Hint").nth(2).press("Enter")
    expect(page.locator(".hint")).to_have_count(1)
    expect(fields.nth(1)).to_have_value("12.5")
    page.get_by_role("button", name="Hint").nth(2).press("Enter")
    expect(page.locator(".hint")).to_have_count(2)


def test_a_failing_server_and_a_page_left_lose_nothing(window, demo_server):
    page = window(at=None)
    page.goto(demo_server + ADDRESS)
    page.wait_for_load_state("load")
    fields = page.locator(FIELDS)
    for at, text in ((0, "28"), (1, "35"), (3, "70")):
        typed(fields.nth(at), text)
    LINE.set(failing=1)
    page.keyboard.press("Enter")
    expect(page.get_by_text("a fault in between")).to_be_visible()
    page.faults.clear()  # a bare answer: the browser tells it
    page.goto(demo_server + "/practice/")
    page.goto(demo_server + ADDRESS)
    for at, text in ((0, "28"), (1, "35"), (3, "70")):
        expect(fields.nth(at)).to_have_value(text)
    expect(page.get_by_text("Unsaved entries were restored.")).to_be_visible()
    page.faults.clear()


def class_paper(demo):
    """A learner's own window on the demo's first paper, and the teacher's."""
    teacher = demo(None)
    teacher.goto(f"{urljoin(teacher.url, '/practice/papers/')}")
    follow(teacher.get_by_role("link", name="Motors and their circuits"))
    return teacher, teacher.locator(".join-at b").inner_text()


def test_a_learner_works_a_paper_by_keys_while_the_teacher_looks_on(demo, window):
    teacher, code = class_paper(demo)
    scan(teacher, "results of a paper")
    page = window(at="/practice/join/")
    hands = Hands(page, 20)
    page.get_by_label("Paper code").focus()
    hands.type(code.lower())
    hands.press("Tab")
    hands.type("Edda")
    with page.expect_navigation():
        hands.press("Enter")
    scan(page, "a learner’s paper")
    follow(page.get_by_role("link", name="Problem 1"))
    fields = page.locator(FIELDS)
    expect(page.locator(".time-left")).to_contain_text("minutes left")
    fields.first.focus()
    typed_ones = ["46.2", "", "57,75", "not a figure", "½"]
    for text in typed_ones:
        hands.type(text)
        hands.press("Tab")
    LINE.set(delays=(0.5,), failing=1)  # what could not be sent is there again, and sent again
    with page.expect_navigation():
        hands.press("Enter")
    page.go_back()
    page.wait_for_load_state("load")
    expect(fields.first).to_have_value("46.2")
    fields.first.focus()
    with page.expect_navigation():
        hands.press("Enter")
    LINE.clear()
    expect(page.locator("h1")).to_contain_text("2.")
    page.reload()
    follow(page.get_by_role("link", name="Motors and their circuits"))
    expect(page.locator(".sitting-problems")).to_contain_text("saved")
    follow(page.get_by_role("link", name="Problem 1"))
    assert [field.input_value() for field in fields.all()][: len(typed_ones)] == typed_ones
    page.go_back()
    page.get_by_role("button", name="Hand in").click()
    expect(page.locator(".practice-points")).to_contain_text("of")
    scan(page, "a paper handed in")
    teacher.reload()
    expect(teacher.locator("table.list").first).to_contain_text("Edda")
    page.faults[:] = [one for one in page.faults if "502" not in one]


def test_what_is_typed_as_the_time_ends_is_sent(demo, window):
    _, code = class_paper(demo)
    page = window(at=f"/practice/join/?code={code}")
    page.get_by_label("Name").fill("Finn")
    page.get_by_label("Name").press("Enter")
    page.wait_for_selector(".sitting-problems")
    Sitting.objects.filter(name="Finn").update(until=timezone.now() + timedelta(seconds=6))
    follow(page.get_by_role("link", name="Problem 1"))
    typed(page.locator(FIELDS).first, "12.5")
    expect(page.locator("main [role=status]").first).to_have_text("Time is over.", timeout=20_000)
    row = Sitting.objects.get(name="Finn").problems.first()
    assert "12.5" in row.typed.values()
