"""Writes a line of JSON for each job: its revision and a mark of every item's answers. Two
databases that hold the same write the same."""

from __future__ import annotations

import json
from typing import Any

from django.core.management.base import BaseCommand

from voltaje.web.operations.backups import answers


class Command(BaseCommand):
    """``answers``."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Writes them."""
        for line in answers():
            self.stdout.write(json.dumps(line, sort_keys=True))
