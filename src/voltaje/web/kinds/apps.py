"""The kinds' part of the program: it starts only where every kind has both its halves, and has the
core's texts read in the language of whoever reads."""

from __future__ import annotations

from django.apps import AppConfig
from django.core.exceptions import ImproperlyConfigured
from django.utils.translation import gettext

from voltaje.core.report import translated_by
from voltaje.web.kinds import MissingHalfError, presentations


class KindsConfig(AppConfig):
    """Asks for every kind's presentation at the start."""

    name = "voltaje.web.kinds"
    label = "kinds"

    def ready(self) -> None:
        """Raises ``ImproperlyConfigured`` in one line."""
        translated_by(gettext)
        try:
            presentations()
        except MissingHalfError as error:
            raise ImproperlyConfigured(str(error)) from None
