"""What every page knows: the demo's state, sign-up, the colour scheme."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.http import HttpRequest
from django.utils.translation import gettext_noop

from voltaje.web import words

SCHEMES = {
    "auto": gettext_noop("as the system"),
    "light": gettext_noop("light"),
    "dark": gettext_noop("dark"),
    "contrast": gettext_noop("high contrast"),
}
SCHEME_COOKIE = "scheme"


def everywhere(request: HttpRequest) -> dict[str, Any]:
    """Context for all templates."""
    chosen = request.COOKIES.get(SCHEME_COOKIE, "auto")
    return {
        "demo_mode": settings.DEMO,
        "sign_up_open": settings.SIGN_UP,
        "scheme": chosen if chosen in SCHEMES else "auto",
        "schemes": SCHEMES,
        "script_words": words.of_scripts(),
    }
