"""Local amendments and prices of a job."""

from __future__ import annotations

import uuid
from typing import Any

from django import forms
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import gettext, gettext_lazy, gettext_noop
from django.views.decorators.http import require_http_methods, require_POST

from voltaje.core.codes import Amendment as CodeAmendment
from voltaje.core.codes import Edition, NotCoveredError, Table, edition
from voltaje.core.quantities import read_number
from voltaje.core.report import told
from voltaje.web.history import revisions
from voltaje.web.http import intake
from voltaje.web.jobs.forms import NameField
from voltaje.web.jobs.models import Amendment, Job
from voltaje.web.jobs.views import own_job

METALS = {"copper": gettext_noop("Copper"), "aluminum": gettext_noop("Aluminum")}
MOST_PRICE = 100_000.0
FIELDS = ("topic", "row", "column", "value", "jurisdiction", "reason")


class AmendmentForm(forms.ModelForm):  # type: ignore[type-arg]
    """One figure: where it stands, what it is here, who says so and why. Sent twice it is recorded
    once: ``made`` is its id from the page."""

    made = forms.CharField(widget=forms.HiddenInput, required=False)

    class Meta:
        model = Amendment
        fields = FIELDS
        field_classes = {"jurisdiction": NameField, "reason": NameField}
        labels = {
            "topic": gettext_lazy("Table or limits"),
            "row": gettext_lazy("Row"),
            "column": gettext_lazy("Column"),
            "value": gettext_lazy("Value here"),
            "jurisdiction": gettext_lazy("Jurisdiction"),
            "reason": gettext_lazy("Reason"),
        }

    def __init__(self, *args: Any, job: Job, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.job = job
        self.code = edition(job.edition)
        found = [(t, self.code.text(t)) for t in self.code.topics() if self.code.has_table(t)]
        self.fields["topic"] = forms.ChoiceField(
            label=gettext("Table or limits"),
            choices=[
                (t, f"{told(text.number)}: {told(self.code.table(t).meta['title'])}")
                for t, text in found
            ],
        )
        for name, words in (
            (
                "row",
                gettext("Give the row as the table prints it, like 12, or choose the cell below."),
            ),
            (
                "column",
                gettext("Give the column as the table prints it, or choose the cell below."),
            ),
            ("value", gettext("Give the value that holds here.")),
            ("jurisdiction", gettext("Say whose amendment it is, like the county.")),
            ("reason", gettext("Say why, or where it is written.")),
        ):
            self.fields[name].error_messages["required"] = words
        at = [self.initial.get(name, "") for name in ("topic", "row", "column")]
        self.fields["value" if all(at) else "topic"].widget.attrs["autofocus"] = True
        if all(at) and at[0] in dict(found):
            self.fields["value"].help_text = self.code.span(*at).words

    def clean(self) -> dict[str, Any]:
        """The cell must be there and take the value."""
        data = super().clean() or {}
        if self.errors:
            return data
        table = self.code.table(data["topic"])
        if data["row"] not in table.rows:
            self.add_error(
                "row",
                gettext("No such row: there are {known} …").format(
                    known=", ".join(list(table.rows)[:8])
                ),
            )
        elif data["column"] not in table.columns:
            self.add_error(
                "column",
                gettext("No such column: there are {known}.").format(
                    known=", ".join(table.columns[:8])
                ),
            )
        else:
            cell = {name: data[name] for name in FIELDS}
            try:
                self.code.with_amendments([CodeAmendment(**cell)])
            except (ValueError, NotCoveredError) as error:
                self.add_error("value", str(error))
        if self.errors:
            return data
        taken = self.job.amendments.filter(
            topic=data["topic"], row=data["row"], column=data["column"]
        )
        made = intake.key(data["made"])
        if made is not None:
            taken = taken.exclude(pk=made)
        if taken.exists():
            self.add_error(
                "column", gettext("This figure is amended already: take that out first.")
            )
        return data


@login_required
@require_http_methods(["GET", "POST"])
def amendments(request: HttpRequest, job_id: Any) -> HttpResponse:
    """The job's amendments, and a form for another; the cell can be chosen in its table."""
    job = own_job(request, job_id)
    first = {name: request.GET.get(name, "") for name in ("topic", "row", "column")}
    first["made"] = str(uuid.uuid4())
    with revisions.changing(job) as held:
        form = AmendmentForm(request.POST or None, job=held, initial=first)
        if request.method == "POST" and form.is_valid():
            made = intake.key(form.cleaned_data["made"]) or uuid.uuid4()
            target = revisions.AMENDMENT + str(made)
            state = {name: form.cleaned_data[name] for name in FIELDS}
            try:
                revisions.write(held, request.user, {target: state})
            except revisions.RefusedError as error:
                form.add_error(None, str(error))
            else:
                return redirect("jobs:amendments", job.pk)
    code = edition(job.edition)
    listed = [(item, _was(code, item), code.text(item.topic)) for item in job.amendments.all()]
    given = form.data if form.is_bound else first
    topic = given.get("topic", "")
    context = {
        "job": job,
        "form": form,
        "listed": listed,
        "edition": code,
        "topic": topic,
        "cells": _cells(code, topic),
        "at": (given.get("row", ""), given.get("column", "")),
    }
    return render(request, "jobs/amendments.html", context, status=422 if form.errors else 200)


def _cells(code: Edition, topic: str) -> dict[str, Any] | None:
    """A table whose cells can be chosen; a cell that takes no amendment comes as its text."""
    if not topic or not code.has_table(topic):
        return None
    table: Table = code.table(topic)
    rows = [
        (row, [(c, cells[c], code.span(topic, row, c).open) for c in table.columns])
        for row, cells in table.rows.items()
    ]
    return {"key": table.key, "columns": table.columns, "rows": rows}


def _was(code: Any, item: Amendment) -> str:
    try:
        return str(code.table(item.topic).rows[item.row][item.column])
    except (NotCoveredError, KeyError):
        return gettext("not in this edition")


@login_required
@require_POST
def drop_amendment(request: HttpRequest, job_id: Any, amendment_id: Any) -> HttpResponse:
    """Takes an amendment out; undo brings it back. What is out already stays out."""
    job = own_job(request, job_id)
    with revisions.changing(job) as held:
        revisions.write(held, request.user, {revisions.AMENDMENT + str(amendment_id): None})
    return redirect("jobs:amendments", job.pk)


@login_required
@require_http_methods(["GET", "POST"])
def prices(request: HttpRequest, job_id: Any) -> HttpResponse:
    """What a foot or a metre of one conductor costs here; empty where it is not known."""
    job = own_job(request, job_id)
    sizes = list(job.family.sizes(edition(job.edition)))
    names = [f"{m} {s}" for m in METALS for s in sizes]
    errors: dict[str, str] = {}
    with revisions.changing(job) as held:
        kept = {name: str(value) for name, value in held.prices.items()}
        texts = dict(kept)
        if request.method == "POST":
            texts, wanted = _posted_prices(request.POST, names, kept, errors)
            if not errors:
                own = revisions.states(held, {revisions.JOB: None})[revisions.JOB] or {}
                others = {n: v for n, v in held.prices.items() if n not in names}
                state = {**own, "prices": {**others, **wanted}}
                revisions.write(held, request.user, {revisions.JOB: state})
                return redirect("jobs:job", job.pk)
    rows = [
        (
            size,
            [
                (f"{m} {size}", title, *(of.get(f"{m} {size}", "") for of in (texts, kept, errors)))
                for m, title in METALS.items()
            ],
        )
        for size in sizes
    ]
    unit = gettext("AWG or kcmil") if "1/0" in sizes else "mm²"
    context = {"job": job, "rows": rows, "errors": errors, "unit": unit}
    return render(request, "jobs/prices.html", context, status=422 if errors else 200)


def _posted_prices(
    posted: Any, names: list[str], kept: dict[str, str], errors: dict[str, str]
) -> tuple[dict[str, str], dict[str, float]]:
    """Texts as typed and prices by conductor. One left alone here keeps what another tab has put
    there since; one changed in both is asked."""
    texts: dict[str, str] = {}
    wanted: dict[str, float] = {}
    for name in names:
        now = kept.get(name, "")
        text = texts[name] = posted.get(name, "").strip()
        was = posted.get(f"was-{name}", now)
        if text == was:
            text = texts[name] = now
        elif was != now and text != now:
            errors[name] = gettext(
                "Another tab has kept {theirs} here since: keep yours once more to put it in"
                " its place."
            ).format(theirs=now or "nothing")
        if not text:
            continue
        try:
            value = read_number(text)
        except (ValueError, OverflowError):
            value = -1.0
        if 0 < value <= MOST_PRICE:
            wanted[name] = value
        else:
            errors[name] = gettext(
                "Give an amount above 0, up to {most_price:,.0f}, like 0.48."
            ).format(most_price=MOST_PRICE)
    return texts, wanted
