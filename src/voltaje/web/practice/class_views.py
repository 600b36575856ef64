"""A teacher's papers for a class: made, looked at by learner and by slip, taken out as a table."""

from __future__ import annotations

import secrets
from datetime import timedelta
from typing import Any
from urllib.parse import urlencode

from django import forms
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from voltaje.core.codes import edition
from voltaje.core.kinds import kind
from voltaje.core.practice import Marker
from voltaje.web.http import intake, table_files
from voltaje.web.practice import sittings
from voltaje.web.practice.models import ClassPaper, Sitting, SittingProblem
from voltaje.web.practice.paper import HARDER, MOST_PROBLEMS, ProblemsForm
from voltaje.web.practice.working import shown_lines

MOST_ON_A_PAPER = 12  # no code figure: a problem takes minutes by hand
DAYS = 30  # no code figure: how long a paper's code is good for where nothing is said


class ClassPaperForm(ProblemsForm):
    """A paper for a class: its title, its time, how long its code is good for."""

    title = forms.CharField(label=gettext_lazy("Title"), max_length=80)
    minutes = forms.IntegerField(
        label=gettext_lazy("Minutes"),
        min_value=5,
        max_value=480,
        required=False,
        help_text=gettext_lazy("Empty: no limit. The time runs from a learner’s first look."),
    )
    days = forms.IntegerField(
        label=gettext_lazy("Open for, days"), min_value=1, max_value=180, initial=DAYS
    )
    field_order = ("title", "code", "kinds", "number", "minutes", "days")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["number"].widget.attrs["max"] = MOST_ON_A_PAPER

    def clean_title(self) -> str:
        """A title that can be shown and filed."""
        return intake.one_line(str(self.cleaned_data["title"]), 80)

    def clean(self) -> dict[str, Any]:
        """Not more problems than are made at once when somebody joins."""
        data = super().clean()
        number = data.get("number")
        most = min(MOST_ON_A_PAPER, MOST_PROBLEMS // (HARDER if data.get("hard") else 1))
        if number and number > most:
            words = gettext("At most {most} problems on such a paper.").format(most=most)
            self.add_error("number", words)
        return data


@login_required
@require_http_methods(["GET", "POST"])
def papers(request: HttpRequest) -> HttpResponse:
    """An account's papers, and the form for another."""
    owner: Any = request.user
    own = ClassPaper.objects.filter(owner=owner)
    initial = {"code": "nec-2020", "seed": secrets.token_hex(3), "number": 4, "days": DAYS}
    form = ClassPaperForm(request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        if own.count() >= sittings.MOST_PAPERS:
            words = gettext("At most {most} papers: delete one first.")
            form.add_error(None, words.format(most=sittings.MOST_PAPERS))
        else:
            return redirect("practice:results", paper_id=_made(owner, form.cleaned_data).pk)
    status = 422 if form.errors else 200
    context = {"form": form, "papers": own.prefetch_related("sittings")}
    return render(request, "practice/papers.html", context, status=status)


def _made(owner: Any, data: dict[str, Any]) -> ClassPaper:
    return ClassPaper.objects.create(
        owner=owner,
        title=data["title"],
        code=data["code"],
        kinds=data["known"],
        number=data["number"],
        level=data["level"],
        hard=data["hard"],
        seed=data["seed"],
        minutes=data["minutes"],
        expires_at=timezone.now() + timedelta(days=data["days"]),
    )


def _own(request: HttpRequest, paper_id: Any) -> ClassPaper:
    return get_object_or_404(ClassPaper, pk=paper_id, owner=request.user)


@login_required
@require_GET
def results(request: HttpRequest, paper_id: Any) -> HttpResponse:
    """One paper: its code, what each learner reached, the slips of all."""
    paper = _own(request, paper_id)
    found = sittings.learners(paper)
    printed = {
        "code": paper.code,
        "kinds": paper.kinds,
        "number": paper.number,
        "learners": max(1, min(len(found) or 1, MOST_PROBLEMS // paper.number)),
        "level": paper.level,
        "seed": paper.seed,
        **({"hard": "on"} if paper.hard else {}),
    }
    context = {
        "paper": paper,
        "book": edition(paper.code),
        "kinds": [kind(name).label for name in paper.kinds],
        "numbers": range(1, paper.number + 1),
        "learners": found,
        "slips": sittings.slips(found),
        "join": request.build_absolute_uri(reverse("practice:join")),
        "printed": f"{reverse('practice:paper')}?{urlencode(printed, doseq=True)}",
    }
    return render(request, "practice/results.html", context)


@login_required
@require_GET
def results_file(request: HttpRequest, paper_id: Any, ending: str) -> HttpResponse:
    """The results as CSV or XLSX, a row for each learner and problem."""
    paper = _own(request, paper_id)
    if ending not in ("csv", "xlsx"):
        raise Http404
    lines = [[str(cell) for cell in row] for row in sittings.rows(sittings.learners(paper))]
    table = [list(sittings.COLUMNS), *lines]
    if ending == "xlsx":
        content: str | bytes = table_files.write_xlsx(table, gettext("Results"), 1)
        kind_of = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    else:
        content, kind_of = table_files.write_csv(table), "text/csv; charset=utf-8"
    answer = HttpResponse(content, content_type=kind_of)
    answer["Content-Disposition"] = f'attachment; filename="paper-{paper.join_code}.{ending}"'
    return answer


@login_required
@require_POST
def change(request: HttpRequest, paper_id: Any) -> HttpResponse:
    """A paper is closed, opened again for another month, or deleted; a learner's is reopened."""
    paper, do = _own(request, paper_id), request.POST.get("do", "")
    if do == "delete":
        paper.delete()
        return redirect("practice:papers")
    if do == "close":
        paper.expires_at = timezone.now()
        paper.save(update_fields=["expires_at"])
        paper.sittings.filter(handed_in_at=None).update(until=timezone.now())
    elif do == "open":
        paper.expires_at = timezone.now() + timedelta(days=DAYS)
        paper.save(update_fields=["expires_at"])
    elif do.startswith("reopen:") and do[7:].isdigit() and len(do) < 16:
        sitting = get_object_or_404(Sitting, paper=paper, place=int(do[7:]))
        sittings.reopen(sitting)
    else:
        raise Http404
    return redirect("practice:results", paper_id=paper.pk)


@login_required
@require_GET
def marking(request: HttpRequest, paper_id: Any, place: int, number: int) -> HttpResponse:
    """One learner's problem with every line as it was marked, and the key."""
    paper = _own(request, paper_id)
    row = get_object_or_404(
        SittingProblem, sitting__paper=paper, sitting__place=place, number=number
    )
    found = sittings.problem_of(row)
    if found is None:
        raise Http404
    marker = Marker(found)
    context = {
        "paper": paper,
        "sitting": row.sitting,
        "row": row,
        "of": found.kind,
        "problem": found,
        "lines": shown_lines(marker, row.typed, sittings.remark(row, marker)),
    }
    return render(request, "practice/marking.html", context)
