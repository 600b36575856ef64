"""The nameplates' part of the program."""

from __future__ import annotations

from django.apps import AppConfig


class NameplatesConfig(AppConfig):
    """Nameplates of accounts, and where they are used."""

    name = "voltaje.web.nameplates"
    label = "nameplates"
    default_auto_field = "django.db.models.BigAutoField"
