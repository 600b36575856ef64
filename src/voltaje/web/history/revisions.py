"""Every save is a revision. Undo, redo and restore are new revisions too: nothing is rewritten.

A change of a job is said as what is *wanted*: the state that each target is to have. A target is
``"job"``, a part's id, or ``"amendment:"`` and an amendment's; a state is a plain dict, ``None``
where the target is not to be. :func:`write` compares that with what is there, writes the
difference in bulk and keeps it as a revision: for each target the fields that changed, before and
after, and of its entries the steps between (see :mod:`delta`). So a revision is as large as what
it changed, and goes both ways.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any

from django.db import transaction
from django.utils.translation import gettext

from voltaje.web.history import delta
from voltaje.web.history.delta import Side
from voltaje.web.jobs.models import Amendment, Job, Part, Revision, Turn
from voltaje.web.jobs.summary import summarise

State = dict[str, Any] | None
KEPT_UNDO = 500
JOB = "job"
JOB_FIELDS = (
    "name",
    "edition",
    "second",
    "units",
    "preference",
    "prices",
    "drop_scheme",
    "drop_branch",
    "drop_total",
    "drop_sizing",
    "drop_method",
    "basis",
    "stock",
    "reserve",
)
AMENDMENT = "amendment:"
AMENDMENT_FIELDS = ("topic", "row", "column", "value", "jurisdiction", "reason")
PART_FIELDS = ("kind", "name", "parent", "position", "entries")
MOST_PARTS = 600
MOST_DEPTH = 24
MOST_AMENDMENTS = 200
TABS_KEPT = 200


class NothingToDoError(Exception):
    """There is nothing to undo, redo or restore."""


class RefusedError(ValueError):
    """A change that a job does not take. ``str()`` says why, in words for the page."""


class GoneError(RefusedError):
    """What was to be changed is not there any more."""


class LaterError(RefusedError):
    """A plan was made from an earlier revision. ``str()`` tells what was changed since."""


SINCE_SHOWN = 3


def check_since(job: Job, number: str, target: str = "") -> None:
    """Raises :class:`LaterError` where the job, or that part of it, was changed after the revision
    that a plan was made from. ``number`` is what its page sent; without one nothing is known, and
    all changes count."""
    seen = int(number) if number.isascii() and number.isdigit() and len(number) < 10 else 0
    if seen == job.revision:
        return
    found = job.revisions.filter(number__gt=seen).order_by("-number")
    if target:
        found = found.filter(changes__contains=[{"target": target}])
    later = list(found.values_list("summary", flat=True)[: SINCE_SHOWN + 1])
    if later:
        told = "; ".join(later[:SINCE_SHOWN]) + (" …" if len(later) > SINCE_SHOWN else "")
        raise LaterError(
            gettext("Changed since this was calculated: {what}. Nothing was saved.").format(
                what=told
            )
        )


def locked(job: Job) -> Job:
    """The job, read anew and held until the transaction ends, so that saves take turns."""
    held: Job = Job.objects.select_for_update().get(pk=job.pk)
    return held


@contextmanager
def changing(job: Job) -> Iterator[Job]:
    """A transaction that holds the job: ``with changing(job) as held: write(held, …)``."""
    with transaction.atomic():
        yield locked(job)


def in_turn(job: Job, tab: str, number: int) -> int:
    """Notes that a tab's request of that number is being done. The number of the one done before,
    0 for the first: where that is not lower, this request came late or came twice.

    Call on a job from :func:`locked`.
    """
    if not tab:
        return 0
    turn, _ = Turn.objects.get_or_create(job=job, tab=tab, defaults={"number": 0})
    before = turn.number
    if number > before:
        Turn.objects.filter(pk=turn.pk).update(number=number)
    return before


def part_state(part: Part) -> dict[str, Any]:
    """A part as a state."""
    return {
        "kind": part.kind,
        "name": part.name,
        "parent": str(part.parent_id) if part.parent_id else None,
        "position": part.position,
        "entries": part.entries,
    }


def states(job: Job, targets: Mapping[str, Any]) -> dict[str, State]:
    """The states of targets now."""
    by_id = {str(part.pk): part for part in job.loaded()}
    found: dict[str, State] = {}
    amendments = None
    for target in targets:
        if target == JOB:
            found[target] = {name: getattr(job, name) for name in JOB_FIELDS}
        elif target.startswith(AMENDMENT):
            if amendments is None:
                amendments = {str(item.pk): item for item in job.amendments.all()}
            item = amendments.get(target.removeprefix(AMENDMENT))
            found[target] = None
            if item is not None:
                found[target] = {name: getattr(item, name) for name in AMENDMENT_FIELDS}
        else:
            part = by_id.get(target)
            found[target] = part_state(part) if part else None
    return found


def write(
    job: Job, user: Any, wanted: Mapping[str, State], action: str = "edit", summary: str = ""
) -> Revision | None:
    """Brings the targets to the states wanted, as one revision; ``None`` when nothing changes.

    Call inside a transaction, on a job from :func:`locked`. Raises :class:`RefusedError` for a
    tree that may not be: a part under one that is not there, too many parts, too deep.
    """
    before = states(job, wanted)
    after: dict[str, State] = {
        target: {**state, "entries": delta.given(state["entries"])}
        if state and "entries" in state
        else state
        for target, state in wanted.items()
    }
    changes = [
        item for target in after if (item := _difference(target, before[target], after[target]))
    ]
    if not changes:
        return None
    touched = [item["target"] for item in changes]
    _put(job, {target: after[target] for target in touched}, before)
    job.revision += 1
    revision = Revision.objects.create(
        job=job,
        number=job.revision,
        author=user,
        action=action,
        summary=summary + summarise(changes, before, after),
        changes=changes,
    )
    if action in ("edit", "restore"):
        job.undo_stack = [*job.undo_stack, revision.number][-KEPT_UNDO:]
        job.redo_stack = []
    job.save()
    job.reload()
    return revision


@transaction.atomic
def undo(job: Job, user: Any) -> Revision:
    """Takes the last change back. Raises :class:`NothingToDoError`."""
    return _step(locked(job), user, "undo")


@transaction.atomic
def redo(job: Job, user: Any) -> Revision:
    """Makes the last undone change again. Raises :class:`NothingToDoError`."""
    return _step(locked(job), user, "redo")


@transaction.atomic
def restore(job: Job, user: Any, number: int) -> Revision:
    """Puts the job back as it was at revision ``number``. Raises :class:`NothingToDoError`."""
    job = locked(job)
    later = list(job.revisions.filter(number__gt=number).order_by("-number"))
    if not later or not job.revisions.filter(number=number).exists():
        raise NothingToDoError
    targets = {item["target"]: None for revision in later for item in revision.changes}
    wanted = states(job, targets)
    for revision in later:
        for item in revision.changes:
            wanted[item["target"]] = side_of(wanted[item["target"]], item, "before")
    made = write(
        job, user, wanted, "restore", gettext("Back to revision {number}. ").format(number=number)
    )
    if made is None:
        raise NothingToDoError
    return made


def step_held(job: Job, user: Any, action: str) -> Revision:
    """Undo or redo on a job that is held already. Raises :class:`NothingToDoError`."""
    return _step(job, user, action)


def side_of(state: State, item: Mapping[str, Any], side: Side) -> State:
    """A target's state before or after a change, from its state on the other side."""
    fields = item[side]
    if fields is None or state is None or item["before"] is None or item["after"] is None:
        return fields and dict(fields)
    found = {**state, **fields}
    if item.get("entries"):
        found["entries"] = delta.apply(state["entries"], item["entries"], side)
    return found


def _step(job: Job, user: Any, action: str) -> Revision:
    source, other, side = (
        ("undo_stack", "redo_stack", "before")
        if action == "undo"
        else ("redo_stack", "undo_stack", "after")
    )
    stack: list[int] = getattr(job, source)
    revision = job.revisions.filter(number=stack[-1]).first() if stack else None
    if revision is None:
        raise NothingToDoError
    wanted = states(job, {item["target"]: None for item in revision.changes})
    for item in revision.changes:
        wanted[item["target"]] = side_of(wanted[item["target"]], item, side)  # type: ignore[arg-type]
    setattr(job, source, stack[:-1])
    setattr(job, other, [*getattr(job, other), revision.number])
    made = write(job, user, wanted, action)
    if made is None:  # what it did is undone by something else: the step is used up all the same
        job.save()
        raise NothingToDoError
    return made


def _difference(target: str, before: State, after: State) -> dict[str, Any] | None:
    if before == after:
        return None
    if before is None or after is None:
        return {"target": target, "before": before, "after": after}
    changed = [name for name in after if name != "entries" and before[name] != after[name]]
    item: dict[str, Any] = {
        "target": target,
        "before": {name: before[name] for name in changed},
        "after": {name: after[name] for name in changed},
    }
    if "entries" in after:
        item["entries"] = delta.diff(before["entries"], after["entries"])
        if not item["entries"] and not changed:
            return None
    return item


def put(job: Job, wanted: Mapping[str, State]) -> None:
    """Brings targets that are not there yet to their states, without a revision. Raises
    :class:`RefusedError`."""
    _put(job, wanted, dict.fromkeys(wanted))
    job.reload()


def _put(job: Job, wanted: Mapping[str, State], before: Mapping[str, State]) -> None:
    _put_amendments(job, {t: s for t, s in wanted.items() if t.startswith(AMENDMENT)}, before)
    if (own := wanted.get(JOB)) is not None:
        for name, value in own.items():
            setattr(job, name, value)
    parts = {t: s for t, s in wanted.items() if t != JOB and not t.startswith(AMENDMENT)}
    if parts:
        _check_tree(job, parts)
        _put_parts(job, parts, before)


def _put_amendments(job: Job, wanted: Mapping[str, State], before: Mapping[str, State]) -> None:
    if not wanted:
        return
    # those that go make room for those that come: one cell is amended once
    keys = [target.removeprefix(AMENDMENT) for target in wanted if before[target] is not None]
    Amendment.objects.filter(job=job, pk__in=keys).delete()
    made = [
        Amendment(pk=target.removeprefix(AMENDMENT), job=job, **state)
        for target, state in wanted.items()
        if state is not None
    ]
    if job.amendments.count() + len(made) > MOST_AMENDMENTS:
        raise RefusedError(
            gettext("A job holds at most {most_amendments} local amendments.").format(
                most_amendments=MOST_AMENDMENTS
            )
        )
    if Amendment.objects.filter(pk__in=[item.pk for item in made]).exists():
        raise RefusedError(gettext("This form was used before: reload the page."))
    Amendment.objects.bulk_create(made)


def _put_parts(job: Job, wanted: Mapping[str, State], before: Mapping[str, State]) -> None:
    gone = [target for target, state in wanted.items() if state is None]
    fresh, changed = [], []
    fields: set[str] = set()
    for target, state in wanted.items():
        if state is None:
            continue
        values = {name: value for name, value in state.items() if name != "parent"}
        part = Part(pk=target, job=job, parent_id=state["parent"], **values)
        was = before[target]
        if was is None:
            fresh.append(part)
        else:
            changed.append(part)
            fields |= {name for name in PART_FIELDS if was[name] != state[name]}
    if gone:
        Part.objects.filter(job=job, pk__in=gone).delete()
    if changed:
        Part.objects.bulk_update(changed, sorted(fields), batch_size=1000)
    if fresh:
        if Part.objects.filter(pk__in=[part.pk for part in fresh]).exists():
            raise RefusedError(gettext("A part of that id is there already, in another job."))
        Part.objects.bulk_create(fresh)


def _check_tree(job: Job, wanted: Mapping[str, State]) -> None:
    """Refuses a tree with a part whose parent is missing, with too many parts or too deep."""
    above: dict[str, str | None] = {
        str(part.pk): str(part.parent_id) if part.parent_id else None for part in job.loaded()
    }
    many = len(above)
    for target, state in wanted.items():
        if state is None:
            above.pop(target, None)
        else:
            above[target] = state["parent"]
    if len(above) > MOST_PARTS and len(above) > many:
        raise RefusedError(
            gettext("A job holds at most {most_parts} parts: begin another job.").format(
                most_parts=MOST_PARTS
            )
        )
    depth: dict[str | None, int] = {None: 0}
    for start in above:
        chain: list[str] = []
        at: str | None = start
        while at not in depth:
            if at not in above or at in chain:
                raise RefusedError(
                    gettext("The part that this stands under is not there any more.")
                )
            chain.append(at)
            at = above[at]
        for key in reversed(chain):
            depth[key] = depth[at] + 1
            at = key
            if depth[key] > MOST_DEPTH:
                raise RefusedError(
                    gettext("Parts stand at most {most_depth} deep under one another.").format(
                        most_depth=MOST_DEPTH
                    )
                )


__all__ = [
    "AMENDMENT",
    "JOB",
    "GoneError",
    "NothingToDoError",
    "RefusedError",
    "changing",
    "in_turn",
    "locked",
    "part_state",
    "put",
    "redo",
    "restore",
    "side_of",
    "states",
    "step_held",
    "undo",
    "write",
]
