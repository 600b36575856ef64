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
from voltaje.core.report import Severity, Text, figure, say, worst
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
    """A part in the tree as a page shows it; ``on_way`` to the part that is looked at, or that part
    itself."""

    part: Part
    head: str
    status: str
    depth: int
    holds_parts: bool
    label: str
    children: list[Node] = field(default_factory=list)
    on_way: bool = False
    drop: str = ""

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


def drops(found: Mapping[str, Evaluated]) -> dict[str, str]:
    """The voltage drop from the supply to each item of which it is known."""
    return {
        key: f"{figure(item.volts.drop_total, 1)} %"
        for key, item in found.items()
        if item.volts is not None and item.volts.drop_total is not None
    }


def _placed(headline: str, place: str) -> str:
    if not place:
        return headline
    return gettext("in {place} · {headline}").format(place=place, headline=headline)


def tree(
    job: Job,
    parts: Mapping[str, tuple[str, str]],
    looked_at: Part | None = None,
    lost: Mapping[str, str] | None = None,
) -> list[Node]:
    """The job's parts as a tree, each with its one-line answer, its status and what is ``lost`` on
    the way to it; the way to the one that is ``looked_at`` marked."""
    by_parent: dict[Any, list[Part]] = {}
    above: dict[Any, Any] = {}
    for part in job.loaded():
        by_parent.setdefault(part.parent_id, []).append(part)
        above[part.pk] = part.parent_id
    way: set[Any] = set()
    at = looked_at.pk if looked_at else None
    while at is not None:
        way.add(at)
        at = above[at]

    def under(parent: Any, depth: int) -> list[Node]:
        nodes = []
        for part in by_parent.get(parent, []):
            head, status = parts[str(part.pk)]
            of = find_kind(part.kind)
            nodes.append(
                Node(
                    part,
                    head,
                    status,
                    depth,
                    of.holds_parts,
                    of.label,
                    under(part.pk, depth + 1),
                    part.pk in way,
                    (lost or {}).get(str(part.pk), ""),
                )
            )
        return nodes

    return under(None, 0)


@dataclass(frozen=True)
class Mend:
    """A finding that the program can mend: its name, the items that have it, the words by which
    that is offered; ``ahead`` says that an item is put ahead of it, else entries are changed."""

    name: str
    parts: tuple[Part, ...]
    words: Text
    ahead: bool = False


@dataclass(frozen=True)
class Looks:
    """What deserves a look, as one card of the job's page: one item with all that it says, the
    worst first, or ``shared`` words that several items say, each with its own figures."""

    severity: str
    part: Part | None = None
    words: tuple[tuple[str, Text], ...] = ()
    shared: Text | None = None
    items: tuple[tuple[Part, str], ...] = ()
    changes: tuple[Mend, ...] = ()


SHARED_FROM = 3  # no code figure: as many items with the same words stand in one card
OPEN = "…"


def findings(job: Job, content: Mapping[str, Any]) -> list[Looks]:
    """What fails and what deserves a look in the whole job, the worst first: what several items
    say once with these items, the rest item by item; an item that cannot be worked yet comes with
    the words of its first problem."""
    by_id = {str(part.pk): part for part in job.loaded()}
    alike: dict[tuple[str, str], list[Said]] = {}
    for item in content["findings"]:
        if (part := by_id.get(item["part"])) is not None:
            words = _words(item["words"])
            change = _words(item["change"]) if item.get("change") else None
            offer = _words(item["offer"]) if item.get("offer") else None
            said = Said(part, item["severity"], words, item.get("name", ""), change, offer)
            alike.setdefault((item["severity"], words.template), []).append(said)
    cards: list[Looks] = []
    single: dict[Any, list[Said]] = {}
    for (severity, template), group in alike.items():
        if len(group) >= SHARED_FROM and severity != "missing":
            cards.append(_shared(severity, template, group))
            continue
        for one in group:
            single.setdefault(one.part, []).append(one)
    for part, group in single.items():
        group.sort(key=lambda one: digest.ORDER[one.severity])
        worst_of = group[0].severity
        shown = "incomplete" if worst_of == "missing" else worst_of
        said_here = tuple((one.severity, one.words) for one in group)
        changes = tuple(
            Mend(one.name, (part,), words, words is one.offer)
            for one in group
            for words in (one.change, one.offer)
            if words
        )
        cards.append(Looks(shown, part, said_here, changes=changes))
    return sorted(cards, key=lambda card: digest.ORDER[card.severity])


@dataclass(frozen=True)
class Said:
    """One finding of an item, as it is kept."""

    part: Part
    severity: str
    words: Text
    name: str
    change: Text | None
    offer: Text | None


def _shared(severity: str, template: str, said: list[Said]) -> Looks:
    """One card of what several items say: what all say alike in its words, the rest beside each,
    the items in the order of the tree."""
    names = list(said[0].words.params)
    same = {n: {one.words.params[n] for one in said} for n in names}
    own = [name for name in names if len(same[name]) > 1]
    params = {n: OPEN if n in own else next(iter(same[n])) for n in names}
    items = tuple((one.part, ", ".join(one.words.params[n] for n in own)) for one in said)
    mended = tuple(one for one in said if one.change)
    changes: tuple[Mend, ...] = ()
    if mended:
        words = say("Apply to all {count}", count=len(mended))
        if len({str(one.change) for one in mended}) == 1 and mended[0].change:
            words = say("{what} on {count} items", what=str(mended[0].change), count=len(mended))
        changes = (Mend(mended[0].name, tuple(one.part for one in mended), words),)
    return Looks(severity, shared=Text(template, params), items=items, changes=changes)


def _words(kept: Any) -> Text:
    if isinstance(kept, list | tuple):
        return Text(*kept)
    return Text("{words}", {"words": kept})  # a problem's words are in the language already


def status_of(content: Mapping[str, Any]) -> Severity:
    """The worst status of all parts; one without a result leaves the job incomplete."""
    return worst(status for _, status in content["parts"].values())
