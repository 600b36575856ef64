"""Usual slips with a buck-boost transformer: boost for buck, nominal for measured voltage."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import Document
from voltaje.core.kinds.slips import UsualSlip, read_as
from voltaje.core.report import say

NOMINAL = {v for one in SYSTEMS.values() for v in (one.line_to_line, one.to_neutral) if v}
NEAR = 0.15  # no code figure: how far a nominal voltage may be from the one that is measured


def usual_slips(
    entries: Any, outcome: Any, document: Document, edition: Edition
) -> Iterator[UsualSlip]:
    """Each with the document as it is taken."""
    measured = str(document.get("measured_voltage", ""))
    required = str(document.get("required_voltage", ""))
    if measured and required and measured != required:
        words = say("boost taken as buck, or the reverse")
        taken = {**document, "measured_voltage": required, "required_voltage": measured}
        yield UsualSlip("voltage:turned", words, taken)
    for nominal in sorted(NOMINAL):
        near = abs(entries.measured_voltage / nominal - 1) < NEAR
        if near and entries.measured_voltage != nominal:
            words = say("nominal voltage taken for measured voltage")
            yield read_as(document, "measured_voltage", f"{nominal:g} V", words)
