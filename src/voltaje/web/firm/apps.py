"""The firm's part of the program."""

from __future__ import annotations

from django.apps import AppConfig


class FirmConfig(AppConfig):
    """Defaults of an account for its new jobs."""

    name = "voltaje.web.firm"
    label = "firm"
    default_auto_field = "django.db.models.BigAutoField"
