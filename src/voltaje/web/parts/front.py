"""The front page and the colour scheme."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_POST

from voltaje.core.codes import editions
from voltaje.web.http import intake
from voltaje.web.http.context import SCHEME_COOKIE, SCHEMES
from voltaje.web.parts import finder
from voltaje.web.parts.example import example


@require_GET
def front(request: HttpRequest) -> HttpResponse:
    """What there is, and the ways in."""
    context = {"example": example(), "subjects": finder.subjects(), "editions": editions()}
    return render(request, "front.html", context)


@require_POST
def choose_scheme(request: HttpRequest) -> HttpResponse:
    """Keeps the colour scheme in a cookie, so that it also holds before sign-in."""
    response = HttpResponseRedirect(intake.here(request, request.POST.get("next", "")) or "/")
    scheme = request.POST.get("scheme", "auto")
    if scheme in SCHEMES:
        response.set_cookie(
            SCHEME_COOKIE,
            scheme,
            max_age=31_536_000,
            samesite="Lax",
            httponly=True,
            secure=request.is_secure(),
        )
    return response
