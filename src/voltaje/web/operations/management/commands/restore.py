"""Brings a backup back into a second database and compares it with the first answer by answer; ends
with 1 where an answer differs. The database in use is not touched."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from voltaje.web.operations import backups


class Command(BaseCommand):
    """``restore FILE [--name voltaje_restored] [--drop]``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """The file, the database to be made of it, and whether it is dropped afterwards."""
        parser.add_argument("file")
        parser.add_argument("--name", default="voltaje_restored")
        parser.add_argument("--drop", action="store_true")

    def handle(self, *args: Any, file: str, name: str, drop: bool, **options: Any) -> None:
        """Brings it back, compares, and says what to do next."""
        if not Path(file).is_file():
            raise CommandError(f"There is no file {file}.")
        try:
            manifest = backups.restore(Path(file), name)
        except backups.BackupError as error:
            raise CommandError(str(error)) from error
        try:
            self.stdout.write(f"made {manifest['made']}, {manifest['jobs']} jobs; in {name} now")
            self.stdout.write(f"secret key: {manifest['secret key']}")
            found = backups.compared(backups.answers_of(""), backups.answers_of(name))
        finally:
            if drop:
                backups.drop(name)
        self.stdout.write(
            f"{found['same']} items answer the same, {found['different']} differently;"
            f" {found['changed']} jobs were changed, made or deleted since"
        )
        if found["different"]:
            raise CommandError("Answers differ: it is not what was kept, or another release runs.")
        if not drop:
            self.stdout.write(f"To use it, point VOLTAJE_DATABASE_URL at {name} and start again.")
