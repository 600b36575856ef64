"""A paper to be printed: so many problems for so many learners, each with own figures; the key."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, get_args

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_GET

from voltaje.core.codes import Edition, edition
from voltaje.core.kinds import kind
from voltaje.core.practice import AskedLine, Level, PracticeProblem, asked_lines, problem
from voltaje.core.rules.interface import code_of
from voltaje.web.jobs.models import edition_choices
from voltaje.web.kinds import presentations
from voltaje.web.parts.quick_views import codes_of
from voltaje.web.practice.bases import bases_of

# no code figures: what one page works within a second; a harder problem is chosen of several
MOST_PROBLEMS, HARDER = 30, 3
ALIKE = 24  # no code figure: how often another problem is sought where one is there already
LEVELS = [
    ("guided", gettext_lazy("each line of the worksheet")),
    ("answer", gettext_lazy("answer only")),
]


@dataclass(frozen=True, slots=True)
class Task:
    """A problem of a paper with its number and the lines that are asked."""

    number: int
    problem: PracticeProblem
    lines: tuple[AskedLine, ...]


@dataclass(frozen=True, slots=True)
class Paper:
    """The paper of one learner: its mark and tasks; a point for each line."""

    mark: str
    tasks: tuple[Task, ...]

    @property
    def points(self) -> int:
        return sum(len(task.lines) for task in self.tasks)


def _kinds() -> list[tuple[str, str]]:
    return [(name, gettext(kind(name).label)) for name, one in presentations().items() if one.quick]


class ProblemsForm(forms.Form):
    """What is asked on a paper."""

    code = forms.ChoiceField(label=gettext_lazy("Code edition"), choices=edition_choices)
    kinds = forms.MultipleChoiceField(
        label=gettext_lazy("What is asked"),
        choices=_kinds,
        widget=forms.CheckboxSelectMultiple,
        error_messages={"required": gettext_lazy("Choose at least one.")},
    )
    number = forms.IntegerField(
        label=gettext_lazy("Problems on a paper"), min_value=1, max_value=20, initial=4
    )
    level = forms.ChoiceField(label=gettext_lazy("Level"), choices=LEVELS)
    hard = forms.BooleanField(label=gettext_lazy("Harder: more rules apply"), required=False)
    seed = forms.RegexField(
        "^[A-Za-z0-9]{1,12}$",
        label=gettext_lazy("Seed"),
        error_messages={"invalid": gettext_lazy("Letters and digits, at most 12, like week7.")},
        help_text=gettext_lazy("The same seed makes the same papers again."),
    )

    def clean(self) -> dict[str, Any]:
        """Only what the code has."""
        data = super().clean() or {}
        code = data.get("code", "")
        known = [name for name in data.get("kinds", ()) if code in codes_of(name)]
        if data.get("kinds") and code and not known:
            self.add_error("kinds", gettext("Nothing of this is worked under that code."))
        return {**data, "known": known}

    def too_many(self, field: str, papers: int) -> None:
        """Refuses more problems at once than one request works."""
        number = self.cleaned_data.get("number")
        most = MOST_PROBLEMS // (HARDER if self.cleaned_data.get("hard") else 1)
        if number and number * papers > most:
            words = gettext("At most {most} problems at once: fewer papers, or fewer on each.")
            self.add_error(field, words.format(most=most))


class PaperForm(ProblemsForm):
    """The same for papers to be printed, and for how many learners."""

    learners = forms.IntegerField(
        label=gettext_lazy("Papers, each with its own figures"),
        min_value=1,
        max_value=30,
        initial=1,
    )
    field_order = ("code", "kinds", "number", "learners")

    def clean(self) -> dict[str, Any]:
        """Not more than one page works."""
        data = super().clean()
        self.too_many("learners", data.get("learners") or 1)
        return data


@require_GET
def paper(request: HttpRequest) -> HttpResponse:
    """The form; with a seed the papers, and behind them the key."""
    if "seed" not in request.GET:
        form = PaperForm(initial={"code": "nec-2020", "seed": secrets.token_hex(3)})
        return render(request, "practice/paper.html", {"form": form})
    form = PaperForm(request.GET)
    if not form.is_valid():
        return render(request, "practice/paper.html", {"form": form}, status=422)
    papers = _papers(form.cleaned_data)
    if not papers:
        return redirect("practice:paper")
    book, seed = edition(form.cleaned_data["code"]), form.cleaned_data["seed"]
    if request.GET.get("as") == "pdf":
        return _as_file(papers, book, seed)
    context = {
        "papers": papers,
        "paper": "letter" if code_of(book.family).units == "us" else "a4",
        "book": book,
        "seed": seed,
        "pdf": f"{request.get_full_path()}&as=pdf",
    }
    return render(request, "practice/printed.html", context)


def _as_file(papers: list[Paper], book: Edition, seed: str) -> HttpResponse:
    """The papers and their key as a PDF to be saved."""
    from voltaje.web.practice.paper_pdf import papers_pdf  # the typesetter is large

    answer = HttpResponse(papers_pdf(papers, book, seed), content_type="application/pdf")
    answer["Content-Disposition"] = f'attachment; filename="practice-{seed}.pdf"'
    return answer


def _papers(data: dict[str, Any]) -> list[Paper]:
    book, level = edition(data["code"]), level_of(data["level"])
    found = []
    for learner in range(1, data["learners"] + 1):
        made = problems_of(
            data["known"], book, data["number"], data["seed"], learner, level, data["hard"]
        )
        tasks = [
            Task(number, one, asked_lines(one.report, level == "answer")) for number, one in made
        ]
        found.append(Paper(f"{data['seed']}-{learner}", tuple(tasks)))
    return [one for one in found if one.tasks]


def level_of(text: str) -> Level:
    """The level by its name; guided for any other."""
    return next((one for one in get_args(Level) if one == text), "guided")


def problems_of(
    kinds: Sequence[str],
    book: Edition,
    number: int,
    seed: str,
    learner: int,
    level: Level,
    hard: bool,
) -> list[tuple[int, PracticeProblem]]:
    """The numbered problems of one learner's paper, the kinds in turn, no two alike; on paper and
    in the browser the same seed gives the same figures."""
    found: list[tuple[int, PracticeProblem]] = []
    for place in range(1, number + 1):
        name, own = kinds[(place - 1) % len(kinds)], f"{seed}{learner}x{place}"
        for again in range(ALIKE):
            other = own if not again else f"{own}x{again}"
            made = problem(kind(name), book, bases_of(name, book.id), other, level, hard)
            known = [one.document for _, one in found if one.kind.name == name]
            if made is not None and made.document not in known:
                break
        if made is not None:
            found.append((place, made))
    return found
