"""The materials' part of the program."""

from __future__ import annotations

from django.apps import AppConfig


class MaterialsConfig(AppConfig):
    """Materials of jobs, and the price lists of accounts."""

    name = "voltaje.web.materials"
    label = "materials"
    default_auto_field = "django.db.models.BigAutoField"
