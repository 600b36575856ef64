"""Longer looks: one an account, over all processes, and never so many that nobody else is served."""

import gc

import psycopg
import pytest
from django.db import connection
from django.test import Client
from django.urls import reverse

from voltaje.core.electrical.balance import Answer, by_hand
from voltaje.core.electrical.balance.measure import value
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.planning import balance_views, long_looks

pytestmark = pytest.mark.django_db
YOURS, OTHERS = "Your other long search is still running", "Other long searches are running"


@pytest.fixture
def looks(django_user_model, monkeypatch):
    """``looks(n)``: the answer to the longer look that account ``n`` asks for, not read yet."""

    def at_once(task, objective, seconds):
        lines = by_hand(task)
        yield Answer(lines, value(task, lines, objective), 0.0, False, 0.0)

    monkeypatch.setattr(balance_views, "look", at_once)
    monkeypatch.setattr(balance_views, "curve", lambda *_: iter(()))
    made = {}

    def look(number):
        if number not in made:
            user = django_user_model.objects.create_user(
                f"{number}@example.org", "quite-long-secret"
            )
            client = Client()
            client.force_login(user)
            job = create_job(user, "Yard", "nec-2020", "us", system="3ph-208Y/120", begins="board")
            board = job.parts.get(kind="board")
            for line in ("L1", "L1", "L2"):
                add_part(job, user, "circuit", str(board.pk), "C", {"load": "2 kW", "line": line})
            made[number] = client, reverse("jobs:balance_longer", args=[job.pk, board.pk]), user.pk
        client, address, _ = made[number]
        return client.get(address, {"seconds": "60"})

    look.key = lambda number: made[number][2]
    yield look
    gc.collect()  # answers that were not read
    assert long_looks._accounts == set()


def words(answer):
    return answer.content.decode()


def read(answer):
    """To its end, as a browser does: then the server closes it."""
    assert b'"done": true' in b"".join(answer.streaming_content)


def test_a_second_one_of_an_account_is_refused_in_words(looks):
    first = looks(1)
    again = looks(1)
    assert first.status_code == 200 and again.status_code == 429
    assert words(again).startswith(YOURS) and again["Retry-After"] == "30"
    read(first)
    read(looks(1))


def test_two_accounts_look_at_once_and_a_third_waits(looks):
    open_ones = [looks(number) for number in range(long_looks.AT_ONCE)]
    assert [one.status_code for one in open_ones] == [200] * long_looks.AT_ONCE
    late = looks(9)
    assert late.status_code == 429 and words(late).startswith(OTHERS)
    read(open_ones[0])
    open_ones[0]._place.end()  # closed again: it gives one place free, not two
    later = looks(9)
    assert later.status_code == 200 and looks(8).status_code == 429
    read(later)
    read(looks(8))


def test_what_nobody_reads_is_given_free(looks):
    assert looks(1).status_code == 200  # and forgotten
    gc.collect()
    assert looks(1).status_code == 200


def test_another_process_counts_too(looks):
    """Its lock is on its own connection, and goes with it."""
    read(looks(1))
    settings = connection.settings_dict
    other = psycopg.connect(
        host=settings["HOST"], port=settings["PORT"], dbname=settings["NAME"],
        user=settings["USER"], password=settings["PASSWORD"],
    )  # fmt: skip
    key = (long_looks.ADVISORY, looks.key(1))
    assert other.execute("select pg_try_advisory_lock(%s, %s)", key).fetchone() == (True,)
    refused = looks(1)
    assert refused.status_code == 429 and words(refused).startswith(YOURS)
    other.close()
    read(looks(1))
