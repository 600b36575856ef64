"""The main earthing conductor and the main bonding of an installation, under the codes that think
as IEC 60364 does."""

from voltaje.core.parts.earthing.entries import GROUPS, EarthingEntries
from voltaje.core.parts.earthing.tell import tell
from voltaje.core.parts.earthing.work import work
from voltaje.core.parts.kind import Kind, no_load, passes_on
from voltaje.core.rules.iec import METRIC

KIND = Kind(
    "earthing",
    "Main earthing and bonding",
    "Sizes at the origin",
    EarthingEntries,
    work,
    tell,
    no_load,
    passes_on,
    GROUPS,
    uses_loop=True,
    order=46,
    families=METRIC,
)

__all__ = ["KIND"]
