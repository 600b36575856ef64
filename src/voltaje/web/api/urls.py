"""Addresses for programs."""

from __future__ import annotations

from django.urls import path

from voltaje.web.api.views import Ask, Sheet, SheetList, SheetSchema, openapi, reference

app_name = "api"
urlpatterns = [
    path("", reference, name="reference"),
    path("openapi.json", openapi, name="openapi"),
    path("ask/", Ask.as_view(), name="ask"),
    path("sheets/", SheetList.as_view(), name="sheets"),
    path("sheets/<str:name>/", Sheet.as_view(), name="sheet"),
    path("sheets/<str:name>/schema/", SheetSchema.as_view(), name="schema"),
]
