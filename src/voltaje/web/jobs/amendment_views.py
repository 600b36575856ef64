"""Local amendments and prices of a job."""

from __future__ import annotations

import uuid
from typing import Any

from django import forms
from django.contrib.auth.decorators import login_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from voltaje.core.codes import Amendment as CodeAmendment
from voltaje.core.codes import NotCoveredError, edition
from voltaje.core.units import read_number
from voltaje.web.jobs import revisions
from voltaje.web.jobs.models import Amendment, Job
from voltaje.web.jobs.views import own_job

MATERIALS = ("copper", "aluminum")
MOST_PRICE = 100_000.0


class AmendmentForm(forms.ModelForm):
    """One figure: where it stands, what it is here, who says so and why."""

    class Meta:
        model = Amendment
        fields = ("topic", "row", "column", "value", "jurisdiction", "reason")
        labels = {
            "topic": "Table or limits", "row": "Row", "column": "Column", "value": "Value here",
            "jurisdiction": "Jurisdiction", "reason": "Reason",
        }  # fmt: skip

    def __init__(self, *args: Any, job: Job, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.job = job
        code = edition(job.edition)
        found = [(t, code.text(t)) for t in code.topics() if _has_table(code, t)]
        self.fields["topic"] = forms.ChoiceField(
            label="Table or limits",
            choices=[
                (t, f"{text.number}: {code.table(t).meta['title']}") for t, text in found
            ],
        )  # fmt: skip
        for name, words in (
            ("row", "Give the row as the table prints it, like 12."),
            ("column", "Give the column as the table prints it, like copper 75."),
            ("value", "Give the value that holds here."),
            ("jurisdiction", "Say whose amendment it is, like the county."),
            ("reason", "Say why, or where it is written."),
        ):
            self.fields[name].error_messages["required"] = words
            self.fields[name].strip = True

    def clean(self) -> dict[str, Any]:
        """The cell must be there and take a value of its kind."""
        data = super().clean() or {}
        if self.errors:
            return data
        code = edition(self.job.edition)
        table = code.table(data["topic"])
        if data["row"] not in table.rows:
            self.add_error("row", f"No such row: there are {', '.join(list(table.rows)[:8])} …")
        elif data["column"] not in table.columns:
            self.add_error("column", f"No such column: there are {', '.join(table.columns[:8])}.")
        else:
            try:
                code.with_amendments([CodeAmendment(**data)])
            except ValueError as error:
                self.add_error("value", f"{error}: give a value of the same kind.")
            except NotCoveredError as error:
                self.add_error("row", str(error))
        if self.errors:
            return data
        taken = self.job.amendments.filter(
            topic=data["topic"], row=data["row"], column=data["column"]
        )
        if taken.exists():
            self.add_error("column", "This figure is amended already: take that out first.")
        return data


def _has_table(code: Any, topic: str) -> bool:
    try:
        code.table(topic)
    except NotCoveredError:
        return False
    return True


@login_required
@require_http_methods(["GET", "POST"])
def amendments(request: HttpRequest, job_id: Any) -> HttpResponse:
    """The job's amendments, and a form for another."""
    job = own_job(request, job_id)
    first = {name: request.GET.get(name, "") for name in ("topic", "row", "column")}
    form = AmendmentForm(request.POST or None, job=job, initial=first)
    if request.method == "POST" and form.is_valid():
        key = str(uuid.uuid4())
        with revisions.changing(job) as held:
            revisions.change(
                held, request.user, [revisions.AMENDMENT + key],
                lambda: Amendment.objects.create(pk=key, job=held, **form.cleaned_data) and None,
            )  # fmt: skip
        return redirect("jobs:amendments", job.pk)
    code = edition(job.edition)
    listed = [(item, _was(code, item), code.text(item.topic)) for item in job.amendments.all()]
    context = {"job": job, "form": form, "listed": listed, "edition": code}
    return render(request, "jobs/amendments.html", context, status=422 if form.errors else 200)


def _was(code: Any, item: Amendment) -> str:
    try:
        return str(code.table(item.topic).rows[item.row][item.column])
    except (NotCoveredError, KeyError):
        return "not in this edition"


@login_required
@require_POST
def drop_amendment(request: HttpRequest, job_id: Any, amendment_id: Any) -> HttpResponse:
    """Takes an amendment out; undo brings it back."""
    job = own_job(request, job_id)
    found = get_object_or_404(job.amendments, pk=amendment_id)
    with revisions.changing(job) as held:
        revisions.change(
            held, request.user, [revisions.AMENDMENT + str(found.pk)],
            lambda: found.delete() and None,
        )  # fmt: skip
    return redirect("jobs:amendments", job.pk)


@login_required
@require_http_methods(["GET", "POST"])
def prices(request: HttpRequest, job_id: Any) -> HttpResponse:
    """What a foot or a metre of one conductor costs here; empty where it is not known."""
    job = own_job(request, job_id)
    sizes = list(edition(job.edition).table("ampacity").rows)
    texts = {name: str(value) for name, value in job.prices.items()}
    errors: dict[str, str] = {}
    if request.method == "POST":
        kept: dict[str, float] = {}
        for name in (f"{m} {s}" for m in MATERIALS for s in sizes):
            text = request.POST.get(name, "").strip()[:20]
            texts[name] = text
            if not text:
                continue
            try:
                value = read_number(text)
            except (ValueError, OverflowError):
                value = -1.0
            if 0 < value <= MOST_PRICE:
                kept[name] = value
            else:
                errors[name] = "Give an amount above 0, like 0.48."
        if not errors:
            with revisions.changing(job) as held:
                revisions.change(
                    held, request.user, ["job"],
                    lambda: Job.objects.filter(pk=held.pk).update(prices=kept) and None,
                )  # fmt: skip
            return redirect("jobs:job", job.pk)
    rows = [
        (size, [(f"{m} {size}", texts.get(f"{m} {size}", ""), errors.get(f"{m} {size}", ""))
                for m in MATERIALS])
        for size in sizes
    ]  # fmt: skip
    context = {"job": job, "rows": rows, "errors": errors}
    return render(request, "jobs/prices.html", context, status=422 if errors else 200)
