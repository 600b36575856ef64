"""Forms whose texts a page keeps until they are saved: which of them was saved is told by a cookie.

The page's script sends a mark of its own along as ``draft``. A form with something wrong comes back
as a page; one that was saved leads on, or says so by ``request.saved``.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

COOKIE = "voltaje_saved"
SECONDS = 3600  # no code figure: long enough for the next page, wherever it is
_MARK = re.compile(r"[a-z0-9]{4,32}")


class Saved:
    """Middleware: tells the page which draft was saved."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answers; marks what was saved."""
        response = self.answer(request)
        if request.method != "POST":
            return response
        saved = response.status_code in (301, 302, 303) or getattr(request, "saved", False)
        mark = request.POST.get("draft", "") if saved else ""
        if _MARK.fullmatch(mark):
            response.set_cookie(
                COOKIE, mark, max_age=SECONDS, samesite="Lax", secure=request.is_secure()
            )
        return response
