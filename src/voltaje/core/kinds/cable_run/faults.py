"""Faults that a run may hide: a poor joint ahead of one of its loads."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.core.entries import Document
from voltaje.core.kinds.cable_run.calculate import CableRunOutcome
from voltaje.core.kinds.cable_run.entries import CableRunEntries
from voltaje.core.report import Text, say

POOR = 0.04  # no code figure: of nominal volts, what a poor joint loses on its own


def hidden_faults(
    entries: CableRunEntries, outcome: CableRunOutcome, document: Document
) -> Iterator[tuple[Text, Document]]:
    """Each fault in words with the document that has it."""
    rows = document.get("segments")
    if not isinstance(rows, list):
        return
    own = outcome.along.ohms(outcome.segments)
    for index, (segment, joint) in enumerate(
        zip(outcome.segments, outcome.along.joints, strict=True)
    ):
        amperes = abs(segment.amperes)
        if not amperes:
            continue
        ohms = abs(own[index]) + POOR * outcome.along.volts / amperes
        changed = [
            {**row, "impedance": f"{ohms:.5g} Ω"} if n == index else row
            for n, row in enumerate(rows)
        ]
        words = say("Poor joint ahead of {name}", name=joint.name)
        # its conductors stay as they are: nothing is sized for the fault
        yield words, {**document, "size": str(outcome.size), "segments": changed}
