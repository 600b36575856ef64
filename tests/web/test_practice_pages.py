"""Practice in the browser's terms: problems by their address, marked, helped with, shown."""

from __future__ import annotations

import json
import re
from datetime import timedelta
from html import unescape
from itertools import combinations
from urllib.parse import urlencode

import pytest
from django.core.serializers.json import DjangoJSONEncoder
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from voltaje.core.codes import edition
from voltaje.core.kinds import kind, kinds
from voltaje.core.practice import Marker, problem
from voltaje.core.practice.hidden import differ, puzzle, score
from voltaje.web.jobs import archive
from voltaje.web.kinds import presentations
from voltaje.web.parts.quick_views import codes_of
from voltaje.web.practice import results
from voltaje.web.practice.bases import bases_of
from voltaje.web.practice.hidden import _puzzle, fault_address
from voltaje.web.practice.models import PracticeResult
from voltaje.web.practice.paper import problems_of

BOOKS = ("nec-2020", "nec-2023", "cec-2021", "bs7671-2018", "sans10142-2020", "asnzs3000-2018")
EVERY = [
    (name, code)
    for name, shown in presentations().items()
    for code in BOOKS
    if shown.quick and code in codes_of(name)
]


def address(name, code="nec-2020", seed="abc", **more):
    return f"{reverse('practice:problem', args=[name])}?{urlencode({'code': code, 'seed': seed, **more})}"


@pytest.mark.parametrize(("name", "code"), EVERY)
def test_the_key_of_every_kind_under_every_code_gets_full_marks(name, code):
    bases = bases_of(name, code)
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
        if seed == "1":  # in own working any order will do
            own = Marker(problem(kind(name), edition(code), bases, seed, "own"))
            marks = own.own_working([one.shown for one in own.lines][::-1])
            assert {one.mark for one in marks} == {"right"}
        # every line wrong, by no slip: all slips are tried, and few are hit by chance
        if seed == "1":
            odd = {one.id: f"{(one.value or 1) * 3.217:.5g}" for one in marker.lines}
            told = [one for one in marker.mark(odd) if one.slips]
            assert len(told) <= 1 + len(marker.lines) / 4, [
                (m.asked.id, m.given, list(map(str, m.slips))) for m in told
            ]


def test_the_list_leads_to_problems(client):
    page = client.get(reverse("practice:list"), {"code": "bs7671-2018", "level": "answer"})
    text = unescape(page.content.decode())
    # an exercise has no level
    found = re.findall(r'href="(/practice/(?!balance)[a-z_]+/\?[^"]+)"', text)
    assert len(found) > 8 and all(
        "code=bs7671-2018" in one and "level=answer" in one for one in found
    )
    assert "/practice/motor/" not in text  # a motor there is a machine by kW
    answer = client.get(found[0])
    assert answer.status_code == 302 and "seed=" in answer["Location"]
    assert client.get(answer["Location"]).status_code == 200


def test_figures_are_marked_and_kept_on_the_page(client):
    marker = Marker(
        problem(kind("motor"), edition("nec-2020"), bases_of("motor", "nec-2020"), "abc")
    )
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
    marker = Marker(
        problem(kind("motor"), edition("nec-2020"), bases_of("motor", "nec-2020"), "abc")
    )
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


def solved(code="nec-2020", seed="abc", name="motor"):
    marker = Marker(problem(kind(name), edition(code), bases_of(name, code), seed))
    return {f"line-{one.id}": one.shown for one in marker.lines} | {"do": "mark"}, marker


def test_the_first_marking_is_kept_with_the_account(owner, people):
    guest = Client()
    posted, marker = solved()
    first = marker.lines[1]
    owner.post(address("motor"), posted | {f"line-{first.id}": "0.001"})
    owner.post(address("motor"), posted)  # after the answer was seen
    row = PracticeResult.objects.get()
    assert row.most == len(marker.lines) and row.points < row.most
    owner.post(address("motor", seed="other"), {"do": "show"})
    guest.post(address("motor", seed="guest"), posted)  # nobody’s
    assert PracticeResult.objects.count() == 2
    page = owner.get(reverse("practice:list")).content.decode()
    assert "Your progress" in page and re.search(r'class="num">\s*2 problems\s*</td>', page)
    assert "Your progress" not in guest.get(reverse("practice:list")).content.decode()


def test_results_go_out_and_come_in_with_a_backup(owner, people, mill):
    posted, _ = solved()
    owner.post(address("motor"), posted)
    owner.post(address("motor", seed="b"), {"do": "show"})
    rows = list(PracticeResult.objects.values("kind", "seed", "points", "most"))
    document = json.loads(json.dumps(archive.export(mill.owner), cls=DjangoJSONEncoder))
    assert json.loads("".join(archive.pieces(mill.owner)))["practice"] == document["practice"]
    PracticeResult.objects.all().delete()
    archive.bring(mill.owner, document | {"jobs": []})
    archive.bring(mill.owner, document | {"jobs": []})  # twice is once
    assert list(PracticeResult.objects.values("kind", "seed", "points", "most")) == rows
    for wrong in ("none", [{"kind": "motor"}], [document["practice"][0] | {"points": -1}]):
        with pytest.raises(archive.UnreadableArchiveError):
            archive.bring(mill.owner, document | {"jobs": [], "practice": wrong})
    mill.owner.delete()
    assert not PracticeResult.objects.exists()


def test_what_is_least_remembered_comes_first(owner, mill):
    day = timedelta(days=1)
    for name, points, age in (("motor", 9, 60), ("circuit", 5, 1), ("feeder", 9, 1)):
        PracticeResult.objects.create(
            owner=mill.owner, kind=name, code="nec-2020", seed="x", level="guided", points=points, most=10,
            slips=["√3 left out"], marked_at=timezone.now() - age * day)  # fmt: skip
    found = results.progress(mill.owner)
    assert [one.kind for one in found] == ["motor", "circuit", "feeder"]
    assert found[0].usual == (("√3 left out", 1),) and found[2].percent == 90


def results_of(user, name, *done):
    """Results of a kind: points of 10, days ago."""
    for points, age in done:
        PracticeResult.objects.create(
            owner=user, kind=name, code="nec-2020", seed=f"s{age}", level="guided", points=points,
            most=10, marked_at=timezone.now() - timedelta(days=age))  # fmt: skip


def test_what_is_known_better_is_due_later(mill):
    """Spaced repetition: more right, or right more often, is a later day (FSRS)."""
    for name, *done in (
        ("circuit", (3, 2)), ("motor", (8, 2)), ("feeder", (10, 2)), ("amperes", (8, 9), (8, 2)),
    ):  # fmt: skip
        results_of(mill.owner, name, *done)
    due = {one.kind: one.due for one in results.progress(mill.owner)}
    assert due["circuit"] < due["motor"] < min(due["feeder"], due["amperes"])
    first = results.progress(mill.owner)[0]
    assert (first.kind, first.days) == ("circuit", 0) and 0 < first.remembered < 0.9


@pytest.mark.parametrize(("ages", "days"), [((), 0), ((0,), 1), ((0, 1, 2, 4), 3), ((1, 2), 2), ((2, 3), 0)])  # fmt: skip
def test_days_in_a_row(owner, mill, ages, days):
    results_of(mill.owner, "motor", *((9, age) for age in ages))
    assert results.streak(mill.owner) == days
    page = owner.get(reverse("practice:list")).content.decode()
    assert (f"Practised on {days} days in a row" in page) == (days > 1)


PAPER = {"code": "nec-2020", "kinds": ["motor", "circuit"], "number": "3", "learners": "2", "level": "guided",
         "seed": "week7"}  # fmt: skip


def test_a_paper_has_own_figures_for_each_learner_and_a_key(client):
    url = reverse("practice:paper")
    assert 'name="kinds"' in client.get(url).content.decode()
    text = unescape(client.get(url, PAPER).content.decode())
    again = unescape(client.get(url, PAPER).content.decode())
    assert text == again  # the same seed makes the same papers
    sheets = text.split('class="paper-sheet"')[1:]
    assert len(sheets) == 4
    first, second, key, _ = sheets
    assert first.replace("week7-1", "") != second.replace("week7-2", "")
    assert first.count('class="paper-task"') == 3 and "__________" in first
    # nothing of the key stands on the paper: the lines of the key have their figures
    figures = re.findall(r'<td class="num">\s*<b>([^<]+)</b>', key)
    assert len(figures) == first.count('<td class="num">') and "__________" not in key
    assert "<b>week7-1</b>" in first and "Key: week7-1" in key


@pytest.mark.parametrize(("change", "said"), [
    ({"kinds": []}, "Choose at least one"), ({"number": "0"}, "greater than or equal to 1"),
    ({"number": "20", "learners": "30"}, "At most 30 problems"), ({"seed": "a b"}, "Letters and digits"),
    ({"kinds": ["trunking"]}, "worked under that code"), ({"code": "none"}, "not one of the available choices"),
])  # fmt: skip
def test_a_paper_that_cannot_be_made_says_why(client, change, said):
    answer = client.get(reverse("practice:paper"), PAPER | change)
    assert answer.status_code == 422 and said in unescape(answer.content.decode())


HIDING = [
    (of.name, code)
    for of in kinds()
    if of.faults is not None
    for code in BOOKS
    if code in codes_of(of.name)
]


@pytest.mark.parametrize(("name", "code"), HIDING)
def test_every_fault_can_be_found_from_its_readings(name, code):
    """No two suspects have the same readings at all places, whatever is hidden; three readings are enough in
    nine of ten puzzles; the program's own comparison of the readings taken leaves the hidden one alone."""
    made, few = 0, 0
    for base in bases_of(name, code):
        for seed in ("1", "2", "3"):
            found = puzzle(kind(name), edition(code), base, seed)
            if found is None:
                continue
            made += 1
            few += found.fewest() is not None
            for one, other in combinations(found.suspects, 2):
                assert any(differ(a, b) for a, b in zip(one.points, other.points, strict=True))
            fits = [one for one in found.suspects
                    if not any(differ(a, b) for a, b in zip(one.points, found.points, strict=True))]  # fmt: skip
            assert fits == [found.hidden] and found.hidden.id != "0"
    assert made and few >= 0.9 * made


def test_a_hidden_fault_is_found_with_readings(client):
    url = fault_address("multiwire_circuit", "nec-2020", "abc")
    page = client.get(url).content.decode()
    assert "Nothing is wrong" in page and 'name="measured" value=""' in page
    found = _puzzle("multiwire_circuit", "nec-2020", "abc")
    first, second = found.points[0], found.points[-1]
    text = client.post(url, {"do": f"measure:{first.name}"}).content.decode()
    assert f'name="measured" value="{first.name}"' in text
    assert f"{first.value:.1f}" in re.sub(r"\s+", " ", text) and "Without the fault" not in text
    posted = {"do": f"measure:{second.name}", "measured": f"{first.name} {first.name} nonsense"}
    text = client.post(url, posted).content.decode()
    assert f'name="measured" value="{first.name} {second.name}"' in text
    text = client.post(url, {"do": "name", "measured": str(first.name)}).content.decode()
    assert "Choose what is wrong" in text
    text = client.post(
        url, {"do": "name", "measured": str(first.name), "fault": found.hidden.id}
    ).content.decode()
    assert (
        '<b class="num">10</b>' in text and "judged right" in text and "Without the fault" in text
    )
    wrong = next(one for one in found.suspects if one is not found.hidden)
    text = unescape(client.post(url, {"do": "name", "fault": wrong.id}).content.decode())
    assert '<b class="num">0</b>' in text and str(found.hidden.words) in text


@pytest.mark.parametrize(("right", "readings", "points"), [
    (True, 0, 10), (True, 2, 10), (True, 5, 7), (True, 40, 1), (False, 1, 0),
])  # fmt: skip
def test_a_puzzle_is_scored_by_its_readings(right, readings, points):
    assert score(right, readings) == points


def test_what_hides_nothing_is_not_there(client):
    assert client.get(fault_address("motor", "nec-2020", "abc")).status_code == 404
    assert client.get(fault_address("multiwire_circuit", "nec-2020")).status_code == 302
    listed = client.get(reverse("practice:list"), {"code": "nec-2020"}).content.decode()
    assert "/practice/fault/multiwire_circuit/" in listed


@pytest.mark.parametrize("name", ["breaker", "bank", "earthing", "motor", "amperes"])
def test_no_two_problems_of_a_paper_are_alike(name):
    code = "bs7671-2018" if name == "earthing" else "nec-2020"
    for seed in "ab":
        made = problems_of([name], edition(code), 5, seed, 1, "guided", False)
        told = [json.dumps(one.document, sort_keys=True) for _, one in made]
        assert len(set(told)) == len(told) >= 4
