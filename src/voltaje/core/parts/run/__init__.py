"""A run of several segments: ``along`` is the run between its joints, the rest as in every kind."""

from voltaje.core.parts.incomplete import Known
from voltaje.core.parts.kind import Kind, passes_on
from voltaje.core.parts.run.entries import GROUPS, compose
from voltaje.core.parts.run.tell import tell
from voltaje.core.parts.run.work import brings, hand_up, work
from voltaje.core.rules.code import code_of

KIND = Kind(
    "run",
    "Run",
    "Volts along several segments",
    compose(code_of("nec")),
    work,
    tell,
    hand_up,
    passes_on,
    GROUPS,
    holds_parts=True,
    known=Known(("amperes", "load")),
    brings=brings,
    own_network=True,
    order=60,
    families=None,
    compose=compose,
)

__all__ = ["KIND"]
