"""Practice in the browser's terms: problems by their address, marked, helped with, shown."""

from __future__ import annotations

import re
from html import unescape
from urllib.parse import urlencode

import pytest
from django.urls import reverse

from voltaje.core.codes import edition
from voltaje.core.kinds import kind
from voltaje.core.practice import Marker, problem
from voltaje.web.kinds import presentations
from voltaje.web.parts.quick_views import codes_of
from voltaje.web.practice.views import _bases

BOOKS = ("nec-2020", "nec-2023", "cec-2021", "bs7671-2018", "sans10142-2020", "asnzs3000-2018")
# a bench of windings is marked by its drawing's instruments, not by lines
NOT_BY_LINES = {"winding_connections"}
EVERY = [
    (name, code)
    for name, shown in presentations().items()
    for code in BOOKS
    if shown.quick and code in codes_of(name) and name not in NOT_BY_LINES
]


def address(name, code="nec-2020", seed="abc", **more):
    return f"{reverse('practice:problem', args=[name])}?{urlencode({'code': code, 'seed': seed, **more})}"


@pytest.mark.parametrize(("name", "code"), EVERY)
def test_the_key_of_every_kind_under_every_code_gets_full_marks(name, code):
    bases = _bases(name, code)
    assert bases, "nothing to begin with"
    for seed in ("1", "2"):
        for level in ("guided", "answer"):
            found = problem(kind(name), edition(code), bases, seed, level)
            assert found is not None
            assert found.given and found.asked
            marker = Marker(found)
            marks = marker.mark({one.id: one.shown for one in marker.lines})
            assert {one.mark for one in marks} == {"right"}, [
                (one.asked.id, one.asked.shown) for one in marks if one.mark != "right"
            ]


def test_the_list_leads_to_problems(client):
    page = client.get(reverse("practice:list"), {"code": "bs7671-2018", "level": "answer"})
    text = unescape(page.content.decode())
    found = re.findall(r'href="(/practice/[a-z_]+/\?[^"]+)"', text)
    assert len(found) > 8 and all(
        "code=bs7671-2018" in one and "level=answer" in one for one in found
    )
    assert "/practice/motor/" not in text  # a motor there is a machine by kW
    answer = client.get(found[0])
    assert answer.status_code == 302 and "seed=" in answer["Location"]
    assert client.get(answer["Location"]).status_code == 200


def test_figures_are_marked_and_kept_on_the_page(client):
    marker = Marker(problem(kind("motor"), edition("nec-2020"), _bases("motor", "nec-2020"), "abc"))
    first, rest = marker.lines[0], marker.lines[1:]
    posted = {f"line-{one.id}": one.shown for one in rest} | {
        f"line-{first.id}": "1.234",
        "do": "mark",
    }
    text = client.post(address("motor"), posted).content.decode()
    assert 'value="1.234"' in text and "Not right" in text
    assert (
        text.count('class="judged right"') >= len(rest) - 3
    )  # what follows from the first one is not
    everything = {f"line-{one.id}": one.shown for one in marker.lines} | {"do": "mark"}
    text = client.post(address("motor"), everything).content.decode()
    assert f'<b class="num">{len(marker.lines)}</b>' in text
    assert "Not right" not in text


def test_hints_one_at_a_time(client):
    marker = Marker(problem(kind("motor"), edition("nec-2020"), _bases("motor", "nec-2020"), "abc"))
    one = next(line for line in marker.lines if line.rules and line.rules[0].is_table)
    text = client.post(
        address("motor"), {"do": f"hint:{one.id}", f"line-{one.id}": "7"}
    ).content.decode()
    assert text.count('class="hint"') == 1 and 'value="7"' in text
    hidden = re.search(rf'name="hints-{re.escape(one.id)}"\s+value="(\d+)"', text)
    assert hidden is not None and hidden.group(1) == "1"
    again = {"do": f"hint:{one.id}", f"hints-{one.id}": "1"}
    assert client.post(address("motor"), again).content.decode().count('class="hint"') == 2
    assert "judged right" not in text


def test_own_working_says_what_fits_nothing(client):
    url = address("motor", level="own")
    page = client.get(url).content.decode()
    assert "<textarea" in page and "practice-lines" not in page
    text = client.post(url, {"own": "123.4567\nzylophone", "do": "mark"}).content.decode()
    assert "123.4567 is no line of this worksheet" in text and "zylophone is no line" in text


def test_the_working_is_shown_when_asked_and_not_before(client):
    assert '<span class="key">' not in client.get(address("circuit")).content.decode()
    text = client.post(address("circuit"), {"do": "show"}).content.decode()
    assert '<span class="key">' in text and "Open the sheet with these entries" in text
    sheet = unescape(re.search(r'href="(/quick/circuit/\?[^"]+)"', text).group(1))
    assert client.get(sheet).status_code == 200


@pytest.mark.parametrize("query", ["seed=", "seed=%3Cb%3E", f"seed={'a' * 40}", ""])
def test_an_odd_seed_is_given_another(client, query):
    answer = client.get(f"{reverse('practice:problem', args=['motor'])}?{query}")
    assert answer.status_code == 302 and re.search(r"seed=[0-9a-f]{6}$", answer["Location"])


@pytest.mark.parametrize(("name", "status"), [("nothing", 404), ("board", 404), ("supply", 404)])
def test_what_cannot_be_practised_is_not_there(client, name, status):
    assert client.get(address(name)).status_code == status
