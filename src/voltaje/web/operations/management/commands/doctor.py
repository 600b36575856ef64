"""Says what is wrong with this server, and what mends it; ends with 1 where anything is."""

from __future__ import annotations

import sys
from typing import Any

from django.core.management.base import BaseCommand

from voltaje.web.operations.doctor import examine


class Command(BaseCommand):
    """``doctor``."""

    help = __doc__
    requires_system_checks: list[Any] = []

    def handle(self, *args: Any, **options: Any) -> None:
        """A line for each thing that was looked at."""
        wrong = 0
        for line in examine():
            wrong += line.state == "wrong"
            self.stdout.write(f"{line.state:<6} {line.what}: {line.found}")
            if line.mend:
                self.stdout.write(f"       to mend: {line.mend}")
        if wrong:
            self.stdout.write(f"{wrong} wrong")
            sys.exit(1)
