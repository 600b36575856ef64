"""Saving entries from a page that may be out of date.

The page sends each entry that was changed with the text it started from. Where the kept text is
still that one, the change is made; where another tab has changed it to something else, it is a
conflict: nothing is overwritten and the user chooses.
"""

from __future__ import annotations

import copy
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from voltaje.core.entries import Document, Entries, FieldSpec, fields, walk

TEXT_LIMIT = 200


class BadPathError(ValueError):
    """A path that the kind of part does not have."""


@dataclass(frozen=True, slots=True)
class Conflict:
    """Two texts for one entry; ``theirs`` is the one that is kept."""

    path: str
    mine: str
    theirs: str


@dataclass(slots=True)
class Patch:
    """Texts by path, each with the text it started from; rows taken out, as (group, id)."""

    texts: dict[str, str] = field(default_factory=dict)
    bases: dict[str, str] = field(default_factory=dict)
    deleted: dict[str, str] = field(default_factory=dict)


def read_form(posted: Mapping[str, str], model: type[Entries]) -> Document:
    """The whole form as a document. Unknown names are passed over; rows keep the form's order."""
    specs = {spec.name: spec for spec in fields(model)}
    document: Document = {}
    rows: dict[str, dict[str, dict[str, Any]]] = {}
    for path, text in posted.items():
        text = text.replace("\0", "")
        head, *rest = path.split(".")
        spec = specs.get(head)
        if spec is None:
            continue
        if spec.kind != "rows":
            if not rest:
                document[head] = text
        elif len(rest) == 2 and _is_row_id(rest[0]) and rest[1] in _columns(spec):
            rows.setdefault(head, {}).setdefault(rest[0], {"id": rest[0]})[rest[1]] = text
    for name, found in rows.items():
        document[name] = list(found.values())
    return document


def read_patch(posted: Mapping[str, str], model: type[Entries]) -> Patch:
    """Texts from ``set:path``, what they started from in ``base:path``, rows in ``drop:path``."""
    patch = Patch()
    for name, text in posted.items():
        action, _, path = name.partition(":")
        if action in ("set", "base"):
            check_path(path, model)
            target = patch.texts if action == "set" else patch.bases
            target[path] = text
        elif action == "drop":
            check_path(path + ".name", model)
            patch.deleted[path] = text
    return patch


def check_path(path: str, model: type[Entries]) -> None:
    """Raises :class:`BadPathError` for what is not an entry of the model."""
    specs = {spec.name: spec for spec in fields(model)}
    head, *rest = path.split(".")
    spec = specs.get(head)
    known = spec is not None and (
        not rest
        if spec.kind != "rows"
        else len(rest) == 2 and _is_row_id(rest[0]) and rest[1] in _columns(spec)
    )
    if not known:
        raise BadPathError(path)


def apply(
    document: Document, patch: Patch, model: type[Entries]
) -> tuple[Document, list[Conflict]]:
    """The document with the patch put in, and what could not be because both sides changed it."""
    changed = copy.deepcopy(document)
    kept = {path: as_text(value) for path, value in walk(document)}
    defaults = _defaults(model)
    conflicts: list[Conflict] = []
    for path, text in patch.texts.items():
        # PostgreSQL cannot hold a NUL in JSON, and no entry means one
        text = text.replace("\0", "")[:TEXT_LIMIT]
        base = patch.bases.get(path, "")
        fallback = defaults.get(_shape(path), "")
        theirs = kept.get(path, fallback)
        if text == theirs:
            continue
        if theirs != base and path in patch.bases:
            conflicts.append(Conflict(path, text, theirs))
            continue
        _set(changed, path, text)
    for row in patch.deleted:
        group, row_id = row.split(".")
        now = {p: t for p, t in kept.items() if p.startswith(f"{row}.")}
        seen = {p: t for p, t in patch.bases.items() if p.startswith(f"{row}.")}
        differing = [p for p, t in seen.items() if now.get(p, defaults.get(_shape(p), "")) != t]
        if now and differing:
            conflicts.append(Conflict(differing[0], "(row deleted)", now.get(differing[0], "")))
            continue
        changed[group] = [item for item in changed.get(group, []) if item.get("id") != row_id]
    return changed, conflicts


def as_text(value: Any) -> str:
    """An entry as the form shows it."""
    if isinstance(value, bool):
        return "yes" if value else ""
    return "" if value is None else str(value)


def _set(document: Document, path: str, text: str) -> None:
    head, *rest = path.split(".")
    if not rest:
        document[head] = text
        return
    row_id, column = rest
    rows = document.setdefault(head, [])
    for row in rows:
        if row.get("id") == row_id:
            row[column] = text
            return
    rows.append({"id": row_id, column: text})


def _defaults(model: type[Entries]) -> dict[str, str]:
    found: dict[str, str] = {}
    for spec in fields(model):
        found[spec.name] = spec.default
        for column in spec.columns:
            found[f"{spec.name}.*.{column.name}"] = column.default
    return found


def _shape(path: str) -> str:
    head, *rest = path.split(".")
    return f"{head}.*.{rest[1]}" if len(rest) == 2 else head


def _columns(spec: FieldSpec) -> set[str]:
    return {column.name for column in spec.columns}


def _is_row_id(text: str) -> bool:
    return 1 <= len(text) <= 16 and text.isascii() and text.isalnum() and text == text.lower()
