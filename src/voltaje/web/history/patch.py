"""Saving entries from a page that may be out of date.

The page sends each entry that was changed with the texts it may have started from: the one that
the server gave, and those that it sent itself and has no answer for. Where the kept text is one
of these, the change is made; where another tab has changed it to something else, it is a
conflict: nothing is overwritten and the user chooses.
"""

from __future__ import annotations

import copy
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any

from django.utils.translation import gettext

from voltaje.core.entries import (
    MAX_ROWS,
    Document,
    Entries,
    FieldSpec,
    FormerIds,
    fields,
    name_units,
    path_of_today,
    walk,
)
from voltaje.core.quantities import UnitSystem
from voltaje.web.history.revisions import RefusedError

TEXT_LIMIT = 200


class BadPathError(ValueError):
    """A path that the kind of part does not have."""


@dataclass(frozen=True, slots=True)
class Conflict:
    """Two texts for one entry; ``theirs`` is the one that is kept. ``gone``: the row of the entry
    was deleted elsewhere."""

    path: str
    mine: str
    theirs: str
    gone: bool = False


@dataclass(slots=True)
class Patch:
    """Texts by path, each with the texts it may have started from; rows taken out; rows that the
    page made itself. Rows are ``list.id``."""

    texts: dict[str, str] = field(default_factory=dict)
    bases: dict[str, tuple[str, ...]] = field(default_factory=dict)
    deleted: dict[str, str] = field(default_factory=dict)
    made: set[str] = field(default_factory=set)


def read_form(
    posted: Mapping[str, str], model: type[Entries], former: FormerIds = MappingProxyType({})
) -> Document:
    """The whole form as a document, of a page of an earlier version by its ``former`` ids as well.
    Unknown names are passed over; rows keep the form's order."""
    specs = {spec.name: spec for spec in fields(model)}
    document: Document = {}
    rows: dict[str, dict[str, dict[str, Any]]] = {}
    for path, text in posted.items():
        head, *rest = path_of_today(path.split("."), former)
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


def pairs(posted: Any) -> Iterator[tuple[str, list[str]]]:
    """What was posted, name by name, with all values of each."""
    if hasattr(posted, "lists"):
        yield from posted.lists()
        return
    for name, value in posted.items():
        yield name, [value] if isinstance(value, str) else list(value)


def read_patch(
    posted: Any, model: type[Entries], former: FormerIds = MappingProxyType({})
) -> Patch:
    """Texts from ``set:path``, what they may have started from in ``base:path``, rows taken out in
    ``drop:list.id``, rows made by the page in ``made:list.id``; a page of an earlier version may
    name entries by their ``former`` ids.

    Raises :class:`BadPathError`, and :class:`RefusedError` for a text that is too long.
    """
    patch = Patch()
    for name, values in pairs(posted):
        action, _, named = name.partition(":")
        path = ".".join(path_of_today(named.split("."), former))
        if action == "set":
            check_path(path, model)
            patch.texts[path] = short_enough(values[-1])
        elif action == "base":
            check_path(path, model)
            patch.bases[path] = tuple(values)
        elif action in ("drop", "made"):
            check_path(path, model, row=True)
            if action == "drop":
                patch.deleted[path] = values[-1]
            else:
                patch.made.add(path)
    return patch


def short_enough(text: str) -> str:
    """The text, or :class:`RefusedError` where it is longer than an entry may be."""
    if len(text) > TEXT_LIMIT:
        raise RefusedError(
            gettext("“{text}…” is too long: at most {text_limit} characters are kept.").format(
                text=text[:30], text_limit=TEXT_LIMIT
            )
        )
    return text


def check_path(path: str, model: type[Entries], row: bool = False) -> None:
    """Raises :class:`BadPathError` for what is not an entry of the model, or with ``row`` not a
    row."""
    specs = {spec.name: spec for spec in fields(model)}
    head, *rest = path.split(".")
    spec = specs.get(head)
    if spec is None:
        known = False
    elif row:
        known = spec.kind == "rows" and len(rest) == 1 and _is_row_id(rest[0])
    elif spec.kind != "rows":
        known = not rest
    else:
        known = len(rest) == 2 and _is_row_id(rest[0]) and rest[1] in _columns(spec)
    if not known:
        raise BadPathError(path)


def apply(
    document: Document,
    patch: Patch,
    model: type[Entries],
    system: UnitSystem = "us",
    usual: Mapping[str, str] = MappingProxyType({}),
) -> tuple[Document, list[Conflict]]:
    """The document with the patch put in, and what could not be because both sides changed it. An
    entry that is given its ``usual`` value is left to follow it.

    Raises :class:`RefusedError` for a list with more rows than a sheet takes.
    """
    changed = copy.deepcopy(document)
    kept = {path: as_text(value) for path, value in walk(document)}
    rows = {f"{head}.{row_id}" for head, row_id in _rows_of(document)}
    defaults = {**_defaults(model), **usual}
    kept |= {path: text for path, text in usual.items() if not kept.get(path)}
    conflicts: list[Conflict] = []
    gone: set[str] = set()
    for path, text in patch.texts.items():
        row = path.rsplit(".", 1)[0]
        if "." in path and row not in rows and row not in patch.made:
            if row not in gone and row not in patch.deleted:
                gone.add(row)
                conflicts.append(Conflict(row, text, "", gone=True))
            continue
        theirs = kept.get(path, defaults.get(_shape(path), ""))
        if same(path, text, theirs, model, system):
            continue
        bases = patch.bases.get(path)
        if bases is not None and not any(same(path, b, theirs, model, system) for b in bases):
            conflicts.append(Conflict(path, text, theirs))
            continue
        if path in usual and (not text or same(path, text, usual[path], model, system)):
            changed.pop(path, None)
            continue
        _set(changed, path, text)
    for row in patch.deleted:
        group, row_id = row.split(".")
        differing = [
            (path, kept.get(path, defaults.get(_shape(path), "")))
            for path, seen in patch.bases.items()
            if path.startswith(f"{row}.")
            and not any(
                same(path, base, kept.get(path, defaults.get(_shape(path), "")), model, system)
                for base in seen
            )
        ]
        if row in rows and differing:
            conflicts.append(Conflict(differing[0][0], gettext("(row deleted)"), differing[0][1]))
            continue
        if group in changed:
            changed[group] = [item for item in changed[group] if item.get("id") != row_id]
    check_rows(changed, document)
    return changed, conflicts


def check_rows(document: Mapping[str, Any], before: Mapping[str, Any]) -> None:
    """Raises :class:`RefusedError` where a list has grown beyond what a sheet takes."""
    for name, value in document.items():
        if not isinstance(value, list) or len(value) <= MAX_ROWS:
            continue
        if len(value) > len(before.get(name) or ()):
            raise RefusedError(
                gettext(
                    "A list takes at most {max_rows} rows, and this would be {many:,}: nothing"
                    " of it was kept."
                ).format(max_rows=MAX_ROWS, many=len(value))
            )


def same(path: str, typed: str, kept: str, model: type[Entries], system: UnitSystem) -> bool:
    """Whether a text as typed is the text that is kept: the same, or the same once its bare
    figure has its unit."""
    if typed == kept:
        return True
    head, *rest = path.split(".")
    one = {head: [{"id": rest[0], rest[1]: typed}]} if rest else {head: typed}
    named = name_units(model, one, system)
    return bool((named[head][0][rest[1]] if rest else named[head]) == kept)


def as_text(value: Any) -> str:
    """An entry as the form shows it."""
    if isinstance(value, bool):
        return "yes" if value else ""
    return "" if value is None else str(value)


def texts(document: Mapping[str, Any], model: type[Entries]) -> dict[str, str]:
    """Every entry of a document as the form shows it, those not given at their default."""
    found: dict[str, str] = {}
    for spec in fields(model):
        if spec.kind != "rows":
            found[spec.name] = as_text(document.get(spec.name, spec.default))
            continue
        for row_id, row in _listed(document.get(spec.name)):
            for column in spec.columns:
                path = f"{spec.name}.{row_id}.{column.name}"
                found[path] = as_text(row.get(column.name, column.default))
    return found


def row_ids(document: Mapping[str, Any], model: type[Entries]) -> dict[str, list[str]]:
    """The rows of each list, by their ids, in their order."""
    return {
        spec.name: [row_id for row_id, _ in _listed(document.get(spec.name))]
        for spec in fields(model)
        if spec.kind == "rows"
    }


def _listed(rows: Any) -> list[tuple[str, Mapping[str, Any]]]:
    found = rows if isinstance(rows, list) else []
    return [
        (str(row.get("id") or f"r{index}"), row)
        for index, row in enumerate(found)
        if isinstance(row, Mapping)
    ]


def _rows_of(document: Mapping[str, Any]) -> Iterable[tuple[str, str]]:
    for name, value in document.items():
        for row_id, _ in _listed(value):
            yield name, row_id


def _set(document: Document, path: str, text: str) -> None:
    head, *rest = path.split(".")
    if not rest:
        document[head] = text
        return
    row_id, column = rest
    rows = document.setdefault(head, [])
    for index, row in enumerate(rows):
        if (row.get("id") or f"r{index}") == row_id:
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
