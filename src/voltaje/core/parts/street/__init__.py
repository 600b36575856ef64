"""A line with consumers along it, each on one of its lines or on all: ``along`` is the line between
them, the rest as in every kind."""

from voltaje.core.parts.incomplete import Known
from voltaje.core.parts.kind import Kind, passes_on
from voltaje.core.parts.street.entries import GROUPS, compose
from voltaje.core.parts.street.tell import tell
from voltaje.core.parts.street.work import brings, hand_up, work
from voltaje.core.rules.code import code_of

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
