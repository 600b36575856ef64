"""Faults that a line with consumers may hide: one of its conductors open behind one of them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from voltaje.core.entries import Document
from voltaje.core.kinds.street.entries import StreetEntries
from voltaje.core.report import Text, say


def hidden_faults(
    entries: StreetEntries, outcome: Any, document: Document
) -> Iterator[tuple[Text, Document]]:
    """Each fault in words with the document that has it."""
    names = [one.name or str(number) for number, one in enumerate(entries.consumers, 1)]
    for conductor in ("N", *outcome.street.system.lines):
        for behind in range(len(names)):
            words = say("{conductor} open at the head", conductor=conductor)
            if behind:
                words = say(
                    "{conductor} open behind {name}", conductor=conductor, name=names[behind - 1]
                )
            opened = {"opened": conductor, "opened_behind": str(behind)}
            # its conductors stay as they are: nothing is sized for the fault
            yield words, {**document, "size": str(outcome.size), **opened}
