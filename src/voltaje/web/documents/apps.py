"""The document sets' part of the program."""

from __future__ import annotations

from django.apps import AppConfig


class DocumentsConfig(AppConfig):
    """Sets of documents, their choices and files."""

    name = "voltaje.web.documents"
    label = "documents"
    default_auto_field = "django.db.models.BigAutoField"
