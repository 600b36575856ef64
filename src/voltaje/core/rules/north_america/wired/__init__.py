"""What everything with conductors and a device shares under this code.

``entries`` is how they are run, ``drop`` what they may lose, ``sizing`` finds them and
``report`` puts that on the worksheet; ``sides`` is what has both on either side.
"""

from voltaje.core.codes.vocabulary import Metal
from voltaje.core.rules.interface import Feed, SizingReport
from voltaje.core.rules.north_america.wired.entries import (
    METHOD_LABELS,
    SIZE_LABELS,
    WIRING_GROUPS,
    Insulation,
    Interrupting,
    Method,
    SizeChoice,
    WiringEntries,
    insulation_entry,
    metal_entry,
    method_entry,
)
from voltaje.core.rules.north_america.wired.report import interrupting, report_sizing, spare
from voltaje.core.rules.north_america.wired.sides import (
    SideRun,
    side_alternatives,
    side_findings,
    side_results,
    side_sections,
)
from voltaje.core.rules.north_america.wired.sizing import Sizing, size, smallest_neutral

__all__ = [
    "METHOD_LABELS",
    "SIZE_LABELS",
    "WIRING_GROUPS",
    "Feed",
    "Insulation",
    "Interrupting",
    "Metal",
    "Method",
    "SideRun",
    "SizeChoice",
    "Sizing",
    "SizingReport",
    "WiringEntries",
    "insulation_entry",
    "interrupting",
    "metal_entry",
    "method_entry",
    "report_sizing",
    "side_alternatives",
    "side_findings",
    "side_results",
    "side_sections",
    "size",
    "smallest_neutral",
    "spare",
]
