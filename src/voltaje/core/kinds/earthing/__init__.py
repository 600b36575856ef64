"""The main earthing conductor and the main bonding of an installation, under the codes that think
as IEC 60364 does."""

from voltaje.core.kinds.earthing import calculate, report
from voltaje.core.kinds.earthing.entries import GROUPS, EarthingEntries
from voltaje.core.kinds.earthing.slips import usual_slips
from voltaje.core.kinds.interface import Kind, no_load, passes_on
from voltaje.core.report import say
from voltaje.core.rules.iec60364 import METRIC

KIND = Kind(
    "earthing",
    "Main earthing and bonding",
    "Sizes at the origin",
    EarthingEntries,
    calculate.calculate,
    report.report,
    no_load,
    passes_on,
    GROUPS,
    uses_loop=True,
    order=46,
    families=METRIC,
    slips=usual_slips,
    tasks=(
        say(
            "The line conductors at the origin are {line_conductor} ({earthing}): size the "
            "earthing conductor and the bonding conductors."
        ),
    ),
)

__all__ = ["KIND"]
