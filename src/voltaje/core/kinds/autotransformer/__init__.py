"""An autotransformer: a unit's windings stacked in every way, or one winding with taps. ``work``
has volts and amperes in both directions, ``tell`` every way with its reason."""

from voltaje.core.kinds.autotransformer.calculate import work
from voltaje.core.kinds.autotransformer.entries import GROUPS, AutotransformerEntries
from voltaje.core.kinds.autotransformer.report import tell
from voltaje.core.kinds.interface import Kind, no_load, passes_on

KIND = Kind(
    "autotransformer",
    "Autotransformer",
    "Two windings in series, or one with taps",
    AutotransformerEntries,
    work,
    tell,
    no_load,
    passes_on,
    GROUPS,
    order=125,
)

__all__ = ["KIND"]
