"""Brings database and static files up to date in one process; with --demo loads the demo too."""

from __future__ import annotations

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser


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
        call_command("collectstatic", interactive=False, verbosity=0)
