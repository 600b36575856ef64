"""A dwelling at 230/400 V: its demand line by line, by a table of maximum demand, by usual guidance
or by factors of one's own; the main switch, the mains, earthing and bonding; one phase or three.
"""

from voltaje.core.electrical.systems import METRIC_SYSTEMS
from voltaje.core.parts.dwelling.metric.entries import GROUPS, compose
from voltaje.core.parts.dwelling.metric.tell import tell
from voltaje.core.parts.dwelling.metric.work import hand_up, work
from voltaje.core.parts.dwelling.way import Way
from voltaje.core.rules.iec import METRIC

WAYS = {family: Way(compose, work, tell, hand_up, GROUPS, METRIC_SYSTEMS) for family in METRIC}

__all__ = ["WAYS"]
