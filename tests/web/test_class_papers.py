"""Papers of a class: joined by a code, worked, timed by the server, looked at by learner and slip."""

from __future__ import annotations

import csv
import io
import json
import re
from datetime import timedelta
from html import unescape

import pytest
from django.core.serializers.json import DjangoJSONEncoder
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from openpyxl import load_workbook

from voltaje.core.practice import Marker
from voltaje.core.practice.slips import step_slips
from voltaje.web.accounts import throttle
from voltaje.web.jobs import archive
from voltaje.web.practice import sittings
from voltaje.web.practice.models import ClassPaper, Sitting, SittingProblem

FORM = {"title": "Week 7", "code": "nec-2020", "kinds": ["motor", "circuit"], "number": "3",
        "days": "20", "level": "guided", "seed": "w7"}  # fmt: skip


@pytest.fixture
def paper(owner):
    """A paper of an hour, made by its form."""
    answer = owner.post(reverse("practice:papers"), {**FORM, "minutes": "60"})
    assert answer.status_code == 302, answer.content.decode()[:2000]
    return ClassPaper.objects.get()


def joined(paper, name, client=None):
    client = client or Client()
    given = {"paper": f" {paper.join_code[:3].lower()} {paper.join_code[3:]}", "name": name}
    return client, client.post(reverse("practice:join"), given)


def learner(paper, name):
    client, answer = joined(paper, name)
    assert answer.status_code == 302
    return client, Sitting.objects.get(name=name)


def marker_of(row):
    return Marker(sittings.problem_of(row))


def send(client, sitting, row, typed, do="save"):
    url = reverse("practice:sitting_problem", args=[sitting.key, row.number])
    return client.post(url, {"do": do, **{f"line-{name}": text for name, text in typed.items()}})


def key_of(row):
    return {line.id: line.shown for line in marker_of(row).lines}


def test_a_learner_joins_works_and_hands_in(paper, owner):
    client, ada = learner(paper, "Ada")
    first, second, third = ada.problems.all()
    assert [row.kind for row in (first, second, third)] == ["motor", "circuit", "motor"]
    answer = send(client, ada, first, key_of(first), "next")
    assert answer["Location"].endswith(f"/{second.number}/")
    # while it is worked nothing is told of the marks, on no page
    for address in (f"{reverse('practice:sitting', args=[ada.key])}", answer["Location"]):
        page = client.get(address).content.decode()
        assert not re.search("points|judged|Not right", page)
    lines = marker_of(second).lines
    slip, line = next((s, one) for one in lines for s in step_slips(one) if not s.words.given)
    wrong = {**key_of(second), line.id: f"{slip.value:.5g}"}
    send(client, ada, second, wrong)
    page = client.get(reverse("practice:sitting_problem", args=[ada.key, 2])).content.decode()
    assert f'value="{slip.value:.5g}"' in page
    client.post(reverse("practice:sitting", args=[ada.key]), {"do": "hand in"})
    first, second, third = ada.problems.all()
    assert first.points == first.most
    assert second.points < second.most and second.slips
    assert (third.points, third.saved_at) == (0, None) and third.most
    page = client.get(reverse("practice:sitting_problem", args=[ada.key, 2])).content.decode()
    assert "Not right" in page and unescape(second.slips[0]) in unescape(page)
    results = unescape(owner.get(reverse("practice:results", args=[paper.pk])).content.decode())
    assert "Ada" in results and f"{first.most}/{first.most}" in results
    assert second.slips[0] in results
    told = owner.get(reverse("practice:marking", args=[paper.pk, 1, 2])).content.decode()
    assert "Not right" in told and lines[0].shown in unescape(told)


def test_each_has_own_figures_and_the_printed_paper_has_the_same(paper, owner):
    _, ada = learner(paper, "Ada")
    _, bo = learner(paper, "Bo")
    entries = [[row.document for row in one.problems.all()] for one in (ada, bo)]
    assert entries[0] != entries[1]
    page = unescape(owner.get(reverse("practice:results", args=[paper.pk])).content.decode())
    printed = owner.get(re.search(r'href="(/practice/paper/\?[^"]+)"', page)[1])
    papers = printed.context["papers"]
    assert [[t.problem.document for t in one.tasks] for one in papers] == entries


@pytest.mark.parametrize(("change", "given", "words"), [
    ({}, {"paper": "ZZZZZZ"}, "No paper with this code"),
    ({}, {"paper": ""}, "This field is required"),
    ({}, {"name": "  "}, "This field is required"),
    ({}, {"name": "ADA"}, "Somebody has joined by this name"),
    ({"expires_at": timezone.now() - timedelta(days=1)}, {}, "This paper is closed"),
])  # fmt: skip
def test_what_does_not_join_is_told_at_its_field(paper, change, given, words):
    learner(paper, "Ada")
    ClassPaper.objects.update(**change)
    answer = Client().post(
        reverse("practice:join"), {"paper": paper.join_code, "name": "Dov", **given}
    )
    assert answer.status_code == 422
    page = unescape(answer.content.decode())
    assert words in page
    assert f'value="{given.get("name", "Dov").strip()}"' in page or "  " in given.get("name", "")
    assert Sitting.objects.count() == 1


def test_the_same_browser_goes_on_with_the_same_paper(paper):
    client, ada = learner(paper, "Ada")
    _, answer = joined(paper, "ada", client)
    assert answer["Location"] == reverse("practice:sitting", args=[ada.key])
    assert Client().get(answer["Location"]).status_code == 200  # by its address, from anywhere
    _, answer = joined(paper, "Bo", client)  # another learner at the same computer
    assert ada.key not in answer["Location"] and Sitting.objects.count() == 2


def test_a_full_paper_takes_nobody_more(paper, monkeypatch):
    monkeypatch.setattr(sittings, "MOST_SITTINGS", 1)
    learner(paper, "Ada")
    _, answer = joined(paper, "Bo")
    assert answer.status_code == 422 and "This paper is full" in answer.content.decode()


def test_the_server_keeps_the_time(paper, owner):
    client, ada = learner(paper, "Ada")
    assert timedelta(minutes=59) < ada.until - timezone.now() <= timedelta(minutes=60)
    row = ada.problems.first()
    send(client, ada, row, {line.id: "1" for line in marker_of(row).lines})
    # as the time ends what is on its way still counts, later nothing does
    for over, status, points in ((10, 302, row.most), (60, 409, row.most)):
        ada.until = timezone.now() - timedelta(seconds=over)
        ada.save()
        answer = send(client, ada, row, key_of(row) if over == 10 else {})
        assert answer.status_code == status
        row.refresh_from_db()
        assert row.points == points
    assert "Time was over before this was received" in answer.content.decode()
    page = client.get(reverse("practice:sitting", args=[ada.key])).content.decode()
    assert "Time is over." in page and "Hand in" not in page
    # reopened by the teacher it goes on with what is kept of it
    owner.post(reverse("practice:change", args=[paper.pk]), {"do": "reopen:1"})
    page = client.get(reverse("practice:sitting_problem", args=[ada.key, 1])).content.decode()
    assert "minutes left" in page and key_of(row)[marker_of(row).lines[0].id] in unescape(page)


def test_a_closed_paper_takes_no_more_work(paper, owner):
    client, ada = learner(paper, "Ada")
    owner.post(reverse("practice:change", args=[paper.pk]), {"do": "close"})
    Sitting.objects.update(until=timezone.now() - sittings.GRACE)
    assert send(client, ada, ada.problems.first(), {}).status_code == 409
    owner.post(reverse("practice:change", args=[paper.pk]), {"do": "open"})
    assert joined(paper, "Bo")[1].status_code == 302


def test_nobody_else_sees_a_paper_or_a_learners_work(paper, stranger, client):
    _, ada = learner(paper, "Ada")
    _, bo = learner(paper, "Bo")
    row = ada.problems.first()
    own = [
        reverse("practice:results", args=[paper.pk]),
        reverse("practice:results_file", args=[paper.pk, "csv"]),
        reverse("practice:marking", args=[paper.pk, 1, row.number]),
        reverse("practice:change", args=[paper.pk]),
    ]
    for address in own:
        assert {stranger.get(address).status_code, stranger.post(address).status_code} <= {404, 405}
        assert Client().get(address).status_code in (302, 405)
    assert ClassPaper.objects.count() == 1
    page = Client().get(reverse("practice:sitting", args=[bo.key])).content.decode()
    assert "Ada" not in page and ada.key not in page
    for key in (ada.key[:-1], ada.key.swapcase(), "x"):
        assert Client().get(reverse("practice:sitting", args=[key])).status_code == 404
    assert "Week 7" not in stranger.get(reverse("practice:papers")).content.decode()


def test_results_as_tables(paper, owner):
    client, sitting = learner(paper, "=Ada")
    for row in sitting.problems.all():
        send(client, sitting, row, key_of(row))
    client.post(reverse("practice:sitting", args=[sitting.key]), {"do": "hand in"})
    answer = owner.get(reverse("practice:results_file", args=[paper.pk, "csv"]))
    rows = list(csv.reader(io.StringIO(answer.content.decode())))
    assert rows[0] == list(sittings.COLUMNS) and len(rows) == 4
    assert {row[0] for row in rows[1:]} == {"'=Ada"}
    assert all(float(row[6]) == float(row[7]) > 0 for row in rows[1:])
    book = owner.get(reverse("practice:results_file", args=[paper.pk, "xlsx"]))
    sheet = load_workbook(io.BytesIO(book.content)).active
    assert sheet["A2"].value == "=Ada"
    assert sheet[2][6].value == float(rows[1][6])
    assert owner.get(reverse("practice:results_file", args=[paper.pk, "pdf"])).status_code == 404


@pytest.mark.parametrize(("change", "words"), [
    ({"title": " "}, "This field is required"), ({"number": "13"}, "At most 12 problems"),
    ({"number": "11", "hard": "on"}, "At most 10 problems"), ({"kinds": []}, "Choose at least one"),
    ({"minutes": "2"}, "greater than or equal to 5"), ({"seed": "a b"}, "Letters and digits"),
    ({"code": "bs7671-2018", "kinds": ["motor"]}, "Nothing of this is worked"),
])  # fmt: skip
def test_a_paper_that_cannot_be_made_is_told_at_its_field(owner, change, words):
    answer = owner.post(reverse("practice:papers"), {**FORM, **change})
    assert answer.status_code == 422 and words in unescape(answer.content.decode())
    assert not ClassPaper.objects.exists()


def test_papers_go_out_and_in_with_the_account_and_away_with_it(paper, owner, people):
    client, ada = learner(paper, "Ada")
    row = ada.problems.first()
    send(client, ada, row, key_of(row))
    document = json.loads(json.dumps(archive.export(people[0]), cls=DjangoJSONEncoder))
    assert json.loads("".join(archive.pieces(people[0])))["papers"] == document["papers"]
    archive.bring(people[1], document)
    archive.bring(people[1], document)  # twice: once
    brought = ClassPaper.objects.get(owner=people[1])
    assert brought.join_code != paper.join_code
    again = brought.sittings.get()
    assert again.key != ada.key
    first = again.problems.first()
    row.refresh_from_db()
    assert (first.points, first.typed, first.document) == (row.points, row.typed, row.document)
    people[0].delete()
    assert Sitting.objects.count() == 1
    brought.delete()
    assert not SittingProblem.objects.exists()


def test_guessing_codes_is_slowed(db, settings, monkeypatch):
    settings.TRIES_FACTOR = 1
    monkeypatch.setitem(throttle.LIMITS, "paper", (2, 15))
    tries = [
        Client().post(reverse("practice:join"), {"paper": "AAAAAA", "name": "x"}).status_code
        for _ in range(3)
    ]
    assert tries == [422, 422, 429]
