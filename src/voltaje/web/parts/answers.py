"""A question answered where it is asked: by a table, or by the sheet that Enter opens.

The sheet is worked with what the question says. What was assumed is told, and what was not
understood is marked in the question."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlencode

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.translation import gettext
from django.views.decorators.http import require_GET

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.kinds import evaluate, kind
from voltaje.core.questions import MEMBER, listed, read_figures, said
from voltaje.core.questions.direct import DirectAnswer, direct
from voltaje.core.report import Report, Result, figure, told
from voltaje.web.history.patch import read_form
from voltaje.web.http.requests import Request
from voltaje.web.kinds import presentation
from voltaje.web.kinds.presentation import Question
from voltaje.web.parts import finder, form
from voltaje.web.parts.quick_views import quick_context, quick_model, quick_settings

MOST_WORKED = 3  # no code figure: readings of a question that are worked
MOST_FIGURES = 5
MOST_ROWS = 12
MOST_ASKED = 200  # no code figure: characters of a question
ALIKE = 0.66  # no code figure: as well as the best a reading fits at least to be worked, a share
# what a load draws, by whichever name a sheet has it
CURRENTS = ("full_load_current", "amperes", "load_amperes", "governing_amperes")


@dataclass(frozen=True, slots=True)
class Answer:
    """One reading of a question: its title, the figures in words, the code and rules behind them,
    what was ``assumed``, the address that shows the working, figures that it has no entry for
    (``unread``), and what it ``needs`` where it has no result. ``values`` are the figures by name,
    with the entries that they were worked from."""

    title: str
    figures: tuple[str, ...]
    code: str
    rules: tuple[str, ...] = ()
    assumed: tuple[str, ...] = ()
    url: str = ""
    unread: tuple[str, ...] = ()
    needs: str = ""
    kind: str = ""
    entries: tuple[tuple[str, str], ...] = ()
    values: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Asked:
    """A question as it was understood: its words in their order, each with whether it was taken;
    the answers, the best first; further sheets that fit."""

    words: tuple[tuple[str, bool], ...]
    answers: tuple[Answer, ...]
    others: tuple[Question, ...]

    @property
    def missed(self) -> tuple[str, ...]:
        """The words that were not understood."""
        return tuple(word for word, taken in self.words if not taken)


def ask(asked: str) -> Asked:
    """What is answered to a question; no answers where nothing fits."""
    several = listed(asked.lower())
    if several:
        return _each(asked, several)
    found = [_from_table(one, asked) for one in direct(asked)]
    others: list[Question] = []
    for task, share in finder.ranked_tasks(asked):
        worked = sum(1 for one in found if one.kind)
        enough = worked >= MOST_WORKED or (found and not found[0].kind)
        if not task.kind or enough or share < ALIKE:
            others.append(task)
            continue
        answer = _from_sheet(task, asked)
        if not (answer.figures or answer.needs) or any(one.url == answer.url for one in found):
            others.append(task)
        else:
            found.append(answer)
    # of readings that have figures those that leave less out come first; where one has them, one
    # that asks for more is a sheet like the others
    found.sort(key=lambda one: (not one.figures, bool(one.kind) and len(one.unread)))
    if found and found[0].figures:
        found = [one for one in found if one.figures]
    return Asked(_words(asked, found), tuple(found), tuple(others))


def _from_table(one: DirectAnswer, asked: str) -> Answer:
    url = ""
    if one.topic:
        url = reverse("codes:rule", args=[one.edition, one.topic])
        query = {"row": one.row, "column": one.rules[0].column if one.rules else ""}
        kept = {name: value for name, value in query.items() if value}
        url = f"{url}?{urlencode(kept)}" if kept else url
    return Answer(
        str(one.title),
        tuple(str(text) for text in one.figures),
        edition(one.edition).title,
        tuple(dict.fromkeys(rule.cite for rule in one.rules)),
        tuple(str(text) for text in one.assumed),
        url,
        values={"values": list(one.values), "used": list(one.used)},
    )


def _from_sheet(task: Question, asked: str) -> Answer:
    """The answer of a sheet, worked as the page works it that the task's address opens."""
    given = dict(task.entries)
    chosen = quick_settings(task.kind, given)
    book = edition(chosen["code"])
    title, entries = told(task.title), tuple((k, v) for k, v in task.entries if v)
    base: dict[str, Any] = {
        "url": task.url,
        "unread": task.unread,
        "kind": task.kind,
        "entries": entries,
    }
    if not chosen["system"]:
        needs = gettext("No supply of these volts is known here: choose one on the sheet.")
        return Answer(title, (), book.title, needs=needs, **base)
    of = kind(task.kind)
    model = quick_model(of, chosen)
    document = read_form(given, model, of.former_entries)
    found = evaluate(of, document, quick_context(chosen))
    report = found.report
    if report is None:
        needs = found.problems[0].words if found.problems else ""
        return Answer(title, (), book.title, needs=needs, **base)
    groups = form.build(of, model, document, (), None, book)
    assumed: list[str] = []
    if not given.get("code") or read_figures(asked.lower()).hinted:
        assumed.append(gettext("no code named"))
    if presentation(task.kind).on_supply and not given.get("system") and not of.quick_only:
        assumed.append(told(SYSTEMS[chosen["system"]].label))
    assumed += [group.says for group in groups if group.name == "run" and group.resting]
    failed = [str(one.words) for one in report.findings if one.severity == "fail"]
    return Answer(
        title,
        tuple(_figures(report)),
        book.title,
        (),
        tuple(assumed),
        needs=failed[0] if failed else "",
        values={name: _value(result) for name, result in report.results.items()},
        **base,
    )


def _value(result: Result) -> dict[str, Any]:
    return {"value": result.value, "unit": result.unit, "label": str(result.label)}


def _figures(report: Report) -> list[str]:
    """What the sheet draws, then its answer: each figure with its name."""
    first = next((name for name in CURRENTS if name in report.results), "")
    found_first = ["found"] if "found" in report.results else []
    names = dict.fromkeys([*found_first, *([first] if first else []), *report.answer])
    found: list[str] = []
    for name in names:
        if name in report.results and len(found) < MOST_FIGURES:
            result = report.results[name]
            value = result.value if isinstance(result.value, str) else figure(result.value, 1)
            found.append(f"{result.label!s} {told(value)} {result.unit}".strip())
    return found


def _each(asked: str, several: re.Match[str]) -> Asked:
    """A list of figures of one unit: a row for each."""
    found: list[Answer] = []
    others: dict[str, Question] = {}
    for member in MEMBER.findall(several[1])[:MOST_ROWS]:
        one = f"{asked[: several.start()]}{member} {several[2]}{asked[several.end() :]}"
        each = ask(one)
        found += each.answers[:1]
        others |= {task.url: task for task in each.others}
    last = f"{asked[: several.start()]}{asked[several.end() :]}"
    unread = tuple(dict.fromkeys(text for one in found for text in one.unread))
    listed = tuple((word, bool(found)) for word in TOKEN.findall(several.group()))
    words = _words(last, found) if found else ()
    kept = [(word, taken) for word, taken in words if word not in unread or taken]
    before = len(TOKEN.findall(asked[: several.start()]))
    return Asked((*kept[:before], *listed, *kept[before:]), tuple(found), tuple(others.values()))


TOKEN = re.compile(r"\S+")


def _words(asked: str, found: list[Answer]) -> tuple[tuple[str, bool], ...]:
    """The words of a question, each with whether the first answer has taken it."""
    if not found:
        return tuple((word, False) for word in TOKEN.findall(asked))
    best = found[0]
    unread = {word for text in best.unread for word in text.lower().split()}
    table = {str(part).lower() for part in best.values.get("used", ())} if not best.kind else None
    marked = []
    for word in TOKEN.findall(asked):
        plain = word.lower().strip(",.;:?!()\"'")
        if re.search(r"\d", plain):
            taken = plain not in unread and not any(plain in text for text in unread)
            if table is not None:
                taken = (
                    plain in best.code.lower()
                    or any(plain in part or part in plain for part in table if part)
                    or bool(read_figures(plain).size)
                )
        else:
            taken = not plain or _known(plain)
        marked.append((word, taken))
    return tuple(marked)


def _known(word: str) -> bool:
    """Whether a word means something to the program."""
    if word in said("silent") or word in said("unit") or word in said("family"):
        return True
    parts = [part for part in re.split(r"[-/]", word) if part] or [word]
    return all(len(part) < 2 or finder.means_something(part) for part in parts)


def as_json(asked: str, found: Asked) -> dict[str, Any]:
    """A question with its answers, as the command and the program's address give them."""
    return {
        "question": asked,
        "words": [{"text": word, "understood": taken} for word, taken in found.words],
        "answers": [
            {
                "title": one.title,
                "figures": list(one.figures),
                "code": one.code,
                "rules": list(one.rules),
                "assumed": list(one.assumed),
                "needs": one.needs,
                "unread": list(one.unread),
                "address": one.url,
                "kind": one.kind,
                "entries": dict(one.entries),
                "values": one.values,
            }
            for one in found.answers
        ],
        "others": [{"title": told(one.title), "address": one.url} for one in found.others],
    }


@require_GET
def find(request: Request) -> HttpResponse:
    """The question field: a question's answers, and the quick sheets that fit."""
    asked = request.GET.get("q", "").strip()[:MOST_ASKED]
    found = ask(asked) if asked else None
    # Enter in the question opens what fits best
    if found and request.GET.get("open") and not request.htmx:
        urls = [one.url for one in found.answers if one.url]
        urls += [task.url for task in found.others]
        if urls:
            return redirect(urls[0])
    tasks = found.others if found else tuple(finder.usual())
    nothing = found is not None and not found.answers and not found.others
    # what nothing fits says so, and offers every sheet
    context = {
        "asked": found,
        "tasks": tasks,
        "q": asked,
        "every": finder.tasks() if nothing else (),
    }
    template = "sheets/_tasks.html" if request.htmx else "sheets/find.html"
    return render(request, template, context)
