"""An autotransformer: a unit's windings stacked in every way, or one winding with taps.
``calculate`` has volts and amperes in both directions, ``report`` every way with its reason."""

from voltaje.core.kinds.autotransformer import calculate, report
from voltaje.core.kinds.autotransformer.entries import GROUPS, AutotransformerEntries
from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.report import say

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
    tasks=(
        say(
            "An autotransformer of two windings, {winding} and {other_winding}, {kva}, on "
            "{source_voltage}: find its voltages, its currents and what it may carry."
        ),
        say(
            "One winding with taps at {taps} on {source_voltage}: find its voltages, its currents "
            "and the part of the power that it transforms."
        ),
    ),
)

__all__ = ["KIND"]
