"""Usual slips with a motor: which current goes where, and which device the percentage is for."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.core.codes import Edition
from voltaje.core.entries import Document
from voltaje.core.kinds.motor.calculate import MotorOutcome
from voltaje.core.kinds.motor.entries import MotorEntries
from voltaje.core.kinds.slips import UsualSlip, cell_read_as, mistaken, read_as
from voltaje.core.report import say

BESIDE = {
    "inverse-time breaker": "dual-element fuse",
    "dual-element fuse": "inverse-time breaker",
    "nontime-delay fuse": "dual-element fuse",
    "instantaneous breaker": "inverse-time breaker",
}


def usual_slips(
    entries: MotorEntries, outcome: MotorOutcome, document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """Each with the document or the cell as it is taken."""
    table = outcome.current
    if entries.nameplate is not None and table.rule.row:
        words = say("the nameplate current taken where the table's current goes")
        yield from cell_read_as(document, edition, table.rule, entries.nameplate, words)
        words = say("the table's current taken for the overload: the nameplate goes")
        yield read_as(document, "nameplate", f"{table.value:g} A", words)
    words = say("the percentage of another type of device read")
    yield from mistaken(document, "protection", entries.protection, BESIDE, words)
    words = say("the marked service factor or temperature rise overlooked, or the reverse")
    marked = "not marked" if entries.temperature_rise == "40" else "40"
    yield read_as(document, "temperature_rise", marked, words)
    if entries.duty != "continuous":
        words = say("continuous duty taken for another duty")
        yield read_as(document, "duty", "continuous", words)
