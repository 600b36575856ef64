"""A supply: the utility's service point or a source, and what stands on it."""

from voltaje.core.parts.incomplete import Known
from voltaje.core.parts.kind import Kind
from voltaje.core.parts.supply.entries import SupplyEntries, point
from voltaje.core.parts.supply.tell import tell
from voltaje.core.parts.supply.work import fault_out, hand_up, work

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
