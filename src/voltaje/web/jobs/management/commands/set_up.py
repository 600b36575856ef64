"""Brings database and static files up to date in one process; with --demo loads the demo too."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.staticfiles.finders import get_finders
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

# shipped by packages for pages that are not served here
UNUSED = ["rest_framework", "django_htmx"]


def collect_static() -> bool:
    """Collects and compresses static files if any changed since; tells whether it did."""
    digest = hashlib.sha256()
    for finder in get_finders():
        for name, storage in finder.list(UNUSED):
            found = Path(storage.path(name)).stat()
            digest.update(f"{name} {found.st_size} {found.st_mtime_ns}".encode())
    stamp = Path(settings.STATIC_ROOT) / "collected.sha256"
    if stamp.is_file() and stamp.read_text() == digest.hexdigest():
        return False
    call_command(
        "collectstatic", interactive=False, verbosity=0, clear=True, ignore_patterns=UNUSED
    )
    stamp.write_text(digest.hexdigest())
    return True


class Command(BaseCommand):
    """``set_up [--demo]``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """``--demo``."""
        parser.add_argument("--demo", action="store_true")

    def handle(self, *args: Any, demo: bool, **options: Any) -> None:
        """Migrates, loads the demo, collects static files."""
        call_command("migrate", interactive=False, verbosity=0)
        if demo:
            call_command("load_demo", verbosity=0)
        collect_static()
