"""The accounts' part of the program."""

from __future__ import annotations

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Listens to sign-ins for the accounts' log."""

    name = "voltaje.web.accounts"
    label = "accounts"

    def ready(self) -> None:
        """Connects the listeners."""
        from voltaje.web.accounts import events  # noqa: F401
