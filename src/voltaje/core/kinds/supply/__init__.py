"""A supply: the utility's service point or a source, and what stands on it."""

from voltaje.core.kinds.incomplete import Known
from voltaje.core.kinds.interface import Kind
from voltaje.core.kinds.supply.calculate import fault_out, hand_up, work
from voltaje.core.kinds.supply.entries import SupplyEntries, point
from voltaje.core.kinds.supply.report import tell

KIND = Kind(
    "supply",
    "Supply",
    "Service point and system",
    SupplyEntries,
    work,
    tell,
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
    loop_out=lambda entries, outcome, context: outcome.loop,
    fault_out=fault_out,
    order=10,
    root=True,
    families=None,
)

__all__ = ["KIND"]
