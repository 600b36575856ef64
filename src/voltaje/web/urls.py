"""Addresses. The program's addresses are under ``api/v1/``; see docs/api.md."""

from __future__ import annotations

from django.urls import include, path

from voltaje.web.firm.views import firm_defaults
from voltaje.web.http import errors
from voltaje.web.http.health import health
from voltaje.web.parts import front

urlpatterns = [
    path("", front.front, name="front"),
    path("scheme/", front.choose_scheme, name="scheme"),
    path("health/", health, name="health"),
    path("account/", include("voltaje.web.accounts.urls")),
    path("jobs/", include("voltaje.web.jobs.urls")),
    path("defaults/", firm_defaults, name="firm_defaults"),
    path("nameplates/", include("voltaje.web.nameplates.urls")),
    path("tasks/", include("voltaje.web.background.urls")),
    path("practice/", include("voltaje.web.practice.urls")),
    path("api/v1/", include("voltaje.web.api.urls")),
    path("", include("voltaje.web.parts.urls")),
]
handler400 = errors.bad_request
handler404 = errors.not_found
handler500 = errors.server_error
