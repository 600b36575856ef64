"""Papers and their key as one PDF, by the typesetter of document sets."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from django.utils.translation import get_language, gettext

from voltaje.core.codes import Edition
from voltaje.core.report import told
from voltaje.core.rules.interface import code_of
from voltaje.web.documents.blocks import Block, Facts, Grid, Heading, Words
from voltaje.web.documents.typesetting import SetWords, to_pdf
from voltaje.web.practice.paper import Paper, Task

BLANK = "____________"


def papers_pdf(papers: Sequence[Paper], book: Edition, seed: str) -> bytes:
    """Every learner's paper on sheets of its own, then the key of each with the marking scheme."""
    blocks = [block for one in papers for block in _paper(one, book)]
    blocks += [block for one in papers for block in _key(one)]
    title = gettext("Practice, {code}, {seed}").format(code=book.title, seed=seed)
    words = SetWords(
        title=title,
        author="Voltaje",
        footer=f"{title} · {gettext('For learning only; the adopted code prevails.')}",
        page=gettext("Page {n} of {all}"),
        tile="{tile}",
        language=get_language() or "en",
    )
    paper = "letter" if code_of(book.family).units == "us" else "a4"
    return to_pdf(blocks, paper, words)[0]


def _paper(one: Paper, book: Edition) -> Iterator[Block]:
    yield Heading(1, gettext("Paper {mark}").format(mark=one.mark), one.mark)
    yield Words(told(book.title), "soft")
    yield Facts(
        (
            (gettext("Name"), BLANK * 2),
            (gettext("Date"), BLANK),
            (gettext("Points"), f"______ / {one.points}"),
        )
    )
    for task in one.tasks:
        yield from _given(task)
        rows = tuple((str(line.label), f"{BLANK} {line.unit}".strip()) for line in task.lines)
        yield Grid((), rows, (3.0, 1.2), (1,), tall=True)


def _key(one: Paper) -> Iterator[Block]:
    yield Heading(1, gettext("Key: {mark}").format(mark=one.mark), f"key-{one.mark}")
    words = gettext(
        "{points} points, one for each line; a line that follows rightly from an earlier figure"
        " keeps its point."
    )
    yield Words(words.format(points=one.points), "soft")
    for task in one.tasks:
        yield from _given(task)
        rows = []
        for line in task.lines:
            cited = dict.fromkeys(str(rule.cite) for rule in line.rules)
            rows.append((str(line.label), line.expression, line.shown, ", ".join(cited)))
        yield Grid((), tuple(rows), (2.2, 2.4, 1.0, 1.6), (2,))


def _given(task: Task) -> Iterator[Block]:
    label = told(task.problem.kind.label)
    yield Heading(2, f"{task.number}. {label}")
    if task.problem.task is not None:
        yield Words(str(task.problem.task))
    system = told(task.problem.context.supply.system.label)
    given = "; ".join(f"{name}: {text}" for name, text in task.problem.given)
    yield Words(f"{system}; {given}.", "soft")
