"""A job's parts and amendments as one revision has them, kept by each process for the next page.

A revision never changes, so neither does what was read under it. Inside a transaction nothing is
kept: what it reads may still be taken back.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterable
from threading import Lock
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.db import connection

if TYPE_CHECKING:
    from voltaje.web.jobs.models import Amendment, Job, Part

MOST_KEPT = 256
_kept: OrderedDict[tuple[str, Any, int], list[Any]] = OrderedDict()
_lock = Lock()


def parts(job: Job) -> list[Part]:
    """The parts in the order of the tree: each before what stands under it, neighbours by their
    position."""
    return _read("parts", job, lambda: in_tree_order(job.parts.all()))


def in_tree_order(parts: Iterable[Part]) -> list[Part]:
    """Parts as one walks the tree down. The database knows only the order among neighbours; without
    this one, what comes first of two branches would be chance."""
    under: dict[UUID | None, list[Part]] = {}
    for part in sorted(parts, key=lambda part: part.position):
        under.setdefault(part.parent_id, []).append(part)
    ordered: list[Part] = []
    waiting = under.get(None, [])[::-1]
    while waiting:
        ordered.append(waiting.pop())
        waiting.extend(under.get(ordered[-1].pk, [])[::-1])
    return ordered


def amendments(job: Job) -> list[Amendment]:
    """The local amendments."""
    return _read("amendments", job, lambda: list(job.amendments.all()))


def _read(what: str, job: Job, read: Callable[[], list[Any]]) -> list[Any]:
    if connection.in_atomic_block:
        return read()
    key = (what, job.pk, job.revision)
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    found = read()
    # only if the job still stands at that revision is this what the revision has
    if type(job).objects.filter(pk=job.pk, revision=job.revision).exists():
        with _lock:
            _kept[key] = found
            while len(_kept) > MOST_KEPT:
                _kept.popitem(last=False)
    return found
