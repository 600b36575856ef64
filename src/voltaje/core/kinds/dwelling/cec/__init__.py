"""A dwelling by section 8 of the Canadian code: one (8-200), a unit of a building, or a building of
several units (8-202), with the service that follows.
"""

from voltaje.core.electrical.systems import DWELLING_SYSTEMS
from voltaje.core.kinds.dwelling.cec import calculate, report
from voltaje.core.kinds.dwelling.cec.calculate import hand_up
from voltaje.core.kinds.dwelling.cec.entries import GROUPS, CecDwelling
from voltaje.core.kinds.dwelling.way import DwellingMethod

SYSTEMS = (*DWELLING_SYSTEMS, "3ph-208Y/120")
WAYS = {
    "cec": DwellingMethod(
        lambda code: CecDwelling, calculate.calculate, report.report, hand_up, GROUPS, SYSTEMS
    )
}

__all__ = ["WAYS"]
