"""Backups: the database and what is needed to run it again, in one file, encrypted where there is a
key; brought back into a second database, and compared with the first answer by answer."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import subprocess
import sys
import tarfile
from collections.abc import Iterator, Mapping
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from urllib.parse import quote

from django.conf import settings
from django.db import connection
from django.db.migrations.recorder import MigrationRecorder
from django.utils import timezone

from voltaje.core.report import to_json
from voltaje.web.jobs import digest
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import work_job

MANIFEST, DUMP, SECRET = "manifest.json", "voltaje.dump", "secret-key"
KEPT_LAST, KEPT_DAILY, KEPT_WEEKLY = 3, 14, 8  # no code figures: how many are kept


class BackupError(Exception):
    """A backup could not be made or brought back; ``str()`` says why."""


def make(directory: Path) -> Path:
    """A backup of the database that the settings name; its file. Raises :class:`BackupError`."""
    directory.mkdir(parents=True, exist_ok=True, mode=0o700)
    name = f"voltaje-{timezone.now():%Y%m%d-%H%M%S}.tar"
    key = _key_file()
    with TemporaryDirectory(dir=directory, prefix=".making-") as made:
        inside = Path(made)
        _run("pg_dump", "--format=custom", "--no-owner", f"--file={inside / DUMP}", _database())
        (inside / MANIFEST).write_text(json.dumps(_manifest(bool(key)), indent=1))
        if key:  # it is read only with the key, so what signs and hides may lie in it
            (inside / SECRET).write_text(settings.SECRET_KEY)
        packed = inside / name
        with tarfile.open(packed, "w") as tar:
            for part in (MANIFEST, DUMP, SECRET):
                if (inside / part).exists():
                    tar.add(inside / part, part)
        if key:
            locked = packed.with_name(f"{name}.gpg")
            _gpg(key, "--symmetric", "--cipher-algo=AES256", f"--output={locked}", str(packed))
            packed = locked
        packed.chmod(0o600)
        file = directory / packed.name
        packed.replace(file)
    return file


def thin(directory: Path) -> list[Path]:
    """Takes out old ones: the last :data:`KEPT_LAST` stay, of each day the last, of each week
    the last, so many as the constants say. What was taken out."""
    files = sorted(directory.glob("voltaje-*.tar*"), reverse=True)
    keep = set(files[:KEPT_LAST])
    for form, most in (("%Y%m%d", KEPT_DAILY), ("%G-%V", KEPT_WEEKLY)):
        seen: dict[str, Path] = {}
        for file in files:
            made = datetime.strptime(file.name[8:23], "%Y%m%d-%H%M%S")
            seen.setdefault(made.strftime(form), file)
        keep |= set(list(seen.values())[:most])
    gone = [file for file in files if file not in keep]
    for file in gone:
        file.unlink()
    return gone


def restore(file: Path, name: str) -> dict[str, Any]:
    """Brings a backup back into a new database of that name beside the one that the settings name;
    its manifest. Raises :class:`BackupError`."""
    with TemporaryDirectory(dir=file.parent, prefix=".restoring-") as made:
        inside = Path(made)
        packed = file
        if file.suffix == ".gpg":
            key = _key_file()
            if not key:
                raise BackupError("It is encrypted: set VOLTAJE_BACKUP_KEY_FILE.")
            packed = inside / "open.tar"
            _gpg(key, "--decrypt", f"--output={packed}", str(file))
        try:
            with tarfile.open(packed) as tar:
                tar.extractall(inside, filter="data")
            manifest: dict[str, Any] = json.loads((inside / MANIFEST).read_text())
        except (tarfile.TarError, OSError, ValueError) as error:
            raise BackupError(f"{file.name} is no backup of this program: {error}") from error
        _run("createdb", f"--maintenance-db={_database()}", name)
        _run("pg_restore", "--no-owner", "--exit-on-error", f"--dbname={_database(name)}",
             str(inside / DUMP))  # fmt: skip
    return manifest


def drop(name: str) -> None:
    """Drops a database that was brought back. Raises :class:`BackupError`."""
    _run("dropdb", f"--maintenance-db={_database()}", name)


def answers() -> Iterator[dict[str, Any]]:
    """Every item of every job, with a mark of all that its sheet answers; one job at a time."""
    for job in Job.objects.order_by("pk").iterator(chunk_size=50):
        found = work_job(job)
        items = {}
        for part in job.loaded():
            report = found[str(part.pk)].report
            told = to_json(report) if report is not None else "no result"
            text = json.dumps(
                [part.name, part.kind, part.entries, told], sort_keys=True, default=str
            )
            items[str(part.pk)] = hashlib.sha256(text.encode()).hexdigest()[:16]
        yield {"job": str(job.pk), "revision": job.revision, "items": items}


def answers_of(name: str) -> dict[str, dict[str, Any]]:
    """The answers of the database of that name, by job, asked of a process of its own."""
    told = subprocess.run(
        [sys.executable, "-m", "django", "answers"],
        env={**os.environ, "VOLTAJE_DATABASE_URL": _database(name)},
        check=True,
        stdout=subprocess.PIPE,
    ).stdout
    lines = (json.loads(line) for line in told.splitlines())
    return {line["job"]: line for line in lines}


def compared(mine: Mapping[str, Any], other: Mapping[str, Any]) -> dict[str, int]:
    """How many items answer the same on both sides, how many differently at the same revision, and
    how many jobs were changed, made or deleted since."""
    found = {"same": 0, "different": 0, "changed": 0}
    for key in mine.keys() | other.keys():
        one, two = mine.get(key), other.get(key)
        if one is None or two is None or one["revision"] != two["revision"]:
            found["changed"] += 1
            continue
        for item in one["items"].keys() | two["items"].keys():
            same = one["items"].get(item) == two["items"].get(item)
            found["same" if same else "different"] += 1
    return found


def _manifest(locked: bool) -> dict[str, Any]:
    secret = (
        f"in this file, as {SECRET}"
        if locked
        else "not in this file: keep VOLTAJE_SECRET_KEY apart; without it all have to sign in anew"
        " and links in letters end"
    )
    return {
        "made": timezone.now().isoformat(timespec="seconds"),
        "program": digest.program(),
        "migrations": sorted(
            ".".join(one) for one in MigrationRecorder(connection).applied_migrations()
        ),
        "jobs": Job.objects.count(),
        "secret key": secret,
    }


def _key_file() -> str:
    return str(settings.BACKUP_KEY_FILE)


def _database(name: str = "") -> str:
    """The address of the database, or of another one on the same server."""
    at = settings.DATABASES["default"]
    user, password = quote(at["USER"]), quote(at["PASSWORD"])
    host = f"{at['HOST']}:{at['PORT']}" if at["PORT"] else at["HOST"]
    return f"postgres://{user}:{password}@{host}/{quote(name or at['NAME'])}"


def _gpg(key: str, *arguments: str) -> None:
    with TemporaryDirectory() as home:
        _run("gpg", f"--homedir={home}", "--batch", "--yes", "--quiet", "--no-tty",
             "--pinentry-mode=loopback", f"--passphrase-file={key}", *arguments)  # fmt: skip


def _run(program: str, *arguments: str) -> None:
    """Runs a program of the system. Raises :class:`BackupError` with what it said."""
    path = shutil.which(program)
    if path is None:
        raise BackupError(f"{program} is missing: install postgresql-client and gnupg.")
    ended = subprocess.run([path, *arguments], capture_output=True, text=True)  # noqa: S603
    if ended.returncode:
        said = ended.stderr.strip().splitlines()
        # an address holds the password
        words = [line for line in said if "postgres://" not in line] or ["no reason told"]
        raise BackupError(f"{program}: {words[-1]}")
