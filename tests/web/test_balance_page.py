"""A board's balance page: spreads beside each other, moves, pins, one revision, what has changed since."""

import re

import pytest
from django.urls import reverse

from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Job

pytestmark = pytest.mark.django_db
WATTS = {"Kiln": "4 kW", "Lights": "1.5 kW", "Bench": "2 kW", "Saw": "1 kW", "Heater": "3 kW"}


@pytest.fixture
def job(client, django_user_model):
    user = django_user_model.objects.create_user("b@example.org", "quite-long-secret")
    client.force_login(user)
    made = create_job(user, "Yard", "nec-2020", "us", system="3ph-208Y/120", begins="board")
    board = next(part for part in made.loaded() if part.kind == "board")
    for name, load in WATTS.items():
        add_part(made, user, "circuit", str(board.pk), name, {"load": load, "line": "L1"})
    return Job.objects.get(pk=made.pk)


def parts(job):
    return {part.name: part for part in Job.objects.get(pk=job.pk).loaded()}


def address(job):
    return reverse("jobs:balance", args=[job.pk, parts(job)["Board 1"].pk])


def hidden(page, name):
    return re.findall(rf'name="{name}"\s+value="([^"]+)"', page)


def test_the_best_beside_the_hand_rule_and_its_work(client, job):
    page = client.get(address(job)).content.decode()
    assert "Existing" in page and "Largest first" in page and "proven:" in page
    assert "11,500 VA" in page and "200 %" in page  # all of it on one line
    assert "Move <b>Kiln</b> from L1 to" in page and "lock out" in page
    # 11.5 kW over three lines: 4, 4 and 3.5
    best = client.get(address(job), {"objective": "heaviest"}).content.decode()
    assert "33.3 A" in best


def plan(page):
    """What the page sends when its plan is applied."""
    return {name: hidden(page, name) for name in ("to", "was", "revision")}


def test_it_is_applied_as_one_revision_and_undone(client, job):
    before = Job.objects.get(pk=job.pk).revision
    page = client.get(address(job), {"objective": "heaviest"}).content.decode()
    answer = client.post(address(job), plan(page))
    assert answer.status_code == 302
    now = Job.objects.get(pk=job.pk)
    assert now.revision == before + 1
    lines = {name: parts(job)[name].entries["line"] for name in WATTS}
    on = {line: sum(float(WATTS[n].split()[0]) for n in WATTS if lines[n] == line)
          for line in ("L1", "L2", "L3")}  # fmt: skip
    assert max(on.values()) == 4
    assert "nothing has to move." in client.get(address(job)).content.decode()
    client.post(reverse("jobs:undo", args=[job.pk]), {"next": "/"})
    assert {parts(job)[name].entries["line"] for name in WATTS} == {"L1"}


def test_what_has_changed_since_is_not_overwritten(client, job):
    page = client.get(address(job)).content.decode()
    saw = parts(job)["Saw"]
    # a line, or only a load: the plan was made for other amperes
    for turn, (name, text, base) in enumerate(
        [("line", "L3", "L1"), ("load", "9 kW", WATTS["Saw"])]
    ):
        page = client.get(address(job)).content.decode()
        client.post(reverse("jobs:save", args=[job.pk, saw.pk]),
                    {f"set:{name}": text, f"base:{name}": base, "tab": "t", "turn": str(turn + 1)})  # fmt: skip
        answer = client.post(address(job), plan(page), follow=True).content.decode()
        assert "Changed since this was calculated: " in answer and "Saw" in answer
        assert parts(job)["Kiln"].entries["line"] == "L1"
    now = {"revision": str(Job.objects.get(pk=job.pk).revision)}
    for broken in ({}, {"to": ["x=L9"], "was": ["x=L1"]}, {"to": ["nonsense"]}):
        answer = client.post(address(job), {**broken, **now}, follow=True).content.decode()
        assert "has changed since" in answer


def test_pins_stay_and_moves_are_chosen(client, job):
    kiln = parts(job)["Kiln"]
    page = client.get(address(job), {"pin": str(kiln.pk)}).content.decode()
    assert f"{kiln.pk}=L1" in hidden(page, "to")
    one = client.get(address(job), {"moves": "1"}).content.decode()
    changed = [t for t, w in zip(hidden(one, "to"), hidden(one, "was"), strict=True) if t != w]
    assert len(changed) == 1
    assert client.get(address(job), {"moves": "x", "objective": "y", "pin": "z"}).status_code == 200


def test_pins_that_conflict_are_told(client, job):
    page = parts(job)
    user = job.owner
    shared = [add_part(job, user, "circuit", str(page["Board 1"].pk), name, {
        "load": "1 kW", "line": "L1", "shared_neutral": "K"}) for name in ("One", "Two")]  # fmt: skip
    told = client.get(address(job), {"pin": [str(part.pk) for part in shared]}).content.decode()
    assert "share a neutral and are both pinned to L1" in told


def test_an_empty_board_and_a_stranger(client, job, django_user_model):
    bare = add_part(job, job.owner, "board", str(parts(job)["Feeder 1"].pk), "Bare", {})
    page = client.get(reverse("jobs:balance", args=[job.pk, bare.pk])).content.decode()
    assert "No circuits stand here yet" in page
    saw = parts(job)["Saw"]
    assert client.get(reverse("jobs:balance", args=[job.pk, saw.pk])).status_code == 404
    client.force_login(django_user_model.objects.create_user("x@example.org", "quite-long-secret"))
    assert client.get(address(job)).status_code == 404
