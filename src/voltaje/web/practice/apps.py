"""The app that keeps what was practised."""

from __future__ import annotations

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    """Practice."""

    name = "voltaje.web.practice"
    label = "practice"
    default_auto_field = "django.db.models.BigAutoField"
