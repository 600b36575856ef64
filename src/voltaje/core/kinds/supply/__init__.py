"""A supply: the utility's service point or a source, and what stands on it."""

from voltaje.core.kinds.incomplete import Known
from voltaje.core.kinds.interface import Kind
from voltaje.core.kinds.supply import calculate, report
from voltaje.core.kinds.supply.calculate import fault_current, hand_up
from voltaje.core.kinds.supply.entries import SupplyEntries, point

KIND = Kind(
    "supply",
    "Supply",
    "Service point and system",
    SupplyEntries,
    calculate.calculate,
    report.report,
    hand_up,
    point,
    {
        "supply": "The supply",
        "earthing": "Earthing",
        "marking": "Identification of conductors",
    },
    holds_parts=True,
    known=Known(
        ("connected_load", "calculated_load", "amperes", "amperes_exact"), ("supply", "marking")
    ),
    loop_impedance=lambda entries, outcome, context: outcome.loop,
    fault_current=fault_current,
    order=10,
    root=True,
    families=None,
)

__all__ = ["KIND"]
