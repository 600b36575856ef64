"""An autotransformer: a unit's windings stacked in every way, or one winding with taps.
``calculate`` has volts and amperes in both directions, ``report`` every way with its reason."""

from voltaje.core.kinds.autotransformer import calculate, report
from voltaje.core.kinds.autotransformer.entries import GROUPS, AutotransformerEntries
from voltaje.core.kinds.interface import Kind, no_load, passes_on

KIND = Kind(
    "autotransformer",
    "Autotransformer",
    "Two windings in series, or one with taps",
    AutotransformerEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    order=125,
    families=None,
    unknowns={"kva": "smallest", "load": "largest"},
)

__all__ = ["KIND"]
