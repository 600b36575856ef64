"""Circuits that share a neutral: ``circuit`` is the run as joints and loads, the rest as in every
kind."""

from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.kinds.multiwire_circuit import calculate, report
from voltaje.core.kinds.multiwire_circuit.calculate import hand_up
from voltaje.core.kinds.multiwire_circuit.entries import GROUPS, MultiwireEntries, compose
from voltaje.core.kinds.multiwire_circuit.faults import hidden_faults
from voltaje.core.kinds.multiwire_circuit.slips import usual_slips
from voltaje.core.report import say

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
    tasks=(
        say(
            "Circuits on {phase_a} and {phase_b} of {system} share a neutral and feed the loads "
            "below: find the current of each line and of the neutral, and the voltage at each "
            "load."
        ),
    ),
)

__all__ = ["KIND"]
