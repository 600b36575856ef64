"""Serves the program's state to whoever watches it: /live, /ready and /metrics."""

from __future__ import annotations

from contextlib import suppress
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from voltaje.web.operations.state import server


class Command(BaseCommand):
    """``state [--host 127.0.0.1] [--port 9108] [--pages http://127.0.0.1:8000]``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """Where it is served, and where the pages are."""
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=9108)
        parser.add_argument("--pages", default="http://127.0.0.1:8000")

    def handle(self, *args: Any, host: str, port: int, pages: str, **options: Any) -> None:
        """Serves until it is asked to end."""
        try:
            serving = server(host, port, pages)
        except OSError as error:
            raise CommandError(f"{host}:{port}: {error.strerror}; --port takes another") from error
        with serving, suppress(KeyboardInterrupt):
            serving.serve_forever()
