"""A dwelling: its calculated load by its code, and the service or the mains that follow from it.

Every code asks other things of a dwelling and adds them up in its own way. A package beside this
file for each way of thinking (``nec``, ``cec``, ``metric``) exports its ``WAYS`` by family; the
kind is the same, and a document keeps the entries of each.
"""

from __future__ import annotations

from typing import Any

from voltaje.core.electrical.systems import Demand
from voltaje.core.entries import Entries
from voltaje.core.parts.dwelling import cec, metric, nec
from voltaje.core.parts.dwelling.way import Way
from voltaje.core.parts.kind import Kind
from voltaje.core.rules.code import Code, code_of
from voltaje.core.rules.context import Context
from voltaje.core.worksheet import Worked

WAYS: dict[str, Way] = {**nec.WAYS, **cec.WAYS, **metric.WAYS}
GROUPS: dict[str, str] = {}
for _way in WAYS.values():
    GROUPS |= _way.groups


def compose(code: Code) -> type[Entries]:
    """A dwelling's entries under a family."""
    return WAYS[code.family].entries(code)


def work(entries: Any, context: Context) -> Any:
    """A dwelling by its code. Raises :class:`NotCoveredError` where the edition has no answer."""
    return WAYS[context.code.family].work(entries, context)


def tell(outcome: Any, entries: Any, context: Context) -> Worked:
    """A dwelling's worksheet."""
    return WAYS[context.code.family].tell(outcome, entries, context)


def hand_up(entries: Any, outcome: Any, context: Context) -> Demand:
    """The dwelling as one piece."""
    return WAYS[context.code.family].hand_up(entries, outcome, context)


KIND = Kind(
    "dwelling",
    "Dwelling",
    "Calculated load and service",
    compose(code_of("nec")),
    work,
    tell,
    hand_up,
    lambda entries, above: above,
    GROUPS,
    order=110,
    families=tuple(WAYS),
    compose=compose,
)

__all__ = ["KIND"]
