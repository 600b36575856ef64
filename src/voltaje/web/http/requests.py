"""A request as the views get it: what the middleware puts on it, with types."""

from __future__ import annotations

from django.http import HttpRequest
from django_htmx.middleware import HtmxDetails

from voltaje.web.accounts.models import User


class Request(HttpRequest):
    """``htmx`` says whether htmx asks, and for which part of a page; ``user`` is signed in (the
    views that take it ask for that); ``saved`` is set by a view that has saved a whole form."""

    htmx: HtmxDetails
    user: User
    saved: bool
