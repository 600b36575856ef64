"""Usual slips with a transformer's loading, protection and conductors."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.core.codes import Edition
from voltaje.core.entries import Document
from voltaje.core.kinds.slips import UsualSlip, read_as, without
from voltaje.core.kinds.transformer.calculate import TransformerOutcome
from voltaje.core.kinds.transformer.entries import TransformerEntries
from voltaje.core.report import say


def usual_slips(
    entries: TransformerEntries, outcome: TransformerOutcome, document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """Each with the document as it is taken."""
    if entries.protection == "primary only":
        words = say("the row for devices on both sides read where only the primary has one")
        yield read_as(document, "protection", "primary and secondary", words)
    else:
        words = say("the row for a primary device alone read where both sides have one")
        yield read_as(document, "protection", "primary only", words)
    device = "most" if entries.primary_device == "usual" else "usual"
    words = say("the largest primary device taken for the usual one, or the reverse")
    yield read_as(document, "primary_device", device, words)
    if entries.impedance is not None:
        yield without(document, "impedance", say("the impedance left out"))
