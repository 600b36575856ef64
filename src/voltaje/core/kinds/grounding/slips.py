"""Usual slips with grounding: parallel sets, the metal of the jumper, and the wrong table."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.core.codes import Edition
from voltaje.core.entries import Document
from voltaje.core.kinds.grounding.calculate import GroundingOutcome
from voltaje.core.kinds.grounding.entries import GroundingEntries
from voltaje.core.kinds.slips import UsualSlip, cell_read_as, read_as
from voltaje.core.report import say


def usual_slips(
    entries: GroundingEntries, outcome: GroundingOutcome, document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """Each with the document or the cell as it is taken."""
    if entries.sets > 1:
        words = say("parallel sets read as one")
        yield read_as(document, "sets", "1", words)
        lie = "one" if entries.lie == "each" else "each"
        words = say("the sets of each raceway read as all together, or the reverse")
        yield read_as(document, "lie", lie, words)
    metal = "aluminum" if entries.jumper_material == "copper" else "copper"
    words = say("the column of the other metal read for the jumpers")
    yield read_as(document, "jumper_material", metal, words)
    ground = outcome.ground
    if ground is None or not ground.rules or not outcome.main_jumper.rules:
        return
    jumper, own = outcome.main_jumper.rules[0], ground.rules[0]
    if jumper.topic != own.topic and jumper.row and own.row:
        words = say("the equipment grounding table read for the bonding jumper")
        yield from cell_read_as(document, edition, jumper, ground.table_size, words)
        words = say("the bonding jumper table read for the equipment grounding conductor")
        yield from cell_read_as(document, edition, own, outcome.main_jumper.size, words)
    if entries.enlarged_from != "auto":
        words = say("not increased with the ungrounded conductors")
        yield read_as(document, "enlarged_from", "auto", words)
