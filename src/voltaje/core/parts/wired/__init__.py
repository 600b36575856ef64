"""What everything with conductors and a device shares; no kind of its own.

``entries`` is how they are run, ``drop`` what they may lose, ``work`` sizes them and ``tell`` puts
that on the tape; ``far_end`` is what arrives behind them: fault current, percent lost, impedance.
"""

from voltaje.core.parts.wired.entries import (
    METHOD_LABELS,
    SIZE_LABELS,
    WIRING_GROUPS,
    Insulation,
    Interrupting,
    Metal,
    Method,
    Size,
    WiringEntries,
    insulation_entry,
    metal_entry,
    method_entry,
)
from voltaje.core.parts.wired.tell import Told, interrupting, spare, tell
from voltaje.core.parts.wired.work import (
    Feed,
    Sizing,
    WiredOutcome,
    amperes_of,
    chosen_pair,
    divisor,
    lines_of,
    size,
    smallest_neutral,
    volts_of,
    wires_of,
)

__all__ = [
    "METHOD_LABELS",
    "SIZE_LABELS",
    "WIRING_GROUPS",
    "Feed",
    "Insulation",
    "Interrupting",
    "Metal",
    "Method",
    "Size",
    "Sizing",
    "Told",
    "WiredOutcome",
    "WiringEntries",
    "amperes_of",
    "chosen_pair",
    "divisor",
    "insulation_entry",
    "interrupting",
    "lines_of",
    "metal_entry",
    "method_entry",
    "size",
    "smallest_neutral",
    "spare",
    "tell",
    "volts_of",
    "wires_of",
]
