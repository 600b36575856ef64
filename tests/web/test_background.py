"""Long work: short of it in place, the rest by a worker; stopped, superseded, begun again after a
killed worker; nobody sees another's."""

import io
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from django.db import connection
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from voltaje.core import faults
from voltaje.core.effort import StoppedError
from voltaje.web.background import asking, running
from voltaje.web.background.models import Attachment, BackgroundTask
from voltaje.web.background.work import Answered, LongWork, register, work_of
from voltaje.web.jobs import archive
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Job
from voltaje.web.planning import long_work

pytestmark = pytest.mark.django_db


def counted(asked):
    """Counts to ``to``, a second of effort each; tells how far it is."""
    for number in range(asked.question["to"]):
        if not asked.effort.left:
            raise StoppedError
        asked.effort.spend(1.0)
        asked.progress({"share": number / asked.question["to"]}, {"at": number})
        time.sleep(asked.question.get("pause", 0))
    if asked.question.get("broken"):
        raise ZeroDivisionError
    return Answered({"at": asked.question["to"]})


COUNT = register(LongWork("count", counted, lambda q: float(q["to"] + 1), lambda p: "counting"))


def change(job):
    """A revision more."""
    add_part(job, job.owner, "circuit", str(job.parts.get(kind="board").pk), "More", {})


def hear_of_a_worker():
    with connection.cursor() as cursor:
        cursor.execute("insert into procrastinate_workers (last_heartbeat) values (now())")


@pytest.fixture
def job(django_user_model):
    user = django_user_model.objects.create_user("a@example.org", "quite-long-secret")
    made = create_job(user, "Yard", "nec-2020", "us", system="3ph-208Y/120", begins="board")
    for number, load in enumerate(("2 kW", "1.4 kW", "900 W", "3 kW", "1.1 kW", "2.2 kW")):
        entries = {"load": load, "line": "L1" if number < 4 else "L2", "length": "50 ft"}
        add_part(made, user, "circuit", str(made.parts.get(kind="board").pk), f"C{number}", entries)
    return Job.objects.get(pk=made.pk)


@pytest.fixture
def page(job):
    """``page(name, **query)``: the answer to the owner of the job."""
    client = Client()
    client.force_login(job.owner)
    board = job.parts.get(kind="board")

    def get(name, status=200, **query):
        answer = client.get(reverse(f"jobs:{name}", args=[job.pk, board.pk]), query)
        assert answer.status_code == status
        return " ".join(answer.content.decode().split())

    get.client = client
    return get


# in place or by a worker ---------------------------------------------------------------------------


def test_what_is_short_is_done_in_place_and_once(job):
    done = asking.ask(COUNT, job, {"to": 0})
    assert done.state == "done" and done.result == {"at": 0}
    assert asking.ask(COUNT, job, {"to": 0}).pk == done.pk
    assert not ProcrastinateJob.objects.exists()
    # another revision is another question
    change(job)
    assert asking.ask(COUNT, Job.objects.get(pk=job.pk), {"to": 0}).pk != done.pk


def test_what_is_long_waits_for_a_worker_and_without_one_is_told(job):
    alone = asking.ask(COUNT, job, {"to": 5})
    assert alone.state == "stopped" and not BackgroundTask.objects.exists()
    hear_of_a_worker()
    task = asking.ask(COUNT, job, {"to": 5})
    assert task.state == "waiting" and ProcrastinateJob.objects.get().args == {"key": str(task.pk)}
    assert asking.ask(COUNT, job, {"to": 5}).pk == task.pk
    running.perform(str(task.pk))
    done = asking.ask(COUNT, job, {"to": 5})
    assert (done.pk, done.state, done.result, done.attempts) == (task.pk, "done", {"at": 5}, 1)
    running.perform(str(task.pk))  # told twice, done once
    assert BackgroundTask.objects.get().attempts == 1


def test_a_page_gives_up_by_processor_time_too(job, monkeypatch):
    monkeypatch.setattr(asking, "ALONE_PROCESSOR", 0.05)

    def busy(asked):
        began = time.thread_time()
        while asked.effort.left:
            assert time.thread_time() - began < 5
        raise StoppedError

    work = LongWork("busy", busy, lambda _: 1.5, str)
    assert asking.ask(work, job, {}).state == "stopped"


@pytest.mark.parametrize(
    ("work", "question"),
    [
        (long_work.BALANCE, {"objective": "deviation", "pins": [], "weights": {}, "by_sum": False, "seconds": 5}),
        (long_work.CONDUCTORS, {"aim": "metal", "language": "en"}),
    ],
)  # fmt: skip
def test_a_worker_answers_as_the_page_does(job, work, question, monkeypatch):
    question = {**question, "part": str(job.parts.get(kind="board").pk)}
    here = asking.ask(work, job, question)
    assert here.state == "done" and here.result
    BackgroundTask.objects.all().delete()
    monkeypatch.setattr(asking, "HERE", 0.0)
    hear_of_a_worker()
    task = asking.ask(work, job, question)
    assert task.state == "waiting"
    running.perform(str(task.pk))
    task.refresh_from_db()
    assert task.state == "done" and task.result == here.result


# its end ------------------------------------------------------------------------------------------


def waiting(job, **question):
    hear_of_a_worker()
    return asking.ask(COUNT, job, {"to": 5, **question})


def test_one_that_waits_is_stopped_at_once(job):
    task = waiting(job)
    asking.stop(task)
    assert task.state == "stopped"
    running.perform(str(task.pk))
    assert BackgroundTask.objects.get().attempts == 0


def test_one_that_runs_is_stopped_with_what_it_has(job, monkeypatch):
    monkeypatch.setattr(running, "LOOK_EVERY", 0.0)
    task = waiting(job, to=50)
    count = COUNT.run

    def stopped_on_the_way(asked):
        told = asked.progress

        def progress(*what):
            if what[0]["share"] > 0.2:
                asking.stop(BackgroundTask.objects.get())
            told(*what)

        return count(type(asked)(asked.job, asked.question, asked.effort, progress))

    monkeypatch.setitem(
        __import__("voltaje.web.background.work", fromlist=["_works"])._works,
        "count",
        LongWork("count", stopped_on_the_way, COUNT.effort, COUNT.words),
    )
    running.perform(str(task.pk))
    task.refresh_from_db()
    assert task.state == "stopped" and 10 <= task.result["at"] < 20


def test_a_fault_is_kept_with_its_number_and_shown(job, page, monkeypatch):
    monkeypatch.setattr(faults, "raising", False)
    task = waiting(job, broken=True)
    running.perform(str(task.pk))
    task.refresh_from_db()
    assert task.state == "failed" and task.fault.startswith("F-")
    answer = page.client.get(reverse("background:progress", args=[task.pk]))
    assert answer["HX-Trigger"] == "ended"
    page.client.post(reverse("background:again", args=[task.pk]))
    assert asking.ask(COUNT, job, {"to": 5, "broken": True}).pk != task.pk


def test_a_job_that_was_changed_since_is_not_worked(job):
    task = waiting(job)
    change(job)
    running.perform(str(task.pk))
    task.refresh_from_db()
    assert task.state == "stopped" and task.attempts == 0


def test_a_worker_that_ends_gives_its_task_back(job):
    task = waiting(job)
    with pytest.raises(running.EndingError):
        running.perform(str(task.pk), lambda: True)
    task.refresh_from_db()
    assert task.state == "waiting"


def test_one_whose_workers_were_all_killed_fails_in_the_end(job):
    task = waiting(job)
    BackgroundTask.objects.update(state="running", attempts=running.MOST_ATTEMPTS)
    running.perform(str(task.pk))
    task.refresh_from_db()
    assert task.state == "failed" and not task.fault


def test_old_answers_are_cleared(job):
    done, stopped, waits = (waiting(job, to=n) for n in (5, 6, 7))
    for task, state, age in (
        (done, "done", running.KEPT),
        (stopped, "stopped", running.KEPT_UNSEEN),
    ):
        ended = timezone.now() - age * 1.01
        BackgroundTask.objects.filter(pk=task.pk).update(state=state, ended_at=ended)
    assert running.clear() == 2 and BackgroundTask.objects.get() == waits


# many of them --------------------------------------------------------------------------------------


def test_a_later_question_about_the_same_item_takes_the_place_of_the_earlier(job):
    first, other = waiting(job, part="a"), waiting(job, part="b")
    later = waiting(job, part="a", to=6)
    states = dict(BackgroundTask.objects.values_list("pk", "state"))
    assert states == {first.pk: "stopped", other.pk: "waiting", later.pk: "waiting"}
    again = waiting(job, part="a")  # and back: the one that was stopped is not what is shown
    assert again.pk != first.pk and again.state == "waiting"


def test_an_account_has_so_many_and_is_told_so_beyond(job, page, monkeypatch):
    for number in range(asking.MOST_WAITING):
        waiting(job, part=str(number))
    monkeypatch.setattr(asking, "HERE", 0.0)
    for name in ("balance", "metal"):
        assert "long calculations of this account are waiting" in page(name, 429)
    assert BackgroundTask.objects.count() == asking.MOST_WAITING
    asking.stop(BackgroundTask.objects.first())
    assert 'id="progress"' in page("balance")


def test_nobody_sees_stops_or_begins_anothers(job, page, django_user_model):
    task = waiting(job)
    client = Client()
    client.force_login(django_user_model.objects.create_user("b@example.org", "quite-long-secret"))
    for name, method in (("progress", client.get), ("stop", client.post), ("again", client.post)):
        address = reverse(f"background:{name}", args=[task.pk])
        assert method(address).status_code == 404
        assert getattr(Client(), method.__name__)(address).status_code == 302
    task.refresh_from_db()
    assert task.state == "waiting"


# pages --------------------------------------------------------------------------------------------


def test_the_page_shows_what_there_is_and_then_what_it_came_to(job, page, monkeypatch):
    monkeypatch.setattr(asking, "HERE", 0.0)
    monkeypatch.setattr(asking, "ALONE", 0.0)
    assert (
        "The calculation service is not running: this is the result of a short calculation."
        in page("balance")
    )
    assert "too long to be done without it" in page("metal")
    hear_of_a_worker()
    shown = page("balance", objective="heaviest")
    assert "Waiting to start." in shown and "Order of work" not in shown
    task = BackgroundTask.objects.get()
    progress = page.client.get(reverse("background:progress", args=[task.pk]))
    assert "HX-Trigger" not in progress and "every 500ms" in progress.content.decode()
    running.perform(str(task.pk))
    ended = page.client.get(reverse("background:progress", args=[task.pk]))
    assert ended["HX-Trigger"] == "ended" and "every" not in ended.content.decode()
    shown = page("balance", objective="heaviest")
    assert "Order of work" in shown and 'id="progress"' not in shown


def test_a_search_that_is_stopped_shows_its_best_and_can_be_begun_anew(job, page, monkeypatch):
    monkeypatch.setattr(asking, "HERE", 0.0)
    hear_of_a_worker()
    page("balance")
    task = BackgroundTask.objects.get()
    page.client.post(reverse("background:stop", args=[task.pk]))
    shown = page("balance")
    assert "Stopped: this is the best result found so far." in shown
    again = page.client.post(
        reverse("background:again", args=[task.pk]), {"next": "https://elsewhere.example/"}
    )
    assert again.url == reverse("jobs:list")
    assert "Waiting to start." in page("balance")


def test_a_longer_search_begins_with_what_the_usual_one_has_found(page):
    page("balance", objective="deviation")
    usual = BackgroundTask.objects.get()
    assert usual.state == "done"
    hear_of_a_worker()
    shown = page("balance", objective="deviation", seconds="30")
    longer = BackgroundTask.objects.exclude(pk=usual.pk).get()
    assert longer.state == "waiting" and longer.result == usual.result
    assert longer.question["seconds"] == 30 and 'id="progress"' in shown


def test_words_of_a_progress():
    words = work_of("balance").words
    told = {"share": 0.2, "best": 4.26, "bound": 3.0, "unit": "%", "moves": 0}
    assert words(told) == "Best so far 4.3 %; no assignment is below 3 %."
    assert "2 moves" in words({**told, "moves": 2})
    assert work_of("conductors").words({"share": 0.1}) != work_of("conductors").words(
        {"share": 0.9}
    )


# the worker ---------------------------------------------------------------------------------------

WORKER = """
import asyncio, time, django
django.setup()
from voltaje.web.background import queue
from voltaje.web.background.work import Answered, LongWork, register
def slow(asked):
    while asked.effort.left and asked.question["part"] != "quick":
        asked.effort.spend(0.01); asked.progress({"share": 0.0}, None); time.sleep(0.01)
    return Answered({"at": asked.effort.share})
register(LongWork("count", slow, lambda q: float(q["for"]), str))
queue.STALLED, queue.HEARTBEAT, queue.LOOK_AFTER = 1.5, 0.3, 0.3
asyncio.run(queue.serve())
"""


def begun():
    """A worker in a process of its own, on the test's database."""
    at = connection.settings_dict
    address = f"postgres://{at['USER']}:{at['PASSWORD']}@{at['HOST']}:{at['PORT']}/{at['NAME']}"
    settings = {**os.environ, "VOLTAJE_DATABASE_URL": address}
    settings["PYTHONPATH"] = str(Path(asking.__file__).parents[3])
    return subprocess.Popen([sys.executable, "-c", WORKER], env=settings)


def until(true, seconds=20):
    end = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < end
        time.sleep(0.1)


def state(task):
    return BackgroundTask.objects.get(pk=task.pk).state


@pytest.mark.django_db(transaction=True)
def test_a_worker_stops_when_asked_and_another_goes_on_when_it_was_killed(job):
    workers = [begun()]
    try:
        until(lambda: asking.workers() == 1)
        stopped = asking.ask(COUNT, job, {"to": 5, "for": 60, "part": "slow"})
        until(lambda: state(stopped) == "running")
        began = time.monotonic()
        asking.stop(stopped)
        until(lambda: state(stopped) == "stopped")
        assert time.monotonic() - began < 1.5
        killed = asking.ask(COUNT, job, {"to": 5, "for": 2, "part": "slow"})
        behind = asking.ask(COUNT, job, {"to": 5, "for": 2, "part": "quick"})
        until(lambda: state(killed) == "running")
        workers[0].send_signal(signal.SIGKILL)
        workers.append(begun())
        until(lambda: state(killed) == "done" and state(behind) == "done")
        killed.refresh_from_db()
        assert (killed.attempts, killed.result) == (2, {"at": 1.0})
        # one that is asked to end gives back what it is at, and leaves
        given = asking.ask(COUNT, job, {"to": 5, "for": 60, "part": "slow"})
        assert given.pk == stopped.pk  # the same question: it was stopped
        asking.forget(given)
        given = asking.ask(COUNT, job, {"to": 5, "for": 60, "part": "slow"})
        until(lambda: state(given) == "running")
        workers[1].send_signal(signal.SIGTERM)
        assert workers[1].wait(20) == 0
        assert state(given) == "waiting"
    finally:
        for worker in workers:
            worker.kill()
            worker.wait()


# a file of an account ------------------------------------------------------------------------------


@pytest.fixture
def backup(job, page):
    """A backup of the account, larger than a page reads by itself."""
    content = b"".join(page.client.get(reverse("accounts:export")).streaming_content)
    return content + b" " * asking.SMALL


def sent(page, content):
    file = io.BytesIO(content)
    file.name = "backup.json"
    return page.client.post(reverse("accounts:import"), {"file": file})


def test_a_large_backup_is_brought_back_by_a_worker_once(job, page, backup):
    hear_of_a_worker()
    first, again = sent(page, backup), sent(page, backup)
    task = BackgroundTask.objects.get()
    assert first.url == again.url == f"{reverse('accounts:import')}?task={task.pk}"
    assert "Waiting to start." in page.client.get(first.url).content.decode()
    assert Job.objects.count() == 1
    running.perform(str(task.pk))
    running.perform(str(task.pk))
    assert "1 job imported." in page.client.get(first.url).content.decode()
    assert Job.objects.filter(owner=job.owner).count() == 2
    assert not Attachment.objects.exists()


def test_without_a_worker_it_is_brought_back_in_place(job, page, backup):
    assert sent(page, backup).url == reverse("jobs:list")
    assert Job.objects.count() == 2


def test_one_that_cannot_be_read_says_so_when_the_worker_has_read_it(job, page, backup):
    hear_of_a_worker()
    for bad, why in ((b"{" + backup, "not JSON"), (b"[]" + b" " * 200_000, "")):
        answer = sent(page, bad)
        running.perform(str(BackgroundTask.objects.order_by("-created_at").first().pk))
        shown = page.client.get(answer.url)
        assert shown.status_code == 200 and why in shown.content.decode()
        assert "Nothing was taken from it." in shown.content.decode()
    assert Job.objects.count() == 1


@pytest.mark.parametrize("how", ["stopped", "ending", "begun again elsewhere"])
def test_one_that_is_stopped_leaves_nothing(job, page, backup, monkeypatch, how):
    hear_of_a_worker()
    sent(page, backup)
    task = BackgroundTask.objects.get()
    bring = archive.bring
    ended = []

    def bring_and_stop(*args):
        found = bring(*args)
        ended.append(True)
        if how == "stopped":
            BackgroundTask.objects.update(stop_asked=True)
            monkeypatch.setattr(running, "LOOK_EVERY", 0.0)
            args[-1](1.0)
        if how == "begun again elsewhere":
            BackgroundTask.objects.update(attempts=2)
        return found

    monkeypatch.setattr(archive, "bring", bring_and_stop)
    if how != "ending":
        running.perform(str(task.pk))
    else:
        with pytest.raises(running.EndingError):
            running.perform(str(task.pk), lambda: bool(ended))
    task.refresh_from_db()
    # what stands for the other worker here is taken back with the rest
    assert task.state == ("waiting" if how == "ending" else "stopped")
    assert Job.objects.count() == 1 and Attachment.objects.exists()


def test_nobody_sees_anothers_file(job, page, backup, django_user_model):
    hear_of_a_worker()
    address = sent(page, backup).url
    client = Client()
    client.force_login(django_user_model.objects.create_user("b@example.org", "quite-long-secret"))
    assert client.get(address).status_code == 404
