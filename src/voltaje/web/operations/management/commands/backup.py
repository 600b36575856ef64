"""Makes a backup and takes out old ones; --check brings it back and compares it first."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser

from voltaje.web.operations import backups


class Command(BaseCommand):
    """``backup [DIRECTORY] [--check]``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """Where it goes; by default ``VOLTAJE_BACKUP_DIR``."""
        parser.add_argument("directory", nargs="?", default=settings.BACKUP_DIR)
        parser.add_argument("--check", action="store_true")

    def handle(self, *args: Any, directory: str, check: bool, **options: Any) -> None:
        """Makes it."""
        if not directory:
            raise CommandError("Where to? Give a directory, or set VOLTAJE_BACKUP_DIR.")
        try:
            file = backups.make(Path(directory))
        except (backups.BackupError, OSError) as error:
            raise CommandError(str(error)) from error
        size = file.stat().st_size / 1e6
        self.stdout.write(f"{file}: {size:.1f} MB")
        if file.suffix != ".gpg":
            self.stdout.write("not encrypted, and without the secret key: keep that apart")
        if check:
            call_command("restore", str(file), drop=True, stdout=self.stdout)
        for gone in backups.thin(Path(directory)):
            self.stdout.write(f"{gone.name}: taken out")
