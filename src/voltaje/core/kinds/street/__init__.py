"""A line with consumers along it, each on one of its lines or on all: ``along`` is the line between
them, the rest as in every kind."""

from voltaje.core.kinds.incomplete import Known
from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.kinds.street.calculate import brings, hand_up, work
from voltaje.core.kinds.street.entries import GROUPS, compose
from voltaje.core.kinds.street.report import tell
from voltaje.core.rules.interface import code_of

KIND = Kind(
    "street",
    "Street",
    "Consumers along a line, each on its phase",
    compose(code_of("nec")),
    work,
    tell,
    hand_up,
    passes_on,
    GROUPS,
    holds_parts=True,
    known=Known(("amperes", "load"), ()),
    brings=brings,
    own_network=True,
    order=62,
    families=None,
    compose=compose,
)

__all__ = ["KIND"]
