"""The operator's part of the program: its commands."""

from __future__ import annotations

from django.apps import AppConfig


class OperationsConfig(AppConfig):
    """``doctor``, ``backup``, ``restore``, ``answers``, ``state``."""

    name = "voltaje.web.operations"
    label = "operations"
