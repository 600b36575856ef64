"""Usual slips with a dwelling's load calculation."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from voltaje.core.codes import Edition
from voltaje.core.entries import Document
from voltaje.core.kinds.slips import UsualSlip, cell_read_as, read_as
from voltaje.core.report import say

# what runs in the other season, by what a row is
OTHER_SEASON = {"cooling": "heating", "heating": "cooling"}


def usual_slips(
    entries: Any, outcome: Any, document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """Each with the document or the cell as it is taken."""
    if document.get("method", "standard") in ("standard", ""):
        words = say("the optional method taken for the standard one")
        yield read_as(document, "method", "optional", words)
    elif document.get("method") == "optional":
        words = say("the standard method taken for the optional one")
        yield read_as(document, "method", "standard", words)
    yield from _both_seasons(document)
    yield from _largest_ranges(document, edition)
    if edition.has_limit("fixed_count"):
        few = edition.limit("fixed_count")
        share = edition.limit("fixed_factor").value
        words = say(
            "{share} % taken for {number} fixed appliances", share=share, number=few.value - 1
        )
        yield from cell_read_as(document, edition, few.rule, few.value - 1, words)


def _both_seasons(document: Document) -> Iterator[UsualSlip]:
    rows = document.get("climate")
    if not isinstance(rows, list):
        return
    known = {str(row.get("what", "")) for row in rows}
    if {"cooling", "heating"} <= known:
        for one, other in OTHER_SEASON.items():
            both = [{**row, "what": other} if row.get("what") == one else row for row in rows]
            words = say("heating and cooling both counted: only the larger counts")
            yield UsualSlip(f"climate:{other}", words, {**document, "climate": both})


def _largest_ranges(document: Document, edition: Edition) -> Iterator[UsualSlip]:
    """Every range as the column's last kilowatt: what exceeds it left out."""
    rows = document.get("cooking")
    if isinstance(rows, list) and edition.has_limit("cooking_c_to"):
        last = edition.limit("cooking_c_to").value
        small = [{**row, "nameplate": f"{last:g} kW"} for row in rows]
        words = say("what exceeds {kw} kW of a range left out", kw=last)
        yield UsualSlip("cooking:12 kW", words, {**document, "cooking": small})
