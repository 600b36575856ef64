"""What is done to a job and its tree. Each is one revision."""

from __future__ import annotations

import uuid
from typing import Any

from django.db import transaction

from voltaje.core.parts import kind
from voltaje.web.jobs import revisions
from voltaje.web.jobs.models import Job, Part

BEGINNINGS = {
    "dwelling": "a dwelling on its service",
    "board": "a feeder and a board for circuits",
    "supply": "only its supply",
}


@transaction.atomic
def create_job(
    user: Any, name: str, edition: str, units: str, entries: dict[str, Any] | None = None,
    system: str = "1ph-120/240", part: str = "", supply: str = "Utility service",
    begins: str = "dwelling",
) -> Job:  # fmt: skip
    """A job with a supply and what it begins with, as its first revision. ``begins`` is one of
    the beginnings or a kind of part; ``part`` names the last one and ``entries`` are its own."""
    job = Job.objects.create(owner=user, name=name, edition=edition, units=units)
    chain = [("supply", supply, {"system": system})]
    if begins == "board":
        chain += [("feeder", "Feeder 1", {}), ("board", part or "Board 1", entries or {})]
    elif begins != "supply":
        chain.append((begins, part or kind(begins).label, entries or {}))
    ids = [str(uuid.uuid4()) for _ in chain]

    def act() -> None:
        for index, (of, label, document) in enumerate(chain):
            Part.objects.create(
                id=ids[index], job=job, kind=of, name=label, entries=document,
                parent_id=ids[index - 1] if index else None,
            )  # fmt: skip

    revisions.change(revisions.locked(job), user, ids, act, "create")
    job.refresh_from_db()
    return job


@transaction.atomic
def plant(job: Job, user: Any, tree: Any, parent: Part | None = None) -> None:
    """Adds a part and all that stands under it, as one revision. ``tree`` is (kind, name,
    entries, parts under it)."""
    job = revisions.locked(job)
    flat: list[tuple[str, Any, str | None, int]] = []

    def collect(node: Any, above: str | None, position: int) -> None:
        key = str(uuid.uuid4())
        flat.append((key, node, above, position))
        for index, child in enumerate(node[3]):
            collect(child, key, index)

    collect(tree, str(parent.pk) if parent else None, _end(job, parent))

    def act() -> None:
        for key, (of, name, entries, _), above, position in flat:
            Part.objects.create(
                id=key, job=job, kind=of, name=name, entries=entries, parent_id=above,
                position=position,
            )  # fmt: skip

    revisions.change(job, user, [key for key, *_ in flat], act)


def beginning(job: Job) -> Part:
    """The part that a new job was made for: the one that holds no other."""
    parts = list(job.parts.all())
    above = {part.parent_id for part in parts}
    return next(part for part in parts if part.pk not in above)


class MisplacedError(ValueError):
    """A part that may not stand there. ``str()`` says why."""


def place_under(job: Job, of: str, parent_id: str | None, moving: str = "") -> Part | None:
    """The part under which one of kind ``of`` may stand. Raises :class:`MisplacedError`."""
    if parent_id is None:
        if of != "supply":
            raise MisplacedError("Only a supply stands by itself: put this under one.")
        return None
    parent = job.parts.filter(pk=parent_id).first()
    if parent is None:
        raise MisplacedError("The part to stand under is not there any more.")
    if of == "supply":
        raise MisplacedError("A supply stands by itself.")
    if not kind(parent.kind).holds_parts:
        raise MisplacedError(f"Nothing stands under a {kind(parent.kind).label.lower()}.")
    above = parent
    while above is not None:
        if str(above.pk) == moving:
            raise MisplacedError("A part cannot stand under itself.")
        above = above.parent
    return parent


def free_name(job: Job, of: str) -> str:
    """A name for a new part: its kind and the next number."""
    label = kind(of).label
    taken = set(job.parts.values_list("name", flat=True))
    number = 1
    while f"{label} {number}" in taken:
        number += 1
    return f"{label} {number}"


@transaction.atomic
def add_part(
    job: Job, user: Any, of: str, parent_id: str | None, name: str = "",
    entries: dict[str, Any] | None = None,
) -> Part:  # fmt: skip
    """A new part, last under its parent. Raises :class:`MisplacedError`."""
    job = revisions.locked(job)
    parent = place_under(job, of, parent_id)
    part_id = str(uuid.uuid4())
    name = name or free_name(job, of)

    def act() -> None:
        Part.objects.create(
            id=part_id, job=job, kind=of, name=name, parent=parent, entries=entries or {},
            position=_end(job, parent),
        )  # fmt: skip

    revisions.change(job, user, [part_id], act)
    return Part.objects.get(pk=part_id)


def first_supply(job: Job) -> Part | None:
    """The supply under which a filed sheet is put."""
    return job.parts.filter(kind="supply").order_by("position").first()


def _end(job: Job, parent: Part | None) -> int:
    last = job.parts.filter(parent=parent).order_by("-position").first()
    return last.position + 1 if last else 0


@transaction.atomic
def move_part(
    job: Job, user: Any, part_id: str, parent_id: str | None, before_id: str | None = None
) -> Part:
    """Puts a part under another, before a sibling or last. Raises :class:`MisplacedError`."""
    job = revisions.locked(job)
    part = job.parts.get(pk=part_id)
    parent = place_under(job, part.kind, parent_id, str(part.pk))
    siblings = [p for p in job.parts.filter(parent=parent).order_by("position") if p != part]
    at = next((i for i, p in enumerate(siblings) if str(p.pk) == before_id), len(siblings))
    siblings.insert(at, part)

    def act() -> None:
        for position, sibling in enumerate(siblings):
            Part.objects.filter(pk=sibling.pk).update(parent=parent, position=position)

    revisions.change(job, user, [str(p.pk) for p in siblings], act)
    return Part.objects.get(pk=part_id)


@transaction.atomic
def step_part(job: Job, user: Any, part_id: str, step: str) -> Part:
    """Moves a part by the keyboard: up, down, in (under the sibling above), out (after its
    parent). Raises :class:`MisplacedError` where there is nowhere to go."""
    part = job.parts.get(pk=part_id)
    siblings = list(job.parts.filter(parent=part.parent).order_by("position"))
    index = siblings.index(part)
    above = str(part.parent_id) if part.parent_id else None
    if step == "up" and index:
        return move_part(job, user, part_id, above, str(siblings[index - 1].pk))
    if step == "down" and index + 1 < len(siblings):
        after = siblings[index + 2] if index + 2 < len(siblings) else None
        return move_part(job, user, part_id, above, str(after.pk) if after else None)
    if step == "in" and index:
        return move_part(job, user, part_id, str(siblings[index - 1].pk))
    if step == "out" and part.parent is not None:
        grand = part.parent.parent
        uncles = list(job.parts.filter(parent=grand).order_by("position"))
        place = uncles.index(part.parent) + 1
        before = str(uncles[place].pk) if place < len(uncles) else None
        return move_part(job, user, part_id, str(grand.pk) if grand else None, before)
    raise MisplacedError("There is nowhere to go that way.")


def subtree(job: Job, part: Part) -> list[Part]:
    """A part and all below it, parents first."""
    by_parent: dict[Any, list[Part]] = {}
    for item in job.parts.all():
        by_parent.setdefault(item.parent_id, []).append(item)
    found, queue = [], [part]
    while queue:
        item = queue.pop(0)
        found.append(item)
        queue += by_parent.get(item.pk, [])
    return found


@transaction.atomic
def duplicate_part(job: Job, user: Any, part_id: str) -> Part:
    """A copy of a part and all below it, right after it."""
    job = revisions.locked(job)
    part = job.parts.get(pk=part_id)
    members = subtree(job, part)
    new_ids = {str(p.pk): str(uuid.uuid4()) for p in members}
    later = list(job.parts.filter(parent=part.parent, position__gt=part.position))

    def act() -> None:
        for sibling in later:
            Part.objects.filter(pk=sibling.pk).update(position=sibling.position + 1)
        for item in members:
            top = item.pk == part.pk
            Part.objects.create(
                id=new_ids[str(item.pk)], job=job, kind=item.kind, entries=item.entries,
                name=f"{item.name[:72]} (copy)" if top else item.name,
                position=part.position + 1 if top else item.position,
                parent_id=part.parent_id if top else new_ids[str(item.parent_id)],
            )  # fmt: skip

    targets = [*new_ids.values(), *(str(p.pk) for p in later)]
    revisions.change(job, user, targets, act)
    return Part.objects.get(pk=new_ids[str(part.pk)])


@transaction.atomic
def delete_part(job: Job, user: Any, part_id: str) -> str | None:
    """Takes a part and all below it out; undo brings them back. The id of what stood above."""
    job = revisions.locked(job)
    part = job.parts.get(pk=part_id)
    targets = [str(p.pk) for p in subtree(job, part)]
    above = str(part.parent_id) if part.parent_id else None
    revisions.change(job, user, targets, lambda: part.delete() and None)
    return above


@transaction.atomic
def duplicate_job(job: Job, user: Any) -> Job:
    """A copy with all parts and none of the revisions."""
    name = f"{job.name[:72]} (copy)"
    copy = Job.objects.create(
        owner=user, name=name, edition=job.edition, units=job.units, preference=job.preference,
        prices=job.prices, drop_scheme=job.drop_scheme, drop_branch=job.drop_branch,
        drop_total=job.drop_total,
    )  # fmt: skip
    for item in job.amendments.all():
        item.pk, item.job, item._state.adding = uuid.uuid4(), copy, True
        item.save()
    new_ids = {str(part.pk): str(uuid.uuid4()) for part in job.parts.all()}

    def act() -> None:
        waiting = list(job.parts.all())
        placed: set[str | None] = {None}
        while waiting:
            for part in list(waiting):
                parent = str(part.parent_id) if part.parent_id else None
                if parent in placed:
                    Part.objects.create(
                        id=new_ids[str(part.pk)], job=copy, kind=part.kind, name=part.name,
                        position=part.position, entries=part.entries,
                        parent_id=new_ids[parent] if parent else None,
                    )  # fmt: skip
                    placed.add(str(part.pk))
                    waiting.remove(part)

    revisions.change(revisions.locked(copy), user, list(new_ids.values()), act, "create")
    copy.refresh_from_db()
    return copy
