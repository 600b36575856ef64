"""The long work of this room: a set of documents of a job, made as PDF."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.utils.translation import gettext

from voltaje.core.codes import edition
from voltaje.web.background.work import Answered, Asked, LongWork, register
from voltaje.web.documents import sections, typesetting
from voltaje.web.documents.blocks import Block
from voltaje.web.documents.models import DocumentSet
from voltaje.web.jobs.worked import work_job

MOST = 150.0  # no code figure: s of effort of a set
# no code figures: s of effort of an item in a section, its pages set included
EACH, EACH_SHEET = 0.003, 0.035
KEPT = 4  # no code figure: sets of a job that are kept


def blocks_of(work: sections.Worked, names: list[str]) -> list[Block]:
    """The blocks of these sections, in their order."""
    return [block for name in names for block in sections.MADE[name](work)]


def _made(asked: Asked) -> Answered:
    """The set as a file that is kept; its id and how many pages it has."""
    job, question = asked.job, asked.question
    work = sections.Worked(job, work_job(job), question["by"])
    found: list[Block] = []
    names = question["sections"]
    for number, name in enumerate(names):
        each = EACH_SHEET if name in ("sheets", "main_sheets") else EACH
        asked.effort.spend(each * len(work.parts))
        asked.effort.check()
        asked.progress({"share": 0.8 * number / len(names), "section": name}, None)
        found += sections.MADE[name](work)
    asked.progress({"share": 0.8, "section": ""}, None)
    mark = sections.mark_of(job)
    footer = gettext("{name} · {code} · revision {revision} ({mark})").format(
        name=job.name, code=edition(job.edition).title, revision=job.revision, mark=mark
    )
    words = typesetting.SetWords(
        title=gettext("{name}: documents").format(name=job.name),
        author=work.by,
        footer=footer,
        page=gettext("page {n} of {all}"),
        tile=gettext("tile {tile} of {rows} × {columns}, read row by row"),
        language=question["language"],
    )
    content, pages = typesetting.to_pdf(found, question["paper"], words, asked.effort.check)
    kept = DocumentSet.objects.create(
        job=job, revision=job.revision, mark=mark, sections=names, pages=pages, content=content
    )
    old = DocumentSet.objects.filter(job=job).values_list("pk", flat=True)[KEPT:]
    DocumentSet.objects.filter(pk__in=list(old)).delete()
    return Answered({"set": str(kept.pk), "pages": pages, "bytes": len(content)})


def _words(progress: Mapping[str, Any]) -> str:
    if progress.get("section"):
        return gettext("Writing the sheets.")
    return gettext("Setting the pages.")


DOCUMENTS = register(LongWork("documents", _made, lambda _: MOST, _words))
