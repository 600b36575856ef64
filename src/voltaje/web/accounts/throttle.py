"""How often an address may try things that guess or flood. Counted in the database, so that all
processes count together."""

from __future__ import annotations

import hashlib
from datetime import timedelta

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from voltaje.web.accounts.address import client_address
from voltaje.web.accounts.models import Attempt

# what: (how often, within how many minutes)
LIMITS = {
    "sign-in": (60, 15),
    "sign-up": (10, 60),
    "letter": (10, 60),
    "letter to": (3, 60),
    "demo": (30, 60),
    "paper": (120, 15),  # a class behind one address joins at once
}


def username(request: HttpRequest | None, credentials: dict[str, str] | None = None) -> str:
    """The name that the sign-in throttle counts under: letter case is not another name."""
    given = (credentials or {}).get("username") or (request.POST.get("username") if request else "")
    return str(given or "").strip().casefold()[:254]


def within(what: str, key: str) -> bool:
    """Counts one try. Whether it is within the limit."""
    most, minutes = LIMITS[what]
    most *= settings.TRIES_FACTOR
    # addresses are counted without being kept
    key = hashlib.sha256(key.strip().casefold().encode()).hexdigest()[:40]
    since = timezone.now() - timedelta(minutes=minutes)
    with transaction.atomic():
        Attempt.objects.create(what=what, key=key)
        tries = Attempt.objects.filter(what=what, key=key, at__gt=since).count()
        return bool(tries <= most)


def from_here(request: HttpRequest, what: str) -> bool:
    """The same for the address that a request comes from."""
    return within(what, client_address(request))


def too_many(request: HttpRequest) -> HttpResponse:
    """What is answered beyond the limit."""
    return render(request, "accounts/locked.html", status=429)
