"""A dwelling by article 220: the standard and the optional method, or as it stands with load added.

``entries`` what is read off on site; ``loads`` turns rows into loads; ``standard`` and
``optional`` (also for what exists) are the ways to calculate, ``neutral`` and ``service`` what
follows, each with its numbers first and its telling after them; ``calculate`` and ``report`` put
them together.
"""

from voltaje.core.electrical.systems import DWELLING_SYSTEMS
from voltaje.core.kinds.dwelling.nec import calculate, report
from voltaje.core.kinds.dwelling.nec.calculate import hand_up
from voltaje.core.kinds.dwelling.nec.entries import GROUPS, DwellingEntries
from voltaje.core.kinds.dwelling.way import DwellingMethod

WAYS = {
    "nec": DwellingMethod(
        lambda code: DwellingEntries,
        calculate.calculate,
        report.report,
        hand_up,
        GROUPS,
        DWELLING_SYSTEMS,
    )
}

__all__ = ["WAYS"]
