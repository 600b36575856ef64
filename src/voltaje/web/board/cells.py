"""Cells of a board's table as a page or a file has changed them, put into the job's parts.

A cell is ``(part, column)``; which entry it stands for depends on what the part is. Where another
tab has kept another text since, nothing is overwritten: it is a conflict, as on a sheet.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from django.utils.translation import gettext

from voltaje.core.entries import Document, fields, name_units
from voltaje.web.board import table as board_table
from voltaje.web.board.table import NAME_LIMIT
from voltaje.web.history import patch, revisions
from voltaje.web.history.patch import BadPathError, Conflict
from voltaje.web.history.revisions import State
from voltaje.web.http import intake
from voltaje.web.jobs import actions
from voltaje.web.jobs.models import Job, Part
from voltaje.web.kinds import kinds_as_uses, plain_kind, rows_of

TYPED = ("name", "load", "length")


@dataclass(slots=True)
class Cells:
    """Texts by part and column, the texts each may have started from, rows that the page made
    and rows that it takes out."""

    texts: dict[str, dict[str, str]] = field(default_factory=dict)
    bases: dict[tuple[str, str], tuple[str, ...]] = field(default_factory=dict)
    made: list[str] = field(default_factory=list)
    dropped: list[str] = field(default_factory=list)


def read(posted: Any) -> Cells:
    """``cell:part:column``, ``was:part:column``, ``row-made`` and ``row-out``. Raises
    :class:`BadPathError`."""
    found = Cells()
    for name, values in patch.pairs(posted):
        if name in ("row-made", "row-out"):
            keys = [str(key) for value in values if (key := intake.key(value))]
            if len(keys) != len(values):
                raise BadPathError(name)
            (found.made if name == "row-made" else found.dropped).extend(keys)
            continue
        action, _, path = name.partition(":")
        if action not in ("cell", "was"):
            continue
        part_id, _, column = path.partition(":")
        if intake.key(part_id) is None or column not in board_table.EDITED:
            raise BadPathError(path)
        if action == "cell":
            found.texts.setdefault(part_id, {})[column] = patch.short_enough(values[-1])
        else:
            found.bases[part_id, column] = tuple(values)
    return found


def wanted(job: Job, board: Part, cells: Cells, conflicts: list[Conflict]) -> dict[str, State]:
    """The states of the board's rows with the cells put in; what cannot be comes as conflicts."""
    here = {str(part.pk): part for part in job.under(board)}
    found: dict[str, State] = {}
    fresh = [key for key in cells.made if key not in here and key not in cells.dropped]
    fresh = [key for key in fresh if _is_typed(cells.texts.get(key, {}))]
    positions = actions.places(list(here.values()), None, len(fresh))
    for part_id, position in positions.items():  # where there was no room at the end
        if part_id in here:
            found[part_id] = {**revisions.part_state(here[part_id]), "position": position}
    for index, key in enumerate(fresh):
        number = len(here) + index + 1
        found[key] = _made(job, board, cells.texts[key], positions[str(index)], number)
    for key, texts in cells.texts.items():
        part = here.get(key)
        if key in cells.dropped or (part is None and key in cells.made):
            continue
        if part is None:
            words = next(iter(texts.values()))
            conflicts.append(Conflict(f"{key}:{next(iter(texts))}", words, "", gone=True))
            continue
        state = _patched(job, part, texts, cells.bases, conflicts)
        found[key] = {**state, "position": (found.get(key) or state)["position"]}
    found |= actions.without(job, [key for key in cells.dropped if key in here])
    return found


def _is_typed(texts: Mapping[str, str]) -> bool:
    return any(texts.get(column, "").strip() for column in TYPED)


def _made(
    job: Job, board: Part, texts: Mapping[str, str], position: int, number: int
) -> dict[str, Any]:
    of, document = board_table.document_of(texts.get("use", ""), texts, job.family)
    name = intake.one_line(texts.get("name", ""), NAME_LIMIT) or gettext("Circuit {number}").format(
        number=number
    )
    return {
        "kind": of,
        "name": name,
        "parent": str(board.pk),
        "position": position,
        "entries": name_units(job.entries_of(of), document, job.units),
    }


def _patched(
    job: Job,
    part: Part,
    texts: Mapping[str, str],
    bases: Mapping[tuple[str, str], tuple[str, ...]],
    conflicts: list[Conflict],
) -> dict[str, Any]:
    """A part with its changed cells put in."""
    state = revisions.part_state(part)
    key = str(part.pk)
    if "name" in texts:
        clean = intake.one_line(texts["name"], NAME_LIMIT)
        seen = bases.get((key, "name"))
        if seen is not None and part.name not in (*seen, clean):
            conflicts.append(Conflict(f"{key}:name", clean, part.name))
        elif clean:
            state["name"] = clean
    of, document = _as_used(job, part, texts.get("use"), bases.get((key, "use")), conflicts)
    found = patch.Patch()
    columns: dict[str, str] = {}
    for column, text in texts.items():
        if column == "use" and not text:
            continue
        entry = board_table.entry_of(of, {**document, **_use_of(of, texts)}, column, job.family)
        if column == "name" or entry is None or (column == "use" and of != part.kind):
            continue
        columns[entry] = column
        found.texts[entry] = text
        base = bases.get((key, column))
        # another use gives the load column another entry: what the page had there before says
        # nothing of that one, as long as nothing is given in it
        if base is not None and not (column == "load" and entry not in document):
            found.bases[entry] = base
    document, clashing = patch.apply(document, found, job.entries_of(of), job.units)
    conflicts += [
        Conflict(f"{key}:{columns.get(clash.path, 'load')}", clash.mine, clash.theirs)
        for clash in clashing
    ]
    state["kind"] = of
    state["entries"] = name_units(job.entries_of(of), document, job.units)
    return state


def _use_of(of: str, texts: Mapping[str, str]) -> Document:
    return {"use": texts["use"]} if texts.get("use") and of == plain_kind() else {}


def _as_used(
    job: Job,
    part: Part,
    use: str | None,
    bases: tuple[str, ...] | None,
    conflicts: list[Conflict],
) -> tuple[str, Document]:
    """The kind and the entries of a part once its use is another: a motor or cooking equipment
    is a kind of its own. Entries that the other kind has too stay."""
    of = part.kind
    if not use or of not in rows_of():
        return of, dict(part.entries)
    to = kinds_as_uses(job.family).get(use, plain_kind())
    if to == of or use == rows_of()[of].use:  # what another family's kind has as its use stays
        return of, dict(part.entries)
    kept = part.entries.get("use", "general") if of == plain_kind() else rows_of()[of].use
    if bases is not None and kept not in bases:
        conflicts.append(Conflict(f"{part.pk}:use", use, str(kept)))
        return of, dict(part.entries)
    specs = {spec.name: spec for spec in fields(job.entries_of(to))}
    document: Document = {"use": use} if to == plain_kind() else {}
    load = board_table.load_entry(of, part.entries)
    for name, value in part.entries.items():
        spec = specs.get(name)
        if spec is None or name == "use" or name == load:
            continue
        if spec.kind != "choice" or value in [choice for choice, _ in spec.choices]:
            document[name] = value
    goal = board_table.load_entry(to, document)
    if load and goal and part.entries.get(load):
        document[goal] = part.entries[load]
    return to, document
