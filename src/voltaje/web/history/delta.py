"""What changed between two documents of entries, as a list of small steps that go both ways.

A step is ``[path, before, after]``, ``None`` where nothing was or is. Paths are ``[entry]``,
``[list, row]`` for a row that came or went, ``[list, row, column]`` for one cell, and
``[list, ORDER]`` with the ids of the rows where their order is another.
"""

from __future__ import annotations

import copy
from collections.abc import Iterable, Mapping
from typing import Any, Literal

from voltaje.core.entries import Document, FormerIds, path_of_today
from voltaje.core.entries import of_today as entries_of_today

Step = list[Any]
Side = Literal["before", "after"]
ORDER = "*"


def given(document: Mapping[str, Any]) -> Document:
    """The document without entries that are ``None``: not given is not there."""
    found: Document = {}
    for name, value in document.items():
        if isinstance(value, list):
            found[name] = [given(row) if isinstance(row, Mapping) else row for row in value]
        elif value is not None:
            found[name] = value
    return found


def diff(before: Mapping[str, Any], after: Mapping[str, Any]) -> list[Step]:
    """The steps from one document to another; both as :func:`given`."""
    steps: list[Step] = []
    for name in [*before, *(n for n in after if n not in before)]:
        old, new = before.get(name), after.get(name)
        if old == new:
            continue
        old_rows, new_rows = _rows(old), _rows(new)
        if old_rows is None or new_rows is None:
            steps.append([[name], old, new])
        else:
            steps += _row_steps(name, old_rows, new_rows)
    return steps


def apply(document: Mapping[str, Any], steps: Iterable[Step], side: Side) -> Document:
    """The document as it was before, or is after, the steps."""
    found: Document = copy.deepcopy(dict(document))
    orders: dict[str, list[str]] = {}
    for path, before, after in steps:
        value = copy.deepcopy(before if side == "before" else after)
        if len(path) == 1:
            _put(found, path[0], value)
        elif path[1] == ORDER:
            orders[path[0]] = value
        elif len(path) == 2:
            rows = [row for row in found.get(path[0], []) if row.get("id") != path[1]]
            found[path[0]] = rows if value is None else [*rows, value]
        else:
            for row in found.get(path[0], []):
                if row.get("id") == path[1]:
                    _put(row, path[2], value)
    for name, ids in orders.items():
        found[name] = _in_order(found.get(name, []), ids)
    return found


def of_today(steps: Iterable[Step], ids: FormerIds) -> list[Step]:
    """The steps of an earlier version under the ids that entries have now."""
    found: list[Step] = []
    for path, *values in steps:
        now = path_of_today(path, ids)
        if len(now) == 2 and now[1] != ORDER:  # a row that came or went
            whole = [row and entries_of_today({now[0]: [row]}, ids)[now[0]][0] for row in values]
        elif len(now) == 1:
            whole = [entries_of_today({now[0]: value}, ids)[now[0]] for value in values]
        else:
            whole = values
        found.append([now, *whole])
    return found


def _in_order(rows: list[Document], ids: list[str]) -> list[Document]:
    place = {row_id: index for index, row_id in enumerate(ids)}
    return sorted(rows, key=lambda row: place.get(str(row["id"]), len(place)))


def _put(holder: Document, name: str, value: Any) -> None:
    if value is None:
        holder.pop(name, None)
    else:
        holder[name] = value


def _rows(value: Any) -> dict[str, Document] | None:
    """Rows by id; ``None`` for anything that is not a list of rows with an id each."""
    if not isinstance(value, list):
        return None
    rows = {row.get("id"): row for row in value if isinstance(row, dict)}
    known = len(rows) == len(value) and all(isinstance(key, str) and key for key in rows)
    return rows if known else None  # type: ignore[return-value]


def _row_steps(name: str, old: Mapping[str, Document], new: Mapping[str, Document]) -> list[Step]:
    steps: list[Step] = []
    for key in [*old, *(k for k in new if k not in old)]:
        was, now = old.get(key), new.get(key)
        if was is None or now is None:
            steps.append([[name, key], was, now])
            continue
        for column in [*was, *(c for c in now if c not in was)]:
            if was.get(column) != now.get(column):
                steps.append([[name, key, column], was.get(column), now.get(column)])
    if list(old) != list(new):
        steps.append([[name, ORDER], list(old), list(new)])
    return steps
