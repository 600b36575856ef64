"""A job's parts, worked under its code, its amendments and its habits; and what pages show of the
whole, from the digest where there is one."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from threading import Lock
from typing import Any

from django.conf import settings
from django.utils.translation import get_language, gettext

from voltaje.core.entries import Document
from voltaje.core.job import code_comparison as beside
from voltaje.core.job.calculate import Memory, calculate_job
from voltaje.core.job.code_comparison import Beside, compare
from voltaje.core.kinds import Evaluated, faulty
from voltaje.core.kinds import kind as find_kind
from voltaje.core.report import Severity, Text, worst
from voltaje.core.rules.interface import code_of
from voltaje.web.jobs import digest
from voltaje.web.jobs.models import Job, Part


@dataclass
class Kept:
    """What this process knows of a job: its memory, what its last revision was worked to, and that
    revision with the entries that were typed last and are not kept yet."""

    memory: Memory = field(default_factory=Memory)
    items: int = 0
    last: tuple[int, dict[str, Evaluated]] = (-1, {})
    typed: tuple[int, Mapping[str, Document], dict[str, Evaluated]] = (-1, {}, {})


_kept: OrderedDict[Any, Kept] = OrderedDict()
_lock = Lock()


def _of(job: Job, under: str = "") -> Kept:
    """What is known of a job, or of it ``under`` another edition; of the jobs that were worked
    longest ago nothing is kept, once all of them have more items than this process may keep."""
    items = len(job.loaded())
    with _lock:
        # a sheet that was told is in the language of whoever looked
        key = job.pk, get_language(), under
        kept = _kept.setdefault(key, Kept())
        kept.items = items
        _kept.move_to_end(key)
        total = sum(one.items for one in _kept.values())
        while total > settings.KEPT_ITEMS and len(_kept) > 1:
            total -= _kept.popitem(last=False)[1].items
    return kept


def work_job(job: Job, changed: Mapping[str, Document] | None = None) -> dict[str, Evaluated]:
    """Every part of the job by its id; ``changed`` holds entries that are not kept yet. Never
    raises: a job that cannot be worked at all says so on each part."""
    kept = _of(job)
    revision, found = kept.last
    if not changed and revision == job.revision:
        return found
    at, typed, with_typed = kept.typed  # at once: another thread may replace it
    if changed and (at, typed) == (job.revision, changed):
        return with_typed
    changed = changed or {}
    inputs = [
        replace(item, document=changed[item.id]) if item.id in changed else item
        for item in job.inputs()
    ]
    try:
        found = calculate_job(inputs, job.code(), job.units, job.shop(), job.limits(), kept.memory)
    except Exception as error:
        broken = faulty(None, error, "working a job")
        return {item.id: broken for item in inputs}
    if changed:
        kept.typed = job.revision, changed, found
    else:
        kept.last = job.revision, found
    return found


def work_beside(
    job: Job, under: str, changed: Mapping[str, Document] | None = None, only: str = ""
) -> dict[str, Evaluated]:
    """Every part of the job by its id, as it comes out ``under`` another edition; with ``only``, an
    item's id, that one at least. Never raises."""
    kept = _of(job, under)
    revision, found = kept.last
    if not changed and revision == job.revision:
        return found
    changed = changed or {}
    book = job.beside(under)
    code = code_of(book.family)
    parts = [
        replace(item, document=changed[item.id]) if item.id in changed else item
        for item in job.inputs()
    ]
    try:
        asked = beside.inputs(parts, job.family, code)
        stand = beside.stand_ins(work_job(job, changed), code)
        found = calculate_job(
            asked,
            book,
            job.units,
            job.shop(),
            job.limits(),
            kept.memory,
            instead=stand,
            volts=False,
            only=only,
        )
    except Exception as error:
        broken = faulty(None, error, "working a job beside")
        return {item.id: broken for item in parts}
    if not changed and not only:
        kept.last = job.revision, found
    return found


def compared(
    job: Job, part: Part, mine: Evaluated, under: str, document: Document | None = None
) -> Beside:
    """A part beside itself under another edition; ``document`` where it is not kept yet."""
    key = str(part.pk)
    changed = None if document is None else {key: document}
    other = work_beside(job, under, changed, key)[key]
    read = part.entries if document is None else document
    return compare(find_kind(part.kind), read, mine, other, (job.code(), job.beside(under)))


def digest_of(job: Job) -> dict[str, Any]:
    """What pages show of the whole job; worked only where no process has done so yet."""
    return digest.read(job) or digest.keep(job, work_job(job))


@dataclass
class Node:
    """A part in the tree as a page shows it."""

    part: Part
    head: str
    status: str
    depth: int
    holds_parts: bool
    label: str
    children: list[Node] = field(default_factory=list)

    def flat(self) -> list[Node]:
        """This one and all below it, in the order of the page."""
        return [self, *(node for child in self.children for node in child.flat())]


def told(found: Mapping[str, Evaluated]) -> dict[str, tuple[str, str]]:
    """Answer and status of each part of what was worked; before the answer the places that its
    device has in a board."""
    places: dict[str, str] = {}
    for item in found.values():
        if item.outcome is not None:
            places |= item.outcome.given_places()
    return {
        key: (_placed(item.brief.headline, places.get(key, "")), item.brief.status)
        if item.brief
        else ("", "incomplete")
        for key, item in found.items()
    }


def _placed(headline: str, place: str) -> str:
    if not place:
        return headline
    return gettext("in {place} · {headline}").format(place=place, headline=headline)


def tree(job: Job, parts: Mapping[str, tuple[str, str]]) -> list[Node]:
    """The job's parts as a tree, each with its one-line answer and its status."""
    by_parent: dict[Any, list[Part]] = {}
    for part in job.loaded():
        by_parent.setdefault(part.parent_id, []).append(part)

    def under(parent: Any, depth: int) -> list[Node]:
        nodes = []
        for part in by_parent.get(parent, []):
            head, status = parts[str(part.pk)]
            of = find_kind(part.kind)
            nodes.append(
                Node(part, head, status, depth, of.holds_parts, of.label, under(part.pk, depth + 1))
            )
        return nodes

    return under(None, 0)


@dataclass(frozen=True)
class Looks:
    """What deserves a look at one part: how bad the worst is, and each in words, the worst
    first."""

    part: Part
    severity: str
    words: tuple[tuple[str, Text], ...]


def findings(job: Job, content: Mapping[str, Any]) -> list[Looks]:
    """What fails and what deserves a look in the whole job, part by part, the worst first; a part
    that cannot be worked yet comes with the words of its first problem."""
    by_id = {str(part.pk): part for part in job.loaded()}
    listed: dict[str, list[tuple[str, Text]]] = {}
    for item in content["findings"]:
        if item["part"] in by_id:
            words = (item["severity"], _words(item["words"]))
            listed.setdefault(item["part"], []).append(words)
    for group in listed.values():
        group.sort(key=lambda one: digest.ORDER[one[0]])
    ranked = sorted(listed.items(), key=lambda item: digest.ORDER[item[1][0][0]])
    return [
        Looks(
            by_id[key],
            "incomplete" if (worst_of := group[0][0]) == "missing" else worst_of,
            tuple(group),
        )
        for key, group in ranked
    ]


def _words(kept: Any) -> Text:
    if isinstance(kept, list | tuple):
        return Text(*kept)
    return Text("{words}", {"words": kept})  # a problem's words are in the language already


def status_of(content: Mapping[str, Any]) -> Severity:
    """The worst status of all parts; one without a result leaves the job incomplete."""
    return worst(status for _, status in content["parts"].values())
