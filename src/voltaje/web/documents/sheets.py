"""One item of a job as blocks: its answer, findings, entries, worksheet and alternatives."""

from __future__ import annotations

from collections.abc import Iterable

from django.utils.translation import gettext

from voltaje.core.entries import entry_words, fields, row_words
from voltaje.core.kinds import Evaluated, kind
from voltaje.core.report import Finding, Report, Result, Section, figure, told
from voltaje.web.documents.blocks import Block, Facts, Grid, Heading, Tone, Words
from voltaje.web.jobs.models import Job, Part
from voltaje.web.parts.templatetags.voltaje import cite, once, quantity, status_word, under

TONES: dict[str, Tone] = {"fail": "fail", "check": "check", "incomplete": "incomplete"}


def result(found: Result) -> str:
    """A result with its unit, as the sheet shows it."""
    return f"{quantity(found)} {found.unit}".strip()


def rules(found: Iterable[object]) -> str:
    """Rules by their numbers, each once."""
    return ", ".join(cite(rule) for rule in once(found))  # type: ignore[arg-type]


def item(job: Job, part: Part, found: Evaluated, level: int = 2) -> list[Block]:
    """The whole sheet of an item."""
    blocks: list[Block] = [Heading(level, part.name, str(part.pk))]
    blocks.append(Words(told(kind(part.kind).label), "soft"))
    worked = found.report
    if worked is None:
        blocks.append(Words(gettext("No answer: incomplete"), "incomplete"))
        blocks += [Words(_problem(job, part, one.path, str(one.words))) for one in found.problems]
    else:
        if worked.missing:
            blocks.append(Words(gettext("No answer yet: incomplete"), "incomplete"))
        blocks.append(answer(worked))
        blocks += [finding(one) for one in worked.findings]
    entered = entries(job, part)
    if entered:
        blocks.append(Heading(3, gettext("Entries")))
        blocks.append(Grid((), tuple(entered), (1, 2)))
    if worked is not None:
        for section in worked.sections:
            blocks += worksheet(section)
        blocks += alternatives(worked)
    return blocks


def answer(worked: Report) -> Facts:
    """The results that are the answer."""
    found = [worked.results[name] for name in worked.answer if name in worked.results]
    return Facts(tuple((told(str(one.label)), result(one)) for one in found), boxed=True)


def finding(one: Finding) -> Words:
    """A finding with what mends it, who has accepted it, and its rules."""
    parts = [f"{status_word(one.severity).capitalize()}:", str(one.words)]
    if one.remedy:
        parts.append(str(one.remedy))
    if one.accepted:
        words = gettext("Accepted by {by}: {reason}")
        parts.append(words.format(by=one.accepted.by, reason=one.accepted.reason))
    if one.rules:
        parts.append(f"({rules(one.rules)})")
    return Words(" ".join(parts), TONES.get(one.severity, "plain"))


def worksheet(section: Section) -> list[Block]:
    """A group of lines of the worksheet."""
    rows, sums = [], []
    for number, line in enumerate(section.lines):
        value = "" if line.value is None else f"{quantity(line)} {line.unit}".strip()
        rows.append((str(line.label), under(line), rules(line.rules), value))
        if line.kind in ("sum", "result"):
            sums.append(number)
    if not rows:
        return []
    return [
        Heading(3, str(section.title)),
        Grid((), tuple(rows), (3, 4, 1.6, 1.4), (3,), tuple(sums)),
    ]


def alternatives(worked: Report) -> list[Block]:
    """The pairs of device and conductor with their verdicts."""
    if not worked.alternatives:
        return []
    rows = []
    for one in worked.alternatives:
        verdict = gettext("Passes.") if one.passes else gettext("Fails.")
        rows.append(
            (
                f"{figure(one.device)} A, {one.conductor}",
                f"{verdict} {one.why}",
                rules(one.rules),
                gettext("chosen") if one.chosen else "",
            )
        )
    chosen = tuple(n for n, one in enumerate(worked.alternatives) if one.chosen)
    grid = Grid((), tuple(rows), (2.4, 4.6, 1.6, 1), (), chosen)
    return [Heading(3, gettext("Alternatives")), grid]


def entries(job: Job, part: Part) -> list[tuple[str, str]]:
    """What was entered, label and text; what is left as it usually is goes without saying."""
    document, found = job.shown(part), []
    for spec in fields(job.entries_of(part.kind)):
        value = document.get(spec.name)
        if spec.kind == "rows":
            if isinstance(value, list):
                texts = [row_words(spec, row) for row in value]
                found += [(told(spec.label), text) for text in texts if text]
        elif spec.name != "accepted" and (text := entry_words(spec, value)):
            found.append((told(spec.label), text))
    return found


def _problem(job: Job, part: Part, path: str, words: str) -> str:
    specs = {spec.name: told(spec.label) for spec in fields(job.entries_of(part.kind))}
    name = path.partition(".")[0]
    return f"{specs[name]}: {words}" if name in specs else words
