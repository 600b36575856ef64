"""Faults that a shared neutral may hide: a conductor open on the way to a joint, two circuits on
one line."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.core.entries import Document
from voltaje.core.kinds.multiwire_circuit.calculate import MultiwireOutcome
from voltaje.core.kinds.multiwire_circuit.entries import SharedNeutral
from voltaje.core.report import Text, say


def hidden_faults(
    entries: SharedNeutral, outcome: MultiwireOutcome, document: Document
) -> Iterator[tuple[Text, Document]]:
    """Each fault in words with the document that has it."""
    conductors = [("N", say("Neutral")), ("A", say("Circuit A")), ("B", say("Circuit B"))]
    if entries.phase_c != "none":
        conductors.append(("C", say("Circuit C")))
    for number, load in enumerate(entries.loads, 1):
        for letter, name in conductors:
            words = say(
                "{conductor} open ahead of {load}",
                conductor=str(name),
                load=load.name or str(say("joint {n}", n=number)),
            )
            yield words, {**document, "opened_at": f"{letter}:{number}"}
    words = say("Circuits A and B on the same line")
    yield words, {**document, "phase_b": entries.phase_a}
