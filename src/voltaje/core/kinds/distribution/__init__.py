"""A distribution circuit of the codes that think as IEC 60364 does: from one board to the next,
with the earth-fault loop that it hands down."""

from voltaje.core.kinds.distribution.calculate import brings, fault_out, hand_up, loop_out, work
from voltaje.core.kinds.distribution.entries import GROUPS, compose
from voltaje.core.kinds.distribution.report import tell
from voltaje.core.kinds.far_end import lost_at_far_end
from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.rules.iec60364 import METRIC
from voltaje.core.rules.interface import code_of

KIND = Kind(
    "distribution",
    "Distribution circuit",
    "From one board to the next, metric",
    compose(code_of("bs7671")),
    work,
    tell,
    hand_up,
    passes_on,
    GROUPS,
    holds_parts=True,
    lost_out=lost_at_far_end,
    loop_out=loop_out,
    uses_loop=True,
    brings=brings,
    order=45,
    families=METRIC,
    compose=compose,
    uses_fault=True,
    fault_out=fault_out,
)

__all__ = ["KIND"]
