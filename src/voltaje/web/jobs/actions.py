"""What is done to a job and its tree. Each is one revision, and what is done twice is done once:
what is made has its id from whoever asks for it."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from typing import Any

from django.db import transaction
from django.utils.translation import gettext, gettext_lazy

from voltaje.core.codes import edition as book_of
from voltaje.core.entries import Document
from voltaje.core.kinds import kind
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import Offer, told
from voltaje.core.rules.interface import code_of
from voltaje.core.sizing import Preference
from voltaje.web.history import revisions
from voltaje.web.history.revisions import GoneError, RefusedError, State
from voltaje.web.jobs import recordings
from voltaje.web.jobs.beginnings import building
from voltaje.web.jobs.models import Job, Part, Reading

BEGINNINGS = {
    "dwelling": (gettext_lazy("Empty dwelling"), gettext_lazy("on its service")),
    "board": (gettext_lazy("Empty board"), gettext_lazy("with its feeder, for circuits")),
    "supply": (gettext_lazy("Supply only"), gettext_lazy("the rest is added by hand")),
}
# between two parts under one parent, so that others can go between
GAP = 1024
MOST_POSITION = 2**30


class MisplacedError(RefusedError):
    """A part that may not stand there. ``str()`` says why."""


def create_job(
    user: Any,
    name: str,
    edition: str,
    units: UnitSystem,
    entries: dict[str, Any] | None = None,
    system: str = "1ph-120/240",
    part: str = "",
    supply: str = "",
    begins: str = "dwelling",
    job_id: uuid.UUID | None = None,
    preference: Preference = "smallest",
    usual: Mapping[str, str] | None = None,
    habits: Mapping[str, Any] | None = None,
) -> Job:
    """A job with a supply and what it begins with, as its first revision; ``usual`` are values that
    the supply sets for all that hangs below it, ``habits`` further settings of the job. ``begins``
    is one of the beginnings, a building (with its own supply) or a kind of part; ``part`` names the
    last one and ``entries`` are its own. Asked twice with one ``job_id`` it makes one job. Raises
    :class:`GoneError` for the id of somebody else's."""
    chain: list[tuple[str, str, Document]] = [
        ("supply", supply or gettext("Utility service"), {"system": system, **(usual or {})})
    ]
    if begins == "board":
        chain += [
            (_feeder(edition), gettext("Feeder 1"), {}),
            ("board", part or gettext("Board 1"), entries or {}),
        ]
    elif begins != "supply" and building(begins) is None:
        chain.append((begins, part or told(kind(begins).label), entries or {}))
    wanted: dict[str, State] = {}
    found = building(begins)
    if found is not None:
        tree = found.plant(code_of(book_of(edition).family))
        _collect(tree, None, GAP, wanted)
    else:
        ids = [str(uuid.uuid4()) for _ in chain]
        wanted = {
            ids[index]: _state(of, label, ids[index - 1] if index else None, GAP, document)
            for index, (of, label, document) in enumerate(chain)
        }
    with transaction.atomic():
        job, made = Job.objects.get_or_create(
            pk=job_id or uuid.uuid4(),
            defaults={
                "owner": user,
                "name": name,
                "edition": edition,
                "units": units,
                "preference": preference,
                **(habits or {}),
            },
        )
        if job.owner_id != user.pk:
            raise GoneError(gettext("This form was used before: reload the page."))
        if made:
            revisions.write(revisions.locked(job), user, wanted, "create")
            job.refresh_from_db()
    return job


def _state(of: str, name: str, parent: str | None, position: int, entries: Document) -> State:
    return {
        "kind": of,
        "name": name,
        "parent": parent,
        "position": position,
        "entries": entries,
    }


def plant(job: Job, user: Any, tree: Any, parent: Part | None = None) -> None:
    """Adds a part and all that stands under it, as one revision. ``tree`` is (kind, name,
    entries, parts under it)."""
    wanted: dict[str, State] = {}
    with revisions.changing(job) as held:
        _collect(tree, str(parent.pk) if parent else None, end_under(held, parent), wanted)
        revisions.write(held, user, wanted)


def _collect(node: Any, above: str | None, position: int, wanted: dict[str, State]) -> None:
    """The states of a part and all that stands under it, by new ids."""
    key = str(uuid.uuid4())
    of, name, entries, under = node
    wanted[key] = _state(of, name, above, position, entries)
    for index, child in enumerate(under, 1):
        _collect(child, key, index * GAP, wanted)


def _feeder(id: str) -> str:
    """What feeds a board under an edition: a feeder, or a distribution circuit."""
    code = code_of(book_of(id).family)
    return "feeder" if kind("feeder").covers(code) else "distribution"


def beginning(job: Job) -> Part:
    """The part that a new job was made for: the one that holds no other."""
    parts = job.loaded()
    above = {part.parent_id for part in parts}
    return next(part for part in parts if part.pk not in above)


def part_of(job: Job, part_id: str | None) -> Part:
    """The job's part of that id. Raises :class:`GoneError`."""
    for part in job.loaded():
        if str(part.pk) == part_id:
            return part
    raise GoneError(
        gettext("The part is not there any more: another tab has deleted it, or an undo.")
    )


def place_under(job: Job, of: str, parent_id: str | None, moving: str = "") -> Part | None:
    """The part under which one of kind ``of`` may stand. Raises :class:`MisplacedError`."""
    if parent_id is None:
        if not kind(of).root:
            raise MisplacedError(gettext("Only a supply stands by itself: put this under one."))
        return None
    by_id = {str(part.pk): part for part in job.loaded()}
    parent = by_id.get(parent_id)
    if parent is None:
        raise MisplacedError(gettext("The part to stand under is not there any more."))
    if kind(of).root:
        raise MisplacedError(gettext("A supply stands by itself."))
    if not kind(parent.kind).holds_parts:
        raise MisplacedError(
            gettext("Nothing stands under this: {label}.").format(
                label=told(kind(parent.kind).label)
            )
        )
    above: Part | None = parent
    while above is not None:
        if str(above.pk) == moving:
            raise MisplacedError(gettext("A part cannot stand under itself."))
        above = by_id.get(str(above.parent_id))
    return parent


def free_name(job: Job, of: str) -> str:
    """A name for a new part: its kind and the next number."""
    label = told(kind(of).label)
    taken = {part.name for part in job.loaded()}
    number = 1
    while f"{label} {number}" in taken:
        number += 1
    return f"{label} {number}"


def add_part(
    job: Job,
    user: Any,
    of: str,
    parent_id: str | None,
    name: str = "",
    entries: dict[str, Any] | None = None,
    part_id: str = "",
) -> Part:
    """A new part, last under its parent. Raises :class:`RefusedError`."""
    with revisions.changing(job) as held:
        return add_held(held, user, of, parent_id, name, entries, part_id)


def add_held(
    job: Job,
    user: Any,
    of: str,
    parent_id: str | None,
    name: str = "",
    entries: dict[str, Any] | None = None,
    part_id: str = "",
) -> Part:
    """The same on a job that is held already; asked twice with one id it adds one part."""
    part_id = part_id or str(uuid.uuid4())
    if any(str(part.pk) == part_id for part in job.loaded()):
        return part_of(job, part_id)
    parent = place_under(job, of, parent_id)
    state = _state(of, name or free_name(job, of), parent_id, end_under(job, parent), entries or {})
    revisions.write(job, user, {part_id: state})
    return part_of(job, part_id)


def put_ahead(
    job: Job, user: Any, part_id: str, offer: Offer, made_id: str = "", name: str = ""
) -> Part:
    """What a finding offers, put between a part and what it stands under, as one revision; asked
    twice with one id it is done once. Raises :class:`RefusedError`."""
    with revisions.changing(job) as held:
        made_id = made_id or str(uuid.uuid4())
        part = part_of(held, part_id)
        if any(str(item.pk) == made_id for item in held.loaded()):
            return part_of(held, made_id)
        here = revisions.part_state(part)
        place_under(held, offer.kind, here["parent"])
        ahead = _state(offer.kind, name[:80], here["parent"], here["position"], dict(offer.entries))
        own = {**here["entries"], **dict(offer.own)}
        wanted: dict[str, State] = {
            made_id: ahead,
            part_id: {**here, "parent": made_id, "position": GAP, "entries": own},
        }
        revisions.write(held, user, wanted)
        return part_of(held, made_id)


def change_entries(job: Job, user: Any, changes: Mapping[str, Mapping[str, Any]]) -> None:
    """Sets entries of several parts, by their ids, as one revision. Raises :class:`RefusedError`
    where one is not there any more."""
    with revisions.changing(job) as held:
        wanted: dict[str, State] = {}
        for key, texts in changes.items():
            state = revisions.part_state(part_of(held, key))
            wanted[key] = {**state, "entries": {**state["entries"], **texts}}
        revisions.write(held, user, wanted)


def first_supply(job: Job) -> Part | None:
    """The supply under which a filed sheet is put."""
    return next((part for part in job.loaded() if kind(part.kind).root), None)


def end_under(job: Job, parent: Part | None) -> int:
    """The position behind the last part under a parent."""
    siblings = job.under(parent)
    return siblings[-1].position + GAP if siblings else GAP


def places(siblings: Sequence[Part], before_id: str | None, many: int = 1) -> dict[str, int]:
    """Positions for ``many`` newcomers, under the keys ``"0"``, ``"1"`` …, before a sibling or
    last; and new positions of siblings where there is no room between."""
    at = next((i for i, p in enumerate(siblings) if str(p.pk) == before_id), len(siblings))
    low = siblings[at - 1].position if at else 0
    high = siblings[at].position if at < len(siblings) else low + GAP * (many + 1)
    step = min(GAP, (high - low) // (many + 1))
    if step > 0 and high < MOST_POSITION:
        return {str(index): low + step * (index + 1) for index in range(many)}
    order = [str(p.pk) for p in siblings]
    order[at:at] = [str(index) for index in range(many)]
    return {key: (index + 1) * GAP for index, key in enumerate(order)}


def move_held(
    job: Job, user: Any, part_id: str, parent_id: str | None, before_id: str | None = None
) -> Part:
    """Puts a part under another, before a sibling or last; on a job that is held.

    Raises :class:`RefusedError`.
    """
    part = part_of(job, part_id)
    parent = place_under(job, part.kind, parent_id, str(part.pk))
    siblings = [p for p in job.under(parent) if p.pk != part.pk]
    found = places(siblings, before_id)
    here = {**revisions.part_state(part), "parent": parent_id, "position": found.pop("0")}
    wanted: dict[str, State] = {str(part.pk): here}
    for sibling in siblings:
        if str(sibling.pk) in found:
            position = found[str(sibling.pk)]
            wanted[str(sibling.pk)] = {**revisions.part_state(sibling), "position": position}
    revisions.write(job, user, wanted)
    return part_of(job, part_id)


def step_held(job: Job, user: Any, part_id: str, step: str) -> Part:
    """Moves a part by the keyboard: up, down, in (under the sibling above), out (after its
    parent). Raises :class:`MisplacedError` where there is nowhere to go."""
    part = part_of(job, part_id)
    by_id = {p.pk: p for p in job.loaded()}
    above = by_id.get(part.parent_id) if part.parent_id else None
    siblings = job.under(above)
    index = siblings.index(part)
    above_id = str(above.pk) if above else None
    if step == "up" and index:
        return move_held(job, user, part_id, above_id, str(siblings[index - 1].pk))
    if step == "down" and index + 1 < len(siblings):
        after = siblings[index + 2] if index + 2 < len(siblings) else None
        return move_held(job, user, part_id, above_id, str(after.pk) if after else None)
    if step == "in" and index:
        return move_held(job, user, part_id, str(siblings[index - 1].pk))
    if step == "out" and above is not None:
        grand = by_id.get(above.parent_id) if above.parent_id else None
        uncles = job.under(grand)
        place = uncles.index(above) + 1
        before = str(uncles[place].pk) if place < len(uncles) else None
        return move_held(job, user, part_id, str(grand.pk) if grand else None, before)
    raise MisplacedError(gettext("There is nowhere to go that way."))


def subtree(job: Job, part: Part) -> list[Part]:
    """A part and all below it, parents first."""
    by_parent: dict[Any, list[Part]] = {}
    for item in job.loaded():
        by_parent.setdefault(item.parent_id, []).append(item)
    found, queue = [], [part]
    for item in queue:
        found.append(item)
        queue += by_parent.get(item.pk, [])
    return found


def duplicate_held(job: Job, user: Any, part_id: str, copy_id: str = "") -> Part:
    """A copy of a part and all below it, right after it; on a job that is held. Asked twice with
    one ``copy_id`` it makes one. Raises :class:`RefusedError`."""
    part = part_of(job, part_id)
    root = uuid.UUID(copy_id) if copy_id else uuid.uuid4()
    if any(p.pk == root for p in job.loaded()):
        return part_of(job, str(root))
    members = subtree(job, part)
    new_ids = {p.pk: str(uuid.uuid5(root, str(p.pk))) for p in members} | {part.pk: str(root)}
    siblings = [p for p in job.loaded() if p.parent_id == part.parent_id]
    after = siblings.index(part) + 1
    before = str(siblings[after].pk) if after < len(siblings) else None
    found = places(siblings, before)
    wanted: dict[str, State] = {
        str(p.pk): {**revisions.part_state(p), "position": found[str(p.pk)]}
        for p in siblings
        if str(p.pk) in found
    }
    for item in members:
        state = revisions.part_state(item)
        # what somebody accepted was accepted of that one
        state["entries"] = {k: v for k, v in state["entries"].items() if k != "accepted"}
        if item is part:
            state |= {
                "name": gettext("{name} (copy)").format(name=item.name[:72]),
                "position": found["0"],
            }
        elif item.parent_id is not None:
            state["parent"] = new_ids[item.parent_id]
        wanted[new_ids[item.pk]] = state
    revisions.write(job, user, wanted)
    return part_of(job, str(root))


def without(job: Job, part_ids: Sequence[str]) -> dict[str, State]:
    """The wanted states that take parts and all below them out. What is gone already is passed
    over: it is as it should be."""
    by_id = {str(part.pk): part for part in job.loaded()}
    return {
        str(item.pk): None
        for part_id in part_ids
        if part_id in by_id
        for item in subtree(job, by_id[part_id])
    }


def delete_held(job: Job, user: Any, part_id: str) -> str:
    """Takes a part and all below it out; undo brings them back. The id of what to choose next:
    the sibling that takes its place, the one above, or what it stood under."""
    part = part_of(job, part_id)
    siblings = [p for p in job.loaded() if p.parent_id == part.parent_id]
    index = siblings.index(part)
    revisions.write(job, user, without(job, [part_id]))
    near = siblings[index + 1 : index + 2] or siblings[max(0, index - 1) : index]
    return str(near[0].pk) if near else str(part.parent_id or "")


def duplicate_job(job: Job, user: Any, copy_id: uuid.UUID | None = None) -> Job:
    """A copy with all parts and amendments, without revisions and readings."""
    return copy_job(
        job, user, gettext("{name} (copy)").format(name=job.name[:72]), copy_id, readings=False
    )


def copy_job(
    job: Job, user: Any, name: str, copy_id: uuid.UUID | None = None, readings: bool = True
) -> Job:
    """A copy of a job for an account. Asked twice with one ``copy_id`` it makes one. Raises
    :class:`GoneError` for the id of somebody else's."""
    settings = {field: getattr(job, field) for field in revisions.JOB_FIELDS}
    with transaction.atomic():
        copy, made = Job.objects.get_or_create(
            pk=copy_id or uuid.uuid4(), defaults={**settings, "owner": user, "name": name}
        )
        if copy.owner_id != user.pk:
            raise GoneError(gettext("This form was used before: reload the page."))
        if not made:
            return copy
        new_ids = {str(part.pk): str(uuid.uuid4()) for part in job.loaded()}
        wanted: dict[str, State] = {}
        for part in job.loaded():
            state = revisions.part_state(part)
            parent = state["parent"]
            wanted[new_ids[str(part.pk)]] = {**state, "parent": parent and new_ids[parent]}
        for item in job.amendments.all():
            wanted[revisions.AMENDMENT + str(uuid.uuid4())] = {
                field: getattr(item, field) for field in revisions.AMENDMENT_FIELDS
            }
        revisions.write(revisions.locked(copy), user, wanted, "create")
        if readings:
            _copy_measured(job, copy, new_ids)
        copy.refresh_from_db()
    return copy


def _copy_measured(job: Job, copy: Job, new_ids: Mapping[str, str]) -> None:
    """The logbook and the recordings of a job for its copy."""
    _copy_readings(job, copy, new_ids)
    recordings.copy(job, copy, new_ids)


def _copy_readings(job: Job, copy: Job, new_ids: Mapping[str, str]) -> None:
    found = list(job.readings.all())
    for reading in found:
        reading.pk, reading.job = uuid.uuid4(), copy
        part = new_ids.get(str(reading.part_id))
        reading.part_id = uuid.UUID(part) if part else None
        reading._state.adding = True
    Reading.objects.bulk_create(found)


# each on a job that is not held yet ---------------------------------------------------------


def move_part(
    job: Job, user: Any, part_id: str, parent_id: str | None, before_id: str | None = None
) -> Part:
    """:func:`move_held` in a transaction of its own."""
    with revisions.changing(job) as held:
        return move_held(held, user, part_id, parent_id, before_id)


def duplicate_part(job: Job, user: Any, part_id: str) -> Part:
    """:func:`duplicate_held` in a transaction of its own."""
    with revisions.changing(job) as held:
        return duplicate_held(held, user, part_id)


def delete_part(job: Job, user: Any, part_id: str) -> str:
    """:func:`delete_held` in a transaction of its own."""
    with revisions.changing(job) as held:
        return delete_held(held, user, part_id)
