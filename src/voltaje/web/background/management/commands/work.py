"""A worker: does what takes longer than a page may, until it is asked to end."""

from __future__ import annotations

import asyncio
import gc
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from voltaje.web.background import queue
from voltaje.web.wsgi import THRESHOLDS


class Command(BaseCommand):
    """``work [--once]``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """``--once``: ends when nothing is left to do."""
        parser.add_argument("--once", action="store_true")

    def handle(self, *args: Any, once: bool, **options: Any) -> None:
        """Works."""
        gc.set_threshold(*THRESHOLDS)
        asyncio.run(queue.serve(wait=not once))
