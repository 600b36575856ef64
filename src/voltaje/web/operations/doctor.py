"""What is wrong with a server, in words, with what mends it."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path
from typing import Literal

from django.conf import settings
from django.core import mail
from django.core.checks import run_checks
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.utils import timezone

from voltaje.web.background.asking import workers
from voltaje.web.background.models import BackgroundTask
from voltaje.web.operations.metrics import backup_age

State = Literal["good", "look", "wrong"]
OLD_BACKUP = timedelta(hours=26)  # no code figure: one a day, and a little
LONG_WAIT = timedelta(minutes=2)  # no code figure
CLOCKS = 2.0  # no code figure: s that clocks may differ
FREE = 0.1  # no code figure: the share of a disk that is to be free
LEAST_POSTGRES = 140_000  # no code figure: what Django 5.2 runs on


@dataclass(frozen=True, slots=True)
class Line:
    """One thing that was looked at: its state, what was found, what mends it."""

    what: str
    state: State
    found: str
    mend: str = ""


def examine() -> Iterator[Line]:
    """Everything, one after the other. A look that fails says so and the rest goes on."""
    looks: tuple[Callable[[], Iterator[Line]], ...] = (
        _settings,
        _proxies,
        _database,
        _queue,
        _static,
        _disk,
        _backups,
        _mail,
        _own_checks,
    )
    for look in looks:
        try:
            yield from look()
        except DatabaseError as error:
            yield Line(look.__name__.strip("_"), "wrong", f"the database: {error}".strip())


def _settings() -> Iterator[Line]:
    for what, name, why in (
        ("debugging", "DEBUG", "pages of faults show the program's inside: VOLTAJE_DEBUG=no"),
        ("demo", "DEMO", "anyone opens a job without an account: VOLTAJE_DEMO=no"),
        (
            "plain HTTP",
            "INSECURE_LOOPBACK",
            "cookies go over it, too: unset VOLTAJE_INSECURE_LOOPBACK",
        ),
    ):
        on = bool(getattr(settings, name))
        yield Line(what, "wrong" if on else "good", "on" if on else "off", why if on else "")
    few = len(set(settings.SECRET_KEY)) < 16  # no code figure: different signs
    yield Line(
        "secret key",
        "wrong" if few else "good",
        "too regular" if few else "set",
        "VOLTAJE_SECRET_KEY: 48 random bytes, like `openssl rand -base64 48`" if few else "",
    )
    hosts = settings.ALLOWED_HOSTS
    open_ = not hosts or "*" in hosts
    yield Line(
        "host names",
        "wrong" if open_ else "good",
        ", ".join(hosts) or "none",
        "VOLTAJE_ALLOWED_HOSTS: the names that are served" if open_ else "",
    )


def _proxies() -> Iterator[Line]:
    if settings.TRUSTED_PROXIES:
        yield Line("proxies", "good", f"{settings.TRUSTED_PROXIES} of the operator's own")
    else:
        yield Line(
            "proxies",
            "look",
            "none trusted: the peer counts as the client, and TLS ends here",
            "behind nginx: VOLTAJE_TRUSTED_PROXIES=1",
        )
    if settings.CSRF_TRUSTED_ORIGINS:
        yield Line("origins", "good", ", ".join(settings.CSRF_TRUSTED_ORIGINS))


def _database() -> Iterator[Line]:
    with connection.cursor() as cursor:
        cursor.execute(
            "select now(), current_setting('fsync'), current_setting('full_page_writes')"
        )
        now, fsync, pages = cursor.fetchone()
    version = int(connection.cursor().connection.info.server_version)
    old = version < LEAST_POSTGRES
    yield Line("database", "wrong" if old else "good", f"PostgreSQL {version // 10_000}")
    apart = abs((timezone.now() - now).total_seconds())
    yield Line(
        "clock",
        "wrong" if apart > CLOCKS else "good",
        f"{apart:.1f} s from the database's",
        "keep the time by NTP on both machines" if apart > CLOCKS else "",
    )
    unsafe = "off" in (fsync, pages)
    yield Line(
        "durability",
        "wrong" if unsafe else "good",
        "a power cut loses what was saved" if unsafe else "what was saved stays",
        "fsync and full_page_writes on, in postgresql.conf" if unsafe else "",
    )
    executor = MigrationExecutor(connection)
    plan = executor.migration_plan(executor.loader.graph.leaf_nodes())
    yield Line(
        "tables",
        "wrong" if plan else "good",
        f"{len(plan)} migrations behind" if plan else "up to date",
        "python -m django set_up" if plan else "",
    )


def _queue() -> Iterator[Line]:
    alive = workers()
    yield Line(
        "workers",
        "good" if alive else "wrong",
        str(alive),
        "" if alive else "python -m django work; systemctl start voltaje-worker@1",
    )
    late = BackgroundTask.objects.filter(
        state="waiting", created_at__lt=timezone.now() - LONG_WAIT
    ).count()
    yield Line(
        "queue",
        "look" if late else "good",
        f"{late} wait longer than two minutes" if late else "nothing waits long",
        "one more worker: voltaje-worker@2" if late else "",
    )


def _static() -> Iterator[Line]:
    there = (Path(settings.STATIC_ROOT) / "collected.sha256").is_file()
    yield Line(
        "static files",
        "good" if there else "wrong",
        "collected" if there else "not collected",
        "" if there else "python -m django set_up",
    )


def _disk() -> Iterator[Line]:
    places = {"disk": Path(settings.STATIC_ROOT)}
    if settings.BACKUP_DIR:
        places["disk of backups"] = Path(settings.BACKUP_DIR)
    for what, path in places.items():
        while not path.exists():
            path = path.parent
        usage = shutil.disk_usage(path)
        share = usage.free / usage.total
        yield Line(
            what,
            "look" if share < FREE else "good",
            f"{usage.free / 1e9:.1f} GB free, {100 * share:.0f} %",
            "make room before it is full" if share < FREE else "",
        )


def _backups() -> Iterator[Line]:
    if not settings.BACKUP_DIR:
        yield Line(
            "backup", "wrong", "none is set up", "VOLTAJE_BACKUP_DIR and voltaje-backup.timer"
        )
        return
    age = backup_age()
    late = age is None or age > OLD_BACKUP.total_seconds()
    yield Line(
        "backup",
        "wrong" if late else "good",
        "none yet" if age is None else f"the last one is {age / 3600:.1f} h old",
        "systemctl status voltaje-backup" if late else "",
    )
    key = bool(settings.BACKUP_KEY_FILE)
    yield Line(
        "encryption of backups",
        "good" if key else "look",
        "on" if key else "off: whoever has the file reads it",
        "" if key else "VOLTAJE_BACKUP_KEY_FILE: a file with a long passphrase",
    )


def _mail() -> Iterator[Line]:
    if not settings.EMAIL_SET_UP:
        yield Line("mail", "look", "not set up: no password can be reset", "VOLTAJE_EMAIL_URL")
        return
    try:
        sender = mail.get_connection(timeout=5)
        sender.open()
        sender.close()
    except OSError as error:
        yield Line("mail", "wrong", f"no connection: {error}", "VOLTAJE_EMAIL_URL")
    else:
        yield Line("mail", "good", "the server answers")


def _own_checks() -> Iterator[Line]:
    found = [one for one in run_checks(include_deployment_checks=True) if not one.is_silenced()]
    for one in found:
        words = str(one.msg).split(". ")[0].rstrip(".")
        yield Line(f"Django {one.id}", "wrong" if one.is_serious() else "look", words)
    if not found:
        yield Line("Django's own checks", "good", "nothing")
