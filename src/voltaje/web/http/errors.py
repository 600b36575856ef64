"""Errors as pages that say what to do."""

from __future__ import annotations

import sys

from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.utils.translation import gettext

from voltaje.web.http import logs

AGAIN_AFTER = "5"  # seconds until a page or program tries again


def csrf(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form sent without its token."""
    return _page(
        request,
        403,
        gettext("This form was too old to be taken."),
        gettext("Nothing was changed. Go back, reload the page and send it again."),
    )


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    """A request that cannot be read: most often one that is too large."""
    return _page(
        request,
        400,
        gettext("This request could not be read."),
        gettext("It may be larger than a sheet can be. What was kept before is still there."),
    )


def too_large(request: HttpRequest, exception: Exception) -> HttpResponse:
    """A request with more in it than any sheet, table or file here has."""
    return _page(
        request,
        413,
        gettext("This is more than is taken at once."),
        gettext("Send it in smaller pieces. What was kept before is still there."),
    )


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """An address that is nobody's, or somebody else's."""
    return _page(
        request,
        404,
        gettext("There is nothing at this address."),
        gettext("It may be another account’s, or it may have been moved."),
    )


def server_error(request: HttpRequest) -> HttpResponse:
    """A fault of ours. The page asks nothing of the database: while that is what has failed, it
    says so and when to try again."""
    away = isinstance(sys.exc_info()[1], OperationalError | InterfaceError)
    context = {
        "title": gettext("Something broke here."),
        "words": gettext("What you had kept is safe. Try again; if it stays, tell the operator."),
        "status": 500,
        "request_id": logs.current.get(),
    }
    if away:
        words = gettext(
            "What you had saved is safe; what you type stays in this page, which saves it as soon"
            " as the database answers. Try again in a few seconds."
        )
        title = gettext("The database is not available right now.")
        context |= {"title": title, "words": words, "status": 503}
    response = HttpResponse(render_to_string("error.html", context), status=context["status"])
    if away:
        response["Retry-After"] = AGAIN_AFTER
    return response


def _page(request: HttpRequest, status: int, title: str, words: str) -> HttpResponse:
    context = {"title": title, "words": words, "status": status, "request_id": logs.current.get()}
    return render(request, "error.html", context, status=status)
