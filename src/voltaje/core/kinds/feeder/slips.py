"""Usual slips with a feeder's demand: factors left out, continuous and noncoincident loads."""

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
    if entries.demand == "calculated":
        words = say("the connected load taken: demand factors left out")
        yield read_as(document, "demand", "whole", words)
    else:
        words = say("demand factors taken where the connected load was asked")
        yield read_as(document, "demand", "calculated", words)
    rows = document.get("loads")
    if not isinstance(rows, list):
        return
    for column, plain, words in (
        ("continuous", "no", say("125 % of the continuous loads left out")),
        ("noncoincident_with", "", say("noncoincident loads counted together")),
        ("category", "other", say("the categories of the loads overlooked")),
    ):
        taken = [{**row, column: plain} for row in rows]
        if any(str(row.get(column, "")) not in ("", plain) for row in rows):
            yield UsualSlip(f"loads:{column}", words, {**document, "loads": taken})
