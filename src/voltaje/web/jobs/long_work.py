"""The long work of whole jobs: all items of one under two codes; a file of them brought back."""

from __future__ import annotations

from collections.abc import Mapping
from math import inf
from typing import Any

from django.utils.translation import gettext, gettext_noop

from voltaje.web.accounts.events import note
from voltaje.web.background.work import Answered, Asked, LongWork, Sent, register
from voltaje.web.jobs import archive
from voltaje.web.jobs.archive_document import UnreadableArchiveError
from voltaje.web.jobs.worked import compared, work_beside, work_job

EACH = 0.004  # no code figure: s of effort of an item that is compared
MOST = 60.0  # no code figure: s of effort of a job


def _compare(asked: Asked) -> Answered:
    """Each item beside itself under another edition, by its id."""
    job, effort, under = asked.job, asked.effort, asked.question["under"]
    found, parts = work_job(job), job.loaded()
    work_beside(job, under)  # whole, once: each item by itself would go through the tree again
    sides: dict[str, dict[str, Any]] = {}
    for number, part in enumerate(parts):
        effort.spend(EACH)
        effort.check()
        asked.progress({"share": number / len(parts)}, None)
        side = compared(job, part, found[str(part.pk)], under)
        sides[str(part.pk)] = {
            "headline": str(side.headline),
            "status": side.status,
            "differs": side.differs,
            "problems": [str(words) for words in side.problems],
            "why": str(side.why),
        }
    return Answered(sides)


def _words(_: Mapping[str, Any]) -> str:
    return gettext("Comparing item by item.")


COMPARISON = register(LongWork("comparison", _compare, lambda _: MOST, _words))


def _bring(sent: Sent) -> Answered:
    """The jobs of an account's file, made beside those that are there."""

    def each(share: float) -> None:
        sent.progress({"share": share}, None)
        sent.effort.check()

    try:
        count = archive.bring(sent.account, archive.document(sent.content), each)
    except UnreadableArchiveError as error:
        return Answered({"error": str(error)})
    note(sent.account, gettext_noop("imported"), gettext("{count} jobs").format(count=count))
    return Answered({"count": count})


def _bring_words(_: Mapping[str, Any]) -> str:
    return gettext("Importing jobs.")


IMPORT = register(LongWork("import", _bring, lambda _: inf, _bring_words))
