"""Usual values: what an item says of the conductors of all that hangs below it, so that it is
entered once. Each is an entry of that item under the name of the entry with ``usual_`` before it,
so that form, files and history have it like any other."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Any, Literal

from voltaje.core.entries import Entries, FieldSpec, entry, fields, reads_of
from voltaje.core.rules.interface import Wiring

PREFIX = "usual_"
GROUP = "usual"
TITLE = "Usual values for what hangs below"
# the group of entries that say how conductors are run
RUN = "run"


@dataclass(frozen=True, slots=True)
class Inherited:
    """The text that an entry has where its item leaves it: set by the item ``of`` that name."""

    text: str
    of: str


@cache
def usual_specs(wiring: type[Wiring]) -> Mapping[str, FieldSpec]:
    """The entries of a family's conductors that can be set for all that hangs below, by name: those
    that are usually left as they are, each a choice or a figure."""
    return {
        spec.name: spec
        for spec in fields(wiring)
        if spec.group == RUN and spec.kind in ("choice", "quantity") and spec.seldom is not False
    }


@cache
def with_usual_values(model: type[Entries], wiring: type[Wiring]) -> type[Entries]:
    """The entries of an item that holds others, with the usual values of what hangs below."""
    types: dict[str, Any] = {}
    own: dict[str, Any] = {"__doc__": model.__doc__, "__module__": model.__module__}
    for name, spec in usual_specs(wiring).items():
        more = {"group": GROUP, "seldom": True, "at_rest": ""}
        if spec.kind == "choice":
            values = tuple(value for value, _ in spec.choices)
            types[PREFIX + name] = Literal[("", *values)]
            labels = {"": "as above it", **dict(spec.choices)}
            own[PREFIX + name] = entry("", spec.label, choices=labels, **more)
        else:
            types[PREFIX + name] = Annotated[float, reads_of(wiring, name)] | None
            own[PREFIX + name] = entry(None, spec.label, example=spec.default, **more)
    return type(model.__name__, (model,), {**own, "__annotations__": types})


@cache
def inheriting(model: type[Entries], wiring: type[Wiring]) -> Mapping[str, frozenset[str] | None]:
    """The entries of an item that take a usual value from above, each with the choices that it has
    (``None``: it is a figure)."""
    known = usual_specs(wiring)
    return {
        spec.name: frozenset(value for value, _ in spec.choices) if spec.choices else None
        for spec in fields(model)
        if spec.name in known and spec.group == RUN and spec.kind == known[spec.name].kind
    }


def inherited(
    model: type[Entries], wiring: type[Wiring], above: Mapping[str, Inherited]
) -> dict[str, Inherited]:
    """Those of the usual values from above that the item takes where it says nothing itself."""
    return {
        name: above[name]
        for name, choices in inheriting(model, wiring).items()
        if name in above and (choices is None or above[name].text in choices)
    }


def handed_down(
    document: Mapping[str, Any], name: str, wiring: type[Wiring], above: Mapping[str, Inherited]
) -> Mapping[str, Inherited]:
    """The usual values below an item of that name: its own, and those from above that it leaves."""
    own = {
        entry_name: Inherited(text, name)
        for entry_name in usual_specs(wiring)
        if (text := str(document.get(PREFIX + entry_name) or "").strip())
    }
    return {**above, **own} if own else above


__all__ = [
    "GROUP",
    "PREFIX",
    "RUN",
    "TITLE",
    "Inherited",
    "handed_down",
    "inherited",
    "inheriting",
    "usual_specs",
    "with_usual_values",
]
