"""Circuits that share a neutral: ``circuit`` is the run as joints and loads, the rest as in every
kind."""

from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.kinds.multiwire_circuit import calculate, report
from voltaje.core.kinds.multiwire_circuit.calculate import hand_up
from voltaje.core.kinds.multiwire_circuit.entries import GROUPS, MultiwireEntries, compose
from voltaje.core.kinds.multiwire_circuit.faults import hidden_faults
from voltaje.core.kinds.multiwire_circuit.slips import usual_slips

KIND = Kind(
    "multiwire_circuit",
    "Shared neutral",
    "Volts and amperes of circuits on one neutral",
    MultiwireEntries,
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    GROUPS,
    own_network=True,
    families=None,
    compose=compose,
    order=80,
    formerly=("neutral",),
    faults=hidden_faults,
    slips=usual_slips,
)

__all__ = ["KIND"]
