"""Every save is a revision. Undo, redo and restore are new revisions too: nothing is rewritten.

A revision holds the states of the targets it touched. A target is ``"job"``, a part's id, or
``"amendment:"`` and an amendment's;
its state is a plain dict, or ``None`` where the part does not exist.
"""

from __future__ import annotations

from collections.abc import Callable
from contextlib import contextmanager
from typing import Any

from django.db import transaction

from voltaje.core.entries import walk
from voltaje.web.jobs.models import Amendment, Job, Part, Revision

State = dict[str, Any] | None
KEPT_UNDO = 500
JOB_FIELDS = ("name", "edition", "units", "preference", "prices", "drop_scheme", "drop_branch",
              "drop_total")  # fmt: skip
AMENDMENT = "amendment:"
AMENDMENT_FIELDS = ("topic", "row", "column", "value", "jurisdiction", "reason")


class NothingToDoError(Exception):
    """There is nothing to undo, redo or restore."""


def locked(job: Job) -> Job:
    """The job, read anew and held until the transaction ends, so that saves take turns."""
    return Job.objects.select_for_update().get(pk=job.pk)


def state_of(job: Job, target: str) -> State:
    """The state of a target now."""
    if target == "job":
        return {name: getattr(job, name) for name in JOB_FIELDS}
    if target.startswith(AMENDMENT):
        key = target.removeprefix(AMENDMENT)
        found = Amendment.objects.filter(job=job, pk=key).values(*AMENDMENT_FIELDS).first()
        return found
    part = Part.objects.filter(job=job, pk=target).first()
    if part is None:
        return None
    return {
        "kind": part.kind,
        "name": part.name,
        "parent": str(part.parent_id) if part.parent_id else None,
        "position": part.position,
        "entries": part.entries,
    }


def change(
    job: Job, user: Any, targets: list[str], act: Callable[[], None], action: str = "edit"
) -> Revision | None:
    """Runs ``act`` and records what it did to ``targets``; ``None`` when nothing changed.

    Call inside a transaction, on a job from :func:`locked`.
    """
    before = {target: state_of(job, target) for target in targets}
    act()
    job.refresh_from_db()
    changes = [
        {"target": target, "before": before[target], "after": after}
        for target in targets
        if (after := state_of(job, target)) != before[target]
    ]
    if not changes:
        return None
    revision = _append(job, user, action, changes)
    if action in ("edit", "restore"):
        job.undo_stack = [*job.undo_stack, revision.number][-KEPT_UNDO:]
        job.redo_stack = []
    job.save()
    return revision


@transaction.atomic
def undo(job: Job, user: Any) -> Revision:
    """Takes the last change back. Raises :class:`NothingToDoError`."""
    return _step(job, user, "undo", "undo_stack", "redo_stack", "before")


@transaction.atomic
def redo(job: Job, user: Any) -> Revision:
    """Makes the last undone change again. Raises :class:`NothingToDoError`."""
    return _step(job, user, "redo", "redo_stack", "undo_stack", "after")


@transaction.atomic
def restore(job: Job, user: Any, number: int) -> Revision:
    """Puts the job back as it was at revision ``number``. Raises :class:`NothingToDoError`."""
    job = locked(job)
    later = list(job.revisions.filter(number__gt=number).order_by("-number"))
    if not later or not job.revisions.filter(number=number).exists():
        raise NothingToDoError
    wanted: dict[str, State] = {}
    for revision in later:
        for item in revision.changes:
            wanted[item["target"]] = item["before"]
    made = change(job, user, list(wanted), lambda: _put(job, wanted), "restore")
    if made is None:
        raise NothingToDoError
    made.summary = f"Back to revision {number}. {made.summary}"
    made.save(update_fields=["summary"])
    return made


def _step(job: Job, user: Any, action: str, source: str, other: str, side: str) -> Revision:
    job = locked(job)
    stack: list[int] = getattr(job, source)
    if not stack:
        raise NothingToDoError
    revision = job.revisions.get(number=stack[-1])
    wanted = {item["target"]: item[side] for item in revision.changes}
    setattr(job, source, stack[:-1])
    setattr(job, other, [*getattr(job, other), revision.number])
    job.save()
    made = change(job, user, list(wanted), lambda: _put(job, wanted), action)
    if made is None:
        raise NothingToDoError
    return made


def _put(job: Job, wanted: dict[str, State]) -> None:
    for target in [t for t in wanted if t.startswith(AMENDMENT)]:
        key, state = target.removeprefix(AMENDMENT), wanted[target]
        Amendment.objects.filter(job=job, pk=key).delete()
        if state is not None:
            Amendment.objects.create(pk=key, job=job, **state)
    wanted = {t: s for t, s in wanted.items() if not t.startswith(AMENDMENT)}
    gone = [target for target, state in wanted.items() if state is None]
    Part.objects.filter(job=job, pk__in=[t for t in gone if t != "job"]).delete()
    waiting = {t: s for t, s in wanted.items() if s is not None}
    while waiting:  # parents before children
        ready = [t for t, s in waiting.items() if s.get("parent") not in waiting]
        for target in ready:
            state = waiting.pop(target)
            if target == "job":
                Job.objects.filter(pk=job.pk).update(**state)
            else:
                values = {k: v for k, v in state.items() if k != "parent"}
                Part.objects.update_or_create(
                    pk=target, defaults={**values, "job": job, "parent_id": state["parent"]}
                )


def _append(job: Job, user: Any, action: str, changes: list[dict[str, Any]]) -> Revision:
    job.revision += 1
    return Revision.objects.create(
        job=job,
        number=job.revision,
        author=user,
        action=action,
        summary=summarise(changes),
        changes=changes,
    )


def summarise(changes: list[dict[str, Any]]) -> str:
    """What changed, in a line: ``Keeper’s cottage: Range 11.4 kW → 12 kW``."""
    words = [text for item in changes for text in _summary(item)]
    shown = "; ".join(words[:4])
    return shown + (f"; and {len(words) - 4} more" if len(words) > 4 else "")


def _summary(item: dict[str, Any]) -> list[str]:
    before, after = item["before"], item["after"]
    if item["target"].startswith(AMENDMENT):
        state = after or before
        what = "removed" if after is None else f"{state['value']}, {state['jurisdiction']}"
        return [f"Amendment {state['topic']} {state['row']} {state['column']}: {what}".replace(
            "_", " ")]  # fmt: skip
    if before is None:
        return [f"{after['name']} added"]
    if after is None:
        return [f"{before['name']} removed"]
    found = [
        f"{name.replace('_', ' ')} “{before[name]}” → “{after[name]}”"
        for name in JOB_FIELDS
        if name != "prices" and name in before and name in after and before[name] != after[name]
    ]
    if before.get("prices") != after.get("prices"):
        found.append("prices changed")
    if "entries" not in before:
        return found
    old, new = dict(walk(before["entries"])), dict(walk(after["entries"]))
    rows_gone = {path.rsplit(".", 1)[0] for path in old if "." in path and path not in new}
    rows_new = {path.rsplit(".", 1)[0] for path in new if "." in path and path not in old}
    for row in sorted(rows_gone - {p.rsplit(".", 1)[0] for p in new if "." in p}):
        found.append(f"row “{old.get(row + '.name') or 'without a name'}” deleted")
    for row in sorted(rows_new - {p.rsplit(".", 1)[0] for p in old if "." in p}):
        found.append(f"row “{new.get(row + '.name') or 'without a name'}” added")
    for path, value in new.items():
        was = old.get(path, "")
        if was != value and (path in old or path.rsplit(".", 1)[0] not in rows_new):
            label = path.rsplit(".", 1)
            name = new.get(f"{label[0]}.name") if len(label) == 2 else None
            field = (label[-1]).replace("_", " ")
            title = f"{name}, {field}" if name else field
            found.append(f"{title} {was or 'empty'} → {value or 'empty'}")
    if before["parent"] != after["parent"]:
        found.append("moved")
    return [f"{after['name']}: {text}" for text in found] or [f"{after['name']}: order changed"]


@contextmanager
def changing(job: Job) -> Any:
    """A transaction that holds the job: ``with changing(job) as job: change(job, …)``."""
    with transaction.atomic():
        yield locked(job)
