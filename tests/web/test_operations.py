"""What an operator asks: what is wrong with a server, its figures, its state, backups that can be
brought back."""

import json
import os
import re
import shutil
import tarfile
import threading
from datetime import datetime, timedelta
from io import StringIO
from urllib.error import HTTPError
from urllib.request import urlopen

import psycopg
import pytest
from django.core.management import CommandError, call_command
from django.db import connection
from django.urls import reverse
from django.utils import timezone

from voltaje.web.background.models import BackgroundTask
from voltaje.web.jobs import worked
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Job
from voltaje.web.operations import backups, doctor, metrics
from voltaje.web.operations import state as state_server

pytestmark = pytest.mark.django_db


@pytest.fixture
def job(django_user_model):
    user = django_user_model.objects.create_user("a@example.org", "quite-long-secret")
    made = create_job(user, "Yard", "nec-2020", "us", system="3ph-208Y/120", begins="board")
    board = str(made.parts.get(kind="board").pk)
    add_part(made, user, "circuit", board, "Saw", {"load": "1.5 kW", "length": "80 ft"})
    return Job.objects.get(pk=made.pk)


def heard(ago=0):
    with connection.cursor() as cursor:
        at = timezone.now() - timedelta(seconds=ago)
        cursor.execute("insert into procrastinate_workers (last_heartbeat) values (%s)", [at])


# the doctor ----------------------------------------------------------------------------------------


@pytest.fixture
def well(settings, tmp_path):
    """Settings with nothing wrong in them."""
    settings.DEBUG = settings.DEMO = settings.INSECURE_LOOPBACK = False
    settings.SECRET_KEY = "pR4kVz0sQe7YtLw2mXb9uNc5aJh1Gd6fKo3iEx8q"
    settings.ALLOWED_HOSTS = ["voltaje.example"]
    settings.TRUSTED_PROXIES = 1
    settings.STATIC_ROOT = str(tmp_path)
    (tmp_path / "collected.sha256").touch()
    settings.BACKUP_DIR = str(tmp_path)
    settings.BACKUP_KEY_FILE = "/etc/key"
    (tmp_path / "voltaje-20261201-020000.tar.gpg").touch()
    heard()
    return settings


def looked_at():
    return {line.what: line for line in doctor.examine()}


def test_nothing_is_wrong_with_a_server_as_it_should_be(well):
    found = looked_at()
    ours = {what: line.state for what, line in found.items() if not what.startswith("Django")}
    assert set(ours.values()) - {"good"} == {"look"} and ours["mail"] == "look"
    assert all(line.mend for line in found.values() if line.state != "good" and line.what in ours)


@pytest.mark.parametrize(
    ("what", "state", "name", "value"),
    [
        ("debugging", "wrong", "DEBUG", True),
        ("demo", "wrong", "DEMO", True),
        ("plain HTTP", "wrong", "INSECURE_LOOPBACK", True),
        ("secret key", "wrong", "SECRET_KEY", "a" * 50),
        ("host names", "wrong", "ALLOWED_HOSTS", ["*"]),
        ("host names", "wrong", "ALLOWED_HOSTS", []),
        ("proxies", "look", "TRUSTED_PROXIES", 0),
        ("static files", "wrong", "STATIC_ROOT", "/nowhere"),
        ("backup", "wrong", "BACKUP_DIR", ""),
        ("backup", "wrong", "BACKUP_DIR", "/nowhere"),
        ("encryption of backups", "look", "BACKUP_KEY_FILE", ""),
    ],
)
def test_each_thing_that_is_wrong_is_told_with_what_mends_it(well, what, state, name, value):
    setattr(well, name, value)
    line = looked_at()[what]
    assert line.state == state and line.mend


def test_workers_that_were_not_heard_of_a_queue_that_waits_and_an_old_backup(well, job, tmp_path):
    with connection.cursor() as cursor:
        cursor.execute("delete from procrastinate_workers")
    heard(ago=120)
    task = BackgroundTask.objects.create(
        account=job.owner, job=job, revision=1, work="balance", question={}, key="k", language="en"
    )
    BackgroundTask.objects.filter(pk=task.pk).update(
        created_at=timezone.now() - timedelta(minutes=5)
    )
    old = (timezone.now() - timedelta(days=3)).timestamp()
    os.utime(tmp_path / "voltaje-20261201-020000.tar.gpg", (old, old))
    found = looked_at()
    assert [found[what].state for what in ("workers", "queue", "backup")] == [
        "wrong",
        "look",
        "wrong",
    ]
    assert "72.0 h" in found["backup"].found


def test_mail_that_cannot_be_reached(well):
    well.EMAIL_SET_UP = True
    well.EMAIL_BACKEND = "django.core.mail.backends.smtp.EmailBackend"
    well.EMAIL_HOST, well.EMAIL_PORT = "127.0.0.1", 1
    assert looked_at()["mail"].state == "wrong"


def test_the_command_ends_with_one_where_anything_is_wrong(well):
    told = StringIO()
    well.DEBUG = True
    with pytest.raises(SystemExit) as ended:
        call_command("doctor", stdout=told)
    assert ended.value.code == 1 and "wrong  debugging: on" in told.getvalue()


# figures and state ----------------------------------------------------------------------------------


def figures():
    lines = (line for line in metrics.written().decode().splitlines() if line[0] != "#")
    return {name: float(value) for name, value in (line.rsplit(" ", 1) for line in lines)}


def test_requests_and_the_queue_are_counted(client, job):
    before = figures()
    client.force_login(job.owner)
    page = reverse("jobs:job", args=[job.pk])
    assert client.get(page).status_code == 200 and client.get("/nothing/").status_code == 404
    heard()
    BackgroundTask.objects.create(
        account=job.owner, job=job, revision=1, work="balance", question={}, key="k", language="en"
    )
    after = figures()

    def more(name):
        return after[name] - before.get(name, 0.0)

    assert more('voltaje_request_seconds_count{route="jobs:job",status="200"}') == 1
    assert more('voltaje_request_seconds_count{route="",status="404"}') == 1
    assert more('voltaje_request_processor_seconds_total{route="jobs:job"}') > 0
    assert after['voltaje_tasks{state="waiting"}'] == 1 and after["voltaje_workers"] == 1
    assert after["voltaje_database_up"] == 1


def test_no_figure_holds_what_somebody_typed(client, job):
    client.force_login(job.owner)
    client.get(reverse("jobs:list"), {"q": "Secret quarry"})
    text = metrics.written().decode()
    assert "quarry" not in text and "example.org" not in text and str(job.pk) not in text


@pytest.fixture
def asked(monkeypatch):
    """``asked(path)``: status and body of the state's server; the database is this thread's."""
    monkeypatch.setattr(state_server, "close_old_connections", lambda: None)
    monkeypatch.setattr(state_server, "workers", lambda: 2)
    monkeypatch.setattr(metrics, "written", lambda: b"figures 1\n")
    with state_server.server("127.0.0.1", 0, "http://127.0.0.1:1") as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()

        def ask(path):
            try:
                with urlopen(f"http://127.0.0.1:{server.server_port}{path}") as answer:
                    return answer.status, answer.read().decode()
            except HTTPError as error:
                return error.code, error.read().decode()

        yield ask
        server.shutdown()


@pytest.mark.parametrize(
    ("database", "pages", "status"),
    [("good", "good", 200), ("behind", "good", 503), ("good", "no answer", 503)],
)
def test_the_state_is_served(asked, monkeypatch, database, pages, status):
    monkeypatch.setattr(state_server, "_database", lambda: database)
    monkeypatch.setattr(state_server, "_pages", lambda address: pages)
    assert asked("/live") == (200, '{"state": "alive"}')
    found, body = asked("/ready")
    assert found == status and json.loads(body)["pages"] == pages
    assert asked("/metrics") == (200, "figures 1\n")
    assert asked("/else")[0] == 404


def test_what_makes_it_ready_is_looked_at():
    assert state_server._database() == "good"
    assert state_server._pages("http://127.0.0.1:1") == "no answer"


def test_a_process_keeps_the_results_of_so_many_items(job, settings):
    worked._kept.clear()
    jobs = [job, *(create_job(job.owner, f"J{n}", "nec-2020", "us") for n in range(3))]
    first = worked.work_job(job)
    for one in jobs[1:]:
        worked.work_job(one)
    assert worked.work_job(job) is first
    settings.KEPT_ITEMS = len(jobs[1].loaded()) + len(job.loaded())
    worked.work_job(jobs[1])
    assert [key[0] for key in worked._kept] == [job.pk, jobs[1].pk]
    settings.KEPT_ITEMS = 1  # one that is larger than all is kept while it is worked on
    again = worked.work_job(job)
    assert again is first and list(worked._kept) == [(job.pk, "en", "")]


# backups -------------------------------------------------------------------------------------------


@pytest.fixture
def second():
    """The name of a second database, which is gone afterwards."""
    name = f"test_restored_{os.getpid()}"
    yield name
    with psycopg.connect(backups._database(), autocommit=True) as other:
        other.execute(f"drop database if exists {name}")


@pytest.mark.django_db(transaction=True)
def test_a_backup_is_brought_back_and_answers_the_same(job, settings, tmp_path, second):
    key = tmp_path / "key"
    key.write_text("a passphrase that is long enough\n")
    settings.BACKUP_KEY_FILE = str(key)
    told = StringIO()
    call_command("backup", str(tmp_path / "there"), stdout=told)
    (file,) = (tmp_path / "there").iterdir()
    assert file.suffix == ".gpg" and file.stat().st_mode & 0o077 == 0
    assert b"Saw" not in file.read_bytes() and str(file) in told.getvalue()
    call_command("restore", str(file), name=second, stdout=told)
    assert "4 items answer the same, 0 differently; 0 jobs" in told.getvalue()
    # one that differs is told, and so is one that was changed since
    mine = backups.answers_of("")
    with psycopg.connect(backups._database(second), autocommit=True) as other:
        other.execute("update jobs_part set entries = '{\"load\": \"1.4 kW\"}' where name = 'Saw'")
        theirs = backups.answers_of(second)
        # the circuit and what carries it
        found = backups.compared(mine, theirs)
        assert found["different"] >= 1 and found["same"] + found["different"] == 4
        other.execute("update jobs_job set revision = revision + 1")
        assert backups.compared(mine, backups.answers_of(second)) == {
            "same": 0, "different": 0, "changed": 1,
        }  # fmt: skip
    # without the key, or with another one
    settings.BACKUP_KEY_FILE = ""
    with pytest.raises(CommandError, match="VOLTAJE_BACKUP_KEY_FILE"):
        call_command("restore", str(file), name=second)
    settings.BACKUP_KEY_FILE = str(tmp_path / "other")
    (tmp_path / "other").write_text("another passphrase\n")
    with pytest.raises(CommandError, match="gpg"):
        call_command("restore", str(file), name=second)


@pytest.mark.django_db(transaction=True)
def test_without_a_key_the_secret_is_not_in_it(job, settings, tmp_path, second):
    settings.BACKUP_KEY_FILE = ""
    file = backups.make(tmp_path)
    with tarfile.open(file) as tar:
        assert sorted(tar.getnames()) == ["manifest.json", "voltaje.dump"]
        manifest = json.loads(tar.extractfile("manifest.json").read())
    assert manifest["jobs"] == 1 and manifest["secret key"].startswith("not in this file")
    assert settings.SECRET_KEY.encode() not in file.read_bytes()
    damaged = tmp_path / "damaged.tar"
    damaged.write_bytes(file.read_bytes()[:-4000][:2000])
    for bad in (damaged, tmp_path / "none.tar"):
        with pytest.raises(CommandError, match=r"no backup|no file"):
            call_command("restore", str(bad), name=second)


def test_what_stays_of_old_backups(tmp_path):
    began = datetime(2026, 9, 1, 2, 40)
    for hours in range(0, 24 * 90, 12):
        (tmp_path / f"voltaje-{began + timedelta(hours=hours):%Y%m%d-%H%M%S}.tar").touch()
    backups.thin(tmp_path)
    left = sorted(path.name for path in tmp_path.iterdir())
    days = {re.search(r"\d{8}", name)[0] for name in left}
    assert left[-1] == "voltaje-20261129-144000.tar" and len(left) <= 14 + 8 + 3
    assert {f"202611{day}" for day in range(16, 30)} <= days and min(days) >= "20261001"
    assert not backups.thin(tmp_path)


def test_a_program_that_is_missing_is_named(settings, tmp_path, monkeypatch):
    monkeypatch.setattr(shutil, "which", lambda name: None)
    with pytest.raises(CommandError, match="pg_dump is missing"):
        call_command("backup", str(tmp_path))
    with pytest.raises(CommandError, match="VOLTAJE_BACKUP_DIR"):
        call_command("backup", "")
