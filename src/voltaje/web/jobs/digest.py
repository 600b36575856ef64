"""What lists and pages show of a whole job, kept under the revision it belongs to and shared by all
processes: each part's answer and status, what deserves a look. It is no truth, only not worked
twice: under another stamp it is worked anew.
"""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from typing import Any

from django.utils.translation import get_language

import voltaje.core
from voltaje.core.kinds import Evaluated, kind
from voltaje.core.report import Text
from voltaje.web.jobs import overview
from voltaje.web.jobs.models import Digest, Job

# ``missing``: the part itself has no result; ``incomplete``: it needs one that is missing
SHAPE = 2  # of what is kept: an older one is made anew
ORDER = {"fail": 0, "missing": 1, "incomplete": 2, "check": 3}


@cache
def program() -> str:
    """A mark of the rules and tables that are running: with another release all is worked anew."""
    found = hashlib.sha256()
    root = Path(voltaje.core.__file__).parent
    for path in sorted(root.rglob("*")):
        if path.suffix in (".py", ".csv"):
            found.update(f"{path.relative_to(root)} {path.stat().st_size}".encode())
            found.update(path.read_bytes())
    return found.hexdigest()[:16]


def stamp(job: Job) -> str:
    """What a digest belongs to: a revision, the rules that are running, a language."""
    return f"{job.revision} {program()} {get_language()} {SHAPE}"


def read(job: Job) -> dict[str, Any] | None:
    """The digest of the job as it is, ``None`` where there is none yet."""
    found = Digest.objects.filter(job=job).values_list("stamp", "content").first()
    return found[1] if found and found[0] == stamp(job) else None


def read_answers(jobs: list[Job]) -> dict[Any, str]:
    """The answers of jobs that have a digest, by the job's id; in one query."""
    by_id = {job.pk: job for job in jobs}
    found = Digest.objects.filter(job__in=jobs).values_list("job_id", "stamp", "answer")
    return {key: answer for key, mark, answer in found if mark == stamp(by_id[key])}


def keep(job: Job, found: Mapping[str, Evaluated]) -> dict[str, Any]:
    """Makes the digest of what was worked and keeps it."""
    content = make(job, found)
    Digest.objects.update_or_create(
        job=job,
        defaults={"stamp": stamp(job), "content": content, "answer": content["answer"][:200]},
    )
    return content


def make(job: Job, found: Mapping[str, Evaluated]) -> dict[str, Any]:
    """``parts``: head and status by id (without a result, or without all that it needs:
    incomplete); ``findings``: what deserves a look, by part; ``answer``: the first supply's;
    ``overview``: the state of the job at a glance."""
    parts: dict[str, tuple[str, str]] = {}
    findings: list[dict[str, Any]] = []
    for part in job.loaded():
        key = str(part.pk)
        evaluated = found[key]
        worked = evaluated.brief
        parts[key] = (worked.headline, worked.status) if worked else ("", "incomplete")
        if worked is None:
            words = evaluated.problems[0].words if evaluated.problems else ""
            findings.append({"part": key, "severity": "missing", "words": words})
            continue
        findings += [
            {
                "part": key,
                "severity": f.severity,
                "words": _text(f.words),
                "name": f.name,
                "change": _text(f.change.words) if f.change else None,
                "offer": _text(f.offer.words) if f.offer else None,
            }
            for f in worked.findings
        ]
    return {
        "parts": parts,
        "findings": findings,
        "answer": _answer(job, parts),
        "overview": overview.make(job.loaded(), found),
    }


def _answer(job: Job, parts: Mapping[str, tuple[str, str]]) -> str:
    """The supply's answer; of several supplies each one's with its name, so that none passes for
    the job's; without a supply that of the first part that has one."""
    supplies = [(p, parts[str(p.pk)][0]) for p in job.loaded() if kind(p.kind).root]
    if len(supplies) < 2:
        others = [p for p in job.loaded() if not kind(p.kind).root]
        rest = [text for p in others if (text := parts[str(p.pk)][0])]
        return next((text for _, text in supplies if text), "") or next(iter(rest), "")
    return "\n".join(f"{part.name}: {text or 'no result yet'}" for part, text in supplies)[:200]


def _text(words: Text | str) -> list[Any]:
    """A core text as it can be kept and put into the reader's language later."""
    return (
        ["{words}", {"words": words}] if isinstance(words, str) else [words.template, words.params]
    )
