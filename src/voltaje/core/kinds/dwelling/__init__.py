"""A dwelling: its calculated load by its code, and the service or the mains that follow from it.

Every code asks other things of a dwelling and adds them up in its own way. A package beside this
file for each way of thinking (``nec``, ``cec``, ``metric``) exports its ``WAYS`` by family; the
kind is the same, and a document keeps the entries of each.
"""

from __future__ import annotations

from typing import Any

from voltaje.core.electrical.systems import Demand
from voltaje.core.entries import Document, Entries
from voltaje.core.kinds.dwelling import cec, metric, nec
from voltaje.core.kinds.dwelling.slips import usual_slips
from voltaje.core.kinds.dwelling.way import DwellingMethod
from voltaje.core.kinds.interface import Kind, passes_on
from voltaje.core.report import Report, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import Code, code_of

WAYS: dict[str, DwellingMethod] = {**nec.WAYS, **cec.WAYS, **metric.WAYS}
LAST = ("run", "protection", "hand")  # how it is wired stands behind all that is told of loads
_all: dict[str, str] = {}
for _way in WAYS.values():
    _all |= _way.groups
GROUPS = {name: title for name, title in _all.items() if name not in LAST} | {
    name: _all[name] for name in LAST
}


def compose(code: Code) -> type[Entries]:
    """A dwelling's entries under a family."""
    return WAYS[code.family].entries(code)


def calculate(entries: Any, context: Context) -> Any:
    """A dwelling by its code. Raises :class:`NotCoveredError` where the edition has no answer."""
    return WAYS[context.code.family].calculate(entries, context)


def report(outcome: Any, entries: Any, context: Context) -> Report:
    """A dwelling's worksheet."""
    return WAYS[context.code.family].report(outcome, entries, context)


def hand_up(entries: Any, outcome: Any, context: Context) -> Demand:
    """The dwelling as one piece."""
    return WAYS[context.code.family].hand_up(entries, outcome, context)


def counterpart(document: Document, mine: Code, other: Code) -> Document:
    """Chargers by each code's own name for them: they must not be lost among other loads."""
    rows = document.get("appliances")
    if not isinstance(rows, list):
        return document
    return {**document, "appliances": [_appliance(row, other) for row in rows]}


def _appliance(row: Any, other: Code) -> Any:
    if not isinstance(row, dict):
        return row
    if other.family == "cec" and row.get("place") == "charger" and not row.get("counts_as"):
        return {**row, "counts_as": "vehicle"}
    charged = row.get("counts_as") in ("vehicle", "managed")
    if other.family == "nec" and charged and not row.get("place"):
        return {**row, "place": "charger"}
    return row


KIND = Kind(
    "dwelling",
    "Dwelling",
    "Calculated load and service",
    compose(code_of("nec")),
    calculate,
    report,
    hand_up,
    passes_on,
    GROUPS,
    order=110,
    families=tuple(WAYS),
    compose=compose,
    counterpart=counterpart,
    stands_on=lambda code: WAYS[code.family].systems,
    slips=usual_slips,
    tasks=(
        say(
            "Calculate the load of a dwelling of {area} by the {method} method, then size its "
            "service or feeder."
        ),
        say("Calculate the load of a dwelling of {area}, then size its service or feeder."),
        say(
            "Find the maximum demand of a dwelling with the loads below, then size its main "
            "device and cable."
        ),
    ),
)

__all__ = ["KIND"]
