"""An account's own log."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.signals import user_logged_in, user_logged_out, user_login_failed
from django.dispatch import receiver
from django.utils.translation import gettext_noop

from voltaje.web.accounts.models import Event, User
from voltaje.web.accounts.throttle import username


def note(user: Any, what: str, detail: str = "") -> None:
    """Puts a line into the account's log."""
    Event.objects.create(user=user, what=what, detail=detail[:120])


@receiver(user_logged_in)
def _came(sender: Any, user: Any, **more: Any) -> None:
    note(user, gettext_noop("signed in"))


@receiver(user_logged_out)
def _went(sender: Any, user: Any, **more: Any) -> None:
    if user is not None:
        note(user, gettext_noop("signed out"))


@receiver(user_login_failed)
def _failed(sender: Any, credentials: dict[str, str], request: Any = None, **more: Any) -> None:
    user = User.objects.filter(email__iexact=username(request, credentials)).first()
    if user is not None:
        note(user, gettext_noop("wrong password"))
