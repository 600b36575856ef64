"""An autotransformer: a unit's windings stacked in every way, or one winding with taps. ``work``
has volts and amperes in both directions, ``tell`` every way with its reason."""

from voltaje.core.electrical.systems import Demand
from voltaje.core.parts.autotransformer.entries import GROUPS, AutotransformerEntries
from voltaje.core.parts.autotransformer.tell import tell
from voltaje.core.parts.autotransformer.work import work
from voltaje.core.parts.kind import Kind

KIND = Kind(
    "autotransformer",
    "Autotransformer",
    "Two windings in series, or one with taps",
    AutotransformerEntries,
    work,
    tell,
    lambda entries, outcome, context: Demand(),
    lambda entries, above: above,
    GROUPS,
    order=125,
)

__all__ = ["KIND"]
