"""A learner's paper: joined by its code without an account, worked, handed in."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_http_methods

from voltaje.core.codes import edition
from voltaje.core.practice import Marker
from voltaje.web.accounts import throttle
from voltaje.web.http import intake
from voltaje.web.practice import sittings
from voltaje.web.practice.models import CODE_LENGTH, ClassPaper, Sitting, SittingProblem
from voltaje.web.practice.working import shown_lines, typed_lines

SESSION = "sittings"  # a browser's own papers: the key by the paper's code


class JoinForm(forms.Form):
    """The code that the teacher gave, and a name."""

    paper = forms.CharField(
        label=gettext_lazy("Paper code"),
        max_length=2 * CODE_LENGTH,
        help_text=gettext_lazy("Six letters and digits, from your teacher."),
    )
    name = forms.CharField(
        label=gettext_lazy("Name"),
        max_length=40,
        help_text=gettext_lazy("A name by which your teacher knows you."),
    )

    def clean_paper(self) -> ClassPaper:
        """The paper of the code, in any letter case, with or without spaces."""
        code = "".join(str(self.cleaned_data["paper"]).upper().split())
        found = ClassPaper.objects.filter(join_code=code).first()
        if found is None:
            raise forms.ValidationError(gettext("No paper with this code. Check the code."))
        if not found.open:
            raise forms.ValidationError(gettext("This paper is closed: ask your teacher."))
        return found

    def clean_name(self) -> str:
        """A name that can be shown and filed."""
        name = intake.one_line(str(self.cleaned_data["name"]), 40)
        if not name:
            raise forms.ValidationError(gettext("Give a name."))
        return name


@require_http_methods(["GET", "POST"])
def join(request: HttpRequest) -> HttpResponse:
    """The code and a name; who has joined here before goes on with the same paper."""
    form = JoinForm(request.POST or None, initial={"paper": request.GET.get("code", "")[:12]})
    if request.method == "POST":
        if not throttle.from_here(request, "paper"):
            return throttle.too_many(request)
        if form.is_valid():
            paper, name = form.cleaned_data["paper"], form.cleaned_data["name"]
            mine = request.session.get(SESSION, {})
            before = paper.sittings.filter(key=mine.get(paper.join_code, "")).first()
            if before is not None and before.name.casefold() == name.casefold():
                return redirect("practice:sitting", key=before.key)
            try:
                sitting = sittings.join(paper, name)
            except sittings.NameTakenError:
                words = gettext(
                    "Somebody has joined by this name: take another, or go on by the address of"
                    " your paper."
                )
                form.add_error("name", words)
            except sittings.FullError:
                form.add_error("paper", gettext("This paper is full: ask your teacher."))
            else:
                request.session[SESSION] = {**mine, paper.join_code: sitting.key}
                return redirect("practice:sitting", key=sitting.key)
    status = 422 if form.errors else 200
    return render(request, "practice/join.html", {"form": form}, status=status)


def _sitting(key: str) -> Sitting:
    return get_object_or_404(Sitting.objects.select_related("paper"), key=key)


@require_http_methods(["GET", "POST"])
def sitting(request: HttpRequest, key: str) -> HttpResponse:
    """A learner's paper: its problems, the time left; handed in by a press."""
    found = _sitting(key)
    if request.method == "POST":
        if request.POST.get("do") != "hand in":
            raise Http404
        sittings.hand_in(found)
        return redirect("practice:sitting", key=key)
    rows = list(found.problems.all())
    context = {
        **_head(found),
        "rows": rows,
        "address": request.build_absolute_uri(),
        "points": sum(row.points for row in rows),
        "most": sum(row.most for row in rows),
        "left": [row for row in rows if row.saved_at is None],
    }
    return render(request, "practice/sitting.html", context)


@require_http_methods(["GET", "POST"])
def sitting_problem(request: HttpRequest, key: str, number: int) -> HttpResponse:
    """One problem of a learner's paper: what is typed is kept, the marks are shown at the end."""
    found = _sitting(key)
    row = get_object_or_404(SittingProblem, sitting=found, number=number)
    row.sitting = found
    problem = sittings.problem_of(row)
    if problem is None:
        raise Http404
    marker = Marker(problem)
    typed: dict[str, str] = row.typed
    late = False
    if request.method == "POST":
        typed = typed_lines(request.POST, marker)
        if sittings.takes(found):
            sittings.save(row, marker, typed)
            after = found.problems.filter(number__gt=row.number).first()
            if request.POST.get("do") == "next" and after is not None:
                return redirect("practice:sitting_problem", key=key, number=after.number)
            return redirect("practice:sitting", key=key)
        late = True
    over = found.over
    context = {
        **_head(found),
        "row": row,
        "of": problem.kind,
        "problem": problem,
        "late": late,
        "last": not found.problems.filter(number__gt=row.number).exists(),
        "lines": shown_lines(marker, typed, sittings.remark(row, marker) if over else ()),
    }
    return render(request, "practice/sitting_problem.html", context, status=409 if late else 200)


def _head(found: Sitting) -> dict[str, Any]:
    """What every page of a learner's paper says of it."""
    left = (found.until - timezone.now()).total_seconds()
    return {
        "sitting": found,
        "paper": found.paper,
        "book": edition(found.paper.code),
        "over": found.over,
        "seconds_left": max(0, int(left)) if found.paper.minutes else None,
        "minutes_left": max(0, int(left // 60)),
    }
