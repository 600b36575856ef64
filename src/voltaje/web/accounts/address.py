"""The address a request came from, for the sign-in throttle."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest


def client_address(request: HttpRequest) -> str:
    """The peer, or, behind the operator's own proxies, the address they saw."""
    peer = str(request.META.get("REMOTE_ADDR", ""))
    seen = [part.strip() for part in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",")]
    count: int = settings.TRUSTED_PROXIES
    return seen[-count] if count and len(seen) >= count and seen[-count] else peer
