"""Pages of an account are kept by no cache: what was left is asked anew, nobody reads it after."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse


class NoStore:
    """Middleware: ``Cache-Control: no-store`` on every answer to somebody who is signed in, and on
    the pages of accounts."""

    def __init__(self, answer: Callable[[HttpRequest], HttpResponse]) -> None:
        self.answer = answer

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answers and marks."""
        response = self.answer(request)
        signed_in = getattr(getattr(request, "user", None), "is_authenticated", False)
        if signed_in or request.path.startswith("/account/"):
            response["Cache-Control"] = "no-store"
        return response
