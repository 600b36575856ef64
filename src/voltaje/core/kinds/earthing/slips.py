"""Usual slips with main earthing and bonding: the supply's earthing taken for another."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from voltaje.core.codes import Edition
from voltaje.core.entries import Document
from voltaje.core.kinds.slips import UsualSlip, read_as
from voltaje.core.report import say


def usual_slips(
    entries: Any, outcome: Any, document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """Each with the document as it is taken."""
    own = str(document.get("earthing", "") or "supply")
    for other in ("TN-S", "TN-C-S", "TT"):
        if other != own:
            words = say("worked as {earthing}", earthing=other)
            yield read_as(document, "earthing", other, words)
