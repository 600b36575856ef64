"""Usual slips with a bank of single-phase units: star for delta, the tap's side and direction."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.core.codes import Edition
from voltaje.core.entries import Document
from voltaje.core.kinds.bank.calculate import BankOutcome
from voltaje.core.kinds.bank.entries import BankEntries
from voltaje.core.kinds.slips import UsualSlip, read_as, without
from voltaje.core.report import say


def usual_slips(
    entries: BankEntries, outcome: BankOutcome, document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """Each with the document as it is taken."""
    other = "2" if entries.count == "3" else "3"
    words = say("an open delta taken for a closed bank, or the reverse")
    yield read_as(document, "count", other, words)
    if entries.tap_side != "none":
        side = "primary" if entries.tap_side == "secondary" else "secondary"
        words = say("taps taken on the other side: the voltage moves the other way")
        yield read_as(document, "tap_side", side, words)
        words = say("the taps left out")
        yield read_as(document, "tap_side", "none", words)
    if entries.primary and entries.supply and entries.primary != entries.supply:
        words = say("the winding's rated voltage taken for the supply's")
        yield read_as(document, "supply", f"{entries.primary:g} V", words)
    if entries.lighting:
        yield without(document, "lighting", say("the single-phase load left out"))
