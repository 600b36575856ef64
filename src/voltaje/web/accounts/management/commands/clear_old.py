"""Clears what is over: sessions, tokens, sign-in records, tries, tabs, readings taken out, demo
copies, accounts that were never begun. For a timer, once an hour or a day; see README."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from axes.models import AccessAttempt, AccessLog
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.utils import timezone
from knox.models import AuthToken

from voltaje.web.accounts.models import Attempt, Event, User
from voltaje.web.background import running
from voltaje.web.jobs import demo_copies
from voltaje.web.jobs.models import Reading, Turn

MONTH = timedelta(days=30)
DAY = timedelta(days=1)
YEAR = timedelta(days=365)


class Command(BaseCommand):
    """``clear_old``."""

    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Clears, and says how much."""
        now = timezone.now()
        call_command("clearsessions")
        old = {
            "tokens": AuthToken.objects.filter(expiry__lt=now),
            "sign-in records": AccessAttempt.objects.filter(attempt_time__lt=now - DAY),
            "sign-in log": AccessLog.objects.filter(attempt_time__lt=now - MONTH),
            "tries": Attempt.objects.filter(at__lt=now - DAY),
            "lines of accounts' logs": Event.objects.filter(at__lt=now - YEAR),
            "tabs": Turn.objects.filter(at__lt=now - MONTH),
            "readings taken out": Reading.every.filter(out_at__lt=now - MONTH),
            "accounts never begun": User.objects.filter(
                is_active=False, last_login=None, date_joined__lt=now - DAY
            ),
        }
        found = {name: query.delete()[0] for name, query in old.items()}
        found["background tasks"] = running.clear()
        found["demo copies"] = demo_copies.clear(1000)
        self.stdout.write(", ".join(f"{count} {name}" for name, count in found.items()))
