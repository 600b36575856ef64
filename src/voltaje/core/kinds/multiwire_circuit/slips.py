"""Usual slips with a shared neutral: both circuits on one line, harmonics, the phase angle."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.core.codes import Edition
from voltaje.core.entries import Document
from voltaje.core.kinds.multiwire_circuit.calculate import MultiwireOutcome
from voltaje.core.kinds.multiwire_circuit.entries import SharedNeutral
from voltaje.core.kinds.slips import UsualSlip, read_as
from voltaje.core.report import say


def usual_slips(
    entries: SharedNeutral, outcome: MultiwireOutcome, document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """Each with the document as it is taken."""
    if entries.phase_b != entries.phase_a:
        words = say("both circuits worked on one line: neutral currents added")
        yield read_as(document, "phase_b", entries.phase_a, words)
    rows = document.get("loads")
    if not isinstance(rows, list):
        return
    for column, words in (
        ("third_harmonic", say("third harmonics left out: they add in the neutral")),
        ("power_factor", say("the power factors left out")),
    ):
        if any(str(row.get(column, "")).strip() for row in rows):
            plain = [{n: v for n, v in row.items() if n != column} for row in rows]
            yield UsualSlip(f"loads:{column}", words, {**document, "loads": plain})
