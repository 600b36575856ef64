"""Ids that entries had in earlier versions. Documents, files, addresses and revisions that hold one
are still read: each model lists its own in ``FORMERLY``."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import cache
from typing import Any

from pydantic import BaseModel

from voltaje.core.entries.form import row_models
from voltaje.core.entries.model import Document, Entries

FormerIds = Mapping[str, str]


@cache
def former_ids(models: frozenset[type[Entries]]) -> FormerIds:
    """The ids of earlier versions over several models, each with the one of today:
    ``{"ahead": "upstream_drop", "loads.third": "third_harmonic"}``, an entry of a row after its
    list's name of today."""
    found: dict[str, str] = {}
    for model in models:
        found |= _own(model)
        for name, row in row_models(model).items():
            found |= {f"{name}.{old}": new for old, new in _own(row).items()}
    return found


def _own(model: type[BaseModel]) -> dict[str, str]:
    """What a model and its bases list, of the entries that it has."""
    listed = (vars(base).get("FORMERLY", {}) for base in model.__mro__)
    known = model.model_fields
    return {old: new for each in listed for old, new in each.items() if new in known}


def of_today(document: Mapping[str, Any], ids: FormerIds) -> Document:
    """The document under the ids of today. Where it holds both, the later one counts."""
    found = _renamed(document, ids, "")
    for name, value in found.items():
        if isinstance(value, list):
            found[name] = [
                _renamed(row, ids, f"{name}.") if isinstance(row, Mapping) else row for row in value
            ]
    return found


def _renamed(document: Mapping[str, Any], ids: FormerIds, before: str) -> Document:
    found: Document = {}
    for name, value in document.items():
        now = ids.get(f"{before}{name}", name)
        if now == name or now not in document:
            found[now] = value
    return found


def path_of_today(path: Iterable[Any], ids: FormerIds) -> list[Any]:
    """The path of an entry, ``[entry]``, or of a row, ``[list, row]`` or ``[list, row, column]``,
    under the ids of today."""
    head, *rest = path
    now = ids.get(head, head) if isinstance(head, str) else head
    if len(rest) == 2 and isinstance(rest[1], str):
        return [now, rest[0], ids.get(f"{now}.{rest[1]}", rest[1])]
    return [now, *rest]
