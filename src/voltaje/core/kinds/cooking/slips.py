"""Usual slips with a cooking circuit: the table where the nameplate goes, the reverse, and what
exceeds the column's last kilowatt."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.core.codes import Edition
from voltaje.core.entries import Document
from voltaje.core.kinds.cooking.calculate import CookingOutcome
from voltaje.core.kinds.cooking.entries import CookingEntries
from voltaje.core.kinds.slips import UsualSlip, read_as, without
from voltaje.core.report import say


def usual_slips(
    entries: CookingEntries, outcome: CookingOutcome, document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """Each with the document as it is taken."""
    if entries.layout in ("oven", "cooktop"):
        words = say("the table's demand taken for one unit alone: its nameplate counts whole")
        yield read_as(document, "layout", "range", words)
    elif entries.layout == "range":
        words = say("the nameplate taken whole: the table's demand left out")
        yield read_as(document, "layout", "oven", words)
        last = edition.limit("cooking_c_to")
        if outcome.total > last.value * 1000:
            words = say("what exceeds {kw} kW left out", kw=last.value)
            yield read_as(document, "nameplate", f"{last.value:g} kW", words)
    if entries.layout == "together" and entries.oven_2 is not None:
        yield without(document, "oven_2", say("the second oven left out"))
    if entries.neutral == "yes":
        words = say("the neutral left out")
        yield read_as(document, "neutral", "no", words)
