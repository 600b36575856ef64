"""Several rows of a board's table changed in one act: an entry set on all of them, or all put onto
another board. One revision each, so that one undo takes it back."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from django.utils.translation import gettext

from voltaje.core.entries import Document, FieldSpec, Problem, fields, name_units
from voltaje.core.kinds import Context, kind
from voltaje.core.report import told
from voltaje.web.history import patch, revisions
from voltaje.web.history.patch import as_text
from voltaje.web.history.revisions import RefusedError, State
from voltaje.web.jobs import actions
from voltaje.web.jobs.models import Job, Part
from voltaje.web.kinds import presentation
from voltaje.web.parts.form import FormField

# what is asked of one circuit by itself: its place in the board, and names that group it
OWN = ("position", "pinned")
# what is most often the same for many, before the others
FIRST = ("wiring_method", "insulation", "cable", "reference_method", "terminals", "ambient")


@dataclass(frozen=True, slots=True)
class ManyRows:
    """Rows that are chosen: the entries that may be set on them, by group; the one that is chosen,
    as a field with what all of them have; what they have now; the boards that they may go to."""

    parts: tuple[Part, ...]
    groups: tuple[tuple[str, tuple[FieldSpec, ...]], ...]
    field: FormField | None
    now: str
    boards: tuple[Part, ...]


def chosen(job: Job, board: Part, keys: Sequence[str]) -> list[Part]:
    """The rows of the board that have these ids, in its order; what is gone is passed over."""
    return [part for part in job.under(board) if str(part.pk) in keys]


def look(job: Job, board: Part, keys: Sequence[str], entry: str) -> ManyRows:
    """What can be done with the rows of these ids, with ``entry`` to be set, or the usual first."""
    parts = chosen(job, board, keys)
    specs, groups = _entries(job, parts)
    name = entry if entry in specs else next((n for n in (*FIRST, *specs) if n in specs), "")
    found, now = None, ""
    if name:
        spec = specs[name]
        texts = Counter(
            as_text(job.shown(part).get(name, own.default))
            for part in parts
            if (own := _spec_of(job, part, name)) is not None
        )
        same = next(iter(texts)) if len(texts) == 1 else ""
        found = FormField(spec, f"many.{name}", same, "")
        now = ", ".join(
            gettext("{value} on {count}").format(value=_words(spec, text), count=count)
            for text, count in texts.most_common()
        )
    boards = tuple(
        part
        for part in job.loaded()
        if presentation(part.kind).table and part.pk != board.pk and part not in parts
    )
    return ManyRows(tuple(parts), groups, found, now, boards)


def _words(spec: FieldSpec, text: str) -> str:
    if spec.kind == "check":
        return gettext("yes") if text == "yes" else gettext("no")
    label = dict(spec.choices).get(text)
    return told(label) if label else text or gettext("nothing")


def _spec_of(job: Job, part: Part, name: str) -> FieldSpec | None:
    """An entry of a part that may be set on many; ``None`` where it has none of that name."""
    specs = (s for s in fields(job.entries_of(part.kind)) if s.kind != "rows" and s.name not in OWN)
    return next((spec for spec in specs if spec.name == name), None)


def _entries(
    job: Job, parts: Sequence[Part]
) -> tuple[dict[str, FieldSpec], tuple[tuple[str, tuple[FieldSpec, ...]], ...]]:
    """The entries that at least one of the rows has, by name and by group; choices of all."""
    specs: dict[str, FieldSpec] = {}
    titles: dict[str, str] = {}
    for part in parts:
        of = kind(part.kind)
        titles |= {name: title for name, title in of.form_groups.items() if name not in titles}
        for spec in fields(job.entries_of(part.kind)):
            if spec.kind == "rows" or spec.name in OWN or spec.group not in of.form_groups:
                continue
            known = specs.setdefault(spec.name, spec)
            more = tuple(choice for choice in spec.choices if choice not in known.choices)
            if more:
                specs[spec.name] = replace(known, choices=(*known.choices, *more))
    # how they are run is what is changed most often, the loads themselves least
    order = sorted(titles, key=lambda name: (name not in ("run", "protection", "hand"), name))
    groups = ((titles[name], tuple(s for s in specs.values() if s.group == name)) for name in order)
    return specs, tuple((title, found) for title, found in groups if found)


def setting(
    job: Job, board: Part, keys: Sequence[str], entry: str, text: str
) -> tuple[dict[str, State], str]:
    """The states of the rows with an entry set on all that have it, and what was done in words.
    Raises :class:`RefusedError` where a row does not take the text."""
    parts = chosen(job, board, keys)
    wanted: dict[str, State] = {}
    left: list[str] = []
    for part in parts:
        model, spec = job.entries_of(part.kind), _spec_of(job, part, entry)
        if spec is None or (spec.kind == "choice" and text not in dict(spec.choices)):
            left.append(part.name)
            continue
        found = patch.Patch(texts={entry: patch.short_enough(text)})
        document, _ = patch.apply(part.entries, found, model, job.units, job.usual_texts(part))
        document = name_units(model, document, job.units)
        if (problem := _problem(job, part, document, entry)) is not None:
            raise RefusedError(
                gettext("{entry} of {name}: {why}").format(
                    entry=told(spec.label), name=part.name, why=problem.words
                )
            )
        wanted[str(part.pk)] = {**revisions.part_state(part), "entries": document}
    if not wanted:
        raise RefusedError(gettext("None of the chosen rows has that entry with that value."))
    words = gettext("Changed on {count} of {all}.").format(count=len(wanted), all=len(parts))
    if left:
        words += " " + gettext("Left as they are: {names}.").format(names=", ".join(left))
    return wanted, words


def _problem(job: Job, part: Part, document: Document, entry: str) -> Problem | None:
    """What is wrong with that entry of the document: it is not set on many rows at once."""
    problems = kind(part.kind).read(document, Context(job.code(), job.units)).problems
    return next((one for one in problems if one.path == entry), None)


def moving(job: Job, board: Part, keys: Sequence[str], to: str) -> tuple[dict[str, State], str]:
    """The states that put the rows onto another board, behind what stands there; their places are
    proposed anew. Raises :class:`RefusedError` where one of them may not stand there."""
    parts = chosen(job, board, keys)
    if not parts:
        raise RefusedError(gettext("The chosen rows are not on this board any more."))
    goal = actions.part_of(job, to)
    for part in parts:
        actions.place_under(job, part.kind, to, str(part.pk))
    siblings = job.under(goal)
    positions = actions.places(siblings, None, len(parts))
    wanted: dict[str, State] = {}
    for sibling in siblings:
        if (key := str(sibling.pk)) in positions:
            wanted[key] = {**revisions.part_state(sibling), "position": positions[key]}
    for index, part in enumerate(parts):
        entries: Mapping[str, Any] = {k: v for k, v in part.entries.items() if k not in OWN}
        wanted[str(part.pk)] = {
            **revisions.part_state(part),
            "parent": to,
            "position": positions[str(index)],
            "entries": dict(entries),
        }
    words = gettext("{count} moved to {name}.").format(count=len(parts), name=goal.name)
    return wanted, words
