"""Faults of the program itself, kept to the part that they befell: each is logged under a number
that the page shows, so that it can be reported and found."""

from __future__ import annotations

import logging
import secrets

from voltaje.core.report import say

log = logging.getLogger("voltaje.faults")
# tests want to see a fault, not a page that bears it
raising = False


def note(error: Exception, what: str) -> str:
    """Logs a fault and gives it a number such as ``F-3A9C41``; with ``raising`` raises it."""
    if raising:
        raise error
    number = f"F-{secrets.token_hex(3).upper()}"
    log.error("%s while %s", number, what, exc_info=error, extra={"fault": number})
    return number


def words(number: str) -> str:
    """What a page says of a fault."""
    return str(
        say(
            "This could not be worked: a fault of the program, number {number}."
            " What is entered is kept; report the number.",
            number=number,
        )
    )
