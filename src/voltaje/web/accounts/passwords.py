"""What a password may not be, beside what Django's own validators refuse."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import ValidationError
from django.utils.translation import gettext


class NotBlankValidator:
    """Refuses a password of nothing but space."""

    def validate(self, password: str, user: Any = None) -> None:
        """Raises ``ValidationError``."""
        if not password.strip():
            raise ValidationError(
                gettext("A password of spaces alone is none: use letters, digits or signs."),
                code="blank",
            )

    def get_help_text(self) -> str:
        """What is told beside the field."""
        return gettext("Not of spaces alone.")
