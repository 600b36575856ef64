"""The page of a firm's defaults."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django import forms
from django.contrib import messages
from django.contrib.auth.decorators import login_required
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.translation import gettext, gettext_lazy, gettext_noop
from django.views.decorators.http import require_http_methods

from voltaje.core.codes import edition, editions
from voltaje.core.entries import FieldSpec
from voltaje.core.report import told
from voltaje.core.rules.settings import PREFERENCES
from voltaje.web.firm import defaults
from voltaje.web.http.requests import Request
from voltaje.web.jobs.models import MOST_RESERVE, RESERVE, UNIT_CHOICES, Job
from voltaje.web.jobs.stock import stock_of
from voltaje.web.parts.form import FormField


class DefaultsForm(forms.Form):
    """Code, units, habit of sizing devices."""

    edition = forms.ChoiceField(label=gettext_lazy("Code"))
    units = forms.ChoiceField(label=gettext_lazy("Units"))
    preference = forms.ChoiceField(label=gettext_lazy("Device choice"))
    stock = forms.CharField(
        label=gettext_lazy("Devices in stock, A (empty: any)"), max_length=200, required=False
    )
    reserve = forms.FloatField(
        label=gettext_lazy("Reserve, % (next size up within it)"),
        min_value=0,
        max_value=MOST_RESERVE,
        required=False,
        error_messages={"invalid": RESERVE, "min_value": RESERVE, "max_value": RESERVE},
    )

    def __init__(self, *args: Any, **more: Any) -> None:
        super().__init__(*args, **more)
        choices: dict[str, list[tuple[str, Any]]] = {
            "edition": [(book.id, book.title) for book in editions()],
            "units": list(UNIT_CHOICES),
            "preference": [(name, told(words)) for name, words in PREFERENCES.items()],
        }
        for name, found in choices.items():
            self.fields[name].choices = found  # type: ignore[attr-defined]

    def clean_stock(self) -> str:
        """Ratings, in order."""
        try:
            return stock_of(self.cleaned_data["stock"])
        except ValueError:
            words = gettext("Ratings in A with spaces between, like 15 20 30 60 100.")
            raise forms.ValidationError(words) from None

    def clean_reserve(self) -> float:
        """Nothing typed is no reserve."""
        return float(self.cleaned_data.get("reserve") or 0.0)


def _usual_code(request: Request) -> str:
    """The code of the account's last job."""
    last = Job.objects.of(request.user).order_by("-created_at").first()
    return last.edition if last is not None else "nec-2020"


def _as_usual(spec: FieldSpec) -> FieldSpec:
    """Nothing stands above a supply: what is left open is as usual."""
    if spec.kind != "choice":
        return spec
    return replace(spec, choices=(("", gettext_noop("as usual")), *spec.choices[1:]))


@login_required
@require_http_methods(["GET", "POST"])
def firm_defaults(request: Request) -> HttpResponse:
    """The defaults; the usual values are those of the code that is chosen."""
    kept = defaults.of(request.user)
    first = {
        "edition": kept.edition or _usual_code(request),
        "units": kept.units or "us",
        "preference": kept.preference or "smallest",
        "stock": kept.stock,
        "reserve": f"{kept.reserve:g}",
    }
    known = {book.id for book in editions()}
    asked = request.GET.get("code", "")
    if asked in known:
        first["edition"] = asked
    form = DefaultsForm(request.POST or None, initial=first)
    book = request.POST.get("edition", first["edition"])
    book = book if book in known else first["edition"]
    texts = dict(kept.usual.get(edition(book).family, {}))
    wrong: dict[str, str] = {}
    if request.method == "POST":
        texts = defaults.typed(book, request.POST)
        wrong = defaults.problems(book, texts)
        # another code may have other usual values: they are shown before anything is kept
        other = request.POST.get("shown", book) != edition(book).family
        if form.is_valid() and not wrong and not other:
            for name, value in form.cleaned_data.items():
                setattr(kept, name, value)
            kept.usual = {**kept.usual, edition(book).family: texts}
            kept.save()
            messages.success(request, gettext("Saved. New jobs start with these values."))
            request.saved = True
            return redirect(reverse("firm_defaults"))
        if other:
            texts = {**kept.usual.get(edition(book).family, {}), **texts}
    context = {
        "form": form,
        "family": edition(book).family,
        "book": edition(book),
        "fields": [
            FormField(spec, spec.name, texts.get(spec.name, ""), wrong.get(spec.name, ""))
            for spec in map(_as_usual, defaults.specs(book))
        ],
    }
    failed = bool(wrong) or bool(form.errors)
    return render(request, "firm/defaults.html", context, status=422 if failed else 200)
