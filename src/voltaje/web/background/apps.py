"""The background work's part of the program."""

from __future__ import annotations

from importlib import import_module
from importlib.util import find_spec
from pkgutil import iter_modules

from django.apps import AppConfig

import voltaje.web


class BackgroundConfig(AppConfig):
    """Finds the long work of every room at the start."""

    name = "voltaje.web.background"
    label = "background"

    def ready(self) -> None:
        """Imports each room's module ``long_work``, where it has one, and the queue."""
        for room in iter_modules(voltaje.web.__path__, "voltaje.web."):
            if room.ispkg and find_spec(f"{room.name}.long_work"):
                import_module(f"{room.name}.long_work")
        import_module("voltaje.web.background.queue")
