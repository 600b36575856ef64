"""A dwelling at 230/400 V: its demand line by line, by a table of maximum demand, by usual guidance
or by factors of one's own; the main switch, the mains, earthing and bonding; one phase or three.
"""

from voltaje.core.electrical.systems import METRIC_SYSTEMS
from voltaje.core.kinds.dwelling.metric import calculate, report
from voltaje.core.kinds.dwelling.metric.calculate import hand_up
from voltaje.core.kinds.dwelling.metric.entries import GROUPS, compose
from voltaje.core.kinds.dwelling.way import DwellingMethod
from voltaje.core.rules.iec60364 import METRIC

WAYS = {
    family: DwellingMethod(
        compose, calculate.calculate, report.report, hand_up, GROUPS, METRIC_SYSTEMS
    )
    for family in METRIC
}

__all__ = ["WAYS"]
