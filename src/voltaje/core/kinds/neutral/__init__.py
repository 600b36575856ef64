"""Circuits that share a neutral: ``circuit`` is the run as joints and loads, the rest as in every
kind."""

from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.kinds.neutral import calculate, report
from voltaje.core.kinds.neutral.calculate import hand_up
from voltaje.core.kinds.neutral.entries import GROUPS, NeutralEntries

KIND = Kind(
    "neutral",
    "Shared neutral",
    "Volts and amperes of circuits on one neutral",
    NeutralEntries,
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    own_network=True,
    order=80,
)

__all__ = ["KIND"]
