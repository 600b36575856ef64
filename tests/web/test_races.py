"""Many at once on one job: turns are taken, nothing is a fault, nothing acknowledged is missing."""

import random
import threading
import uuid

import pytest
from django.db import connection
from django.test import Client
from django.urls import reverse

from voltaje.web.jobs import actions
from voltaje.web.jobs.demo import MILL
from voltaje.web.jobs.models import Job

pytestmark = pytest.mark.django_db(transaction=True)
TABS = 6


@pytest.fixture
def mill(people, job):
    actions.plant(job, people[0], MILL)
    return Job.objects.get(pk=job.pk)


def at_once(user, acts):
    """Runs each act, a function of a client, in a thread of its own; the answers in their order."""
    gate, answers = threading.Barrier(len(acts)), [None] * len(acts)

    def one(index, act):
        client = Client()
        client.force_login(user)
        gate.wait()
        try:
            answers[index] = act(client)
        finally:
            connection.close()

    threads = [threading.Thread(target=one, args=pair) for pair in enumerate(acts)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return answers


def test_one_part_deleted_by_all(people, mill):
    part = mill.parts.get(name="Kiln room")
    save = reverse("jobs:save", args=[mill.pk, part.pk])
    tree = reverse("jobs:tree", args=[mill.pk])
    acts = [lambda c: c.post(tree, {"act": "delete", "part": str(part.pk)})] * 3 + [
        lambda c: c.post(save, {"set:rating": "100 A"})
    ] * 3
    codes = [answer.status_code for answer in at_once(people[0], acts)]
    assert set(codes) <= {200, 302, 409} and not mill.parts.filter(pk=part.pk).exists()


def test_one_cell_amended_by_all(people, mill):
    url = reverse("jobs:amendments", args=[mill.pk])
    posted = {"topic": "ampacity", "row": "12", "column": "copper 75", "value": "22",
              "jurisdiction": "County", "reason": "7"}  # fmt: skip
    codes = [a.status_code for a in at_once(people[0], [lambda c: c.post(url, posted)] * TABS)]
    assert sorted(codes) == [302] + [422] * (TABS - 1) and mill.amendments.count() == 1


def test_one_form_sent_by_all_makes_one(people, mill):
    made, key = str(uuid.uuid4()), str(uuid.uuid4())
    form = {"name": "New", "edition": "nec-2020", "units": "us", "preference": "smallest",
            "system": "1ph-120/240", "begins": "dwelling", "made": made}  # fmt: skip
    codes = at_once(people[0], [lambda c: c.post(reverse("jobs:create"), form)] * TABS)
    assert {a.status_code for a in codes} == {302} and Job.objects.filter(name="New").count() == 1
    top = mill.parts.get(name="Kiln room")
    add = {"act": "add", "kind": "circuit", "part": str(top.pk), "made": key}
    before = mill.parts.count()
    at_once(people[0], [lambda c: c.post(reverse("jobs:tree", args=[mill.pk]), add)] * TABS)
    assert mill.parts.count() == before + 1


def test_acts_of_all_kinds_mixed(people, mill):
    """Saves are all there; the tree holds together; every revision has its number."""
    keys = [str(p.pk) for p in mill.parts.filter(kind="circuit")]
    boards = [str(p.pk) for p in mill.parts.filter(kind="board")]
    tree = reverse("jobs:tree", args=[mill.pk])
    acknowledged = []

    def tab(number):
        chance = random.Random(number)

        def acts(client):
            codes = []
            for step in range(8):
                key = chance.choice(keys)
                name = f"{number}.{step}"
                what = chance.choice(
                    ["save", "save", "move", "duplicate", "delete", "undo", "list"]
                )
                if what == "save":
                    board = chance.choice(boards)
                    made = str(uuid.uuid4())
                    answer = client.post(
                        reverse("jobs:save", args=[mill.pk, board]),
                        {"row-made": made, f"cell:{made}:name": name, f"cell:{made}:load": "1 kW"},
                    )
                    if answer.status_code == 200:
                        acknowledged.append(name)
                elif what == "undo":
                    answer = client.get(reverse("jobs:revisions", args=[mill.pk]))
                elif what == "list":
                    answer = client.get(reverse("jobs:job", args=[mill.pk]))
                elif what == "move":
                    form = {"act": "drop", "part": key, "parent": chance.choice(boards)}
                    answer = client.post(tree, form)
                else:
                    answer = client.post(tree, {"act": what, "part": key})
                codes.append(answer.status_code)
            return codes

        return acts

    answers = at_once(people[0], [tab(n) for n in range(TABS)])
    assert all(code in (200, 302, 409) for codes in answers for code in codes), answers
    job = Job.objects.get(pk=mill.pk)
    there = {p.name for p in job.parts.all()}
    assert len(acknowledged) == len(set(acknowledged) & there)
    numbers = list(job.revisions.order_by("number").values_list("number", flat=True))
    assert numbers == list(range(1, job.revision + 1))
    ids = {p.pk for p in job.parts.all()}
    assert all(p.parent_id is None or p.parent_id in ids for p in job.parts.all())
