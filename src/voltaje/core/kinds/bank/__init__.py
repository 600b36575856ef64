"""A bank of two or three single-phase units: every connection and tap. ``calculate`` has the rows,
the currents and the corner, ``report`` elimination and ratio side by side."""

from voltaje.core.kinds.bank import calculate, report
from voltaje.core.kinds.bank.entries import GROUPS, BankEntries
from voltaje.core.kinds.bank.slips import usual_slips
from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.report import say

KIND = Kind(
    "bank",
    "Transformer bank",
    "Single-phase units in star and delta, with their taps",
    BankEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    order=140,
    families=None,
    equipment=calculate.equipment,
    unknowns={"kva": "smallest", "load": "largest"},
    slips=usual_slips,
    tasks=(
        say(
            "A bank of single-phase units of {kva} ({count}), {primary} to {secondary}, on "
            "{supply}; {required_voltage} is needed: choose the connection and the tap, and find "
            "what the bank carries."
        ),
    ),
)

__all__ = ["KIND"]
