"""Exercises with instruments in the browser's terms: a board with a hidden fault, windings without labels, a
board to be balanced; what the page hands back is read with care."""

from __future__ import annotations

import re
from html import unescape
from urllib.parse import urlencode

import pytest
from django.urls import reverse

from voltaje.core.codes import editions
from voltaje.core.practice.unlabelled import unlabelled
from voltaje.web.practice.balancing import exercise_of
from voltaje.web.practice.faulty import bank_of, board_of

SEED = "abc"


def address(name, code="nec-2020", seed=SEED):
    return f"{reverse(f'practice:{name}')}?{urlencode({'code': code, 'seed': seed})}"


def hidden(text, name):
    found = re.search(rf'name="{name}"\s+value="([^"]*)"', text)
    assert found is not None
    return unescape(found.group(1))


class Page:
    """A page that is handed back as it stands, with one press more."""

    def __init__(self, client, url, *names):
        self.client, self.url, self.names = client, url, names
        self.text = client.get(url).content.decode()

    def press(self, do, **more):
        posted = {name: hidden(self.text, name) for name in self.names}
        answer = self.client.post(self.url, {**posted, **more, "do": do})
        assert answer.status_code == 200
        self.text = unescape(answer.content.decode())
        return self.text


def board_page(client, code="nec-2020", seed=SEED):
    return Page(client, address("board_fault", code, seed), "log", "open")


@pytest.mark.parametrize("code", [book.id for book in editions()])
@pytest.mark.parametrize("name", ["board_fault", "bank_fault", "unlabelled", "balance"])
def test_each_exercise_under_every_code(client, name, code):
    answer = client.get(reverse(f"practice:{name}"), {"code": code})
    assert answer.status_code == 302 and "seed=" in answer["Location"]
    page = client.get(answer["Location"])
    assert page.status_code == 200 and b"<h1>" in page.content
    listed = client.get(reverse("practice:list"), {"code": code}).content.decode()
    assert reverse(f"practice:{name}") in listed


def test_readings_and_devices_are_kept_from_press_to_press(client):
    board, page = board_of("nec-2020", SEED), board_page(client)
    spot = board.spots[0]
    text = page.press(f"measure:{spot.id}")
    shown = board.reading(spot, frozenset())
    assert f"{shown:.1f} {spot.unit}" in text and text.count("board-readings") == 1
    assert page.press(f"measure:{spot.id}").count('<th scope="row">') == 1  # the same again is none
    text = page.press("switch:c2")
    assert hidden(text, "open") == "c2" and "Close: " in text
    text = page.press(f"measure:{spot.id}")
    assert text.count('<th scope="row">') == 2
    assert hidden(page.press("switch:c2"), "open") == ""


def test_the_right_answer_made_safe_gets_ten_points(client):
    board, page = board_of("nec-2020", SEED), board_page(client)
    fault = board.hidden[0]
    page.press("switch:service")
    proof = next(s for s in board.spots if s.unit == "V" and set(s.at) & set(fault.touched))
    page.press(f"measure:{proof.id}")
    text = page.press("name", fault=board.hidden[0].id, locked="yes")
    assert '<b class="num">10</b>' in text and "Nothing live is touched" in text
    assert str(fault.remedy) in text
    text = page.press("name", fault=board.hidden[0].id)
    assert '<b class="num">9</b>' in text and "Not locked" in text


def test_a_live_joint_costs_the_task(client):
    board, page = board_of("nec-2020", SEED), board_page(client)
    text = page.press("name", fault=board.hidden[0].id, locked="yes")
    assert '<b class="num">0</b>' in text and "a live joint would be touched" in text
    other = next(alike for alike in board.faults if alike is not board.hidden)
    assert "Not right. It was:" in page.press("name", fault=other[0].id)
    assert "Choose what is wrong." in page.press("name")


HOSTILE = ["", "a-L1", "a-L1@", "nothing@c1", "a-L1@nothing,main", "a-L1@main " * 200, "\x00@\x00", "a-L1@ \ud7ff",
           "@@@@", "d@24:1-5|", "v:1-1@24:1-2|", "v:99-1@24:1-2|1-2,1-2", "o:x-y", "f@nan:1-2|"]  # fmt: skip


@pytest.mark.parametrize("log", HOSTILE)
def test_what_a_page_hands_back_is_read_with_care(client, log):
    for name in ("board_fault", "bank_fault", "unlabelled"):
        for more in ({"open": log, "setup": log, "probes": log}, {"open": "c1 c9 main"}):
            for do in (
                "",
                "measure:a-N",
                "measure:?",
                "switch:x",
                "lead:99",
                "lead:x",
                "ohms",
                "volts",
                "join",
                "feed",
                "name",
            ):
                answer = client.post(
                    address(name), {"log": log, "do": do, "fault": log, "volts": log, **more}
                )
                assert answer.status_code == 200, (name, do)
    lines = {f"line-c{n}": log for n in range(1, 10)}
    assert client.post(address("balance"), {**lines, "do": "name"}).status_code == 200


@pytest.mark.parametrize("name", ["board_fault", "bank_fault", "unlabelled", "balance"])
def test_an_odd_seed_or_code_gets_another(client, name):
    for code, seed in (("nec-2020", "../.."), ("nec-2020", "x" * 40), ("nothing", "")):
        answer = client.get(reverse(f"practice:{name}"), {"code": code, "seed": seed})
        assert answer.status_code == 302


def strip(client, seed=SEED):
    return Page(client, address("unlabelled", seed=seed), "probes", "setup", "log")


def probed(page, one, other):
    page.press(f"lead:{one}")
    return page.press(f"lead:{other}")


def test_two_presses_put_the_probes(client):
    page = strip(client)
    probed(page, 5, 2)
    assert hidden(page.text, "probes") == "5-2"
    page.press("lead:2")  # the one that it stands on already changes the two
    assert hidden(page.text, "probes") == "2-5"


def test_coils_are_measured_joined_and_answered(client):
    units, page = unlabelled(SEED), strip(client)
    coil = units.coils[0]
    probed(page, coil.dot, coil.other)
    assert f"{units.ohms(coil.dot, coil.other):g} Ω" in page.press("ohms")
    assert "nothing to measure" in page.press("volts")
    page.press("feed", volts="12")
    assert hidden(page.text, "setup") == f"12:{coil.dot}-{coil.other}|"
    assert "An ohmmeter is for dead circuits" in page.press("ohms")
    other = units.coils[1]
    probed(page, other.dot, other.other)
    expected = 12 * other.volts / coil.volts
    shown = re.findall(r">([\d.]+) V</b>", page.press("volts"))
    assert float(shown[-1]) == pytest.approx(expected, abs=0.2)
    assert "The fuse of the test supply opens" in page.press("join")  # the ends of one coil
    assert page.text.count("judged wrong") == 1
    page.press("clear")
    assert hidden(page.text, "setup") == "0:0-0|"
    answer = {}
    for n, one in enumerate(units.coils, 1):
        answer |= {f"dot-{n}": str(one.dot), f"end-{n}": str(one.other)}
    text = page.press("name", **answer)
    assert '<b class="num">8</b>' in text and text.count('class="judged right"') == 3
    del answer["end-2"]
    text = page.press("name", **answer)
    assert "Give both ends of every coil." in text and "practice-points" not in text
    assert re.search(rf'<option value="{units.coils[2].dot}"\s+selected', text)


def test_a_board_is_balanced_and_held_against_the_optimum(client):
    exercise = exercise_of("nec-2020", SEED)
    best = exercise.works[-1].answer.lines
    page = Page(client, address("balance"))
    start = exercise.measured(exercise.task.now()).deviation
    assert f"{start:.1f}" in page.text
    chosen = {f"line-{key}": line for key, line in best.items()}
    text = page.press("measure", **chosen)
    assert (
        f"{exercise.works[-1].answer.value:.1f} %" in " ".join(text.split())
        and "practice-points" not in text
    )
    text = page.press("name", **chosen)
    assert '<b class="num">10</b>' in text and text.count("→") >= exercise.works[-1].moves
    text = page.press("reset", **chosen)
    assert text.count('class="moved"') == 0
    assert page.press("name", **{"line-c1": "L9"}).count('<b class="num">0</b>') >= 1


def test_papers_as_pdf(client):
    asked = {
        "code": "nec-2020",
        "kinds": ["motor", "transformer"],
        "number": 2,
        "learners": 2,
        "level": "guided",
        "seed": "week7",
    }
    page = client.get(reverse("practice:paper"), asked)
    link = unescape(re.search(r'href="([^"]+as=pdf)"', page.content.decode()).group(1))
    answer = client.get(link)
    assert answer["Content-Type"] == "application/pdf" and answer.content[:5] == b"%PDF-"
    assert "practice-week7.pdf" in answer["Content-Disposition"]
    assert len(answer.content) > 10_000


def test_a_corner_closed_on_volts_costs_the_task(client):
    seed = next(
        s
        for s in map(str, range(40))
        if not (b := bank_of("nec-2020", s)).star and b.hidden[0].what == "reversed"
    )
    bank, page = (
        bank_of("nec-2020", seed),
        Page(client, address("bank_fault", seed=seed), "log", "open"),
    )
    assert hidden(page.text, "open") == "corner"
    text = page.press("switch:corner")
    assert (
        "V stood across that joint" in text
        and hidden(text, "open") == "corner"
        and 'name="burnt"' in text
    )
    posted = {"fault": bank.hidden[0].id, "locked": "yes", "burnt": "yes"}
    page.press("switch:service", burnt="yes")
    text = page.press("name", **posted)
    assert "A joint was closed on volts: no points." in text and '<b class="num">0</b>' in text
    fresh = Page(client, address("bank_fault", seed=seed), "log", "open")
    fresh.press("switch:service")
    assert "stood across" not in fresh.press("switch:corner")  # dead: it may be closed
    assert hidden(fresh.text, "open") == "service"
