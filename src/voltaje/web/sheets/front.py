"""The front page and the colour scheme."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_GET, require_POST

from voltaje.web.context import SCHEME_COOKIE, SCHEMES
from voltaje.web.sheets import finder
from voltaje.web.sheets.example import example


@require_GET
def front(request: HttpRequest) -> HttpResponse:
    """What there is, and the ways in."""
    return render(request, "front.html", {"example": example(), "tasks": finder.usual()})


@require_POST
def choose_scheme(request: HttpRequest) -> HttpResponse:
    """Keeps the colour scheme in a cookie, so that it also holds before sign-in."""
    wanted = request.POST.get("next", "/")
    if not url_has_allowed_host_and_scheme(wanted, {request.get_host()}, request.is_secure()):
        wanted = "/"
    response = redirect(wanted)
    scheme = request.POST.get("scheme", "auto")
    if scheme in SCHEMES:
        response.set_cookie(
            SCHEME_COOKIE, scheme, max_age=31_536_000, samesite="Lax", httponly=True,
            secure=request.is_secure(),
        )  # fmt: skip
    return response
